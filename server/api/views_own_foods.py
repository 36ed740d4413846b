"""A practice's own foods: by values, from a label, import and export."""

import json
from dataclasses import asdict
from typing import Any

from django.http import HttpResponse
from django.utils.text import slugify
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from library.facts import reference
from library.models import OwnFood
from library.practice import import_foods, save_own_food
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView
from wainscot_core.errors import InputError
from wainscot_core.foods import wrong_values
from wainscot_core.foodtable import CellError, TableFood, TableResult, read_table, write_table
from wainscot_core.labels import Label, LabelResult, on_dry_matter, read_label
from wainscot_core.report import clean

from .scoping import own
from .serializers import (
    ErrorSerializer,
)
from .serializers_library import (
    ImportInSerializer,
    ImportOutSerializer,
    LabelInSerializer,
    LabelOutSerializer,
    OwnFoodInSerializer,
    OwnFoodSerializer,
)


def label_of(data: dict[str, Any]) -> tuple[Label, LabelResult]:
    """A label and what follows from it. Raises InputError naming the figure."""
    label = Label(
        data["protein"], data["fat"], data["fibre"], data["moisture"], data.get("ash"),
        data.get("dry_matter", False),
    )  # fmt: skip
    kcal = data.get("kcal_per_kg")
    if kcal is None and data.get("kcal_per_cup") is not None:
        cup = data.get("cup_grams")
        if not cup or cup <= 0:
            raise InputError("cup_grams", "kcal per cup needs the grams of one cup")
        kcal = data["kcal_per_cup"] / cup * 1000
    return label, read_label(label, data.get("method", "modified-atwater"), kcal)


class LabelView(APIView):
    """What a pack label means, before anything is saved."""

    @extend_schema(
        request=LabelInSerializer, responses={200: LabelOutSerializer, 400: ErrorSerializer}
    )
    def post(self, request: Request) -> Response:
        form = LabelInSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        label, result = label_of(form.validated_data)
        dry = on_dry_matter(label)
        return Response(
            {
                "per_100_g": {k: clean(v) for k, v in result.per_100_g.items()},
                "dry_matter": {
                    k: clean(v)
                    for k in ("protein", "fat", "fibre", "ash")
                    if (v := getattr(dry, k)) is not None
                },
                "kcal_per_kg": clean(result.kcal_per_kg),
                "energy_shares": {k: clean(v) for k, v in result.energy_shares.items()},
                "steps": [step.as_dict() for step in result.steps],
            }
        )


class OwnFoodListView(APIView):
    """The practice's own foods."""

    @extend_schema(responses=OwnFoodSerializer(many=True))
    def get(self, request: Request) -> Response:
        foods = OwnFood.objects.for_practice(request.user.practice).prefetch_related("revisions")
        return Response(OwnFoodSerializer(foods, many=True).data)

    @extend_schema(
        request=OwnFoodInSerializer, responses={201: OwnFoodSerializer, 400: ErrorSerializer}
    )
    def post(self, request: Request) -> Response:
        entry, origin = self.read(request.data)
        slug = slugify(entry.name)[:50] or "food"
        taken = set(
            OwnFood.objects.for_practice(request.user.practice).values_list("slug", flat=True)
        )
        unique = next(
            s for s in (slug, *(f"{slug}-{i}" for i in range(2, 10_000))) if s not in taken
        )
        made = save_own_food(request.user.practice, TableFood(unique, *_rest(entry)), origin)
        return Response(OwnFoodSerializer(made).data, status=201)

    @staticmethod
    def read(data: Any) -> tuple[TableFood, dict[str, Any]]:
        """The food of a request, with an empty slug."""
        form = OwnFoodInSerializer(data=data)
        form.is_valid(raise_exception=True)
        given = form.validated_data
        values: dict[str, float] = {}
        origin: dict[str, Any] = {"by": "values"}
        if given.get("label"):
            try:
                _, result = label_of(given["label"])
            except InputError as error:
                raise error.under("label") from None
            values = dict(result.per_100_g)
            origin = {"by": "label", **given["label"]}
        catalogue = reference().catalogue
        for key, value in given.get("values", {}).items():
            if key not in catalogue or catalogue.get(key).parts:
                raise InputError(f"values.{key}", "is not a nutrient that can be entered")
            values[key] = value
        if "ENERC" not in values:
            raise InputError("values.ENERC", "give kcal per 100 g, or a label")
        for tag, message in wrong_values(catalogue, values):
            raise InputError(f"values.{tag}", message)
        return (
            TableFood(
                "", given["name"], given.get("klass") or "own", given.get("form") or "plain",
                given.get("ingredients", ""), values,
            ),
            origin,
        )  # fmt: skip


def _rest(entry: TableFood) -> tuple[str, str, str, str, dict[str, float]]:
    return entry.name, entry.klass, entry.form, entry.ingredients, entry.values


class OwnFoodView(APIView):
    """One own food; an edit makes a new revision."""

    @extend_schema(responses={200: OwnFoodSerializer, 404: ErrorSerializer})
    def get(self, request: Request, pk: int) -> Response:
        return Response(OwnFoodSerializer(own(OwnFood, request, pk)).data)

    @extend_schema(
        request=OwnFoodInSerializer,
        responses={200: OwnFoodSerializer, 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def put(self, request: Request, pk: int) -> Response:
        food = own(OwnFood, request, pk)
        entry, origin = OwnFoodListView.read(request.data)
        saved = save_own_food(request.user.practice, TableFood(food.slug, *_rest(entry)), origin)
        return Response(OwnFoodSerializer(saved).data)


def read_json_foods(text: str) -> TableResult:
    """Own foods as JSON: {"format": "wainscot-foods", "foods": [{slug, name, ..., "per_100_g": {}}]}."""
    try:
        data = json.loads(text)
        entries = (
            data["foods"]
            if isinstance(data, dict) and data.get("format") == "wainscot-foods"
            else None
        )
    except (ValueError, KeyError) as error:
        raise InputError("text", f"not a wainscot-foods JSON document: {error}") from None
    if not isinstance(entries, list):
        raise InputError("text", 'must be {"format": "wainscot-foods", "foods": [...]}')
    catalogue = reference().catalogue
    # The CSV reader is the one place that checks a food.
    tags = [n.key for n in catalogue.nutrients if not n.parts]
    rows: list[TableFood] = []
    errors: list[CellError] = []
    for number, entry in enumerate(entries, start=1):
        if not isinstance(entry, dict) or not isinstance(entry.get("per_100_g"), dict):
            errors.append(
                CellError(number, "per_100_g", "every food needs slug, name and per_100_g")
            )
            continue
        unknown = [k for k in entry["per_100_g"] if k not in tags]
        errors += [CellError(number, str(k), "is not a nutrient key") for k in unknown]
        values = {k: v for k, v in entry["per_100_g"].items() if k in tags}
        if any(isinstance(v, bool) or not isinstance(v, int | float) for v in values.values()):
            errors.append(CellError(number, "per_100_g", "every value must be a number"))
            continue
        food = TableFood(
            str(entry.get("slug", "")), str(entry.get("name", "")), str(entry.get("class", "own")),
            str(entry.get("form", "plain")), str(entry.get("ingredients", "")), values,
        )  # fmt: skip
        checked = read_table(write_table([food], catalogue), catalogue)
        errors += [CellError(number, e.column, e.message) for e in checked.errors]
        rows += checked.foods if not unknown else []
    return TableResult(tuple(rows), tuple(errors))


class ImportView(APIView):
    """Preview an import, then accept it: all or nothing, bad rows skipped only by choice."""

    @extend_schema(
        request=ImportInSerializer, responses={200: ImportOutSerializer, 400: ErrorSerializer}
    )
    def post(self, request: Request) -> Response:
        form = ImportInSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        data = form.validated_data
        result = (
            read_json_foods(data["text"])
            if data.get("format") == "json"
            else read_table(data["text"], reference().catalogue)
        )
        imported = 0
        if data.get("accept"):
            if result.errors and not data.get("skip_bad"):
                first = result.errors[0]
                raise InputError(
                    f"row {first.row}.{first.column}",
                    f"{first.message}. Nothing was imported: mend the file, or choose to skip the bad rows.",
                )
            imported = import_foods(request.user.practice, result.foods)
        return Response(
            {
                "good": len(result.foods),
                "names": [f.name for f in result.foods[:200]],
                "errors": [asdict(e) for e in result.errors],
                "imported": imported,
            }
        )


class ExportView(APIView):
    """All own foods as CSV or JSON."""

    @extend_schema(
        parameters=[OpenApiParameter("as", str, enum=["csv", "json"])],
        responses={(200, "text/csv"): OpenApiTypes.STR},
    )
    def get(self, request: Request) -> HttpResponse:
        foods = [
            TableFood(f.slug, f.name, f.klass, f.form, f.ingredients, f.values)
            for f in OwnFood.objects.for_practice(request.user.practice)
        ]
        if request.query_params.get("as") == "json":
            entries = [
                {"slug": f.slug, "name": f.name, "class": f.klass, "form": f.form, "ingredients": f.ingredients, "per_100_g": f.values}
                for f in foods
            ]  # fmt: skip
            text = json.dumps(
                {"format": "wainscot-foods", "version": 1, "foods": entries}, indent=1
            )
            kind, name = "application/json", "foods.json"
        else:
            text, kind, name = write_table(foods, reference().catalogue), "text/csv", "foods.csv"
        return HttpResponse(
            text,
            content_type=kind,
            headers={"Content-Disposition": f'attachment; filename="{name}"'},
        )
