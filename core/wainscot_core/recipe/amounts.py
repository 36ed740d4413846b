"""Amounts as people write them: "1 1/2 cups", "6 oz", "3 large eggs", "1/2 can", "180".

Number and noun are read together, against the food's own measures. What can be read in several
ways is not guessed: UnsureError names the readings with their grams.
"""

import math
import re
import unicodedata
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

from ..errors import InputError
from ..facts.foods import Food, Measure
from ..units import VOLUME_ML, WEIGHT_G

_ALIASES = {
    "gram": "g", "grams": "g", "gr": "g", "gms": "g", "kilo": "kg", "kilos": "kg",
    "kilogram": "kg", "kilograms": "kg", "milligram": "mg", "milligrams": "mg",
    "ounce": "oz", "ounces": "oz", "pound": "lb", "pounds": "lb", "lbs": "lb",
    "cups": "cup", "c": "cup", "tablespoon": "tbsp", "tablespoons": "tbsp", "tbs": "tbsp",
    "tbsps": "tbsp", "tb": "tbsp", "teaspoon": "tsp", "teaspoons": "tsp", "tsps": "tsp",
    "millilitre": "ml", "milliliter": "ml", "millilitres": "ml", "milliliters": "ml",
    "litre": "l", "liter": "l", "litres": "l", "liters": "l", "floz": "fl oz",
    "pinches": "pinch", "dashes": "dash", "fluid ounce": "fl oz", "fluid ounces": "fl oz",
}  # fmt: skip
MAX_GRAMS = 100_000.0
FRACTION_TEXT = {
    1 / 8: "1/8",
    1 / 4: "1/4",
    1 / 3: "1/3",
    1 / 2: "1/2",
    2 / 3: "2/3",
    3 / 4: "3/4",
}

_NUMBER = re.compile(
    r"^\s*(?:(?P<whole>\d+)\s+(?P<num>\d+)\s*/\s*(?P<den>\d+)"
    r"|(?P<fnum>\d+)\s*/\s*(?P<fden>\d+)"
    r"|(?P<dec>\d*[.,]?\d+(?:e[+-]?\d+)?))\s*(?P<rest>.*)$",
    re.I,
)


@dataclass(frozen=True)
class Amount:
    """A parsed amount: `count` of `unit`, which is `grams` of the food. `basis` says how."""

    count: float
    unit: str
    grams: float
    basis: str


def parse_number_and_unit(text: str) -> tuple[float, str]:
    """Split "1 1/2 cups" into (1.5, "cups"). A bare number has unit "".

    Raises InputError (field "") for text that is not an amount, or is not above zero.
    """
    plain = re.sub(r"(?<=\d)(?=[¼-¾⅐-⅞])", " ", text)
    plain = unicodedata.normalize("NFKC", plain).replace("⁄", "/").strip()
    plain = re.sub(r"^(a|an|one)\s+(?=[a-z])", "1 ", plain, flags=re.I)
    plain = re.sub(r"^half\s+(a\s+)?", "1/2 ", plain, flags=re.I)
    if plain.startswith("-"):
        raise InputError("", "an amount must be above zero; remove the line to leave the food out")
    thousands = re.match(r"([1-9]\d{0,2}),(\d{3})(?!\d)", plain)
    if thousands is not None:
        raise InputError(
            "",
            f"{thousands[0]} can be {thousands[1]}{thousands[2]} or {thousands[1]}.{thousands[2]}: "
            "write it without the comma",
        )
    match = _NUMBER.match(plain)
    if match is None:
        raise InputError(
            "", f"cannot read {text!r} as an amount; write for example 180 g, 1 1/2 cups or 6 oz"
        )
    try:
        if match["num"]:
            number = float(int(match["whole"]) + Fraction(int(match["num"]), int(match["den"])))
        elif match["fnum"]:
            number = float(Fraction(int(match["fnum"]), int(match["fden"])))
        else:
            number = float(match["dec"].replace(",", "."))
    except ZeroDivisionError:
        raise InputError("", "a fraction cannot have 0 below the line") from None
    if not math.isfinite(number) or number <= 0:
        raise InputError("", "an amount must be above zero; remove the line to leave the food out")
    return number, re.sub(r"\s+", " ", match["rest"]).strip()


def weight_unit(word: str) -> str:
    """The name of a unit of weight as data has it ("pounds" is lb), "" for any other word."""
    name = _ALIASES.get(word.lower(), word.lower())
    return name if name in WEIGHT_G else ""


def read_number(text: str) -> float:
    """A number as people write it: "1 1/2", "2 1/3", "1,5". Raises InputError for a unit behind."""
    number, unit = parse_number_and_unit(text)
    if unit:
        raise InputError("", f"cannot read {text!r} as a number alone; leave out {unit!r}")
    return number


def _singular(word: str) -> str:
    if len(word) > 4 and word.endswith("ies"):
        return word[:-3] + "y"
    if len(word) > 4 and word.endswith("oes"):
        return word[:-2]
    if word in _IRREGULAR:
        return _IRREGULAR[word]
    return word[:-1] if len(word) > 2 and word.endswith("s") and not word.endswith("ss") else word


_IRREGULAR = {"leaves": "leaf", "halves": "half", "loaves": "loaf", "radishes": "radish",
              "pouches": "pouch", "bunches": "bunch", "patties": "patty"}  # fmt: skip
# Words beside a count that say nothing of what is counted.
_FILLERS = frozenset({"of", "the", "a", "an", "each"})
_SIZES = frozenset({"small", "medium", "large", "extra", "jumbo", "colossal", "super"})
_SAME_WORD = {"tin": "can", "pc": "piece", "xl": "extra large", "sm": "small", "lg": "large"}
# A measure of one piece of the food itself may be called this.
_PIECE_HEADS = frozenset({"", "fruit"})


@lru_cache(maxsize=16384)
def _words(text: str) -> tuple[str, ...]:
    """The words of a text in singular, units under one name, fillers left out."""
    found: list[str] = []
    plain = re.sub(r"\bfluid ounces?\b|\bfl\.? ?oz\b", " floz ", text.lower())
    for word in re.findall(r"[a-z]+|\d+(?:[./-]\d+)*", plain):
        one = _ALIASES.get(word) or _ALIASES.get(_singular(word)) or _singular(word)
        found += [one] if one == "fl oz" else _SAME_WORD.get(one, one).split(" ")
    return tuple(w for w in found if w not in _FILLERS)


@dataclass(frozen=True)
class _Shape:
    """What a measure's name says: what is counted, of what size, and all of its words."""

    head: str
    sizes: frozenset[str]
    words: frozenset[str]
    per_piece: bool


@lru_cache(maxsize=16384)
def _shape(name: str) -> _Shape:
    words = _words(name)
    first = words[0] if words else ""
    head = "" if first in _SIZES else first
    volume = head in VOLUME_ML
    sizes = frozenset() if volume else frozenset(words) & _SIZES
    # "breast (yield from 1 lb ready-to-cook chicken)" is a share of a carcass, not a breast.
    return _Shape(head, sizes, frozenset(words), not {"yield", "lb"} <= set(words))


# Volumes of a food that lie within this ratio of each other ("cup, chopped", "cup, sliced") are
# read as the first of them; further apart, it is asked which.
CUPS_ALIKE = 1.35
# Weights of a piece within this ratio are one.
PIECES_ALIKE = 1.02
# A bare number up to this of a food that comes in pieces counts pieces; above it, grams.
MOST_BARE_PIECES = 24


def _alike(measures: list[Measure], ratio: float) -> bool:
    weights = [m.grams for m in measures]
    return max(weights) <= ratio * min(weights)


def pieces_of(food: Food) -> list[Measure]:
    """Measures of one piece of the food itself: "each medium", "large", "fruit", "egg"."""
    named = set(_words(food.name))
    return [
        m
        for m in food.measures
        if (_shape(m.name).head in _PIECE_HEADS or _shape(m.name).head in named)
        and _shape(m.name).per_piece
    ]


def _measures_for(food: Food, words: tuple[str, ...]) -> tuple[list[Measure], str]:
    """Measures that words beside a number can mean, and the first word that means nothing here.

    The words of the food's own name may stand among them ("3 large eggs", "1/2 can pumpkin").
    """
    exact = [m for m in food.measures if _words(m.name) == words]
    if exact:
        return exact[:1], ""
    named = set(_words(food.name))
    sizes = set(words) & _SIZES
    nouns = [w for w in words if w not in _SIZES]
    heads = {_shape(m.name).head for m in food.measures} - {""}
    counted = [w for w in nouns if w in heads]
    if counted:
        # "can pumpkin", but "chicken breast": what is counted stands first, if it is not the
        # food's own name, and last otherwise.
        head = counted[0] if nouns[0] == counted[0] and counted[0] not in named else counted[-1]
        found = [
            m for m in food.measures if _shape(m.name).head == head and _shape(m.name).per_piece
        ]
    else:
        head = ""
        found = pieces_of(food)
    strange = next((w for w in nouns if w != head and w not in named), "")
    if strange:
        told = set(nouns) - {head} - named
        found = [m for m in found if told <= _shape(m.name).words]
    if sizes:
        found = [m for m in found if _shape(m.name).sizes == sizes]
    return found, "" if found else strange


def find_measure(food: Food, unit: str) -> Measure | None:
    """The food's one household measure for a unit; None when there is none or several differ."""
    found, _ = _measures_for(food, _words(unit))
    return found[0] if found and _alike(found, PIECES_ALIKE) else None


class UnsureError(InputError):
    """An amount that can be read in several ways: `candidates`, lightest first."""

    def __init__(self, field: str, message: str, candidates: tuple[Amount, ...]) -> None:
        super().__init__(field, message)
        self.candidates = candidates


def written(amount: Amount) -> str:
    """An amount as it can be typed again: "3 large", "1 1/2 cup"."""
    unit = amount.unit.removeprefix("each ") if amount.unit != "each" else amount.unit
    return f"{_number_text(amount.count)} {unit}"


def _number_text(count: float) -> str:
    whole = math.floor(count)
    for fraction, text in FRACTION_TEXT.items():
        if abs(count - whole - fraction) < 1e-9:
            return f"{whole} {text}" if whole else text
    return f"{count:.12g}"


def counted(name: str) -> str:
    """What a measure counts ("cup", "can", "fl oz"); "" for a piece that is only sized."""
    return _shape(name).head


def measures(word: str) -> bool:
    """True for a word that belongs to an amount, not to a food: a unit, a size, a container."""
    words = _words(word)
    if not words:
        return word.lower() in _FILLERS
    return (
        words[0] in WEIGHT_G
        or words[0] in VOLUME_ML
        or words[0] in _COUNTED
        or set(words) <= _SIZES
    )


def is_volume(unit: str) -> bool:
    """True for a unit of volume, also one that says how it is filled ("cup, chopped")."""
    return _shape(unit).head in VOLUME_ML


def grams_per_ml(food: Food) -> float | None:
    """Density of the food as measured by cup, tablespoon or teaspoon, or None."""
    for unit in ("cup", "tbsp", "tsp"):
        for measure in food.measures:
            if _shape(measure.name).head == unit:
                return measure.grams / VOLUME_ML[unit]
    return None


def _of(measure: Measure, count: float) -> Amount:
    """So many of a measure."""
    return Amount(
        count, measure.name, count * measure.grams,
        f"1 {measure.name} = {measure.grams:g} g ({measure.source})",
    )  # fmt: skip


def _unsure(food: Food, count: float, unit: str, amounts: list[Amount]) -> UnsureError:
    """The question which of several readings is meant."""
    each: dict[float, Amount] = {}
    for amount in sorted(amounts, key=lambda a: a.grams):
        each.setdefault(round(amount.grams, 3), amount)
    shown = tuple(each.values())
    said = " or ".join(
        written(a) if a.unit == "g" else f"{written(a)} ({a.grams:.4g} g)" for a in shown
    )
    what = f"{_number_text(count)} {unit}".strip()
    return UnsureError("unit", f"{what} of {food.name} can be {said}: say which", shown)


def _known_measures(food: Food) -> str:
    names = list(dict.fromkeys(written(_of(m, 1.0)).removeprefix("1 ") for m in food.measures))
    return ", ".join(["g", "oz", "lb", *names])


def _read_unit(food: Food, count: float, unit: str) -> Amount:
    """`count` of what the words beside a number say."""
    words = _words(unit)
    if not unit.strip():
        return _read_bare(food, count)
    if words and words[0] in WEIGHT_G:
        listed = next(
            (m for m in food.measures if len(words) > 1 and _words(m.name) == words), None
        )
        if listed is not None:
            return _of(listed, count)
        _check_rest(food, unit, words[1:])
        return Amount(count, words[0], count * WEIGHT_G[words[0]], "weight")
    volume = words[0] if words and words[0] in VOLUME_ML else ""
    found, strange = _measures_for(food, words)
    if count > MOST_BARE_PIECES and set(words) <= set(_words(food.name)) - _SIZES:
        # "200 chicken thigh" is no count; of what comes in pieces it may be one.
        grams = Amount(count, "g", count, "weight")
        if not found:
            return grams
        raise _unsure(food, count, unit, [grams, *(_of(m, count) for m in found)])
    if found:
        if not _alike(found, CUPS_ALIKE if volume else PIECES_ALIKE):
            raise _unsure(food, count, unit, [_of(m, count) for m in found])
        amount = _of(found[0], count)
        plain = volume and len(words) == 1
        return Amount(count, volume, amount.grams, amount.basis) if plain else amount
    volumes = [m for m in food.measures if volume and _shape(m.name).head == volume]
    if strange and volumes:
        raise _unsure(food, count, unit, [_of(m, count) for m in volumes])
    if volume:
        _check_rest(food, unit, words[1:])
        density = grams_per_ml(food)
        if density is not None:
            return Amount(
                count, volume, count * VOLUME_ML[volume] * density,
                f"density {density:.3g} g/ml from its household weight",
            )  # fmt: skip
        raise InputError(
            "unit",
            f"no volume weight is known for {food.name}; weigh it and give grams, "
            "or note in the library what one weighs",
        )
    if strange and strange not in _COUNTED:
        raise InputError(
            "unit", f"{unit!r} is no amount of {food.name}; use one of: {_known_measures(food)}"
        )
    raise InputError(
        "unit",
        f"no weight is known for “{unit}” of {food.name}; weigh it and give grams, "
        "or note in the library what one weighs",
    )


# What people count that a food may have no weight for.
_COUNTED = frozenset(
    {"can", "jar", "pouch", "packet", "package", "bag", "clove", "slice", "piece", "scoop", "breast",
     "thigh", "leg", "wing", "fillet", "stalk", "head", "bunch", "handful", "serving", "bottle",
     "tablet", "capsule", "drop", "chew", "block", "bar", "sheet", "sprig", "leaf", "ear", "patty"}
)  # fmt: skip


def _check_rest(food: Food, unit: str, rest: tuple[str, ...]) -> None:
    """Words behind a weight or a volume must be the food's own: nothing typed is passed over."""
    named = set(_words(food.name))
    for word in rest:
        if word not in named:
            raise InputError(
                "unit", f"{unit!r}: “{word}” is not part of {food.name}; give the amount alone"
            )


def _read_bare(food: Food, count: float) -> Amount:
    """A number alone: pieces of a food that comes in pieces, grams of any other."""
    grams = Amount(count, "g", count, "weight")
    pieces = pieces_of(food)
    if not pieces or count > MOST_BARE_PIECES:
        return grams
    if _alike(pieces, PIECES_ALIKE) and float(count * 4).is_integer():
        return _of(pieces[0], count)
    raise _unsure(food, count, "", [grams, *(_of(m, count) for m in pieces)])


def resolve(food: Food, count: float, unit: str) -> Amount:
    """Grams of `count` `unit` of the food.

    Raises InputError (field "amount" or "unit"); UnsureError where several readings would do.
    """
    if not math.isfinite(count) or count <= 0:
        raise InputError(
            "amount", "an amount must be above zero; remove the line to leave the food out"
        )
    amount = _read_unit(food, count, unit)
    if amount.grams > MAX_GRAMS:
        raise InputError(
            "amount", f"{amount.grams / 1000:.0f} kg in one line is too much; give at most 100 kg"
        )
    return amount


def parse(food: Food, text: str) -> Amount:
    """Parse an amount as typed, for this food. Raises InputError (field "amount" or "unit")."""
    try:
        count, unit = parse_number_and_unit(text)
    except InputError as error:
        raise InputError("amount", error.message) from None
    return resolve(food, count, unit)
