"""The plan of a case."""

from accounts.scoping import actor_of
from cases.queries import case_of
from django.http import HttpResponse
from rest_framework.request import Request
from rest_framework.views import APIView
from wire.shapes import answer, endpoint, read_body

from .actions import PlanIn, plan_of, save_plan
from .views import PlanView, plan_view


class PlanDetailView(APIView):
    """What the dog is fed altogether."""

    @endpoint(PlanView, errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer(plan_view(plan_of(case_of(request, pk))))

    @endpoint(PlanView, PlanIn, errors=(400, 404, 409))
    def put(self, request: Request, pk: int) -> HttpResponse:
        asked = read_body(PlanIn, request)
        return answer(plan_view(save_plan(actor_of(request), case_of(request, pk), asked)))
