"""Writes to a case, each in one transaction: lock, check, apply, check the whole, write."""

from collections.abc import Callable
from typing import Any

from accounts.models import Practice
from django.db import transaction
from django.http import Http404
from wainscot_core.record import CaseRecord, Collision, FieldChange, changed, following

from .models import Case
from .records import checked, fill, flags_of, plain_data


class CollisionError(Exception):
    """Fields that someone else changed meanwhile; nothing was written."""

    def __init__(self, case: Case, collisions: list[Collision]) -> None:
        super().__init__("collision")
        self.case = case
        self.collisions = collisions


def locked(practice: Practice, pk: int) -> Case:
    """A case of the practice, locked until the transaction ends; Http404 for any other."""
    found = (
        Case.objects.for_practice(practice)
        .select_for_update()
        .select_related("dog__client", "practice")
        .filter(pk=pk)
        .order_by()
        .first()
    )
    if found is None:
        raise Http404("No case with this number.")
    return found


@transaction.atomic
def change_fields(
    practice: Practice,
    pk: int,
    changes: tuple[FieldChange, ...],
    also: Callable[[Case, CaseRecord], Any],
) -> Case:
    """Set fields of a case's record.

    `also` checks what only later layers can (energy and targets hold together). Raises InputError
    naming the field, CollisionError where someone else changed one; nothing is written then.
    """
    case = locked(practice, pk)
    before = plain_data(case)
    data, collisions = changed(before, changes)
    if collisions:
        raise CollisionError(case, collisions)
    record = following(flags_of(before), checked(data, typed=True))
    also(case, record)
    fill(case, record)
    case.version += 1
    case.dog.version += 1
    case.dog.save()
    case.save()
    return case


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
