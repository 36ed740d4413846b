"""A case that cannot be read any more: what is wrong with it and its plan, and how it is made readable again."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any

from accounts.scoping import Actor
from cases.actions import locked
from cases.models import Case
from cases.records import fill, stored_data
from django.db import transaction
from events.log import log
from events.models import EventKind
from pydantic import Field
from wainscot_core.boundary import Name80, Number, Text40, Text60, Text200, read
from wainscot_core.dog.mend import Fault, to_ask_again, without_faults
from wainscot_core.dog.record import read_record
from wainscot_core.recipe.plan import DailyKind

from .models import Plan


@dataclass(frozen=True, kw_only=True)
class StoredTurn:
    """A recipe by its number and its days in each round."""

    recipe: Annotated[int, Field(ge=0)]
    days: Number


@dataclass(frozen=True, kw_only=True)
class StoredItem:
    """Something that is given every day, as typed and what it was read as."""

    kind: DailyKind
    food: Name80
    quantity: Text60
    key: Text40 = ""
    grams: Number | None = None
    basis: Text200 = ""
    measures: Text40 = ""


@dataclass(frozen=True, kw_only=True)
class StoredPlan:
    """What a plan's row holds."""

    turns: tuple[StoredTurn, ...] = ()
    items: tuple[StoredItem, ...] = ()


@dataclass(frozen=True, kw_only=True)
class CaseFaults:
    """What of a case cannot be read; () when all of it can."""

    faults: tuple[Fault, ...]


def plan_data(plan: Plan) -> dict[str, Any]:
    """What a plan's row holds, as plain data; nothing is checked."""
    return {"turns": plan.turns, "items": plan.items}


def check_plan(plan: Plan) -> None:
    """Raises InputError for a plan that holds what cannot be read."""
    _reads_plan(plan_data(plan))


def _reads_plan(data: Any) -> StoredPlan:
    return read(StoredPlan, data)


def faults_of(case: Case) -> CaseFaults:
    """What of a case and its plan cannot be read. Raises InputError where something that must be there is spoilt."""
    _, faults = without_faults(stored_data(case), read_record)
    plan = Plan.objects.filter(case=case).first()
    in_plan = without_faults(plan_data(plan), _reads_plan)[1] if plan is not None else ()
    return CaseFaults(faults=(*faults, *_of_plan(in_plan)))


def _of_plan(faults: Sequence[Fault]) -> list[Fault]:
    return [Fault(path=f"plan.{f.path}", why=f.why, held=f.held) for f in faults]


@transaction.atomic
def mend_case(who: Actor, pk: int) -> tuple[Fault, ...]:
    """Take out of a case and its plan what cannot be read; it goes into the trail as it stood. Raises InputError where
    something that must be there is spoilt; nothing is written then."""
    case = locked(who.practice, pk)
    data, faults = without_faults(stored_data(case), read_record)
    told = list(faults)
    if faults:
        fill(case, to_ask_again(read_record(data), faults))
        case.version += 1
        case.dog.version += 1
        case.dog.save()
        case.save()
    plan = Plan.objects.select_for_update().filter(case=case).first()
    if plan is not None:
        kept, in_plan = without_faults(plan_data(plan), _reads_plan)
        if in_plan:
            plan.turns, plan.items = kept.get("turns", []), kept.get("items", [])
            plan.version += 1
            plan.save()
        told += _of_plan(in_plan)
    for fault in told:
        log(who, EventKind.SET_ASIDE, case.pk, case.pk, field=fault.path, held=fault.held)
    return tuple(told)
