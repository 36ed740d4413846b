"""What has to be bought for the lines of a recipe."""

from dataclasses import dataclass

from accounts.permissions import Work
from django.http import HttpResponse
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.boundary import Number
from wire.shapes import answer, endpoint, read_body

from .asks import LinesAsk, dossier_from, read_recipe
from .shopping import Shopping, shopping_of


@dataclass(frozen=True, kw_only=True)
class ShoppingAsk(LinesAsk):
    """Lines that are to be bought for. days: for how long, None for as long as they feed."""

    days: Number | None = None


class ShoppingView(APIView):
    """The shop list of lines, saved or not, and whether their foods can be had."""

    work = Work.READ

    @endpoint(Shopping, ShoppingAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        asked = read_body(ShoppingAsk, request)
        recipe = read_recipe(request, pk)
        return answer(shopping_of(recipe.case, dossier_from(recipe, asked), asked.days))
