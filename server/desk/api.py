"""What is due today."""

from accounts.permissions import Work
from accounts.scoping import actor_of, practice_of
from django.http import HttpResponse
from records.views import AddressView, address_view
from rest_framework.request import Request
from rest_framework.views import APIView
from wire.shapes import Many, answer, answer_many, endpoint, read_body

from .actions import DoneIn, PutOffIn, RemindIn, TakenBackIn, put_off, remind, say_done, take_back
from .feeds import close_feed, give_feed
from .models import DeskFeed
from .views import DeskView, desk_view


class DeskDetailView(APIView):
    """The desk of the practice."""

    @endpoint(DeskView, errors=())
    def get(self, request: Request) -> HttpResponse:
        return answer(desk_view(practice_of(request)))


class DueDoneView(APIView):
    """Something that is due of a case."""

    work = Work.LOG

    @endpoint(DeskView, DoneIn)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """It was done."""
        case = say_done(actor_of(request), pk, read_body(DoneIn, request))
        return answer(desk_view(case.practice))


class DuePutOffView(APIView):
    """Something that is due of a case."""

    work = Work.LOG

    @endpoint(DeskView, PutOffIn)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """It is put off."""
        case = put_off(actor_of(request), pk, read_body(PutOffIn, request))
        return answer(desk_view(case.practice))


class DueTakenBackView(APIView):
    """What was said of something that is due."""

    work = Work.LOG

    @endpoint(DeskView, TakenBackIn)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """It was not so."""
        case = take_back(actor_of(request), pk, read_body(TakenBackIn, request))
        return answer(desk_view(case.practice))


class DueRemindView(APIView):
    """Something that is due of a case."""

    work = Work.LOG

    @endpoint(DeskView, RemindIn)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """The owner is written to."""
        case = remind(actor_of(request), pk, read_body(RemindIn, request))
        return answer(desk_view(case.practice))


class FeedListView(APIView):
    """Addresses by which calendars read the desk."""

    work = Work.LOG

    @endpoint(Many(AddressView), errors=())
    def get(self, request: Request) -> HttpResponse:
        every = DeskFeed.objects.for_practice(practice_of(request))
        return answer_many(AddressView, (address_view(feed) for feed in every if feed.is_open))

    @endpoint(AddressView, status=201, errors=(400,))
    def post(self, request: Request) -> HttpResponse:
        """Make one."""
        return answer(address_view(give_feed(actor_of(request))), status=201)


class FeedDetailView(APIView):
    """One such address."""

    work = Work.LOG

    @endpoint(AddressView, errors=(404,))
    def delete(self, request: Request, pk: int) -> HttpResponse:
        """Take it back."""
        return answer(address_view(close_feed(actor_of(request), pk)))
