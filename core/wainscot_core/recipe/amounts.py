"""Amounts as people write them: "1 1/2 cups", "6 oz", "3 large eggs", "1/2 can", "180".

Number and noun are read together, against the food's own measures. What can be read in several
ways is not guessed: UnsureError names the readings with their grams.
"""

import math
import re
from dataclasses import dataclass, replace
from functools import lru_cache

from ..confidence import Confidence
from ..conventions import FoodUnit, Kitchen
from ..errors import InputError
from ..facts.foods import Food, Measure
from ..units import MEASURE_ML, VOLUME_ML, WEIGHT_G, Measures, volume_ml
from .amount import Amount, called, number_text, written
from .numbers import ABOVE_ZERO, parse_number_and_unit, plain_text, two_figures

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
# Cups and spoons of the food table, food weighed in grams.
AS_TABLES = Kitchen()
# Words before a cup or a spoon that say whose it is.
_WHOSE = {"us": Measures.US, "metric": Measures.METRIC, "australian": Measures.AUSTRALIAN,
          "aus": Measures.AUSTRALIAN}  # fmt: skip


def weight_unit(word: str) -> str:
    """The name of a unit of weight as data has it ("pounds" is lb), "" for any other word."""
    name = _ALIASES.get(word.lower(), word.lower())
    return name if name in WEIGHT_G else ""


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
_FILLERS = frozenset({"of", "the", "a", "an", "each", "level"})
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


def counted(name: str) -> str:
    """What a measure counts ("cup", "can", "fl oz"); "" for a piece that is only sized."""
    return _shape(name).head


def measures(word: str) -> bool:
    """True for a word that belongs to an amount, not to a food: a unit, a size, a container."""
    words = _words(word)
    if not words:
        return word.lower() in _FILLERS
    return (
        words[0] in _WHOSE
        or words[0] in WEIGHT_G
        or words[0] in VOLUME_ML
        or words[0] in _COUNTED
        or set(words) <= _SIZES
    )


def is_volume(unit: str) -> bool:
    """True for a unit of volume, also one that says how it is filled ("cup, chopped")."""
    return _shape(unit).head in VOLUME_ML


def grams_per_ml(
    food: Food, near_ml: float = VOLUME_ML["cup"], measures: Measures = Measures.US
) -> float | None:
    """Density of the food as measured by cup, tablespoon or teaspoon, whichever holds most nearly
    as much as `near_ml`; None where it has no such measure. What the practice filled itself was one
    of `measures`."""
    units = sorted(("cup", "tbsp", "tsp"), key=lambda u: abs(math.log(VOLUME_ML[u] / near_ml)))
    for unit in units:
        for measure in food.measures:
            if _shape(measure.name).head == unit:
                return measure.grams / volume_ml(unit, measures if measure.own else Measures.US)
    return None


def _of(measure: Measure, count: float, measures: Measures = Measures.US) -> Amount:
    """So many of a measure; a cup or spoon of the food table holds as much as `measures` say."""
    head = _shape(measure.name).head
    whose = None if measure.own or head not in MEASURE_ML[Measures.US] else measures
    each = weight_of(measure, measures)
    return Amount(
        count, measure.name, count * each,
        f"1 {called(whose)}{measure.name} = {each:.6g} g ({measure.source})",
        measure.confidence is not Confidence.LOW, whose,
    )  # fmt: skip


def weight_of(measure: Measure, measures: Measures) -> float:
    """Grams of one measure of a food where cups and spoons hold what `measures` say."""
    head = _shape(measure.name).head
    if measure.own or head not in MEASURE_ML[Measures.US]:
        return measure.grams
    return measure.grams * volume_ml(head, measures) / VOLUME_ML[head]


def _unsure(
    food: Food, count: float, unit: str, amounts: list[Amount], kitchen: Kitchen
) -> UnsureError:
    """The question which of several readings is meant."""
    each: dict[float, Amount] = {}
    for amount in sorted(amounts, key=lambda a: a.grams):
        each.setdefault(round(amount.grams, 3), amount)
    shown = tuple(each.values())
    said = _said(shown, kitchen)
    what = f"{number_text(count)} {unit}".strip()
    return UnsureError("unit", f"{what} of {food.name} can be {said}: say which", shown)


def _said(amounts: tuple[Amount, ...], kitchen: Kitchen) -> str:
    """Readings with their grams."""
    texts = [(a, written(a, kitchen.measures)) for a in amounts]
    return " or ".join(t if a.unit == "g" else f"{t} ({a.grams:.4g} g)" for a, t in texts)


def _known_measures(food: Food) -> str:
    names = list(dict.fromkeys(written(_of(m, 1.0)).removeprefix("1 ") for m in food.measures))
    return ", ".join(["g", "oz", "lb", *names])


def _read_unit(food: Food, count: float, unit: str, kitchen: Kitchen) -> Amount:
    """`count` of what the words beside a number say."""
    words = _words(unit)
    if not unit.strip():
        return _read_bare(food, count, kitchen)
    if len(words) > 1 and words[0] in _WHOSE and words[1] in MEASURE_ML[Measures.US]:
        kitchen = replace(kitchen, measures=_WHOSE[words[0]])
        words, unit = words[1:], unit.split(maxsplit=1)[1]
    measures = kitchen.measures
    if words and words[0] in WEIGHT_G:
        listed = next(
            (m for m in food.measures if len(words) > 1 and _words(m.name) == words), None
        )
        if listed is not None:
            return _of(listed, count, measures)
        _check_rest(food, unit, words[1:])
        return Amount(count, words[0], count * WEIGHT_G[words[0]], "weight")
    volume = words[0] if words and words[0] in VOLUME_ML else ""
    found, strange = _measures_for(food, words)
    if count > MOST_BARE_PIECES and set(words) <= set(_words(food.name)) - _SIZES:
        # "200 chicken thigh" is no count; of what comes in pieces it may be one.
        weights = _bare_weights(count, kitchen)
        if not found and len(weights) == 1:
            return weights[0]
        raise _unsure(food, count, unit, [*weights, *(_of(m, count) for m in found)], kitchen)
    if found:
        if not _alike(found, CUPS_ALIKE if volume else PIECES_ALIKE):
            raise _unsure(food, count, unit, [_of(m, count, measures) for m in found], kitchen)
        amount = _of(found[0], count, measures)
        plain = volume and len(words) == 1
        return replace(amount, unit=volume) if plain else amount
    volumes = [m for m in food.measures if volume and _shape(m.name).head == volume]
    if strange and volumes:
        raise _unsure(food, count, unit, [_of(m, count, measures) for m in volumes], kitchen)
    if volume:
        _check_rest(food, unit, words[1:])
        ml = volume_ml(volume, measures)
        density = grams_per_ml(food, ml, measures)
        if density is not None:
            whose = measures if volume in MEASURE_ML[measures] else None
            return Amount(
                count, volume, count * ml * density,
                f"1 {called(whose)}{volume} = {ml:.4g} ml, density {density:.3g} g/ml from its "
                "household weight", whose=whose,
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


def _bare_weights(count: float, kitchen: Kitchen) -> list[Amount]:
    """What a number alone can weigh: grams; where food is weighed in ounces, it may be either."""
    grams = Amount(count, "g", count, "weight")
    if kitchen.weigh is FoodUnit.G:
        return [grams]
    return [grams, Amount(count, "oz", count * WEIGHT_G["oz"], "weight")]


def _read_bare(food: Food, count: float, kitchen: Kitchen) -> Amount:
    """A number alone: pieces of a food that comes in pieces, grams of any other."""
    weights = _bare_weights(count, kitchen)
    pieces = pieces_of(food)
    if not pieces or count > MOST_BARE_PIECES:
        if len(weights) == 1:
            return weights[0]
        raise _unsure(food, count, "", weights, kitchen)
    if _alike(pieces, PIECES_ALIKE) and float(count * 4).is_integer():
        return _of(pieces[0], count)
    raise _unsure(food, count, "", [*weights, *(_of(m, count) for m in pieces)], kitchen)


def resolve(food: Food, count: float, unit: str, kitchen: Kitchen = AS_TABLES) -> Amount:
    """Grams of `count` `unit` of the food.

    Raises InputError (field "amount" or "unit"); UnsureError where several readings would do.
    """
    if not math.isfinite(count) or count <= 0:
        raise InputError("amount", ABOVE_ZERO)
    return _within(_read_unit(food, count, unit, kitchen))


def _within(amount: Amount) -> Amount:
    if amount.grams > MAX_GRAMS:
        raise InputError(
            "amount", f"{amount.grams / 1000:.0f} kg in one line is too much; give at most 100 kg"
        )
    return amount


# Words in front of a figure that do not change it: what is written is what is read.
_ABOUT = re.compile(
    r"^(?:about|approx(?:imately)?\.?|around|roughly|circa|ca\.?|~|≈)\s*(?=[\d½¼¾⅓⅔a-z])", re.I
)
# Words that change how much a measure holds, by no known factor.
_HEAPED = re.compile(
    r"\b(heaped|heaping|rounded|generous|scant|packed|overflowing|big|good)\s+(?=\w)", re.I
)
_CONTAINERS = r"(?:cans?|tins?|jars?|pouch(?:es)?|packets?|packs?|packages?|bags?|tubs?|tubes?|cartons?|containers?|bottles?|boxes|box)"
_WEIGHTS = r"(?:kg|g|grams?|oz|ounces?|lbs?|pounds?)"
# "2 x 400 g", "2 x 400 g tins", "2 400 g tins", "2 15-oz cans"
_TIMES = re.compile(
    rf"^(?P<count>\d+(?:\s+\d+/\d+|/\d+)?)\s*(?P<times>[x×*])?\s*(?P<each>\d+(?:[.,]\d+)?)\s*-?\s*"
    rf"(?P<unit>{_WEIGHTS})\.?\s*(?P<what>{_CONTAINERS}\b)?\s*(?:of\s+)?(?P<rest>.*)$",
    re.I,
)
# "2 cans (400 g)", "1 can of 400 g", "1 tin 400g pumpkin"
_HOLDING = re.compile(
    rf"^(?P<count>\d+(?:\s+\d+/\d+|/\d+)?(?:[.,]\d+)?)\s*(?P<what>{_CONTAINERS})\s*(?:of\s+)?[(,]?\s*"
    rf"(?P<each>\d+(?:[.,]\d+)?)\s*-?\s*(?P<unit>{_WEIGHTS})\.?(?:\s+each)?\s*\)?\s*(?:of\s+)?(?P<rest>.*)$",
    re.I,
)
# Between the parts of a sum: "1 cup + 2 tbsp", "1 lb and 4 oz", "1 lb 4 oz"
_PLUS = re.compile(r"\s*(?:\+|\bplus\b|\band\b|&)\s*(?=[\d.]|half\b|an?\s)", re.I)
_UNITS_IN_A_ROW = re.compile(
    rf"^(?P<first>[\d.,/ ]+(?:{_WEIGHTS}))\.?,?\s+(?P<second>\d[\d.,/ ]*(?:{_WEIGHTS}))\b(?P<rest>.*)$",
    re.I,
)


def parse(food: Food, text: str, kitchen: Kitchen = AS_TABLES) -> Amount:
    """Parse an amount as typed, for this food, by someone in this kitchen.

    Raises InputError (field "amount" or "unit"), UnsureError where several readings would do.
    """
    text = _ABOUT.sub("", text.strip())
    plain = plain_text(text)
    try:
        _, unit = parse_number_and_unit(plain) if two_figures(plain) is None else (0.0, "")
        if unit and any(_words(m.name) == _words(unit) for m in food.measures):
            return _part(food, text, kitchen)
        both = two_figures(plain)
        if both is not None:
            raise _either(food, text, [_part(food, one, kitchen) for one in both], kitchen)
        heaped = _HEAPED.search(plain)
        if heaped is not None and parse_number_and_unit(plain):
            level = _part(food, plain[: heaped.start()] + plain[heaped.end() :], kitchen)
            raise _either(food, text, [level], kitchen, f"{heaped[1].lower()} measures differ")
        in_containers = _contents(food, plain, text, kitchen)
        if in_containers is not None:
            return in_containers
        row = _UNITS_IN_A_ROW.match(plain)
        parts = [row["first"], row["second"] + row["rest"]] if row else _PLUS.split(plain)
        if len(parts) > 1:
            return _sum([_part(food, part, kitchen) for part in parts], kitchen)
        return _part(food, text, kitchen)
    except InputError as error:
        if error.field == "":
            raise InputError("amount", error.message) from None
        raise


def _part(food: Food, text: str, kitchen: Kitchen) -> Amount:
    """One number with what it counts."""
    count, unit = parse_number_and_unit(text)
    return resolve(food, count, unit, kitchen)


def _sum(parts: list[Amount], kitchen: Kitchen) -> Amount:
    grams = sum(part.grams for part in parts)
    told = " and ".join(f"{written(part, kitchen.measures)} = {part.grams:.4g} g" for part in parts)
    return _within(Amount(grams, "g", grams, told, all(part.sure for part in parts)))


def _either(
    food: Food, text: str, amounts: list[Amount], kitchen: Kitchen, why: str = ""
) -> UnsureError:
    """Which of several amounts is meant."""
    shown = tuple(sorted(amounts, key=lambda a: a.grams))
    said = _said(shown, kitchen)
    reason = f"{why}: " if why else ""
    return UnsureError(
        "unit", f"{text.strip()} of {food.name}: {reason}say {said}, or weigh it", shown
    )


def _contents(food: Food, plain: str, text: str, kitchen: Kitchen) -> Amount | None:
    """A count of containers whose weight is told ("2 x 400 g tins"); None for anything else.

    The weight on a can is that of all that is in it: of a food that is drained it is asked.
    """
    match = _HOLDING.match(plain) or _TIMES.match(plain)
    if match is None or not (match["what"] or match.groupdict().get("times")):
        return None
    named = set(_words(food.name))
    strange = [w for w in _words(match["rest"]) if w not in named]
    listed, _ = _measures_for(
        food, _words(f"{match['what'] or ''} {match['each']} {match['unit']}")
    )
    if strange:
        raise InputError(
            "unit", f"“{strange[0]}” is not part of {food.name}; give the amount alone"
        )
    count, _unit = parse_number_and_unit(match["count"])
    each = float(match["each"].replace(",", ".")) * WEIGHT_G[weight_unit(match["unit"])]
    whole = _within(
        Amount(count * each, "g", count * each, f"{match['count']} x {each:.4g} g, as labelled")
    )
    drained = [_of(m, count) for m in listed if match["what"]]
    if drained and not _alike([*listed, replace(listed[0], grams=each)], PIECES_ALIKE):
        raise _either(
            food, text, [whole, *drained], kitchen, "the whole content, or what is left of it"
        )
    return whole
