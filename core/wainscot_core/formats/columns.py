"""What the columns of a table of foods hold: read from their headings, asked for where they do not say.

A heading is a name, a unit and what the figure is for: "Calcium (mg/kg)", "Protein %", "Vit D3 IU per 100 g". One that
is not understood is taken for nothing until a person has said what it is, or that it is left out.
"""

import re
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass

from ..boundary import Text40, YesNo
from ..errors import InputError
from ..facts.nutrients import Catalogue, Nutrient
from ..facts.table_words import TableBasis, TableWords
from ..units import MASS_G, convert

KJ_PER_KCAL = 4.184
PERCENT, KILOJOULE = "%", "kJ"
# What a column is headed by that holds how much more of a nutrient there may be.
ABOVE = "_above"
# The fields of a food beside its nutrients, as our own tables head them.
FIXED = ("slug", "name", "class", "form", "ingredients", "fibre")
SAMPLES = 3


@dataclass(frozen=True, kw_only=True)
class ColumnUse:
    """What a column holds: a `field` of the food, or the nutrient `tag` in `unit`; nothing that is taken where both
    are "". per: what its figures are for, where that is not what those of the table are for. crude: crude fibre.
    above: how much more than its value there may be, where a label says "at least"."""

    field: Text40 = ""
    tag: Text40 = ""
    unit: Text40 = ""
    per: TableBasis | None = None
    crude: YesNo = False
    above: YesNo = False


LEFT_OUT = ColumnUse()


@dataclass(frozen=True, kw_only=True)
class FoundColumn:
    """A column as it was read. position: from 0; header: as it stands; sure: the heading says it all; why: what it
    leaves open, "" where nothing; samples: its first cells that hold something."""

    position: int
    header: str
    use: ColumnUse
    sure: bool
    why: str
    samples: tuple[str, ...]


def columns_of(
    header: Sequence[str],
    cells: Sequence[Sequence[str]],
    words: TableWords,
    catalogue: Catalogue,
) -> tuple[FoundColumn, ...]:
    """What each column holds by its heading. cells: (rows, columns) under it.

    What an earlier column holds already is not taken twice.
    """
    found: list[FoundColumn] = []
    by_tag = "ENERC" in {h.strip() for h in header}
    for position, heading in enumerate(header):
        use, why = use_of(heading, words, catalogue, by_tag)
        samples = [row[position].strip() for row in cells if position < len(row)]
        samples = [s for s in samples if s][:SAMPLES]
        first = next((c for c in found if use != LEFT_OUT and _same(c.use, use)), None)
        if first is not None:
            use, why = LEFT_OUT, f"“{first.header}” holds the same: which of them counts?"
        if use == LEFT_OUT and not samples and not heading.strip():
            why = ""  # a column of nothing
        found.append(
            FoundColumn(
                position=position, header=heading.strip(), use=use, sure=not why, why=why,
                samples=tuple(samples),
            )
        )  # fmt: skip
    return tuple(found)


def _same(one: ColumnUse, other: ColumnUse) -> bool:
    return (one.field, one.tag, one.above) == (other.field, other.tag, other.above)


def use_of(
    heading: str, words: TableWords, catalogue: Catalogue, by_tag: bool
) -> tuple[ColumnUse, str]:
    """What a heading says a column holds, and what it leaves open ("" where nothing). by_tag: the table is headed by
    INFOODS tagnames, so that P is phosphorus in mg."""
    exact = heading.strip()
    bare = exact.removesuffix(ABOVE)
    if by_tag and exact in FIXED:
        return ColumnUse(field=exact), ""
    if by_tag and bare in catalogue and not catalogue.get(bare).parts:
        unit = catalogue.get(bare).unit
        return ColumnUse(tag=bare, unit=unit, above=bare != exact), ""
    plain = " ".join(unicodedata.normalize("NFKC", exact).lower().replace("μ", "u").split())
    plain = re.sub(r"\bvit\b\.?", "vitamin", plain).replace("ppm", "mg/kg")
    if plain in words.fields:
        return ColumnUse(field=words.fields[plain]), ""
    rest, per = plain, None
    fed = words.fed.search(rest)
    if fed is not None:
        rest = rest[: fed.start()]
    there = words.per.search(rest)
    if there is not None and there.start() > 0:
        per, rest = words.bases[there["per"]], rest[: there.start()]
    held = words.in_unit.search(rest)
    unit = words.units[held["unit"]] if held is not None else ""
    name = (rest[: held.start()] if held is not None else rest).strip(" ,;:()[]_-/.")
    if not name and held is not None:
        name = held["unit"]
        unit = unit if words.names.get(name) == "ENERC" else ""
    if name in words.fields and not unit:
        return ColumnUse(field=words.fields[name]), ""
    asked = words.asked.get(name)
    tag = asked.tag if asked else _tag_of(name, words)
    if not tag:
        return LEFT_OUT, "not known: say what it holds, or leave it out"
    nutrient = catalogue.get(tag)
    fits = unit in units_of(nutrient)
    use = ColumnUse(
        tag=tag, unit=unit if fits else nutrient.unit, per=per,
        crude=asked.crude if asked else False,
    )  # fmt: skip
    if asked:
        return use, asked.why
    if not unit:
        return use, f"names no unit: {nutrient.unit}?"
    return use, "" if fits else f"{unit} is no unit of {nutrient.name}"


def _tag_of(name: str, words: TableWords) -> str:
    """The tag of a name, or of one that is said twice ("iron, fe"); "" where it is known by neither."""
    tags = {words.names.get(part.strip(), "") for part in name.split(",")}
    return words.names.get(name) or (tags.pop() if len(tags) == 1 else "")


def units_of(nutrient: Nutrient) -> tuple[str, ...]:
    """The units a column of a nutrient can be in."""
    if nutrient.unit == "kcal":
        return ("kcal", KILOJOULE)
    if nutrient.unit not in MASS_G:
        return (nutrient.unit,)
    weights = ("g", "mg", "ug", PERCENT)
    try:
        convert(nutrient.key, 1.0, "IU", nutrient.unit)
    except ValueError:
        return weights
    return (*weights, "IU")


def per_100_g(
    nutrient: Nutrient, value: float, use: ColumnUse, per: TableBasis, dry: float
) -> float:
    """A figure of a column per 100 g as fed, in the unit of the catalogue. dry: share of dry matter in the food."""
    if use.unit == KILOJOULE:
        value /= KJ_PER_KCAL
    elif use.unit == PERCENT:
        # So many g of 100 g, whatever else is per kg.
        value = convert(nutrient.key, value, "g", nutrient.unit)
    else:
        value = convert(nutrient.key, value, use.unit, nutrient.unit)
        if per is TableBasis.PER_KG:
            return value / 10
    return value * dry if per is TableBasis.DRY_MATTER else value


_POINT = re.compile(r"[+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][+-]?\d+)?")
_COMMA = re.compile(r"[+-]?\d+,\d+")
_PARTED = re.compile(r"(?P<whole>\d{1,3}(?P<by>[,. '’])\d{3}(?:(?P=by)\d{3})*)(?P<rest>[.,]\d+)?")


def decimal_commas(cells: Sequence[str]) -> bool:
    """Whether figures are written with a decimal comma: some cell can be read in no other way."""
    return any(
        _COMMA.fullmatch(c) and (len(c.partition(",")[2]) != 3 or c.startswith("0")) for c in cells
    )


def figure_of(cell: str, comma: bool) -> float:
    """The figure of a cell. comma: the table writes decimals with a comma. Raises InputError for what is none, or can
    be two."""
    text = " ".join(cell.split()).replace("\N{MINUS SIGN}", "-")
    parted = _PARTED.fullmatch(text)
    if parted is not None and not text.startswith("0"):
        by, rest, plain = parted["by"], parted["rest"], parted["whole"].replace(parted["by"], "")
        if rest:
            if rest[0] == by:
                raise InputError("", f"{cell!r} is not a number")
            return float(plain + rest.replace(",", "."))
        if parted["whole"].count(by) > 1 or by not in ",.":
            return float(plain)
        decimal = text.replace(",", ".")
        if (by == ",") is not comma:
            raise InputError("", f"{cell!r} can be {plain} or {decimal}: write it in one way")
        return float(decimal)
    if _POINT.fullmatch(text):
        return float(text)
    if _COMMA.fullmatch(text):
        return float(text.replace(",", "."))
    raise InputError("", f"{cell!r} is not a number")
