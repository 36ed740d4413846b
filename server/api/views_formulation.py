"""Formulation: choices, runs with progress and cancel, help for a gap, rescaling, substitution."""

from dataclasses import dataclass, replace
from typing import Any

from cases.models import Case
from diets import jobs
from diets.bench import choices, core_bench
from diets.models import Recipe
from diets.services import (
    LineText,
    case_energy,
    case_requirements,
    check_days,
    cost_of,
    resolve_lines,
)
from django.http import Http404
from drf_spectacular.utils import extend_schema
from library.facts import reference
from library.practice import library_for
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView
from wainscot_core.amounts import parse
from wainscot_core.errors import InputError
from wainscot_core.exclusions import why_unfit
from wainscot_core.feeding import groups_of, read_way, rescaled, seeded
from wainscot_core.foods import FoodLibrary
from wainscot_core.formulation.candidates import amount_text, step_of
from wainscot_core.formulation.cases import goal_names, helps_of
from wainscot_core.formulation.helpful import for_nutrient
from wainscot_core.formulation.problem import Guide
from wainscot_core.formulation.proposal import Bench, Proposal, Settings, formulate
from wainscot_core.formulation.request import read_settings
from wainscot_core.formulation.words import proposal_report
from wainscot_core.intake import present_intake
from wainscot_core.line import Line, sum_lines
from wainscot_core.report import clean, recipe_report
from wainscot_core.standards import RequirementSet

from .scoping import own
from .serializers import (
    ErrorSerializer,
    line_texts,
    method_choices,
)
from .serializers_analysis import (
    AnalysisInSerializer,
)
from .serializers_bench import (
    FormulateInSerializer,
    FormulationChoicesSerializer,
    HelpInSerializer,
    HelpSerializer,
    JobSerializer,
    RescaledSerializer,
    RescaleInSerializer,
    SubstituteInSerializer,
    SubstituteSerializer,
)

# A run that is done within this many seconds answers at once.
AT_ONCE_SECONDS = 1.0


@dataclass(frozen=True)
class Asked:
    """The bench of a request: its case, readable lines by position, limits."""

    case: Case
    library: FoodLibrary
    lines: dict[int, Line]
    days: float
    requirements: RequirementSet
    policy: str

    @property
    def bench(self) -> Bench:
        """What the core works on."""
        return core_bench(
            self.case, self.library, list(self.lines.values()), self.days, self.requirements,
            self.policy,
        )  # fmt: skip


def read_bench(
    request: Request, pk: int, shape: type[AnalysisInSerializer]
) -> tuple[Asked, dict[str, Any]]:
    """The bench of a request and its validated data. Raises InputError for an unreadable line."""
    case = own(Recipe, request, pk, "case__dog", "case__practice").case
    form = shape(data=request.data)
    form.is_valid(raise_exception=True)
    data = form.validated_data
    library = library_for(request.user.practice)
    good, errors = resolve_lines(library, line_texts(data["lines"]))
    if errors:
        first = errors[0]
        raise InputError(f"lines[{first.line}].quantity", first.message)
    asked = Asked(
        case, library, good, check_days(data["covers_days"]),
        case_requirements(case, data.get("standard"), data.get("life_stage")),
        data.get("data_policy") or case.data_policy,
    )  # fmt: skip
    return asked, data


class FormulationChoicesView(APIView):
    """What can be asked of a formulation of this case."""

    @extend_schema(responses={200: FormulationChoicesSerializer, 404: ErrorSerializer})
    def get(self, request: Request, pk: int) -> Response:
        case = own(Case, request, pk, "dog", "practice")
        rules, feeding = reference().formulation, reference().feeding
        library = library_for(request.user.practice)
        recipe = case.recipes.first()
        texts = [LineText(x.food, x.quantity) for x in recipe.lines.all()] if recipe else []
        lines, _ = resolve_lines(library, texts)
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
                "allowed": choices(case, library, list(lines.values())),
                "max_supplements": int(rules.defaults["max_supplements"]),
                "time_limit_s": rules.defaults["time_limit_s"],
                "present_macros": present,
            }
        )


def represent(asked: Asked, bench: Bench, proposal: Proposal) -> dict[str, Any]:
    """A proposal with the analysis of the adjusted recipe. Reads no database: it runs in a thread
    that answers to no request."""
    report = proposal_report(proposal, goal_names(reference()))
    positions = list(asked.lines)
    for change in report["changes"]:
        if change["line"] is not None:
            change["line"] = positions[change["line"]]
        change["methods"] = (
            method_choices(asked.library, change["food"]) if change["kind"] == "added" else []
        )
    report["help"] = helps_of(bench, proposal)
    report["after"] = None
    if proposal.lines:
        report["after"] = analysis_of(asked, bench, list(proposal.lines))
    return report


def analysis_of(asked: Asked, bench: Bench, lines: list[Line]) -> dict[str, Any]:
    """The analysis of other lines on the same bench, in the shape of the analysis endpoint."""
    report = recipe_report(
        asked.library, lines, asked.days, case_energy(asked.case), asked.requirements,
        reference().hazards, asked.policy, asked.case.dog.weight_kg,
    )  # fmt: skip
    report.update(
        cost=cost_of(bench.prices, lines, asked.days), marks=[], second={}, second_name="", gauges=[], way_caution="", line_errors=[],
        positions=list(range(len(lines))),
    )  # fmt: skip
    return report


def guided(settings: Settings, asked: Asked, wanted: str) -> Settings:
    """Settings whose school also follows the proportions of a way of feeding."""
    rules = reference().feeding
    way = read_way(rules, wanted)
    if way is None:
        return settings
    parts = groups_of(rules, way, [line.food for line in asked.lines.values()])
    return replace(settings, guide=Guide(parts, way.shares))


class FormulateView(APIView):
    """Adjust the bench. Answers with the proposal when it is there within a second."""

    @extend_schema(
        request=FormulateInSerializer,
        responses={
            200: JobSerializer,
            202: JobSerializer,
            400: ErrorSerializer,
            404: ErrorSerializer,
        },
    )
    def post(self, request: Request, pk: int) -> Response:
        asked, data = read_bench(request, pk, FormulateInSerializer)
        settings = guided(read_settings(data["settings"]), asked, data.get("way", ""))
        bench = asked.bench

        def work(job: jobs.Job) -> dict[str, Any]:
            found = formulate(bench, settings, job.progress, job.cancelled.is_set)
            return represent(asked, bench, found)

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
        request=HelpInSerializer,
        responses={200: HelpSerializer(many=True), 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def post(self, request: Request, pk: int) -> Response:
        asked, data = read_bench(request, pk, HelpInSerializer)
        limit = asked.requirements.limits.get(data["key"])
        if data["key"] not in reference().catalogue or limit is None or limit.minimum is None:
            raise InputError("key", "has no minimum that food could reach")
        lines = list(asked.lines.values())
        sums = sum_lines(asked.library, lines, asked.days)
        facts = reference()
        found = for_nutrient(
            facts.formulation, asked.library, sums, asked.requirements, data["key"],
            asked.bench.avoid, facts.supplements,
        )  # fmt: skip
        return Response(
            [
                {
                    "food": h.food.id, "name": h.food.name, "kind": h.kind, "text": h.text,
                    "grams": clean(h.grams), "kcal": clean(h.kcal),
                    "value_after": clean(h.value_after), "mends": h.mends, "breaks": h.breaks,
                    "grade": h.grade, "methods": method_choices(asked.library, h.food.id),
                }
                for h in found
            ]
        )  # fmt: skip


class RescaleView(APIView):
    """Bring the lines to the proportions of a way of feeding, to whichever part there is least of."""

    @extend_schema(
        request=RescaleInSerializer,
        responses={200: RescaledSerializer(many=True), 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def post(self, request: Request, pk: int) -> Response:
        asked, data = read_bench(request, pk, RescaleInSerializer)
        facts = reference()
        way = read_way(facts.feeding, data.get("way", ""))
        if way is None:
            raise InputError("way", "choose a way of feeding first")
        lines = list(asked.lines.values())
        factors = rescaled(
            facts.feeding, way, [x.food for x in lines], [x.fed_grams for x in lines]
        )
        out = []
        for (position, line), factor in zip(asked.lines.items(), factors, strict=True):
            if abs(factor - 1) > 1e-9:
                grams = line.amount.grams * factor
                step = step_of(facts.formulation, line.food, facts.supplements.get(line.food.id))
                whole = max(round(grams / step.grams), 1) * step.grams
                out.append({"line": position, "quantity": amount_text(step, whole)})
        return Response(out)


class SubstituteView(APIView):
    """How much of another food takes the place of a line."""

    @extend_schema(
        request=SubstituteInSerializer,
        responses={200: SubstituteSerializer, 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def post(self, request: Request, pk: int) -> Response:
        asked, data = read_bench(request, pk, SubstituteInSerializer)
        line = asked.lines.get(data["line"])
        if line is None:
            raise InputError("line", "is no line of this recipe")
        if data["food"] not in asked.library:
            raise InputError("food", f"no food {data['food']!r} in the library")
        facts = reference()
        key = "ENERC" if data["keep"] == "energy" else "PROCNT"
        column = asked.library.catalogue.index(key)
        row = asked.library.row(data["food"])
        theirs = float(asked.library.values[row, column])
        if not theirs > 0:
            raise InputError("food", f"{asked.library.foods[row].name} brings no {data['keep']}")
        sums = sum_lines(asked.library, [line], 1)
        food = asked.library.foods[row]
        supplement = facts.supplements.get(food.id)
        step = step_of(facts.formulation, food, supplement)
        grams = max(round(sums.amount(key) / theirs * 100 / step.grams), 1) * step.grams
        text = amount_text(step, grams)
        parse(food, text)
        return Response(
            {
                "food": food.id, "name": food.name, "quantity": text,
                "why_not": why_unfit(food, asked.bench.avoid, supplement),
                "methods": method_choices(asked.library, food.id),
            }
        )  # fmt: skip


class TemplateView(APIView):
    """A first draft after a way of feeding, scaled to the dog's energy; nothing is saved."""

    @extend_schema(
        request=RescaleInSerializer,
        responses={
            200: SubstituteSerializer(many=True),
            400: ErrorSerializer,
            404: ErrorSerializer,
        },
    )
    def post(self, request: Request, pk: int) -> Response:
        asked, data = read_bench(request, pk, RescaleInSerializer)
        facts = reference()
        way = read_way(facts.feeding, data.get("way", ""))
        if way is None:
            raise InputError("way", "choose a way of feeding first")
        avoid = asked.bench.avoid
        drafted = seeded(
            way,
            asked.library,
            case_energy(asked.case).target_kcal * asked.days,
            lambda food: not why_unfit(food, avoid, facts.supplements.get(food.id)),
        )
        out = []
        for food, grams in drafted:
            step = step_of(facts.formulation, food, facts.supplements.get(food.id))
            whole = max(round(grams / step.grams), 1) * step.grams
            out.append(
                {
                    "food": food.id, "name": food.name, "quantity": amount_text(step, whole),
                    "why_not": "", "methods": method_choices(asked.library, food.id),
                }
            )  # fmt: skip
        return Response(out)
