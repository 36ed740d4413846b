"""Batches of a case."""

from dataclasses import dataclass

from accounts.scoping import actor_of, own
from cases.queries import case_of
from django.http import HttpResponse
from recipes.asks import recipe_of
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.batch.ask import BatchAsk
from wainscot_core.batch.results import BatchPlan
from wainscot_core.errors import InputError
from wire.shapes import answer, endpoint, read_body

from .actions import BatchIn, ThrowIn, WeighIn, start_batch, throw_away, weigh
from .models import Batch
from .queries import issued_version, planned
from .views import BatchView, KitchenView, batch_view, kitchen_view


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

    @endpoint(BatchPlan, PlanBatchIn)
    def post(self, request: Request, pk: int) -> HttpResponse:
        asked = read_body(PlanBatchIn, request)
        recipe = recipe_of(request, pk)
        version = None if asked.draft else issued_version(recipe)
        if version is None and not asked.draft:
            raise InputError("draft", "this recipe is not issued: say that the draft is meant")
        return answer(planned(recipe, version, asked.ask))


class BatchListView(APIView):
    """Batches of a recipe."""

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

    @endpoint(BatchView, WeighIn, errors=(400, 404, 409))
    def post(self, request: Request, pk: int) -> HttpResponse:
        return answer(batch_view(weigh(actor_of(request), pk, read_body(WeighIn, request))))


class BatchThrowView(APIView):
    """A batch that is not fed."""

    @endpoint(BatchView, ThrowIn, errors=(400, 404, 409))
    def post(self, request: Request, pk: int) -> HttpResponse:
        return answer(batch_view(throw_away(actor_of(request), pk, read_body(ThrowIn, request))))
