"""The library list, profiles, own foods by values or label, import and export."""

from dataclasses import dataclass
from typing import Annotated, Literal

from accounts.permissions import Work
from accounts.scoping import actor_of, own, practice_of
from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter
from pydantic import Field, StringConstraints
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.boundary import YesNo
from wainscot_core.changes import FieldChange
from wainscot_core.errors import InputError
from wainscot_core.facts.bag_label import BagLabel, read_bag
from wainscot_core.facts.completeness import GROUPS
from wainscot_core.facts.label_terms import TermRead
from wainscot_core.facts.labels import LabelResult, PackLabel, read_pack
from wainscot_core.facts.table_words import TableBasis
from wainscot_core.figures import rounded
from wainscot_core.formats.columns import ColumnUse, FoundColumn, units_of
from wainscot_core.formats.foodtable import (
    CellError,
    TableFood,
    read_json_foods,
    read_table,
    write_json_foods,
    write_table,
)
from wire.shapes import Many, answer, answer_many, download, endpoint, page_asked, read_body

from .actions import OwnFoodIn, add_own_food, change_note, edit_own_food, import_foods
from .facts import reference
from .listing import Filters, Listing, listing
from .models import OwnFood
from .practice import fibre_kind, library_for
from .spoilt import readable_excess
from .views import OwnFoodPage, OwnFoodView, Profile, own_food_page, own_food_view, profile_of

AS_FILE = OpenApiParameter("as", str, enum=["csv", "json"])
MOST_LETTERS = 80
MOST_SHOWN = 100
MOST_ERRORS = 500
MOST_COLUMNS = 300


class ListingView(APIView):
    """The library as a list with filters."""

    @endpoint(
        Listing,
        errors=(400,),
        parameters=[
            OpenApiParameter("q", str),
            OpenApiParameter("klass", str),
            OpenApiParameter("without", str, description="source group, for example chicken"),
            OpenApiParameter("richest", str, description="nutrient key; sorts by it per 1000 kcal"),
            OpenApiParameter("complete", str, description="nutrient group with every value known"),
            OpenApiParameter("available", bool),
            OpenApiParameter("all", bool, description="not only plain foods"),
        ],
    )
    def get(self, request: Request) -> HttpResponse:
        asked = request.query_params
        richest, complete = asked.get("richest", ""), asked.get("complete", "")
        if richest and richest not in reference().catalogue:
            raise InputError("richest", "is not a nutrient key")
        if complete and complete not in GROUPS:
            raise InputError("complete", f"use one of: {', '.join(GROUPS)}")
        filters = Filters(
            text=asked.get("q", "")[:MOST_LETTERS],
            klass=asked.get("klass", ""),
            without=asked.get("without", ""),
            richest=richest,
            complete=complete,
            available=asked.get("available") == "true",
            whole=asked.get("all") != "true",
        )
        return answer(listing(practice_of(request), filters))


@dataclass(frozen=True, kw_only=True)
class NoteChanges:
    """Fields of a food's note to set, by path, each with what it stood at: price, price_grams, shop,
    season, unavailable, measures.NAME (grams; null takes it away), strengths.TAG."""

    changes: Annotated[tuple[FieldChange, ...], Field(min_length=1, max_length=100)]


class ProfileView(APIView):
    """All that is known of one food, and what the practice adds to it."""

    @endpoint(Profile, errors=(404,))
    def get(self, request: Request, food_id: str) -> HttpResponse:
        return self.profile(request, food_id)

    @endpoint(Profile, NoteChanges, errors=(400, 404, 409))
    def patch(self, request: Request, food_id: str) -> HttpResponse:
        """Set single fields of what the practice says of the food."""
        if food_id not in library_for(practice_of(request)):
            raise Http404("No food with this id.")
        change_note(actor_of(request), food_id, read_body(NoteChanges, request).changes)
        return self.profile(request, food_id)

    def profile(self, request: Request, food_id: str) -> HttpResponse:
        """The profile of a food of the practice's library; 404 when it is not there."""
        library = library_for(practice_of(request))
        if food_id not in library:
            raise Http404("No food with this id.")
        return answer(profile_of(practice_of(request), library, food_id))


class LabelView(APIView):
    """What a pack label means, before anything is saved."""

    work = Work.READ

    @endpoint(LabelResult, PackLabel, errors=(400,))
    def post(self, request: Request) -> HttpResponse:
        return answer(read_pack(reference().labels, read_body(PackLabel, request)))


@dataclass(frozen=True, kw_only=True)
class BagAsk:
    """The text of a bag as it stands on it."""

    text: Annotated[str, StringConstraints(max_length=1_000_000, strip_whitespace=False)]


class BagView(APIView):
    """The text of a bag read into the figures of a label. Nothing is stored."""

    work = Work.READ

    @endpoint(BagLabel, BagAsk, errors=(400,))
    def post(self, request: Request) -> HttpResponse:
        facts = reference()
        text = read_body(BagAsk, request).text
        return answer(read_bag(facts.labels.offsets, facts.allergens, text))


class TermsView(APIView):
    """What the ingredient statement of an own food stands for, and the whole foods that stand in."""

    @endpoint(Many(TermRead), errors=(404,))
    def get(self, request: Request, food_id: str) -> HttpResponse:
        library = library_for(practice_of(request))
        if food_id not in library:
            raise Http404("No food with this id.")
        statement = library.food(food_id).source_name if food_id.startswith("own:") else ""
        return answer_many(TermRead, reference().label_terms.read(statement, library))


class OwnFoodListView(APIView):
    """The practice's own foods by their names, a page at a time; all of them come with the export."""

    @endpoint(
        OwnFoodPage, errors=(400,), operation_id="own_foods_list",
        parameters=[OpenApiParameter("page", int, description="from 1; the last one where there are not so many")],
    )  # fmt: skip
    def get(self, request: Request) -> HttpResponse:
        return answer(own_food_page(practice_of(request), page_asked(request)))

    @endpoint(OwnFoodView, OwnFoodIn, 201, (400,))
    def post(self, request: Request) -> HttpResponse:
        made = add_own_food(actor_of(request), read_body(OwnFoodIn, request))
        return answer(own_food_view(made), status=201)


class OwnFoodDetailView(APIView):
    """One own food; an edit makes a new revision."""

    @endpoint(OwnFoodView, errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer(own_food_view(own(OwnFood, request, pk)))

    @endpoint(OwnFoodView, OwnFoodIn, errors=(400, 404, 409))
    def put(self, request: Request, pk: int) -> HttpResponse:
        asked = read_body(OwnFoodIn, request)
        return answer(own_food_view(edit_own_food(actor_of(request), pk, asked)))


@dataclass(frozen=True, kw_only=True)
class ImportIn:
    """A table of foods to look at, and to take once `accept` is said. columns: what each column of a CSV holds, in their
    order; it must be said before the table is taken, unless every heading says it. basis: what its figures are for."""

    text: Annotated[str, StringConstraints(max_length=5_000_000)]
    format: Literal["csv", "json"] = "csv"
    columns: Annotated[tuple[ColumnUse, ...], Field(max_length=MOST_COLUMNS)] | None = None
    basis: TableBasis = TableBasis.PER_100_G
    accept: YesNo = False
    skip_bad: YesNo = False


@dataclass(frozen=True, kw_only=True)
class ReadRow:
    """A food as it would be taken: some of its values per 100 g as fed, and how many are known. replaces: the practice has
    one under this short name, which becomes its earlier revision."""

    slug: str
    name: str
    kcal: float
    protein_g: float | None
    fat_g: float | None
    water_g: float | None
    known: int
    replaces: YesNo


@dataclass(frozen=True, kw_only=True)
class UnitsOf:
    """A nutrient that a column can hold, and the units it can be in."""

    tag: str
    name: str
    units: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class ImportResult:
    """How many rows are good, the first of them, what is wrong (the first of `wrong`), how many were taken. columns: of a CSV, what each holds
    by its heading; nutrients: what one can hold; replaced: how many foods the practice has already."""

    good: int
    rows: tuple[ReadRow, ...]
    errors: tuple[CellError, ...]
    wrong: int
    notes: tuple[str, ...]
    columns: tuple[FoundColumn, ...]
    nutrients: tuple[UnitsOf, ...]
    replaced: int
    imported: int


class ImportView(APIView):
    """Preview an import, then accept it: all or nothing, bad rows skipped only by choice."""

    # What takes the rows; whoever builds on own foods keeps what it built first.
    take = staticmethod(import_foods)

    @endpoint(ImportResult, ImportIn, errors=(400,))
    def post(self, request: Request) -> HttpResponse:
        asked = read_body(ImportIn, request)
        facts = reference()
        if asked.format == "json":
            found = read_json_foods(asked.text, facts.catalogue)
        else:
            found = read_table(
                asked.text, facts.catalogue, facts.table_words, asked.columns, asked.basis
            )
        there = set(
            OwnFood.objects.for_practice(practice_of(request)).values_list("slug", flat=True)
        )
        imported = 0
        if asked.accept:
            if asked.columns is None:
                _all_sure(found.columns)
            if found.errors and not asked.skip_bad:
                first = found.errors[0]
                raise InputError(
                    f"row {first.row}.{first.column}",
                    f"{first.message}. Nothing was imported: mend the file, or choose to skip the"
                    " bad rows.",
                )
            imported = self.take(actor_of(request), found.foods)
        return answer(
            ImportResult(
                good=len(found.foods),
                rows=tuple(_read_row(f, f.slug in there) for f in found.foods[:MOST_SHOWN]),
                errors=found.errors[:MOST_ERRORS],
                wrong=len(found.errors),
                notes=found.notes,
                columns=found.columns,
                nutrients=tuple(
                    UnitsOf(tag=n.key, name=n.name, units=units_of(n))
                    for n in facts.catalogue.nutrients
                    if not n.parts
                ),
                replaced=sum(f.slug in there for f in found.foods),
                imported=imported,
            )
        )


def _all_sure(columns: tuple[FoundColumn, ...]) -> None:
    unsure = next((c for c in columns if not c.sure), None)
    if unsure is not None:
        raise InputError(
            f"columns[{unsure.position}]",
            f"“{unsure.header}”: {unsure.why}. Say what each column holds before the table is taken",
        )


def _read_row(food: TableFood, replaces: bool) -> ReadRow:
    values = food.values
    return ReadRow(
        slug=food.slug, name=food.name, kcal=rounded(values["ENERC"]),
        protein_g=_figure(values.get("PROCNT")), fat_g=_figure(values.get("FAT")),
        water_g=_figure(values.get("WATER")), known=len(values), replaces=replaces,
    )  # fmt: skip


def _figure(value: float | None) -> float | None:
    return None if value is None else rounded(value)


class ExportView(APIView):
    """All own foods as CSV or JSON."""

    @endpoint(OpenApiTypes.STR, errors=(), parameters=[AS_FILE])
    def get(self, request: Request) -> HttpResponse:
        foods = [
            TableFood(
                f.slug,
                f.name,
                f.klass,
                f.form,
                f.ingredients,
                f.values,
                fibre_kind(f),
                readable_excess(f),
            )
            for f in OwnFood.objects.for_practice(practice_of(request))
        ]
        if request.query_params.get("as") == "json":
            return download(write_json_foods(foods), "foods.json", "application/json")
        return download(write_table(foods, reference().catalogue), "foods.csv", "text/csv")
