"""Every published energy method side by side, each with its formula filled in.

A method applies to a dog by tags (adult, senior, growth, low, working, ...); the spread between
methods is part of the answer.
"""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from ..confidence import Confidence
from ..errors import InputError
from ..trace import Quantity, Step


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
    confidence: Confidence


@dataclass(frozen=True, kw_only=True)
class Estimate:
    """kcal a day by a method with its published range (None where it has none)."""

    id: str
    school: str
    label: str
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
    weight_trend: dict[str, Any]

    def multipliers_for(self, dog: DogFacts) -> tuple[Method, ...]:
        """The methods that multiply RER and fit the dog's tags."""
        return tuple(m for m in self.methods if m.kind == "multiple" and m.wanted <= dog.tags)

    @classmethod
    def from_data(cls, data: dict[str, Any]) -> "MethodRules":
        """Build from the parsed methods.yaml."""
        methods = tuple(
            Method(
                m["id"], m["school"], m["label"], m["kind"], frozenset(m.get("for", "adult").split()),
                m.get("basis") == "ideal", m, m["source"], Confidence(m["confidence"]),
            )
            for m in data["methods"]
        )  # fmt: skip
        return cls(
            methods,
            data["rer"]["a"],
            data["rer"]["power"],
            {int(k): float(v) for k, v in data["lactation_week_factor"].items()},
            tuple((float(a), float(b)) for a, b in data["growth_steps"]),
            data["weight_trend"],
        )


@dataclass(frozen=True)
class _Worked:
    """An equation worked out: kcal, its formula filled in, range, and what it took beside weight."""

    kcal: float
    formula: str
    low: float | None = None
    high: float | None = None
    inputs: tuple[Quantity, ...] = ()


# (rules, the method's data, weight in kg, dog) -> the equation worked out. Data: methods.yaml.
_Equation = Callable[[MethodRules, Mapping[str, Any], float, DogFacts], _Worked]


def _times(data: Mapping[str, Any], key: str, unit_kcal: float) -> float | None:
    return data[key] * unit_kcal if key in data else None


def _multiple(rules: MethodRules, data: Mapping[str, Any], weight: float, dog: DogFacts) -> _Worked:
    rer = rules.rer_a * weight**rules.rer_power
    formula = f"{data['k']:g} x RER; RER = {rules.rer_a:g} x kg^{rules.rer_power:g} = {rer:.1f}"
    return _Worked(data["k"] * rer, formula, _times(data, "low", rer), _times(data, "high", rer))


def _power(rules: MethodRules, data: Mapping[str, Any], weight: float, dog: DogFacts) -> _Worked:
    power = data.get("power", 0.75)
    base = weight**power
    formula = f"{data['a']:g} x kg^{power:g}"
    return _Worked(data["a"] * base, formula, _times(data, "low", base), _times(data, "high", base))


def _linear(rules: MethodRules, data: Mapping[str, Any], weight: float, dog: DogFacts) -> _Worked:
    if not data["from_kg"] <= weight <= data["to_kg"]:
        raise InputError(
            "weight_kg",
            f"{data['label']} holds from {data['from_kg']:g} to {data['to_kg']:g} kg",
        )
    formula = f"{data['slope']:g} x kg + {data['base']:g}"
    return _Worked(data["slope"] * weight + data["base"], formula)


def _gestation(
    rules: MethodRules, data: Mapping[str, Any], weight: float, dog: DogFacts
) -> _Worked:
    a, per_kg = data["a"], data["per_kg"]
    return _Worked(a * weight**0.75 + per_kg * weight, f"{a:g} x kg^0.75 + {per_kg:g} x kg")


def _lactation(
    rules: MethodRules, data: Mapping[str, Any], weight: float, dog: DogFacts
) -> _Worked:
    if dog.litter_size is None or dog.lactation_week is None:
        raise InputError("litter_size", "lactation needs the litter size and the week")
    a, per = data["a"], data["per_kg"]
    first = min(dog.litter_size, per["first_pups"])
    more = min(max(dog.litter_size - per["first_pups"], 0), per["more_pups"])
    week = min(max(dog.lactation_week, min(rules.week_factor)), max(rules.week_factor))
    factor = rules.week_factor[week]
    kcal = a * weight**0.75 + weight * (per["first"] * first + per["more"] * more) * factor
    formula = (
        f"{a:g} x kg^0.75 + kg x ({per['first']:g} x {first} + {per['more']:g} x {more})"
        f" x {factor:g}"
    )
    pups = Quantity("pups", dog.litter_size, "")
    return _Worked(kcal, formula, inputs=(pups, Quantity("week", dog.lactation_week, "")))


def _grown(dog: DogFacts) -> tuple[float, Quantity]:
    """Share of the adult weight that a growing dog has reached, and that adult weight."""
    if dog.adult_weight_kg is None:
        raise InputError("adult_weight_kg", "growth needs the expected adult weight")
    share = dog.weight_kg / dog.adult_weight_kg
    if share > 1:
        raise InputError("adult_weight_kg", "a growing dog weighs less than its adult weight")
    return share, Quantity("expected adult weight", dog.adult_weight_kg, "kg")


def _nrc_growth(
    rules: MethodRules, data: Mapping[str, Any], weight: float, dog: DogFacts
) -> _Worked:
    share, adult = _grown(dog)
    a, factor, rate, less = data["a"], data["factor"], data["rate"], data["less"]
    kcal = a * weight**0.75 * factor * (math.exp(-rate * share) - less)
    formula = f"{a:g} x kg^0.75 x {factor:g} x (e^(-{rate:g} x {share:.3f}) - {less:g})"
    return _Worked(kcal, formula, inputs=(adult,))


def _klein_growth(
    rules: MethodRules, data: Mapping[str, Any], weight: float, dog: DogFacts
) -> _Worked:
    share, adult = _grown(dog)
    kcal = (data["a"] - data["slope"] * share) * weight**0.75
    formula = f"({data['a']:g} - {data['slope']:g} x {share:.3f}) x kg^0.75"
    return _Worked(kcal, formula, inputs=(adult,))


def _growth_step(
    rules: MethodRules, data: Mapping[str, Any], weight: float, dog: DogFacts
) -> _Worked:
    share, adult = _grown(dog)
    a = next(k for limit, k in rules.growth_steps if share <= limit)
    formula = f"{a:g} x kg^0.75 at {share:.0%} of adult weight"
    return _Worked(a * weight**0.75, formula, inputs=(adult,))


_EQUATIONS: Mapping[str, _Equation] = {
    "multiple": _multiple,
    "power": _power,
    "linear": _linear,
    "gestation": _gestation,
    "lactation": _lactation,
    "nrc-growth": _nrc_growth,
    "klein-growth": _klein_growth,
    "growth-step": _growth_step,
}


def estimate(rules: MethodRules, method: Method, dog: DogFacts) -> Estimate:
    """kcal a day by one method. Raises InputError for a fact the method needs and does not have."""
    weight, basis = dog.weight_kg, "body weight"
    if method.on_ideal:
        weight, basis = dog.ideal_weight_kg or dog.weight_kg, "ideal weight"
    worked = _EQUATIONS[method.kind](rules, method.data, weight, dog)
    step = Step(
        f"{method.school}: {method.label}", worked.formula,
        (Quantity(basis, weight, "kg"), *worked.inputs), worked.kcal, "kcal/day",
        method.source, method.confidence,
    )  # fmt: skip
    return Estimate(
        id=method.id, school=method.school, label=method.label, kcal=worked.kcal,
        low=worked.low, high=worked.high, step=step,
    )  # fmt: skip


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


def from_weight_trend(
    rules: MethodRules, kcal_per_day: float, start_kg: float, end_kg: float, days: float
) -> Step:
    """Maintenance measured from the dog itself: intake less what went into weight.

    What a kilogram of weight change holds is a convention; it is the least certain part. Raises
    InputError for too few days.
    """
    facts = rules.weight_trend
    if days < facts["least_days"]:
        raise InputError("days", f"a weight trend needs at least {facts['least_days']} days")
    per_kg = float(facts["kcal_per_kg"])
    change = (end_kg - start_kg) / days * per_kg
    return Step(
        "Measured from the weight trend",
        f"kcal eaten - (end - start) x {per_kg:g} / days",
        (
            Quantity("eaten", kcal_per_day, "kcal/day"), Quantity("start", start_kg, "kg"),
            Quantity("end", end_kg, "kg"), Quantity("days", days, "days"),
        ),
        kcal_per_day - change,
        "kcal/day",
        facts["source"],
        Confidence(facts["confidence"]),
    )  # fmt: skip
