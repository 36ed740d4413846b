"""The one place that fills in a dossier from a practice's records."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from accounts.models import Practice
from cases.models import Case, ClientFood
from cases.records import record_of
from django.utils import timezone
from library.facts import reference
from library.models import PracticeFood
from library.practice import library_for
from library.standards import standards_for
from wainscot_core.adequacy import Policy
from wainscot_core.casefile import targets_of
from wainscot_core.dossier import (
    Dossier,
    FoodMark,
    Mark,
    avoidance_of,
    check_days,
    conditions_of,
    energy_of,
    feeding_facts,
    merged_targets,
)
from wainscot_core.energy import Energy
from wainscot_core.feeding import read_way
from wainscot_core.foods import FoodLibrary
from wainscot_core.line import Line
from wainscot_core.record import CaseRecord, TargetsRecord
from wainscot_core.requirements import FeedingFacts, MergedSet

from .lines import stored_lines
from .models import Recipe


@dataclass(frozen=True)
class Look:
    """How a recipe is looked at: another standard, policy, second standard or way of feeding than
    the case's own; "" for the case's."""

    standard: str = ""
    life_stage: str = ""
    data_policy: str = ""
    second: str = ""
    way: str = ""


@dataclass(frozen=True)
class Sourcing:
    """What the practice and the client say of foods: prices per kg, and what cannot be had."""

    prices: dict[str, float]
    marks: tuple[FoodMark, ...]


def sourcing_of(case: Case) -> Sourcing:
    """Prices and marks of a case's practice and client."""
    prices: dict[str, float] = {}
    marks: list[FoodMark] = []
    for noted in PracticeFood.objects.filter(practice_id=case.practice_id):
        price = noted.price_per_kg()
        if price is not None:
            prices[noted.food] = price
        if noted.unavailable:
            marks.append(FoodMark(noted.food, Mark.UNAVAILABLE))
    for said in ClientFood.objects.filter(client_id=case.dog.client_id):
        marks.append(FoodMark(said.food, Mark(said.mark)))
    return Sourcing(prices, tuple(marks))


def record_energy(record: CaseRecord) -> Energy:
    """The energy target of a record. Raises InputError."""
    return energy_of(
        reference(), record.dog, record.energy_method, record.multiplier, record.kcal_per_day
    )


def record_targets(
    practice: Practice, record: CaseRecord, energy: Energy, look: Look | None = None
) -> MergedSet:
    """The merged set of a record, or that on another standard for a look. Raises InputError."""
    targets = targets_of(record)
    if look is not None and (look.standard or look.life_stage):
        targets = TargetsRecord(
            standard=look.standard or targets.standard,
            life_stage=look.life_stage or targets.life_stage,
            conditions=targets.conditions,
            decisions=targets.decisions,
        )
    facts = feeding_facts(reference(), record.dog, energy)
    revision = practice.library_revision
    return _merged(targets, facts, practice if revision else None, revision)


@lru_cache(maxsize=256)
def _merged(
    targets: TargetsRecord, facts: FeedingFacts, practice: Practice | None, revision: str
) -> MergedSet:
    # The revision is part of the key: own standards and checks may have changed.
    standards = standards_for(practice) if practice else None
    return merged_targets(reference(), targets, facts, standards)


def case_energy(case: Case) -> Energy:
    """The energy target of a stored case."""
    return record_energy(record_of(case))


def case_merged(case: Case) -> MergedSet:
    """The merged set of a stored case."""
    record = record_of(case)
    return record_targets(case.practice, record, record_energy(record))


def dossier_of(
    case: Case,
    lines: Sequence[Line],
    days: float,
    look: Look | None = None,
    library: FoodLibrary | None = None,
) -> Dossier:
    """Everything an analysis of these lines for this case looks at. Raises InputError."""
    facts = reference()
    look = look or Look()
    record = record_of(case)
    library = library or library_for(case.practice)
    energy = record_energy(record)
    targets = record_targets(case.practice, record, energy, look)
    conditions = conditions_of(facts, targets_of(record).conditions)
    sourcing = sourcing_of(case)
    standard, _, stage = look.second.partition("|")
    second = None
    if standard:
        beside = Look(standard=standard, life_stage=stage)
        second = record_targets(case.practice, record, energy, beside).requirements
    return Dossier(
        reference=facts, library=library, dog_name=record.dog.name, weight_kg=record.dog.weight_kg,
        energy=energy, targets=targets, lines=tuple(lines), days=check_days(days),
        policy=Policy(look.data_policy) if look.data_policy else record.data_policy,
        conditions=conditions,
        avoid=avoidance_of(
            facts, library, lines, record.reactions, conditions, sourcing.marks,
            [m.name for m in record.intake.medicines],
        ),
        prices=sourcing.prices, marks=sourcing.marks, way=read_way(facts.feeding, look.way),
        second=second, as_of=timezone.localdate(),
    )  # fmt: skip


def recipe_dossier(recipe: Recipe, look: Look | None = None) -> Dossier:
    """The dossier of a stored recipe, all of its lines. Raises InputError."""
    library = library_for(recipe.practice)
    lines = stored_lines(recipe, library)
    return dossier_of(recipe.case, lines, recipe.covers_days, look, library)
