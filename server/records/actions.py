"""Writes to what is kept and shared."""

import zlib
from datetime import timedelta

from accounts.scoping import Actor, find_own
from cases.models import Case
from django.db import transaction
from django.utils import timezone
from events.log import log
from events.models import Event, EventKind
from wainscot_core.boundary import dump
from wainscot_core.documents import document
from wainscot_core.documents.paper import DocumentKind
from wainscot_core.errors import InputError
from wainscot_core.kitchen.change_over import ChangePlan
from wainscot_core.snapshot.snapshot import Snapshot as Kept
from wainscot_core.snapshot.snapshot import canonical, digest_of

from .links import give, take_back
from .models import ShareLink, Snapshot

MOST_DAYS_OPEN = 366
MOST_LINKS = 50
TOLD_AGAIN_HOURS = 1


@transaction.atomic
def keep_snapshot(case: Case, kept: Kept) -> Snapshot:
    """Store a snapshot; the same one is stored once."""
    text = canonical(kept)
    stored, _ = Snapshot.objects.get_or_create(
        case=case, digest=digest_of(text),
        defaults={"practice": case.practice, "content": zlib.compress(text.encode())},
    )  # fmt: skip
    return stored


@transaction.atomic
def share(
    who: Actor,
    snapshot: Snapshot,
    kind: DocumentKind,
    edition: str,
    number: int,
    audience: str,
    days: int,
    approved: str = "",
    change: ChangePlan | None = None,
) -> ShareLink:
    """A link to a document of a snapshot for so many days. number: the version's; approved: who signed it; change: the
    change-over that goes with it.

    Raises InputError for a document that cannot be made of it, no audience, or days that cannot be.
    """
    if not audience.strip():
        raise InputError("audience", "say for whom the link is")
    if snapshot.links.count() >= MOST_LINKS:
        raise InputError("", f"a version has at most {MOST_LINKS} links")
    document(kind, snapshot.kept, edition, approved)
    link = give(
        ShareLink, who, days, MOST_DAYS_OPEN, snapshot=snapshot, document=kind, edition=edition,
        approved=approved, change=dump(change) if change else {}, audience=audience.strip(),
    )  # fmt: skip
    log(
        who, EventKind.LINK_MADE, snapshot.case_id, link.pk, document=kind, number=number,
        audience=link.audience, until=link.expires.date().isoformat(),
    )  # fmt: skip
    return link


@transaction.atomic
def revoke(who: Actor, pk: int) -> ShareLink:
    """Take a link back: its address opens nothing any more."""
    link = find_own(ShareLink, who.practice, "snapshot", lock=True, pk=pk)
    if take_back(link):
        log(
            who, EventKind.LINK_REVOKED, link.snapshot.case_id, link.pk, document=link.document,
            audience=link.audience,
        )  # fmt: skip
    return link


@transaction.atomic
def close_links(who: Actor, snapshot: Snapshot, words: str) -> None:
    """Take back every link to a snapshot. words: what who opens one is told instead."""
    for link in snapshot.links.select_for_update().filter(revoked=None):
        link.closed = words
        take_back(link)
        log(
            who, EventKind.LINK_REVOKED, snapshot.case_id, link.pk, document=link.document,
            audience=link.audience,
        )  # fmt: skip


def opened_by(link: ShareLink) -> None:
    """Someone opened a link: the practice can see that it arrived. Told once an hour, so that a page
    that is reloaded, or someone who means no good, does not fill the log."""
    recently = timezone.now() - timedelta(hours=TOLD_AGAIN_HOURS)
    told = Event.objects.for_practice(link.practice).filter(
        kind=EventKind.LINK_OPENED, subject=link.pk, at__gte=recently
    )
    if told.exists():
        return
    who = Actor(link.practice, f"link for {link.audience}")
    log(who, EventKind.LINK_OPENED, link.snapshot.case_id, link.pk, document=link.document)
