"""Safe upper limits beside every standard: what harms, whatever the standard prints or leaves out.

A standard that prints no maximum does not say that none exists. These stand above its maximums and
above a condition's, are never loosened by a choice of standard, and have a status of their own.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum

from ..confidence import Confidence
from ..facts.nutrients import Catalogue
from ..figures import plainly
from ..units import convert
from .per import PER_WORDS, FeedingFacts, Per
from .standards import Origin, Sets, Strength


class SafeStage(StrEnum):
    """The stages of life that safe limits tell apart."""

    ADULT = "adult"
    GROWTH_EARLY = "growth-early"
    GROWTH_LATE = "growth-late"
    GROWTH_LARGE = "growth-large"
    REPRODUCTION = "gestation-lactation"


class Role(StrEnum):
    """What a safe limit is for.

    ceiling: never to be passed. caution: advised, never red. legal: a law's maximum where the element
    is added; advisory for a homemade diet. acute: a single day's dose. none: no limit is needed, and
    why.
    """

    CEILING = "ceiling"
    CAUTION = "caution"
    LEGAL = "legal"
    ACUTE = "acute"
    NONE = "none"


class Counts(StrEnum):
    """What is counted against a limit: all of it, what supplements add, the same without bound
    phosphates, or all of it once a supplement adds some."""

    TOTAL = "total"
    ADDED = "added"
    ADDED_SOLUBLE = "added-soluble"
    TOTAL_IF_ADDED = "total-if-added"


@dataclass(frozen=True)
class SafeLimit:
    """One safe upper limit: `value` `unit` of a nutrient or ratio (None where none is needed), where it
    comes from, what it guards against. risk: the breed's risk that it holds for, "" for every dog."""

    key: str
    stages: frozenset[SafeStage]
    value: float | None
    unit: str
    per: Per
    role: Role
    counts: Counts
    risk: str
    kind: str
    source: str
    confidence: Confidence
    effect: str
    note: str

    @property
    def printed(self) -> str:
        """The limit as its source says it."""
        if self.value is None:
            return "no limit needed"
        if self.unit == "ratio":
            return f"{self.value:g} : 1"
        return f"{self.value:g} {self.unit} {PER_WORDS[self.per]}"


def read_safe_limits(rows: Iterable[Mapping[str, str]]) -> tuple[SafeLimit, ...]:
    """Build from the rows of reference/safe_limits.csv. ValueError for a word that is not known."""
    return tuple(
        SafeLimit(
            r["key"],
            frozenset(SafeStage) if r["stages"] == "all" else frozenset(map(SafeStage, r["stages"].split())),
            float(r["value"]) if r["value"] else None, r["unit"], Per(r["per"]), Role(r["role"]),
            Counts(r["counts"]), r["breeds"], r["kind"], r["source"], Confidence(r["confidence"]),
            r["effect"], r["note"],
        )
        for r in rows
    )  # fmt: skip


def lowest_ceilings(limits: Iterable[SafeLimit], catalogue: Catalogue) -> dict[str, float]:
    """The lowest ceiling per 1000 kcal of an adult by tag, in catalogue units."""
    found: dict[str, float] = {}
    for x in limits:
        total = x.role is Role.CEILING and x.counts is Counts.TOTAL and x.per is Per.MCAL
        if total and x.value is not None and x.key in catalogue and SafeStage.ADULT in x.stages:
            amount = convert(x.key, x.value, x.unit, catalogue.get(x.key).unit)
            found[x.key] = min(amount, found.get(x.key, amount))
    return found


def added_ceilings(
    limits: Iterable[SafeLimit], catalogue: Catalogue, facts: FeedingFacts
) -> dict[str, float]:
    """What supplements may add at most by tag, in catalogue units per 1000 kcal: ceilings and acute
    doses on added amounts."""
    found: dict[str, float] = {}
    for x in limits:
        added = x.counts in {Counts.ADDED, Counts.ADDED_SOLUBLE}
        if x.role in {Role.CEILING, Role.ACUTE} and added and x.value is not None:
            amount = convert(x.key, x.value, x.unit, catalogue.get(x.key).unit)
            amount = facts.per_1000_kcal(amount, x.per)
            found[x.key] = min(amount, found.get(x.key, amount))
    return found


def limits_for(
    limits: Iterable[SafeLimit], stages: frozenset[SafeStage], risks: frozenset[str]
) -> tuple[SafeLimit, ...]:
    """The limits that hold for a dog in these stages of life, of a breed with these risks."""
    return tuple(x for x in limits if x.stages & stages and (not x.risk or x.risk in risks))


@dataclass(frozen=True)
class DoseRule:
    """Poisons by dose: in an adult that eats more than the reference dog, in kcal per kg^0.75, their
    ceiling per 1000 kcal falls so that the dose per kg^0.75 does not grow."""

    keys: tuple[str, ...]
    reference_intake: float

    def factor(self, limit: SafeLimit, intake: float) -> float:
        """What a ceiling is multiplied by at an intake; 1 where the rule does not bear on it."""
        bears = limit.role is Role.CEILING and limit.per is Per.MCAL and limit.key in self.keys
        return min(1.0, self.reference_intake / intake) if bears else 1.0


NO_DOSE_RULE = DoseRule((), 1.0)


def origin_of(
    limit: SafeLimit, catalogue: Catalogue, facts: FeedingFacts, dose: DoseRule = NO_DOSE_RULE
) -> Origin:
    """A ceiling or caution on all of a nutrient as an origin per 1000 kcal of this dog's food.

    Raises ValueError for a limit without a value.
    """
    if limit.value is None:
        raise ValueError(f"{limit.key}: no limit is needed")
    ratio = limit.unit == "ratio"
    unit = "ratio" if ratio else catalogue.get(limit.key).unit
    amount = limit.value if ratio else convert(limit.key, limit.value, limit.unit, unit)
    factor = dose.factor(limit, facts.intake_kcal_per_kg75)
    value = (amount if ratio else facts.per_1000_kcal(amount, limit.per)) * factor
    notes = [limit.effect, limit.note]
    printed = limit.printed
    if factor < 1:
        notes.append(
            f"x {factor:.2f}: the dog is fed {facts.intake_kcal_per_kg75:.0f} kcal per kg^0.75, more than "
            f"the reference dog's {dose.reference_intake:.0f}, and the dose per kg^0.75 must not grow"
        )
        printed = f"{printed} ({plainly(value, 4)} for the dose per kg^0.75)"
    caution = limit.role is Role.CAUTION
    return Origin(
        which=Sets.MAX if caution else Sets.SAFE,
        value=value,
        unit=unit,
        source=_named("Caution" if caution else "Safe upper limit", limit.kind),
        citation=limit.source,
        confidence=limit.confidence,
        checked=False,
        printed=printed,
        strength=Strength.CAUTION if caution else Strength.SAFE_LIMIT,
        note="; ".join(x for x in notes if x),
        moved=factor,
    )


def _named(lead: str, kind: str) -> str:
    """The name of an origin, without saying its kind twice."""
    return lead if kind in {"safe upper limit", "clinical caution"} else f"{lead}, {kind}"


def safe_origins(
    limits: Iterable[SafeLimit],
    catalogue: Catalogue,
    facts: FeedingFacts,
    dose: DoseRule = NO_DOSE_RULE,
) -> dict[str, list[Origin]]:
    """The ceilings and cautions on all of a nutrient, as origins by key."""
    found: dict[str, list[Origin]] = {}
    for limit in limits:
        if limit.role in {Role.CEILING, Role.CAUTION} and limit.counts is Counts.TOTAL:
            found.setdefault(limit.key, []).append(origin_of(limit, catalogue, facts, dose))
    return found
