"""Versions of a recipe, and the plan of a case."""

from typing import Any

from cases.models import Case
from diets.models import Plan, Recipe, RecipeVersion
from diets.plans import kept_items, plan_report, read_turns
from diets.services import StaleWriteError
from diets.versions import branch, keep, restore
from django.db import transaction
from drf_spectacular.utils import extend_schema
from library.practice import library_for
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView
from wainscot_core.errors import InputError

from .scoping import own
from .serializers import (
    ErrorSerializer,
    RecipeSerializer,
)
from .serializers_bench import (
    NameInSerializer,
    PlanAnalysisSerializer,
    PlanInSerializer,
    VersionSerializer,
)


def version_data(request: Request, versions: Any, many: bool = False) -> Any:
    """Versions with the names of their foods."""
    library = library_for(request.user.practice)
    return VersionSerializer(versions, many=many, context={"library": library}).data


def read_name(request: Request) -> str:
    """The name in a request."""
    form = NameInSerializer(data=request.data)
    form.is_valid(raise_exception=True)
    return str(form.validated_data["name"])


class VersionListView(APIView):
    """The versions of a recipe, newest first."""

    @extend_schema(responses={200: VersionSerializer(many=True), 404: ErrorSerializer})
    def get(self, request: Request, pk: int) -> Response:
        recipe = own(Recipe, request, pk)
        return Response(version_data(request, recipe.versions.all(), many=True))

    @extend_schema(
        request=NameInSerializer,
        responses={201: VersionSerializer, 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def post(self, request: Request, pk: int) -> Response:
        """Keep the recipe as it is."""
        recipe = own(Recipe, request, pk, "practice")
        kept = keep(recipe, read_name(request), request.user.username)
        return Response(version_data(request, kept), status=201)


class VersionView(APIView):
    """One version: rename it or delete it; its content never changes."""

    @extend_schema(
        request=NameInSerializer,
        responses={200: VersionSerializer, 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def patch(self, request: Request, pk: int) -> Response:
        version = own(RecipeVersion, request, pk)
        name = read_name(request).strip()
        if name:
            version.name = name
            version.save(update_fields=["name"])
        return Response(version_data(request, version))

    @extend_schema(responses={204: None, 404: ErrorSerializer})
    def delete(self, request: Request, pk: int) -> Response:
        own(RecipeVersion, request, pk).delete()
        return Response(status=204)


class RestoreView(APIView):
    """Make the recipe what this version was; what it was until now is kept."""

    @extend_schema(
        request=None,
        responses={200: RecipeSerializer, 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def post(self, request: Request, pk: int) -> Response:
        version = own(RecipeVersion, request, pk, "recipe__case", "recipe__practice")
        return Response(RecipeSerializer(restore(version, request.user.username)).data)


class BranchView(APIView):
    """A new recipe that starts from this version."""

    @extend_schema(
        request=NameInSerializer,
        responses={201: RecipeSerializer, 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def post(self, request: Request, pk: int) -> Response:
        version = own(RecipeVersion, request, pk, "recipe__case", "recipe__practice")
        return Response(RecipeSerializer(branch(version, read_name(request))).data, status=201)


class PlanView(APIView):
    """What the dog is fed altogether."""

    def represent(self, plan: Plan) -> Any:
        """A plan with its analysis."""
        case = plan.case
        content = {"turns": plan.turns, "items": plan.items}
        empty = not any(t["days"] for t in plan.turns) and not plan.items
        found: dict[str, Any] = {
            "analysis": None, "days": [], "round_days": 0, "extras_share": 0, "extras_most": 0.1,
            "extras_source": "", "item_kcal": [],
        }  # fmt: skip
        problem = ""
        if not empty:
            try:
                found = plan_report(case, content)
            except InputError as error:
                # A line that cannot be read stops the sums of the plan, not the plan.
                problem = error.message
                found["item_kcal"] = [None] * len(plan.items)
        library = library_for(case.practice)
        items = [
            {
                **item, "kcal": kcal,
                "name": library.food(item["food"]).name if item["food"] in library else item["food"],
            }
            for item, kcal in zip(plan.items, found.pop("item_kcal"), strict=True)
        ]  # fmt: skip
        return {
            **found, "version": plan.version, "turns": plan.turns, "items": items, "empty": empty,
            "problem": problem,
        }  # fmt: skip

    def plan(self, request: Request, pk: int) -> Plan:
        """The case's plan; a new one feeds the first recipe every day."""
        case = own(Case, request, pk, "dog", "practice")
        first = case.recipes.first()
        turns = [{"recipe": first.pk, "days": 1}] if first is not None else []
        plan, _ = Plan.objects.get_or_create(
            case=case, practice=case.practice, defaults={"turns": turns}
        )
        return plan

    @extend_schema(responses={200: PlanAnalysisSerializer, 404: ErrorSerializer})
    def get(self, request: Request, pk: int) -> Response:
        return Response(self.represent(self.plan(request, pk)))

    @extend_schema(
        request=PlanInSerializer,
        responses={
            200: PlanAnalysisSerializer, 400: ErrorSerializer, 404: ErrorSerializer, 409: ErrorSerializer,
        },
    )  # fmt: skip
    @transaction.atomic
    def put(self, request: Request, pk: int) -> Response:
        plan = self.plan(request, pk)
        form = PlanInSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        data = form.validated_data
        if data["version"] != plan.version:
            raise StaleWriteError(plan)
        plan.turns = [dict(x) for x in data["turns"]]
        library = library_for(plan.practice)
        read_turns(plan.case, library, plan.turns)
        plan.items = kept_items(library, [dict(x) for x in data["items"]])
        plan.version += 1
        body = self.represent(plan)
        plan.save()
        return Response(body)
