"""Batches of a case."""

from dataclasses import dataclass
from datetime import date

from accounts.permissions import Work
from accounts.scoping import Actor, actor_of, own
from cases.queries import case_of
from django.http import HttpResponse
from drf_spectacular.utils import OpenApiParameter
from recipes.asks import recipe_of
from records.views import AddressView, address_view
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.batch.ask import BatchAsk
from wainscot_core.batch.corrections import Corrections
from wainscot_core.batch.record import EntryKind
from wainscot_core.batch.results import BatchPlan
from wainscot_core.boundary import Whole
from wainscot_core.errors import InputError
from wire.shapes import Many, answer, answer_many, endpoint, read_body

from .actions import (
    BatchIn,
    BoxesIn,
    CookLinkIn,
    EntriesIn,
    ThrowIn,
    WeighIn,
    close_link,
    give_link,
    put_down,
    start_batch,
    stock_batch,
    throw_away,
    weigh,
)
from .links import cook_link_of
from .models import Batch
from .queries import WITH_RECIPE, corrections_of, household_batches, issued_version, planned
from .views import (
    BatchView,
    BoxesView,
    CookView,
    FreezerView,
    KitchenView,
    batch_view,
    boxes_view,
    cook_view,
    freezer_view,
    kitchen_view,
)

# Who writes by an address.
OWNER = "the owner, by a link"
FROM = OpenApiParameter("from", str, description="the day on which the first box is fed")


@dataclass(frozen=True, kw_only=True)
class PlanBatchIn:
    """A batch to look at; nothing is kept. draft: of the recipe as it is at work, not as it was issued."""

    ask: BatchAsk
    draft: bool = False


class KitchenDetailView(APIView):
    """What the batches of a case are planned with, and those there are."""

    @endpoint(KitchenView, errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer(kitchen_view(case_of(request, pk)))


class BatchPlanView(APIView):
    """A batch as it would be."""

    work = Work.READ

    @endpoint(BatchPlan, PlanBatchIn)
    def post(self, request: Request, pk: int) -> HttpResponse:
        recipe = recipe_of(request, pk)
        asked = read_body(PlanBatchIn, request)
        version = None if asked.draft else issued_version(recipe)
        if version is None and not asked.draft:
            raise InputError("draft", "this recipe is not issued: say that the draft is meant")
        return answer(planned(recipe, version, asked.ask))


class BatchListView(APIView):
    """Batches of a recipe."""

    work = Work.LOG

    @endpoint(BatchView, BatchIn, 201)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Keep a planned batch."""
        batch = start_batch(actor_of(request), pk, read_body(BatchIn, request))
        return answer(batch_view(batch), status=201)


class BatchDetailView(APIView):
    """One batch."""

    @endpoint(BatchView, errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer(batch_view(own(Batch, request, pk, "recipe", "release_version")))


class BatchWeighView(APIView):
    """The finished weight of a batch."""

    work = Work.LOG

    @endpoint(BatchView, WeighIn, errors=(400, 404, 409))
    def post(self, request: Request, pk: int) -> HttpResponse:
        return answer(batch_view(weigh(actor_of(request), pk, read_body(WeighIn, request))))


class BatchThrowView(APIView):
    """A batch that is not fed."""

    work = Work.LOG

    @endpoint(BatchView, ThrowIn, errors=(400, 404, 409))
    def post(self, request: Request, pk: int) -> HttpResponse:
        return answer(batch_view(throw_away(actor_of(request), pk, read_body(ThrowIn, request))))


class BoxListView(APIView):
    """The boxes of a batch."""

    work = Work.LOG

    @endpoint(BoxesView, parameters=[FROM])
    def get(self, request: Request, pk: int) -> HttpResponse:
        """As they are, or as they would be when they are fed from another day on."""
        batch = own(Batch, request, pk, *WITH_RECIPE)
        asked = request.query_params.get("from", "").strip()
        try:
            start = date.fromisoformat(asked) if asked else None
        except ValueError:
            raise InputError("feed_from", f"{asked!r} is no day: write it as 2026-12-03") from None
        return answer(boxes_view(batch, start))

    @endpoint(BoxesView, BoxesIn, errors=(400, 404, 409))
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Say from when they are fed, and which are gone."""
        return answer(boxes_view(stock_batch(actor_of(request), pk, read_body(BoxesIn, request))))


class FreezerDetailView(APIView):
    """What the household of a case has of its batches."""

    @endpoint(FreezerView, errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer(freezer_view(case_of(request, pk)))


class CookDetailView(APIView):
    """A batch to cook."""

    @endpoint(CookView)
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer(cook_view(own(Batch, request, pk, *WITH_RECIPE)))


class EntryListView(APIView):
    """What is put down while a batch is cooked."""

    work = Work.LOG

    @endpoint(CookView, EntriesIn)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Keep entries; those that are kept already are passed over."""
        batch = put_down(actor_of(request), pk, read_body(EntriesIn, request))
        return answer(cook_view(batch))


class CorrectionsView(APIView):
    """What can still be done for a batch that was not cooked as planned."""

    work = Work.READ

    @endpoint(Corrections)
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer(corrections_of(own(Batch, request, pk, *WITH_RECIPE)))


class CookLinkListView(APIView):
    """Addresses by which the owner cooks a batch."""

    work = Work.LOG

    @endpoint(Many(AddressView), errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        batch = own(Batch, request, pk)
        links = batch.cook_links.select_related("batch")
        return answer_many(AddressView, map(address_view, links))

    @endpoint(AddressView, CookLinkIn, 201)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Make one; it can be written to the owner at once."""
        link = give_link(actor_of(request), pk, read_body(CookLinkIn, request))
        return answer(address_view(link), status=201)


class CookLinkDetailView(APIView):
    """One such address."""

    work = Work.LOG

    @endpoint(AddressView)
    def delete(self, request: Request, pk: int) -> HttpResponse:
        """Take it back."""
        return answer(address_view(close_link(actor_of(request), pk)))


class OwnersCookView(APIView):
    """The same for whoever holds the owner's address: it is the secret, and nothing else is sent along."""

    permission_classes = [AllowAny]
    authentication_classes = []

    @endpoint(CookView, errors=(400, 404))
    def get(self, request: Request, token: str) -> HttpResponse:
        return answer(cook_view(cook_link_of(token).batch, owner=True))

    @endpoint(CookView, EntriesIn, errors=(400, 404))
    def post(self, request: Request, token: str) -> HttpResponse:
        """Keep entries of the owner's; those that are kept already are passed over."""
        link = cook_link_of(token)
        asked = read_body(EntriesIn, request)
        for i, entry in enumerate(asked.entries):
            if entry.kind in (EntryKind.SWAPPED, EntryKind.EXTRA):
                raise InputError(
                    f"entries[{i}].kind", f"write down what went in, and ask {link.practice}"
                )
        batch = put_down(Actor(link.practice, OWNER), link.batch_id, asked)
        return answer(cook_view(batch, owner=True))


@dataclass(frozen=True, kw_only=True)
class OwnersBoxesIn:
    """From which day a batch of the household is fed, and which of its boxes are gone. version: of the batch as it was
    looked at."""

    batch: Whole
    boxes: BoxesIn


class OwnersFreezerView(APIView):
    """The freezer of the household, for whoever holds the owner's address of one of its batches."""

    permission_classes = [AllowAny]
    authentication_classes = []

    @endpoint(FreezerView, errors=(400, 404))
    def get(self, request: Request, token: str) -> HttpResponse:
        return answer(freezer_view(cook_link_of(token).batch.recipe.case))

    @endpoint(FreezerView, OwnersBoxesIn, errors=(400, 404, 409))
    def post(self, request: Request, token: str) -> HttpResponse:
        """Say from when a batch is fed, and which of its boxes are gone."""
        link = cook_link_of(token)
        asked = read_body(OwnersBoxesIn, request)
        case = link.batch.recipe.case
        if not any(b.pk == asked.batch for b in household_batches(case)):
            raise InputError("batch", "is no batch of this household")
        stock_batch(Actor(link.practice, OWNER), asked.batch, asked.boxes)
        return answer(freezer_view(case))
