"""The library beside a recipe: which foods close its gaps, and what 1000 kcal of a few of them bring."""

from django.http import Http404, HttpResponse
from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.errors import InputError
from wainscot_core.formulation.density import Densities, GapTable, densities, gap_table
from wire.shapes import answer, endpoint

from .asks import read_recipe
from .dossiers import recipe_dossier

MOST_FOODS = 4


class GapsView(APIView):
    """The gaps of a stored recipe, and every food of the library beside them, the most helpful first."""

    @endpoint(
        GapTable, errors=(400, 404),
        parameters=[OpenApiParameter("all", bool, description="not only plain foods and supplements")],
    )  # fmt: skip
    def get(self, request: Request, pk: int) -> HttpResponse:
        whole = request.query_params.get("all") != "true"
        return answer(gap_table(recipe_dossier(read_recipe(request, pk)), whole))


class DensityView(APIView):
    """What 1000 kcal of up to four foods bring of everything that has a limit for this dog."""

    @endpoint(
        Densities, errors=(400, 404),
        parameters=[OpenApiParameter("food", str, many=True, required=True, description="id of a food")],
    )  # fmt: skip
    def get(self, request: Request, pk: int) -> HttpResponse:
        dossier = recipe_dossier(read_recipe(request, pk))
        foods = tuple(dict.fromkeys(request.query_params.getlist("food")))
        if not 0 < len(foods) <= MOST_FOODS:
            raise InputError("food", f"name one to {MOST_FOODS} foods")
        if any(food not in dossier.library for food in foods):
            raise Http404("No food with this id.")
        return answer(densities(dossier, foods))
