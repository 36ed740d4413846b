"""The one place that fills in a dossier from a practice's records."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from accounts.conventions import letterhead_of
from cases.models import Case
from cases.queries import conventions_for, library_of, record_energy, record_targets, sourcing_of
from cases.records import record_of
from django.utils import timezone
from library.facts import reference
from library.practice import spoilt_foods
from wainscot_core.analysis.adequacy import HELD
from wainscot_core.analysis.analyse import analyse
from wainscot_core.documents.verdict import Taking
from wainscot_core.dog.record import CaseRecord, as_plain_adult
from wainscot_core.dossier.dossier import Dossier, avoidance_of, check_days, conditions_of
from wainscot_core.errors import InputError
from wainscot_core.facts.foods import FoodLibrary
from wainscot_core.facts.policy import Policy
from wainscot_core.formats.casefile import targets_of
from wainscot_core.formulation.formulate import formulate
from wainscot_core.formulation.proposal import State
from wainscot_core.formulation.question import Settings
from wainscot_core.recipe.line import Line
from wainscot_core.recipe.proportions import Way
from wainscot_core.snapshot.freeze import freeze_case, freeze_recipe
from wainscot_core.snapshot.snapshot import Parties, Snapshot

from .lines import stored_lines
from .models import Recipe

# Foods are left alone; minimums first, and then as little as can be.
FEWEST = Settings(mode="close", goals=("energy", "minimums", "fewest", "near"), time_limit_s=8)


@dataclass(frozen=True)
class StandardAt:
    """A standard at one of its life stages."""

    standard: str
    life_stage: str


@dataclass(frozen=True)
class Look:
    """How a recipe is looked at: another standard, life stage or policy than the case's own ("" and
    None for the case's), a second standard beside it, a way of feeding."""

    standard: str = ""
    life_stage: str = ""
    policy: Policy | None = None
    second: StandardAt | None = None
    way: Way | None = None


def dossier_of(
    case: Case,
    lines: Sequence[Line],
    days: float,
    look: Look | None = None,
    library: FoodLibrary | None = None,
    record: CaseRecord | None = None,
) -> Dossier:
    """Everything an analysis of these lines for this case looks at. record: what is recorded of it, where another one
    than its own is asked for. Raises InputError."""
    facts = reference()
    look = look or Look()
    _check_spoilt(case, lines)
    record = record or record_of(case)
    library = library or library_of(case)
    energy = record_energy(record)
    practice = case.practice
    conditions = conditions_of(facts, targets_of(record).conditions)
    sourcing = sourcing_of(case)
    medicines = tuple(m.name for m in record.intake.medicines)
    beside = look.second
    return Dossier(
        reference=facts,
        library=library,
        dog_name=record.dog.name,
        breed=record.dog.breed,
        weight_kg=record.dog.weight_kg,
        energy=energy,
        targets=record_targets(practice, record, energy, look.standard, look.life_stage),
        lines=tuple(lines),
        days=check_days(days),
        policy=look.policy or record.data_policy,
        meals_per_day=record.meals_per_day,
        conditions=conditions,
        avoid=avoidance_of(
            facts, library, lines, record.reactions, conditions, sourcing.marks,
            medicines,
        ),
        medicines=medicines,
        prices=sourcing.prices,
        marks=sourcing.marks,
        way=look.way,
        second=record_targets(
            practice, record, energy, beside.standard, beside.life_stage
        ).requirements
        if beside
        else None,
        as_of=timezone.localdate(),
        measures=conventions_for(case.dog.client).measures,
        eaten=tuple(x.name for x in record.intake.current_diet),
        fine_scale=record.intake.owner.fine_scale,
        vulnerable_home=record.intake.vulnerable_home,
    )  # fmt: skip


def _check_spoilt(case: Case, lines: Sequence[Line]) -> None:
    """Nothing is computed with a food of which the practice's own figures cannot be read."""
    spoilt = spoilt_foods(case.practice)
    for i, line in enumerate(lines if spoilt else ()):
        if line.food.id in spoilt:
            raise InputError(
                f"recipe.lines[{i}].food",
                f"what your practice entered of {line.food.name} cannot be read ({spoilt[line.food.id]}): an owner sees it "
                "under Practice, Backups and disk",
            )


def recipe_dossier(recipe: Recipe, look: Look | None = None) -> Dossier:
    """The dossier of a stored recipe, all of its lines. Raises InputError."""
    library = library_of(recipe.case)
    lines = stored_lines(recipe, library)
    return dossier_of(recipe.case, lines, recipe.covers_days, look, library)


def parties_of(case: Case) -> Parties:
    """Whose work a case is, and whose dog."""
    client = case.dog.client
    return Parties(
        practice=case.practice.name, client=client.name, conventions=conventions_for(client),
        letterhead=letterhead_of(case.practice),
    )  # fmt: skip


def frozen(recipe: Recipe, today: date) -> Snapshot:
    """A snapshot of a stored recipe as it is now; nothing is stored. Raises InputError."""
    case = recipe.case
    return freeze_recipe(
        recipe_dossier(recipe), record_of(case), parties_of(case), recipe.name, today
    )


def verdict_of(recipe: Recipe, plain: bool, today: date) -> tuple[Snapshot, Taking]:
    """A stored recipe as it does for its dog, or for a plain adult of its weight, and what it would take; nothing is
    stored. Raises InputError."""
    case = recipe.case
    record = record_of(case)
    record = as_plain_adult(record) if plain else record
    library = library_of(case)
    lines = stored_lines(recipe, library)
    dossier = dossier_of(case, lines, recipe.covers_days, library=library, record=record)
    snapshot = freeze_recipe(dossier, record, parties_of(case), recipe.name, today)
    return snapshot, taking_of(dossier)


def taking_of(dossier: Dossier) -> Taking:
    """The fewest supplements that make a recipe complete, its foods left alone."""
    if not dossier.lines:
        raise InputError("recipe", "has no lines yet")
    found = formulate(dossier, FEWEST)
    undecided = found.state is State.UNDECIDED
    if undecided or not found.lines:
        return Taking((), (), undecided=undecided)
    judged = analyse(dossier.with_lines(found.lines))
    left = [x.name for x in judged.nutrients if x.status not in HELD]
    left += [x.name for x in judged.ratios if x.status not in HELD]
    added = [(c.name, c.after) for c in found.changes if c.line is None]
    return Taking(added, left)


def frozen_case(case: Case, today: date) -> Snapshot:
    """A snapshot of a case without its recipes; nothing is stored. Raises InputError."""
    record = record_of(case)
    energy = record_energy(record)
    merged = record_targets(case.practice, record, energy)
    return freeze_case(reference(), record, merged, energy, today, parties_of(case))
