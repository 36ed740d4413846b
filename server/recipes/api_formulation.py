"""Formulation: choices, runs with progress and cancel, help for a gap, rescaling, substitution."""

from dataclasses import dataclass
from uuid import UUID

from accounts.permissions import Work
from accounts.scoping import actor_of, find_own, own, practice_of
from cases.queries import case_of
from cases.records import record_of
from django.http import HttpResponse
from jobs.actions import cancel, look
from jobs.models import Job
from library.facts import reference
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView
from wainscot_core.analysis.eaten import Eaten, eaten_of
from wainscot_core.boundary import Name40, Name80, Text60, Whole, YesNo
from wainscot_core.dog.intake import present_intake
from wainscot_core.errors import InputError
from wainscot_core.formulation.adjust import (
    Keep,
    NewAmount,
    Suggestion,
    rescale,
    substitute,
)
from wainscot_core.formulation.choices import FormulationChoices, choices_of
from wainscot_core.formulation.draft import first_draft
from wainscot_core.formulation.helpful import Help, for_nutrient
from wainscot_core.formulation.live import LiveAnswer, live_answer
from wainscot_core.formulation.replacing import Replacements, replacements
from wainscot_core.formulation.settings import settings_of
from wire.shapes import Many, answer, answer_many, endpoint, read_body

from .asks import LinesAsk, recipe_of, whole_dossier
from .dossiers import dossier_of, recipe_dossier
from .formulations import (
    FORMULATION,
    FormulateAsk,
    FormulationJob,
    LastFormulation,
    again,
    begin_formulation,
    job_view,
    last_formulation,
)
from .models import Recipe

# A run that is done within this many seconds answers at once.
AT_ONCE_SECONDS = 1.0
# So long a question how far it is waits for the end.
POLL_SECONDS = 0.3


@dataclass(frozen=True, kw_only=True)
class HelpAsk(LinesAsk):
    """What would close the gap of one nutrient."""

    key: Name40


@dataclass(frozen=True, kw_only=True)
class LiveAsk(FormulateAsk):
    """What the settings' bounds come to. settle: in amounts that can be measured."""

    settle: YesNo = False


@dataclass(frozen=True, kw_only=True)
class SubstituteAsk(LinesAsk):
    """Replace line `line` by `food`, keeping its energy or its protein."""

    line: Whole
    food: Name80
    keep: Keep = Keep.ENERGY


@dataclass(frozen=True, kw_only=True)
class ReplaceAsk(LinesAsk):
    """What could take the place of line `line`, keeping its energy or its protein."""

    line: Whole
    keep: Keep = Keep.ENERGY


@dataclass(frozen=True, kw_only=True)
class DraftAsk(LinesAsk):
    """Begin a recipe. foods: those that it is made of, () for what the way of feeding begins with."""

    foods: tuple[Name80, ...] = ()


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


@dataclass(frozen=True, kw_only=True)
class EatenAsk:
    """So much of a food a day, as it was said: "2 1/2 cups"."""

    food: Name80
    quantity: Text60


class EatenView(APIView):
    """What a dog eats of a food, beside what it needs."""

    work = Work.READ

    @endpoint(Eaten, EatenAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        asked = read_body(EatenAsk, request)
        dossier = dossier_of(case_of(request, pk), [], 1)
        return answer(eaten_of(dossier, asked.food, asked.quantity))


class FormulateView(APIView):
    """Adjust the bench. Answers with the proposal when it is there within a second."""

    @endpoint(LastFormulation, errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        """The last one of this recipe: a page that was reloaded goes on where it was."""
        return answer(last_formulation(actor_of(request), own(Recipe, request, pk)))

    @endpoint(FormulationJob, FormulateAsk, also={202: FormulationJob})
    def post(self, request: Request, pk: int) -> HttpResponse:
        recipe, ask = recipe_of(request, pk), read_body(FormulateAsk, request)
        job = begin_formulation(actor_of(request), recipe, ask)
        return job_answer(look(job, again, AT_ONCE_SECONDS))


def job_answer(job: Job) -> HttpResponse:
    """200 with the result, 202 while it runs; a failed run raises its error."""
    if job.error:
        raise InputError(job.error["field"], job.error["message"])
    return answer(job_view(job), status=200 if job.over else 202)


class JobView(APIView):
    """A formulation that runs: its progress, and its end."""

    def job(self, request: Request, job: UUID) -> Job:
        """A job of the user's practice; 404 otherwise."""
        return find_own(Job, practice_of(request), pk=job, kind=FORMULATION)

    @endpoint(FormulationJob, also={202: FormulationJob})
    def get(self, request: Request, job: UUID) -> HttpResponse:
        return job_answer(look(self.job(request, job), again, POLL_SECONDS))

    @endpoint(None, status=204, errors=(404,))
    def delete(self, request: Request, job: UUID) -> Response:
        """Let it end with what it has; one that is over is put out of sight."""
        cancel(self.job(request, job))
        return Response(status=204)


class HelpView(APIView):
    """The best whole foods and the simplest supplements for one short nutrient."""

    work = Work.READ

    @endpoint(Many(Help), HelpAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        ask = read_body(HelpAsk, request)
        return answer_many(Help, for_nutrient(whole_dossier(request, pk, ask), ask.key))


class LiveView(APIView):
    """What a bound comes to while it is moved: nothing is saved, and no job is begun."""

    work = Work.READ

    @endpoint(LiveAnswer, LiveAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        ask = read_body(LiveAsk, request)
        dossier = whole_dossier(request, pk, ask)
        return answer(live_answer(dossier, settings_of(ask.settings), ask.settle))


class RescaleView(APIView):
    """Bring the lines to the proportions of a way of feeding, to whichever part there is least of."""

    work = Work.READ

    @endpoint(Many(NewAmount), LinesAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        return answer_many(
            NewAmount, rescale(whole_dossier(request, pk, read_body(LinesAsk, request)))
        )


class SubstituteView(APIView):
    """How much of another food takes the place of a line."""

    work = Work.READ

    @endpoint(Suggestion, SubstituteAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        ask = read_body(SubstituteAsk, request)
        dossier = whole_dossier(request, pk, ask)
        return answer(substitute(dossier, ask.line, ask.food, ask.keep))


class ReplacementsView(APIView):
    """Foods like that of a line, each with the wall it would leave."""

    work = Work.READ

    @endpoint(Replacements, ReplaceAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        ask = read_body(ReplaceAsk, request)
        return answer(replacements(whole_dossier(request, pk, ask), ask.line, ask.keep))


class TemplateView(APIView):
    """A first draft after a way of feeding, or of some foods, scaled to the dog's energy; nothing is saved."""

    work = Work.READ

    @endpoint(Many(Suggestion), DraftAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        ask = read_body(DraftAsk, request)
        return answer_many(Suggestion, first_draft(whole_dossier(request, pk, ask), ask.foods))
