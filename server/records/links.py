"""Addresses that open one thing without signing in: made, found again by what stands in them, taken back."""

from datetime import timedelta
from secrets import token_urlsafe
from typing import Any, TypeVar

from accounts.clocks import live_by
from accounts.scoping import Actor
from django.core.signing import BadSignature
from django.http import Http404
from django.utils import timezone
from wainscot_core.errors import InputError

from .models import Address

A = TypeVar("A", bound=Address)
UNKNOWN = "This address is not known. Ask whoever sent it for a new one."


def fresh_key() -> str:
    """A key that cannot be guessed."""
    return token_urlsafe(32)


def give(kind: type[A], who: Actor, days: int, most_days: int, **of: Any) -> A:
    """A new address that opens for so many days. of: what it opens. Raises InputError for days that cannot be."""
    if not 1 <= days <= most_days:
        raise InputError("days", f"must be 1 to {most_days}")
    until = timezone.now() + timedelta(days=days)
    made = kind(practice=who.practice, key=fresh_key(), by=who.name, expires=until, **of)
    made.save()
    return made


def take_back(link: Address) -> bool:
    """It opens nothing any more; whether it did until now. link: locked."""
    if link.revoked is not None:
        return False
    link.revoked = timezone.now()
    link.version += 1
    link.save()
    return True


def found_by(kind: type[A], token: str, *related: str) -> A:
    """The address of a token. related: what is asked for with it.

    Raises Http404 for one that was never given out, InputError for one that opens nothing any more.
    """
    try:
        key = kind.signer().unsign(token)
    except BadSignature:
        raise Http404(UNKNOWN) from None
    found: A | None = kind.objects.select_related(*related, "practice").filter(key=key).first()
    if found is None:
        raise Http404(UNKNOWN)
    if not found.is_open:
        raise InputError("", found.shut)
    # Whoever comes by it is not signed in: the days are those of the practice.
    live_by(found.practice)
    return found
