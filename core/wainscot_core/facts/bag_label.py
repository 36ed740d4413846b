"""The text of a bag as figures: guarantees, energy, the ingredient statement. Whatever is not understood stays."""

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from ..errors import InputError
from ..figures import rounded
from .allergens import AllergenWords

MOST_CHARACTERS = 20_000
KCAL_PER_MJ = 1000 / 4.184


class Guarantee(StrEnum):
    """What a printed figure is."""

    MIN = "min"
    MAX = "max"
    AVERAGE = "average"


@dataclass(frozen=True)
class Offsets:
    """By how much what is in the bag usually differs from its guarantee, in points: of dry food and of wet. bound: the
    kind of guarantee that this is of."""

    wet_from: float
    of: Mapping[str, tuple[Guarantee, float, float]]
    source: str

    def usual(self, name: str, guarantee: Guarantee, moisture: float) -> float:
        """From what a figure says to what is usually in the bag, in points as fed; 0 for an average, and for a
        guarantee of the other kind."""
        bound, dry, wet = self.of.get(name, (Guarantee.AVERAGE, 0.0, 0.0))
        return (wet if moisture >= self.wet_from else dry) if guarantee is bound else 0.0

    def margin(self, name: str, moisture: float) -> float:
        """The margin makers leave on a figure whichever way it is guaranteed, in points as fed, at least 0."""
        _, dry, wet = self.of.get(name, (Guarantee.AVERAGE, 0.0, 0.0))
        return abs(wet if moisture >= self.wet_from else dry)

    @classmethod
    def from_data(cls, data: Mapping[str, Any]) -> "Offsets":
        """Build from energy/labels.yaml, usual_beside_guarantee."""
        of = {
            name: (Guarantee(row["bound"]), float(row["dry"]), float(row["wet"]))
            for name, row in data.items()
            if isinstance(row, dict)
        }
        return cls(float(data["wet_from_moisture_pct"]), of, str(data["source"]))


@dataclass(frozen=True, kw_only=True)
class BagFigure:
    """A figure of the analysis, in percent. name: protein, fat, fibre, moisture or ash. printed: as it stands; usual:
    what is usually in the bag. text: the words it was read from."""

    name: str
    printed: float
    guarantee: Guarantee
    usual: float
    text: str


@dataclass(frozen=True, kw_only=True)
class FoundAllergen:
    """A source group that the ingredient statement names, and by which word."""

    group: str
    word: str


@dataclass(frozen=True, kw_only=True)
class BagLabel:
    """A bag as it was read. energy: how its energy was found, as it says; "" where it does not. ingredients: the
    statement; ingredient_list: in its order. unread: what was not understood, as it stands. source: of the usual
    figures."""

    figures: tuple[BagFigure, ...]
    dry_matter: bool
    kcal_per_kg: float | None
    kcal_per_cup: float | None
    cup_grams: float | None
    energy: str
    ingredients: str
    ingredient_list: tuple[str, ...]
    allergens: tuple[FoundAllergen, ...]
    unread: tuple[str, ...]
    warnings: tuple[str, ...]
    source: str


_NAMES = {
    "protein": r"crude\s+protein|protein",
    "fat": r"crude\s+oils?\s+and\s+fats?|crude\s+fat|fat\s+content|fat|oil",
    "fibre": r"crude\s+fib(?:re|er)s?|fib(?:re|er)",
    "moisture": r"moisture|water",
    "ash": r"crude\s+ash|inorganic\s+matter|ash",
}
_NUMBER = r"\d+(?:[.,]\d+)?"
_BOUND = r"\(?\s*(?:min(?:imum)?|max(?:imum)?|not\s+less\s+than|not\s+more\s+than|at\s+least|at\s+most|average|typical)\b\.?\s*\)?"
_MIN = re.compile(r"min|not\s+less|at\s+least", re.I)
_MAX = re.compile(r"max|not\s+more|at\s+most", re.I)
_AVERAGES = re.compile(r"analytical\s+constituents|typical\s+analysis|average", re.I)
_GUARANTEED = re.compile(r"guaranteed\s+analysis", re.I)
_DRY = re.compile(r"dry\s+matter|\bDM\b|dry\s+basis")
_KCAL = re.compile(
    r"(?P<n>\d[\d ,.]*)\s*kcal\s*(?:ME)?\s*(?:/|per)\s*(?P<per>kg|kilogram|cup|100\s*g|g|lb)\b",
    re.I,
)
_MJ = re.compile(r"(?P<n>\d+(?:[.,]\d+)?)\s*MJ\s*(?:ME)?\s*(?:/|per)\s*(?P<per>kg|100\s*g)\b", re.I)
_CUP = re.compile(
    r"(?:\b1\s*)?cup[^\d\n]{0,14}?(?P<n>\d+(?:[.,]\d+)?)\s*g\b|(?P<m>\d+(?:[.,]\d+)?)\s*g\s*(?:/|per|a)\s*cup",
    re.I,
)
_HOW = re.compile(r"calculated|feeding\s+(?:trial|study)|fed\s+trial|predicted|estimated", re.I)
_LIST = re.compile(r"(?:ingredients|composition)\s*:?\s*", re.I)
_NEXT = re.compile(
    r"\n\s*\n|(?:guaranteed\s+analysis|analytical\s+constituents|typical\s+analysis|additives|calorie\s+content|"
    r"metaboli[sz]able\s+energy|feeding)\b",
    re.I,
)
_HEADINGS = re.compile(
    r"guaranteed\s+analysis|analytical\s+constituents|typical\s+analysis|calorie\s+content|metaboli[sz]able\s+energy|"
    r"as[\s-]fed|dry\s+matter(?:\s+basis)?|nutritional\s+information|\bME\b|\bcrude\b|"
    r"\((?:calculated|estimated|predicted)\)|calculated|kcal",
    re.I,
)


def read_bag(offsets: Offsets, allergens: AllergenWords, text: str) -> BagLabel:
    """Read the text of a bag. Raises InputError (field text) for what is none."""
    if not text.strip():
        raise InputError(
            "text", "is empty; paste the analysis and the ingredients as they stand on the bag"
        )
    if len(text) > MOST_CHARACTERS:
        raise InputError(
            "text", f"has more than {MOST_CHARACTERS} characters; paste the label alone"
        )
    if text.startswith("%PDF") or "\0" in text:
        raise InputError("text", "is no text; open the file, copy its words and paste those")
    statement, rest = _statement(text)
    warnings: list[str] = []
    found = dict(_figures(rest))
    figures = _with_usual(offsets, found, rest, warnings)
    if not figures:
        warnings.append(
            "No figure of an analysis was found: write for example “protein (min) 26 %”."
        )
    kcal_per_kg, kcal_per_cup = _energy(rest)
    cup = _CUP.search(rest)
    how = _HOW.search(rest)
    listed = listed_in(statement)
    return BagLabel(
        figures=figures, dry_matter=_DRY.search(rest) is not None, kcal_per_kg=kcal_per_kg,
        kcal_per_cup=kcal_per_cup,
        cup_grams=_number(cup["n"] or cup["m"]) if cup else None,
        energy=how[0].lower() if how else "", ingredients=statement, ingredient_list=listed,
        allergens=tuple(
            FoundAllergen(group=g, word=w) for g, w in allergens.found_in(statement).items()
        ),
        unread=tuple(_unread(rest)), warnings=tuple(warnings), source=offsets.source,
    )  # fmt: skip


def _statement(text: str) -> tuple[str, str]:
    """The ingredient statement, and the text without it."""
    begin = _LIST.search(text)
    if begin is None:
        return "", text
    end = _NEXT.search(text, begin.end())
    stop = end.start() if end else len(text)
    return " ".join(text[begin.end() : stop].split()).rstrip("."), text[
        : begin.start()
    ] + "\n" + text[stop:]


def listed_in(statement: str) -> tuple[str, ...]:
    """The ingredients in their order; what stands in brackets stays with its own."""
    parts, depth, at = [], 0, 0
    for i, sign in enumerate(statement):
        depth += (sign in "([") - (sign in ")]")
        if depth <= 0 and sign in ",;":
            parts.append(statement[at:i])
            at = i + 1
    parts.append(statement[at:])
    return tuple(p.strip() for p in parts if p.strip())


def _name_first(words: str) -> re.Pattern[str]:
    """ "Crude protein (min) 26 %", "protein: not less than 26 %", "protein 26 % min"."""
    return re.compile(
        rf"\b(?:{words})\b\s*(?P<a>{_BOUND})?[\s:.–-]*(?:,\s*(?={_BOUND}))?(?P<b>{_BOUND})?[\s:.–-]*"
        rf"(?P<n>{_NUMBER})\s*%[^\S\n]*(?P<c>{_BOUND})?",
        re.I,
    )


def _figure_first(words: str) -> re.Pattern[str]:
    """ "26 % protein", "26 % min. crude protein"."""
    return re.compile(
        rf"(?P<n>{_NUMBER})\s*%[^\S\n]*(?P<a>{_BOUND})?[^\S\n]*(?P<b>)(?P<c>)(?:{words})\b", re.I
    )


_STYLES = [
    {name: style(words) for name, words in _NAMES.items()} for style in (_name_first, _figure_first)
]
_ANY_NAME = re.compile("|".join(rf"\b(?:{words})\b" for words in _NAMES.values()), re.I)
_ANY_FIGURE = re.compile(rf"{_NUMBER}\s*%")


def _patterns(text: str) -> Mapping[str, re.Pattern[str]]:
    """A label names all its figures in one way: whichever stands first tells which."""
    name, figure = _ANY_NAME.search(text), _ANY_FIGURE.search(text)
    figure_first = name is not None and figure is not None and figure.start() < name.start()
    return _STYLES[1 if figure_first else 0]


def _figures(text: str) -> Iterator[tuple[str, re.Match[str]]]:
    for name, pattern in _patterns(text).items():
        match = pattern.search(text)
        if match is not None:
            yield name, match


def _with_usual(
    offsets: Offsets, found: Mapping[str, re.Match[str]], text: str, warnings: list[str]
) -> tuple[BagFigure, ...]:
    printed = {name: _number(m["n"]) for name, m in found.items()}
    guaranteed, averages = _GUARANTEED.search(text), _AVERAGES.search(text)
    figures = []
    for name, match in found.items():
        said = " ".join(x for x in (match["a"], match["b"], match["c"]) if x)
        guarantee = Guarantee.AVERAGE
        if _MIN.search(said):
            guarantee = Guarantee.MIN
        elif _MAX.search(said):
            guarantee = Guarantee.MAX
        elif not said and name in offsets.of and (guaranteed or not averages):
            # A least amount may be more, an average not: the reading that no ceiling passes by mistake.
            guarantee = offsets.of[name][0]
            warnings.append(
                f"{name.capitalize()} does not say whether it is a minimum, a maximum or an average: taken as"
                f" {guarantee}."
            )
        shift = offsets.usual(name, guarantee, printed.get("moisture", 0.0))
        figures.append(
            BagFigure(
                name=name, printed=printed[name], guarantee=guarantee,
                usual=rounded(max(0.0, printed[name] + shift)), text=match[0].strip(),
            )
        )  # fmt: skip
    return tuple(figures)


def _energy(text: str) -> tuple[float | None, float | None]:
    """kcal per kg and per cup."""
    per_kg = per_cup = None
    for match in _KCAL.finditer(text):
        kcal, per = _thousands(match["n"]), "".join(match["per"].lower().split())
        if per == "cup":
            per_cup = kcal
        elif per_kg is None:
            per_kg = kcal * {"100g": 10.0, "g": 1000.0, "lb": 1000 / 453.59237}.get(per, 1.0)
    joules = _MJ.search(text)
    if joules and per_kg is None:
        times = 10.0 if "100" in joules["per"] else 1.0
        per_kg = _number(joules["n"]) * KCAL_PER_MJ * times
    return (None if per_kg is None else rounded(per_kg)), per_cup


def _number(text: str) -> float:
    return float(text.replace(",", "."))


def _thousands(text: str) -> float:
    """ "3 650", "3,650", "3650.5"."""
    plain = re.sub(r"[ ,](?=\d{3}\b)", "", text.strip(" ,."))
    return float(plain.replace(",", ".").replace(" ", ""))


def _unread(text: str) -> Iterator[str]:
    """What of the text no figure was read from."""
    left = text
    for pattern in (*_patterns(text).values(), _KCAL, _MJ, _CUP):
        # The first of each is what was read; a second one stays to be seen.
        left = pattern.sub(" \n ", left, count=2 if pattern is _KCAL else 1)
    for piece in re.split(r"[\n;]|,(?!\d)", left):
        plain = _HEADINGS.sub(" ", piece)
        if any(c.isalnum() for c in plain):
            yield " ".join(piece.split()).strip(" .,:()")
