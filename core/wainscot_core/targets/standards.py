"""Published standards: limits per 1000 kcal ME by life stage, with citation and confidence."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from functools import cached_property
from typing import Any

from ..confidence import Confidence
from ..errors import InputError
from ..facts.nutrients import Catalogue
from ..units import convert

WEEKS_PER_MONTH = 365.25 / 12 / 7


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
    """What stands behind a bound: a standard, a condition (hard or advised), a caution that is never
    red, a safe upper limit, a decision of the vet team, or the consultant's own for one formulation."""

    STANDARD = "standard"
    HARD = "hard"
    ADVISED = "advised"
    CAUTION = "caution"
    SAFE_LIMIT = "safe limit"
    DECISION = "decision"
    OWN = "own"


@dataclass(frozen=True)
class PublishedLimit:
    """One row of a standard as printed: `unit` per 1000 kcal ME, None where not set.

    per_kg75: its minimum per kg^0.75 a day, where the standard prints one that says something else.
    """

    key: str
    unit: str
    minimum: float | None
    base: float | None
    maximum: float | None
    confidence: Confidence
    note: str
    # "by NAME on DATE" once someone compared it with the publication.
    checked: str = ""
    strength: Strength = Strength.STANDARD
    per_kg75: float | None = None


@dataclass(frozen=True)
class Dogs:
    """Whom figures are for: ages in weeks, expected adult weights in kg; None for no bound."""

    from_weeks: float | None = None
    to_weeks: float | None = None
    adult_over_kg: float | None = None
    adult_to_kg: float | None = None

    def may_include(self, age_months: float | None, adult_weight_kg: float | None) -> bool:
        """False when a known fact speaks against it; an unknown one never does."""
        weeks = None if age_months is None else age_months * WEEKS_PER_MONTH
        return not (
            (weeks is not None and self.from_weeks is not None and weeks < self.from_weeks)
            or (weeks is not None and self.to_weeks is not None and weeks >= self.to_weeks)
            or (
                adult_weight_kg is not None
                and self.adult_over_kg is not None
                and adult_weight_kg <= self.adult_over_kg
            )
            or (
                adult_weight_kg is not None
                and self.adult_to_kg is not None
                and adult_weight_kg > self.adult_to_kg
            )
        )

    @property
    def by_age(self) -> bool:
        """True when the age decides."""
        return self.from_weeks is not None or self.to_weeks is not None

    @property
    def by_weight(self) -> bool:
        """True when the expected adult weight decides."""
        return self.adult_over_kg is not None or self.adult_to_kg is not None

    @property
    def words(self) -> str:
        """Whom they are for, in words; "" for all."""
        parts = []
        if self.from_weeks is not None:
            parts.append(f"from {self.from_weeks:g} weeks")
        if self.to_weeks is not None:
            parts.append(f"under {self.to_weeks:g} weeks")
        if self.adult_over_kg is not None:
            parts.append(f"more than {self.adult_over_kg:g} kg as an adult")
        if self.adult_to_kg is not None:
            parts.append(f"up to {self.adult_to_kg:g} kg as an adult")
        return ", ".join(parts)


@dataclass(frozen=True)
class LifeStage:
    """The limits of one life stage. safe_stage: the stage whose safe limits hold beside them.

    intake_kcal_per_kg75: the intake its figures per 1000 kcal assume, None where it speaks per 1000
    kcal only. between: columns of other intakes that it lies between, the highest intake first; it
    has no limits of its own then. dogs: whom its figures are for.
    """

    id: str
    name: str
    table: str
    limits: tuple[PublishedLimit, ...]
    safe_stage: str
    intake_kcal_per_kg75: float | None = None
    between: tuple[str, ...] = ()
    dogs: Dogs = Dogs()


@dataclass(frozen=True)
class PublishedRise:
    """A minimum that depends on another nutrient, as printed: `per_unit` `unit` of `key` for every
    catalogue unit of `other`, above that one's own minimum or above nothing."""

    key: str
    other: str
    per_unit: float
    unit: str
    above_minimum: bool
    strength: Strength
    source: str
    confidence: Confidence
    words: str


# Names of stages, each with the dogs it is for.
Aliases = Mapping[str, tuple[tuple[str, Dogs], ...]]


@dataclass(frozen=True)
class Standard:
    """A published standard with its citation.

    allowances: its minimums are recommended allowances too. per_kg75_column: it prints minimums per
    kg^0.75 too. aliases: other names of its stages. rises: minimums that depend on another nutrient.
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
    per_kg75_column: bool = False
    aliases: Aliases = field(default_factory=dict, repr=False)
    rises: tuple[PublishedRise, ...] = ()

    @property
    def citation(self) -> str:
        """Publisher, title, edition."""
        return f"{self.publisher}: {self.title}, {self.edition}"

    @classmethod
    def from_data(cls, data: dict[str, Any]) -> "Standard":
        """Build from a parsed reference/standards/*.yaml."""
        stages: dict[str, LifeStage] = {}
        for stage_id, stage in data["life_stages"].items():
            limits = {x.key: x for x in stages[stage["as"]].limits} if "as" in stage else {}
            limits |= {key: _published(key, row) for key, row in stage["limits"].items()}
            intake = stage.get("intake_kcal_per_kg75")
            stages[stage_id] = LifeStage(
                stage_id,
                stage["name"],
                stage["table"],
                tuple(limits.values()),
                stage["safe_stage"],
                None if intake is None else float(intake),
                tuple(stage.get("between", ())),
                _dogs(stage.get("for", {})),
            )
        aliases = {
            name: tuple((x["stage"], _dogs(x)) for x in entries)
            for name, entries in data.get("aliases", {}).items()
        }
        rises = tuple(
            PublishedRise(
                x["key"], x["with"], float(x["per_unit"]), x["unit"], x["above"] == "minimum",
                Strength(x["strength"]), x["source"], Confidence(x["confidence"]), x["words"],
            )
            for x in data.get("rises", ())
        )  # fmt: skip
        return cls(
            data["id"], data["name"], data["title"], data["publisher"], str(data["edition"]),
            data["words"], data["checked"]["state"], stages, bool(data.get("allowances", False)),
            bool(data.get("per_kg75_column", False)), aliases, rises,
        )  # fmt: skip


def _published(key: str, row: dict[str, Any]) -> PublishedLimit:
    return PublishedLimit(
        key, row["unit"], row.get("min"), row.get("base"), row.get("max"),
        Confidence(row["confidence"]), row.get("note", ""),
        strength=Strength(row.get("strength", Strength.STANDARD)), per_kg75=row.get("per_kg75"),
    )  # fmt: skip


def _dogs(data: Mapping[str, Any]) -> Dogs:
    return Dogs(*(data.get(k) for k in ("from_weeks", "to_weeks", "adult_over_kg", "adult_to_kg")))


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
    this origin is. moved: how many times its printed figure the value is, by what the dog eats.
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
    moved: float = 1.0


@dataclass(frozen=True, kw_only=True)
class Rise:
    """A minimum that depends on another nutrient: at least `base` + `per_unit` x what there is of
    `other` beyond `above`, all in catalogue units per 1000 kcal."""

    other: str
    per_unit: float
    base: float
    above: float
    strength: Strength
    words: str
    source: str
    confidence: Confidence

    def at(self, amount: float) -> float:
        """The minimum beside an amount of the other nutrient."""
        return self.base + self.per_unit * max(0.0, amount - self.above)


@dataclass(frozen=True)
class Limit:
    """Merged bounds of one nutrient or ratio, catalogue unit per 1000 kcal ME.

    safe: the safe upper limit, which holds beside the maximum of a standard or condition.
    advised_min, advised_max: what is advised inside them, which breaks nothing when it is missed;
    caution: what is advised by no condition but by care alone.
    rises: minimums that depend on another nutrient of the same recipe.
    """

    key: str
    unit: str
    minimum: float | None
    recommended: float | None
    maximum: float | None
    origins: tuple[Origin, ...] = ()
    safe: float | None = None
    advised_min: float | None = None
    advised_max: float | None = None
    rises: tuple[Rise, ...] = ()
    caution: float | None = None

    # Asked of every limit several times at each keystroke.
    @cached_property
    def ceiling(self) -> float | None:
        """The lowest of what must not be passed; None when nothing is set."""
        return min((x for x in (self.maximum, self.safe) if x is not None), default=None)

    @cached_property
    def advised_ceiling(self) -> float | None:
        """The lowest of what is advised not to be passed."""
        return min((x for x in (self.advised_max, self.caution) if x is not None), default=None)

    @cached_property
    def sets_nothing(self) -> bool:
        """True when there is nothing to be judged by."""
        return (
            all(
                x is None
                for x in (self.minimum, self.ceiling, self.advised_min, self.advised_ceiling)
            )
            and not self.rises
        )

    def beside(self, amount_of: Mapping[str, float]) -> "Limit":
        """The limit in a recipe that holds these amounts of other nutrients per 1000 kcal."""
        if not self.rises:
            return self
        lows: dict[bool, float | None] = {True: self.advised_min, False: self.minimum}
        for rise in self.rises:
            soft = rise.strength is Strength.ADVISED
            lows[soft] = max(lows[soft] or 0.0, rise.at(amount_of[rise.other]))
        return replace(self, minimum=lows[False], advised_min=lows[True], rises=())


@dataclass(frozen=True)
class RequirementSet:
    """The bounds a recipe is checked against, by nutrient or ratio key."""

    name: str
    limits: dict[str, Limit]

    def origins_of(self, key: str) -> tuple[Origin, ...]:
        """Where the limits of a nutrient or ratio come from; none when it has none."""
        limit = self.limits.get(key)
        return limit.origins if limit else ()


@dataclass(frozen=True)
class ChosenStages:
    """The stages that a name stands for with this dog's facts: one, or several of which the strictest
    of each bound holds until `asks` is answered. unfit: whom the stage is for, when a known fact of
    the dog speaks against it."""

    stages: tuple[LifeStage, ...]
    asks: tuple[str, ...] = ()
    unfit: str = ""

    @property
    def name(self) -> str:
        """The stage's name, or those it may be."""
        return " or ".join(s.name for s in self.stages)


def stages_of(
    standard: Standard,
    name: str,
    age_months: float | None = None,
    adult_weight_kg: float | None = None,
) -> ChosenStages:
    """The life stages that a name stands for. Raises InputError naming those the standard has."""
    stages = standard.life_stages
    if name in stages:
        dogs = stages[name].dogs
        fits = dogs.may_include(age_months, adult_weight_kg)
        return ChosenStages((stages[name],), (), "" if fits else dogs.words)
    entries = [(stages[i], dogs) for i, dogs in standard.aliases.get(name, ()) if i in stages]
    if not entries:
        raise InputError(
            "life_stage",
            f"{standard.name} has no life stage {name!r}; use one of: {', '.join(sorted(stages))}",
        )
    fit = [(s, d) for s, d in entries if d.may_include(age_months, adult_weight_kg)] or entries
    asks = []
    if len(fit) > 1 and age_months is None and any(d.by_age for _, d in fit):
        asks.append("the dog's age")
    if len(fit) > 1 and adult_weight_kg is None and any(d.by_weight for _, d in fit):
        asks.append("its expected adult weight")
    return ChosenStages(tuple(s for s, _ in fit), tuple(asks))


def requirement_set(catalogue: Catalogue, standard: Standard, life_stage: str) -> RequirementSet:
    """The limits of one life stage as printed, in catalogue units, each with its origin.

    NRC allowances are both minimum and recommended; other standards print one level.
    Raises InputError naming the life stages the standard has.
    """
    stage = stages_of(standard, life_stage).stages[0]
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
                strength=row.strength,
                note=note,
            )
            old = merged.get(key, Limit(key, unit, None, None, None))
            made = replace(old, origins=(*old.origins, origin))
            soft = row.strength is Strength.ADVISED
            if which == "minimum":
                merged[key] = (
                    replace(made, advised_min=amount) if soft else replace(made, minimum=amount)
                )
            else:
                merged[key] = (
                    replace(made, advised_max=amount) if soft else replace(made, maximum=amount)
                )
            if which == "minimum" and standard.allowances:
                merged[key] = replace(merged[key], recommended=amount)
    return RequirementSet(f"{standard.name}, {stage.name}", merged)
