"""Merge a standard, a life stage and every condition into one requirement set.

The highest floor and the lowest ceiling bind; each bound lists what set it and what it overrode.
A floor above a ceiling is a conflict: it is found before any recipe is made and is never
resolved silently. Until it is decided both bounds stand, and the nutrient cannot be met.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from ..confidence import Confidence
from ..errors import InputError
from ..facts.nutrients import Catalogue
from ..units import convert
from .conditions import Condition, ConditionLimit, Per, stage_of
from .safe_limits import SafeLimit, SafeStage, safe_origins
from .standards import (
    Bound,
    Decision,
    Limit,
    Origin,
    RequirementSet,
    Sets,
    Standard,
    Strength,
    life_stage_of,
    requirement_set,
)


@dataclass(frozen=True, kw_only=True)
class Option:
    """One way out of a conflict: the bound that gives way, to which value, and whose decision."""

    id: str
    text: str
    bound: Bound
    value: float
    whose: str


class ConflictKind(StrEnum):
    """Whose bounds are apart: a standard's floor and something above it, or two conditions."""

    UNDER_STANDARD = "under-standard"
    TWO_CONDITIONS = "two-conditions"


@dataclass(frozen=True, kw_only=True)
class LimitConflict:
    """A floor above a ceiling: what, in plain words, and the options."""

    key: str
    name: str
    kind: ConflictKind
    words: str
    floor: Origin
    ceiling: Origin
    options: tuple[Option, ...]
    decided: Decision | None


@dataclass(frozen=True)
class MergedSet:
    """The requirement set of a case, its conflicts, and what must be signed off."""

    requirements: RequirementSet
    conflicts: tuple[LimitConflict, ...]
    sign_off: tuple[str, ...]
    under_standard: tuple[str, ...]


@dataclass(frozen=True)
class FeedingFacts:
    """What turns limits per kg and per kg^0.75 into limits per 1000 kcal."""

    weight_kg: float
    ideal_weight_kg: float
    kcal_per_day: float


def per_1000_kcal(
    limit: ConditionLimit, value: float, catalogue: Catalogue, facts: FeedingFacts
) -> float:
    """A condition's figure as catalogue unit per 1000 kcal ME."""
    if limit.unit == "ratio":
        return value
    if limit.per is Per.ENERGY:
        return value / 100 * 1000 / catalogue.atwater.kcal_per_g[limit.key]
    unit = catalogue.get(limit.key).unit
    amount = convert(limit.key, value, limit.unit, unit)
    if limit.per is Per.KG:
        return amount * facts.weight_kg / facts.kcal_per_day * 1000
    if limit.per is Per.MBW:
        return float(amount * facts.ideal_weight_kg**0.75 / facts.kcal_per_day * 1000)
    return amount


_PER_WORDS = {
    Per.MCAL: "per 1000 kcal",
    Per.KG: "per kg a day",
    Per.MBW: "per kg^0.75 a day",
    Per.ENERGY: "of energy",
}


def _origin(
    limit: ConditionLimit,
    condition: Condition,
    stage: str,
    which: Sets,
    catalogue: Catalogue,
    facts: FeedingFacts,
) -> Origin:
    value = limit.value
    unit = "ratio" if limit.unit == "ratio" else catalogue.get(limit.key).unit
    return Origin(
        which=which,
        value=per_1000_kcal(limit, value, catalogue, facts),
        unit=unit,
        source=f"{condition.name}, {condition.stages[stage]}",
        citation=limit.source,
        confidence=limit.confidence,
        checked=False,
        printed=f"{value:g} : 1"
        if unit == "ratio"
        else f"{value:g} {limit.unit} {_PER_WORDS[limit.per]}",
        strength=limit.strength,
        note=limit.note,
    )


def _scaled(requirements: RequirementSet, factor: float, per_kg75: float) -> RequirementSet:
    """Minimums raised so that a dog fed less still gets them per kg^0.75."""
    if factor <= 1.0001:
        return requirements
    limits = {}
    for key, limit in requirements.limits.items():
        if limit.minimum is None or limit.unit == "ratio":
            limits[key] = limit
            continue
        raised = limit.minimum * factor
        note = f"raised x {factor:.2f}: the dog is fed less than {per_kg75:g} kcal per kg^0.75, so the floor is held per kg^0.75"
        origins = tuple(
            replace(
                o,
                value=o.value * factor,
                printed=f"{o.printed} ({o.value * factor:.4g} held per kg^0.75)",
                note=f"{o.note}; {note}".strip("; "),
            )
            if o.which is Sets.MIN and o.value is not None
            else o
            for o in limit.origins
        )
        limits[key] = replace(
            limit,
            minimum=raised,
            recommended=None if limit.recommended is None else limit.recommended * factor,
            origins=origins,
        )
    return RequirementSet(requirements.name, limits)


def merge(
    catalogue: Catalogue,
    standard: Standard,
    life_stage: str,
    conditions: Sequence[tuple[Condition, str]],
    facts: FeedingFacts,
    decisions: Sequence[Decision],
    *,
    hold_per_kg75: bool,
    safe_limits: Sequence[SafeLimit],
) -> MergedSet:
    """The merged set. Raises InputError for a life stage or stage that does not exist.

    `hold_per_kg75` raises the standard's floors when kcal is below its reference intake
    (weight loss), so that restriction does not starve the dog of nutrients.
    """
    published = requirement_set(catalogue, standard, life_stage)
    per_kg75 = life_stage_of(standard, life_stage).intake_kcal_per_kg75
    if hold_per_kg75:
        factor = per_kg75 * facts.ideal_weight_kg**0.75 / facts.kcal_per_day
        published = _scaled(published, factor, per_kg75)
    floors: dict[str, list[Origin]] = {}
    ceilings: dict[str, list[Origin]] = {}
    targets: dict[str, list[Origin]] = {}
    for key, limit in published.limits.items():
        for origin in limit.origins:
            (floors if origin.which is Sets.MIN else ceilings).setdefault(key, []).append(origin)
    sign_off = []
    for condition, given in conditions:
        stage = stage_of(condition, given)
        if condition.sign_off.get(stage) == "yes":
            sign_off.append(f"{condition.name}, {condition.stages[stage]}")
        for item in condition.limits_at(stage):
            which = item.bound
            origin = _origin(item, condition, stage, which, catalogue, facts)
            side = {Sets.MIN: floors, Sets.MAX: ceilings, Sets.RECOMMENDED: targets}[which]
            side.setdefault(item.key, []).append(origin)
    safe = safe_origins(
        safe_limits, _safe_stage(standard, life_stage, conditions), catalogue, facts.weight_kg,
        facts.ideal_weight_kg**0.75, facts.kcal_per_day,
    )  # fmt: skip
    decided = {(d.key, d.bound): d for d in decisions}
    limits: dict[str, Limit] = {}
    conflicts: list[LimitConflict] = []
    under: list[str] = []
    for key in {**floors, **ceilings, **targets, **safe}:
        limit, found = _merge_one(
            catalogue,
            key,
            floors.get(key, []),
            ceilings.get(key, []),
            targets.get(key, []),
            safe.get(key, []),
            published.limits.get(key),
            decided,
        )
        limits[key] = limit
        conflicts += found
        standard_floor = published.limits[key].minimum if key in published.limits else None
        if standard_floor is not None and (
            (limit.minimum is not None and limit.minimum < standard_floor * 0.9999)
            or (limit.maximum is not None and limit.maximum < standard_floor * 0.9999)
        ):
            under.append(key)
    name = published.name + "".join(f" + {c.name}" for c, _ in conditions)
    ordered = {
        k: limits[k] for k in (*catalogue.keys, *(r.key for r in catalogue.ratios)) if k in limits
    }
    return MergedSet(RequirementSet(name, ordered), tuple(conflicts), tuple(sign_off), tuple(under))


def _safe_stage(
    standard: Standard, life_stage: str, conditions: Sequence[tuple[Condition, str]]
) -> SafeStage:
    """The stage of life whose safe limits hold: a condition's where it names one."""
    named = next((c.safe_stage for c, _ in conditions if c.safe_stage), "")
    return SafeStage(named or life_stage_of(standard, life_stage).safe_stage)


def _merge_one(
    catalogue: Catalogue,
    key: str,
    floors: list[Origin],
    ceilings: list[Origin],
    targets: list[Origin],
    safe: list[Origin],
    published: Limit | None,
    decided: Mapping[tuple[str, Bound], Decision],
) -> tuple[Limit, list[LimitConflict]]:
    name = catalogue.name_of(key)
    unit = catalogue.get(key).unit if key in catalogue else "ratio"
    floor = max(floors, key=_height, default=None)
    ceiling = min(ceilings, key=_height, default=None)
    recommended = max(
        (_height(o) for o in targets), default=published.recommended if published else None
    )
    conflicts: list[LimitConflict] = []
    minimum = floor.value if floor else None
    maximum = ceiling.value if ceiling else None
    decision_low, decision_high = decided.get((key, Bound.MIN)), decided.get((key, Bound.MAX))
    if floor and ceiling and _height(floor) > _height(ceiling) * 1.0001:
        conflicts.append(_conflict(key, name, floor, ceiling, decision_low or decision_high))
    extra: list[Origin] = []
    for decision in (decision_low, decision_high):
        if decision is None:
            continue
        extra.append(
            Origin(
                which=Sets(decision.bound),
                value=decision.value,
                unit=unit,
                source=f"decided by {decision.by}",
                citation=decision.reason,
                confidence=Confidence.HIGH,
                checked=True,
                printed="no limit"
                if decision.value is None
                else f"{decision.value:g} {unit} per 1000 kcal",
                strength=Strength.DECISION,
                decision=decision,
            )
        )
        if decision.bound is Bound.MIN:
            minimum = decision.value
        else:
            maximum = decision.value
    if recommended is not None and minimum is not None and recommended < minimum:
        recommended = None  # a floor of a condition lies above the allowance
    lowest = min(safe, key=_height, default=None)
    if floor and lowest and _height(floor) > _height(lowest) * 1.0001 and not conflicts:
        conflicts.append(_conflict(key, name, floor, lowest, decision_low))
    origins = (
        *_marked(floors, floor), *_marked(ceilings, ceiling), *targets, *extra,
        *_marked(safe, lowest),
    )  # fmt: skip
    ceiling_of_all = None if lowest is None else lowest.value
    return Limit(key, unit, minimum, recommended, maximum, origins, ceiling_of_all), conflicts


def _height(origin: Origin) -> float:
    """Where a bound lies; only a decision can have taken it away, and those are merged apart."""
    if origin.value is None:
        raise ValueError(f"{origin.source} sets no value")
    return origin.value


def _marked(origins: list[Origin], binding: Origin | None) -> list[Origin]:
    """The binding origin first, the others noted as overridden."""
    rest = [
        replace(o, overridden_by=binding.source)
        for o in origins
        if o is not binding and binding is not None
    ]
    return ([binding] if binding else []) + rest


def _conflict(
    key: str, name: str, floor: Origin, ceiling: Origin, decided: Decision | None
) -> LimitConflict:
    standard_floor = floor.strength is Strength.STANDARD
    low, high = _height(floor), _height(ceiling)
    gap = low / high - 1
    words = (
        f"{floor.source} wants at least {floor.printed}, {ceiling.source} allows at most {ceiling.printed}. "
        f"No recipe can do both: they are {gap:.0%} apart."
    )
    options = (
        Option(
            id="floor-gives-way",
            text=f"The floor gives way: aim at {high:.4g} {ceiling.unit} per 1000 kcal or less"
            + (
                ", below the standard's minimum. The attending vet must sign this off."
                if standard_floor
                else "."
            ),
            bound=Bound.MIN,
            value=high,
            whose="vet" if standard_floor else "vet with the consultant",
        ),
        Option(
            id="ceiling-gives-way",
            text=f"The ceiling gives way: allow up to {low:.4g} {floor.unit} per 1000 kcal.",
            bound=Bound.MAX,
            value=low,
            whose="vet",
        ),
    )
    return LimitConflict(
        key=key,
        name=name,
        kind=ConflictKind.UNDER_STANDARD if standard_floor else ConflictKind.TWO_CONDITIONS,
        words=words,
        floor=floor,
        ceiling=ceiling,
        options=options,
        decided=decided,
    )


def check_decision(catalogue: Catalogue, decision: Decision) -> Decision:
    """The decision if it can be; InputError otherwise: every one needs a reason and a name."""
    known = set(catalogue.keys) | {r.key for r in catalogue.ratios}
    if decision.key not in known:
        raise InputError("key", "is not a nutrient or ratio of the catalogue")
    if decision.value is not None and not 0 <= decision.value < 1e9:
        raise InputError("value", "must be 0 or more")
    if not decision.reason.strip():
        raise InputError("reason", "say why; it is printed with the limit")
    if not decision.by.strip():
        raise InputError("by", "say who decided")
    return decision
