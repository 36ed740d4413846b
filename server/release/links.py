"""The vet's address: it opens one plan, without an account, while it is asked for."""

from django.core.signing import BadSignature, Signer
from django.http import Http404
from django.utils import timezone
from records.links import UNKNOWN
from wainscot_core.errors import InputError

from .models import VetRequest

# Another salt than that of documents: an address of one kind never opens the other.
_signer = Signer(salt="release.vet")


def vet_path(request: VetRequest) -> str:
    """The address of a request."""
    return f"/v/{_signer.sign(request.key)}"


def request_of(token: str) -> VetRequest:
    """The request of an address.

    Raises Http404 for one that was never given out, InputError for one that opens nothing any more.
    """
    try:
        key = _signer.unsign(token)
    except BadSignature:
        raise Http404(UNKNOWN) from None
    related = ("frozen__snapshot", "frozen__recipe__case", "release", "practice")
    found = VetRequest.objects.select_related(*related).filter(key=key).first()
    if found is None:
        raise Http404(UNKNOWN)
    request: VetRequest = found
    if request.closed:
        raise InputError("", request.closed)
    if timezone.now() >= request.expires:
        raise InputError("", f"This link has run out. Ask {request.practice} for a new one.")
    return request
