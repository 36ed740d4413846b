"""Versions of a recipe: keep, rename, delete, restore, branch."""

from dataclasses import dataclass
from typing import Annotated

from accounts.scoping import own, practice_of
from django.http import HttpResponse
from pydantic import StringConstraints
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView
from wire.shapes import Many, answer, answer_many, endpoint, read_body

from .actions import branch, delete_version, keep, rename_version, restore
from .models import Recipe, RecipeVersion
from .views import RecipeView, VersionView, recipe_view, version_view


@dataclass(frozen=True, kw_only=True)
class NameIn:
    """A name."""

    name: Annotated[str, StringConstraints(max_length=120)]


class VersionListView(APIView):
    """The versions of a recipe, newest first."""

    @endpoint(Many(VersionView), errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        versions = RecipeVersion.objects.filter(recipe=own(Recipe, request, pk))
        return answer_many(VersionView, map(version_view, versions.select_related("practice")))

    @endpoint(VersionView, NameIn, 201)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Keep the recipe as it is."""
        recipe = own(Recipe, request, pk, "practice")
        kept = keep(recipe, read_body(NameIn, request).name, request.user.username)
        return answer(version_view(kept), status=201)


class VersionDetailView(APIView):
    """One version: rename it or delete it; its content never changes."""

    @endpoint(VersionView, NameIn)
    def patch(self, request: Request, pk: int) -> HttpResponse:
        name = read_body(NameIn, request).name
        return answer(version_view(rename_version(practice_of(request), pk, name)))

    @endpoint(None, status=204, errors=(404,))
    def delete(self, request: Request, pk: int) -> Response:
        delete_version(practice_of(request), pk)
        return Response(status=204)


def version_of(request: Request, pk: int) -> RecipeVersion:
    """A version of the user's practice with its recipe."""
    return own(RecipeVersion, request, pk, "recipe__case", "recipe__practice")


class RestoreView(APIView):
    """Make the recipe what this version was; what it was until now is kept."""

    @endpoint(RecipeView)
    def post(self, request: Request, pk: int) -> HttpResponse:
        return answer(recipe_view(restore(version_of(request, pk), request.user.username)))


class BranchView(APIView):
    """A new recipe that starts from this version."""

    @endpoint(RecipeView, NameIn, 201)
    def post(self, request: Request, pk: int) -> HttpResponse:
        name = read_body(NameIn, request).name
        return answer(recipe_view(branch(version_of(request, pk), name)), status=201)
