"""What is put down of a dog after its plan was issued, and what it says."""

from accounts.scoping import actor_of
from cases.queries import case_of
from django.http import HttpResponse
from rest_framework.request import Request
from rest_framework.views import APIView
from wire.shapes import answer, endpoint, read_body

from .actions import FollowIn, StrikeIn, put_down_day, strike
from .views import FollowView, follow_view


class FollowDetailView(APIView):
    """A case after its plan was issued."""

    @endpoint(FollowView, errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer(follow_view(case_of(request, pk)))


class FollowListView(APIView):
    """Days of a case."""

    @endpoint(FollowView, FollowIn, 201)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Put a day down; one that was kept already, by its key, is passed over."""
        case = put_down_day(actor_of(request), pk, read_body(FollowIn, request))
        return answer(follow_view(case), status=201)


class FollowStrikeView(APIView):
    """Whether an entry counts."""

    @endpoint(FollowView, StrikeIn, errors=(400, 404, 409))
    def post(self, request: Request, pk: int) -> HttpResponse:
        return answer(follow_view(strike(actor_of(request), pk, read_body(StrikeIn, request))))
