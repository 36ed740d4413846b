"""Recipes: open, autosave, analyse, explain a figure."""

from dataclasses import asdict
from typing import Any

from cases.models import Case
from diets.bench import reaction_flags
from diets.models import Recipe
from diets.services import (
    case_energy,
    case_requirements,
    check_days,
    practice_view,
    resolve_lines,
    save_recipe,
)
from django.http import Http404
from drf_spectacular.utils import extend_schema
from library.facts import reference
from library.practice import library_for
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView
from wainscot_core.adequacy import status_of
from wainscot_core.explain import explain
from wainscot_core.feeding import gauges, read_way
from wainscot_core.line import Line, sum_lines
from wainscot_core.report import clean, recipe_report

from .scoping import own
from .serializers import (
    ErrorSerializer,
    RecipeInSerializer,
    RecipeSerializer,
    line_texts,
)
from .serializers_analysis import (
    AnalysisInSerializer,
    AnalysisSerializer,
    ExplainInSerializer,
    ExplainSerializer,
)


class RecipeView(APIView):
    """One recipe."""

    def represent(self, recipe: Recipe) -> Any:
        return RecipeSerializer(recipe).data

    @extend_schema(responses={200: RecipeSerializer, 404: ErrorSerializer})
    def get(self, request: Request, pk: int) -> Response:
        return Response(self.represent(own(Recipe, request, pk)))

    @extend_schema(
        request=RecipeInSerializer,
        responses={
            200: RecipeSerializer,
            400: ErrorSerializer,
            404: ErrorSerializer,
            409: ErrorSerializer,
        },
    )
    def put(self, request: Request, pk: int) -> Response:
        recipe = own(Recipe, request, pk)
        form = RecipeInSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        data = form.validated_data
        saved = save_recipe(
            recipe, data["version"], data["name"], data["covers_days"], line_texts(data["lines"])
        )
        return Response(self.represent(saved))

    @extend_schema(responses={204: None, 404: ErrorSerializer})
    def delete(self, request: Request, pk: int) -> Response:
        own(Recipe, request, pk).delete()
        return Response(status=204)


class AnalysisView(APIView):
    """Compute lines, saved or not. Lines that cannot be computed come back as errors."""

    @extend_schema(
        request=AnalysisInSerializer,
        responses={200: AnalysisSerializer, 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def post(self, request: Request, pk: int) -> Response:
        case = own(Recipe, request, pk, "case__dog", "case__practice").case
        form = AnalysisInSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        data = form.validated_data
        library = library_for(request.user.practice)
        good, errors = resolve_lines(library, line_texts(data["lines"]))
        facts = reference()
        report = recipe_report(
            library,
            list(good.values()),
            check_days(data["covers_days"]),
            case_energy(case),
            case_requirements(case, data.get("standard"), data.get("life_stage")),
            facts.hazards,
            data.get("data_policy") or case.data_policy,
            case.dog.weight_kg,
        )
        report["flags"] = [
            *reaction_flags(case, library, list(good.values())),
            *report["flags"],
        ]
        report["gauges"], report["way_caution"] = self.guide(
            data.get("way", ""), list(good.values())
        )
        report["cost"], report["marks"] = practice_view(
            case, list(good.values()), data["covers_days"]
        )
        report["second"], report["second_name"] = self.second(case, data.get("second", ""), report)
        report["positions"] = list(good)
        report["line_errors"] = [
            {"line": e.line, "field": e.field, "message": e.message} for e in errors
        ]
        return Response(report)

    @staticmethod
    def guide(wanted: str, lines: list[Line]) -> tuple[list[dict[str, Any]], str]:
        """The proportions of a way of feeding as gauges, and its caution."""
        rules = reference().feeding
        way = read_way(rules, wanted)
        if way is None:
            return [], ""
        found = gauges(rules, way, [x.food for x in lines], [x.fed_grams for x in lines])
        return [asdict(g) for g in found], way.caution

    @staticmethod
    def second(case: Case, wanted: str, report: dict[str, Any]) -> tuple[dict[str, Any], str]:
        """Another standard's limits and verdicts beside the first, per 1000 kcal."""
        standard, _, stage = wanted.partition("|")
        if not standard:
            return {}, ""
        limits = case_requirements(case, standard, stage or None)
        found = {}
        for n in report["nutrients"]:
            limit = limits.limits.get(n["key"])
            if limit is not None:
                status = status_of(n["per_1000_kcal"], n["unknown_lines"] > 0, limit)
                found[n["key"]] = {
                    "min": clean(limit.minimum),
                    "max": clean(limit.maximum),
                    "status": status,
                }
        return found, limits.name


class ExplainView(APIView):
    """Sources and trace of one nutrient."""

    @extend_schema(
        request=ExplainInSerializer,
        responses={200: ExplainSerializer, 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def post(self, request: Request, pk: int) -> Response:
        case = own(Recipe, request, pk, "case__dog", "case__practice").case
        form = ExplainInSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        data = form.validated_data
        facts = reference()
        if data["key"] not in facts.catalogue:
            raise Http404("No nutrient with this key.")
        library = library_for(request.user.practice)
        good, _ = resolve_lines(library, line_texts(data["lines"]))
        rows = [line.row for line in good.values()]
        sums = sum_lines(library, list(good.values()), check_days(data["covers_days"]))
        found = explain(
            library, rows, sums,
            case_requirements(case, data.get("standard"), data.get("life_stage")), data["key"],
        )  # fmt: skip
        positions = list(good)
        return Response(
            {
                "key": found.key,
                "lines": [
                    {
                        "line": positions[s.position],
                        "food": s.food.id,
                        "name": s.food.name,
                        "grams": clean(s.grams),
                        "per_100_g": clean(s.per_100_g),
                        "amount": clean(s.amount),
                        "share": clean(s.share),
                        "grade": s.provenance.grade,
                        "provenance": s.provenance.text,
                        "citation": s.provenance.citation,
                        "confidence": s.provenance.confidence,
                    }
                    for s in found.lines
                ],
                "steps": [step.as_dict() for step in found.steps],
            }
        )
