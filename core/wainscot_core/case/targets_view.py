"""The merged targets of a case, as they are shown and exported."""

from dataclasses import dataclass

from wainscot_core.cells import csv_text

from ..checks.medicines import medicines_met
from ..confidence import Confidence
from ..dog.record import CaseRecord
from ..dossier.reference import Reference
from ..figures import figure, rounded
from ..findings import Finding
from ..targets.basis import Basis, BasisUsed
from ..targets.conditions import stage_of
from ..targets.requirements import LimitConflict, MergedSet, Narrow
from ..targets.safe_limits import Counts, Role
from ..targets.standards import Limit, Origin, Rise, Sets, Strength

# The group of what is no nutrient, beside those of the catalogue.
RATIOS = "ratios"


@dataclass(frozen=True, kw_only=True)
class MergedLimit:
    """A limit per 1000 kcal and for this dog's day, with what set it. advised_min, advised_max: what is
    only advised. rises: what its minimum rises with. short, group: as on the wall; "ratios" for a ratio. rail: what all
    its figures are drawn as multiples of, in `unit` per 1000 kcal: the least amount that a floor asks, else what is advised
    or recommended; None where nothing asks for any. opening: how wide its window is, the most there may be by the least
    there must be; None where one of them is not set."""

    key: str
    name: str
    # Not in what was kept before there was a rail.
    short: str = ""
    group: str = ""
    unit: str
    rail: float | None = None
    opening: float | None = None
    min: float | None
    recommended: float | None
    max: float | None
    safe_limit: float | None
    advised_min: float | None = None
    advised_max: float | None = None
    rises: tuple[Rise, ...] = ()
    min_per_day: float | None
    max_per_day: float | None
    origin: tuple[Origin, ...]


@dataclass(frozen=True, kw_only=True)
class ConditionWords:
    """What a condition of the case asks beside numbers."""

    id: str
    name: str
    stage: str
    words: dict[str, str]
    recheck_days: int
    sign_off: str
    source: str


@dataclass(frozen=True, kw_only=True)
class BasisChoice:
    """A basis that minimums may be held on, and what it means."""

    id: Basis
    name: str
    words: str


@dataclass(frozen=True, kw_only=True)
class SafeBeside:
    """A safe limit that stands in no column: on added amounts, on a day's dose, or the word that none is
    needed."""

    key: str
    name: str
    role: Role
    counts: Counts
    printed: str
    effect: str
    note: str
    source: str
    confidence: Confidence


@dataclass(frozen=True, kw_only=True)
class Targets:
    """Standard, life stage, conditions and decisions merged. under_standard: names of nutrients that go
    under the standard's own minimum. medicines: what the recorded medicines meet. basis: on what the
    minimums are held; bases: what may be chosen. narrow: windows that a raised floor nearly closed.
    stage: the life stage they stand on; stage_asks: facts of the dog that would settle it. beside: safe
    limits on added amounts and a day's doses, and nutrients that need none."""

    name: str
    kcal_per_day: float
    limits: tuple[MergedLimit, ...]
    conflicts: tuple[LimitConflict, ...]
    sign_off: tuple[str, ...]
    under_standard: tuple[str, ...]
    conditions: tuple[ConditionWords, ...]
    medicines: tuple[Finding, ...]
    basis: BasisUsed | None = None
    bases: tuple[BasisChoice, ...] = ()
    narrow: tuple[Narrow, ...] = ()
    stage: str = ""
    stage_asks: tuple[str, ...] = ()
    beside: tuple[SafeBeside, ...] = ()


def targets_view(
    reference: Reference, record: CaseRecord, merged: MergedSet, kcal_per_day: float
) -> Targets:
    """The targets of a recorded case."""
    named = [m.name for m in record.intake.medicines]
    return Targets(
        name=merged.requirements.name,
        kcal_per_day=rounded(kcal_per_day),
        limits=tuple(
            merged_limit(reference, limit, kcal_per_day)
            for limit in merged.requirements.limits.values()
        ),
        conflicts=merged.conflicts,
        sign_off=merged.sign_off,
        under_standard=tuple(map(reference.catalogue.name_of, merged.under_standard)),
        conditions=tuple(condition_words(reference, c.id, c.stage) for c in record.conditions),
        medicines=tuple(medicines_met(reference.interactions, named)),
        basis=merged.basis,
        bases=tuple(
            BasisChoice(id=b, name=reference.basis.names[b], words=reference.basis.words[b])
            for b in Basis
        ),
        narrow=merged.narrow,
        stage=merged.stages.name,
        stage_asks=merged.stages.asks,
        beside=tuple(
            SafeBeside(
                key=x.key, name=reference.catalogue.name_of(x.key), role=x.role, counts=x.counts,
                printed=x.printed, effect=x.effect, note=x.note, source=x.source,
                confidence=x.confidence,
            )
            for x in merged.safe
            if x.counts is not Counts.TOTAL or x.role in {Role.ACUTE, Role.NONE}
        ),
    )  # fmt: skip


def merged_limit(reference: Reference, limit: Limit, kcal_per_day: float) -> MergedLimit:
    """One limit on both bases."""
    per_day = 1.0 if limit.unit == "ratio" else kcal_per_day / 1000

    def daily(value: float | None) -> float | None:
        return None if value is None else figure(value * per_day)

    catalogue = reference.catalogue
    nutrient = catalogue.get(limit.key) if limit.key in catalogue else None
    return MergedLimit(
        key=limit.key,
        name=catalogue.name_of(limit.key),
        short=nutrient.short if nutrient else catalogue.name_of(limit.key),
        group=nutrient.group if nutrient else RATIOS,
        unit=limit.unit,
        rail=figure(rail_of(limit)),
        opening=figure(opening_of(limit)),
        min=figure(limit.minimum),
        recommended=figure(limit.recommended),
        max=figure(limit.maximum),
        safe_limit=figure(limit.safe),
        advised_min=figure(limit.advised_min),
        advised_max=figure(limit.advised_ceiling),
        rises=limit.rises,
        min_per_day=daily(limit.minimum),
        max_per_day=daily(limit.maximum),
        origin=limit.origins,
    )


def rail_of(limit: Limit) -> float | None:
    """What the figures of a limit are drawn as multiples of, in its unit per 1000 kcal; None where no amount is asked for.

    The floor that a standard sets is taken where there is one, so that what a condition or a decision made of it is seen
    beside it.
    """
    floors = [
        o.value for o in limit.origins
        if o.which is Sets.MIN and o.strength is Strength.STANDARD and o.value
    ]  # fmt: skip
    asked = [limit.minimum if limit.minimum in floors else max(floors)] if floors else []
    asked += [x for x in (limit.minimum, limit.advised_min, limit.recommended) if x]
    return asked[0] if asked else None


def opening_of(limit: Limit) -> float | None:
    """The most there may be by the least there must be: under 1 no amount does both; None where a side is open."""
    if limit.ceiling is None or not limit.minimum:
        return None
    return limit.ceiling / limit.minimum


def condition_words(reference: Reference, condition_id: str, stage: str) -> ConditionWords:
    """A condition's words at its stage."""
    condition = reference.conditions[condition_id]
    key = stage_of(condition, stage)
    return ConditionWords(
        id=condition.id,
        name=condition.name,
        stage=condition.stages[key],
        words=condition.words,
        recheck_days=condition.recheck_days[key],
        sign_off=condition.sign_off[key],
        source=condition.source,
    )


def targets_csv(targets: Targets) -> str:
    """The limits as a table, one nutrient or ratio a row."""
    rows: list[tuple[object, ...]] = [
        ("key", "name", "unit", "min_per_1000_kcal", "recommended_per_1000_kcal",
         "max_per_1000_kcal", "safe_limit_per_1000_kcal", "advised_min_per_1000_kcal",
         "advised_max_per_1000_kcal", "min_per_day", "max_per_day", "set_by")
    ]  # fmt: skip
    for x in targets.limits:
        sources = "; ".join(f"{o.which} {o.printed}: {o.source} ({o.citation})" for o in x.origin)
        rows.append(
            (x.key, x.name, x.unit, x.min, x.recommended, x.max, x.safe_limit, x.advised_min,
             x.advised_max, x.min_per_day, x.max_per_day, sources)
        )  # fmt: skip
    return csv_text(rows)
