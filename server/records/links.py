"""Addresses that open one document without signing in."""

from datetime import datetime
from secrets import token_urlsafe
from typing import Any, Protocol

from django.core.signing import BadSignature, Signer
from django.http import Http404
from django.utils import timezone
from wainscot_core.errors import InputError

from .models import ShareLink

_signer = Signer(salt="records.links")
UNKNOWN = "This address is not known. Ask whoever sent it for a new one."


def fresh_key() -> str:
    """A key that cannot be guessed."""
    return token_urlsafe(32)


def token_of(link: ShareLink) -> str:
    """The link's part of its address: its key and our signature over it."""
    return _signer.sign(link.key)


def is_open(link: ShareLink) -> bool:
    """Whether the address still opens the document."""
    return link.revoked is None and timezone.now() < link.expires


class Address(Protocol):
    """A link that runs out, and can be taken back."""

    practice: Any
    revoked: datetime | None


def key_of(signer: Signer, token: str) -> str:
    """The key of an address. Raises Http404 for one that was never signed."""
    try:
        return signer.unsign(token)
    except BadSignature:
        raise Http404(UNKNOWN) from None


def shut(link: Address) -> str:
    """Why an address opens nothing any more."""
    why = "was taken back" if link.revoked else "has run out"
    return f"This link {why}. Ask {link.practice} for a new one."


def link_of(token: str) -> ShareLink:
    """The link of an address.

    Raises Http404 for an address that was never given out, InputError for one that opens nothing
    any more.
    """
    key = key_of(_signer, token)
    link = ShareLink.objects.select_related("snapshot", "practice").filter(key=key).first()
    if link is None:
        raise Http404(UNKNOWN)
    if not is_open(link):
        raise InputError("", link.closed or shut(link))
    found: ShareLink = link
    return found
