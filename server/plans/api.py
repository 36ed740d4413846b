"""The plan of a case."""

from dataclasses import dataclass
from typing import Annotated
from uuid import UUID

from accounts.scoping import actor_of, find_own, practice_of
from cases.queries import case_of
from django.http import HttpResponse
from drf_spectacular.utils import OpenApiParameter
from jobs.actions import cancel, look
from jobs.models import Job
from pydantic import Field
from recipes.api_formulation import AT_ONCE_SECONDS, POLL_SECONDS
from recipes.shopping import Shopping, shopping_of
from records.pages import days_asked
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView
from wainscot_core.changes import FieldChange
from wainscot_core.errors import InputError
from wire.shapes import answer, endpoint, read_body

from .actions import change_plan, plan_of
from .mending import CaseFaults, faults_of, mend_case
from .queries import plan_dossier
from .rotations import (
    ROTATION,
    LastRotation,
    RotationAsk,
    RotationJob,
    TakeRotation,
    again,
    begin_rotation,
    last_rotation,
    rotation_view,
    take_rotation,
)
from .views import PlanView, plan_view

DAYS = OpenApiParameter(
    "days", float, description="for how many days; as long as one round takes when not given"
)


@dataclass(frozen=True, kw_only=True)
class PlanChanges:
    """Fields of a plan to set, by path, each with what it stood at: turns.RECIPE (days, null for
    none), items.KEY (null takes it away), items.KEY.quantity and .kind, order."""

    changes: Annotated[tuple[FieldChange, ...], Field(min_length=1, max_length=200)]


class PlanDetailView(APIView):
    """What the dog is fed altogether."""

    @endpoint(PlanView, errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer(plan_view(plan_of(case_of(request, pk))))

    @endpoint(PlanView, PlanChanges, errors=(400, 404, 409))
    def patch(self, request: Request, pk: int) -> HttpResponse:
        """Set single fields; those that others changed meanwhile are told, not overwritten."""
        case = case_of(request, pk)
        asked = read_body(PlanChanges, request)
        changed = change_plan(actor_of(request), case, asked.changes)
        return answer(plan_view(changed))


class CaseFaultsView(APIView):
    """What of a case and its plan cannot be read any more."""

    @endpoint(CaseFaults)
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer(faults_of(case_of(request, pk)))

    @endpoint(CaseFaults, errors=(400, 404))
    def delete(self, request: Request, pk: int) -> HttpResponse:
        """Take it out, so that the rest can be read again. Answers with what was taken out, which the trail keeps."""
        return answer(CaseFaults(faults=mend_case(actor_of(request), pk)))


class RotationView(APIView):
    """Adjust the recipes of a plan together, so that the round holds."""

    @endpoint(LastRotation)
    def get(self, request: Request, pk: int) -> HttpResponse:
        """The user's last one, while the plan and its recipes are as they were."""
        return answer(last_rotation(actor_of(request), case_of(request, pk)))

    @endpoint(RotationJob, RotationAsk, also={202: RotationJob}, errors=(400, 404))
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Answers with the result when it is there within a second."""
        asked = read_body(RotationAsk, request)
        job = begin_rotation(actor_of(request), case_of(request, pk), asked)
        return _told(look(job, again, AT_ONCE_SECONDS))


class RotationJobView(APIView):
    """A round that is being adjusted: its progress, and its end."""

    @endpoint(RotationJob, also={202: RotationJob}, errors=(404,))
    def get(self, request: Request, job: UUID) -> HttpResponse:
        return _told(look(_round(request, job), again, POLL_SECONDS))

    @endpoint(None, status=204, errors=(404,))
    def delete(self, request: Request, job: UUID) -> Response:
        """Let it end with what it has."""
        cancel(_round(request, job))
        return Response(status=204)


class TakeRotationView(APIView):
    """Take what was found for the recipes of a plan."""

    @endpoint(PlanView, TakeRotation, errors=(400, 404))
    def post(self, request: Request, pk: int) -> HttpResponse:
        case = case_of(request, pk)
        take_rotation(actor_of(request), case, read_body(TakeRotation, request))
        return answer(plan_view(plan_of(case)))


def _round(request: Request, job: UUID) -> Job:
    """A round of the user's practice; 404 otherwise."""
    return find_own(Job, practice_of(request), pk=job, kind=ROTATION)


def _told(job: Job) -> HttpResponse:
    if job.error:
        raise InputError(job.error["field"], job.error["message"])
    return answer(rotation_view(job), status=200 if job.over else 202)


class PlanShoppingView(APIView):
    """The shop list of what is fed altogether."""

    @endpoint(Shopping, parameters=[DAYS])
    def get(self, request: Request, pk: int) -> HttpResponse:
        case = case_of(request, pk)
        plan = plan_of(case)
        dossier = plan_dossier(case, plan.turns, plan.items)
        return answer(shopping_of(case, dossier, days_asked(request)))
