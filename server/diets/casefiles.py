"""A case file becomes a case: checked whole before anything is written."""

from typing import Any

from accounts.models import Practice
from cases.models import Case, Client, Dog
from django.db import transaction
from library.facts import reference
from library.models import OwnFood
from library.practice import library_for, touch
from wainscot_core.casefile import read_case
from wainscot_core.errors import InputError
from wainscot_core.formulation.request import read_reactions

from .models import Recipe
from .services import LineText, save_recipe

_DOG = (
    "name", "breed", "sex", "neutered", "birth_date", "age_months", "weight_kg", "ideal_weight_kg",
    "body_condition", "activity", "adult_weight_kg", "litter_size", "lactation_week",
    "gestation_week",
)  # fmt: skip


def _quantity(line: dict[str, Any]) -> str:
    if "grams" in line:
        return f"{line['grams']:g} g"
    return f"{line['amount']:g} {line.get('unit', 'g')}"


@transaction.atomic
def import_case(practice: Practice, data: dict[str, Any]) -> Case:
    """Make client, dog, case, own foods and recipe. Raises InputError naming the field."""
    read_case(reference(), data)
    read_reactions(data.get("reactions", []))
    given = data["dog"]
    if not str(given.get("name") or "").strip():
        raise InputError("dog.name", "is missing")
    client_data = data.get("client") or {}
    client, _ = Client.objects.get_or_create(
        practice=practice, name=str(client_data.get("name") or "From a case file")[:120]
    )
    facts = {k: given[k] for k in _DOG if given.get(k) is not None}
    facts["name"] = str(facts["name"])[:80]
    dog = Dog.objects.create(practice=practice, client=client, **facts)
    targets, energy = data["targets"], data["energy"]
    own_figure = energy.get("kcal_per_day") is not None
    known = reference().conditions
    diagnoses = data.get("diagnoses") or [
        {"id": c["id"], "name": known[c["id"]].name, "stage": str(c.get("stage") or "")}
        for c in targets.get("conditions", [])
    ]
    case = Case.objects.create(
        practice=practice,
        dog=dog,
        title=str(data.get("title") or "")[:160],
        conditions=diagnoses,
        reactions=data.get("reactions", []),
        intake=data.get("intake") or {},
        decisions=targets.get("decisions", []),
        energy_method="kcal_per_day" if own_figure else "rer-multiplier",
        multiplier=energy.get("multiplier", 1.0),
        kcal_per_day=energy.get("kcal_per_day"),
        standard=targets["standard"],
        life_stage=targets.get("life_stage", "adult"),
        data_policy=data.get("data_policy", "graded"),
        meals_per_day=data.get("meals_per_day", 2),
    )
    _own_foods(practice, data.get("foods", []))
    content = data["recipe"]
    name = str(content.get("name") or "From a case file")[:160]
    recipe = Recipe.objects.create(practice=practice, case=case, name=name)
    lines = [
        LineText(x["food"], _quantity(x), "", str(x.get("preparation") or ""))
        for x in content["lines"]
    ]
    save_recipe(recipe, recipe.version, name, float(content.get("covers_days", 1)), lines)
    return case


def _own_foods(practice: Practice, foods: list[dict[str, Any]]) -> None:
    """Own foods of the file that the practice does not have; those it has stay as they are."""
    library = library_for(practice)
    fresh = [f for f in foods if f["id"] not in library]
    for food in fresh:
        values = {k: v["value"] if isinstance(v, dict) else v for k, v in food["per_100_g"].items()}
        OwnFood.objects.create(
            practice=practice,
            slug=food["id"].removeprefix("own:")[:60],
            name=str(food.get("name", food["id"]))[:160],
            values=values,
            origin={"by": "case file"},
        )
    if fresh:
        touch(practice)
