"""Published standards: limits per 1000 kcal ME by life stage, with citation and confidence."""

from dataclasses import dataclass, field
from typing import Any

from .errors import InputError
from .nutrients import Catalogue, convert

# A maximum for vitamin A is about preformed retinol: carotenes are converted on demand.
_MAX_ON = {"VITA": "RETOL"}


@dataclass(frozen=True)
class PublishedLimit:
    """One row of a standard as printed: `unit` per 1000 kcal ME, None where not set."""

    key: str
    unit: str
    minimum: float | None
    base: float | None
    maximum: float | None
    confidence: str
    note: str
    # "by NAME on DATE" once someone compared it with the publication.
    checked: str = ""


@dataclass(frozen=True)
class LifeStage:
    """The limits of one life stage. safe_stage: the stage whose safe limits hold beside them."""

    id: str
    name: str
    table: str
    limits: tuple[PublishedLimit, ...]
    safe_stage: str


@dataclass(frozen=True)
class Standard:
    """A published standard with its citation."""

    id: str
    name: str
    title: str
    publisher: str
    edition: str
    words: str
    checked: str
    life_stages: dict[str, LifeStage] = field(repr=False)

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
                    row["confidence"],
                    row.get("note", ""),
                )
                for key, row in stage["limits"].items()
            )
            stages[stage_id] = LifeStage(
                stage_id, stage["name"], stage["table"], limits, stage["safe_stage"]
            )
        return cls(
            data["id"], data["name"], data["title"], data["publisher"], str(data["edition"]),
            data["words"], data["checked"]["state"], stages,
        )  # fmt: skip


@dataclass(frozen=True)
class Origin:
    """What set a bound: `which` is min, recommended, max or safe; the value is per 1000 kcal."""

    which: str
    value: float
    unit: str
    source: str
    citation: str
    confidence: str
    checked: bool
    printed: str
    note: str = ""


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


# A case file says "adult" or "growth"; a standard may split these.
_STAGE_ALIASES = {
    ("nrc-2006", "growth"): "growth-14wk-plus",
    ("fediaf-2021", "adult"): "adult-mer110",
    ("fediaf-2021", "growth"): "growth-late",
    ("nrc-2006", "growth-large"): "growth-14wk-plus",
    ("fediaf-2021", "growth-large"): "growth-late",
}


def life_stage_of(standard: Standard, life_stage: str) -> LifeStage:
    """The standard's life stage of a name. Raises InputError naming those it has."""
    key = _STAGE_ALIASES.get((standard.id, life_stage), life_stage)
    if key not in standard.life_stages:
        raise InputError(
            "life_stage",
            f"{standard.name} has no life stage {life_stage!r}; "
            f"use one of: {', '.join(sorted(standard.life_stages))}",
        )
    return standard.life_stages[key]


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
            key = _MAX_ON.get(row.key, row.key) if which == "maximum" else row.key
            unit = catalogue.get(key).unit if key in nutrient_keys else "ratio"
            amount = convert(key, value, row.unit, unit) if unit != "ratio" else float(value)
            note = row.note
            if row.checked:
                note = f"checked {row.checked}" + (f"; {note}" if note else "")
            if which == "minimum" and row.base is not None:
                note = f"base {row.base:g} {row.unit}" + (f"; {note}" if note else "")
            origin = Origin(
                "min" if which == "minimum" else "max",
                amount,
                unit,
                f"{standard.name}, {stage.name}",
                f"{standard.citation}, {stage.table}",
                row.confidence,
                standard.checked == "checked" or bool(row.checked),
                f"{value:g} {row.unit} per 1000 kcal" if unit != "ratio" else f"{value:g} : 1",
                note,
            )
            old = merged.get(key, Limit(key, unit, None, None, None))
            merged[key] = Limit(
                key,
                unit,
                amount if which == "minimum" else old.minimum,
                amount if which == "minimum" and standard.id.startswith("nrc") else old.recommended,
                amount if which == "maximum" else old.maximum,
                (*old.origins, origin),
            )
    return RequirementSet(f"{standard.name}, {stage.name}", merged)
