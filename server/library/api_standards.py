"""Standards: browse and compare, copy and edit, import and export, mark as checked."""

import json
from dataclasses import asdict, dataclass
from typing import Annotated

from accounts.scoping import actor_of, find_own, practice_of
from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter
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
    Whole,
    YesNo,
)
from wainscot_core.changes import FieldChange
from wainscot_core.errors import InputError
from wainscot_core.formats.standard_table import csv_rows, rows_of, write_rows
from wainscot_core.targets.beside import Printed
from wainscot_core.targets.standards import Standard
from wire.shapes import Many, answer, answer_many, download, endpoint, read_body

from .api_foods import AS_FILE
from .facts import reference
from .models import PracticeStandard
from .standards import (
    ReadOff,
    beside_for,
    change_standard,
    copy_standard,
    edit_standard,
    full_of,
    mark_checked,
    standards_for,
)
from .views import StandardChoice, StandardFull, StandardsBeside, choice_of

MOST_ROWS = 5000
DOG = OpenApiParameter("dog", str, description="A kind of dog, of those the answer names.")


@dataclass(frozen=True, kw_only=True)
class ReadFigures:
    """What was read off a publication, in its unit; None where it prints nothing."""

    min: Number | None = None
    base: Number | None = None
    max: Number | None = None


@dataclass(frozen=True, kw_only=True)
class ReadRow(ReadFigures):
    """What was read of one nutrient of a life stage."""

    stage: Name40
    key: Name20


@dataclass(frozen=True, kw_only=True)
class CopyStandard:
    """A published standard to copy, and the copy's name; `read`: a row that is printed otherwise."""

    base: Name40
    name: Name120
    read: ReadRow | None = None


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
    """Rows, or the text of a CSV with the export's columns. version: the one an edit was made on;
    None for what was not made on any."""

    version: Whole | None = None
    name: Text120 = ""
    rows: Annotated[tuple[StandardRowIn, ...], Field(max_length=MOST_ROWS)] = ()
    csv: Annotated[str, StringConstraints(max_length=1_000_000)] | None = None


@dataclass(frozen=True, kw_only=True)
class StandardChanges:
    """Fields of an own standard to set, by path, each with what it stood at: name,
    stages.STAGE.KEY.min, .base, .max."""

    changes: Annotated[tuple[FieldChange, ...], Field(min_length=1, max_length=200)]


@dataclass(frozen=True, kw_only=True)
class CheckValue:
    """A printed value that was read off the publication, or was not after all."""

    stage: Name40
    key: Name20
    by: Text120 = ""
    checked: YesNo
    read: ReadFigures | None = None


def standard_of(request: Request, standard_id: str) -> Standard:
    """A standard of the practice; 404 when it has none of this name."""
    standard = standards_for(practice_of(request)).get(standard_id)
    if standard is None:
        raise Http404("No standard with this name.")
    return standard


def full(request: Request, standard_id: str, status: int = 200) -> HttpResponse:
    """A standard with its rows."""
    return answer(full_of(practice_of(request), standard_id), status=status)


class StandardListView(APIView):
    """The published standards and the practice's own copies."""

    @endpoint(Many(StandardChoice), errors=(), operation_id="standards_list")
    def get(self, request: Request) -> HttpResponse:
        found = standards_for(practice_of(request))
        return answer_many(StandardChoice, map(choice_of, found.values()))

    @endpoint(StandardFull, CopyStandard, 201, (400,))
    def post(self, request: Request) -> HttpResponse:
        asked = read_body(CopyStandard, request)
        read = ReadOff(**vars(asked.read)) if asked.read else None
        by = request.user.get_username()
        made = copy_standard(actor_of(request), asked.base, asked.name, read, by)
        return full(request, made.slug, 201)


class StandardView(APIView):
    """One standard with every row."""

    @endpoint(StandardFull, errors=(404,))
    def get(self, request: Request, standard_id: str) -> HttpResponse:
        return full(request, standard_id)

    @endpoint(StandardFull, StandardChanges, errors=(400, 404, 409))
    def patch(self, request: Request, standard_id: str) -> HttpResponse:
        """Set single limits of an own standard; a published one is copied first."""
        own = find_own(PracticeStandard, practice_of(request), slug=standard_id)
        asked = read_body(StandardChanges, request)
        change_standard(actor_of(request), own.pk, asked.changes)
        return full(request, standard_id)

    @endpoint(StandardFull, EditStandard, errors=(400, 404, 409))
    def put(self, request: Request, standard_id: str) -> HttpResponse:
        """Replace the limits of an own standard; a published one is copied first."""
        own = find_own(PracticeStandard, practice_of(request), slug=standard_id)
        asked = read_body(EditStandard, request)
        rows = [asdict(row) for row in asked.rows] if asked.csv is None else csv_rows(asked.csv)
        edit_standard(actor_of(request), own.pk, rows, asked.name, asked.version)
        return full(request, standard_id)


class BesideView(APIView):
    """All standards over each other, for the kind of dog that `?dog=` names."""

    @endpoint(StandardsBeside, errors=(400,), parameters=[DOG])
    def get(self, request: Request) -> HttpResponse:
        dog = request.query_params.get("dog", "adult")
        return answer(beside_for(practice_of(request), dog))


class CheckView(APIView):
    """Sign that a value stands as the publication prints it, or take it back."""

    @endpoint(StandardFull, CheckValue)
    def post(self, request: Request, standard_id: str) -> HttpResponse:
        asked = read_body(CheckValue, request)
        by = asked.by or request.user.get_username()
        if asked.checked and asked.read is None:
            raise InputError(
                "read", "say what the publication prints, and leave out what it does not"
            )
        read = Printed(**vars(asked.read)) if asked.checked and asked.read else None
        mark_checked(actor_of(request), standard_id, asked.stage, asked.key, by, read)
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
