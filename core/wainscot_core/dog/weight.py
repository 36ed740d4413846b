"""Ideal weight from body condition, and weight plans that never go below their floor."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from ..confidence import Confidence
from ..errors import InputError
from ..trace import Quantity, Step
from .energy import EnergyRules


@dataclass(frozen=True)
class IdealWeight:
    """kg: typical (10 % per point), the lowest (15 %) and by body fat, with the steps."""

    typical_kg: float
    low_kg: float
    high_kg: float
    steps: tuple[Step, ...]


def ideal_weight(data: Mapping[str, Any], weight_kg: float, body_condition: int) -> IdealWeight:
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
        *(
            Step(
                f"Ideal weight, {share * 100:g} % per point",
                f"weight / (1 + {share:g} x (condition - 5))",
                inputs, value, "kg", per_point["source"], confidence,
            )
            for share, value, confidence in (
                (per_point["typical"], typical, Confidence(per_point["confidence"])),
                (per_point["high"], steep, Confidence.MEDIUM),
            )
        ),
        Step("Ideal weight from body fat", f"weight x (1 - {body_fat:.2f}) / (1 - {fat['lean_bcs5']:.2f})", inputs, lean, "kg", fat["source"], Confidence(fat["confidence"])),
    )  # fmt: skip
    values = (typical, steep, lean)
    return IdealWeight(typical, min(values), max(values), steps)


@dataclass(frozen=True, kw_only=True)
class WeighDay:
    """A day the dog is weighed on, and what it is expected to weigh at the plan's rate, the slowest and
    the fastest one that are published."""

    on: date
    kg: float
    slow_kg: float
    fast_kg: float


@dataclass(frozen=True, kw_only=True)
class WeightPlan:
    """A plan towards a target weight: start kcal, floor, and expected weights by week from the day it
    begins; expected: the day the target is reached. slow_kg, fast_kg: the same weeks at the slowest
    and the fastest published rate, `slow_pct` and `fast_pct` a week."""

    target_kg: float
    pct_per_week: float
    start_kcal: float
    floor_kcal: float
    weeks: int
    begins: date
    expected: date
    weights_kg: tuple[float, ...]
    slow_pct: float
    fast_pct: float
    slow_kg: tuple[float, ...]
    fast_kg: tuple[float, ...]
    weigh_every_days: int
    weighings: tuple[WeighDay, ...]
    steps: tuple[Step, ...]


DAYS_PER_WEEK = 7
MAX_WEEKS = 156


def weight_plan(
    data: Mapping[str, Any],
    energy: EnergyRules,
    weight_kg: float,
    target_kg: float,
    pct_per_week: float,
    today: date,
) -> WeightPlan:
    """A loss or gain plan at a rate in % of current weight a week (AAHA 2014/2021).

    Loss starts at RER at the target weight, gain above it, and nothing goes below the floor, a
    share of that RER (energy/methods.yaml). Raises InputError for a rate the publications do not
    allow.
    """
    losing = target_kg < weight_kg
    rates = data["loss_pct_per_week" if losing else "gain_pct_per_week"]
    if not 0 < pct_per_week <= rates["max"]:
        raise InputError("pct_per_week", f"give up to {rates['max']:g} % a week")
    rer = energy.rer_a * target_kg**energy.rer_power
    least, begin = data["floor_rer_share"], data["start_rer_share"]
    share = float(begin["loss" if losing else "gain"])
    floor = float(least["value"]) * rer
    start = max(floor, share * rer)
    weights = expected_weights(weight_kg, target_kg, pct_per_week)
    weeks = len(weights) - 1
    slow, fast = (
        _weeks_of(expected_weights(weight_kg, target_kg, rates[end]), weeks)
        for end in ("low", "max")
    )
    every = int(data["weigh_every_days"]["value"])
    target = (Quantity("target", target_kg, "kg"),)
    inputs = (Quantity("RER", rer, "kcal/day"),)
    steps = (
        Step("RER at the target weight", energy.rer_formula, target, rer, "kcal/day", energy.rer_source, energy.rer_confidence),
        Step("Floor", f"{least['value']:g} x RER at the target weight", inputs, floor, "kcal/day", least["source"], Confidence(least["confidence"])),
        Step("Start", f"{share:g} x RER at the target weight", inputs, start, "kcal/day", begin["source"], Confidence(begin["confidence"])),
    )  # fmt: skip
    return WeightPlan(
        target_kg=target_kg,
        pct_per_week=pct_per_week,
        start_kcal=start,
        floor_kcal=floor,
        weeks=weeks,
        begins=today,
        expected=today + timedelta(weeks=weeks),
        weights_kg=weights,
        slow_pct=rates["low"],
        fast_pct=rates["max"],
        slow_kg=slow,
        fast_kg=fast,
        weigh_every_days=every,
        weighings=tuple(
            WeighDay(
                on=today + timedelta(days=days),
                kg=_on_day(weights, days),
                slow_kg=_on_day(slow, days),
                fast_kg=_on_day(fast, days),
            )
            for days in range(every, weeks * DAYS_PER_WEEK + 1, every)
        ),
        steps=steps,
    )


def _weeks_of(weights: tuple[float, ...], weeks: int) -> tuple[float, ...]:
    """Weights of so many weeks; once the target is reached it is kept."""
    return (*weights, *[weights[-1]] * (weeks + 1 - len(weights)))[: weeks + 1]


def _on_day(weights: tuple[float, ...], days: int) -> float:
    """The weight on a day, between those of two weeks."""
    week, over = divmod(days, DAYS_PER_WEEK)
    if not over:
        return weights[week]
    return weights[week] + (weights[week + 1] - weights[week]) * over / DAYS_PER_WEEK


def expected_weights(weight_kg: float, target_kg: float, pct_per_week: float) -> tuple[float, ...]:
    """Weights week by week until the target, at most MAX_WEEKS of them."""
    losing = target_kg < weight_kg
    factor = 1 - pct_per_week / 100 if losing else 1 + pct_per_week / 100
    weights = [weight_kg]
    while weights[-1] != target_kg and len(weights) <= MAX_WEEKS:
        following = weights[-1] * factor
        weights.append(max(following, target_kg) if losing else min(following, target_kg))
    return tuple(weights)
