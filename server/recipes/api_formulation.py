"""Formulation: choices, runs with progress and cancel, help for a gap, rescaling, substitution."""

from dataclasses import dataclass, replace
from enum import StrEnum

from accounts.scoping import practice_of
from cases.queries import case_of
from cases.records import record_of
from django.http import Http404, HttpResponse
from library.facts import reference
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView
from wainscot_core.analysis.analyse import analyse
from wainscot_core.analysis.results import Analysis
from wainscot_core.boundary import Name40, Name80, Whole
from wainscot_core.dog.intake import present_intake
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.errors import InputError
from wainscot_core.formulation.adjust import (
    Keep,
    NewAmount,
    Suggestion,
    first_draft,
    rescale,
    substitute,
)
from wainscot_core.formulation.case_file import goal_names, helps_of
from wainscot_core.formulation.choices import FormulationChoices, choices_of
from wainscot_core.formulation.helpful import Help, for_nutrient
from wainscot_core.formulation.problem import Guide
from wainscot_core.formulation.proposal import Proposal, Settings, formulate
from wainscot_core.formulation.settings import FormulateSettings, settings_of
from wainscot_core.formulation.words import ProposalResult, proposal_result
from wainscot_core.recipe.proportions import groups_of
from wire.shapes import Many, answer, answer_many, endpoint, read_body

from . import jobs
from .asks import LinesAsk, whole_dossier
from .dossiers import dossier_of, recipe_dossier
from .models import Recipe

# A run that is done within this many seconds answers at once.
AT_ONCE_SECONDS = 1.0


@dataclass(frozen=True, kw_only=True)
class FormulateAsk(LinesAsk):
    """Adjust these lines; `settings` as in a case file's "formulate" section."""

    settings: FormulateSettings


@dataclass(frozen=True, kw_only=True)
class HelpAsk(LinesAsk):
    """What would close the gap of one nutrient."""

    key: Name40


@dataclass(frozen=True, kw_only=True)
class SubstituteAsk(LinesAsk):
    """Replace line `line` by `food`, keeping its energy or its protein."""

    line: Whole
    food: Name80
    keep: Keep = Keep.ENERGY


@dataclass(frozen=True, kw_only=True)
class BenchProposal(ProposalResult):
    """A proposal with the analysis of the adjusted recipe, None when there is none."""

    after: Analysis | None


class JobState(StrEnum):
    """How far a run is."""

    WAITING = "waiting"
    RUNNING = "running"
    DONE = "done"


@dataclass(frozen=True, kw_only=True)
class Job:
    """A formulation that runs or has run. done, of: passes; label: the goal it is at."""

    job: str
    state: JobState
    done: int
    of: int
    label: str
    result: BenchProposal | None


class FormulationChoicesView(APIView):
    """What can be asked of a formulation of this case."""

    @endpoint(FormulationChoices, errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        case = case_of(request, pk)
        recipe = Recipe.objects.filter(case=case).select_related("case", "practice").first()
        dossier = recipe_dossier(recipe) if recipe else dossier_of(case, [], 1)
        factors = reference().catalogue.modified_atwater
        present = present_intake(factors, record_of(case).intake.current_diet)
        return answer(choices_of(dossier, present.shares))


def bench_proposal(dossier: Dossier, proposal: Proposal) -> BenchProposal:
    """A proposal with the analysis of the adjusted recipe. Reads no database: it runs in a thread
    that answers to no request."""
    found = proposal_result(proposal, goal_names(reference()), helps_of(dossier, proposal))
    after = analyse(dossier.with_lines(proposal.lines)) if proposal.lines else None
    return BenchProposal(**vars(found), after=after)


def guided(settings: Settings, dossier: Dossier) -> Settings:
    """Settings whose school also follows the proportions of the way of feeding."""
    if dossier.way is None:
        return settings
    foods = [line.food for line in dossier.lines]
    parts = groups_of(dossier.reference.feeding, dossier.way, foods)
    return replace(settings, guide=Guide(parts, dossier.way.shares))


class FormulateView(APIView):
    """Adjust the bench. Answers with the proposal when it is there within a second."""

    @endpoint(Job, FormulateAsk, also={202: Job})
    def post(self, request: Request, pk: int) -> HttpResponse:
        ask = read_body(FormulateAsk, request)
        dossier = whole_dossier(request, pk, ask)
        settings = guided(settings_of(ask.settings), dossier)

        def work(job: jobs.Job[BenchProposal]) -> BenchProposal:
            try:
                found = formulate(dossier, settings, job.progress, job.cancelled.is_set)
            except InputError as error:
                raise (
                    error if error.field.startswith("recipe") else error.under("settings")
                ) from None
            return bench_proposal(dossier, found)

        job = jobs.start(practice_of(request).pk, work)
        job.finished.wait(AT_ONCE_SECONDS)
        return job_answer(job)


def job_answer(job: jobs.Job[BenchProposal]) -> HttpResponse:
    """200 with the result, 202 while it runs; a failed run raises its error."""
    if job.error is not None:
        raise job.error
    state = JobState(job.state)
    return answer(
        Job(
            job=job.id,
            state=state,
            done=job.done,
            of=job.of,
            label=goal_names(reference()).get(job.label, job.label),
            result=job.result,
        ),
        status=200 if state is JobState.DONE else 202,
    )


class JobView(APIView):
    """A formulation that runs: its progress, and its end."""

    def job(self, request: Request, job: str) -> jobs.Job[BenchProposal]:
        """A job of the user's practice; 404 otherwise."""
        found = jobs.find(practice_of(request).pk, job)
        if found is None:
            raise Http404("This formulation is over or does not exist. Start it again.")
        return found

    @endpoint(Job, also={202: Job})
    def get(self, request: Request, job: str) -> HttpResponse:
        found = self.job(request, job)
        found.finished.wait(0.3)
        return job_answer(found)

    @endpoint(None, status=204, errors=(404,))
    def delete(self, request: Request, job: str) -> Response:
        self.job(request, job).cancelled.set()
        return Response(status=204)


class HelpView(APIView):
    """The best whole foods and the simplest supplements for one short nutrient."""

    @endpoint(Many(Help), HelpAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        ask = read_body(HelpAsk, request)
        return answer_many(Help, for_nutrient(whole_dossier(request, pk, ask), ask.key))


class RescaleView(APIView):
    """Bring the lines to the proportions of a way of feeding, to whichever part there is least of."""

    @endpoint(Many(NewAmount), LinesAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        return answer_many(
            NewAmount, rescale(whole_dossier(request, pk, read_body(LinesAsk, request)))
        )


class SubstituteView(APIView):
    """How much of another food takes the place of a line."""

    @endpoint(Suggestion, SubstituteAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        ask = read_body(SubstituteAsk, request)
        dossier = whole_dossier(request, pk, ask)
        return answer(substitute(dossier, ask.line, ask.food, ask.keep))


class TemplateView(APIView):
    """A first draft after a way of feeding, scaled to the dog's energy; nothing is saved."""

    @endpoint(Many(Suggestion), LinesAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        return answer_many(
            Suggestion, first_draft(whole_dossier(request, pk, read_body(LinesAsk, request)))
        )
