"""Amounts as people write them: "1 1/2 cups", "6 oz", "¾ tsp", "2 large", "180"."""

import math
import re
import unicodedata
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

from .errors import InputError
from .foods import Food, Measure

GRAMS_PER = {"g": 1.0, "kg": 1000.0, "mg": 0.001, "oz": 28.349523125, "lb": 453.59237}
# US customary measures, the ones the household weights of the Standard Reference use.
ML_PER = {
    "ml": 1.0,
    "l": 1000.0,
    "cup": 236.5882365,
    "tbsp": 14.78676478,
    "tsp": 4.92892159,
    "fl oz": 29.5735295625,
    # Kitchen usage: a dash is 1/8 and a pinch 1/16 of a teaspoon.
    "dash": 4.92892159 / 8,
    "pinch": 4.92892159 / 16,
}
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

_NUMBER = re.compile(
    r"^\s*(?:(?P<whole>\d+)\s+(?P<num>\d+)\s*/\s*(?P<den>\d+)"
    r"|(?P<fnum>\d+)\s*/\s*(?P<fden>\d+)"
    r"|(?P<dec>\d*[.,]?\d+(?:e\d+)?))\s*(?P<rest>.*)$",
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


def _normal(unit: str) -> str:
    lowered = unit.lower().strip(" .")
    return _ALIASES.get(lowered, lowered)


def _singular(word: str) -> str:
    return word[:-1] if len(word) > 2 and word.endswith("s") and not word.endswith("ss") else word


@lru_cache(maxsize=8192)
def _measure_key(name: str) -> str:
    words = re.findall(r"[a-z0-9]+", name.lower())
    return " ".join(_singular(_ALIASES.get(w, w)) for w in words if w not in {"of", "each"})


def find_measure(food: Food, unit: str) -> Measure | None:
    """The food's own household measure for a unit: exact first, then by its first word."""
    wanted = _measure_key(unit)
    table = [(_measure_key(m.name), m) for m in food.measures]
    for key, measure in table:
        if key == wanted:
            return measure
    if not wanted:
        return next((m for _, m in table if m.name.startswith("each")), None)
    for key, measure in table:
        if key.split(" ")[:1] == [wanted] or key.split(" ")[-1:] == [wanted]:
            return measure
    return None


def grams_per_ml(food: Food) -> float | None:
    """Density of the food as measured by cup, tablespoon or teaspoon, or None."""
    for unit in ("cup", "tbsp", "tsp"):
        for measure in food.measures:
            if _measure_key(measure.name).split(" ")[0] == unit:
                return measure.grams / ML_PER[unit]
    return None


def unit_grams(food: Food, unit: str) -> tuple[float, str, str]:
    """Grams of one `unit` of the food, the canonical unit, and how the weight is known.

    Raises InputError (field "unit") naming the units that would work.
    """
    canonical = _normal(unit) or "g"
    if canonical in GRAMS_PER:
        return GRAMS_PER[canonical], canonical, "weight"
    measure = find_measure(food, canonical)
    if measure is not None:
        return (
            measure.grams,
            measure.name if canonical not in ML_PER else canonical,
            (f"1 {measure.name} = {measure.grams:g} g ({measure.source})"),
        )
    if canonical in ML_PER:
        density = grams_per_ml(food)
        if density is not None:
            return (
                ML_PER[canonical] * density,
                canonical,
                f"density {density:.3g} g/ml from its household weight",
            )
        raise InputError(
            "unit", f"no volume weight is known for {food.name}; weigh it and give grams"
        )
    known = sorted({*GRAMS_PER, *(m.name for m in food.measures)})
    raise InputError(
        "unit", f"unknown unit {unit!r} for {food.name}; use one of: {', '.join(known)}"
    )


def resolve(food: Food, count: float, unit: str) -> Amount:
    """Grams of `count` `unit` of the food. Raises InputError (field "amount" or "unit")."""
    if not math.isfinite(count) or count <= 0:
        raise InputError(
            "amount", "an amount must be above zero; remove the line to leave the food out"
        )
    per_unit, canonical, basis = unit_grams(food, unit)
    grams = count * per_unit
    if grams > MAX_GRAMS:
        raise InputError(
            "amount", f"{grams / 1000:.0f} kg in one line is too much; give at most 100 kg"
        )
    return Amount(count, canonical, grams, basis)


def parse(food: Food, text: str) -> Amount:
    """Parse an amount as typed, for this food. Raises InputError (field "amount" or "unit")."""
    try:
        count, unit = parse_number_and_unit(text)
    except InputError as error:
        raise InputError("amount", error.message) from None
    return resolve(food, count, unit)


_FRACTIONS = (0.0, 1 / 8, 1 / 4, 1 / 3, 1 / 2, 2 / 3, 3 / 4, 1.0)
_FRACTION_TEXT = {
    1 / 8: "1/8",
    1 / 4: "1/4",
    1 / 3: "1/3",
    1 / 2: "1/2",
    2 / 3: "2/3",
    3 / 4: "3/4",
}


@dataclass(frozen=True)
class Household:
    """A kitchen amount near a weight: its text, its own grams, the rounding error as a share."""

    text: str
    grams: float
    error: float


def _to_fraction(count: float, allowed: tuple[float, ...]) -> tuple[float, str]:
    whole = math.floor(count)
    part = min(allowed, key=lambda f: abs(count - whole - f))
    value = whole + part
    if part == 1.0 or part == 0.0:
        return float(round(value)), f"{round(value)}"
    return value, (f"{whole} " if whole else "") + _FRACTION_TEXT[part]


def household(food: Food, grams: float) -> Household | None:
    """The kitchen measure nearest to a weight, or None when the food has no usable measure.

    Prefers the largest measure of which at least a quarter (cup), a half (tablespoon) or
    an eighth (teaspoon) is needed; pieces are counted in halves.
    """
    if grams <= 0:
        return None
    best: Household | None = None
    for measure in food.measures:
        first = _measure_key(measure.name).split(" ")[0] if _measure_key(measure.name) else ""
        piece = first not in {"cup", "tbsp", "tsp"}
        if piece and not measure.name.startswith(("each", "can")):
            continue
        count = grams / measure.grams
        least = {"cup": 0.24, "tbsp": 0.9, "tsp": 0.1}.get(first, 0.45)
        most = {"tbsp": 4.1, "tsp": 3.1}.get(first, 24.0)
        if not least <= count <= most:
            continue
        allowed = (0.0, 0.5, 1.0) if piece else _FRACTIONS
        value, text = _to_fraction(count, allowed)
        if value == 0:
            continue
        exact = value * measure.grams
        label = measure.name.replace("each ", "")
        if label == "cup" and value > 1:
            label = "cups"
        candidate = Household(f"{text} {label}".strip(), exact, exact / grams - 1)
        if best is None or abs(candidate.error) < abs(best.error) - 0.005:
            best = candidate
    return best
