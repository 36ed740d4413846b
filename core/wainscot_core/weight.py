"""Ideal weight from body condition, and weight plans that never go below their floor."""

from dataclasses import dataclass
from typing import Any

from .errors import InputError
from .trace import Quantity, Step


@dataclass(frozen=True)
class IdealWeight:
    """kg: typical (10 % per point), the lowest (15 %) and by body fat, with the steps."""

    typical_kg: float
    low_kg: float
    high_kg: float
    steps: tuple[Step, ...]


def ideal_weight(data: dict[str, Any], weight_kg: float, body_condition: int) -> IdealWeight:
    """Ideal weight of a dog above condition 5; at or below 5 the points count the other way.

    Laflamme 1997; AAHA 2014: 10 to 15 % per point. Body fat: 20 % at 5, 5 points per score.
    Raises InputError for a score outside 1 to 9.
    """
    if not 1 <= body_condition <= 9:
        raise InputError("body_condition", "is scored 1 to 9")
    per_point, fat = data["per_point"], data["body_fat"]
    points = body_condition - 5
    typical = weight_kg / (1 + per_point["typical"] * points)
    steep = weight_kg / (1 + per_point["high"] * points)
    body_fat = fat["lean_bcs5"] + fat["per_point"] * points
    lean = weight_kg * (1 - body_fat) / (1 - fat["lean_bcs5"])
    inputs = (
        Quantity("body weight", weight_kg, "kg"),
        Quantity("body condition", body_condition, "of 9"),
    )
    steps = (
        Step("Ideal weight, 10 % per point", "weight / (1 + 0.10 x (condition - 5))", inputs, typical, "kg", per_point["source"], per_point["confidence"]),
        Step("Ideal weight, 15 % per point", "weight / (1 + 0.15 x (condition - 5))", inputs, steep, "kg", per_point["source"], "medium"),
        Step("Ideal weight from body fat", f"weight x (1 - {body_fat:.2f}) / (1 - {fat['lean_bcs5']:.2f})", inputs, lean, "kg", fat["source"], fat["confidence"]),
    )  # fmt: skip
    values = (typical, steep, lean)
    return IdealWeight(typical, min(values), max(values), steps)


@dataclass(frozen=True)
class WeightPlan:
    """A plan towards a target weight: start kcal, floor, and expected weights by week."""

    start_kcal: float
    floor_kcal: float
    weeks: int
    weights_kg: tuple[float, ...]
    steps: tuple[Step, ...]


MAX_WEEKS = 156


def weight_plan(
    data: dict[str, Any], rer_a: float, weight_kg: float, target_kg: float, pct_per_week: float
) -> WeightPlan:
    """A loss or gain plan at a rate in % of current weight a week (AAHA 2014/2021).

    The start is RER at the target weight for loss (never below the floor of 0.8 x that RER)
    and 1.4 x it for gain. Raises InputError for a rate the publications do not allow.
    """
    losing = target_kg < weight_kg
    rates = data["loss_pct_per_week" if losing else "gain_pct_per_week"]
    if not 0 < pct_per_week <= rates["max"]:
        raise InputError("pct_per_week", f"give up to {rates['max']:g} % a week")
    rer = rer_a * target_kg**0.75
    floor = float(data["floor_rer_share"]["value"]) * rer
    start = max(floor, rer) if losing else 1.4 * rer
    weights = [weight_kg]
    factor = 1 - pct_per_week / 100 if losing else 1 + pct_per_week / 100
    while (
        (weights[-1] > target_kg) == losing
        and weights[-1] != target_kg
        and len(weights) <= MAX_WEEKS
    ):
        following = weights[-1] * factor
        weights.append(max(following, target_kg) if losing else min(following, target_kg))
    steps = (
        Step("RER at the target weight", "70 x kg^0.75", (Quantity("target", target_kg, "kg"),), rer, "kcal/day", "AAHA 2014/2021", "high"),
        Step("Floor", "0.8 x RER at the target weight", (Quantity("RER", rer, "kcal/day"),), floor, "kcal/day", data["floor_rer_share"]["source"], data["floor_rer_share"]["confidence"]),
        Step("Start", "RER at the target weight" if losing else "1.4 x RER at the target weight", (Quantity("RER", rer, "kcal/day"),), start, "kcal/day", "AAHA 2014/2021", "high"),
    )  # fmt: skip
    return WeightPlan(start, floor, len(weights) - 1, tuple(weights), steps)


def adjusted_kcal(
    plan: WeightPlan, kcal: float, change_pct_per_week: float, losing: bool = True
) -> float:
    """The next ration from what happened: 10 % less when loss is under 0.5 % a week, 10 % more
    when over 2 %, never below the floor (AAHA 2014; German 2016). `change` is the loss in %.
    """
    if losing and change_pct_per_week < 0.5:
        return max(plan.floor_kcal, kcal * 0.9)
    if losing and change_pct_per_week > 2:
        return kcal * 1.1
    return kcal


def density_factor(per_kg75: float, ideal_kg: float, kcal_fed: float) -> float:
    """By how much a limit per 1000 kcal must rise so that a dog fed less than the reference still
    gets it per kg^0.75 (NRC 2006; FEDIAF 2021). `per_kg75` is the reference of the standard: 130
    for NRC, 110 or 95 for FEDIAF. Never below 1.
    """
    return float(max(1.0, per_kg75 * ideal_kg**0.75 / kcal_fed))
