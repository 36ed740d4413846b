"""Foods as a case looks at them: search, and what its client can get, cannot get or will not use."""

from dataclasses import dataclass
from typing import Annotated, Literal

from accounts.scoping import actor_of, practice_of
from django.http import HttpResponse
from drf_spectacular.utils import OpenApiParameter
from library.listing import find
from library.practice import library_for
from library.views import FoundFood, found_food
from pydantic import Field
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.boundary import Name80, Whole
from wainscot_core.bowl.marks import Mark
from wainscot_core.checks.strict import incomplete_groups
from wainscot_core.formats.casefile import MOST_DAYS_AHEAD
from wainscot_core.recipe.typed import split_typed
from wire.shapes import Many, answer_many, endpoint, read_body

from .actions import mark_foods
from .models import Case, ClientFood
from .queries import case_of, library_of, sourcing_of
from .records import record_of

MOST_LETTERS = 120
MOST_FOODS = 200


class FoodSearchView(APIView):
    """Find an ingredient by words; foods that cannot be had or used come last, with the mark."""

    @endpoint(
        Many(FoundFood),
        operation_id="foods_search",
        parameters=[
            OpenApiParameter(
                "q",
                str,
                required=True,
                description="words of the food, with or without an amount: “3 large eggs”",
            ),
            OpenApiParameter("case", int, description="the case it is for"),
        ],
    )
    def get(self, request: Request) -> HttpResponse:
        practice = practice_of(request)
        number = request.query_params.get("case", "")
        typed = split_typed(request.query_params.get("q", "")[:MOST_LETTERS])
        case = case_of(request, int(number)) if number.isdecimal() else None
        record = record_of(case) if case else None
        library = library_of(case) if case else library_for(practice)
        marks = (
            {m.food: m.mark for m in sourcing_of(case).marks if m.mark.keeps_out} if case else {}
        )
        foods = [
            found_food(
                practice,
                library,
                row,
                typed,
                marks.get(library.foods[row].id),
                incomplete_groups(record, library, library.foods[row].id) if record else (),
            )
            for row in find(practice, typed.food)
        ]
        return answer_many(FoundFood, sorted(foods, key=lambda f: f.mark is not None))


@dataclass(frozen=True, kw_only=True)
class ClientFoodMark:
    """What a client said of a food. days: how long before it must be ordered, None where that is not known."""

    food: str
    name: str
    mark: Mark
    days: int | None


@dataclass(frozen=True, kw_only=True)
class ClientFoodsSaid:
    """What a client said of foods; "not-asked" takes it back."""

    foods: Annotated[tuple[Name80, ...], Field(min_length=1, max_length=MOST_FOODS)]
    mark: Literal["can-get", "special-order", "cannot-get", "will-not-use", "not-asked"]
    days: Annotated[Whole, Field(ge=0, le=MOST_DAYS_AHEAD)] | None = None


class ClientFoodsView(APIView):
    """What a case's client can get, must order, cannot get or will not use."""

    @endpoint(Many(ClientFoodMark))
    def get(self, request: Request, pk: int) -> HttpResponse:
        return self.marks(case_of(request, pk))

    @endpoint(Many(ClientFoodMark), ClientFoodsSaid)
    def post(self, request: Request, pk: int) -> HttpResponse:
        case = case_of(request, pk)
        asked = read_body(ClientFoodsSaid, request)
        mark = None if asked.mark == "not-asked" else Mark(asked.mark)
        mark_foods(actor_of(request), case, asked.foods, mark, asked.days)
        return self.marks(case)

    def marks(self, case: Case) -> HttpResponse:
        """The marks of the case's client."""
        library = library_of(case)
        marks = ClientFood.objects.filter(client=case.dog.client).order_by("food")
        return answer_many(
            ClientFoodMark,
            (
                ClientFoodMark(
                    food=m.food,
                    name=library.food(m.food).name if m.food in library else m.food,
                    mark=Mark(m.mark),
                    days=m.days,
                )
                for m in marks
            ),
        )
