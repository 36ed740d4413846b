"""Addresses that open one document without signing in."""

from secrets import token_urlsafe

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


def link_of(token: str) -> ShareLink:
    """The link of an address.

    Raises Http404 for an address that was never given out, InputError for one that opens nothing
    any more.
    """
    try:
        key = _signer.unsign(token)
    except BadSignature:
        raise Http404(UNKNOWN) from None
    link = ShareLink.objects.select_related("snapshot", "practice").filter(key=key).first()
    if link is None:
        raise Http404(UNKNOWN)
    if not is_open(link):
        if link.closed:
            raise InputError("", link.closed)
        why = "was taken back" if link.revoked else "has run out"
        raise InputError("", f"This link {why}. Ask {link.practice} for a new one.")
    found: ShareLink = link
    return found
