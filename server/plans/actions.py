"""Writes to the plan of a case."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Any

from accounts.scoping import Actor, find_own
from cases.models import Case
from cases.queries import check_not_stopped, conventions_for, library_of
from django.db import transaction
from events.log import log
from events.models import EventKind
from pydantic import Field
from recipes.lines import LineKey
from wainscot_core.boundary import Day, Name20, Name80, Number, Text60, dump, read, read_exact
from wainscot_core.changes import FieldChange, Table, changed
from wainscot_core.conventions import Kitchen
from wainscot_core.dog.record import BlankIsNone, Count
from wainscot_core.facts.foods import FoodLibrary
from wainscot_core.recipe.plan import DailyKind
from wire.errors import CollisionError

from .models import Plan
from .queries import MOST_ITEMS, change_of, keyed, plan_result, read_items, read_turns


@dataclass(frozen=True, kw_only=True)
class PlanItemIn:
    """What is given every day beside the recipes, its amount as typed."""

    kind: DailyKind
    food: Name80
    quantity: Text60


@dataclass(frozen=True, kw_only=True)
class PlanFields:
    """What can be changed of a plan, field by field. turns: days of each round by recipe number;
    items by key; order: their keys. begins: the first day it is fed, None while it is not said; change_days: over how
    many days the old food gives way, 0 for at once."""

    turns: dict[Name20, Number]
    items: Annotated[dict[LineKey, PlanItemIn], Field(max_length=MOST_ITEMS)]
    order: tuple[LineKey, ...]
    begins: Annotated[Day | None, BlankIsNone] = None
    change_days: Annotated[Count, Field(ge=0, le=60)] = 7


TABLES = (Table("turns"), Table("items", "order"))


@transaction.atomic
def plan_of(case: Case, lock: bool = False) -> Plan:
    """The case's plan; a new one feeds the first recipe every day."""
    first = case.recipes.filter(archived=False).first()
    turns = [{"recipe": first.pk, "days": 1}] if first is not None else []
    plan, _ = Plan.objects.get_or_create(
        case=case, practice=case.practice, defaults={"turns": turns}
    )
    return find_own(
        Plan, case.practice, "case__dog__client__practice", "case__practice", lock=lock, pk=plan.pk
    )


def fields_of(plan: Plan) -> dict[str, Any]:
    """A stored plan as plain data, to be changed field by field."""
    named = keyed(plan.items)
    return {
        "turns": {str(turn["recipe"]): turn["days"] for turn in plan.turns},
        "items": {
            key: {name: item[name] for name in ("kind", "food", "quantity")}
            for key, item in named.items()
        },
        "order": list(named),
        "begins": plan.begins.isoformat() if plan.begins else None,
        "change_days": plan.change_days,
    }


def _settled(data: Mapping[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = dump(read(PlanFields, data, typed=True))
    return found


@transaction.atomic
def change_plan(who: Actor, case: Case, changes: Sequence[FieldChange]) -> Plan:
    """Set fields of a plan: days of a recipe, items that come, go or change.

    Raises InputError naming the field, CollisionError where someone else changed one; nothing is
    written then.
    """
    plan = plan_of(case, lock=True)
    check_not_stopped(plan.case)
    data, collisions = changed(fields_of(plan), changes, TABLES, _settled)
    if collisions:
        raise CollisionError(collisions)
    now = read_exact(PlanFields, data, typed=True)
    turns: list[dict[str, Any]] = [
        {"recipe": recipe, "days": days} for recipe, days in now.turns.items()
    ]
    change_of(now.begins, now.change_days)
    library = library_of(plan.case)
    read_turns(plan.case, library, turns)
    kitchen = conventions_for(plan.case.dog.client).kitchen
    items = _items(library, now, keyed(plan.items), kitchen)
    if any(turn["days"] for turn in turns) or items:
        plan_result(plan.case, turns, items)
    plan.turns = [{**turn, "recipe": int(turn["recipe"])} for turn in turns]
    plan.items = items
    plan.begins, plan.change_days = now.begins, now.change_days
    plan.version += 1
    plan.save()
    log(who, EventKind.PLAN_SAVED, case.pk, plan.pk)
    return plan


def _items(
    library: FoodLibrary,
    now: PlanFields,
    known: Mapping[str, dict[str, Any]],
    kitchen: Kitchen,
) -> list[dict[str, Any]]:
    """Items as they are stored: as typed, with what they were read as; those that did not change
    stay as they are."""
    found = []
    for key in now.order:
        entry = {"key": key, **dump(now.items[key])}
        old = known.get(key)
        if old is not None and all(old[name] == entry[name] for name in ("food", "quantity")):
            found.append({**old, **entry})
            continue
        [daily] = read_items(library, [entry], kitchen)
        amount = daily.line.amount
        found.append(
            {
                **entry, "grams": amount.grams, "basis": amount.basis,
                "measures": kitchen.measures.value,
            }
        )  # fmt: skip
    return found
