"""Merge a standard, a life stage and every condition into one requirement set.

The highest floor and the lowest ceiling bind; each bound lists what set it and what it overrode.
What is only advised is merged apart and breaks nothing. A floor above a ceiling is a conflict: it is
found before any recipe is made and is never resolved silently. Until it is decided both bounds
stand, and the nutrient cannot be met.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from ..confidence import Confidence
from ..errors import InputError
from ..facts.nutrients import Catalogue
from ..figures import plainly
from ..units import convert
from .basis import Basis, BasisRules, BasisUsed, basis_used, required
from .conditions import Condition, ConditionLimit, stage_of
from .per import PER_WORDS, FeedingFacts, Per
from .safe_limits import NO_DOSE_RULE, DoseRule, SafeLimit, SafeStage, limits_for, safe_origins
from .standards import (
    Bound,
    ChosenStages,
    Decision,
    Limit,
    Origin,
    RequirementSet,
    Sets,
    Standard,
    Strength,
    stages_of,
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


@dataclass(frozen=True, kw_only=True)
class Narrow:
    """A window that a raised floor has nearly closed, in plain words."""

    key: str
    name: str
    words: str


@dataclass(frozen=True)
class MergedSet:
    """The requirement set of a case, its conflicts, and what must be signed off.

    stages: the life stages it stands on, with what the dog's facts leave open. basis: on what its
    minimums are held. safe: the safe limits that hold for this dog, those included that are counted
    on added amounts only.
    """

    requirements: RequirementSet
    conflicts: tuple[LimitConflict, ...]
    sign_off: tuple[str, ...]
    under_standard: tuple[str, ...]
    stages: ChosenStages
    basis: BasisUsed
    narrow: tuple[Narrow, ...]
    safe: tuple[SafeLimit, ...]
    facts: FeedingFacts


def per_1000_kcal(
    limit: ConditionLimit, value: float, catalogue: Catalogue, facts: FeedingFacts
) -> float:
    """A condition's figure as catalogue unit per 1000 kcal ME, a share of energy by the factors of the
    food's ME method."""
    if limit.unit == "ratio":
        return value
    if limit.per is Per.ENERGY:
        return facts.grams_per_1000_kcal(catalogue, limit.key, value)
    amount = convert(limit.key, value, limit.unit, catalogue.get(limit.key).unit)
    return facts.per_1000_kcal(amount, limit.per)


def _origin(
    limit: ConditionLimit,
    condition: Condition,
    stage: str,
    which: Sets,
    catalogue: Catalogue,
    facts: FeedingFacts,
) -> Origin:
    value = limit.value
    told = f"{value:g}" if limit.high is None else f"{value:g} to {limit.high:g}"
    unit = "ratio" if limit.unit == "ratio" else catalogue.get(limit.key).unit
    return Origin(
        which=which,
        value=per_1000_kcal(limit, value, catalogue, facts),
        unit=unit,
        source=f"{condition.name}, {condition.stages[stage]}",
        citation=limit.source,
        confidence=limit.confidence,
        checked=False,
        printed=f"{value:.0%} of the weight"
        if catalogue.is_share(limit.key)
        else f"{told} : 1"
        if unit == "ratio"
        else f"{told} {limit.unit} {PER_WORDS[limit.per]}",
        strength=limit.strength,
        note=limit.note,
    )


# What breaks nothing when it is missed.
# Bounds nearer than this are not told as so many per cent apart.
SEEN_APART = 0.005
_SOFT = frozenset({Strength.ADVISED, Strength.CAUTION})


@dataclass(frozen=True)
class SafetyLayer:
    """What holds beside every standard: the safe limits, and the rule for poisons by dose."""

    limits: tuple[SafeLimit, ...]
    dose: DoseRule


def merge(
    catalogue: Catalogue,
    standard: Standard,
    life_stage: str,
    conditions: Sequence[tuple[Condition, str]],
    facts: FeedingFacts,
    decisions: Sequence[Decision],
    *,
    rules: BasisRules,
    basis: Basis,
    safety: SafetyLayer,
) -> MergedSet:
    """The merged set. Raises InputError for a life stage or stage that does not exist."""
    chosen = stages_of(standard, life_stage, facts.age_months, facts.adult_weight_kg)
    intake = facts.intake_kcal_per_kg75
    published = required(catalogue, standard, chosen, intake, basis, rules)
    given: dict[str, list[Origin]] = {
        key: list(limit.origins) for key, limit in published.limits.items()
    }
    sign_off = []
    for condition, named in conditions:
        stage = stage_of(condition, named)
        if condition.sign_off.get(stage) == "yes":
            sign_off.append(f"{condition.name}, {condition.stages[stage]}")
        for item in condition.limits_at(stage):
            origin = _origin(item, condition, stage, item.bound, catalogue, facts)
            given.setdefault(item.key, []).append(origin)
    stages = _safe_stages(chosen, conditions)
    held = limits_for(safety.limits, stages, facts.risks)
    grown = stages == frozenset({SafeStage.ADULT})
    dose = safety.dose if grown else NO_DOSE_RULE
    for key, origins in safe_origins(held, catalogue, facts, dose).items():
        given.setdefault(key, []).extend(origins)
    decided = {(d.key, d.bound): d for d in decisions}
    limits: dict[str, Limit] = {}
    conflicts: list[LimitConflict] = []
    under: list[str] = []
    for key, origins in given.items():
        limit, found = _merge_one(
            catalogue, key, origins, published.limits.get(key), decided, rules
        )
        limits[key] = limit
        conflicts += found
        if _under(limit, published.limits.get(key)):
            under.append(key)
    name = published.name + "".join(f" + {c.name}" for c, _ in conditions)
    ordered = {
        k: limits[k] for k in (*catalogue.keys, *(r.key for r in catalogue.ratios)) if k in limits
    }
    return MergedSet(
        RequirementSet(name, ordered), tuple(conflicts), tuple(sign_off), tuple(under), chosen,
        basis_used(rules, standard, chosen, intake, basis, published.limits),
        tuple(_narrow(catalogue, ordered, rules, {c.key for c in conflicts})), held, facts,
    )  # fmt: skip


def _under(limit: Limit, published: Limit | None) -> bool:
    """True when a nutrient may go under the minimum that the standard prints."""
    if published is None or published.minimum is None:
        return False
    moved = max((o.moved for o in published.origins if o.which is Sets.MIN), default=1.0)
    printed = published.minimum / max(moved, 1.0) * 0.9999
    return (limit.minimum is not None and limit.minimum < printed) or (
        limit.maximum is not None and limit.maximum < printed
    )


def _narrow(
    catalogue: Catalogue, limits: Mapping[str, Limit], rules: BasisRules, apart: set[str]
) -> list[Narrow]:
    """Windows that a raised floor has nearly closed; those it has closed are conflicts already."""
    found = []
    for key, limit in limits.items():
        if limit.minimum is None or limit.ceiling is None or key in apart:
            continue
        floor = next((o for o in limit.origins if o.value == limit.minimum), None)
        if floor is None or floor.moved <= 1.0005 or limit.ceiling >= limit.minimum * rules.narrow:
            continue
        top = next(o for o in limit.origins if o.value == limit.ceiling)
        room = limit.ceiling / limit.minimum - 1
        found.append(
            Narrow(
                key=key,
                name=catalogue.name_of(key),
                words=f"the floor was raised x {floor.moved:.2f} for a dog that eats little and the ceiling was "
                f"not: from {plainly(limit.minimum, 4)} to {plainly(limit.ceiling, 4)} {limit.unit} per 1000 kcal, "
                f"{room:.0%} of room ({floor.source}; {top.source})",
            )
        )
    return found


def _safe_stages(
    chosen: ChosenStages, conditions: Sequence[tuple[Condition, str]]
) -> frozenset[SafeStage]:
    """The stages of life whose safe limits hold: the standard's, and a condition's where it names one."""
    named = [c.safe_stage for c, _ in conditions if c.safe_stage]
    return frozenset(map(SafeStage, [*named, *(s.safe_stage for s in chosen.stages)]))


def _merge_one(
    catalogue: Catalogue,
    key: str,
    origins: list[Origin],
    published: Limit | None,
    decided: Mapping[tuple[str, Bound], Decision],
    rules: BasisRules,
) -> tuple[Limit, list[LimitConflict]]:
    name = catalogue.name_of(key)
    unit = catalogue.get(key).unit if key in catalogue else "ratio"

    def of(which: Sets, soft: Strength | None = None) -> list[Origin]:
        return [
            o
            for o in origins
            if o.which is which and (o.strength is soft if soft else o.strength not in _SOFT)
        ]

    floors, ceilings, safe = of(Sets.MIN), of(Sets.MAX), of(Sets.SAFE)
    soft_floors, soft_ceilings = of(Sets.MIN, Strength.ADVISED), of(Sets.MAX, Strength.ADVISED)
    targets = [o for o in origins if o.which is Sets.RECOMMENDED]
    floor = max(floors, key=_height, default=None)
    ceiling = min(ceilings, key=_height, default=None)
    lowest = min(safe, key=_height, default=None)
    recommended = max(
        (_height(o) for o in targets), default=published.recommended if published else None
    )
    conflicts: list[LimitConflict] = []
    minimum = floor.value if floor else None
    maximum = ceiling.value if ceiling else None
    rises = published.rises if published else ()
    decision_low, decision_high = decided.get((key, Bound.MIN)), decided.get((key, Bound.MAX))
    if floor and ceiling and is_shut(floor.value, ceiling.value, rules):
        both = decision_low or decision_high
        conflicts.append(_conflict(key, name, floor, ceiling, lowest, both, rules))
    extra: list[Origin] = []
    for decision in (decision_low, decision_high):
        if decision is None:
            continue
        extra.append(_decided(decision, unit))
        if decision.bound is Bound.MIN:
            minimum, rises = decision.value, ()
        else:
            maximum = decision.value
    if recommended is not None and minimum is not None and recommended < minimum:
        recommended = None  # a floor of a condition lies above the allowance
    if floor and lowest and is_shut(floor.value, lowest.value, rules) and not conflicts:
        conflicts.append(_conflict(key, name, floor, lowest, lowest, decision_low, rules))
    top = min((o for o in (ceiling, lowest) if o), key=_height, default=None)
    advised_low, told_low = _advice(soft_floors, floor, top, 1)
    advised_high, told_high = _advice(soft_ceilings, top, floor, -1)
    caution, told_caution = _advice(of(Sets.MAX, Strength.CAUTION), top, floor, -1)
    told = (
        *_marked(floors, floor), *_marked(ceilings, ceiling), *told_low, *told_high, *targets,
        *extra, *_marked(safe, lowest), *told_caution,
    )  # fmt: skip
    return (
        Limit(
            key, unit, minimum, recommended, maximum, told, lowest.value if lowest else None,
            advised_low, advised_high, rises, caution,
        ),
        conflicts,
    )  # fmt: skip


def _advice(
    advised: list[Origin], binding: Origin | None, opposite: Origin | None, sign: int
) -> tuple[float | None, list[Origin]]:
    """The advised bound of a side, and its origins. sign: 1 for floors, -1 for ceilings.

    Advice that asks no more than what binds on its own side, or more than the other side allows,
    gives way and says to what.
    """
    best = max(advised, key=lambda o: sign * _height(o), default=None)
    if best is None:
        return None, []

    def asks_more(than: Origin) -> bool:
        return sign * (_height(best) - _height(than)) > 0

    if binding is not None and not asks_more(binding):
        return None, [replace(o, overridden_by=binding.source) for o in advised]
    if opposite is not None and asks_more(opposite):
        return None, [replace(o, overridden_by=opposite.source) for o in advised]
    return best.value, _marked(advised, best)


def _decided(decision: Decision, unit: str) -> Origin:
    """A decision as an origin."""
    return Origin(
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


def is_shut(floor: float | None, ceiling: float | None, rules: BasisRules) -> bool:
    """Whether a floor and a ceiling leave no room that anybody could aim at; False where one is missing."""
    return floor is not None and ceiling is not None and floor > ceiling * (1 - rules.shut)


def _conflict(
    key: str,
    name: str,
    floor: Origin,
    ceiling: Origin,
    safe: Origin | None,
    decided: Decision | None,
    rules: BasisRules,
) -> LimitConflict:
    standard_floor = floor.strength is Strength.STANDARD
    low, high = _height(floor), _height(ceiling)
    gap = low / high - 1
    apart = (
        f"No recipe can do both: they are {gap:.0%} apart."
        if gap >= SEEN_APART
        else "They leave nothing between them that a recipe could aim at."
    )
    words = (
        f"{floor.source} wants at least {floor.printed}, {ceiling.source} allows at most {ceiling.printed}. "
        + apart
    )
    as_printed = low / floor.moved
    under, over = high * (1 - rules.room), low * (1 + rules.room)
    if safe is not None:
        over = min(over, _height(safe))
    options = (
        *(
            (
                Option(
                    id="floor-as-printed",
                    text=f"The raised floor does not bind: hold the printed {plainly(as_printed, 4)} "
                    f"{floor.unit} per 1000 kcal.",
                    bound=Bound.MIN,
                    value=as_printed,
                    whose="vet with the consultant",
                ),
            )
            if floor.moved > 1.0005 and not is_shut(as_printed, high, rules)
            else ()
        ),
        Option(
            id="floor-gives-way",
            text=f"The floor gives way: aim at {plainly(under, 4)} to {plainly(high, 4)} {ceiling.unit} per 1000 kcal"
            + (
                ", below the standard's minimum. The attending vet must sign this off."
                if standard_floor
                else "."
            ),
            bound=Bound.MIN,
            value=under,
            whose="vet" if standard_floor else "vet with the consultant",
        ),
        *(
            (
                Option(
                    id="ceiling-gives-way",
                    text=f"The ceiling gives way: allow up to {plainly(over, 4)} {floor.unit} per 1000 kcal.",
                    bound=Bound.MAX,
                    value=over,
                    whose="vet",
                ),
            )
            # A safe limit never does.
            if not is_shut(low, over, rules)
            else ()
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
