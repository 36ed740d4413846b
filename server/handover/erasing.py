"""The records of a client taken away for good, and what of her stays and why."""

from dataclasses import dataclass
from typing import Any

from accounts.models import User
from accounts.scoping import Actor, find_own
from cases.models import Case, Client, Dog
from cases.word_index import forget
from django.db import connection, transaction
from django.db.models import Q, QuerySet
from events.log import log
from events.models import Event, EventKind
from events.words import ERASED
from followup.models import FollowEntry, LabResult
from jobs.models import Job
from kitchen.models import Batch
from office.models import Invoice
from outbox.models import Mail
from recipes.models import Recipe, RecipeVersion
from wainscot_core.boundary import Text200, Text400
from wainscot_core.errors import InputError
from wire.past import lifted

# Who did something is told by name only where it is somebody of the practice.
SOMEBODY = "somebody outside"


@dataclass(frozen=True, kw_only=True)
class EraseIn:
    """name: of the client, typed again; reason: why, which stays."""

    name: Text200
    reason: Text400


@dataclass(frozen=True, kw_only=True)
class RecordsOf:
    """What there is of a client. signed: versions that a vet was asked to sign or that were issued; trail: lines of the
    audit trail that tell of her; invoices: of hers, which stay as they were given out."""

    dogs: int
    cases: int
    recipes: int
    signed: int
    batches: int
    days: int
    mails: int
    trail: int
    invoices: int


def _cases(client: Client) -> QuerySet[Case]:
    return Case.objects.filter(dog__client=client)


def _mails(client: Client) -> QuerySet[Mail]:
    about = Q(case__in=_cases(client).values("pk"))
    if client.email:
        about |= Q(case=None, personal=False, to_address__iexact=client.email)
    return Mail.objects.filter(about, practice=client.practice)


def _trail(client: Client) -> QuerySet[Event]:
    of_practice = Event.objects.for_practice(client.practice)
    deleted = of_practice.filter(kind=EventKind.CASE_DELETED, data__client=client.pk)
    return Event.objects.filter(
        Q(case__in=_cases(client).values("pk"))
        | Q(case__in=deleted.values("case"))
        | Q(kind=EventKind.CLIENT_CHANGED, subject=client.pk),
        practice=client.practice,
    )


def records_of(client: Client) -> RecordsOf:
    """What there is of a client."""
    cases = _cases(client)
    return RecordsOf(
        dogs=Dog.objects.filter(client=client).count(),
        cases=cases.count(),
        recipes=Recipe.objects.filter(case__in=cases).count(),
        signed=RecipeVersion.objects.filter(recipe__case__in=cases, held=True).count(),
        batches=Batch.objects.filter(recipe__case__in=cases).count(),
        days=FollowEntry.objects.filter(case__in=cases).count()
        + LabResult.objects.filter(case__in=cases).count(),
        mails=_mails(client).count(),
        trail=_trail(client).count(),
        invoices=Invoice.objects.filter(client=client).count(),
    )


@transaction.atomic
def erase_client(who: Actor, pk: int, asked: EraseIn) -> RecordsOf:
    """Take away a client with her dogs, cases, recipes, versions, batches, days and mails. What stays is that something was
    done, when and by whom of the practice, without what. Raises InputError where another name was typed or no reason is
    given; nothing is taken away then."""
    client = find_own(Client, who.practice, lock=True, pk=pk)
    if asked.name.strip() != client.name.strip():
        raise InputError("name", "type the client's name as it stands there")
    if len(asked.reason.strip()) < 3:
        raise InputError("reason", "say why: it is what stays in the audit trail")
    found = records_of(client)
    _overwrite()
    ours = set(User.objects.filter(practice=who.practice).values_list("username", flat=True))
    recipes = Recipe.objects.filter(case__in=_cases(client))
    with lifted(("events_event", "update"), ("kitchen_batchentry", "delete")):
        trail = _trail(client)
        # Read before: what tells of her is found by what is taken away.
        lines = list(trail.values_list("pk", flat=True))
        outside = trail.exclude(by__in=ours).values_list("pk", flat=True)
        _each(list(outside), by=SOMEBODY)
        _each(lines, data={ERASED: True})
        _mails(client).delete()
        Job.objects.filter(
            practice=who.practice, subject__in=list(recipes.values_list("pk", flat=True))
        ).delete()
        Batch.objects.filter(recipe__in=recipes).delete()
        client.delete()
    forget()
    log(
        who, EventKind.CLIENT_ERASED, None, None, dogs=found.dogs, cases=found.cases,
        signed=found.signed, reason=asked.reason.strip(),
    )  # fmt: skip
    return found


def _each(events: list[int], **fields: Any) -> None:
    for start in range(0, len(events), 500):
        Event.objects.filter(pk__in=events[start : start + 500]).update(**fields)


def _overwrite() -> None:
    """What is deleted is overwritten in the database's file, too."""
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA secure_delete=ON")
