"""Formulation: choices, runs with progress and cancel, help for a gap, rescaling, substitution."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import timedelta
from enum import StrEnum
from uuid import UUID

from accounts.scoping import actor_of, find_own, own, practice_of
from cases.queries import case_of
from cases.records import record_of
from django.http import HttpResponse
from django.utils import timezone
from events.log import log
from events.models import EventKind
from jobs import runs
from jobs.actions import begin, cancel, look
from jobs.models import Job
from library.facts import reference
from pydantic import ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView
from wainscot_core.analysis.analyse import analyse
from wainscot_core.analysis.results import Analysis
from wainscot_core.boundary import Name40, Name80, Whole, adapter, dump, read
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
from wainscot_core.snapshot.freeze import freeze_recipe
from wainscot_core.snapshot.snapshot import canonical, digest_of
from wire.shapes import Many, answer, answer_many, endpoint, read_body

from .asks import Lines, LinesAsk, dossier_from, recipe_of, whole_dossier
from .dossiers import dossier_of, parties_of, recipe_dossier
from .models import Recipe

FORMULATION = "formulation"
# A run that is done within this many seconds answers at once.
AT_ONCE_SECONDS = 1.0
# An older run is of a bench that nobody remembers.
RESUME_HOURS = 1
# So long a question how far it is waits for the end.
POLL_SECONDS = 0.3


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
    CANCELLED = "cancelled"


@dataclass(frozen=True, kw_only=True)
class FormulationJob:
    """A formulation that runs or has run. done, of: passes; label: the goal it is at; lines: what it
    was asked of."""

    job: UUID
    state: JobState
    done: int
    of: int
    label: str
    lines: Lines
    result: BenchProposal | None


@dataclass(frozen=True, kw_only=True)
class LastFormulation:
    """The user's last formulation of a recipe that was not put away, None when there is none."""

    last: FormulationJob | None


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


def work_of(recipe: Recipe, ask: FormulateAsk) -> tuple[str, runs.Work]:
    """The fingerprint of what a formulation is asked of, and its work. Raises InputError."""
    dossier = dossier_from(recipe, ask)
    settings = guided(settings_of(ask.settings), dossier)

    def work(run: runs.Run) -> str:
        try:
            found = formulate(dossier, settings, run.progress, run.cancelled.is_set)
        except InputError as error:
            raise (error if error.field.startswith("recipe") else error.under("settings")) from None
        return adapter(BenchProposal).dump_json(bench_proposal(dossier, found)).decode()

    record = record_of(recipe.case)
    frozen = freeze_recipe(dossier, record, parties_of(recipe.case), "", timezone.localdate())
    # The snapshot holds what the recipe rests on; the rest of the library is what may be added.
    basis = canonical(frozen) + recipe.practice.library_revision + repr(dossier.marks)
    return digest_of(basis), work


def again(request: Request) -> Callable[[Job], tuple[str, runs.Work]]:
    """How a formulation is run again from its row."""

    def made(job: Job) -> tuple[str, runs.Work]:
        return work_of(recipe_of(request, job.subject), read(FormulateAsk, job.ask, typed=True))

    return made


class FormulateView(APIView):
    """Adjust the bench. Answers with the proposal when it is there within a second."""

    @endpoint(LastFormulation, errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        """The last one of this recipe: a page that was reloaded goes on where it was."""
        recipe, who = own(Recipe, request, pk), actor_of(request)
        mine = Job.objects.for_practice(who.practice).filter(
            kind=FORMULATION, subject=recipe.pk, by=who.name,
            created__gte=timezone.now() - timedelta(hours=RESUME_HOURS),
        )  # fmt: skip
        job = mine.first()
        if job is None or job.cancel_asked or job.state == Job.State.FAILED:
            return answer(LastFormulation(last=None))
        seen = look(job, again(request), 0)
        return answer(LastFormulation(last=None if seen.error else job_view(seen)))

    @endpoint(FormulationJob, FormulateAsk, also={202: FormulationJob})
    def post(self, request: Request, pk: int) -> HttpResponse:
        recipe, ask = recipe_of(request, pk), read_body(FormulateAsk, request)
        basis, work = work_of(recipe, ask)
        who = actor_of(request)
        job = begin(who, FORMULATION, recipe.pk, dump(ask), basis, work)
        log(who, EventKind.FORMULATION_STARTED, recipe.case_id, recipe.pk, recipe=recipe.name)
        return job_answer(look(job, again(request), AT_ONCE_SECONDS))


def job_answer(job: Job) -> HttpResponse:
    """200 with the result, 202 while it runs; a failed run raises its error."""
    if job.error:
        raise InputError(job.error["field"], job.error["message"])
    return answer(job_view(job), status=200 if job.over else 202)


def job_view(job: Job) -> FormulationJob:
    """A formulation as it stands. A result that this program cannot read is over, without one."""
    state, result = JobState(job.state), None
    if job.result:
        try:
            result = adapter(BenchProposal).validate_json(job.result)
        except ValidationError:
            state = JobState.CANCELLED
    return FormulationJob(
        job=job.pk,
        state=state,
        done=job.done,
        of=job.of,
        label=goal_names(reference()).get(job.label, job.label),
        lines=read(FormulateAsk, job.ask, typed=True).lines,
        result=result,
    )


class JobView(APIView):
    """A formulation that runs: its progress, and its end."""

    def job(self, request: Request, job: UUID) -> Job:
        """A job of the user's practice; 404 otherwise."""
        return find_own(Job, practice_of(request), pk=job)

    @endpoint(FormulationJob, also={202: FormulationJob})
    def get(self, request: Request, job: UUID) -> HttpResponse:
        return job_answer(look(self.job(request, job), again(request), POLL_SECONDS))

    @endpoint(None, status=204, errors=(404,))
    def delete(self, request: Request, job: UUID) -> Response:
        """Let it end with what it has; one that is over is put out of sight."""
        cancel(self.job(request, job))
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
