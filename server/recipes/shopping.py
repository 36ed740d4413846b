"""What has to be bought of what a case is fed, and the message that asks its owner."""

from dataclasses import dataclass

from cases.models import Case
from django.http import HttpResponse
from django.utils import timezone
from library.practice import noted_by
from records.pages import days_asked, paper
from rest_framework.request import Request
from wainscot_core.analysis.shopping import Had, ShopList, question_to_owner, shop_list
from wainscot_core.conventions import day
from wainscot_core.documents.shopping import ForWhat, shopping_sheet
from wainscot_core.dossier.dossier import Dossier

from .dossiers import parties_of


@dataclass(frozen=True, kw_only=True)
class Shopping:
    """A shop list. message: what the owner is asked of the foods that were not, "" where all were. client: who buys."""

    shop_list: ShopList
    message: str
    client: str


def _listed(case: Case, dossier: Dossier, days: float | None) -> ShopList:
    where = noted_by(case.practice).where
    return shop_list(dossier, dossier.days if days is None else days, where)


def shopping_of(case: Case, dossier: Dossier, days: float | None) -> Shopping:
    """The shop list of what a case is fed. Raises InputError."""
    found = _listed(case, dossier, days)
    client = case.dog.client.name
    unasked = [
        i for aisle in found.aisles for i in aisle.items if i.had is Had.NOT_ASKED and not i.against
    ]
    message = question_to_owner(client, case.dog.name, unasked) if unasked else ""
    return Shopping(shop_list=found, message=message, client=client)


def shopping_paper(
    request: Request, case: Case, dossier: Dossier, name: str, address: str, back: str, form: str
) -> HttpResponse:
    """The shop list on paper, for the days that the address says. Raises InputError."""
    found = _listed(case, dossier, days_asked(request))
    parties = parties_of(case)
    on = day(parties.conventions, timezone.localdate(), long=True)
    made = shopping_sheet(parties, ForWhat(case.dog.name, name), found, f"As it stood on {on}")
    return paper(made, form, address, back, f"?days={found.days:g}")
