"""Energy needs of a dog, each with the formula filled in.

RER (resting energy requirement) and MER (maintenance energy requirement) in kcal ME a day.
"""

import math
from dataclasses import dataclass
from typing import Any

from ..confidence import Confidence
from ..errors import InputError
from ..trace import Quantity, Step


@dataclass(frozen=True)
class EnergyRules:
    """The equations and bounds of reference/energy/methods.yaml."""

    rer_a: float
    rer_power: float
    rer_formula: str
    rer_source: str
    rer_confidence: Confidence
    weight_min_kg: float
    weight_max_kg: float
    multiplier_min: float
    multiplier_max: float
    own_figure_min_rer_share: float

    @classmethod
    def from_data(cls, data: dict[str, Any]) -> "EnergyRules":
        """Build from the parsed methods.yaml."""
        rer = data["rer"]
        return cls(
            rer["a"], rer["power"], rer["formula"], rer["source"], Confidence(rer["confidence"]),
            data["weight_kg"]["min"], data["weight_kg"]["max"],
            data["multiplier"]["min"], data["multiplier"]["max"],
            data["own_figure"]["min_rer_share"],
        )  # fmt: skip


@dataclass(frozen=True)
class Energy:
    """RER and the target, kcal ME a day, with the steps that led there."""

    rer_kcal: float
    target_kcal: float
    steps: tuple[Step, ...]


def check_weight(rules: EnergyRules, weight_kg: float, field: str = "weight_kg") -> float:
    """The weight if a dog can have it; InputError otherwise."""
    if not math.isfinite(weight_kg) or weight_kg <= 0:
        raise InputError(field, "a body weight must be above 0 kg")
    if not rules.weight_min_kg <= weight_kg <= rules.weight_max_kg:
        raise InputError(
            field,
            f"{weight_kg:g} kg is not a body weight of a dog; give {rules.weight_min_kg:g} to "
            f"{rules.weight_max_kg:g} kg, or pounds with their unit: 18 lb",
        )
    return weight_kg


def rer_kcal(rules: EnergyRules, weight_kg: float) -> float:
    """Resting energy requirement, kcal a day: 70 x kg^0.75 (Kleiber 1961; NRC 2006)."""
    return float(rules.rer_a * check_weight(rules, weight_kg) ** rules.rer_power)


def rer_step(rules: EnergyRules, weight_kg: float) -> Step:
    """RER as a traced step."""
    value = rer_kcal(rules, weight_kg)
    return Step(
        "Resting energy requirement (RER)",
        rules.rer_formula,
        (Quantity("body weight", weight_kg, "kg"),),
        value,
        "kcal/day",
        rules.rer_source,
        rules.rer_confidence,
    )


def by_multiplier(rules: EnergyRules, weight_kg: float, multiplier: float) -> Energy:
    """MER as a multiple of RER. Raises InputError for a weight or multiplier out of bounds."""
    step = rer_step(rules, weight_kg)
    if not math.isfinite(multiplier) or not (
        rules.multiplier_min <= multiplier <= rules.multiplier_max
    ):
        raise InputError(
            "multiplier",
            f"a multiplier of RER lies between {rules.multiplier_min:g} and {rules.multiplier_max:g}",
        )
    target = step.value * multiplier
    chosen = Step(
        "Energy target",
        "multiplier x RER",
        (
            Quantity("multiplier", multiplier, "", "chosen by the consultant"),
            Quantity("RER", step.value, "kcal/day"),
        ),
        target,
        "kcal/day",
        "multiplier method; individual dogs differ by up to about 50 %",
    )
    return Energy(step.value, target, (step, chosen))


def by_own_figure(rules: EnergyRules, weight_kg: float, kcal_per_day: float) -> Energy:
    """The consultant's own figure. Raises InputError when no dog of that weight eats it."""
    step = rer_step(rules, weight_kg)
    if not math.isfinite(kcal_per_day) or not (
        rules.own_figure_min_rer_share * step.value
        <= kcal_per_day
        <= rules.multiplier_max * step.value
    ):
        raise InputError(
            "kcal_per_day",
            f"{kcal_per_day:g} kcal a day is out of reach for {weight_kg:g} kg "
            f"(RER {step.value:.0f} kcal); check the unit and the weight",
        )
    own = Step(
        "Energy target",
        "consultant's own figure",
        (Quantity("given", kcal_per_day, "kcal/day"),),
        kcal_per_day,
        "kcal/day",
        "consultant",
    )
    return Energy(step.value, kcal_per_day, (step, own))
