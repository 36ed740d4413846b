"""Versions of a recipe: keep, rename, delete, restore, branch."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Annotated

from accounts.scoping import actor_of, own
from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from pydantic import StringConstraints
from records.actions import share
from records.views import LinkView, link_view
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView
from wainscot_core.boundary import Name120, Whole
from wainscot_core.documents.paper import DocumentKind
from wainscot_core.errors import InputError
from wainscot_core.release.timeline import TimelineStep, timeline
from wainscot_core.snapshot.snapshot import Snapshot
from wire.shapes import Many, answer, answer_many, download, endpoint, read_body

from .actions import branch, delete_version, keep, rename_version, restore
from .models import Recipe, RecipeVersion
from .versions import edition_of, snapshot_of
from .views import RecipeView, VersionView, recipe_view, version_view

# The walls of so many versions are drawn: each is read from what was kept of it.
MOST_WALLS = 12


@dataclass(frozen=True, kw_only=True)
class NameIn:
    """A name."""

    name: Annotated[str, StringConstraints(max_length=120)]


@dataclass(frozen=True, kw_only=True)
class NewLink:
    """A link to a document of a version: for whom, and for how many days."""

    document: DocumentKind
    audience: Name120
    days: Whole = 30


class VersionListView(APIView):
    """The versions of a recipe, newest first."""

    @endpoint(Many(VersionView), errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        versions = (
            RecipeVersion.objects.filter(recipe=own(Recipe, request, pk))
            .select_related("practice", "snapshot")
            .defer("snapshot__content")
            .prefetch_related("snapshot__links")
        )
        return answer_many(VersionView, map(version_view, versions))

    @endpoint(VersionView, NameIn, 201)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Keep the recipe as it is."""
        recipe = own(Recipe, request, pk, "practice")
        kept = keep(actor_of(request), recipe, read_body(NameIn, request).name)
        return answer(version_view(kept), status=201)


class TimelineView(APIView):
    """The latest versions that have their figures, the oldest first: their walls in short, and what was changed."""

    @endpoint(Many(TimelineStep), errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        versions = RecipeVersion.objects.filter(
            recipe=own(Recipe, request, pk), snapshot__isnull=False
        ).select_related("snapshot")[:MOST_WALLS]
        return answer_many(TimelineStep, timeline(list(_readable(versions))[::-1]))


def _readable(versions: Iterable[RecipeVersion]) -> Iterator[tuple[int, Snapshot]]:
    """What was kept of each; one that is not what it was stands in the list without its wall."""
    for version in versions:
        try:
            yield version.number, snapshot_of(version).kept
        except InputError:
            continue


class VersionDetailView(APIView):
    """One version: rename it or delete it; its content never changes."""

    @endpoint(VersionView, NameIn)
    def patch(self, request: Request, pk: int) -> HttpResponse:
        name = read_body(NameIn, request).name
        return answer(version_view(rename_version(actor_of(request), pk, name)))

    @endpoint(None, status=204, errors=(404,))
    def delete(self, request: Request, pk: int) -> Response:
        delete_version(actor_of(request), pk)
        return Response(status=204)


def version_of(request: Request, pk: int) -> RecipeVersion:
    """A version of the user's practice with its recipe."""
    return own(RecipeVersion, request, pk, "recipe__case", "recipe__practice", "snapshot")


class RestoreView(APIView):
    """Make the recipe what this version was; what it was until now is kept."""

    @endpoint(RecipeView)
    def post(self, request: Request, pk: int) -> HttpResponse:
        return answer(recipe_view(restore(actor_of(request), version_of(request, pk))))


class BranchView(APIView):
    """A new recipe that starts from this version."""

    @endpoint(RecipeView, NameIn, 201)
    def post(self, request: Request, pk: int) -> HttpResponse:
        name = read_body(NameIn, request).name
        return answer(
            recipe_view(branch(actor_of(request), version_of(request, pk), name)), status=201
        )


class SnapshotView(APIView):
    """What was computed of a version when it was kept (docs/formats/snapshot.schema.json)."""

    @endpoint(OpenApiTypes.OBJECT)
    def get(self, request: Request, pk: int) -> HttpResponse:
        """The very text that its digest is of."""
        version = version_of(request, pk)
        stored = snapshot_of(version)
        return download(stored.text, f"snapshot-{stored.digest[:12]}.json", "application/json")


class LinkListView(APIView):
    """The links to documents of a version, newest first."""

    @endpoint(Many(LinkView))
    def get(self, request: Request, pk: int) -> HttpResponse:
        links = snapshot_of(version_of(request, pk)).links.all()
        return answer_many(LinkView, map(link_view, links))

    @endpoint(LinkView, NewLink, 201)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """A new address that opens a document without signing in."""
        version, asked = version_of(request, pk), read_body(NewLink, request)
        if version.closed:
            raise InputError("", f"this version cannot be shared: {version.closed}")
        link = share(
            actor_of(request), snapshot_of(version), asked.document, edition_of(version),
            version.number, asked.audience, asked.days,
        )  # fmt: skip
        return answer(link_view(link), status=201)
