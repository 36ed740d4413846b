"""Foods and standards."""

from drf_spectacular.utils import OpenApiParameter, extend_schema
from library.facts import reference
from library.search import search
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView
from wainscot_core.report import clean

from .serializers import FoodSerializer, StandardSerializer


def food_data(row: int) -> dict[str, object]:
    """A food as the search shows it."""
    library = reference().library
    food = library.foods[row]
    return {
        "id": food.id,
        "name": food.name,
        "klass": food.klass,
        "form": food.form,
        "kcal_per_100g": clean(float(library.values[row, library.catalogue.index("ENERC")])),
        "measures": [{"name": m.name, "grams": m.grams, "source": m.source} for m in food.measures],
    }


class FoodSearchView(APIView):
    """Find an ingredient by words."""

    @extend_schema(
        parameters=[OpenApiParameter("q", str, required=True, description="words of the food")],
        responses=FoodSerializer(many=True),
    )
    def get(self, request: Request) -> Response:
        return Response([food_data(row) for row in search(request.query_params.get("q", "")[:80])])


class StandardListView(APIView):
    """The published standards."""

    @extend_schema(responses=StandardSerializer(many=True))
    def get(self, request: Request) -> Response:
        return Response(
            [
                {
                    "id": s.id,
                    "name": s.name,
                    "citation": s.citation,
                    "checked": s.checked,
                    "life_stages": [
                        {"id": stage.id, "name": stage.name} for stage in s.life_stages.values()
                    ],
                }
                for s in reference().standards.values()
            ]
        )
