"""Texts of a practice: kept, changed, and filled for whom they are about."""

from dataclasses import dataclass
from typing import Annotated

from accounts.conventions import conventions_of
from accounts.scoping import Actor, find_own, looked_at
from cases.models import Case, Client
from cases.queries import conventions_for
from django.db import transaction
from django.utils import timezone
from events.log import log
from events.models import EventKind
from pydantic import StringConstraints
from wainscot_core.boundary import Name80, Whole
from wainscot_core.conventions import day
from wainscot_core.errors import InputError
from wainscot_core.office.texts import Mark, check_text, filled

from .models import PracticeText

MOST_TEXTS = 200


@dataclass(frozen=True, kw_only=True)
class TextIn:
    """A text as it is kept. version: as it was looked at, None for a new one."""

    name: Name80
    text: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=4000)]
    version: Whole | None = None


@dataclass(frozen=True, kw_only=True)
class TextView:
    """A text as it is kept, and filled for whom it is asked for; what is not known stays in braces."""

    id: int
    version: int
    name: str
    text: str
    filled: str


def texts_of(who: Actor, case: Case | None, client: Client | None) -> tuple[TextView, ...]:
    """The texts of a practice, by name, filled for a dog, an owner, or nobody."""
    client = case.dog.client if case is not None else client
    written = conventions_for(client) if client is not None else conventions_of(who.practice)
    facts = {
        Mark.PRACTICE: who.practice.name,
        Mark.CONSULTANT: who.name,
        Mark.TODAY: day(written, timezone.localdate(), long=True),
        Mark.OWNER: client.name if client is not None else "",
        Mark.DOG: case.dog.name if case is not None else "",
    }
    rows = PracticeText.objects.for_practice(who.practice)
    return tuple(
        TextView(
            id=row.pk, version=row.version, name=row.name, text=row.text, filled=filled(row.text, facts)
        )
        for row in rows
    )  # fmt: skip


@transaction.atomic
def keep_text(who: Actor, pk: int | None, asked: TextIn) -> None:
    """Keep a text, a new one or another one in its place. Raises InputError naming the field, StaleWriteError."""
    rows = PracticeText.objects.for_practice(who.practice)
    if rows.filter(name__iexact=asked.name).exclude(pk=pk).exists():
        raise InputError("name", "is the name of another text")
    check_text(asked.text)
    if pk is None:
        if rows.count() >= MOST_TEXTS:
            raise InputError("", f"a practice keeps at most {MOST_TEXTS} texts")
        row = PracticeText(practice=who.practice)
    else:
        row = find_own(PracticeText, who.practice, lock=True, pk=pk)
        looked_at(row, asked.version, lambda: texts_of(who, None, None))
        row.version += 1
    row.name, row.text = asked.name, asked.text
    row.save()
    log(who, EventKind.TEXT_KEPT, None, row.pk, name=row.name)


@transaction.atomic
def drop_text(who: Actor, pk: int) -> None:
    """Take a text away; what was written with it stays as it was written."""
    row = find_own(PracticeText, who.practice, lock=True, pk=pk)
    log(who, EventKind.TEXT_DROPPED, None, row.pk, name=row.name)
    row.delete()
