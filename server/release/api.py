"""Checks, decisions and the way out of a plan."""

from dataclasses import dataclass
from typing import Annotated

from accounts.scoping import actor_of, practice_of
from cases.queries import case_of
from cases.views import CaseView, case_view
from django.http import HttpResponse
from django.utils.text import slugify
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter
from pydantic import StringConstraints
from recipes.asks import recipe_of
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.boundary import Text160
from wainscot_core.errors import InputError
from wainscot_core.facts.handling import Texture
from wainscot_core.release.states import ReleaseState
from wire.shapes import Many, answer, answer_many, endpoint, read_body

from .actions import (
    AskVet,
    ConcernDecisionIn,
    IssueIn,
    check_plan,
    decide,
    issue,
    send_to_vet,
    take_back,
    take_back_decision,
    withdraw,
)
from .bundle import MOST_BYTES, case_files_of, case_zip, import_bundle
from .models import Release
from .queries import StepsOfCase, steps_view
from .views import ChecksView, IssuedView, checks_view, issued_view

# Some 30 ms each: a page is answered within a third of a second.
ISSUED_AT_ONCE = 10


@dataclass(frozen=True, kw_only=True)
class CheckIn:
    """What the version is called that is frozen, and what the food is like that its owner cooks."""

    name: Text160 = "checked"
    texture: Texture = Texture.CHUNKS


@dataclass(frozen=True, kw_only=True)
class ReasonIn:
    """Why."""

    reason: Annotated[str, StringConstraints(strip_whitespace=True, max_length=2000)]


class StepsView(APIView):
    """How far a case is: each of its steps, and what is to do next."""

    @endpoint(StepsOfCase)
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer(steps_view(case_of(request, pk)))


def _checks(request: Request, pk: int) -> HttpResponse:
    return answer(checks_view(recipe_of(request, pk)))


class ChecksDetailView(APIView):
    """What stands against a recipe, and how far it is on its way out."""

    @endpoint(ChecksView, errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        return _checks(request, pk)


class DecisionListView(APIView):
    """Decisions on what stands against a recipe."""

    @endpoint(ChecksView, ConcernDecisionIn)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Record one: who, when, why; it holds while nothing behind it changes."""
        decide(actor_of(request), pk, read_body(ConcernDecisionIn, request))
        return _checks(request, pk)


class DecisionDetailView(APIView):
    """One decision."""

    @endpoint(ChecksView)
    def delete(self, request: Request, pk: int) -> HttpResponse:
        """Take it back; that it was made stays known."""
        return _checks(request, take_back_decision(actor_of(request), pk).pk)


class CheckPlanView(APIView):
    """Freeze a recipe as a version that can go out."""

    @endpoint(ChecksView, CheckIn)
    def post(self, request: Request, pk: int) -> HttpResponse:
        asked = read_body(CheckIn, request)
        check_plan(actor_of(request), pk, asked.name, asked.texture)
        return _checks(request, pk)


class SendView(APIView):
    """Ask a vet to sign the checked version."""

    @endpoint(ChecksView, AskVet)
    def post(self, request: Request, pk: int) -> HttpResponse:
        send_to_vet(actor_of(request), pk, read_body(AskVet, request))
        return _checks(request, pk)


class TakeBackView(APIView):
    """Make a plan that is on its way out a draft again."""

    @endpoint(ChecksView, ReasonIn)
    def post(self, request: Request, pk: int) -> HttpResponse:
        take_back(actor_of(request), pk, read_body(ReasonIn, request).reason)
        return _checks(request, pk)


class IssueView(APIView):
    """Give an approved plan to the owner."""

    @endpoint(ChecksView, IssueIn)
    def post(self, request: Request, pk: int) -> HttpResponse:
        issue(actor_of(request), pk, read_body(IssueIn, request))
        return _checks(request, pk)


class WithdrawView(APIView):
    """Call an issued plan back."""

    @endpoint(ChecksView, ReasonIn)
    def post(self, request: Request, pk: int) -> HttpResponse:
        withdraw(actor_of(request), pk, read_body(ReasonIn, request).reason)
        return _checks(request, pk)


class BundleView(APIView):
    """A case as one ZIP: case files, versions as they were put before the vet, their papers."""

    @endpoint(OpenApiTypes.BINARY)
    def get(self, request: Request, pk: int) -> HttpResponse:
        case = case_of(request, pk)
        name = f"{slugify(case.dog.name) or 'case'}.zip"
        return HttpResponse(
            case_zip(case),
            content_type="application/zip",
            headers={"Content-Disposition": f'attachment; filename="{name}"'},
        )


class BundleImportView(APIView):
    """Make a case from such a ZIP."""

    parser_classes = [MultiPartParser]

    @endpoint(CaseView, OpenApiTypes.BINARY, 201, (400,))
    def post(self, request: Request) -> HttpResponse:
        """Every recipe of it is stored, or nothing is."""
        sent = request.FILES.get("file")
        if sent is None:
            raise InputError("file", "choose a ZIP that Wainscot wrote")
        if sent.size is None or sent.size > MOST_BYTES:
            raise InputError("file", f"is larger than {MOST_BYTES // 1_000_000} MB")
        case = import_bundle(actor_of(request), case_files_of(sent.read()))
        return answer(case_view(case_of(request, case.pk)), status=201)


class IssuedListView(APIView):
    """Plans that an owner has, the newest first, and what of them would be otherwise on today's facts. Each is computed
    anew, so they come a few at a time."""

    @endpoint(
        Many(IssuedView), errors=(400,),
        parameters=[OpenApiParameter("before", int, description="`release` of the last plan of the page before")],
    )  # fmt: skip
    def get(self, request: Request) -> HttpResponse:
        given = Release.objects.for_practice(practice_of(request))
        before = request.query_params.get("before", "")
        if before:
            if not (before.isascii() and before.isdigit() and len(before) < 19):
                raise InputError("before", "must be the number of a release")
            given = given.filter(pk__lt=int(before))
        found = (
            given
            .filter(state=ReleaseState.ISSUED)
            .select_related("frozen__snapshot", "recipe__case__dog__client__practice", "recipe__practice", "recipe__case__practice")
            .order_by("-pk")[:ISSUED_AT_ONCE]
        )  # fmt: skip
        return answer_many(IssuedView, map(issued_view, found))
