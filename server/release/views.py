"""What checks and releases look like from outside."""

from dataclasses import dataclass
from datetime import date, datetime, timedelta

from django.utils import timezone
from recipes.models import Recipe, RecipeVersion
from records.views import LinkView, link_view
from wainscot_core.errors import InputError
from wainscot_core.release.decisions import ConcernDecision, Weighed, open_of
from wainscot_core.release.differences import Differences, differences
from wainscot_core.release.states import Move, Mover, ReleaseState, moves_from

from .links import vet_path
from .models import Release, VetRequest
from .queries import (
    changed_since,
    decision_of,
    forward_of,
    issued_release,
    open_release,
    plan_snapshot,
    same_lines,
    weighed_of,
)


@dataclass(frozen=True, kw_only=True)
class MoveView:
    """A move that was made. number: of the version it was made with."""

    at: datetime
    by: str
    move: Move
    before: ReleaseState
    after: ReleaseState
    number: int
    reason: str


@dataclass(frozen=True, kw_only=True)
class VetRequestView:
    """A vet that was asked. path: the page's address on this server; open: it opens the plan today; approved: None
    while nothing was answered."""

    id: int
    to_name: str
    to_address: str
    by: str
    created: datetime
    expires: datetime
    open: bool
    path: str
    visits: int
    last_visit: datetime | None
    answered: datetime | None
    approved: bool | None
    signer: str
    licence: str
    comment: str


@dataclass(frozen=True, kw_only=True)
class ReleaseView:
    """A plan on its way out, or out. number, name, frozen: of its version, None in a draft that never was one; moves:
    what the consultant can do; same: the recipe at work is what this version holds; since: what would be otherwise on
    today's facts, None where nothing would or it cannot be computed (problem)."""

    id: int
    state: ReleaseState
    frozen: int | None
    number: int | None
    name: str
    approved: str
    moves: tuple[Move, ...]
    same: bool
    since: Differences | None
    problem: str
    history: tuple[MoveView, ...]
    requests: tuple[VetRequestView, ...]
    links: tuple[LinkView, ...]


@dataclass(frozen=True, kw_only=True)
class ChecksView:
    """What stands against a recipe and how far it is on its way out. open: how many concerns are not settled; beside:
    what is given every day beside it is judged with it; decided_before: decisions that were taken back; at_work: the release on its way out, None while there is none; issued: what the owner has;
    changes: of the recipe at work from the issued version; ended: what was issued before. problem: why nothing can be
    computed, "" where it can."""

    recipe: int
    name: str
    concerns: tuple[Weighed, ...]
    open: int
    beside: bool
    problem: str
    decided_before: tuple[ConcernDecision, ...]
    at_work: ReleaseView | None
    issued: ReleaseView | None
    changes: Differences | None
    ended: tuple[ReleaseView, ...]


MOST_ENDED = 20


def checks_view(recipe: Recipe) -> ChecksView:
    """The checks of a recipe as it is stored now, and its releases."""
    found: tuple[Weighed, ...] = ()
    problem, changes, beside = "", None, False
    at_work, issued = open_release(recipe), issued_release(recipe)
    try:
        found = weighed_of(recipe)
        beside = bool(forward_of(recipe).beside)
        kept = issued.frozen.snapshot if issued and issued.frozen else None
        if kept is not None:
            made = differences(kept.kept, plan_snapshot(recipe, found))
            changes = None if made.none else made
    except InputError as error:
        problem = error.message
    taken_back = recipe.finding_decisions.exclude(taken_back=None)
    ended = recipe.releases.filter(state__in=["superseded", "withdrawn"]).select_related("frozen")
    return ChecksView(
        recipe=recipe.pk, name=recipe.name, concerns=found, open=len(open_of(found)), beside=beside,
        problem=problem, decided_before=tuple(map(decision_of, taken_back)),
        at_work=release_view(recipe, at_work) if at_work else None,
        issued=release_view(recipe, issued) if issued else None, changes=changes,
        ended=tuple(release_view(recipe, r) for r in ended[:MOST_ENDED]),
    )  # fmt: skip


def release_view(recipe: Recipe, release: Release) -> ReleaseView:
    """A release with its history."""
    version = release.frozen
    state = ReleaseState(release.state)
    since, problem = since_frozen(recipe, version, state)
    kept = version.snapshot if version else None
    return ReleaseView(
        id=release.pk, state=state, frozen=version.pk if version else None,
        number=version.number if version else None, name=version.name if version else "",
        approved=release.approved, moves=moves_from(state, Mover.CONSULTANT),
        same=version is not None and same_lines(recipe, version), since=since, problem=problem,
        history=tuple(
            MoveView(
                at=m.at, by=m.by, move=Move(m.move), before=ReleaseState(m.before),
                after=ReleaseState(m.after), number=m.number, reason=m.reason,
            )
            for m in release.moves.all()
        ),
        requests=tuple(map(request_view, release.requests.all())),
        links=tuple(map(link_view, kept.links.all())) if kept else (),
    )  # fmt: skip


def since_frozen(
    recipe: Recipe, version: RecipeVersion | None, state: ReleaseState
) -> tuple[Differences | None, str]:
    """What a frozen version would be otherwise on today's facts, None for nothing; and why that cannot be told."""
    if version is None or state in {
        ReleaseState.DRAFT,
        ReleaseState.SUPERSEDED,
        ReleaseState.WITHDRAWN,
    }:
        return None, ""
    try:
        found = changed_since(recipe, version)
    except InputError as error:
        return None, error.message
    return (None if found.none else found), ""


def request_view(request: VetRequest) -> VetRequestView:
    """A request."""
    is_open = not request.closed and timezone.now() < request.expires
    return VetRequestView(
        id=request.pk, to_name=request.to_name, to_address=request.to_address, by=request.by,
        created=request.created, expires=request.expires, open=is_open, path=vet_path(request),
        visits=request.visits, last_visit=request.last_visit, answered=request.answered,
        approved=request.approved, signer=request.signer, licence=request.licence,
        comment=request.comment,
    )  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class IssuedView:
    """A plan that an owner has. until: the last day it may be fed where it is not complete, None where it is; past: that
    day is over. changed: what would be otherwise on today's facts, None where nothing would; problem:
    why that cannot be computed."""

    release: int
    case: int
    dog: str
    client: str
    recipe: int
    name: str
    number: int
    approved: str
    issued: datetime
    until: date | None
    past: bool
    changed: Differences | None
    problem: str


def issued_view(release: Release) -> IssuedView:
    """An issued plan beside today's facts."""
    recipe, version = release.recipe, release.frozen
    changed, problem = since_frozen(recipe, version, ReleaseState.ISSUED)
    issued = release.moves.get(move=Move.ISSUE).at
    kept = version.snapshot.kept if version and version.snapshot else None
    span = kept.of_recipe.span if kept else None
    days = span.days if span else None
    until = timezone.localdate(issued) + timedelta(days=days) if days else None
    case = recipe.case
    return IssuedView(
        release=release.pk, case=case.pk, dog=case.dog.name, client=case.dog.client.name,
        recipe=recipe.pk, name=recipe.name, number=version.number if version else 0, approved=release.approved,
        issued=issued, until=until, past=until is not None and until < timezone.localdate(),
        changed=changed, problem=problem,
    )  # fmt: skip
