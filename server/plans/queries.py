"""A plan as the core reads it, and what comes of it."""

from collections.abc import Sequence
from datetime import date, timedelta
from typing import Any

from cases.models import Case
from cases.queries import library_of
from library.facts import reference
from recipes.dossiers import dossier_of
from recipes.lines import stored_lines
from recipes.models import Recipe
from wainscot_core.analysis.fortnight import DAYS as FORTNIGHT_DAYS
from wainscot_core.analysis.fortnight import Fortnight, fortnight
from wainscot_core.analysis.plan_view import PlanResult, analyse_plan
from wainscot_core.boundary import Number, read
from wainscot_core.conventions import Kitchen
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.errors import InputError
from wainscot_core.facts.foods import FoodLibrary
from wainscot_core.kitchen.change_over import ChangeBy, ChangePlan, change_plan
from wainscot_core.recipe.amounts import AS_TABLES
from wainscot_core.recipe.line import LineText, read_line
from wainscot_core.recipe.plan import Daily, DailyKind, Turn, whole_round
from wainscot_core.units import Measures

from .models import Plan

MOST_ITEMS = 40
MOST_TURN_DAYS = 60


def keyed(items: Sequence[dict[str, Any]]) -> dict[str, dict[str, Any]]:
    """Stored items by key; those that are older than keys go by their place."""
    return {str(item.get("key") or f"item-{i}"): item for i, item in enumerate(items)}


def read_turns(case: Case, library: FoodLibrary, entries: Sequence[dict[str, Any]]) -> list[Turn]:
    """The rotation. Raises InputError for a recipe of another case, days that make no sense, or a
    recipe with a line that can no longer be read."""
    recipes = {r.pk: r for r in Recipe.objects.filter(case=case).prefetch_related("lines")}
    turns = []
    for entry in entries:
        if not (isinstance(entry, dict) and {"recipe", "days"} <= set(entry)):
            raise InputError("turns", "hold something that cannot be read")
        at = f"turns.{entry['recipe']}"
        number = str(entry["recipe"])
        recipe = recipes.get(int(number)) if number.isdecimal() else None
        if recipe is None:
            raise InputError(at, "is no recipe of this case")
        days = read(Number, entry["days"], at)
        if not 0 <= days <= MOST_TURN_DAYS:
            raise InputError(at, f"must be from 0 to {MOST_TURN_DAYS}")
        try:
            lines = stored_lines(recipe, library)
        except InputError as error:
            raise error.under(at) from None
        turns.append(Turn(recipe.name, lines, recipe.covers_days, days))
    return turns


def read_items(
    library: FoodLibrary, entries: Sequence[dict[str, Any]], kitchen: Kitchen = AS_TABLES
) -> list[Daily]:
    """What is given every day; what was not stored yet was typed in this kitchen. Raises InputError
    naming the item."""
    if len(entries) > MOST_ITEMS:
        raise InputError("items", f"at most {MOST_ITEMS} items")
    if not all(isinstance(e, dict) and {"kind", "food", "quantity"} <= set(e) for e in entries):
        raise InputError("items", "hold something that cannot be read")
    found = []
    for key, entry in keyed(entries).items():
        text = LineText(
            entry["food"], entry["quantity"], grams=entry.get("grams"),
            basis=entry.get("basis", ""),
            measures=Measures(entry.get("measures") or (
                kitchen.measures if entry.get("grams") is None else Measures.US
            )),
        )  # fmt: skip
        try:
            line = read_line(reference().methods, library, text, kitchen.weigh)
        except InputError as error:
            field = "food" if error.field == "food" else "quantity"
            raise InputError(f"items.{key}.{field}", error.message) from None
        found.append(Daily(DailyKind(entry["kind"]), line))
    return found


def plan_dossier(
    case: Case, turns: Sequence[dict[str, Any]], items: Sequence[dict[str, Any]]
) -> Dossier:
    """The dossier of one round of a plan. Raises InputError."""
    library = library_of(case)
    lines, days = whole_round(read_turns(case, library, turns), read_items(library, items))
    return dossier_of(case, lines, days, library=library)


def plan_result(
    case: Case, turns: Sequence[dict[str, Any]], items: Sequence[dict[str, Any]]
) -> PlanResult:
    """The plan's analysis over the rotation and for a day of each recipe. Raises InputError."""
    library = library_of(case)
    round_, daily = read_turns(case, library, turns), read_items(library, items)
    lines, days = whole_round(round_, daily)
    return analyse_plan(dossier_of(case, lines, days, library=library), round_, daily)


def change_of(begins: date | None, days: int) -> ChangePlan | None:
    """The change-over of a plan; None where there is none, or nobody knows its first day. Raises InputError
    (change_days) for a length there is no schedule of."""
    if days == 0:
        return None
    found = change_plan(reference().change_over, days, begins or date.min, ChangeBy.SHARE)
    return found if begins is not None else None


def fortnight_of(plan: Plan, today: date) -> Fortnight:
    """Two weeks of bowls: from the first day of the plan while that is less than two weeks back, from today on after
    that. Raises InputError."""
    case, library = plan.case, library_of(plan.case)
    turns, daily = read_turns(case, library, plan.turns), read_items(library, plan.items)
    lines, days = whole_round(turns, daily)
    begins = plan.begins
    shown = begins is not None and begins > today - timedelta(days=FORTNIGHT_DAYS)
    start = begins if begins is not None and shown else today
    dossier = dossier_of(case, lines, days, library=library)
    return fortnight(dossier, turns, daily, start, begins, change_of(begins, plan.change_days))
