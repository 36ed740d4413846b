"""Standards: browse and compare, copy and edit, import and export, mark as checked."""

import json
from dataclasses import asdict, dataclass
from typing import Annotated

from accounts.scoping import actor_of, find_own, practice_of
from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from pydantic import Field, StringConstraints
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.boundary import (
    Name20,
    Name40,
    Name120,
    Number,
    Text20,
    Text120,
    Text300,
    YesNo,
)
from wainscot_core.formats.standard_table import StandardRow, csv_rows, rows_of, write_rows
from wainscot_core.targets.standards import Standard
from wire.shapes import Many, answer, answer_many, download, endpoint, read_body

from .api_foods import AS_FILE
from .facts import reference
from .models import PracticeStandard
from .standards import copy_standard, edit_standard, mark_checked, standards_for

MOST_ROWS = 5000


@dataclass(frozen=True, kw_only=True)
class StandardStage:
    """A life stage of a standard."""

    id: str
    name: str


@dataclass(frozen=True, kw_only=True)
class StandardChoice:
    """A standard as the list shows it."""

    id: str
    name: str
    citation: str
    checked: str
    life_stages: tuple[StandardStage, ...]


@dataclass(frozen=True, kw_only=True)
class StandardFull(StandardChoice):
    """A standard with every row as printed, per 1000 kcal ME; `own` when it may be edited."""

    own: bool
    words: str
    rows: tuple[StandardRow, ...]


@dataclass(frozen=True, kw_only=True)
class CopyStandard:
    """A published standard to copy, and the copy's name."""

    base: Name40
    name: Name120


@dataclass(frozen=True, kw_only=True)
class StandardRowIn:
    """A limit as it is to be printed."""

    stage: Text20 = ""
    key: Name20
    unit: Text20 = ""
    min: Number | None = None
    base: Number | None = None
    max: Number | None = None
    confidence: Text20 = ""
    note: Text300 = ""


@dataclass(frozen=True, kw_only=True)
class EditStandard:
    """Rows, or the text of a CSV with the export's columns."""

    name: Text120 = ""
    rows: Annotated[tuple[StandardRowIn, ...], Field(max_length=MOST_ROWS)] = ()
    csv: Annotated[str, StringConstraints(max_length=1_000_000)] | None = None


@dataclass(frozen=True, kw_only=True)
class CheckValue:
    """A printed value that was compared with the publication, or was not after all."""

    stage: Name40
    key: Name20
    by: Text120 = ""
    checked: YesNo


def choice_of(standard: Standard) -> StandardChoice:
    """A standard as the list shows it."""
    stages = standard.life_stages.values()
    return StandardChoice(
        id=standard.id,
        name=standard.name,
        citation=standard.citation,
        checked=standard.checked,
        life_stages=tuple(StandardStage(id=s.id, name=s.name) for s in stages),
    )


def standard_of(request: Request, standard_id: str) -> Standard:
    """A standard of the practice; 404 when it has none of this name."""
    standard = standards_for(practice_of(request)).get(standard_id)
    if standard is None:
        raise Http404("No standard with this name.")
    return standard


def full(request: Request, standard_id: str, status: int = 200) -> HttpResponse:
    """A standard with its rows."""
    standard = standard_of(request, standard_id)
    return answer(
        StandardFull(
            **vars(choice_of(standard)),
            own=standard_id not in reference().standards,
            words=standard.words,
            rows=rows_of(reference().catalogue, standard),
        ),
        status=status,
    )


class StandardListView(APIView):
    """The published standards and the practice's own copies."""

    @endpoint(Many(StandardChoice), errors=(), operation_id="standards_list")
    def get(self, request: Request) -> HttpResponse:
        found = standards_for(practice_of(request))
        return answer_many(StandardChoice, map(choice_of, found.values()))

    @endpoint(StandardFull, CopyStandard, 201, (400,))
    def post(self, request: Request) -> HttpResponse:
        asked = read_body(CopyStandard, request)
        made = copy_standard(actor_of(request), asked.base, asked.name)
        return full(request, made.slug, 201)


class StandardView(APIView):
    """One standard with every row."""

    @endpoint(StandardFull, errors=(404,))
    def get(self, request: Request, standard_id: str) -> HttpResponse:
        return full(request, standard_id)

    @endpoint(StandardFull, EditStandard)
    def put(self, request: Request, standard_id: str) -> HttpResponse:
        """Replace the limits of an own standard; a published one is copied first."""
        practice = practice_of(request)
        own = find_own(PracticeStandard, practice, slug=standard_id)
        asked = read_body(EditStandard, request)
        rows = [asdict(row) for row in asked.rows] if asked.csv is None else csv_rows(asked.csv)
        edit_standard(actor_of(request), own, rows, asked.name)
        return full(request, standard_id)


class CheckView(APIView):
    """Mark a value as compared with the publication, or take it back."""

    @endpoint(StandardFull, CheckValue)
    def post(self, request: Request, standard_id: str) -> HttpResponse:
        asked = read_body(CheckValue, request)
        by = asked.by or request.user.get_username()
        mark_checked(actor_of(request), standard_id, asked.stage, asked.key, by, asked.checked)
        return full(request, standard_id)


class StandardExportView(APIView):
    """A standard as CSV, or as JSON with `?as=json`."""

    @endpoint(OpenApiTypes.STR, errors=(404,), parameters=[AS_FILE])
    def get(self, request: Request, standard_id: str) -> HttpResponse:
        standard = standard_of(request, standard_id)
        rows = rows_of(reference().catalogue, standard)
        if request.query_params.get("as") == "json":
            body = {
                "id": standard.id, "name": standard.name, "rows": [asdict(row) for row in rows],
            }  # fmt: skip
            return download(json.dumps(body, indent=1), f"{standard_id}.json", "application/json")
        return download(write_rows(rows), f"{standard_id}.csv", "text/csv")
