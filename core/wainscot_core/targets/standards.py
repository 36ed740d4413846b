"""Published standards: limits per 1000 kcal ME by life stage, with citation and confidence."""

from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from ..confidence import Confidence
from ..errors import InputError
from ..facts.nutrients import Catalogue
from ..units import convert


@dataclass(frozen=True)
class PublishedLimit:
    """One row of a standard as printed: `unit` per 1000 kcal ME, None where not set."""

    key: str
    unit: str
    minimum: float | None
    base: float | None
    maximum: float | None
    confidence: Confidence
    note: str
    # "by NAME on DATE" once someone compared it with the publication.
    checked: str = ""


@dataclass(frozen=True)
class LifeStage:
    """The limits of one life stage. safe_stage: the stage whose safe limits hold beside them.

    intake_kcal_per_kg75: the intake that limits per 1000 kcal assume. also: other names of the
    stage, for case files that say less ("adult", "growth").
    """

    id: str
    name: str
    table: str
    limits: tuple[PublishedLimit, ...]
    safe_stage: str
    intake_kcal_per_kg75: float
    also: tuple[str, ...] = ()


@dataclass(frozen=True)
class Standard:
    """A published standard with its citation.

    allowances: its minimums are recommended allowances too.
    """

    id: str
    name: str
    title: str
    publisher: str
    edition: str
    words: str
    checked: str
    life_stages: dict[str, LifeStage] = field(repr=False)
    allowances: bool = False

    @property
    def citation(self) -> str:
        """Publisher, title, edition."""
        return f"{self.publisher}: {self.title}, {self.edition}"

    @classmethod
    def from_data(cls, data: dict[str, Any]) -> "Standard":
        """Build from a parsed reference/standards/*.yaml."""
        stages = {}
        for stage_id, stage in data["life_stages"].items():
            limits = tuple(
                PublishedLimit(
                    key,
                    row["unit"],
                    row.get("min"),
                    row.get("base"),
                    row.get("max"),
                    Confidence(row["confidence"]),
                    row.get("note", ""),
                )
                for key, row in stage["limits"].items()
            )
            stages[stage_id] = LifeStage(
                stage_id,
                stage["name"],
                stage["table"],
                limits,
                stage["safe_stage"],
                float(stage.get("intake_kcal_per_kg75", data["intake_kcal_per_kg75"])),
                tuple(stage.get("also", ())),
            )
        return cls(
            data["id"], data["name"], data["title"], data["publisher"], str(data["edition"]),
            data["words"], data["checked"]["state"], stages, bool(data.get("allowances", False)),
        )  # fmt: skip


class Bound(StrEnum):
    """A side of a limit."""

    MIN = "min"
    MAX = "max"


class Sets(StrEnum):
    """What an origin sets: a bound, the recommended value, or the safe upper limit."""

    MIN = "min"
    RECOMMENDED = "recommended"
    MAX = "max"
    SAFE = "safe"


class Strength(StrEnum):
    """What stands behind a bound: a standard, a condition (hard or advised), a safe upper limit,
    or a decision of the vet team."""

    STANDARD = "standard"
    HARD = "hard"
    ADVISED = "advised"
    SAFE_LIMIT = "safe limit"
    DECISION = "decision"


@dataclass(frozen=True, kw_only=True)
class Decision:
    """What was decided about a nutrient: a bound set to a value (per 1000 kcal; None for no bound),
    by whom, why."""

    key: str
    bound: Bound
    value: float | None
    by: str
    reason: str


@dataclass(frozen=True, kw_only=True)
class Origin:
    """What set a bound; the value is per 1000 kcal, None where a decision took the bound away.

    overridden_by: the source that binds instead, "" for the binding one. decision: the decision
    this origin is.
    """

    which: Sets
    value: float | None
    unit: str
    source: str
    citation: str
    confidence: Confidence
    checked: bool
    printed: str
    strength: Strength
    note: str = ""
    overridden_by: str = ""
    decision: Decision | None = None


@dataclass(frozen=True)
class Limit:
    """Merged bounds of one nutrient or ratio, catalogue unit per 1000 kcal ME.

    safe: the safe upper limit, which holds beside the maximum of a standard or condition.
    """

    key: str
    unit: str
    minimum: float | None
    recommended: float | None
    maximum: float | None
    origins: tuple[Origin, ...] = ()
    safe: float | None = None

    @property
    def ceiling(self) -> float | None:
        """The lowest of what must not be passed; None when nothing is set."""
        return min((x for x in (self.maximum, self.safe) if x is not None), default=None)


@dataclass(frozen=True)
class RequirementSet:
    """The bounds a recipe is checked against, by nutrient or ratio key."""

    name: str
    limits: dict[str, Limit]


def life_stage_of(standard: Standard, life_stage: str) -> LifeStage:
    """The standard's life stage of a name. Raises InputError naming those it has."""
    stages = standard.life_stages
    found = stages.get(life_stage) or next(
        (s for s in stages.values() if life_stage in s.also), None
    )
    if found is None:
        raise InputError(
            "life_stage",
            f"{standard.name} has no life stage {life_stage!r}; "
            f"use one of: {', '.join(sorted(standard.life_stages))}",
        )
    return found


def requirement_set(catalogue: Catalogue, standard: Standard, life_stage: str) -> RequirementSet:
    """The standard's limits in catalogue units, each with its origin.

    NRC allowances are both minimum and recommended; other standards print one level.
    """
    stage = life_stage_of(standard, life_stage)
    nutrient_keys = set(catalogue.keys)
    merged: dict[str, Limit] = {}
    for row in stage.limits:
        for which in ("minimum", "maximum"):
            value = row.minimum if which == "minimum" else row.maximum
            if value is None:
                continue
            key = row.key
            if which == "maximum" and key in nutrient_keys:
                key = catalogue.get(key).max_on or key
            unit = catalogue.get(key).unit if key in nutrient_keys else "ratio"
            amount = convert(key, value, row.unit, unit) if unit != "ratio" else float(value)
            note = row.note
            if row.checked:
                note = f"checked {row.checked}" + (f"; {note}" if note else "")
            if which == "minimum" and row.base is not None:
                note = f"base {row.base:g} {row.unit}" + (f"; {note}" if note else "")
            origin = Origin(
                which=Sets.MIN if which == "minimum" else Sets.MAX,
                value=amount,
                unit=unit,
                source=f"{standard.name}, {stage.name}",
                citation=f"{standard.citation}, {stage.table}",
                confidence=row.confidence,
                checked=standard.checked == "checked" or bool(row.checked),
                printed=f"{value:g} {row.unit} per 1000 kcal"
                if unit != "ratio"
                else f"{value:g} : 1",
                strength=Strength.STANDARD,
                note=note,
            )
            old = merged.get(key, Limit(key, unit, None, None, None))
            merged[key] = Limit(
                key,
                unit,
                amount if which == "minimum" else old.minimum,
                amount if which == "minimum" and standard.allowances else old.recommended,
                amount if which == "maximum" else old.maximum,
                (*old.origins, origin),
            )
    return RequirementSet(f"{standard.name}, {stage.name}", merged)
