"""The plan of a case: what the dog gets altogether, recipe by recipe and over the rotation."""

from typing import Any

from cases.models import Case
from library.facts import reference
from library.practice import library_for
from wainscot_core.errors import InputError
from wainscot_core.foods import FoodLibrary
from wainscot_core.line import LineText, read_line
from wainscot_core.plan import (
    KINDS,
    TREAT_SHARE,
    TREAT_SOURCE,
    Daily,
    Turn,
    extras_share,
    one_day,
    whole_round,
)
from wainscot_core.report import analyse

from .dossiers import dossier_of
from .lines import stored_lines
from .models import Recipe

MOST_ITEMS = 40


def read_turns(case: Case, library: FoodLibrary, entries: list[dict[str, Any]]) -> list[Turn]:
    """The rotation. Raises InputError for a recipe of another case, days that make no sense, or a
    recipe with a line that can no longer be read."""
    recipes = {r.pk: r for r in Recipe.objects.filter(case=case).prefetch_related("lines")}
    turns = []
    for i, entry in enumerate(entries):
        recipe = recipes.get(int(entry["recipe"]))
        if recipe is None:
            raise InputError(f"turns[{i}].recipe", "is no recipe of this case")
        days = float(entry["days"])
        if not 0 <= days <= 60:
            raise InputError(f"turns[{i}].days", "must be from 0 to 60")
        try:
            lines = stored_lines(recipe, library)
        except InputError as error:
            raise InputError(f"turns[{i}].{error.field}", error.message) from None
        turns.append(Turn(recipe.name, lines, recipe.covers_days, days))
    return turns


def read_items(library: FoodLibrary, entries: list[dict[str, Any]]) -> list[Daily]:
    """What is given every day. Raises InputError naming the item."""
    if len(entries) > MOST_ITEMS:
        raise InputError("items", f"at most {MOST_ITEMS} items")
    found = []
    for i, entry in enumerate(entries):
        if entry["kind"] not in KINDS:
            raise InputError(f"items[{i}].kind", f"must be one of: {', '.join(KINDS)}")
        text = LineText(
            entry["food"], entry["quantity"], grams=entry.get("grams"), basis=entry.get("basis", "")
        )
        try:
            line = read_line(reference().methods, library, text)
        except InputError as error:
            field = "food" if error.field == "food" else "quantity"
            raise InputError(f"items[{i}].{field}", error.message) from None
        found.append(Daily(entry["kind"], line))
    return found


def kept_items(library: FoodLibrary, entries: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Items as they are stored: as typed, with what they were read as."""
    return [
        {
            "kind": daily.kind, "food": entry["food"], "quantity": entry["quantity"],
            "grams": daily.line.amount.grams, "basis": daily.line.amount.basis,
        }
        for entry, daily in zip(entries, read_items(library, entries), strict=True)
    ]  # fmt: skip


def plan_report(case: Case, plan: dict[str, Any]) -> dict[str, Any]:
    """The plan's analysis over the rotation and for a day of each recipe."""
    library = library_for(case.practice)
    turns = read_turns(case, library, plan.get("turns", []))
    daily = read_items(library, plan.get("items", []))
    lines, days = whole_round(turns, daily)
    dossier = dossier_of(case, lines, days, library=library)
    whole = analyse(dossier)
    column = library.catalogue.index("ENERC")
    brought = [
        (d.kind, float(library.values[d.line.row, column]) * d.line.amount.grams / 100)
        for d in daily
    ]
    share = extras_share(brought, whole["recipe"]["kcal_per_day"] or 0.0)
    days_of = []
    for turn in turns:
        report = analyse(dossier.with_lines(one_day(turn, daily), 1))
        bad = [
            {"key": n["key"], "name": n["name"], "status": n["status"], "urgency": n["urgency"]}
            for n in report["nutrients"]
            if n["board"] and n["urgency"] > 0
        ]
        days_of.append(
            {
                "name": turn.name, "days": turn.days, "kcal_per_day": report["recipe"]["kcal_per_day"],
                "bad": bad,
            }
        )  # fmt: skip
    return {
        "analysis": {**whole, "line_errors": [], "positions": list(range(len(lines)))},
        "days": days_of,
        "round_days": days,
        "extras_share": share,
        "extras_most": TREAT_SHARE,
        "extras_source": TREAT_SOURCE,
        "item_kcal": [kcal for _, kcal in brought],
    }
