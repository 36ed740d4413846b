"""Intake: what is still missing for a sound plan, present intake, red flags that stop the work."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from .energy_methods import present_intake_kcal

# kcal per gram, modified Atwater for bought food (NRC 1985; AAFCO 2014).
_MODIFIED = {"protein_g": 3.5, "fat_g": 8.5, "carbohydrate_g": 3.5}


@dataclass(frozen=True)
class Missing:
    """A fact a sound plan needs and does not have yet, and why it is needed."""

    field: str
    what: str
    why: str


@dataclass(frozen=True)
class PresentIntake:
    """kcal a day of what the dog eats now, and the share of energy by macro where it is known."""

    kcal: float
    unknown_items: int
    shares: dict[str, float] | None


_NEEDED = (
    ("dog.age_months", "age", "life stage and energy depend on it"),
    ("dog.neutered", "neutered or entire", "energy depends on it"),
    ("dog.body_condition", "body condition", "ideal weight and energy depend on it"),
    ("intake.muscle_condition", "muscle condition", "muscle is lost behind a normal weight"),
    ("intake.vet_team", "attending vet", "someone must be able to sign off and to be called"),
    (
        "intake.current_diet",
        "what the dog eats now",
        "the transition and the energy check start there",
    ),
    ("intake.owner.cook", "what the owner can cook", "a plan that is not cooked feeds nobody"),
    (
        "intake.reactions_asked",
        "reactions to foods asked for",
        "an allergen hides in broths and fats",
    ),
    (
        "intake.medicines_asked",
        "medicines and supplements asked for",
        "some foods and drugs interact",
    ),
)


def missing_facts(facts: Mapping[str, Any]) -> tuple[Missing, ...]:
    """The facts that are not there, in the order they are asked."""
    found = []
    for path, what, why in _NEEDED:
        value: Any = facts
        for part in path.split("."):
            value = value.get(part) if isinstance(value, Mapping) else None
        if value is None or value in ("", [], False):
            if path == "dog.neutered" and value is False:
                continue
            found.append(Missing(path, what, why))
    growing = isinstance(facts.get("dog"), Mapping) and (facts["dog"].get("age_months") or 99) < 12
    if growing and not facts["dog"].get("adult_weight_kg"):
        found.append(
            Missing(
                "dog.adult_weight_kg",
                "expected adult weight",
                "growth energy and calcium depend on it",
            )
        )
    return tuple(found)


def present_intake(items: list[Mapping[str, Any]]) -> PresentIntake:
    """Total what the dog eats now: `amount` units of `kcal_per_unit`, macros in g per unit.

    An item without kcal is counted as unknown, not as nothing. Shares are given only when every
    item with energy names its macros.
    """
    known = [
        (float(i["amount"]), float(i["kcal_per_unit"]))
        for i in items
        if i.get("kcal_per_unit") is not None
    ]
    kcal = present_intake_kcal(known)
    macros = dict.fromkeys(_MODIFIED, 0.0)
    complete = bool(known)
    for item in items:
        if item.get("kcal_per_unit") is None:
            continue
        for key in _MODIFIED:
            if item.get(key) is None:
                complete = False
            else:
                macros[key] += float(item["amount"]) * float(item[key]) * _MODIFIED[key]
    total = sum(macros.values())
    shares = (
        {k.removesuffix("_g"): v / total for k, v in macros.items()}
        if complete and total > 0
        else None
    )
    return PresentIntake(kcal, len(items) - len(known), shares)


def stopped(intake: Mapping[str, Any]) -> bool:
    """True while a red flag was seen and the vet has not cleared the case."""
    flags = intake.get("red_flags") or {}
    return bool(flags.get("present")) and not flags.get("cleared")
