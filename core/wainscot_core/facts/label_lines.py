"""The lines of a supplement's label, read: "Zinc (as zinc gluconate) 15 mg", "Vitamin D3 25 mcg (1000 IU)".

A line is counted only when all of it is understood. What is not stays in sight, with what it may mean: it is for a
person to say, never guessed.
"""

import re
import unicodedata
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import partial

from ..figures import lowered
from ..units import MASS_G, convert
from .label_words import LabelWords
from .nutrients import Catalogue

# How a person settles a line: a tag counts as that nutrient; or one of these.
NOTHING = "nothing"
UNKNOWN = "unknown"
COMPOUND = "compound"


class LineState(StrEnum):
    """What became of a line: counted, known to hold nothing that counts, left unknown, still to be settled."""

    COUNTED = "counted"
    NOTHING = "nothing"
    UNKNOWN = "unknown"
    OPEN = "open"


@dataclass(frozen=True, kw_only=True)
class LabelPart:
    """What a line brings of a nutrient, in the catalogue's unit."""

    key: str
    amount: float


@dataclass(frozen=True, kw_only=True)
class Meaning:
    """A way to settle a line: what to answer, and in words."""

    id: str
    say: str


@dataclass(frozen=True, kw_only=True)
class ReadLine:
    """A line as it was read. says: what is counted, or what is wrong. weak: fat by the weight of an oil, which a fat
    line takes the place of. whole: weighed as a substance. settled: said by a person. unknown: what it may hold
    beside. of: the parts that a total is the sum of."""

    text: str
    state: LineState
    says: str
    parts: tuple[LabelPart, ...] = ()
    options: tuple[Meaning, ...] = ()
    weak: bool = False
    whole: bool = False
    settled: bool = False
    unknown: tuple[str, ...] = ()
    of: tuple[str, ...] = ()


@dataclass(frozen=True)
class _Amount:
    """A figure with its unit, and what it is an equivalent of ("dfe")."""

    number: float
    unit: str
    equivalent: str = ""

    @property
    def said(self) -> str:
        """As a label writes it."""
        unit = {"ug": "µg"}.get(self.unit, self.unit)
        return f"{self.number:g} {unit} {self.equivalent.upper()}".strip()


# Percentages of a daily value and the marks that lead to footnotes tell nothing of the dose.
_PERCENT = re.compile(r"[<>≤≥]?\s*\d[\d.,]*\s*%(\s*(dv|nrv|rda|ri|of daily value)\b)?", re.I)
_MARKS = re.compile(r"[*†‡§®™•·]|\.{2,}|…|_{2,}|\t")
_LESS = re.compile(r"[<≤]|\bless than\b|\btrace", re.I)
_SEGMENTS = re.compile(
    r"\b(?:providing|provides|supplying|of which|which is|equivalent to|equal to|yielding|delivering)\b",
    re.I,
)
# "50% as beta-carotene": two forms, of which a line tells one.
_MIXED = re.compile(r"(?<!\d)\d{1,2}(?:[.,]\d+)?\s*%\s*(?:as|from|of|beta|retin)", re.I)
_FORM = re.compile(r"[(\[]([^()\[\]]*)[)\]]")
_LEAD = re.compile(r"^(?:as|from|in the form of|100% as|source:?)\s+", re.I)


def read_lines(
    words: LabelWords,
    catalogue: Catalogue,
    lines: Sequence[tuple[str, str]],
    point: bool = True,
) -> tuple[ReadLine, ...]:
    """Every line (its text, what it was said to mean, "" for nothing yet) as it was read; blank ones are left out.
    point: decimals stand behind a point.

    A nutrient that stands on two lines is counted on neither until it is said which: a label names it once.
    """
    read = [
        _line(_Reader(words, catalogue, point), text.strip(), meant)
        for text, meant in lines
        if text.strip()
    ]
    given = {p.key for line in read if not line.weak for p in line.parts}
    beside = [_beside(line, given) for line in read]
    return tuple(_once(beside, catalogue))


def _beside(line: ReadLine, given: set[str]) -> ReadLine:
    """A line in the light of the others: an oil whose fat is named, a total whose parts are."""
    if line.weak and "FAT" in given:
        return replace(line, parts=(), says="its fat is counted by the line that names the fat")
    if line.of and line.state is LineState.OPEN and given & set(line.of):
        return replace(
            line, state=LineState.NOTHING, says="a total of what is named apart", options=()
        )
    return line


def _once(lines: Sequence[ReadLine], catalogue: Catalogue) -> Iterator[ReadLine]:
    """The lines, with those open that give a nutrient which another gives too. Substances are added up."""
    giving: dict[str, list[ReadLine]] = {}
    for line in lines:
        for part in line.parts:
            giving.setdefault(part.key, []).append(line)
    for line in lines:
        twice = next(
            (
                p.key
                for p in line.parts
                if not line.settled
                and len(giving[p.key]) > 1
                and not all(other.whole or other.weak for other in giving[p.key])
            ),
            None,
        )
        if twice is None:
            yield line
            continue
        name = catalogue.get(twice).name
        yield replace(
            line, state=LineState.OPEN, parts=(), says=f"{name} stands on more than one line",
            options=(
                Meaning(id=COMPOUND if line.whole else twice, say=f"count this one: {line.says}"),
                Meaning(id=NOTHING, say="it is in the other line already"),
            ),
        )  # fmt: skip


@dataclass(frozen=True)
class _Reader:
    words: LabelWords
    catalogue: Catalogue
    point: bool

    def known(self, name: str) -> bool:
        """Whether a name stands anywhere in the words."""
        w = self.words
        tables = (w.names, w.oils, w.totals, w.choices, w.compounds, w.activities)
        return name in w.uncounted or any(name in table for table in tables)


def _line(r: _Reader, text: str, meant: str) -> ReadLine:
    """One line, read by what a person said it means, or by its words."""
    at = partial(ReadLine, text=text)
    if meant == NOTHING:
        return at(state=LineState.NOTHING, says="counted as nothing, as you said", settled=True)
    plain = _plain(text)
    if meant == UNKNOWN:
        name, _ = _name(r, plain)
        named = (r.words.names[name],) if name in r.words.names else r.words.totals.get(name, ())
        return at(
            state=LineState.UNKNOWN, says="not known, as you said", settled=True, unknown=named
        )
    lead, colon, _ = plain.partition(":")
    if colon and lead in r.words.statements:
        return at(state=LineState.NOTHING, says="read as the other ingredients")
    if _LESS.search(plain) and not meant:
        return at(state=LineState.OPEN, says="“less than” is no amount", options=_ANYWAY)
    # "Calcium carbonate 1250 mg providing calcium 500 mg": what it provides is what counts.
    whole = _SEGMENTS.split(plain)
    several = len(whole) > 1 and _name(r, whole[0])[0] in r.words.oils
    plain = whole[-1] if len(whole) > 1 and _amounts(r, whole[-1]) else plain
    amounts = _amounts(r, plain)
    if isinstance(amounts, str):
        return at(state=LineState.OPEN, says=amounts, options=_ANYWAY)
    if several or _MIXED.search(text) or _several(r, plain):
        says = "more than one thing: write each on a line of its own, with its own amount"
        return at(state=LineState.OPEN, says=says, options=_ANYWAY)
    name, form = _name(r, re.sub(r"\d+$", "", plain) if not amounts else plain)
    for first in _split_figures(plain):
        if r.known(f"{name}{first}") or r.known(f"{name} {first}"):
            says = f"the {first} can be of the name or of the amount: write it without the space"
            return at(state=LineState.OPEN, says=says, options=_ANYWAY)
    if not amounts and (meant or r.words.names.get(name)) == "ENERC":
        amounts = _bare(r, plain)
    if meant and meant != COMPOUND:
        beside = r.words.oils.get(name, ()) if meant == "FAT" else ()
        return replace(_as(r, at, meant, amounts), settled=True, unknown=beside)
    if name in r.words.uncounted and not meant:
        return at(state=LineState.NOTHING, says="holds nothing that is counted here")
    if name in r.words.totals and not meant:
        return at(
            state=LineState.OPEN, of=r.words.totals[name], options=_ANYWAY,
            says="a total: enter what it is made of on lines of its own, as the label has it",
        )  # fmt: skip
    if not amounts:
        says = "no amount with a unit" if r.known(name) else "not a name that is known here"
        return at(state=LineState.OPEN, says=says, options=_ANYWAY)
    if name in r.words.choices:
        return _chosen(r, at, name, form, amounts)
    if name in r.words.names:
        return _as(r, at, r.words.names[name], amounts)
    if name in r.words.oils:
        fat = _as(r, at, "FAT", amounts)
        counted = fat.state is LineState.COUNTED
        return replace(fat, weak=counted, unknown=r.words.oils[name] if counted else ())
    if name in r.words.activities:
        return replace(_by_activity(r, at, name, amounts), settled=meant == COMPOUND)
    if name in r.words.compounds:
        return _compound(r, at, name, amounts, meant)
    return at(
        state=LineState.OPEN, says="not a name that is known here",
        options=_ANYWAY,
    )  # fmt: skip


# What may always be said of a line that is not read.
_ANYWAY = (
    Meaning(id=NOTHING, say="holds nothing that counts"),
    Meaning(id=UNKNOWN, say="not known"),
)


def _plain(text: str) -> str:
    plain = unicodedata.normalize("NFKC", text).replace("μ", "µ").replace("µ", "u")
    plain = plain.replace("α", "alpha").replace("β", "beta").replace("–", "-").replace("—", "-")
    return " ".join(_MARKS.sub(" ", _PERCENT.sub(" ", plain)).split()).casefold()


def _amounts(r: _Reader, plain: str) -> "tuple[_Amount, ...] | str":
    """The figures with a unit, in the order they stand; or what is wrong with one."""
    found = []
    for match in _AMOUNT.finditer(plain):
        unit = _unit(r, match["unit"])
        if unit is None:
            continue
        number = _number(match["number"], r.point)
        if isinstance(number, str):
            return number
        found.append(_Amount(number, unit, _equivalent(r, match)))
    return tuple(found)


def _equivalent(r: _Reader, match: re.Match[str]) -> str:
    """What an amount is an equivalent of; "" where the next word is about something else."""
    kind = (match["kind"] or "").replace("alpha-", "")
    return kind if kind in r.words.equivalents else ""


def _beside_amount(r: _Reader, match: re.Match[str]) -> str:
    """What is left of a line where an amount stood."""
    if _unit(r, match["unit"]) is None:
        return match[0]
    return " " if _equivalent(r, match) else f" {match['kind'] or ''} "


_AMOUNT = re.compile(
    r"(?<![\w.,-])(?P<number>\d[\d.,]*(?: \d{3}(?!\d))*)\s*(?P<unit>i\.u\.?|[a-z]+)\b\.?(?:\s*(?P<kind>alpha-te|[a-z]{2,3})\b)?"
)


def _several(r: _Reader, plain: str) -> bool:
    """Whether a line gives amounts of more than one thing: "Iron 5 mg, zinc 5 mg"."""
    parts = re.split(r"[,;](?!\d)", _FORM.sub(" ", plain))
    return sum(bool(_amounts(r, part)) for part in parts) > 1


def _split_figures(plain: str) -> list[str]:
    """The first group of every figure that is written in groups: the 3 of "vitamin d 3 400 iu"."""
    return [m["number"].split(" ")[0] for m in _AMOUNT.finditer(plain) if " " in m["number"]]


def _bare(r: _Reader, plain: str) -> tuple[_Amount, ...]:
    """The kcal of "Calories 10", which has no unit."""
    number = re.search(r"\d[\d.,]*", plain)
    read = _number(number[0], r.point) if number else ""
    return () if isinstance(read, str) else (_Amount(read, "kcal"),)


def _unit(r: _Reader, written: str) -> str | None:
    return r.words.units.get(written)


def _number(written: str, point: bool) -> float | str:
    """A figure as a pack writes it; or why it cannot be told."""
    text = written.replace(" ", "").rstrip(".,")
    mark, other = (".", ",") if point else (",", ".")
    if re.fullmatch(rf"[1-9]\d{{0,2}}({re.escape(other)}\d{{3}})+({re.escape(mark)}\d+)?", text):
        return float(text.replace(other, "").replace(mark, "."))
    if re.fullmatch(rf"[1-9]\d{{0,2}}{re.escape(mark)}\d{{3}}", text):
        whole = text.replace(mark, "")
        return f"{text} can be {float(text.replace(mark, '.')):g} or {whole}: write it without the mark"
    if re.fullmatch(r"\d+([.,]\d+)?", text):
        return float(text.replace(",", "."))
    return f"{written} is not a number that can be read"


def _name(r: _Reader, plain: str) -> tuple[str, str]:
    """The name a line begins with and the form it stands in: "zinc", "zinc gluconate"."""
    brackets = [m[1].strip() for m in _FORM.finditer(plain)]
    bare = _FORM.sub(" ", plain)
    bare = _AMOUNT.sub(lambda m: _beside_amount(r, m), bare)
    name = " ".join(bare.split()).strip(" :;,.-=")
    head, _, tail = name.partition(" as ")
    if not r.known(name) and r.known(head.strip(" ,")):
        name, brackets = head.strip(" ,"), [tail, *brackets]
    if not r.known(name):
        lead, _, rest = name.partition(", ")
        # "Zinc, gluconate" and "Vitamin E, d-alpha tocopherol".
        if r.known(lead) and rest:
            name, brackets = lead, [rest, *brackets]
    form = next((b for b in brackets if not _AMOUNT.match(b)), "")
    return name, _LEAD.sub("", form).strip(" ,.")


def _as(r: _Reader, at: partial[ReadLine], key: str, amounts: Sequence[_Amount]) -> ReadLine:
    """A line as an amount of one nutrient. Where it stands twice, in mass and in units, both must agree."""
    if key not in r.catalogue or r.catalogue.get(key).parts:
        return at(
            state=LineState.OPEN, says=f"{key} is not a nutrient of the catalogue", options=_ANYWAY
        )
    nutrient, read = r.catalogue.get(key), []
    for amount in amounts:
        try:
            value = convert(key, amount.number, amount.unit, nutrient.unit)
        except ValueError:
            continue
        if amount.equivalent:
            same = r.words.equivalents[amount.equivalent]
            value *= same.factor if same.key == key else 1.0
        read.append((value, amount))
    if not read:
        return at(
            state=LineState.OPEN, options=_ANYWAY,
            says=f"no amount of {lowered(nutrient.name)} in a unit that fits",
        )  # fmt: skip
    values = [v for v, _ in read]
    if max(values) > 1.05 * min(values):
        told = " and ".join(a.said for _, a in read)
        return at(
            state=LineState.OPEN, options=_ANYWAY,
            says=f"{told} are not the same amount of {lowered(nutrient.name)}: keep the one that counts",
        )  # fmt: skip
    part = LabelPart(key=key, amount=values[0])
    return at(state=LineState.COUNTED, says=_says(r, part), parts=(part,))


def _chosen(
    r: _Reader, at: partial[ReadLine], name: str, form: str, amounts: Sequence[_Amount]
) -> ReadLine:
    """A name that can mean several things: by its form or its unit, or asked."""
    choice = r.words.choices[name]
    by_unit = {r.words.equivalents[a.equivalent].key for a in amounts if a.equivalent}
    for option in choice.options:
        if form in option.forms and option.forms:
            if not option.key:
                return at(state=LineState.NOTHING, says=option.say)
            return _as(r, at, option.key, amounts)
    options = tuple(
        Meaning(id=o.key or NOTHING, say=o.say)
        for o in choice.options
        if not by_unit or o.key in by_unit or not o.key
    )
    return at(state=LineState.OPEN, says=choice.ask, options=(*options, _ANYWAY[1]))


def _by_activity(
    r: _Reader, at: partial[ReadLine], name: str, amounts: Sequence[_Amount]
) -> ReadLine:
    """A substance weighed whole that is counted by its activity; international units are the activity itself."""
    key, factor = r.words.activities[name]
    units = [a for a in amounts if a.unit == "IU"]
    if units:
        return _as(r, at, key, units)
    return _whole(r, at, {key: factor}, amounts)


def _compound(
    r: _Reader, at: partial[ReadLine], name: str, amounts: Sequence[_Amount], meant: str
) -> ReadLine:
    """A substance weighed whole; asked where a label may as well mean what it brings."""
    compound = r.words.compounds[name]
    line = _whole(r, at, compound.shares, amounts)
    if meant == COMPOUND or not compound.asks or line.state is not LineState.COUNTED:
        return replace(line, settled=meant == COMPOUND)
    first = line.parts[0].key
    nutrient = lowered(r.catalogue.get(first).name)
    return at(
        state=LineState.OPEN, says=f"Is {amounts[0].said} the {compound.name} or the {nutrient}?",
        options=(
            Meaning(id=COMPOUND, say=f"the {compound.name}: {line.says}"),
            Meaning(id=first, say=f"the {nutrient}: {amounts[0].said}"),
        ),
    )  # fmt: skip


def _whole(
    r: _Reader, at: partial[ReadLine], shares: Mapping[str, float], amounts: Sequence[_Amount]
) -> ReadLine:
    """What counts of a weight of a substance."""
    weighed = next((a for a in amounts if a.unit in MASS_G), None)
    if weighed is None:
        return at(state=LineState.OPEN, says="no weight that can be read", options=_ANYWAY)
    grams = weighed.number * MASS_G[weighed.unit]
    parts = tuple(
        LabelPart(key=k, amount=convert(k, grams * share, "g", r.catalogue.get(k).unit))
        for k, share in shares.items()
    )
    return at(
        state=LineState.COUNTED, says=", ".join(_says(r, p) for p in parts), parts=parts, whole=True
    )


def _says(r: _Reader, part: LabelPart) -> str:
    nutrient = r.catalogue.get(part.key)
    unit = {"ug": "µg"}.get(nutrient.unit, nutrient.unit)
    return f"{lowered(nutrient.name)} {float(f'{part.amount:.4g}'):g} {unit}"
