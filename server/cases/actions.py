"""Writes to a case, each in one transaction: lock, check, apply, check the whole, write."""

from dataclasses import replace
from typing import Any

from accounts.models import Practice
from accounts.scoping import find_own
from django.db import transaction
from library.facts import reference
from library.practice import library_for
from wainscot_core.bowl.marks import Mark
from wainscot_core.dog.record import CaseRecord, DecisionRecord, FieldChange, changed, following
from wainscot_core.errors import InputError
from wainscot_core.targets.requirements import check_decision
from wainscot_core.targets.standards import Decision
from wire.errors import CollisionError

from .models import Case, Client, ClientFood, Dog
from .queries import record_energy, record_targets
from .records import checked, fill, flags_of, plain_data, record_of


def locked(practice: Practice, pk: int) -> Case:
    """A case of the practice, locked until the transaction ends; Http404 for any other."""
    return find_own(Case, practice, "dog__client", "practice", lock=True, pk=pk)


def holds_together(practice: Practice, record: CaseRecord) -> None:
    """Energy and targets can be computed. Raises InputError."""
    record_targets(practice, record, record_energy(record))


@transaction.atomic
def start_case(
    practice: Practice, client_name: str, data: dict[str, Any], title: str = "First draft"
) -> Case:
    """A case with an empty recipe. `data`: the case's record as plain data.

    Raises InputError naming the field; nothing is written then.
    """
    record = checked(data)
    holds_together(practice, record)
    client, _ = Client.objects.get_or_create(practice=practice, name=client_name)
    case = Case(practice=practice, dog=Dog(practice=practice, client=client))
    fill(case, record)
    case.dog.save()
    case.dog_id = case.dog.pk
    case.save()
    if title:
        case.recipes.create(practice=practice, name=title)
    return case


@transaction.atomic
def change_fields(
    practice: Practice,
    pk: int,
    changes: tuple[FieldChange, ...],
) -> Case:
    """Set fields of a case's record.

    Raises InputError naming the field, CollisionError where someone else changed one; nothing is
    written then.
    """
    case = locked(practice, pk)
    before = plain_data(case)
    data, collisions = changed(before, changes)
    if collisions:
        raise CollisionError(collisions)
    record = following(flags_of(before), checked(data, typed=True))
    holds_together(practice, record)
    fill(case, record)
    case.version += 1
    case.dog.version += 1
    case.dog.save()
    case.save()
    return case


@transaction.atomic
def decide(practice: Practice, pk: int, decision: Decision, undo: bool) -> Case:
    """Record a decision about a bound instead of any before it, or take it back.

    Raises InputError naming the field of a decision that cannot be.
    """
    case = locked(practice, pk)
    record = record_of(case)
    kept = [d for d in record.decisions if (d.key, d.bound) != (decision.key, decision.bound)]
    if not undo:
        made = check_decision(reference().catalogue, decision)
        kept.append(
            DecisionRecord(
                key=made.key, bound=made.bound, value=made.value, by=made.by, reason=made.reason
            )
        )
    fill(case, replace(record, decisions=tuple(kept)))
    case.version += 1
    case.save()
    return case


@transaction.atomic
def mark_food(case: Case, food: str, mark: Mark | None) -> None:
    """Say that a case's client cannot get or will not use a food; None that it may be used."""
    client = case.dog.client
    if food not in library_for(case.practice):
        raise InputError("food", f"no food {food!r} in the library")
    if mark is None:
        client.food_marks.filter(food=food).delete()
    else:
        ClientFood.objects.update_or_create(
            client=client, food=food, defaults={"mark": mark, "practice": client.practice}
        )


@transaction.atomic
def set_archived(practice: Practice, pk: int, archived: bool) -> Case:
    """Put a case away, or take it back; nothing of it is lost."""
    case = locked(practice, pk)
    case.archived = archived
    case.version += 1
    case.save()
    return case


@transaction.atomic
def delete_case(practice: Practice, pk: int) -> None:
    """Delete a case with its recipes, versions and plan, and its dog and owner where nothing else
    is theirs."""
    case = locked(practice, pk)
    dog = case.dog
    client = dog.client
    case.delete()
    if not dog.cases.exists():
        dog.delete()
    if not client.dogs.exists():
        client.delete()
