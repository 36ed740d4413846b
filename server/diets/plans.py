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
from wainscot_core.report import recipe_report

from .lines import stored_lines
from .models import Recipe
from .services import case_energy, case_requirements

MOST_ITEMS = 40


def read_turns(case: Case, library: FoodLibrary, entries: list[dict[str, Any]]) -> list[Turn]:
    """The rotation. Raises InputError for a recipe of another case or days that make no sense."""
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
        try:
            line = read_line(
                reference().methods, library, LineText(entry["food"], entry["quantity"])
            )
        except InputError as error:
            field = "food" if error.field == "food" else "quantity"
            raise InputError(f"items[{i}].{field}", error.message) from None
        found.append(Daily(entry["kind"], line))
    return found


def plan_report(case: Case, plan: dict[str, Any]) -> dict[str, Any]:
    """The plan's analysis over the rotation and for a day of each recipe."""
    library = library_for(case.practice)
    turns = read_turns(case, library, plan.get("turns", []))
    daily = read_items(library, plan.get("items", []))
    energy, requirements = case_energy(case), case_requirements(case)
    hazards = reference().hazards
    lines, days = whole_round(turns, daily)
    weight = case.dog.weight_kg
    whole = recipe_report(
        library, lines, days, energy, requirements, hazards, case.data_policy, weight
    )
    column = library.catalogue.index("ENERC")
    brought = [
        (d.kind, float(library.values[d.line.row, column]) * d.line.amount.grams / 100)
        for d in daily
    ]
    share = extras_share(brought, whole["recipe"]["kcal_per_day"] or 0.0)
    days_of = []
    for turn in turns:
        report = recipe_report(
            library,
            one_day(turn, daily),
            1,
            energy,
            requirements,
            hazards,
            case.data_policy,
            weight,
        )
        bad = [
            {"key": n["key"], "name": n["name"], "status": n["status"]}
            for n in report["nutrients"]
            if n["board"] and n["status"] in {"short", "over", "unproven"}
        ]
        days_of.append(
            {
                "name": turn.name, "days": turn.days, "kcal_per_day": report["recipe"]["kcal_per_day"],
                "bad": bad,
            }
        )  # fmt: skip
    return {
        "analysis": whole,
        "days": days_of,
        "round_days": days,
        "extras_share": share,
        "extras_most": TREAT_SHARE,
        "extras_source": TREAT_SOURCE,
        "item_kcal": [kcal for _, kcal in brought],
    }
