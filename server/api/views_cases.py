"""Cases: list, start, open, change."""

from typing import Any

from cases.models import Case, Client, Dog
from diets.models import Recipe
from diets.services import StaleWriteError, case_energy, case_requirements, copy_recipe
from django.db import transaction
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from .scoping import own
from .serializers import (
    CasePatchSerializer,
    CaseSerializer,
    ErrorSerializer,
    NewCaseSerializer,
    NewRecipeSerializer,
    RecipeSerializer,
)

DOG_FIELDS = (
    "weight_kg", "body_condition", "ideal_weight_kg", "adult_weight_kg", "age_months", "neutered",
    "activity", "litter_size", "lactation_week", "gestation_week", "birth_date", "breed", "sex",
)  # fmt: skip


class CaseListView(APIView):
    """The practice's cases."""

    @extend_schema(responses=CaseSerializer(many=True))
    def get(self, request: Request) -> Response:
        cases = (
            Case.objects.for_practice(request.user.practice)
            .select_related("dog__client")
            .prefetch_related("recipes")
        )
        return Response(CaseSerializer(cases, many=True).data)

    @extend_schema(request=NewCaseSerializer, responses={201: CaseSerializer, 400: ErrorSerializer})
    @transaction.atomic
    def post(self, request: Request) -> Response:
        form = NewCaseSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        data = form.validated_data
        practice = request.user.practice
        client, _ = Client.objects.get_or_create(practice=practice, name=data["client_name"])
        dog = Dog.objects.create(
            practice=practice,
            client=client,
            name=data["dog_name"],
            breed=data["breed"],
            weight_kg=data["weight_kg"],
            age_months=data.get("age_months"),
        )
        case = Case.objects.create(practice=practice, dog=dog)
        Recipe.objects.create(practice=practice, case=case, name="First draft")
        return Response(CaseSerializer(case).data, status=201)


class CaseView(APIView):
    """One case."""

    def represent(self, case: Case) -> Any:
        return CaseSerializer(case).data

    @extend_schema(responses={200: CaseSerializer, 404: ErrorSerializer})
    def get(self, request: Request, pk: int) -> Response:
        return Response(self.represent(own(Case, request, pk, "dog__client", "practice")))

    @extend_schema(
        request=CasePatchSerializer,
        responses={
            200: CaseSerializer,
            400: ErrorSerializer,
            404: ErrorSerializer,
            409: ErrorSerializer,
        },
    )
    @transaction.atomic
    def patch(self, request: Request, pk: int) -> Response:
        case = own(Case, request, pk, "dog__client", "practice")
        form = CasePatchSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        data = dict(form.validated_data)
        if data.pop("version") != case.version:
            raise StaleWriteError(case)
        if "dog_name" in data:
            case.dog.name = data.pop("dog_name")
        for key, value in data.items():
            setattr(case.dog if key in DOG_FIELDS else case, key, value)
        # Both raise InputError before anything is written.
        case_energy(case)
        case_requirements(case)
        case.version += 1
        case.dog.save()
        case.save()
        return Response(self.represent(case))


class CaseRecipesView(APIView):
    """Start a recipe in a case, empty or as a copy."""

    @extend_schema(
        request=NewRecipeSerializer,
        responses={201: RecipeSerializer, 400: ErrorSerializer, 404: ErrorSerializer},
    )
    @transaction.atomic
    def post(self, request: Request, pk: int) -> Response:
        case = own(Case, request, pk, "dog", "practice")
        form = NewRecipeSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        name = form.validated_data["name"]
        if "copy_of" in form.validated_data:
            source = own(Recipe, request, form.validated_data["copy_of"])
            recipe = copy_recipe(source, case, name)
        else:
            recipe = Recipe.objects.create(practice=request.user.practice, case=case, name=name)
        return Response(RecipeSerializer(recipe).data, status=201)
