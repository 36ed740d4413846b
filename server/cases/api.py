"""Cases: list, start, open, change, put away, delete; their intake, energy and targets."""

from dataclasses import dataclass, field
from typing import Annotated

from accounts.conventions import conventions_of
from accounts.permissions import Work
from accounts.scoping import actor_of, practice_of
from django.http import HttpResponse
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter
from events.models import LOOKS, Event
from events.words import EventPage, page_of
from library.facts import reference
from pydantic import Field
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView
from wainscot_core.boundary import (
    Name20,
    Name40,
    Name80,
    Name120,
    Number,
    Text120,
    Text300,
    Text400,
    YesNo,
    dump,
    read_exact,
)  # fmt: skip
from wainscot_core.case.command import CommandRead, read_command
from wainscot_core.case.energy_view import EnergyView, energy_view
from wainscot_core.case.targets_view import Targets, targets_csv, targets_view
from wainscot_core.changes import FieldChange
from wainscot_core.dog.first_chips import FirstLine, opened
from wainscot_core.dog.first_line import read_first_line
from wainscot_core.dog.record import BlankIsNone, Kg, Months, read_record
from wainscot_core.targets.standards import Bound, Decision
from wire.shapes import Many, answer, answer_many, download, endpoint, page_asked, read_body

from .actions import (
    Owner,
    change_fields,
    decide,
    delete_case,
    set_archived,
    set_guided,
    start_case_for,
)
from .finding import CaseOrder, Wanted
from .models import Case
from .queries import case_of, record_energy, record_targets
from .records import record_of
from .views import CasePage, CaseView, case_page, case_view

EVENTS_A_PAGE = 100


@dataclass(frozen=True, kw_only=True)
class NewCase:
    """A case from the little that is needed to start: of a client there is, or of a new one. another: a
    new client, though there is one of that name. line: the first line about the dog, of which all that it tells beside
    name, owner, weight and breed is taken, but what is left_out (ids of its chips); stages: of its diagnoses, by chip."""

    client_name: Text120 = ""
    client_id: int | None = None
    another: YesNo = False
    dog_name: Name80
    weight_kg: Kg
    breed: Text120 = ""
    age_months: Annotated[Months | None, BlankIsNone] = None
    line: Text400 = ""
    left_out: Annotated[tuple[Name120, ...], Field(max_length=100)] = ()
    stages: Annotated[dict[Name120, Name40], Field(max_length=100)] = field(default_factory=dict)


@dataclass(frozen=True, kw_only=True)
class LineAsk:
    """The first line about a dog."""

    text: Text400 = ""


@dataclass(frozen=True, kw_only=True)
class CaseChanges:
    """Fields of a case's record to set, by path, each with what it stood at."""

    changes: Annotated[tuple[FieldChange, ...], Field(min_length=1, max_length=200)]


@dataclass(frozen=True, kw_only=True)
class Archive:
    """Whether a case is put away."""

    archived: YesNo


@dataclass(frozen=True, kw_only=True)
class GuideIn:
    """Whether one is led from step to step."""

    guided: YesNo


@dataclass(frozen=True, kw_only=True)
class DecisionIn:
    """A decision about a bound. value null takes the bound away; undo forgets the decision."""

    key: Name20
    bound: Bound
    value: Number | None = None
    by: Text120 = ""
    reason: Text300 = ""
    undo: YesNo = False


@dataclass(frozen=True, kw_only=True)
class StageChoice:
    """A stage of a condition."""

    id: str
    name: str


@dataclass(frozen=True, kw_only=True)
class ConditionChoice:
    """A condition that can be chosen, with its stages."""

    id: str
    name: str
    stages: tuple[StageChoice, ...]


class CaseListView(APIView):
    """The practice's cases."""

    @endpoint(
        CasePage,
        errors=(400,),
        operation_id="cases_list",
        parameters=[
            OpenApiParameter("words", str, description="all of them stand in dog, client, breed, title or condition"),
            OpenApiParameter("condition", str, description="id of a condition"),
            OpenApiParameter("archived", bool),
            OpenApiParameter("order", str, enum=[o.value for o in CaseOrder]),
            OpenApiParameter("page", int, description="from 1"),
        ],
    )  # fmt: skip
    def get(self, request: Request) -> HttpResponse:
        asked: dict[str, object] = {k: request.query_params.get(k) for k in request.query_params}
        asked.pop("page", None)
        if asked.get("archived") in ("true", "false"):
            asked["archived"] = asked["archived"] == "true"
        wanted = read_exact(Wanted, asked, typed=True)
        return answer(case_page(practice_of(request), wanted, page_asked(request)))

    @endpoint(CaseView, NewCase, 201, (400,))
    def post(self, request: Request) -> HttpResponse:
        new = read_body(NewCase, request)
        dog = {
            "name": new.dog_name, "weight_kg": new.weight_kg, "breed": new.breed,
            "age_months": new.age_months,
        }  # fmt: skip
        facts = reference().line_facts
        record = opened(
            facts.conditions, read_first_line(facts, new.line), read_record({"dog": dog}),
            frozenset(new.left_out), new.stages,
        )  # fmt: skip
        owner = Owner(new.client_id, new.client_name, new.another)
        case = start_case_for(actor_of(request), owner, dump(record))
        return answer(case_view(case_of(request, case.pk)), status=201)


class FirstLineView(APIView):
    """Read the first line about a dog into facts to confirm. Nothing is stored."""

    work = Work.READ

    @endpoint(FirstLine, LineAsk, errors=(400,))
    def post(self, request: Request) -> HttpResponse:
        return answer(read_first_line(reference().line_facts, read_body(LineAsk, request).text))


class CaseDetailView(APIView):
    """One case."""

    @endpoint(CaseView)
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer(case_view(case_of(request, pk)))

    @endpoint(CaseView, CaseChanges, errors=(400, 404, 409))
    def patch(self, request: Request, pk: int) -> HttpResponse:
        """Set single fields; those that others changed meanwhile are told, not overwritten."""
        change_fields(actor_of(request), pk, read_body(CaseChanges, request).changes)
        return answer(case_view(case_of(request, pk)))

    @endpoint(None, status=204, errors=(404,))
    def delete(self, request: Request, pk: int) -> Response:
        """Delete the case with its recipes, versions and plan."""
        delete_case(actor_of(request), pk)
        return Response(status=204)


class ArchiveView(APIView):
    """Put a case away, or take it back."""

    @endpoint(None, Archive, 204, (404,))
    def post(self, request: Request, pk: int) -> Response:
        set_archived(actor_of(request), pk, read_body(Archive, request).archived)
        return Response(status=204)


class GuideView(APIView):
    """Be led through a case from step to step, or leave the guide; it can be taken up again."""

    @endpoint(None, GuideIn, 204, (404,))
    def post(self, request: Request, pk: int) -> Response:
        set_guided(actor_of(request), pk, read_body(GuideIn, request).guided)
        return Response(status=204)


class HistoryView(APIView):
    """What was done in a case, newest first."""

    @endpoint(
        EventPage,
        parameters=[OpenApiParameter("before", int, description="`next` of the page before")],
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        case = case_of(request, pk)
        events = (
            Event.objects.for_practice(case.practice).filter(case=case.pk).exclude(kind__in=LOOKS)
        )
        before = request.query_params.get("before", "")
        if before.isdecimal():
            events = events.filter(pk__lt=int(before))
        return answer(
            page_of(list(events[: EVENTS_A_PAGE + 1]), EVENTS_A_PAGE, conventions_of(case.practice))
        )


class EnergyDetailView(APIView):
    """Every method side by side for this dog."""

    @endpoint(EnergyView)
    def get(self, request: Request, pk: int) -> HttpResponse:
        record = record_of(case_of(request, pk))
        chosen = record_energy(record)
        return answer(energy_view(reference(), record, chosen, timezone.localdate()))


def targets_of_case(case: Case) -> Targets:
    """The merged targets of a stored case."""
    record = record_of(case)
    energy = record_energy(record)
    merged = record_targets(case.practice, record, energy)
    return targets_view(reference(), record, merged, energy.target_kcal)


class TargetsDetailView(APIView):
    """Standard, life stage and conditions merged, with every origin and conflict."""

    @endpoint(Targets)
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer(targets_of_case(case_of(request, pk)))

    @endpoint(Targets, DecisionIn)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Decide about a limit, with a reason; or take a decision back."""
        asked = read_body(DecisionIn, request)
        decision = Decision(
            key=asked.key, bound=asked.bound, value=asked.value, by=asked.by, reason=asked.reason
        )
        decide(actor_of(request), pk, decision, asked.undo)
        return answer(targets_of_case(case_of(request, pk)))


class CommandView(APIView):
    """Read what is typed into the command line of a case. Nothing is changed."""

    @endpoint(CommandRead, parameters=[OpenApiParameter("text", str)])
    def get(self, request: Request, pk: int) -> HttpResponse:
        typed = request.query_params.get("text", "")
        return answer(read_command(reference(), targets_of_case(case_of(request, pk)), typed))


class TargetsExportView(APIView):
    """The merged requirement set as CSV."""

    @endpoint(OpenApiTypes.STR, errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        case = case_of(request, pk)
        return download(targets_csv(targets_of_case(case)), f"targets-{case.pk}.csv", "text/csv")


class ConditionListView(APIView):
    """The conditions that can be chosen, with their stages."""

    @endpoint(Many(ConditionChoice), errors=())
    def get(self, request: Request) -> HttpResponse:
        return answer_many(
            ConditionChoice,
            (
                ConditionChoice(
                    id=c.id,
                    name=c.name,
                    stages=tuple(StageChoice(id=k, name=v) for k, v in c.stages.items()),
                )
                for c in reference().conditions.values()
            ),
        )
