"""Saving recipes without overwriting, and computing them."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from cases.models import Case
from django.db import transaction
from library.facts import reference
from wainscot_core import amounts
from wainscot_core.casefile import MAX_LINES, read_energy, read_targets
from wainscot_core.casefile import Line as CoreLine
from wainscot_core.energy import Energy
from wainscot_core.errors import InputError
from wainscot_core.standards import RequirementSet

from .models import Line, Recipe


class StaleWriteError(Exception):
    """Someone saved a newer version; `current` is what is stored."""

    def __init__(self, current: Any) -> None:
        super().__init__("stale write")
        self.current = current


@dataclass(frozen=True)
class LineText:
    """A line as typed."""

    food: str
    quantity: str
    note: str = ""


@dataclass(frozen=True)
class LineError:
    """A line that cannot be computed, and why."""

    line: int
    field: str
    message: str


def resolve_line(text: LineText) -> CoreLine:
    """Food and grams of a typed line. Raises InputError (field "food", "amount" or "unit")."""
    library = reference().library
    if text.food not in library:
        raise InputError("food", f"no food {text.food!r} in the library; search for another")
    food = library.food(text.food)
    return CoreLine(food, library.row(text.food), amounts.parse(food, text.quantity))


def resolve_lines(lines: Sequence[LineText]) -> tuple[dict[int, CoreLine], list[LineError]]:
    """Lines that can be computed by position, and the errors of those that cannot."""
    good, errors = {}, []
    for i, text in enumerate(lines):
        try:
            good[i] = resolve_line(text)
        except InputError as error:
            errors.append(LineError(i, error.field, error.message))
    return good, errors


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


@lru_cache(maxsize=64)
def _published(standard: str, life_stage: str) -> RequirementSet:
    return read_targets(reference(), {"standard": standard, "life_stage": life_stage})


def case_requirements(
    case: Case, standard: str | None = None, life_stage: str | None = None
) -> RequirementSet:
    """The case's requirement set, or that of another standard for a look."""
    return _published(standard or case.standard, life_stage or case.life_stage)


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
    check_days(covers_days)
    if len(lines) > MAX_LINES:
        raise InputError("lines", f"at most {MAX_LINES} lines")
    _, errors = resolve_lines(lines)
    if errors:
        first = errors[0]
        field = "food" if first.field == "food" else "quantity"
        raise InputError(f"lines[{first.line}].{field}", first.message)
    locked.name, locked.covers_days, locked.version = name, covers_days, version + 1
    locked.save()
    locked.lines.all().delete()
    Line.objects.bulk_create(
        Line(recipe=locked, position=i, food=t.food, quantity=t.quantity, note=t.note)
        for i, t in enumerate(lines)
    )
    locked.case.save(update_fields=["updated"])
    return locked
