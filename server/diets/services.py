"""Saving recipes without overwriting."""

from collections.abc import Sequence
from typing import Any

from cases.models import Case
from django.db import transaction
from library.facts import reference
from library.practice import library_for
from wainscot_core.completeness import completeness
from wainscot_core.dossier import FoodMark, check_days
from wainscot_core.errors import InputError
from wainscot_core.foods import FoodLibrary
from wainscot_core.intake import stopped
from wainscot_core.line import LineText, read_all

from .dossiers import sourcing_of
from .lines import replace_rows, texts_of, with_readings
from .models import Recipe


class StaleWriteError(Exception):
    """Someone saved a newer version; `current` is what is stored."""

    def __init__(self, current: Any) -> None:
        super().__init__("stale write")
        self.current = current


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


def food_marks(case: Case) -> tuple[FoodMark, ...]:
    """Foods that cannot be had now, or that the client cannot get or will not use."""
    return sourcing_of(case).marks
