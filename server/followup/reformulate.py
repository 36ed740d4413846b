"""A new version of a plan: what changed since it was issued, and what the follow-up shows that the case does not say yet."""

from dataclasses import dataclass
from typing import Annotated

from accounts.scoping import Actor, find_own
from cases.actions import change_fields
from cases.models import Case
from cases.records import record_of
from django.db import transaction
from django.utils import timezone
from events.log import log
from events.models import EventKind
from library.facts import reference
from pydantic import Field
from release.queries import open_release
from release.views import IssuedView, issued_view
from wainscot_core.boundary import Name120, read
from wainscot_core.errors import InputError
from wainscot_core.followup.reformulate import Learned, changes_of, learned
from wainscot_core.followup.trial import TrialRecord, TrialState, state_of

from .drift import fed_release
from .models import FollowTrial
from .trials import counted_days
from .views import follow_view


@dataclass(frozen=True, kw_only=True)
class ReformulateView:
    """issued: the plan that is fed, and what would be otherwise on today's facts, None where none is; learned: what the case
    does not say yet; recipe: to go on with, None where there is none; on_its_way: a new version of it is being made, in
    what state."""

    issued: IssuedView | None
    learned: tuple[Learned, ...]
    recipe: int | None
    on_its_way: str


@dataclass(frozen=True, kw_only=True)
class ReformulateIn:
    """What of the follow-up the case takes over, by ids."""

    take: Annotated[tuple[Name120, ...], Field(max_length=60)] = ()


def reformulate_view(case: Case) -> ReformulateView:
    """What a new version of a case's plan rests on."""
    issued = fed_release(case)
    recipe = issued.recipe if issued else case.recipes.filter(archived=False).last()
    open_ = open_release(recipe) if recipe else None
    return ReformulateView(
        issued=issued_view(issued) if issued else None, learned=_learned(case)[0],
        recipe=recipe.pk if recipe else None, on_its_way=open_.state if open_ else "",
    )  # fmt: skip


def _learned(case: Case) -> tuple[tuple[Learned, ...], tuple[TrialState, ...]]:
    trials = tuple(
        state_of(reference().trials, read(TrialRecord, row.data))
        for row in FollowTrial.objects.for_practice(case.practice).filter(case=case)
    )
    trend = follow_view(case).trend
    found = learned(record_of(case), counted_days(case), trend, trials, timezone.localdate())
    return found, trials


@transaction.atomic
def reformulate(who: Actor, pk: int, asked: ReformulateIn) -> Case:
    """Take over what the follow-up shows; its recipe is then made anew for it on the bench. Raises InputError (field take)
    for what is not new any more."""
    case = find_own(Case, who.practice, "dog__client__practice", "practice", lock=True, pk=pk)
    if not case.recipes.filter(archived=False).exists():
        raise InputError("", "the case has no recipe yet")
    found, trials = _learned(case)
    changes = changes_of(record_of(case), found, trials, asked.take)
    if changes:
        change_fields(who, case.pk, changes)
    log(
        who, EventKind.REFORMULATED, case.pk, None,
        what=", ".join(one.food or one.news.value for one in found if one.id in asked.take) or "nothing",
    )  # fmt: skip
    case.refresh_from_db()
    return case
