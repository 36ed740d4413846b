"""Volume rules people bring: "a cup a day per 10 kg", "1/3 cup per 5 lb at each of two meals"."""

import re
from dataclasses import dataclass

from ..confidence import Confidence
from ..errors import InputError
from ..recipe.numbers import parse_number_and_unit
from ..trace import Quantity, Step
from ..units import VOLUME_ML, WEIGHT_G, Measures, volume_ml

_WORDS = {
    "a": "1", "an": "1", "one": "1", "two": "2", "three": "3", "four": "4", "half": "1/2",
    "third": "1/3", "quarter": "1/4", "every": "per", "each": "per",
}  # fmt: skip
_RULE = re.compile(
    r"(?P<amount>[\d./ ]+?)\s*(?P<unit>cups?|tbsp|tablespoons?|tsp|teaspoons?|ml|g|grams?|oz|lbs?|pounds?)\b"
    r".*?\b(?:per|for)\s+(?P<body>[\d./ ]*?)\s*(?P<mass>kg|kilograms?|kilos?|lbs?|pounds?)\b",
    re.I,
)


@dataclass(frozen=True)
class VolumeRule:
    """An amount per kilogram of body weight a day, in ml or g."""

    ml_per_kg: float | None
    grams_per_kg: float | None
    meals: int


def read_rule(text: str, measures: Measures = Measures.US) -> VolumeRule:
    """Read a rule told in these cups and spoons. Raises InputError with examples when it cannot be read."""
    plain = text.lower().replace("⁄", "/")
    plain = re.sub(r"\b(half|third|quarter)\s+of\s+an?\b", r"\1", plain)
    plain = re.sub(r"\ba\s+(half|third|quarter)\b", r"\1", plain)
    plain = re.sub(r"\b(half|third|quarter)\s+an?\b", r"\1", plain)
    meals = 1
    found = re.search(
        r"at\s+(?:each|every)(?:\s+of)?\s*(\w+)?\s*meals?|(\w+)\s+(?:times|meals)\s+a\s+day|twice",
        plain,
    )
    if found:
        count = found[1] or found[2] or ("two" if "twice" in found[0] else "one")
        meals = int(_WORDS.get(count, count)) if _WORDS.get(count, count).isdigit() else 1
        plain = plain.replace(found[0], " ")
    plain = re.sub(r"\b(a|per|each|every)\s+day\b|\bdaily\b", " ", plain)
    plain = " ".join(_WORDS.get(w, w) for w in plain.split())
    match = _RULE.search(plain)
    if match is None:
        raise InputError(
            "rule",
            "cannot read this; write for example: a cup a day per 10 kg, a third of a cup per 5 lb at each of two meals, "
            "2-3 % of body weight, or 30 kcal per lb",
        )
    amount, unit = parse_number_and_unit(f"{match['amount'].strip()} {match['unit']}")
    body = parse_number_and_unit(match["body"].strip() or "1")[0]
    kg = body * (1.0 if match["mass"].startswith("k") else WEIGHT_G["lb"] / 1000)
    singular = {"cups": "cup", "grams": "g", "gram": "g", "lbs": "lb", "pounds": "lb", "pound": "lb",
                "tablespoon": "tbsp", "tablespoons": "tbsp", "teaspoon": "tsp", "teaspoons": "tsp"}  # fmt: skip
    unit = singular.get(unit, unit)
    if unit in VOLUME_ML:
        return VolumeRule(amount * volume_ml(unit, measures) * meals / kg, None, meals)
    return VolumeRule(None, amount * WEIGHT_G[unit] * meals / kg, meals)


def rule_kcal(
    rule: VolumeRule, weight_kg: float, grams_per_ml: float, kcal_per_gram: float
) -> Step:
    """kcal a day of a rule for a dog and a recipe of known density and energy."""
    if rule.ml_per_kg is not None:
        grams = rule.ml_per_kg * weight_kg * grams_per_ml
        formula = "ml per kg x kg x g per ml x kcal per g"
        inputs = [
            Quantity("rule", rule.ml_per_kg, "ml/kg/day"),
            Quantity(
                "density",
                grams_per_ml,
                "g/ml",
                "the recipe's household weights; 1 where a food has none",
            ),
        ]
    else:
        grams = (rule.grams_per_kg or 0) * weight_kg
        formula = "g per kg x kg x kcal per g"
        inputs = [Quantity("rule", rule.grams_per_kg or 0, "g/kg/day")]
    return Step(
        "Energy of the volume rule", formula,
        (*inputs, Quantity("body weight", weight_kg, "kg"), Quantity("energy of the recipe", kcal_per_gram, "kcal/g")),
        grams * kcal_per_gram, "kcal/day", "a rule of thumb, not a published method", Confidence.LOW,
    )  # fmt: skip
