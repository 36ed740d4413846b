"""Standards: browse and compare, copy and edit, import and export, mark as checked."""

import csv
import io
import json
from typing import Any

from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from library.models import PracticeStandard
from library.standards import (
    as_csv,
    as_rows,
    copy_standard,
    edit_standard,
    mark_checked,
    standards_for,
)
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView
from wainscot_core.standards import Standard

from .serializers import (
    ErrorSerializer,
)
from .serializers_targets import (
    StandardSerializer,
)


class StandardRowSerializer(serializers.Serializer):
    stage = serializers.CharField()
    key = serializers.CharField()
    unit = serializers.CharField()
    min = serializers.FloatField(allow_null=True, required=False)
    base = serializers.FloatField(allow_null=True, required=False)
    max = serializers.FloatField(allow_null=True, required=False)
    confidence = serializers.CharField(required=False)
    note = serializers.CharField(required=False, allow_blank=True)
    checked = serializers.CharField(required=False, allow_blank=True)
    name = serializers.CharField(required=False)
    common_min = serializers.FloatField(allow_null=True, required=False)
    common_max = serializers.FloatField(allow_null=True, required=False)
    common_unit = serializers.CharField(required=False)


class StandardFullSerializer(StandardSerializer):
    """A standard with every row as printed, per 1000 kcal ME; `own` when it may be edited."""

    own = serializers.BooleanField()
    words = serializers.CharField()
    rows = StandardRowSerializer(many=True)


class CopyStandardSerializer(serializers.Serializer):
    base = serializers.CharField()
    name = serializers.CharField(max_length=120)


class EditStandardSerializer(serializers.Serializer):
    """Rows, or the text of a CSV with the export's columns."""

    name = serializers.CharField(max_length=120, required=False)
    rows = StandardRowSerializer(many=True, required=False)
    csv = serializers.CharField(required=False, max_length=1_000_000)


class CheckSerializer(serializers.Serializer):
    stage = serializers.CharField()
    key = serializers.CharField()
    by = serializers.CharField(required=False, allow_blank=True)
    checked = serializers.BooleanField()


def standard_data(standard: Standard) -> dict[str, Any]:
    """A standard as the list shows it."""
    return {
        "id": standard.id,
        "name": standard.name,
        "citation": standard.citation,
        "checked": standard.checked,
        "life_stages": [{"id": s.id, "name": s.name} for s in standard.life_stages.values()],
    }


class StandardListView(APIView):
    """The published standards and the practice's own copies."""

    @extend_schema(responses=StandardSerializer(many=True))
    def get(self, request: Request) -> Response:
        found = standards_for(request.user.practice)
        return Response([standard_data(s) for s in found.values()])

    @extend_schema(
        request=CopyStandardSerializer,
        responses={201: StandardFullSerializer, 400: ErrorSerializer},
    )
    def post(self, request: Request) -> Response:
        form = CopyStandardSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        made = copy_standard(
            request.user.practice, form.validated_data["base"], form.validated_data["name"]
        )
        return Response(StandardView.full(request, made.slug), status=201)


class StandardView(APIView):
    """One standard with every row."""

    @staticmethod
    def full(request: Request, standard_id: str) -> dict[str, Any]:
        """The standard of the practice; 404 when it has none of this name."""
        standard = standards_for(request.user.practice).get(standard_id)
        if standard is None:
            raise Http404("No standard with this name.")
        return {
            **standard_data(standard),
            "own": standard_id.startswith("own-"),
            "words": standard.words,
            "rows": as_rows(standard),
        }

    @staticmethod
    def mine(request: Request, standard_id: str) -> PracticeStandard:
        """The practice's own standard of this name; 404 for published ones and for others'."""
        found = (
            PracticeStandard.objects.for_practice(request.user.practice)
            .select_related("practice")
            .filter(slug=standard_id)
            .first()
        )
        if found is None:
            raise Http404("No own standard with this name; copy a published one to edit it.")
        found.practice = request.user.practice
        return found

    @extend_schema(responses={200: StandardFullSerializer, 404: ErrorSerializer})
    def get(self, request: Request, standard_id: str) -> Response:
        return Response(self.full(request, standard_id))

    @extend_schema(
        request=EditStandardSerializer,
        responses={200: StandardFullSerializer, 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def put(self, request: Request, standard_id: str) -> Response:
        own = self.mine(request, standard_id)
        form = EditStandardSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        data = form.validated_data
        rows = (
            list(csv.DictReader(io.StringIO(data["csv"].lstrip("\ufeff"))))
            if "csv" in data
            else list(data.get("rows", []))
        )
        edit_standard(own, rows, data.get("name", ""))
        return Response(self.full(request, standard_id))


class CheckView(APIView):
    """Mark a value as compared with the publication, or take it back."""

    @extend_schema(
        request=CheckSerializer,
        responses={200: StandardFullSerializer, 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def post(self, request: Request, standard_id: str) -> Response:
        form = CheckSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        data = form.validated_data
        mark_checked(
            request.user.practice, standard_id, data["stage"], data["key"],
            data.get("by") or request.user.get_username(), data["checked"],
        )  # fmt: skip
        return Response(StandardView.full(request, standard_id))


class StandardExportView(APIView):
    """A standard as CSV, or as JSON with `?as=json`."""

    @extend_schema(
        parameters=[
            OpenApiParameter("standard_id", str, OpenApiParameter.PATH),
            OpenApiParameter("as", str, enum=["csv", "json"]),
        ],
        responses={(200, "text/csv"): OpenApiTypes.STR, 404: ErrorSerializer},
    )
    def get(self, request: Request, standard_id: str) -> HttpResponse:
        standard = standards_for(request.user.practice).get(standard_id)
        if standard is None:
            raise Http404("No standard with this name.")
        if request.query_params.get("as") == "json":
            body = {"id": standard.id, "name": standard.name, "rows": as_rows(standard)}
            return HttpResponse(
                json.dumps(body, indent=1),
                content_type="application/json",
                headers={"Content-Disposition": f'attachment; filename="{standard_id}.json"'},
            )
        return HttpResponse(
            as_csv(standard),
            content_type="text/csv",
            headers={"Content-Disposition": f'attachment; filename="{standard_id}.csv"'},
        )
