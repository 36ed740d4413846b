"""What is put down of a dog after its plan was issued, and what it says."""

from dataclasses import dataclass

from accounts.permissions import Work
from accounts.scoping import Actor, actor_of
from cases.queries import case_of
from django.http import HttpResponse
from django.utils import timezone
from library.facts import reference
from records.links import found_by
from records.views import AddressView, address_view
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.boundary import Text40, Text20000
from wainscot_core.days import read_day
from wainscot_core.errors import InputError
from wainscot_core.followup.drift import Drift
from wainscot_core.followup.report import LabReport, read_report
from wire.shapes import Many, answer, answer_many, endpoint, read_body

from .actions import (
    DiaryLinkIn,
    FollowIn,
    LabIn,
    StrikeIn,
    close_diary,
    give_diary,
    put_down_day,
    put_down_lab,
    strike,
    strike_lab,
)
from .drift import DriftIn, DriftPlan, drift_of, drift_plan
from .models import DiaryLink
from .reformulate import ReformulateIn, ReformulateView, reformulate, reformulate_view
from .trials import (
    TrialIn,
    TrialMoveIn,
    TrialTakeBackIn,
    TrialVerdictIn,
    move_trial,
    start_trial,
    undo_move,
    write_verdict,
)
from .views import DiaryView, FollowView, diary_view, follow_view


class FollowDetailView(APIView):
    """A case after its plan was issued."""

    @endpoint(FollowView, errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer(follow_view(case_of(request, pk)))


class FollowListView(APIView):
    """Days of a case."""

    work = Work.LOG

    @endpoint(FollowView, FollowIn, 201)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Put a day down; one that was kept already, by its key, is passed over."""
        case = put_down_day(actor_of(request), pk, read_body(FollowIn, request))
        return answer(follow_view(case), status=201)


class FollowStrikeView(APIView):
    """Whether an entry counts."""

    work = Work.LOG

    @endpoint(FollowView, StrikeIn, errors=(400, 404, 409))
    def post(self, request: Request, pk: int) -> HttpResponse:
        return answer(follow_view(strike(actor_of(request), pk, read_body(StrikeIn, request))))


class LabListView(APIView):
    """Laboratory values of a case."""

    work = Work.LOG

    @endpoint(FollowView, LabIn, 201)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Put one down; what was kept already, by its key, is passed over."""
        case = put_down_lab(actor_of(request), pk, read_body(LabIn, request))
        return answer(follow_view(case), status=201)


@dataclass(frozen=True, kw_only=True)
class LabReportIn:
    """A report as it is pasted, and the day of its sample as people write it."""

    text: Text20000
    date: Text40


class LabReportView(APIView):
    """A pasted report."""

    work = Work.READ

    @endpoint(LabReport, LabReportIn)
    def post(self, request: Request) -> HttpResponse:
        """What is read of it, and what is not; nothing is kept."""
        asked = read_body(LabReportIn, request)
        if not asked.text.strip():
            raise InputError("text", "nothing is pasted yet")
        if not asked.date.strip():
            raise InputError("date", "the day of the sample is missing")
        try:
            day = read_day(asked.date)
        except InputError as error:
            raise error.under("date") from None
        return answer(read_report(reference().laboratory, asked.text, day, timezone.localdate()))


class LabStrikeView(APIView):
    """Whether a laboratory value counts."""

    work = Work.LOG

    @endpoint(FollowView, StrikeIn, errors=(400, 404, 409))
    def post(self, request: Request, pk: int) -> HttpResponse:
        return answer(follow_view(strike_lab(actor_of(request), pk, read_body(StrikeIn, request))))


@dataclass(frozen=True, kw_only=True)
class LabTestView:
    """A test that can be put down. units: in which it is told; low, high: a usual range, in the first of them, an example;
    fasting: it is taken fasted."""

    id: str
    name: str
    units: tuple[str, ...]
    low: float | None
    high: float | None
    fasting: bool


class LabTestListView(APIView):
    """Laboratory tests."""

    @endpoint(Many(LabTestView))
    def get(self, request: Request) -> HttpResponse:
        tests = reference().laboratory.tests.values()
        return answer_many(
            LabTestView,
            (
                LabTestView(
                    id=t.id, name=t.name, units=t.units, low=t.low, high=t.high, fasting=t.fasting
                )
                for t in tests
            ),
        )


class TrialListView(APIView):
    """Elimination trials of a case."""

    @endpoint(FollowView, TrialIn, 201)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Begin one."""
        case = start_trial(actor_of(request), pk, read_body(TrialIn, request))
        return answer(follow_view(case), status=201)


class TrialMoveView(APIView):
    """What is done in a trial."""

    @endpoint(FollowView, TrialMoveIn, errors=(400, 404, 409))
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Do one thing more; what is refused says why."""
        return answer(
            follow_view(move_trial(actor_of(request), pk, read_body(TrialMoveIn, request)))
        )


class TrialTakeBackView(APIView):
    """The last thing that was done in a trial."""

    @endpoint(FollowView, TrialTakeBackIn, errors=(400, 404, 409))
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Take it back."""
        asked = read_body(TrialTakeBackIn, request)
        return answer(follow_view(undo_move(actor_of(request), pk, asked)))


class TrialVerdictView(APIView):
    """What a trial showed, in the case."""

    @endpoint(FollowView, TrialVerdictIn, errors=(400, 404, 409))
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Put what a food did into the case."""
        asked = read_body(TrialVerdictIn, request)
        return answer(follow_view(write_verdict(actor_of(request), pk, asked)))


class DiaryLinkListView(APIView):
    """Addresses by which the owner puts days down."""

    work = Work.LOG

    @endpoint(Many(AddressView), errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer_many(AddressView, map(address_view, case_of(request, pk).diary_links.all()))

    @endpoint(AddressView, DiaryLinkIn, 201)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Make one; it can be written to the owner at once."""
        link = give_diary(actor_of(request), pk, read_body(DiaryLinkIn, request))
        return answer(address_view(link), status=201)


class DiaryLinkDetailView(APIView):
    """One such address."""

    work = Work.LOG

    @endpoint(AddressView)
    def delete(self, request: Request, pk: int) -> HttpResponse:
        """Take it back."""
        return answer(address_view(close_diary(actor_of(request), pk)))


def _diary_of(token: str) -> DiaryLink:
    return found_by(DiaryLink, token, "case__dog__client__practice", "case__practice")


class OwnersDiaryView(APIView):
    """A dog's diary, for whoever holds the owner's address: it is the secret, and nothing else is sent along."""

    permission_classes = [AllowAny]
    authentication_classes = []

    @endpoint(DiaryView, errors=(400, 404))
    def get(self, request: Request, token: str) -> HttpResponse:
        return answer(diary_view(_diary_of(token).case))

    @endpoint(DiaryView, FollowIn, 201, errors=(400, 404))
    def post(self, request: Request, token: str) -> HttpResponse:
        """Put a day down; one that was kept already, by its key, is passed over."""
        link = _diary_of(token)
        asked = read_body(FollowIn, request)
        if asked.entry.fluid:
            raise InputError("entry.fluid", "is for the vet to say")
        who = Actor(link.practice, "the owner, by a link")
        return answer(diary_view(put_down_day(who, link.case_id, asked)), status=201)


class ReformulateDetailView(APIView):
    """A new version of a case's plan."""

    @endpoint(ReformulateView, errors=(400, 404))
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer(reformulate_view(case_of(request, pk)))

    @endpoint(ReformulateView, ReformulateIn, errors=(400, 404, 409))
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Take over what the follow-up shows; the recipe is then made anew on the bench."""
        case = reformulate(actor_of(request), pk, read_body(ReformulateIn, request))
        return answer(reformulate_view(case_of(request, case.pk)))


class DriftView(APIView):
    """What is really fed."""

    work = Work.READ

    @endpoint(DriftPlan, errors=(400, 404))
    def get(self, request: Request, pk: int) -> HttpResponse:
        """The plan that is fed, line by line."""
        return answer(drift_plan(case_of(request, pk)))

    @endpoint(Drift, DriftIn)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """A day with what is fed otherwise, beside a day of the plan; nothing is stored."""
        return answer(drift_of(case_of(request, pk), read_body(DriftIn, request)))
