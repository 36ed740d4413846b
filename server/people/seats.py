"""The browsers somebody is signed in with: opened at sign-in, shut by time, by hand, or with the password."""

import time
from collections.abc import Iterable
from datetime import UTC, datetime
from typing import Any

from accounts.models import User
from django.conf import settings
from django.contrib.auth import logout
from django.contrib.sessions.models import Session
from django.http import HttpRequest
from django.utils import timezone

from .guard import address_of
from .models import Seat

# How often what was last done is written down.
MARK_SECONDS = 60


def take_seat(sender: Any, request: HttpRequest, user: User, **_: Any) -> None:
    """Somebody has signed in (Django's signal)."""
    session = request.session
    if session.session_key is None:
        session.save()
    now = time.time()
    session["began"] = session["seen"] = now
    at = datetime.fromtimestamp(now, UTC)
    Seat.objects.update_or_create(
        session_key=session.session_key,
        defaults={
            "user": user, "began": at, "seen": at, "address": address_of(request) or None,
            "agent": request.META.get("HTTP_USER_AGENT", "")[:200],
        },
    )  # fmt: skip


def keep_seat(request: HttpRequest) -> None:
    """Whoever did nothing for too long, or signed in too long ago, is signed out; a clock that was set back keeps nobody in
    longer and throws nobody out."""
    session = request.session
    now = time.time()
    if "began" not in session:
        # Signed in before seats were kept.
        take_seat(None, request, request.user)  # type: ignore[arg-type]
        return
    if (
        now - session["seen"] > settings.IDLE_SECONDS
        or now - session["began"] > settings.LONGEST_SECONDS
    ):
        Seat.objects.filter(session_key=session.session_key).delete()
        logout(request)
    elif not 0 <= now - session["seen"] < MARK_SECONDS:
        session["began"] = min(session["began"], now)
        session["seen"] = now
        Seat.objects.filter(session_key=session.session_key).update(seen=timezone.now())


def seats_of(user: User) -> list[Seat]:
    """Where somebody is signed in now, the last seen first."""
    seats = list(Seat.objects.filter(user=user))
    keys = [s.session_key for s in seats]
    live = Session.objects.filter(session_key__in=keys, expire_date__gt=timezone.now())
    there = set(live.values_list("session_key", flat=True))
    since = timezone.now().timestamp() - settings.IDLE_SECONDS
    return [s for s in seats if s.session_key in there and s.seen.timestamp() >= since]


def shut(seats: Iterable[Seat]) -> int:
    """End these sessions; how many."""
    pks = [s.pk for s in seats]
    keys = list(Seat.objects.filter(pk__in=pks).values_list("session_key", flat=True))
    Session.objects.filter(session_key__in=keys).delete()
    Seat.objects.filter(pk__in=pks).delete()
    return len(keys)


def shut_all(user: User, but: str | None = None) -> int:
    """End every session of somebody, except the one of this key; how many."""
    return shut(Seat.objects.filter(user=user).exclude(session_key=but or ""))


def shut_here(request: HttpRequest) -> None:
    """Give up the seat of whoever signs out."""
    Seat.objects.filter(session_key=request.session.session_key).delete()
