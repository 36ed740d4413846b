"""Cases: list, start, open, change, put away, delete."""

from dataclasses import dataclass
from typing import Annotated

from cases.actions import change_fields, delete_case, set_archived
from cases.models import Case, Client, Dog
from cases.records import checked, fill
from diets.dossiers import record_energy, record_targets
from diets.models import Recipe
from diets.services import copy_recipe
from django.db import transaction
from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from pydantic import Field
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView
from wainscot_core.boundary import Name80, Name120, Name160, Text120, YesNo
from wainscot_core.record import BlankIsNone, CaseRecord, FieldChange, Kg, Months

from .asks import case_of
from .case_views import CaseRow, CaseView, case_row, case_view
from .scoping import own
from .serializers import ErrorSerializer, RecipeSerializer
from .wire import Many, answer, read_body


@dataclass(frozen=True, kw_only=True)
class NewCase:
    """A case from the little that is needed to start."""

    client_name: Name120
    dog_name: Name80
    weight_kg: Kg
    breed: Text120 = ""
    age_months: Annotated[Months | None, BlankIsNone] = None


@dataclass(frozen=True, kw_only=True)
class CaseChanges:
    """Fields of a case's record to set, by path, each with what it stood at."""

    changes: Annotated[tuple[FieldChange, ...], Field(min_length=1, max_length=200)]


@dataclass(frozen=True, kw_only=True)
class Archive:
    """Whether a case is put away."""

    archived: YesNo


@dataclass(frozen=True, kw_only=True)
class NewRecipe:
    """A recipe to start, empty or as a copy."""

    name: Name160
    copy_of: int | None = None


def holds_together(case: Case, record: CaseRecord) -> None:
    """Energy and targets can be computed. Raises InputError."""
    record_targets(case.practice, record, record_energy(record))


class CaseListView(APIView):
    """The practice's cases."""

    @extend_schema(operation_id="cases_list", responses=Many(CaseRow))
    def get(self, request: Request) -> HttpResponse:
        cases = (
            Case.objects.for_practice(request.user.practice)
            .select_related("dog__client")
            .prefetch_related("recipes")
        )
        return answer(tuple(case_row(c) for c in cases), tuple[CaseRow, ...])

    @extend_schema(request=NewCase, responses={201: CaseView, 400: ErrorSerializer})
    @transaction.atomic
    def post(self, request: Request) -> HttpResponse:
        new = read_body(NewCase, request)
        practice = request.user.practice
        record = checked(
            {
                "dog": {
                    "name": new.dog_name, "weight_kg": new.weight_kg, "breed": new.breed,
                    "age_months": new.age_months,
                }
            }
        )  # fmt: skip
        client, _ = Client.objects.get_or_create(practice=practice, name=new.client_name)
        case = Case(practice=practice, dog=Dog(practice=practice, client=client))
        fill(case, record)
        case.dog.save()
        case.dog_id = case.dog.pk
        case.save()
        Recipe.objects.create(practice=practice, case=case, name="First draft")
        return answer(case_view(case), status=201)


class CaseDetailView(APIView):
    """One case."""

    def represent(self, case: Case) -> object:
        """The stored case, for a collision."""
        return case_view(case)

    @extend_schema(responses={200: CaseView, 400: ErrorSerializer, 404: ErrorSerializer})
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer(case_view(case_of(request, pk)))

    @extend_schema(
        request=CaseChanges,
        responses={
            200: CaseView, 400: ErrorSerializer, 404: ErrorSerializer, 409: ErrorSerializer,
        },
    )  # fmt: skip
    def patch(self, request: Request, pk: int) -> HttpResponse:
        """Set single fields; those that others changed meanwhile are told, not overwritten."""
        asked = read_body(CaseChanges, request)
        change_fields(request.user.practice, pk, asked.changes, holds_together)
        return answer(case_view(case_of(request, pk)))

    @extend_schema(responses={204: None, 404: ErrorSerializer})
    def delete(self, request: Request, pk: int) -> Response:
        """Delete the case with its recipes, versions and plan."""
        delete_case(request.user.practice, pk)
        return Response(status=204)


class ArchiveView(APIView):
    """Put a case away, or take it back."""

    @extend_schema(request=Archive, responses={204: None, 404: ErrorSerializer})
    def post(self, request: Request, pk: int) -> Response:
        set_archived(request.user.practice, pk, read_body(Archive, request).archived)
        return Response(status=204)


class CaseRecipesView(APIView):
    """Start a recipe in a case, empty or as a copy."""

    @extend_schema(
        request=NewRecipe,
        responses={201: RecipeSerializer, 400: ErrorSerializer, 404: ErrorSerializer},
    )
    @transaction.atomic
    def post(self, request: Request, pk: int) -> Response:
        case = case_of(request, pk)
        new = read_body(NewRecipe, request)
        if new.copy_of is not None:
            recipe = copy_recipe(own(Recipe, request, new.copy_of), case, new.name)
        else:
            recipe = Recipe.objects.create(practice=case.practice, case=case, name=new.name)
        return Response(RecipeSerializer(recipe).data, status=201)
