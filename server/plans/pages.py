"""Documents of a plan, for those who are signed in."""

from cases.queries import case_of
from django.http import HttpResponse
from recipes.shopping import shopping_paper
from records.pages import Paper
from rest_framework.request import Request

from .actions import plan_of
from .queries import plan_dossier


class PlanShoppingPage(Paper):
    """The shop list of what is fed altogether."""

    def get(self, request: Request, pk: int, form: str = "") -> HttpResponse:
        case = case_of(request, pk)
        plan = plan_of(case)
        dossier = plan_dossier(case, plan.turns, plan.items)
        return shopping_paper(
            request, case, dossier, "the plan", f"/papers/cases/{pk}/shopping",
            f"/cases/{pk}/plan", form,
        )  # fmt: skip
