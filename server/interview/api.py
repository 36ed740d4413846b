"""The intake, and the sheet that the owner fills in for it."""

from accounts.permissions import Work
from accounts.scoping import Actor, actor_of
from cases.queries import case_of
from django.http import HttpResponse
from records.links import found_by
from records.views import AddressView, address_view
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.case.intake_view import IntakeView
from wire.shapes import Many, answer, answer_many, endpoint, read_body

from .actions import (
    SettleIn,
    SheetIn,
    SheetLinkIn,
    close_sheet,
    give_sheet,
    send_sheet,
    settle,
)
from .models import SheetLink
from .views import OwnersSheetView, SentSheetView, intake_of, owners_sheet, sheets_of


class IntakeDetailView(APIView):
    """What intake still lacks, what stops the case, and what follows from what was said."""

    @endpoint(IntakeView)
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer(intake_of(case_of(request, pk)))


class SheetLinkListView(APIView):
    """Addresses by which the owner fills her sheet in."""

    work = Work.LOG

    @endpoint(Many(AddressView), errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer_many(AddressView, map(address_view, case_of(request, pk).sheet_links.all()))

    @endpoint(AddressView, SheetLinkIn, 201)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Make one; it can be written to the owner at once."""
        link = give_sheet(actor_of(request), pk, read_body(SheetLinkIn, request))
        return answer(address_view(link), status=201)


class SheetLinkDetailView(APIView):
    """One such address."""

    work = Work.LOG

    @endpoint(AddressView)
    def delete(self, request: Request, pk: int) -> HttpResponse:
        """Take it back."""
        return answer(address_view(close_sheet(actor_of(request), pk)))


class SentSheetListView(APIView):
    """Sheets that the owner sent."""

    @endpoint(Many(SentSheetView), errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer_many(SentSheetView, sheets_of(case_of(request, pk)))


class SettleView(APIView):
    """What came of the answers of a sheet."""

    @endpoint(Many(SentSheetView), SettleIn, errors=(400, 404))
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Say it; what is taken over is set in the case by itself."""
        case = settle(actor_of(request), pk, read_body(SettleIn, request))
        return answer_many(SentSheetView, sheets_of(case))


def _link_of(token: str) -> SheetLink:
    return found_by(SheetLink, token, "case__dog__client__practice", "case__practice")


class OwnersSheetDetailView(APIView):
    """The sheet of a dog, for whoever holds the owner's address: it is the secret, and nothing else is sent along."""

    permission_classes = [AllowAny]
    authentication_classes = []

    @endpoint(OwnersSheetView, errors=(400, 404))
    def get(self, request: Request, token: str) -> HttpResponse:
        return answer(owners_sheet(_link_of(token).case))

    @endpoint(OwnersSheetView, SheetIn, 201, errors=(400, 404))
    def post(self, request: Request, token: str) -> HttpResponse:
        """Send it; one that was kept already, by its key, is passed over."""
        link = _link_of(token)
        who = Actor(link.practice, "the owner, by a link")
        case = send_sheet(who, link.case_id, read_body(SheetIn, request))
        return answer(owners_sheet(case), status=201)
