"""Merge a standard, a life stage and every condition into one requirement set.

The highest floor and the lowest ceiling bind; each bound lists what set it and what it overrode.
A floor above a ceiling is a conflict: it is found before any recipe is made and is never
resolved silently. Until it is decided both bounds stand, and the nutrient cannot be met.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from .conditions import Condition, ConditionLimit, stage_of
from .errors import InputError
from .nutrients import Catalogue, convert
from .safe_limits import SafeLimit, SafeStage, safe_origins
from .standards import (
    Limit,
    Origin,
    RequirementSet,
    Standard,
    life_stage_of,
    requirement_set,
)

# kcal per gram by Atwater, for limits given as a share of energy (Atwater 1902).
_KCAL_PER_G = {"FAT": 9.0, "CHOCDF": 4.0, "PROCNT": 4.0}


@dataclass(frozen=True)
class Decision:
    """What was decided about a nutrient: a bound set to a value (per 1000 kcal), by whom, why."""

    key: str
    bound: str
    value: float | None
    by: str
    reason: str


@dataclass(frozen=True)
class Option:
    """One way out of a conflict."""

    id: str
    text: str
    bound: str
    value: float
    whose: str


@dataclass(frozen=True)
class Conflict:
    """A floor above a ceiling: what, in plain words, and the options."""

    key: str
    name: str
    kind: str
    words: str
    floor: Origin
    ceiling: Origin
    options: tuple[Option, ...]
    decided: Decision | None


@dataclass(frozen=True)
class MergedSet:
    """The requirement set of a case, its conflicts, and what must be signed off."""

    requirements: RequirementSet
    conflicts: tuple[Conflict, ...]
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
    if limit.per == "energy":
        return value / 100 * 1000 / _KCAL_PER_G[limit.key]
    unit = catalogue.get(limit.key).unit
    amount = convert(limit.key, value, limit.unit, unit)
    if limit.per == "kg":
        return amount * facts.weight_kg / facts.kcal_per_day * 1000
    if limit.per == "mbw":
        return float(amount * facts.ideal_weight_kg**0.75 / facts.kcal_per_day * 1000)
    return amount


_PER_WORDS = {
    "mcal": "per 1000 kcal",
    "kg": "per kg a day",
    "mbw": "per kg^0.75 a day",
    "energy": "of energy",
}


def _origin(
    limit: ConditionLimit,
    condition: Condition,
    stage: str,
    which: str,
    value: float,
    catalogue: Catalogue,
    facts: FeedingFacts,
) -> Origin:
    unit = "ratio" if limit.unit == "ratio" else catalogue.get(limit.key).unit
    return Origin(
        which,
        per_1000_kcal(limit, value, catalogue, facts),
        unit,
        f"{condition.name}, {condition.stages[stage]}",
        limit.source,
        limit.confidence,
        False,
        f"{value:g} {limit.unit} {_PER_WORDS[limit.per]}" if unit != "ratio" else f"{value:g} : 1",
        "; ".join(x for x in (limit.strength, limit.note) if x),
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
            replace(o, value=o.value * factor, note=f"{o.note}; {note}".strip("; "))
            if o.which == "min"
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


# kcal per kg^0.75 that each standard's per-1000-kcal figures assume.
REFERENCE_INTAKE = {"nrc-2006": 130.0, "aafco-2016": 130.0, "fediaf-2021": 110.0}


def merge(
    catalogue: Catalogue,
    standard: Standard,
    life_stage: str,
    conditions: Sequence[tuple[Condition, str]],
    facts: FeedingFacts,
    decisions: Sequence[Decision] = (),
    hold_per_kg75: bool = False,
    safe_limits: Sequence[SafeLimit] = (),
) -> MergedSet:
    """The merged set. Raises InputError for a life stage or stage that does not exist.

    `hold_per_kg75` raises the standard's floors when kcal is below its reference intake
    (weight loss), so that restriction does not starve the dog of nutrients.
    """
    published = requirement_set(catalogue, standard, life_stage)
    per_kg75 = 95.0 if life_stage == "adult-mer95" else REFERENCE_INTAKE.get(standard.id, 130.0)
    if hold_per_kg75:
        factor = per_kg75 * facts.ideal_weight_kg**0.75 / facts.kcal_per_day
        published = _scaled(published, factor, per_kg75)
    floors: dict[str, list[Origin]] = {}
    ceilings: dict[str, list[Origin]] = {}
    targets: dict[str, list[Origin]] = {}
    for key, limit in published.limits.items():
        for origin in limit.origins:
            (floors if origin.which == "min" else ceilings).setdefault(key, []).append(origin)
    sign_off = []
    for condition, given in conditions:
        stage = stage_of(condition, given)
        if condition.sign_off.get(stage) == "yes":
            sign_off.append(f"{condition.name}, {condition.stages[stage]}")
        for item in condition.limits_at(stage):
            if item.bound in {"min", "max"}:
                origin = _origin(item, condition, stage, item.bound, item.value, catalogue, facts)
                (floors if item.bound == "min" else ceilings).setdefault(item.key, []).append(
                    origin
                )
            else:
                origin = _origin(
                    item, condition, stage, "recommended", item.value, catalogue, facts
                )
                targets.setdefault(item.key, []).append(origin)
    safe = safe_origins(
        safe_limits, _safe_stage(standard, life_stage, conditions), catalogue, facts.weight_kg,
        facts.ideal_weight_kg**0.75, facts.kcal_per_day,
    )  # fmt: skip
    decided = {(d.key, d.bound): d for d in decisions}
    limits: dict[str, Limit] = {}
    conflicts: list[Conflict] = []
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
    decided: Mapping[tuple[str, str], Decision],
) -> tuple[Limit, list[Conflict]]:
    ratio = next((r for r in catalogue.ratios if r.key == key), None)
    name = ratio.name if ratio else catalogue.get(key).name
    unit = "ratio" if ratio else catalogue.get(key).unit
    floor = max(floors, key=lambda o: o.value, default=None)
    ceiling = min(ceilings, key=lambda o: o.value, default=None)
    recommended = max(
        (o.value for o in targets), default=published.recommended if published else None
    )
    conflicts: list[Conflict] = []
    minimum = floor.value if floor else None
    maximum = ceiling.value if ceiling else None
    decision_low, decision_high = decided.get((key, "min")), decided.get((key, "max"))
    if floor and ceiling and floor.value > ceiling.value * 1.0001:
        conflicts.append(_conflict(key, name, floor, ceiling, decision_low or decision_high))
    extra: list[Origin] = []
    for decision, bound in ((decision_low, "min"), (decision_high, "max")):
        if decision is None:
            continue
        extra.append(
            Origin(
                bound, decision.value or 0.0, unit, f"decided by {decision.by}", decision.reason, "high", True,
                "no limit" if decision.value is None else f"{decision.value:g} {unit} per 1000 kcal", decision.reason,
            )
        )  # fmt: skip
        if bound == "min":
            minimum = decision.value
        else:
            maximum = decision.value
    if recommended is not None and minimum is not None and recommended < minimum:
        recommended = None  # a floor of a condition lies above the allowance
    lowest = min(safe, key=lambda o: o.value, default=None)
    if floor and lowest and floor.value > lowest.value * 1.0001 and not conflicts:
        conflicts.append(_conflict(key, name, floor, lowest, decision_low))
    origins = (
        *_marked(floors, floor), *_marked(ceilings, ceiling), *targets, *extra,
        *_marked(safe, lowest),
    )  # fmt: skip
    ceiling_of_all = None if lowest is None else lowest.value
    return Limit(key, unit, minimum, recommended, maximum, origins, ceiling_of_all), conflicts


def _marked(origins: list[Origin], binding: Origin | None) -> list[Origin]:
    """The binding origin first, the others noted as overridden."""
    rest = [
        replace(o, note=f"{o.note}; overridden by {binding.source}".strip("; "))
        for o in origins
        if o is not binding and binding is not None
    ]
    return ([binding] if binding else []) + rest


def _conflict(
    key: str, name: str, floor: Origin, ceiling: Origin, decided: Decision | None
) -> Conflict:
    standard_floor = not any(word in floor.note for word in ("hard", "advised"))
    kind = "under-standard" if standard_floor else "two-conditions"
    gap = floor.value / ceiling.value - 1
    words = (
        f"{floor.source} wants at least {floor.printed}, {ceiling.source} allows at most {ceiling.printed}. "
        f"No recipe can do both: they are {gap:.0%} apart."
    )
    options = (
        Option(
            "floor-gives-way",
            f"The floor gives way: aim at {ceiling.value:.4g} {ceiling.unit} per 1000 kcal or less"
            + (", below the standard's minimum. The attending vet must sign this off." if standard_floor else "."),
            "min", ceiling.value, "vet" if standard_floor else "vet with the consultant",
        ),
        Option(
            "ceiling-gives-way",
            f"The ceiling gives way: allow up to {floor.value:.4g} {floor.unit} per 1000 kcal.",
            "max", floor.value, "vet",
        ),
    )  # fmt: skip
    return Conflict(key, name, kind, words, floor, ceiling, options, decided)


def check_decision(catalogue: Catalogue, decision: Decision) -> Decision:
    """The decision if it can be; InputError otherwise: every one needs a reason and a name."""
    known = set(catalogue.keys) | {r.key for r in catalogue.ratios}
    if decision.key not in known:
        raise InputError("key", "is not a nutrient or ratio of the catalogue")
    if decision.bound not in {"min", "max"}:
        raise InputError("bound", "must be min or max")
    if decision.value is not None and not 0 <= decision.value < 1e9:
        raise InputError("value", "must be 0 or more")
    if not decision.reason.strip():
        raise InputError("reason", "say why; it is printed with the limit")
    if not decision.by.strip():
        raise InputError("by", "say who decided")
    return decision
