"""Writes to the plan of a case."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from accounts.scoping import Actor, find_own
from cases.models import Case
from cases.queries import check_not_stopped, library_of
from django.db import transaction
from events.log import log
from events.models import EventKind
from wainscot_core.boundary import Name80, Number, Text60, Whole
from wainscot_core.recipe.plan import DailyKind
from wire.errors import StaleWriteError

from .models import Plan
from .queries import plan_result, read_items, read_turns
from .views import plan_view


@dataclass(frozen=True, kw_only=True)
class TurnIn:
    """A recipe of the rotation and the days it is fed on in each round."""

    recipe: Whole
    days: Number


@dataclass(frozen=True, kw_only=True)
class PlanItemIn:
    """What is given every day beside the recipes, its amount as typed."""

    kind: DailyKind
    food: Name80
    quantity: Text60


@dataclass(frozen=True, kw_only=True)
class PlanIn:
    """A plan, against the version it was made on."""

    version: Whole
    turns: tuple[TurnIn, ...]
    items: tuple[PlanItemIn, ...]


@transaction.atomic
def plan_of(case: Case, lock: bool = False) -> Plan:
    """The case's plan; a new one feeds the first recipe every day."""
    first = case.recipes.first()
    turns = [{"recipe": first.pk, "days": 1}] if first is not None else []
    plan, _ = Plan.objects.get_or_create(
        case=case, practice=case.practice, defaults={"turns": turns}
    )
    return find_own(Plan, case.practice, "case__dog", "case__practice", lock=lock, pk=plan.pk)


def items_data(case: Case, items: Sequence[PlanItemIn]) -> list[dict[str, Any]]:
    """Items as they are stored: as typed, with what they were read as."""
    entries = [
        {"kind": item.kind.value, "food": item.food, "quantity": item.quantity} for item in items
    ]
    read = read_items(library_of(case), entries)
    return [
        {**entry, "grams": daily.line.amount.grams, "basis": daily.line.amount.basis}
        for entry, daily in zip(entries, read, strict=True)
    ]


@transaction.atomic
def save_plan(who: Actor, case: Case, asked: PlanIn) -> Plan:
    """Replace the plan if the version is the stored one.

    Raises StaleWriteError when it is not, InputError naming the turn or item; nothing is written
    then.
    """
    plan = plan_of(case, lock=True)
    if asked.version != plan.version:
        raise StaleWriteError(plan_view(plan))
    check_not_stopped(plan.case)
    turns = [{"recipe": t.recipe, "days": t.days} for t in asked.turns]
    read_turns(plan.case, library_of(plan.case), turns)
    items = items_data(plan.case, asked.items)
    if any(t["days"] for t in turns) or items:
        plan_result(plan.case, turns, items)
    plan.turns, plan.items = turns, items
    plan.version += 1
    plan.save()
    log(who, EventKind.PLAN_SAVED, case.pk, plan.pk)
    return plan
