"""Formulation: choices, runs with progress and cancel, help for a gap, rescaling, substitution."""

from dataclasses import dataclass, replace
from typing import Any, Literal

from diets import jobs
from diets.bench import choices
from diets.dossiers import dossier_of, recipe_dossier
from django.http import Http404
from drf_spectacular.utils import extend_schema
from library.facts import reference
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView
from wainscot_core.amounts import parse
from wainscot_core.boundary import Name40, Name80, Whole, dump
from wainscot_core.dossier import Dossier
from wainscot_core.errors import InputError
from wainscot_core.exclusions import why_unfit
from wainscot_core.feeding import groups_of, rescaled, seeded
from wainscot_core.formulation.candidates import amount_text, step_of
from wainscot_core.formulation.cases import goal_names, helps_of
from wainscot_core.formulation.helpful import for_nutrient
from wainscot_core.formulation.problem import Guide
from wainscot_core.formulation.proposal import Proposal, Settings, formulate
from wainscot_core.formulation.request import read_settings
from wainscot_core.formulation.words import proposal_report
from wainscot_core.intake import present_intake
from wainscot_core.line import sum_lines
from wainscot_core.report import analyse, clean

from .asks import FormulateSettings, LinesAsk, case_of, whole_dossier
from .serializers import (
    ErrorSerializer,
    method_choices,
)
from .serializers_bench import (
    FormulationChoicesSerializer,
    HelpSerializer,
    JobSerializer,
    RescaledSerializer,
    SubstituteSerializer,
)
from .wire import read_body

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
    keep: Literal["energy", "protein"] = "energy"


class FormulationChoicesView(APIView):
    """What can be asked of a formulation of this case."""

    @extend_schema(responses={200: FormulationChoicesSerializer, 404: ErrorSerializer})
    def get(self, request: Request, pk: int) -> Response:
        case = case_of(request, pk)
        rules, feeding = reference().formulation, reference().feeding
        recipe = case.recipes.first()
        dossier = recipe_dossier(recipe) if recipe else dossier_of(case, [], 1)
        present = present_intake(case.intake.get("current_diet", [])).shares
        return Response(
            {
                "modes": [
                    {
                        "id": m.id,
                        "name": m.name,
                        "words": m.words,
                        "foods": m.foods,
                        "goals": m.goals,
                    }
                    for m in rules.modes.values()
                ],
                "goals": [{"id": k, "name": n, "words": w} for k, (n, w) in rules.goals.items()],
                "schools": [
                    {"id": s.id, "name": s.name, "words": s.words} for s in rules.schools.values()
                ],
                "ways": [
                    {"id": w.id, "name": w.name, "words": w.caution} for w in feeding.ways.values()
                ],
                "parts": [{"id": p.id, "label": p.label} for p in feeding.parts],
                "allowed": choices(dossier),
                "max_supplements": int(rules.defaults["max_supplements"]),
                "time_limit_s": rules.defaults["time_limit_s"],
                "present_macros": present,
            }
        )


def represent(dossier: Dossier, proposal: Proposal) -> dict[str, Any]:
    """A proposal with the analysis of the adjusted recipe. Reads no database: it runs in a thread
    that answers to no request."""
    report = proposal_report(proposal, goal_names(reference()))
    for change in report["changes"]:
        change["methods"] = (
            method_choices(dossier.library, change["food"]) if change["kind"] == "added" else []
        )
    report["help"] = helps_of(dossier, proposal)
    report["after"] = None
    if proposal.lines:
        after = analyse(dossier.with_lines(proposal.lines))
        positions = list(range(len(proposal.lines)))
        report["after"] = {**after, "positions": positions, "line_errors": []}
    return report


def guided(settings: Settings, dossier: Dossier) -> Settings:
    """Settings whose school also follows the proportions of the way of feeding."""
    if dossier.way is None:
        return settings
    foods = [line.food for line in dossier.lines]
    parts = groups_of(dossier.reference.feeding, dossier.way, foods)
    return replace(settings, guide=Guide(parts, dossier.way.shares))


class FormulateView(APIView):
    """Adjust the bench. Answers with the proposal when it is there within a second."""

    @extend_schema(
        request=FormulateAsk,
        responses={
            200: JobSerializer,
            202: JobSerializer,
            400: ErrorSerializer,
            404: ErrorSerializer,
        },
    )
    def post(self, request: Request, pk: int) -> Response:
        ask = read_body(FormulateAsk, request)
        dossier = whole_dossier(request, pk, ask)
        try:
            settings = guided(read_settings(dump(ask.settings)), dossier)
        except InputError as error:
            raise error.under("settings") from None

        def work(job: jobs.Job) -> dict[str, Any]:
            return represent(
                dossier, formulate(dossier, settings, job.progress, job.cancelled.is_set)
            )

        job = jobs.start(request.user.practice_id, work)
        job.finished.wait(AT_ONCE_SECONDS)
        return job_response(job)


def job_response(job: jobs.Job) -> Response:
    """200 with the result, 202 while it runs; a failed run raises its error."""
    if job.error is not None:
        raise job.error
    names = goal_names(reference())
    body = {
        "job": job.id,
        "state": job.state,
        "done": job.done,
        "of": job.of,
        "label": names.get(job.label, job.label),
        "result": job.result,
    }
    return Response(body, status=200 if job.state == "done" else 202)


class JobView(APIView):
    """A formulation that runs: its progress, and its end."""

    def job(self, request: Request, job: str) -> jobs.Job:
        """A job of the user's practice; 404 otherwise."""
        found = jobs.find(request.user.practice_id, job)
        if found is None:
            raise Http404("This formulation is over or does not exist. Start it again.")
        return found

    @extend_schema(
        responses={
            200: JobSerializer,
            202: JobSerializer,
            400: ErrorSerializer,
            404: ErrorSerializer,
        }
    )
    def get(self, request: Request, job: str) -> Response:
        found = self.job(request, job)
        found.finished.wait(0.3)
        return job_response(found)

    @extend_schema(responses={204: None, 404: ErrorSerializer})
    def delete(self, request: Request, job: str) -> Response:
        self.job(request, job).cancelled.set()
        return Response(status=204)


class HelpView(APIView):
    """The best whole foods and the simplest supplements for one short nutrient."""

    @extend_schema(
        request=HelpAsk,
        responses={200: HelpSerializer(many=True), 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def post(self, request: Request, pk: int) -> Response:
        ask = read_body(HelpAsk, request)
        dossier = whole_dossier(request, pk, ask)
        limit = dossier.requirements.limits.get(ask.key)
        if ask.key not in reference().catalogue or limit is None or limit.minimum is None:
            raise InputError("key", "has no minimum that food could reach")
        found = for_nutrient(dossier, ask.key)
        return Response(
            [
                {
                    "food": h.food.id, "name": h.food.name, "kind": h.kind, "text": h.text,
                    "grams": clean(h.grams), "kcal": clean(h.kcal),
                    "value_after": clean(h.value_after), "mends": h.mends, "breaks": h.breaks,
                    "grade": h.grade, "methods": method_choices(dossier.library, h.food.id),
                }
                for h in found
            ]
        )  # fmt: skip


class RescaleView(APIView):
    """Bring the lines to the proportions of a way of feeding, to whichever part there is least of."""

    @extend_schema(
        request=LinesAsk,
        responses={200: RescaledSerializer(many=True), 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def post(self, request: Request, pk: int) -> Response:
        dossier = whole_dossier(request, pk, read_body(LinesAsk, request))
        facts = reference()
        if dossier.way is None:
            raise InputError("way", "choose a way of feeding first")
        lines = dossier.lines
        factors = rescaled(
            facts.feeding, dossier.way, [x.food for x in lines], [x.fed_grams for x in lines]
        )
        out = []
        for position, (line, factor) in enumerate(zip(lines, factors, strict=True)):
            if abs(factor - 1) > 1e-9:
                grams = line.amount.grams * factor
                step = step_of(facts.formulation, line.food)
                whole = max(round(grams / step.grams), 1) * step.grams
                out.append({"line": position, "quantity": amount_text(step, whole)})
        return Response(out)


class SubstituteView(APIView):
    """How much of another food takes the place of a line."""

    @extend_schema(
        request=SubstituteAsk,
        responses={200: SubstituteSerializer, 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def post(self, request: Request, pk: int) -> Response:
        ask = read_body(SubstituteAsk, request)
        dossier = whole_dossier(request, pk, ask)
        library = dossier.library
        if not 0 <= ask.line < len(dossier.lines):
            raise InputError("line", "is no line of this recipe")
        if ask.food not in library:
            raise InputError("food", f"no food {ask.food!r} in the library")
        key = "ENERC" if ask.keep == "energy" else "PROCNT"
        food = library.food(ask.food)
        theirs = float(library.values[library.row(ask.food), library.catalogue.index(key)])
        if not theirs > 0:
            raise InputError("food", f"{food.name} brings no {ask.keep}")
        sums = sum_lines(library, [dossier.lines[ask.line]], 1)
        step = step_of(reference().formulation, food)
        grams = max(round(sums.amount(key) / theirs * 100 / step.grams), 1) * step.grams
        text = amount_text(step, grams)
        parse(food, text)
        return Response(
            {
                "food": food.id, "name": food.name, "quantity": text,
                "why_not": why_unfit(food, dossier.avoid),
                "methods": method_choices(library, food.id),
            }
        )  # fmt: skip


class TemplateView(APIView):
    """A first draft after a way of feeding, scaled to the dog's energy; nothing is saved."""

    @extend_schema(
        request=LinesAsk,
        responses={
            200: SubstituteSerializer(many=True),
            400: ErrorSerializer,
            404: ErrorSerializer,
        },
    )
    def post(self, request: Request, pk: int) -> Response:
        dossier = whole_dossier(request, pk, read_body(LinesAsk, request))
        if dossier.way is None:
            raise InputError("way", "choose a way of feeding first")
        drafted = seeded(
            dossier.way,
            dossier.library,
            dossier.energy.target_kcal * dossier.days,
            lambda food: not why_unfit(food, dossier.avoid),
        )
        out = []
        for food, grams in drafted:
            step = step_of(reference().formulation, food)
            whole = max(round(grams / step.grams), 1) * step.grams
            out.append(
                {
                    "food": food.id, "name": food.name, "quantity": amount_text(step, whole),
                    "why_not": "", "methods": method_choices(dossier.library, food.id),
                }
            )  # fmt: skip
        return Response(out)
