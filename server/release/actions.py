"""Writes on the way out: decisions, and the moves of a release. Every one holds the gate of the core."""

from dataclasses import dataclass
from datetime import date, timedelta
from typing import Annotated

from accounts.scoping import Actor, find_own
from cases.queries import check_not_stopped, conventions_for
from django.db import transaction
from django.utils import timezone
from events.log import log
from events.models import EventKind
from library.facts import reference
from outbox.actions import Message, send_mail
from pydantic import Field
from recipes.actions import keep
from recipes.models import Recipe, RecipeVersion
from recipes.versions import snapshot_of
from records.actions import close_links, share
from records.links import fresh_key
from records.views import link_view
from wainscot_core.boundary import Name120, Text120, Text400
from wainscot_core.conventions import day
from wainscot_core.documents.letter import signature
from wainscot_core.documents.paper import DocumentKind
from wainscot_core.errors import InputError
from wainscot_core.facts.handling import Texture
from wainscot_core.kitchen.change_over import ChangeBy, change_plan
from wainscot_core.release.decisions import VetWord, check_decision, open_of
from wainscot_core.release.states import Move, Mover, ReleaseState, after

from .links import vet_path
from .models import FindingDecision, Release, ReleaseMove, VetRequest
from .queries import (
    changed_since,
    issued_release,
    open_release,
    plan_snapshot,
    weighed_of,
)

MOST_DAYS_ASKED = 90
OWNER_LINK_DAYS = 366
MOST_DECISIONS = 2000
# Lists of what is bought are kept for the batch and for so many days.
BUY_DAYS = (7.0, 14.0, 28.0)
WITH_CASE = ("case__dog__client__practice", "practice")


@dataclass(frozen=True, kw_only=True)
class ConcernSeen:
    """A concern by its key, and the basis it was seen on."""

    key: Name120
    basis: Name120


@dataclass(frozen=True, kw_only=True)
class ConcernDecisionIn:
    """One decision on some concerns: why, and the vet's word where it is theirs."""

    concerns: Annotated[tuple[ConcernSeen, ...], Field(min_length=1, max_length=200)]
    reason: Text400 = ""
    vet: VetWord | None = None


def _locked(who: Actor, pk: int) -> Recipe:
    recipe = find_own(Recipe, who.practice, *WITH_CASE, lock=True, pk=pk)
    check_not_stopped(recipe.case)
    return recipe


@transaction.atomic
def decide(who: Actor, pk: int, asked: ConcernDecisionIn) -> Recipe:
    """Record a decision on concerns of a recipe; all of them or none.

    Raises InputError where it does not settle one, or where one is not what it was when it was looked at.
    """
    recipe = _locked(who, pk)
    now = {w.concern.key: w.concern for w in weighed_of(recipe)}
    if recipe.finding_decisions.count() + len(asked.concerns) > MOST_DECISIONS:
        raise InputError(
            "", f"a recipe holds at most {MOST_DECISIONS} decisions: start another one"
        )
    vet = asked.vet
    for seen in asked.concerns:
        found = now.get(seen.key)
        if found is None:
            raise InputError(
                "concerns",
                "one of these is not told of the recipe any more: look at its checks again",
            )
        if found.basis != seen.basis:
            raise InputError(
                "concerns",
                f"{found.what}: this changed since you looked at it: look again, then decide",
            )
        check_decision(found, asked.reason, vet, timezone.localdate())
        row = FindingDecision.objects.create(
            practice=recipe.practice, recipe=recipe, key=found.key, basis=found.basis,
            what=found.what, reason=asked.reason, by=who.name,
            vet_name=vet.name if vet else "", vet_licence=vet.licence if vet else "",
            vet_on=vet.on if vet else None,
        )  # fmt: skip
        log(
            who, EventKind.CONCERN_DECIDED, recipe.case_id, row.pk, recipe=recipe.name,
            what=found.what,
        )  # fmt: skip
    return recipe


@transaction.atomic
def take_back_decision(who: Actor, pk: int) -> Recipe:
    """Take a decision back: that it was made stays known."""
    row = find_own(FindingDecision, who.practice, lock=True, pk=pk)
    recipe = _locked(who, row.recipe_id)
    if row.taken_back is None:
        row.taken_back = timezone.now()
        row.version += 1
        row.save()
        log(
            who, EventKind.CONCERN_REOPENED, recipe.case_id, row.pk, recipe=recipe.name,
            what=row.what,
        )  # fmt: skip
    return recipe


def _version(release: Release) -> RecipeVersion:
    if release.frozen is None:
        raise InputError("state", "nothing is frozen yet: check it first")
    return release.frozen


def _move(
    release: Release, move: Move, mover: Mover, by: str, open_count: int = 0, reason: str = ""
) -> None:
    """Make a move of the core's state machine, and keep it in the history. Raises InputError where it is none."""
    before = ReleaseState(release.state)
    release.state = after(before, move, mover, open_count, reason)
    release.version += 1
    release.save()
    version = _version(release)
    ReleaseMove.objects.create(
        release=release, by=by, move=move, before=before, after=release.state,
        number=version.number, reason=reason,
    )  # fmt: skip
    recipe = release.recipe
    log(
        Actor(release.practice, by), EventKind.RELEASE_MOVED, recipe.case_id, release.pk,
        recipe=recipe.name, number=version.number, before=before, after=release.state,
    )  # fmt: skip


def _gate(recipe: Recipe, version: RecipeVersion) -> int:
    """How many concerns stand against a frozen version on today's facts. Raises InputError where those facts are no
    longer the ones it was checked on."""
    changes = changed_since(recipe, version)
    if not changes.none:
        told = [*changes.dog, *(f"told now: {w}" for w in changes.found)]
        told += [f"{x.name}: other figures or limits" for x in changes.nutrients]
        more = f" and {len(told) - 3} more" if len(told) > 3 else ""
        what = "; ".join(told[:3]) or "what it is reckoned from"
        raise InputError(
            "state", f"since version {version.number} was checked, this changed: {what}{more}. Take it back and check it again"
        )  # fmt: skip
    return len(open_of(weighed_of(recipe, version)))


def _release(recipe: Recipe) -> Release:
    found = open_release(recipe)
    return find_own(Release, recipe.practice, "frozen__snapshot", lock=True, pk=found.pk) if found else Release(
        practice=recipe.practice, recipe=recipe
    )  # fmt: skip


def _at_work(recipe: Recipe) -> Release:
    found = open_release(recipe)
    if found is None:
        raise InputError("state", "the plan is a draft: check it first")
    release = find_own(Release, recipe.practice, "frozen__snapshot", lock=True, pk=found.pk)
    release.recipe = recipe
    return release


@transaction.atomic
def check_plan(who: Actor, pk: int, name: str, texture: Texture = Texture.CHUNKS) -> Release:
    """Freeze a recipe as a version that can go out. texture: what the food is like. Raises InputError while anything stands against it."""
    recipe = _locked(who, pk)
    release = _release(recipe)
    found = weighed_of(recipe)
    buy = sorted({recipe.covers_days, *BUY_DAYS})
    # Asked before anything is frozen.
    after(ReleaseState(release.state), Move.CHECK, Mover.CONSULTANT, len(open_of(found)), "")
    release.frozen = keep(
        who, recipe, name, held=plan_snapshot(recipe, found, texture=texture, buy_days=buy)
    )
    release.save()
    _move(release, Move.CHECK, Mover.CONSULTANT, who.name)
    return release


@dataclass(frozen=True, kw_only=True)
class AskVet:
    """Whom to ask to sign, where to reach them, for how many days, and what to tell them beside it."""

    name: Name120
    address: Name120
    days: int = 14
    message: Text400 = ""


@transaction.atomic
def send_to_vet(who: Actor, pk: int, asked: AskVet) -> Release:
    """Ask a vet to sign the checked version: one address, for this plan alone, for some days."""
    recipe = _locked(who, pk)
    release = _at_work(recipe)
    if not 1 <= asked.days <= MOST_DAYS_ASKED:
        raise InputError("days", f"must be 1 to {MOST_DAYS_ASKED}")
    version = _version(release)
    open_count = _gate(recipe, version) if release.state == ReleaseState.CHECKED else 0
    _move(release, Move.SEND, Mover.CONSULTANT, who.name, open_count)
    request = VetRequest.objects.create(
        practice=recipe.practice, release=release, frozen=version, key=fresh_key(),
        to_name=asked.name, to_address=asked.address, by=who.name,
        expires=timezone.now() + timedelta(days=asked.days),
    )  # fmt: skip
    case = recipe.case
    until = day(conventions_for(case.dog.client), request.expires.date(), long=True)
    text = (
        f"Dear {asked.name},\n\n{case.practice.name} asks you to look at a home-made diet for {case.dog.name}, "
        f"of {case.dog.client.name}, and to approve it, ask for changes or decline.\n\n"
        f"The page opens without an account, for this plan alone, until {until}."
    )
    if asked.message:
        text += f"\n\n{asked.message}"
    send_mail(
        recipe.practice, case.pk,
        Message(asked.name, asked.address, f"{case.dog.name}: a diet for your approval", text, vet_path(request)),
    )  # fmt: skip
    log(
        who, EventKind.VET_ASKED, case.pk, request.pk, vet=asked.name, number=version.number,
        recipe=recipe.name, until=request.expires.date().isoformat(),
    )  # fmt: skip
    return release


@transaction.atomic
def take_back(who: Actor, pk: int, reason: str) -> Release:
    """Make a plan a draft again: what the vet was sent opens nothing any more."""
    release = _at_work(find_own(Recipe, who.practice, *WITH_CASE, lock=True, pk=pk))
    _move(release, Move.TAKE_BACK, Mover.CONSULTANT, who.name, reason=reason)
    _close_requests(release, f"{release.practice} took this plan back to change it.")
    release.approved = ""
    release.save()
    return release


def _close_requests(release: Release, words: str) -> None:
    for request in release.requests.filter(closed=""):
        request.closed = words
        request.version += 1
        request.save()


@dataclass(frozen=True, kw_only=True)
class IssueIn:
    """Where the owner is reached ("" for the address that is on record); over how many days the old food gives way to
    the new (0 for at once), from which day on, and by what."""

    address: Text120 = ""
    change_days: int = 0
    change_start: date | None = None
    change_by: ChangeBy = ChangeBy.SHARE


@transaction.atomic
def issue(who: Actor, pk: int, asked: IssueIn) -> Release:
    """Give an approved plan to the owner: it takes the place of the one that was issued before."""
    recipe = _locked(who, pk)
    release = _at_work(recipe)
    version = _version(release)
    open_count = _gate(recipe, version) if release.state == ReleaseState.APPROVED else 0
    # Asked before anything is superseded.
    after(ReleaseState(release.state), Move.ISSUE, Mover.CONSULTANT, open_count, "")
    before = issued_release(recipe)
    if before is not None:
        _end(who, before, Move.SUPERSEDE, Mover.PROGRAM, f"version {version.number} took its place")
    _move(release, Move.ISSUE, Mover.CONSULTANT, who.name, open_count)
    case = recipe.case
    on = day(conventions_for(case.dog.client), timezone.localdate(), long=True)
    change = None
    if asked.change_days:
        start = asked.change_start or timezone.localdate() + timedelta(days=1)
        change = change_plan(reference().change_over, asked.change_days, start, asked.change_by)
    link = share(
        who, snapshot_of(version), DocumentKind.OWNER, f"Version {version.number}, issued {on}",
        version.number, case.dog.client.name, OWNER_LINK_DAYS, release.approved,
        change,
    )  # fmt: skip
    text = (
        f"Dear {case.dog.client.name},\n\nhere is what {case.dog.name} is fed from now on. {release.approved}\n\n"
        "Weigh everything, and leave nothing out: ask first."
    )
    send_mail(
        recipe.practice, case.pk,
        Message(
            case.dog.client.name, asked.address or case.dog.client.email,
            f"{case.dog.name}: the plan, version {version.number}", text, link_view(link).path,
        ),
    )  # fmt: skip
    return release


def _end(who: Actor, release: Release, move: Move, mover: Mover, reason: str) -> None:
    """An issued plan that is not fed any more: whoever opens its pages is told so at once."""
    _move(release, move, mover, who.name, reason=reason)
    version = _version(release)
    case = release.recipe.case
    on = day(conventions_for(case.dog.client), timezone.localdate(), long=True)
    practice, dog = release.practice, case.dog.name
    words = (
        f"Do not feed this any more: {practice} withdrew this plan of {dog} on {on}. {reason}"
        if move is Move.WITHDRAW
        else f"This plan of {dog} was replaced on {on}: {reason}. Feed the new one; ask {practice} for it."
    )[:300]
    version.closed = words
    version.save(update_fields=["closed"])
    close_links(who, snapshot_of(version), words)
    _close_requests(release, words)


@transaction.atomic
def withdraw(who: Actor, pk: int, reason: str) -> Release:
    """Call an issued plan back, whatever its case is: the owner's and the vet's pages say so at once, and both are
    written to."""
    recipe = find_own(Recipe, who.practice, *WITH_CASE, lock=True, pk=pk)
    release = issued_release(recipe)
    if release is None:
        raise InputError("state", "no version of this recipe is issued")
    release.recipe = recipe
    _end(who, release, Move.WITHDRAW, Mover.CONSULTANT, reason.strip())
    client, dog = recipe.case.dog.client, recipe.case.dog.name
    told = {(client.name, client.email)} if client.email else set()
    told |= {(r.to_name, r.to_address) for r in release.requests.all()}
    for name, address in sorted(told):
        send_mail(
            recipe.practice, recipe.case_id,
            Message(name, address, f"Stop: the plan of {dog} is withdrawn", _version(release).closed),
        )  # fmt: skip
    return release


@dataclass(frozen=True, kw_only=True)
class VetAnswer:
    """What a vet says: approved, or returned with what is to be changed; who signs, under which licence."""

    approved: bool
    signer: Name120
    licence: Name120
    comment: str = ""


@transaction.atomic
def answer_as_vet(request: VetRequest, said: VetAnswer) -> VetRequest:
    """Record what a vet answered on the page. Raises InputError without a name, a licence or, where it is not
    approved, a reason; or for a plan that is not with the vet any more."""
    release = find_own(
        Release, request.practice, "frozen__snapshot", "recipe__case__dog__client__practice",
        lock=True, pk=request.release_id,
    )  # fmt: skip
    recipe, version = release.recipe, _version(release)
    recipe.practice = recipe.case.practice = request.practice
    check_not_stopped(recipe.case)
    # Whoever was asked of another version signs nothing of this one.
    if request.frozen_id != version.pk or request.answered is not None:
        raise InputError(
            "state",
            "this page is of a plan that was answered or changed since: ask for the new one",
        )
    by = f"{said.signer}, licence {said.licence}"
    if said.approved:
        open_count = _gate(recipe, version)
        _move(release, Move.APPROVE, Mover.VET, by, open_count, said.comment)
        on = day(conventions_for(recipe.case.dog.client), timezone.localdate(), long=True)
        release.approved = signature(said.signer, said.licence, on)
        release.save()
    else:
        _move(release, Move.RETURN, Mover.VET, by, reason=said.comment)
    request.answered, request.approved = timezone.now(), said.approved
    request.signer, request.licence, request.comment = said.signer, said.licence, said.comment
    request.version += 1
    request.save()
    log(
        Actor(request.practice, by), EventKind.VET_ANSWERED, recipe.case_id, request.pk,
        vet=said.signer, number=version.number, recipe=recipe.name,
        answer="approved" if said.approved else "asked for changes or declined",
    )  # fmt: skip
    return request


def visited(request: VetRequest) -> None:
    """Somebody opened the vet's page: every visit is counted, and told in the log once a minute, so that who reloads, or
    means no good, does not fill it."""
    now = timezone.now()
    told = request.last_visit is not None and now - request.last_visit < timedelta(minutes=1)
    request.visits += 1
    request.last_visit = now
    request.save(update_fields=["visits", "last_visit"])
    if not told:
        version = request.frozen
        log(
            Actor(request.practice, f"link for {request.to_name}"), EventKind.VET_OPENED,
            version.recipe.case_id, request.pk, recipe=version.recipe.name, number=version.number,
        )  # fmt: skip
