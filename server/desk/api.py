"""What is due today."""

from accounts.scoping import actor_of, practice_of
from django.http import HttpResponse
from rest_framework.request import Request
from rest_framework.views import APIView
from wire.shapes import answer, endpoint, read_body

from .actions import DoneIn, PutOffIn, TakenBackIn, put_off, say_done, take_back
from .views import DeskView, desk_view


class DeskDetailView(APIView):
    """The desk of the practice."""

    @endpoint(DeskView, errors=())
    def get(self, request: Request) -> HttpResponse:
        return answer(desk_view(practice_of(request)))


class DueDoneView(APIView):
    """Something that is due of a case."""

    @endpoint(DeskView, DoneIn)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """It was done."""
        case = say_done(actor_of(request), pk, read_body(DoneIn, request))
        return answer(desk_view(case.practice))


class DuePutOffView(APIView):
    """Something that is due of a case."""

    @endpoint(DeskView, PutOffIn)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """It is put off."""
        case = put_off(actor_of(request), pk, read_body(PutOffIn, request))
        return answer(desk_view(case.practice))


class DueTakenBackView(APIView):
    """What was said of something that is due."""

    @endpoint(DeskView, TakenBackIn)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """It was not so."""
        case = take_back(actor_of(request), pk, read_body(TakenBackIn, request))
        return answer(desk_view(case.practice))
