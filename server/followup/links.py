"""The owner's address to put days down by: it opens one dog's diary, without an account, for a while."""

from django.core.signing import Signer
from django.http import Http404
from django.utils import timezone
from records.links import UNKNOWN, key_of, shut
from wainscot_core.errors import InputError

from .models import DiaryLink

# Another salt than that of other addresses: one of another kind never opens a diary.
_signer = Signer(salt="followup.diary")


def diary_path(link: DiaryLink) -> str:
    """The address of a link."""
    return f"/diary/{_signer.sign(link.key)}"


def is_open(link: DiaryLink) -> bool:
    """Whether the address still opens the diary."""
    return link.revoked is None and timezone.now() < link.expires


def diary_link_of(token: str) -> DiaryLink:
    """The link of an address.

    Raises Http404 for one that was never given out, InputError for one that opens nothing any more.
    """
    related = ("case__dog__client__practice", "case__practice", "practice")
    found = DiaryLink.objects.select_related(*related).filter(key=key_of(_signer, token)).first()
    if found is None:
        raise Http404(UNKNOWN)
    link: DiaryLink = found
    if not is_open(link):
        raise InputError("", shut(link))
    return link
