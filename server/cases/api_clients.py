"""Clients with their dogs, and the practice itself."""

from dataclasses import dataclass
from typing import Annotated

from accounts.clocks import known_zones
from accounts.conventions import (
    ConventionsView,
    conventions_of,
    conventions_view,
    invoicing_of,
    letterhead_of,
)
from accounts.models import Practice
from accounts.permissions import Work
from accounts.scoping import actor_of, own, practice_of
from django.http import HttpResponse
from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter
from pydantic import Field
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.changes import FieldChange
from wainscot_core.office.invoice import Invoicing
from wainscot_core.snapshot.snapshot import Letterhead
from wire.shapes import Many, answer, answer_many, endpoint, read_body

from .actions import change_client, change_practice
from .finding import MOST_WORDS, folded
from .models import Case, Client
from .queries import conventions_for
from .views import CaseRow, ClientView, case_row, client_view


@dataclass(frozen=True, kw_only=True)
class ClientRow:
    """A client in a list, with the names of her dogs: which of two of one name is meant."""

    id: int
    name: str
    dogs: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class ClientPage:
    """A client with the cases of all her dogs. written: how things are written for her."""

    client: ClientView
    written: ConventionsView
    practice: ConventionsView
    cases: tuple[CaseRow, ...]


@dataclass(frozen=True, kw_only=True)
class PracticeView:
    """A practice: its name, how it writes things, what stands under its name on paper and on its invoices, and whose clock it
    lives by. zones: those there are; zone: the one that holds while none is chosen."""

    name: str
    conventions: ConventionsView
    letterhead: Letterhead
    invoicing: Invoicing
    time_zone: str
    zones: tuple[str, ...]
    zone: str


@dataclass(frozen=True, kw_only=True)
class Changes:
    """Fields to set, by path, each with what it stood at."""

    changes: Annotated[tuple[FieldChange, ...], Field(min_length=1, max_length=100)]


# So many clients are offered while a name is typed.
MOST_CLIENTS = 20


def practice_view(practice: Practice) -> PracticeView:
    """A stored practice."""
    return PracticeView(
        name=practice.name, conventions=conventions_view(conventions_of(practice)),
        letterhead=letterhead_of(practice), invoicing=invoicing_of(practice),
        time_zone=practice.time_zone, zones=known_zones(),
        zone=str(timezone.get_default_timezone()),
    )  # fmt: skip


class PracticeDetailView(APIView):
    """The practice of the user."""

    work = Work.RUN

    @endpoint(PracticeView, errors=())
    def get(self, request: Request) -> HttpResponse:
        return answer(practice_view(practice_of(request)))

    @endpoint(PracticeView, Changes, errors=(400, 409))
    def patch(self, request: Request) -> HttpResponse:
        """Set single fields: name, conventions.body and so on."""
        changes = read_body(Changes, request).changes
        return answer(practice_view(change_practice(actor_of(request), changes)))


class ClientListView(APIView):
    """The practice's clients, by name; the first of them."""

    @endpoint(
        Many(ClientRow),
        errors=(),
        operation_id="clients_list",
        parameters=[OpenApiParameter("words", str, description="all of them stand in her name")],
    )
    def get(self, request: Request) -> HttpResponse:
        every = Client.objects.for_practice(practice_of(request)).prefetch_related("dogs")
        name = folded(request.query_params.get("words", ""))
        like = every.exclude(find_text=name)
        for word in name.split()[:MOST_WORDS]:
            like = like.filter(find_text__contains=word)
        # Those of that very name first, however many others have it within theirs.
        clients = [
            *every.filter(find_text=name).order_by("pk"),
            *like.order_by("find_text", "pk")[:MOST_CLIENTS],
        ]
        return answer_many(
            ClientRow,
            (
                ClientRow(id=c.pk, name=c.name, dogs=tuple(d.name for d in c.dogs.all()))
                for c in clients
            ),
        )


class ClientDetailView(APIView):
    """A client with all her dogs."""

    @endpoint(ClientPage)
    def get(self, request: Request, pk: int) -> HttpResponse:
        return self.page(request, pk)

    @endpoint(ClientPage, Changes, errors=(400, 404, 409))
    def patch(self, request: Request, pk: int) -> HttpResponse:
        """Set single fields: name, email, phone, notes, conventions.body and so on."""
        change_client(actor_of(request), pk, read_body(Changes, request).changes)
        return self.page(request, pk)

    def page(self, request: Request, pk: int) -> HttpResponse:
        """A client of the practice; 404 for anyone else's."""
        client = own(Client, request, pk, "practice")
        cases = (
            Case.objects.for_practice(client.practice)
            .filter(dog__client=client)
            .select_related("dog__client")
            .prefetch_related("recipes")
            .order_by("dog__name", "-updated")
        )
        return answer(
            ClientPage(
                client=client_view(client),
                written=conventions_view(conventions_for(client)),
                practice=conventions_view(conventions_of(client.practice)),
                cases=tuple(map(case_row, cases)),
            )
        )
