"""What is asked of a case's records: its energy, its targets, what its foods cost and what cannot be
had."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache

from accounts.conventions import conventions_of
from accounts.models import Practice
from accounts.scoping import own
from library.facts import reference
from library.practice import library_for, noted_by, spoilt_foods
from library.standards import standards_for
from rest_framework.request import Request
from wainscot_core.boundary import read
from wainscot_core.bowl.marks import FoodMark, Mark
from wainscot_core.conventions import Conventions, OwnConventions, for_client
from wainscot_core.dog.energy import Energy
from wainscot_core.dog.intake import stopped
from wainscot_core.dog.record import CaseRecord, TargetsRecord
from wainscot_core.dossier.dossier import energy_of, feeding_facts, merged_targets
from wainscot_core.errors import InputError
from wainscot_core.facts.foods import FoodLibrary
from wainscot_core.facts.me_methods import MeMethod
from wainscot_core.formats.casefile import targets_of
from wainscot_core.targets.per import FeedingFacts
from wainscot_core.targets.requirements import MergedSet

from .models import Case, Client
from .records import flags_of, plain_data


def case_of(request: Request, pk: int) -> Case:
    """A case of the user's practice with what its record needs."""
    return own(Case, request, pk, "dog__client__practice", "practice")


def library_of(case: Case) -> FoodLibrary:
    """The library as a case sees it: its practice's, the energy of every food by the case's method.

    Raises InputError for a row that holds a method there is not.
    """
    try:
        method = MeMethod(case.me_method)
    except ValueError:
        raise InputError(
            "me_method", f"this case holds an unknown method {case.me_method!r}"
        ) from None
    return library_for(case.practice, method)


@dataclass(frozen=True)
class Sourcing:
    """What the practice and the client say of foods: prices per kg, and what can be had."""

    prices: Mapping[str, float]
    marks: tuple[FoodMark, ...]


def sourcing_of(case: Case) -> Sourcing:
    """Prices and marks of a case's practice and client."""
    noted = noted_by(case.practice)
    marks = [FoodMark(food, Mark.UNAVAILABLE) for food in noted.absent]
    for said in case.dog.client.food_marks.all():
        marks.append(FoodMark(said.food, Mark(said.mark), days=said.days))
    # Nothing is proposed of which something cannot be read.
    marks += [FoodMark(food, Mark.UNAVAILABLE) for food in spoilt_foods(case.practice)]
    return Sourcing(noted.prices, tuple(marks))


def conventions_for(client: Client) -> Conventions:
    """How things are written for a client: as the practice does, but for what she wants otherwise."""
    return for_client(conventions_of(client.practice), read(OwnConventions, client.conventions))


def record_energy(record: CaseRecord) -> Energy:
    """The energy target of a record. Raises InputError."""
    return energy_of(
        reference(), record.dog, record.energy_method, record.multiplier, record.kcal_per_day
    )


def record_targets(
    practice: Practice, record: CaseRecord, energy: Energy, standard: str = "", life_stage: str = ""
) -> MergedSet:
    """The merged set of a record, or that on another standard or life stage. Raises InputError."""
    targets = targets_of(record)
    if standard or life_stage:
        targets = replace(
            targets,
            standard=standard or targets.standard,
            life_stage=life_stage or targets.life_stage,
        )
    facts = feeding_facts(reference(), record.dog, energy, record.me_method)
    revision = practice.library_revision
    return _merged(targets, facts, practice if revision else None, revision)


@lru_cache(maxsize=256)
def _merged(
    targets: TargetsRecord, facts: FeedingFacts, practice: Practice | None, revision: str
) -> MergedSet:
    # The revision is part of the key: own standards and checks may have changed.
    standards = standards_for(practice) if practice else None
    return merged_targets(reference(), targets, facts, standards)


def check_not_stopped(case: Case) -> None:
    """Raises InputError while a red flag stops the case: nothing is fed until the vet has seen it."""
    if stopped(flags_of(plain_data(case))):
        raise InputError(
            "case", "a red flag stopped this case: see the vet first, then clear it in the intake"
        )
