"""Recipes: start, open, autosave, analyse, explain a figure; volume rules and case files."""

from dataclasses import dataclass
from typing import Annotated, Any

from accounts.permissions import Work
from accounts.scoping import actor_of, find_own, own
from cases.models import Case
from cases.queries import case_of, conventions_for, library_of, record_energy
from cases.records import record_of
from cases.views import CaseView, case_view
from django.http import Http404, HttpResponse, JsonResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter
from library.api_foods import ImportView
from library.api_shelf import ShelfEntryDetailView
from library.facts import reference
from pydantic import Field
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView
from wainscot_core.analysis.analyse import analyse, analyse_typed
from wainscot_core.analysis.explain import explain
from wainscot_core.analysis.results import Analysis, Explanation, TypedAnalysis
from wainscot_core.boundary import Name40, Name160, Text40, Text120, Text200, Whole, YesNo
from wainscot_core.case.energy_view import PortionResult, portion_result
from wainscot_core.changes import FieldChange
from wainscot_core.errors import InputError
from wainscot_core.formats.recipe_text import RecipeForm, Written, write
from wainscot_core.robust.robustness import Robustness, robustness
from wainscot_core.robust.swaps import SwapClass, swaps
from wire.shapes import answer, download, endpoint, read_body

from .actions import (
    change_recipe,
    copy_recipe,
    delete_recipe,
    import_foods_keeping,
    set_recipe_archived,
    start_recipe,
    stock_label_keeping,
)
from .asks import LinesAsk, recipe_of, typed_dossier, whole_dossier
from .casefiles import case_file, import_case, start_sample
from .dossiers import recipe_dossier
from .lines import stored_lines
from .models import Recipe
from .views import RecipeView, recipe_view

_SUFFIXES = {
    "text": ("txt", "text/plain; charset=utf-8"),
    "csv": ("csv", "text/csv; charset=utf-8"),
    "json-ld": ("json", "application/ld+json"),
}
# A recipe replaced by another one, line by line, is that many changes.
MOST_CHANGES = 500


@dataclass(frozen=True, kw_only=True)
class NewRecipe:
    """A recipe to start, empty or as a copy."""

    name: Name160
    copy_of: int | None = None


@dataclass(frozen=True, kw_only=True)
class RecipeChanges:
    """Fields of a recipe to set, by path, each with what it stood at: name, covers_days, order,
    lines.KEY (null takes the line away), lines.KEY.quantity and so on.

    keep_as: keep the recipe as it was, under this name, before it is changed.
    """

    changes: Annotated[tuple[FieldChange, ...], Field(min_length=1, max_length=MOST_CHANGES)]
    keep_as: Text120 = ""


@dataclass(frozen=True, kw_only=True)
class ExplainAsk(LinesAsk):
    """A nutrient of these lines to open."""

    key: Name40


@dataclass(frozen=True, kw_only=True)
class VolumeAsk:
    """A volume rule as people say it, and the recipe it is fed of."""

    rule: Text200
    recipe: Whole


class CaseRecipesView(APIView):
    """Start a recipe in a case, empty or as a copy."""

    @endpoint(RecipeView, NewRecipe, 201)
    def post(self, request: Request, pk: int) -> HttpResponse:
        case = case_of(request, pk)
        new = read_body(NewRecipe, request)
        made = (
            start_recipe(actor_of(request), case, new.name)
            if new.copy_of is None
            else copy_recipe(actor_of(request), own(Recipe, request, new.copy_of), case, new.name)
        )
        return answer(recipe_view(made), status=201)


class RecipeDetailView(APIView):
    """One recipe."""

    @endpoint(RecipeView, errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer(recipe_view(own(Recipe, request, pk, "practice")))

    @endpoint(RecipeView, RecipeChanges, errors=(400, 404, 409))
    def patch(self, request: Request, pk: int) -> HttpResponse:
        """Set single fields; those that others changed meanwhile are told, not overwritten."""
        recipe = own(Recipe, request, pk)
        asked = read_body(RecipeChanges, request)
        change_recipe(actor_of(request), recipe.pk, asked.changes, asked.keep_as)
        return answer(recipe_view(own(Recipe, request, pk, "practice")))

    @endpoint(None, status=204, errors=(404,))
    def delete(self, request: Request, pk: int) -> Response:
        delete_recipe(actor_of(request), pk)
        return Response(status=204)


@dataclass(frozen=True, kw_only=True)
class PutAway:
    """Whether a recipe is put away."""

    archived: YesNo


class RecipeArchiveView(APIView):
    """Put a recipe away, or take it back."""

    @endpoint(None, PutAway, 204, (404,))
    def post(self, request: Request, pk: int) -> Response:
        recipe = own(Recipe, request, pk)
        asked = read_body(PutAway, request)
        set_recipe_archived(actor_of(request), recipe.pk, asked.archived)
        return Response(status=204)


class AnalysisView(APIView):
    """Compute a recipe: what is stored, or lines as they are typed."""

    work = Work.READ

    @endpoint(Analysis)
    def get(self, request: Request, pk: int) -> HttpResponse:
        """The stored recipe, every line of it: what documents are made of."""
        return answer(analyse(recipe_dossier(recipe_of(request, pk))))

    @endpoint(TypedAnalysis, LinesAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Lines as typed, saved or not. Those that cannot be read come back as errors."""
        dossier, positions, errors = typed_dossier(request, pk, read_body(LinesAsk, request))
        return answer(analyse_typed(dossier, positions, errors))


class ExplainView(APIView):
    """Sources and trace of one nutrient."""

    work = Work.READ

    @endpoint(Explanation, ExplainAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        ask = read_body(ExplainAsk, request)
        if ask.key not in reference().catalogue:
            raise Http404("No nutrient with this key.")
        return answer(explain(whole_dossier(request, pk, ask), ask.key))


@dataclass(frozen=True, kw_only=True)
class RobustnessAsk(LinesAsk):
    """mixed: how supplements are stirred in, "" where nobody says."""

    mixed: Text40 = ""


class RobustnessView(APIView):
    """Whether a recipe survives a kitchen: drawn by the thousand, and line by line left out, halved, doubled."""

    work = Work.READ

    @endpoint(Robustness, RobustnessAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        asked = read_body(RobustnessAsk, request)
        found = robustness(whole_dossier(request, pk, asked), mixed=asked.mixed)
        if found is None:
            raise InputError("lines", "they bring no energy yet: write the recipe first")
        return answer(found)


@dataclass(frozen=True, kw_only=True)
class SwapsAsk(LinesAsk):
    """A line that another food of its kind may stand for."""

    line: Whole


class SwapsView(APIView):
    """What breaks where a line is another food of its kind."""

    work = Work.READ

    @endpoint(SwapClass, SwapsAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        asked = read_body(SwapsAsk, request)
        return answer(swaps(whole_dossier(request, pk, asked), asked.line))


def recipe_in(case: Case, pk: int) -> Recipe:
    """A recipe of this very case; 404 for that of another one."""
    return find_own(Recipe, case.practice, "practice", case=case, pk=pk)


class ImportKeepingView(ImportView):
    """Preview an import, then accept it; recipes with foods that it changes are kept first."""

    take = staticmethod(import_foods_keeping)


class ShelfKeepingView(ShelfEntryDetailView):
    """One supplement of the shelf; recipes that hold it are kept before its label is changed."""

    write = staticmethod(stock_label_keeping)


class VolumeView(APIView):
    """What a volume rule gives this dog with one of its recipes."""

    work = Work.READ

    @endpoint(PortionResult, VolumeAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        case = case_of(request, pk)
        asked = read_body(VolumeAsk, request)
        library = library_of(case)
        lines = stored_lines(recipe_in(case, asked.recipe), library)
        record = record_of(case)
        target = record_energy(record).target_kcal
        measures = conventions_for(case.dog.client).measures
        return answer(
            portion_result(reference().energy, record, library, lines, asked.rule, target, measures)
        )


class CaseFileView(APIView):
    """The case with one recipe as a case file (docs/formats/case.schema.json)."""

    @endpoint(OpenApiTypes.OBJECT, parameters=[OpenApiParameter("recipe", int, required=True)])
    def get(self, request: Request, pk: int) -> JsonResponse:
        case = case_of(request, pk)
        number = request.query_params.get("recipe") or ""
        if not number.isdecimal():
            raise InputError("recipe", "give the number of a recipe of this case")
        name = f"case-{case.pk}-recipe-{number}.json"
        return JsonResponse(
            case_file(case, recipe_in(case, int(number))),
            headers={"Content-Disposition": f'attachment; filename="{name}"'},
        )


class RecipeExportView(APIView):
    """A recipe as plain text, a table (CSV) or schema.org data, as it is stored."""

    @endpoint(OpenApiTypes.STR, parameters=[OpenApiParameter("form", str, required=True)])
    def get(self, request: Request, pk: int) -> HttpResponse:
        recipe = recipe_of(request, pk)
        form = request.query_params.get("form") or ""
        if form not in _SUFFIXES:
            raise InputError("form", f"must be one of: {', '.join(_SUFFIXES)}")
        dossier = recipe_dossier(recipe)
        text = write(Written(recipe.name, dossier.lines, dossier.days), RecipeForm(form))
        suffix, kind = _SUFFIXES[form]
        return download(text, f"recipe-{recipe.pk}.{suffix}", kind)


class CaseImportView(APIView):
    """Make a case from a case file (docs/formats/case.schema.json)."""

    @endpoint(CaseView, OpenApiTypes.OBJECT, 201, (400,))
    def post(self, request: Request) -> HttpResponse:
        """What is stored can be read back, or nothing is stored."""
        data: Any = request.data
        if not isinstance(data, dict):
            raise InputError("", "a case file is one JSON object")
        case = import_case(actor_of(request), data)
        return answer(case_view(case_of(request, case.pk)), status=201)


class SampleCaseView(APIView):
    """A made-up dog to try the program on."""

    @endpoint(CaseView, None, 201, ())
    def post(self, request: Request) -> HttpResponse:
        case = start_sample(actor_of(request))
        return answer(case_view(case_of(request, case.pk)), status=201)
