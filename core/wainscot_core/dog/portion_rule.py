"""Rules on how much is fed that people bring: "2-3 % of body weight", "30 kcal per lb", "RER x 1.6", "a cup a day per
10 kg"."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from ..confidence import Confidence
from ..errors import InputError
from ..trace import Quantity, Step
from ..units import WEIGHT_G, Measures
from .energy import EnergyRules, rer_step
from .volume_rule import VolumeRule, read_rule, rule_kcal

_NUMBER = r"\d+(?:[.,]\d+)?"
_RANGE = rf"(?P<low>{_NUMBER})\s*(?:%\s*)?(?:(?:-|–|to)\s*(?P<high>{_NUMBER})\s*)?"
_SHARE = re.compile(
    rf"{_RANGE}(?:%|per\s?cent|percent)\s*(?:of\s+)?(?:(?:its|the|his|her|a|your)\s+)?(?:(?:dog|puppy|pup)(?:'s|’s)?\s+)?"
    r"(?:(?:ideal|adult|current|target)\s+)?(?P<body>body\s?-?weight|bodyweight|weight|bw)\b",
    re.I,
)
_PER_WEIGHT = re.compile(
    rf"{_RANGE}(?:k?cal|kilocalories|calories)\s*(?:/|per|a|for\s+each|for\s+every)\s*(?P<mass>kg|kilogram|kilo|lb|pound)s?\b",
    re.I,
)
_A_DAY = re.compile(rf"{_RANGE}(?:k?cal|kilocalories|calories)\s*(?:/|per|a|each)\s*day\b", re.I)
_RER = re.compile(
    rf"(?:\bRER\s*(?:x|×|\*|times)\s*(?P<after>{_NUMBER}))|(?:(?P<before>{_NUMBER})\s*(?:x|×|\*|times)\s*(?:the\s+)?RER\b)",
    re.I,
)
# A dog eats no more of its weight than this in a day: what is beyond was meant otherwise.
MOST_SHARE = 0.3


@dataclass(frozen=True)
class ShareRule:
    """Food a day as a share of the body weight, from and to."""

    low: float
    high: float


@dataclass(frozen=True)
class EnergyRule:
    """kcal a day, from and to: in all, per kg of body weight, or as a multiple of RER."""

    low: float
    high: float
    per: str


PortionRule = VolumeRule | ShareRule | EnergyRule


def read_portion(text: str, measures: Measures = Measures.US) -> PortionRule:
    """Read a rule. Raises InputError (rule) with examples where it cannot be read, or says what cannot be."""
    if (found := _SHARE.search(text)) is not None:
        low, high = (x / 100 for x in _ends(found))
        if not 0 < high <= MOST_SHARE:
            raise InputError("rule", f"no dog eats {high:.0%} of its weight a day")
        return ShareRule(low, high)
    if (found := _PER_WEIGHT.search(text)) is not None:
        kg = 1.0 if found["mass"].lower().startswith("k") else WEIGHT_G["lb"] / 1000
        low, high = _ends(found)
        return EnergyRule(low / kg, high / kg, "kg")
    if (found := _RER.search(text)) is not None:
        times = _figure(found["after"] or found["before"])
        return EnergyRule(times, times, "RER")
    if (found := _A_DAY.search(text)) is not None:
        return EnergyRule(*_ends(found), "day")
    return read_rule(text, measures)


def is_portion(text: str) -> bool:
    """Whether a rule says itself that it is about how much is fed in all, not about one food."""
    return any(p.search(text) for p in (_SHARE, _PER_WEIGHT, _RER, _A_DAY))


def _figure(text: str) -> float:
    return float(text.replace(",", "."))


def _ends(found: re.Match[str]) -> tuple[float, float]:
    low = _figure(found["low"])
    high = _figure(found["high"]) if found["high"] else low
    return min(low, high), max(low, high)


@dataclass(frozen=True)
class Served:
    """What a rule is held against: the dog's weight, and the recipe's density and energy, None without a recipe."""

    weight_kg: float
    grams_per_ml: float | None = None
    kcal_per_gram: float | None = None


def portion_kcal(rules: EnergyRules, rule: PortionRule, served: Served) -> Sequence[Step]:
    """kcal a day of a rule, one step, or two where it tells a range. Raises InputError (recipe) where a recipe is needed."""
    if isinstance(rule, EnergyRule):
        ends = dict.fromkeys((rule.low, rule.high))
        return [_energy(rules, rule, end, served.weight_kg) for end in ends]
    if served.kcal_per_gram is None or served.grams_per_ml is None:
        raise InputError("recipe", "the recipe is empty; this rule needs a recipe")
    if isinstance(rule, VolumeRule):
        return [rule_kcal(rule, served.weight_kg, served.grams_per_ml, served.kcal_per_gram)]
    return [
        _step(
            "share of body weight x body weight x kcal per g",
            [
                Quantity("share of body weight a day", share * 100, "%"),
                Quantity("body weight", served.weight_kg, "kg"),
                Quantity("energy of the recipe", served.kcal_per_gram, "kcal/g"),
            ],
            share * served.weight_kg * 1000 * served.kcal_per_gram,
        )
        for share in dict.fromkeys((rule.low, rule.high))
    ]


def _energy(rules: EnergyRules, rule: EnergyRule, end: float, weight_kg: float) -> Step:
    if rule.per == "RER":
        rer = rer_step(rules, weight_kg)
        inputs = [
            Quantity("multiplier", end, ""),
            Quantity("RER", rer.value, "kcal/day", rer.formula),
        ]
        return _step("multiplier x RER", inputs, end * rer.value)
    if rule.per == "kg":
        inputs = [Quantity("rule", end, "kcal/kg/day"), Quantity("body weight", weight_kg, "kg")]
        return _step("kcal per kg x kg", inputs, end * weight_kg)
    return _step("as the rule says it", [Quantity("rule", end, "kcal/day")], end)


def _step(formula: str, inputs: Sequence[Quantity], value: float) -> Step:
    return Step(
        "Energy of the rule", formula, tuple(inputs), value, "kcal/day",
        "a rule of thumb, not a published method", Confidence.LOW,
    )  # fmt: skip
