"""Recipes: open, autosave, analyse, explain a figure."""

from dataclasses import dataclass
from typing import Any

from diets.dossiers import recipe_dossier
from diets.models import Recipe
from diets.services import save_recipe
from django.http import Http404
from drf_spectacular.utils import extend_schema
from library.facts import reference
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView
from wainscot_core.amounts import written
from wainscot_core.boundary import Name40, Name160, Number, Whole
from wainscot_core.explain import explain
from wainscot_core.line import LineError
from wainscot_core.report import analyse, clean

from .asks import Lines, LinesAsk, recipe_of, typed_dossier, whole_dossier
from .scoping import own
from .serializers import (
    ErrorSerializer,
    RecipeSerializer,
)
from .serializers_analysis import (
    AnalysisSerializer,
    ExplainSerializer,
)
from .wire import read_body


@dataclass(frozen=True, kw_only=True)
class RecipeIn:
    """A recipe's whole content, against the version it was made on."""

    version: Whole
    name: Name160
    covers_days: Number
    lines: Lines


class RecipeView(APIView):
    """One recipe."""

    def represent(self, recipe: Recipe) -> Any:
        return RecipeSerializer(recipe).data

    @extend_schema(responses={200: RecipeSerializer, 404: ErrorSerializer})
    def get(self, request: Request, pk: int) -> Response:
        return Response(self.represent(own(Recipe, request, pk)))

    @extend_schema(
        request=RecipeIn,
        responses={
            200: RecipeSerializer,
            400: ErrorSerializer,
            404: ErrorSerializer,
            409: ErrorSerializer,
        },
    )
    def put(self, request: Request, pk: int) -> Response:
        recipe = own(Recipe, request, pk)
        asked = read_body(RecipeIn, request)
        texts = [line.text for line in asked.lines]
        saved = save_recipe(recipe, asked.version, asked.name, asked.covers_days, texts)
        return Response(self.represent(saved))

    @extend_schema(responses={204: None, 404: ErrorSerializer})
    def delete(self, request: Request, pk: int) -> Response:
        own(Recipe, request, pk).delete()
        return Response(status=204)


def error_data(error: LineError) -> dict[str, Any]:
    """A line that cannot be read, with the readings that can be chosen."""
    return {
        "line": error.line,
        "field": error.field,
        "message": error.message,
        "readings": [{"text": written(a), "grams": clean(a.grams)} for a in error.readings],
    }


class AnalysisView(APIView):
    """Compute a recipe: what is stored, or lines as they are typed."""

    @extend_schema(responses={200: AnalysisSerializer, 400: ErrorSerializer, 404: ErrorSerializer})
    def get(self, request: Request, pk: int) -> Response:
        """The stored recipe, every line of it: what documents are made of."""
        dossier = recipe_dossier(recipe_of(request, pk))
        positions = list(range(len(dossier.lines)))
        return Response({**analyse(dossier), "positions": positions, "line_errors": []})

    @extend_schema(
        request=LinesAsk,
        responses={200: AnalysisSerializer, 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def post(self, request: Request, pk: int) -> Response:
        """Lines as typed, saved or not. Those that cannot be read come back as errors."""
        dossier, positions, errors = typed_dossier(request, pk, read_body(LinesAsk, request))
        return Response(
            {
                **analyse(dossier),
                "positions": positions,
                "line_errors": [error_data(e) for e in errors],
            }
        )


@dataclass(frozen=True, kw_only=True)
class ExplainAsk(LinesAsk):
    """A nutrient of these lines to open."""

    key: Name40


class ExplainView(APIView):
    """Sources and trace of one nutrient."""

    @extend_schema(
        request=ExplainAsk,
        responses={200: ExplainSerializer, 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def post(self, request: Request, pk: int) -> Response:
        ask = read_body(ExplainAsk, request)
        if ask.key not in reference().catalogue:
            raise Http404("No nutrient with this key.")
        dossier = whole_dossier(request, pk, ask)
        found = explain(dossier, ask.key)
        return Response(
            {
                "key": found.key,
                "lines": [
                    {
                        "line": s.position,
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
