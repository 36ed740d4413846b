"""Every published energy method side by side, each with its formula filled in.

A method applies to a dog by tags (adult, senior, growth, low, working, ...); the spread between
methods is part of the answer.
"""

import math
from dataclasses import dataclass
from typing import Any

from .errors import InputError
from .trace import Quantity, Step


@dataclass(frozen=True)
class DogFacts:
    """What energy depends on. Weights in kg; None for not known."""

    weight_kg: float
    ideal_weight_kg: float | None = None
    adult_weight_kg: float | None = None
    litter_size: int | None = None
    lactation_week: int | None = None
    tags: frozenset[str] = frozenset()


@dataclass(frozen=True)
class Method:
    """One published method as data."""

    id: str
    school: str
    label: str
    kind: str
    wanted: frozenset[str]
    on_ideal: bool
    data: dict[str, Any]
    source: str
    confidence: str


@dataclass(frozen=True)
class Estimate:
    """kcal a day by a method with its published range (None where it has none)."""

    method: Method
    kcal: float
    low: float | None
    high: float | None
    step: Step


@dataclass(frozen=True)
class MethodRules:
    """All methods and the tables they share."""

    methods: tuple[Method, ...]
    rer_a: float
    rer_power: float
    week_factor: dict[int, float]
    growth_steps: tuple[tuple[float, float], ...]

    @classmethod
    def from_data(cls, data: dict[str, Any]) -> "MethodRules":
        """Build from the parsed methods.yaml."""
        methods = tuple(
            Method(
                m["id"], m["school"], m["label"], m["kind"], frozenset(m.get("for", "adult").split()),
                m.get("basis") == "ideal", m, m["source"], m["confidence"],
            )
            for m in data["methods"]
        )  # fmt: skip
        return cls(
            methods,
            data["rer"]["a"],
            data["rer"]["power"],
            {int(k): float(v) for k, v in data["lactation_week_factor"].items()},
            tuple((float(a), float(b)) for a, b in data["growth_steps"]),
        )


def _growth_share(dog: DogFacts) -> float:
    if dog.adult_weight_kg is None:
        raise InputError("adult_weight_kg", "growth needs the expected adult weight")
    share = dog.weight_kg / dog.adult_weight_kg
    if share > 1:
        raise InputError("adult_weight_kg", "a growing dog weighs less than its adult weight")
    return share


def estimate(rules: MethodRules, method: Method, dog: DogFacts) -> Estimate:
    """kcal a day by one method. Raises InputError for a fact the method needs and does not have."""
    data = method.data
    weight = dog.weight_kg
    basis = "body weight"
    if method.on_ideal:
        weight, basis = dog.ideal_weight_kg or dog.weight_kg, "ideal weight"
    metabolic = weight**0.75
    inputs = [Quantity(basis, weight, "kg")]

    def scaled(key: str, unit_kcal: float) -> float | None:
        return data[key] * unit_kcal if key in data else None

    low: float | None = None
    high: float | None = None
    if method.kind == "multiple":
        rer = rules.rer_a * weight**rules.rer_power
        kcal, formula = (
            data["k"] * rer,
            f"{data['k']:g} x RER; RER = {rules.rer_a:g} x kg^0.75 = {rer:.1f}",
        )
        low, high = scaled("low", rer), scaled("high", rer)
    elif method.kind == "power":
        power = data.get("power", 0.75)
        base = weight**power
        kcal, formula = data["a"] * base, f"{data['a']:g} x kg^{power:g}"
        low, high = scaled("low", base), scaled("high", base)
    elif method.kind == "linear":
        if not data["from_kg"] <= weight <= data["to_kg"]:
            raise InputError(
                "weight_kg",
                f"{method.label} holds from {data['from_kg']:g} to {data['to_kg']:g} kg",
            )
        kcal = data["slope"] * weight + data["base"]
        formula = f"{data['slope']:g} x kg + {data['base']:g}"
    elif method.kind == "gestation":
        kcal, formula = data["a"] * metabolic + 26 * weight, f"{data['a']:g} x kg^0.75 + 26 x kg"
    elif method.kind == "lactation":
        if dog.litter_size is None or dog.lactation_week is None:
            raise InputError("litter_size", "lactation needs the litter size and the week")
        first, more = min(dog.litter_size, 4), min(max(dog.litter_size - 4, 0), 4)
        factor = rules.week_factor[min(max(dog.lactation_week, 1), 4)]
        kcal = data["a"] * metabolic + weight * (24 * first + 12 * more) * factor
        formula = f"{data['a']:g} x kg^0.75 + kg x (24 x {first} + 12 x {more}) x {factor:g}"
        inputs += [Quantity("pups", dog.litter_size, ""), Quantity("week", dog.lactation_week, "")]
    else:
        share = _growth_share(dog)
        inputs.append(Quantity("expected adult weight", dog.adult_weight_kg or 0, "kg"))
        if method.kind == "nrc-growth":
            kcal = 130 * metabolic * 3.2 * (math.exp(-0.87 * share) - 0.1)
            formula = f"130 x kg^0.75 x 3.2 x (e^(-0.87 x {share:.3f}) - 0.1)"
        elif method.kind == "klein-growth":
            kcal, formula = (
                (254.1 - 135.0 * share) * metabolic,
                f"(254.1 - 135 x {share:.3f}) x kg^0.75",
            )
        else:
            a = next(k for limit, k in rules.growth_steps if share <= limit)
            kcal, formula = a * metabolic, f"{a:g} x kg^0.75 at {share:.0%} of adult weight"
    step = Step(
        f"{method.school}: {method.label}", formula, tuple(inputs), kcal, "kcal/day",
        method.source, method.confidence,
    )  # fmt: skip
    return Estimate(method, kcal, low, high, step)


def applicable(rules: MethodRules, dog: DogFacts) -> tuple[Estimate, ...]:
    """Estimates of every method that fits the dog's tags and whose facts are known, by kcal."""
    found = []
    for method in rules.methods:
        if not method.wanted <= dog.tags:
            continue
        try:
            found.append(estimate(rules, method, dog))
        except InputError:
            continue
    return tuple(sorted(found, key=lambda e: e.kcal))


def present_intake_kcal(items: list[tuple[float, float]]) -> float:
    """kcal a day of what the dog eats now: (amount, kcal per unit of that amount)."""
    return sum(amount * kcal for amount, kcal in items)


def from_weight_trend(kcal_per_day: float, start_kg: float, end_kg: float, days: float) -> Step:
    """Maintenance measured from the dog itself: intake less what went into weight.

    A kilogram of weight change is taken as 7700 kcal of body tissue, the usual convention; it
    is the least certain part. Raises InputError for fewer than 14 days.
    """
    if days < 14:
        raise InputError("days", "a weight trend needs at least 14 days")
    per_kg = 7700.0
    change = (end_kg - start_kg) / days * per_kg
    return Step(
        "Measured from the weight trend",
        "kcal eaten - (end - start) x 7700 / days",
        (
            Quantity("eaten", kcal_per_day, "kcal/day"), Quantity("start", start_kg, "kg"),
            Quantity("end", end_kg, "kg"), Quantity("days", days, "days"),
        ),
        kcal_per_day - change,
        "kcal/day",
        "energy balance; 7700 kcal per kg of body weight is a convention",
        "low",
    )  # fmt: skip
