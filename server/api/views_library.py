"""Search, the library list, profiles, what a practice knows of a food, standards."""

import math
from typing import Any

from cases.models import Case, Client, ClientFood
from diets.services import food_marks, incomplete_groups
from django.http import Http404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from library.facts import reference
from library.models import OwnFood, PracticeFood
from library.practice import library_for, note_food, questions_open
from library.shelf import Filters, find, shelf
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView
from wainscot_core.completeness import GROUPS, completeness
from wainscot_core.errors import InputError
from wainscot_core.foods import FoodLibrary
from wainscot_core.forms import forms_of
from wainscot_core.formulation.candidates import first_amount
from wainscot_core.report import clean
from wainscot_core.traits import traits_of
from wainscot_core.typed import Typed, split_typed, typed_amount

from .scoping import own
from .serializers import (
    ErrorSerializer,
    method_choices,
)
from .serializers_library import (
    ClientFoodSerializer,
    FoodSerializer,
    PracticeFoodSerializer,
    ProfileSerializer,
    ShelfSerializer,
)


def food_data(
    request: Request, library: FoodLibrary, row: int, case: Case | None, typed: Typed | None = None
) -> dict[str, Any]:
    """A food as the search shows it, with the amount that was typed beside its name."""
    food = library.foods[row]
    facts = reference()
    return {
        "id": food.id,
        "name": food.name,
        "klass": food.klass,
        "form": food.form,
        "kcal_per_100g": clean(float(library.values[row, library.catalogue.index("ENERC")])),
        "methods": method_choices(library, food.id),
        "quantity": (typed_amount(typed) if typed else "") or first_amount(facts.formulation, food),
        "mark": "",
        "questions": questions_open(request.user.practice, food.id) if food.is_supplement else [],
        "incomplete": incomplete_groups(case, library, food.id) if case else [],
    }


class FoodSearchView(APIView):
    """Find an ingredient by words; foods that cannot be had or used come last, with the mark."""

    @extend_schema(
        parameters=[
            OpenApiParameter(
                "q",
                str,
                required=True,
                description="words of the food, with or without an amount: “3 large eggs”",
            ),
            OpenApiParameter("case", int, description="the case it is for"),
        ],
        responses=FoodSerializer(many=True),
    )
    def get(self, request: Request) -> Response:
        library = library_for(request.user.practice)
        number = request.query_params.get("case", "")
        case = own(Case, request, int(number), "dog__client") if number.isdecimal() else None
        typed = split_typed(request.query_params.get("q", "")[:120])
        rows = find(request.user.practice, typed.food)
        foods = [food_data(request, library, row, case, typed) for row in rows]
        if case:
            marks = {m.food: m.mark.value for m in food_marks(case)}
            for food in foods:
                food["mark"] = marks.get(food["id"], "")
            foods.sort(key=lambda f: bool(f["mark"]))
        return Response(foods)


class ShelfView(APIView):
    """The library as a list with filters."""

    @extend_schema(
        parameters=[
            OpenApiParameter("q", str), OpenApiParameter("klass", str),
            OpenApiParameter("without", str, description="source group, for example chicken"),
            OpenApiParameter("richest", str, description="nutrient key; sorts by it per 1000 kcal"),
            OpenApiParameter("complete", str, description="nutrient group with every value known"),
            OpenApiParameter("available", bool), OpenApiParameter("all", bool, description="not only plain foods"),
        ],
        responses={200: ShelfSerializer, 400: ErrorSerializer},
    )  # fmt: skip
    def get(self, request: Request) -> Response:
        library = library_for(request.user.practice)
        asked = request.query_params
        richest, complete = asked.get("richest", ""), asked.get("complete", "")
        if richest and richest not in library.catalogue:
            raise InputError("richest", "is not a nutrient key")
        if complete and complete not in GROUPS:
            raise InputError("complete", f"use one of: {', '.join(GROUPS)}")
        found = shelf(
            request.user.practice,
            Filters(
                asked.get("q", "")[:80], asked.get("klass", ""), asked.get("without", ""), richest,
                complete, asked.get("available") == "true", asked.get("all") != "true",
            ),
        )  # fmt: skip
        energy = library.catalogue.index("ENERC")
        return Response(
            {
                "foods": [
                    {
                        "id": library.foods[f.row].id,
                        "name": library.foods[f.row].name,
                        "klass": library.foods[f.row].klass,
                        "form": library.foods[f.row].form,
                        "kcal_per_100g": clean(float(library.values[f.row, energy])),
                        "known_share": round(f.known_share, 3),
                        "price_per_kg": f.price_per_kg,
                        "unavailable": f.unavailable,
                        "value": clean(f.value),
                    }
                    for f in found
                ],
                "classes": sorted({food.klass for food in library.foods}),
                "allergens": sorted({a for food in library.foods for a in food.allergens}),
                "nutrients": [
                    {"id": n.key, "name": n.name} for n in library.catalogue.nutrients if n.board
                ],
            }
        )


class ProfileView(APIView):
    """All that is known of one food, and what the practice adds to it."""

    @extend_schema(responses={200: ProfileSerializer, 404: ErrorSerializer})
    def get(self, request: Request, food_id: str) -> Response:
        return Response(self.profile(request, food_id))

    @extend_schema(
        request=PracticeFoodSerializer,
        responses={200: ProfileSerializer, 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def patch(self, request: Request, food_id: str) -> Response:
        form = PracticeFoodSerializer(data=request.data, partial=True)
        form.is_valid(raise_exception=True)
        if food_id not in library_for(request.user.practice):
            raise Http404("No food with this id.")
        note_food(request.user.practice, food_id, form.validated_data)
        return Response(self.profile(request, food_id))

    def profile(self, request: Request, food_id: str) -> dict[str, Any]:
        """The profile of a food of the practice's library; 404 when it is not there."""
        library = library_for(request.user.practice)
        if food_id not in library:
            raise Http404("No food with this id.")
        facts, row = reference(), library.row(food_id)
        food = library.foods[row]
        given = food.handling
        noted = (
            PracticeFood.objects.for_practice(request.user.practice).filter(food=food_id).first()
        )
        mine = (
            OwnFood.objects.for_practice(request.user.practice).filter(slug=food_id[4:]).first()
            if food_id.startswith("own:")
            else None
        )
        return {
            **food_data(request, library, row, None),
            "source_name": food.source_name,
            "allergens": list(food.allergens),
            "traits": traits_of(facts.traits, food),
            "measures": [{"name": m.name, "grams": m.grams, "source": m.source} for m in food.measures],
            "values": profile_values(library, row),
            "completeness": [
                {"group": c.group, "known": c.known, "firm": c.firm} for c in completeness(library, row)
            ],
            "forms": [
                {"id": f.food.id, "name": f.food.name, "weight_share": clean(f.weight_share)}
                for f in forms_of(library, row)
            ],
            "handling": {
                "form": given.form, "step_g": given.step_g, "heat": given.heat,
                "add": given.add, "block": given.block,
            } if given else None,
            "practice": PracticeFoodSerializer(noted).data if noted else None,
            "own": mine.pk if mine else None,
        }  # fmt: skip


def profile_values(library: FoodLibrary, row: int) -> list[dict[str, Any]]:
    """Every nutrient of a food on three bases with its provenance."""
    energy = float(library.values[row, library.catalogue.index("ENERC")])
    dry = 100 - float(library.values[row, library.catalogue.index("WATER")])
    out = []
    for i, nutrient in enumerate(library.catalogue.nutrients):
        value = float(library.values[row, i])
        known = not math.isnan(value)
        origin = library.provenance[int(library.codes[row, i])]
        out.append(
            {
                "key": nutrient.key, "name": nutrient.name, "unit": nutrient.unit,
                "group": nutrient.group, "decimals": nutrient.decimals,
                "per_100g": clean(value) if known else None,
                "per_1000_kcal": clean(value / energy * 1000) if known and energy > 0 else None,
                "per_100g_dry_matter": clean(value / dry * 100) if known and dry > 0 else None,
                "grade": origin.grade, "provenance": origin.text, "citation": origin.citation,
                "confidence": origin.confidence,
            }
        )  # fmt: skip
    return out


class ClientFoodsView(APIView):
    """What a case's client cannot get or will not use."""

    @extend_schema(responses={200: ClientFoodSerializer(many=True), 404: ErrorSerializer})
    def get(self, request: Request, pk: int) -> Response:
        return Response(self.marks(own(Case, request, pk, "dog__client").dog.client))

    @extend_schema(
        request=ClientFoodSerializer,
        responses={
            200: ClientFoodSerializer(many=True),
            400: ErrorSerializer,
            404: ErrorSerializer,
        },
    )
    def post(self, request: Request, pk: int) -> Response:
        client = own(Case, request, pk, "dog__client").dog.client
        form = ClientFoodSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        food, mark = form.validated_data["food"], form.validated_data["mark"]
        if food not in library_for(request.user.practice):
            raise InputError("food", f"no food {food!r} in the library")
        if mark == "fine":
            client.food_marks.filter(food=food).delete()
        else:
            ClientFood.objects.update_or_create(
                client=client, food=food, defaults={"mark": mark, "practice": client.practice}
            )
        return Response(self.marks(client))

    def marks(self, client: Client) -> list[dict[str, str]]:
        """The client's marks."""
        return [{"food": m.food, "mark": m.mark} for m in client.food_marks.order_by("food")]
