"""Saving recipes without overwriting, and computing them."""

import json
from collections.abc import Mapping, Sequence
from functools import lru_cache
from typing import Any

from accounts.models import Practice
from cases.models import Case, ClientFood
from django.db import transaction
from library.facts import reference
from library.models import PracticeFood
from library.practice import library_for
from library.standards import standards_for
from wainscot_core.casefile import read_energy, read_targets
from wainscot_core.completeness import completeness
from wainscot_core.energy import Energy
from wainscot_core.errors import InputError
from wainscot_core.foods import FoodLibrary
from wainscot_core.intake import stopped
from wainscot_core.line import Line as CoreLine
from wainscot_core.line import LineText, read_all
from wainscot_core.requirements import FeedingFacts, MergedSet
from wainscot_core.standards import RequirementSet

from .lines import replace_rows, texts_of, with_readings
from .models import Recipe


class StaleWriteError(Exception):
    """Someone saved a newer version; `current` is what is stored."""

    def __init__(self, current: Any) -> None:
        super().__init__("stale write")
        self.current = current


def check_days(covers_days: float) -> float:
    """The days a batch covers; InputError when they make no sense."""
    if not 0 < covers_days <= 366:
        raise InputError("covers_days", "must be above 0 and at most 366 days")
    return covers_days


def case_energy(case: Case) -> Energy:
    """The case's energy by its chosen method."""
    given: dict[str, Any] = (
        {"kcal_per_day": case.kcal_per_day}
        if case.energy_method == "kcal_per_day"
        else {"method": case.energy_method, "multiplier": case.multiplier}
    )
    return read_energy(reference(), case.dog.weight_kg, given)


def case_targets(case: Case) -> dict[str, Any]:
    """The targets section of a case, as the case file has it."""
    return {
        "standard": case.standard,
        "life_stage": case.life_stage,
        "conditions": [{"id": c["id"], "stage": c.get("stage", "")} for c in case.conditions],
        "decisions": case.decisions,
    }


def case_merged(
    case: Case, standard: str | None = None, life_stage: str | None = None
) -> MergedSet:
    """The case's merged requirement set, or that on another standard for a look."""
    targets = case_targets(case)
    targets.update(standard=standard or case.standard, life_stage=life_stage or case.life_stage)
    facts = FeedingFacts(
        case.dog.weight_kg,
        case.dog.ideal_weight_kg or case.dog.weight_kg,
        case_energy(case).target_kcal,
    )
    practice = case.practice
    revision = practice.library_revision
    return _merged(
        json.dumps(targets, sort_keys=True), facts, practice if revision else None, revision
    )


@lru_cache(maxsize=256)
def _merged(
    targets: str, facts: FeedingFacts, practice: Practice | None, revision: str
) -> MergedSet:
    # The revision is part of the key: own standards and checks may have changed.
    standards = standards_for(practice) if practice else None
    return read_targets(reference(), json.loads(targets), facts, standards)


def case_requirements(
    case: Case, standard: str | None = None, life_stage: str | None = None
) -> RequirementSet:
    """The limits of the case's merged set."""
    return case_merged(case, standard, life_stage).requirements


def incomplete_groups(case: Case, library: FoodLibrary, food_id: str) -> list[str]:
    """The case's strict groups in which a food lacks an analysed value; [] outside strict."""
    if case.data_policy != "strict" or food_id not in library:
        return []
    found = completeness(library, library.row(food_id))
    return [c.group for c in found if c.group in case.strict_groups and c.firm < 1]


def check_strict(case: Case, library: FoodLibrary, lines: Sequence[LineText]) -> None:
    """Under strict an incomplete food needs an override with a reason. Raises InputError."""
    for i, line in enumerate(lines):
        groups = incomplete_groups(case, library, line.food)
        if groups and not line.override.strip():
            raise InputError(
                f"lines[{i}].override",
                f"{library.food(line.food).name} is not fully analysed for {', '.join(groups)}; "
                "give a reason to use it all the same",
            )


@transaction.atomic
def save_recipe(
    recipe: Recipe, version: int, name: str, covers_days: float, lines: Sequence[LineText]
) -> Recipe:
    """Replace a recipe's content if `version` is the stored one.

    Raises StaleWriteError when it is not, InputError (field lines[i].quantity or .food)
    for a line that cannot be computed; nothing is written then.
    """
    locked = Recipe.objects.select_for_update().get(pk=recipe.pk)
    if locked.version != version:
        raise StaleWriteError(locked)
    if stopped(recipe.case.intake):
        raise InputError(
            "case", "a red flag stopped this case: see the vet first, then clear it in the intake"
        )
    check_days(covers_days)
    library = library_for(recipe.practice)
    read = read_all(reference().methods, library, with_readings(lines, texts_of(locked)))
    check_strict(recipe.case, library, lines)
    locked.name, locked.covers_days, locked.version = name, covers_days, version + 1
    locked.save()
    replace_rows(locked, read)
    locked.case.save(update_fields=["updated"])
    return locked


@transaction.atomic
def copy_recipe(source: Recipe, case: Case, name: str) -> Recipe:
    """A new recipe of a case with all that another one's lines say.

    Raises InputError where the new one could not be saved by hand either.
    """
    fresh = Recipe.objects.create(practice=case.practice, case=case, name=name)
    return save_recipe(fresh, fresh.version, name, source.covers_days, texts_of(source))


def practice_view(
    case: Case, lines: Sequence[CoreLine], days: float
) -> tuple[dict[str, Any], list[dict[str, str]]]:
    """Cost of a batch and a day by the practice's prices, and the marks of its foods.

    Lines without a price are counted in `unpriced`, not as free.
    """
    foods = [line.food.id for line in lines]
    noted = {
        p.food: p for p in PracticeFood.objects.filter(practice_id=case.practice_id, food__in=foods)
    }
    prices = {food: known.price_per_kg() for food, known in noted.items()}
    cost = cost_of({f: p for f, p in prices.items() if p is not None}, lines, days)
    unavailable = [food for food, known in noted.items() if known.unavailable]
    return cost, _marks(case, foods, unavailable)


def cost_of(prices: Mapping[str, float], lines: Sequence[CoreLine], days: float) -> dict[str, Any]:
    """Cost of a batch and a day by prices per kg; a line without a price is counted, not free."""
    costs = [
        None if line.food.id not in prices else prices[line.food.id] * line.amount.grams / 1000
        for line in lines
    ]
    total = sum(c for c in costs if c is not None)
    return {
        "lines": [None if c is None else round(c, 3) for c in costs],
        "batch": round(total, 2),
        "per_day": round(total / days, 2),
        "unpriced": sum(c is None for c in costs),
    }


def food_marks(case: Case, foods: Sequence[str]) -> list[dict[str, str]]:
    """Foods that cannot be had now, or that the client cannot get or will not use."""
    unavailable = PracticeFood.objects.filter(
        practice_id=case.practice_id, food__in=foods, unavailable=True
    )
    return _marks(case, foods, [p.food for p in unavailable])


def _marks(case: Case, foods: Sequence[str], unavailable: Sequence[str]) -> list[dict[str, str]]:
    marks = ClientFood.objects.filter(client_id=case.dog.client_id, food__in=foods)
    return [
        *({"food": food, "mark": "unavailable"} for food in unavailable),
        *({"food": m.food, "mark": str(m.mark)} for m in marks),
    ]
