"""Recipes that a practice keeps to begin others with."""

from typing import Any

from accounts.permissions import Work
from accounts.scoping import actor_of, practice_of
from django.http import HttpResponse
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.formulation.again import BegunLine
from wire.shapes import Many, answer, answer_many, endpoint, read_body

from .asks import recipe_of
from .kept import (
    BeginAsk,
    KeepIn,
    KeptView,
    RenameIn,
    begun_with,
    drop_kept,
    keep_recipe,
    kept_recipes,
    rename_kept,
)


class KeptListView(APIView):
    """Recipes that are kept, by name."""

    @endpoint(Many(KeptView), errors=(), operation_id="kept_recipes_list")
    def get(self, request: Request) -> HttpResponse:
        return _every(request)

    @endpoint(Many(KeptView), KeepIn, 201)
    def post(self, request: Request) -> HttpResponse:
        """Keep a recipe as it stands."""
        keep_recipe(actor_of(request), read_body(KeepIn, request))
        return _every(request, 201)


class KeptDetailView(APIView):
    """A recipe that is kept."""

    @endpoint(Many(KeptView), RenameIn, errors=(400, 404, 409))
    def put(self, request: Request, pk: int) -> HttpResponse:
        """Give it another name."""
        rename_kept(actor_of(request), pk, read_body(RenameIn, request))
        return _every(request)

    @endpoint(Many(KeptView), errors=(404,))
    def delete(self, request: Request, pk: int) -> HttpResponse:
        """Keep it no longer."""
        drop_kept(actor_of(request), pk)
        return _every(request)


class BeginView(APIView):
    """A recipe begun with one that is kept, scaled to the dog; nothing is stored."""

    work = Work.READ

    @endpoint(Many(BegunLine), BeginAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        asked = read_body(BeginAsk, request)
        return answer_many(BegunLine, begun_with(recipe_of(request, pk), asked))


def _every(request: Request, status: int = 200) -> HttpResponse:
    found: Any = kept_recipes(practice_of(request))
    return answer(found, tuple[KeptView, ...], status=status)
