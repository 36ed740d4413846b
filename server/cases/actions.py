"""Writes to a case, each in one transaction: lock, check, apply, check the whole, write."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Annotated, Any, TypeVar

from accounts.clocks import check_zone
from accounts.conventions import conventions_of, invoicing_of, letterhead_of
from accounts.models import Practice
from accounts.scoping import Actor, find_own
from django.db import transaction
from django.db.models import RestrictedError
from events.log import log, short
from events.models import EventKind
from library.facts import reference
from library.practice import library_for
from pydantic import StringConstraints
from wainscot_core.boundary import (
    Name120,
    OrBlank,
    Text40,
    Text60,
    Text20000,
    dump,
    read,
    read_exact,
)
from wainscot_core.bowl.marks import Mark
from wainscot_core.changes import FieldChange, changed, value_at
from wainscot_core.conventions import DEFAULT, Conventions, OwnConventions, as_data
from wainscot_core.dog.record import (
    CaseRecord,
    DecisionRecord,
    following,
    with_typed,
)
from wainscot_core.errors import InputError
from wainscot_core.figures import listed
from wainscot_core.office.invoice import NO_INVOICING, Invoicing
from wainscot_core.snapshot.snapshot import NO_LETTERHEAD, Letterhead
from wainscot_core.targets.requirements import check_decision
from wainscot_core.targets.standards import Decision
from wire.errors import CollisionError

from .finding import folded
from .models import Case, Client, ClientFood, Dog
from .queries import record_energy, record_targets
from .records import as_stored, checked, fill, flags_of, plain_data, record_of

F = TypeVar("F")
EmailOrBlank = Annotated[
    str, OrBlank,
    StringConstraints(strip_whitespace=True, max_length=254, pattern=r"^$|^[^@\s]+@[^@\s]+\.[^@\s]+$"),
]  # fmt: skip


def locked(practice: Practice, pk: int) -> Case:
    """A case of the practice, locked until the transaction ends; Http404 for any other."""
    return find_own(Case, practice, "dog__client", "practice", lock=True, pk=pk)


def holds_together(practice: Practice, record: CaseRecord) -> None:
    """Energy and targets can be computed. Raises InputError."""
    record_targets(practice, record, record_energy(record))


@transaction.atomic
def owner_of(who: Actor, pk: int | None, name: str, another: bool = False) -> Client:
    """A client by number, or a new one by name. another: though there is one of that name.

    Raises InputError (field client_name) without a name, or for one that is taken; Http404.
    """
    if pk is not None:
        return find_own(Client, who.practice, pk=pk)
    if not name:
        raise InputError("client_name", "is missing")
    taken = Client.objects.for_practice(who.practice).filter(find_text=folded(name)).first()
    if taken is not None and not another:
        dogs = ", ".join(dog.name for dog in taken.dogs.all()) or "no dog yet"
        raise InputError(
            "client_name",
            f"There is a client {taken.name} already, with {dogs}: choose whether it is the same.",
        )
    return Client.objects.create(practice=who.practice, name=name)


@dataclass(frozen=True)
class Owner:
    """Whose dog a new case is about: a client by number, or one by name. another: a new client, though
    there is one of that name."""

    pk: int | None
    name: str
    another: bool = False


@transaction.atomic
def start_case_for(who: Actor, owner: Owner, data: dict[str, Any]) -> Case:
    """A case of a client there is, or of a new one; nothing of either is written where it cannot be.

    Raises InputError naming the field; Http404 for a client of someone else.
    """
    first = not Case.objects.for_practice(who.practice).exists()
    case = start_case(who, owner_of(who, owner.pk, owner.name, owner.another), data)
    return set_guided(who, case.pk, True) if first else case


@transaction.atomic
def start_case(
    who: Actor,
    client: Client,
    data: dict[str, Any],
    title: str = "First draft",
    kind: EventKind = EventKind.CASE_STARTED,
) -> Case:
    """A case of a client with an empty recipe. `data`: the case's record as plain data; kind: how it came.

    Raises InputError naming the field; nothing is written then.
    """
    practice = who.practice
    record = checked(data)
    holds_together(practice, record)
    case = Case(practice=practice, dog=Dog(practice=practice, client=client))
    fill(case, record)
    case.dog.save()
    case.dog_id = case.dog.pk
    case.save()
    if title:
        case.recipes.create(practice=practice, name=title)
    log(who, kind, case.pk, case.pk, dog=record.dog.name)
    return case


@transaction.atomic
def change_fields(who: Actor, pk: int, changes: tuple[FieldChange, ...]) -> Case:
    """Set fields of a case's record.

    Raises InputError naming the field, CollisionError where someone else changed one; nothing is
    written then.
    """
    case = locked(who.practice, pk)
    before = plain_data(case)
    data, collisions = changed(before, changes, settle=as_stored)
    if collisions:
        raise CollisionError(collisions)
    record = with_typed(following(flags_of(before), checked(data, typed=True)), changes)
    holds_together(who.practice, record)
    fill(case, record)
    case.version += 1
    case.dog.version += 1
    case.dog.save()
    case.save()
    log(
        who, EventKind.CASE_CHANGED, case.pk, case.pk, changes=_told(before, dump(record), changes)
    )  # fmt: skip
    return case


@dataclass(frozen=True, kw_only=True)
class ClientFields:
    """What can be changed of a client, field by field; conventions: null for as the practice writes."""

    name: Name120
    email: EmailOrBlank = ""
    phone: Text40 = ""
    notes: Text20000 = ""
    conventions: OwnConventions = field(default_factory=OwnConventions)


@dataclass(frozen=True, kw_only=True)
class PracticeFields:
    """What can be changed of a practice, field by field."""

    name: Name120
    conventions: Conventions = DEFAULT
    letterhead: Letterhead = NO_LETTERHEAD
    invoicing: Invoicing = NO_INVOICING
    time_zone: Text60 = ""


@transaction.atomic
def change_client(who: Actor, pk: int, changes: tuple[FieldChange, ...]) -> Client:
    """Set fields of a client.

    Raises InputError naming the field, CollisionError where someone else changed one; nothing is
    written then.
    """
    client = find_own(Client, who.practice, "practice", lock=True, pk=pk)
    before = dump(client_fields(client))
    now = _changed(ClientFields, before, changes)
    for name in ("name", "email", "phone", "notes"):
        setattr(client, name, getattr(now, name))
    client.conventions = as_data(now.conventions)
    client.version += 1
    client.save()
    for case in Case.objects.for_practice(who.practice).filter(dog__client=client):
        case.save(update_fields=["find_text"])
    log(who, EventKind.CLIENT_CHANGED, None, client.pk, changes=_told(before, dump(now), changes))
    return client


def client_fields(client: Client) -> ClientFields:
    """A stored client as it can be changed."""
    return ClientFields(
        name=client.name, email=client.email, phone=client.phone, notes=client.notes,
        conventions=read(OwnConventions, client.conventions),
    )  # fmt: skip


@transaction.atomic
def change_practice(who: Actor, changes: tuple[FieldChange, ...]) -> Practice:
    """Set fields of the practice: its name, how it writes things, its letterhead.

    Raises InputError naming the field, CollisionError where someone else changed one; nothing is
    written then.
    """
    practice = Practice.objects.select_for_update().get(pk=who.practice.pk)
    before = dump(practice_fields(practice))
    now = _changed(PracticeFields, before, changes)
    practice.name, practice.conventions = now.name, dump(now.conventions)
    practice.letterhead, practice.invoicing = dump(now.letterhead), dump(now.invoicing)
    if now.time_zone != practice.time_zone:
        # One that this machine no longer knows stands in nobody's way.
        practice.time_zone = check_zone(now.time_zone)
    practice.save()
    log(
        who, EventKind.PRACTICE_CHANGED, None, practice.pk,
        changes=_told(before, dump(now), changes),
    )  # fmt: skip
    return practice


def practice_fields(practice: Practice) -> PracticeFields:
    """A stored practice as it can be changed."""
    return PracticeFields(
        name=practice.name, conventions=conventions_of(practice), letterhead=letterhead_of(practice),
        invoicing=invoicing_of(practice), time_zone=practice.time_zone,
    )  # fmt: skip


def _changed(kind: type[F], before: dict[str, Any], changes: tuple[FieldChange, ...]) -> F:
    data, collisions = changed(before, changes, settle=lambda x: dict(dump(read(kind, x))))
    if collisions:
        raise CollisionError(collisions)
    return read_exact(kind, data)


def _told(
    before: dict[str, Any], after: dict[str, Any], changes: tuple[FieldChange, ...]
) -> list[dict[str, Any]]:
    return [
        {
            "path": c.path,
            "was": short(value_at(before, c.path)),
            "now": short(value_at(after, c.path)),
        }
        for c in changes
    ]


@transaction.atomic
def decide(who: Actor, pk: int, decision: Decision, undo: bool) -> Case:
    """Record a decision about a bound instead of any before it, or take it back.

    Raises InputError naming the field of a decision that cannot be.
    """
    case = locked(who.practice, pk)
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
    log(
        who, EventKind.LIMIT_UNDECIDED if undo else EventKind.LIMIT_DECIDED, case.pk, case.pk,
        key=decision.key, bound=decision.bound, by=decision.by,
        value="no limit" if decision.value is None else f"{decision.value:g}",
    )  # fmt: skip
    return case


@transaction.atomic
def mark_foods(
    who: Actor, case: Case, foods: Sequence[str], mark: Mark | None, days: int | None = None
) -> None:
    """Say what a case's client says of foods; None that nothing was asked. days: how long before what must be ordered
    is. Raises InputError."""
    client = case.dog.client
    library = library_for(case.practice)
    if days is not None and mark is not Mark.SPECIAL_ORDER:
        raise InputError("days", "belong to what has to be ordered")
    for food in foods:
        # What was said of a food that has gone since can still be taken back.
        if food not in library and mark is not None:
            raise InputError("foods", f"no food {food!r} in the library")
    for food in foods:
        if mark is None:
            client.food_marks.filter(food=food).delete()
        else:
            ClientFood.objects.update_or_create(
                client=client, food=food,
                defaults={"mark": mark, "days": days, "practice": client.practice},
            )  # fmt: skip
    if not foods:
        return
    said = "not asked" if mark is None else mark.value.replace("-", " ")
    names = listed([library.food(f).name if f in library else f for f in foods])
    log(who, EventKind.FOOD_MARKED, case.pk, client.pk, food=names, mark=said)


@transaction.atomic
def set_archived(who: Actor, pk: int, archived: bool) -> Case:
    """Put a case away, or take it back; nothing of it is lost."""
    case = locked(who.practice, pk)
    case.archived = archived
    case.version += 1
    case.save()
    log(who, EventKind.CASE_ARCHIVED if archived else EventKind.CASE_TAKEN_BACK, case.pk, case.pk)
    return case


@transaction.atomic
def set_guided(who: Actor, pk: int, guided: bool) -> Case:
    """Lead whoever works at a case from step to step, or leave that; nothing of the case changes."""
    case = locked(who.practice, pk)
    Case.objects.filter(pk=case.pk).update(guided=guided)
    case.guided = guided
    return case


@transaction.atomic
def delete_case(who: Actor, pk: int) -> None:
    """Delete a case with its recipes, versions and plan, and its dog and owner where nothing else
    is theirs. Raises InputError for one whose plan was put before the vet."""
    case = locked(who.practice, pk)
    if case.recipes.filter(versions__held=True).exists():
        raise InputError(
            "", "a plan of it was put before the vet and stays on record: put the case away instead"
        )
    dog = case.dog
    client = dog.client
    # Whose it was: what the trail tells of it goes when its client is erased.
    log(who, EventKind.CASE_DELETED, pk, pk, dog=dog.name, client=client.pk)
    try:
        case.delete()
    except RestrictedError:
        raise InputError(
            "", "a batch was planned for it and stays on record: put the case away instead"
        ) from None
    if not dog.cases.exists():
        dog.delete()
    if not client.dogs.exists():
        client.delete()
