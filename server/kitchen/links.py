"""The owner's address to cook by: it opens one batch, without an account, for a while."""

from django.core.signing import Signer
from django.http import Http404
from django.utils import timezone
from records.links import UNKNOWN, key_of, shut
from wainscot_core.errors import InputError

from .models import CookLink

# Another salt than that of documents and of the vet's page: an address of one kind never opens another.
_signer = Signer(salt="kitchen.cook")


def cook_token(link: CookLink) -> str:
    """The link's part of its address."""
    return _signer.sign(link.key)


def cook_path(link: CookLink) -> str:
    """The address of a link."""
    return f"/cook/{cook_token(link)}"


def is_open(link: CookLink) -> bool:
    """Whether the address still opens the batch."""
    return link.revoked is None and timezone.now() < link.expires and not link.batch.thrown


def cook_link_of(token: str) -> CookLink:
    """The link of an address.

    Raises Http404 for one that was never given out, InputError for one that opens nothing any more.
    """
    key = key_of(_signer, token)
    related = (
        "batch__recipe__case__dog__client__practice", "batch__recipe__case__practice",
        "batch__release_version", "practice",
    )  # fmt: skip
    found = CookLink.objects.select_related(*related).filter(key=key).first()
    if found is None:
        raise Http404(UNKNOWN)
    link: CookLink = found
    if link.batch.thrown:
        raise InputError("", f"This batch is not to be fed: {link.batch.thrown}")
    if link.revoked is not None or timezone.now() >= link.expires:
        raise InputError("", shut(link))
    return link
