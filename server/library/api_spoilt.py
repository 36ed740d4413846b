"""What of a practice's library cannot be read any more, for its owners."""

from dataclasses import dataclass

from accounts.permissions import Work
from accounts.scoping import Actor, actor_of, find_own, practice_of
from django.db import transaction
from django.http import Http404, HttpResponse
from events.log import log
from events.models import EventKind
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView
from wainscot_core.errors import InputError
from wire.shapes import answer, endpoint

from .actions import touch
from .models import OwnFood, PracticeFood
from .spoilt import KINDS, Spoilt, SpoiltKind, fault_of, held_in, spoilt_of, spoilt_row

# As much of it as the trail keeps.
MOST_KEPT = 20_000


@dataclass(frozen=True, kw_only=True)
class SpoiltPage:
    """Every row of the library that cannot be read; () when all can."""

    rows: tuple[Spoilt, ...]


class SpoiltView(APIView):
    """What cannot be read: nothing is computed with it until it is set aside and entered anew."""

    looking = Work.RUN

    @endpoint(SpoiltPage, errors=())
    def get(self, request: Request) -> HttpResponse:
        return answer(SpoiltPage(rows=tuple(spoilt_of(practice_of(request)))))


class SpoiltAsideView(APIView):
    """One of them."""

    work = Work.RUN

    @endpoint(None, status=204, errors=(400, 404))
    def delete(self, request: Request, pk: int, kind: str) -> Response:
        """Set it aside: the trail keeps what stood there, and it can be entered anew."""
        if kind not in set(SpoiltKind):
            raise Http404("Nothing of this kind.")
        set_aside(actor_of(request), SpoiltKind(kind), pk)
        return Response(status=204)


@transaction.atomic
def set_aside(who: Actor, kind: SpoiltKind, pk: int) -> None:
    """Put what a row of the library held into the trail. An own food stays, with nothing known of it; a note says nothing
    any more; what stood on the shelf, and a copy of a standard, are gone. Raises InputError for one that can be read."""
    row = find_own(KINDS[kind][0], who.practice, lock=True, pk=pk)
    why = fault_of(kind, row)
    if why is None:
        raise InputError("", "this can be read: there is nothing to set aside")
    told = spoilt_row(kind, row, why)
    log(
        who, EventKind.SET_ASIDE, None, pk,
        field=f"{kind.value} {told.name}", held=held_in(kind, row)[:MOST_KEPT],
    )  # fmt: skip
    if isinstance(row, OwnFood):
        row.values, row.revision, row.version = {}, row.revision + 1, row.version + 1
        row.save()
    elif isinstance(row, PracticeFood):
        row.strengths, row.measures, row.version = {}, {}, row.version + 1
        row.save()
    else:
        row.delete()
    touch(who.practice)
