"""Foods as a case looks at them: search, and what its client cannot get or will not use."""

from dataclasses import dataclass
from typing import Literal

from accounts.scoping import actor_of, practice_of
from django.http import HttpResponse
from drf_spectacular.utils import OpenApiParameter
from library.listing import find
from library.practice import library_for
from library.views import FoundFood, found_food
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.boundary import Name80
from wainscot_core.bowl.marks import Mark
from wainscot_core.checks.strict import incomplete_groups
from wainscot_core.recipe.typed import split_typed
from wire.shapes import Many, answer_many, endpoint, read_body

from .actions import mark_food
from .models import Case, ClientFood
from .queries import case_of, library_of, sourcing_of
from .records import record_of

MOST_LETTERS = 120


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
        marks = {m.food: m.mark for m in sourcing_of(case).marks} if case else {}
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
    """A food a client cannot get or will not use; "fine" takes that back."""

    food: Name80
    mark: Literal["cannot-get", "will-not-use", "fine"]


class ClientFoodsView(APIView):
    """What a case's client cannot get or will not use."""

    @endpoint(Many(ClientFoodMark))
    def get(self, request: Request, pk: int) -> HttpResponse:
        return self.marks(case_of(request, pk))

    @endpoint(Many(ClientFoodMark), ClientFoodMark)
    def post(self, request: Request, pk: int) -> HttpResponse:
        case = case_of(request, pk)
        asked = read_body(ClientFoodMark, request)
        mark_food(
            actor_of(request), case, asked.food, None if asked.mark == "fine" else Mark(asked.mark)
        )
        return self.marks(case)

    def marks(self, case: Case) -> HttpResponse:
        """The marks of the case's client."""
        marks = ClientFood.objects.filter(client=case.dog.client).order_by("food")
        return answer_many(
            ClientFoodMark, (ClientFoodMark(food=m.food, mark=m.mark) for m in marks)
        )
