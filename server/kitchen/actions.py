"""Writes to batches: plan one, weigh it, throw it away."""

from dataclasses import dataclass
from datetime import date
from string import ascii_uppercase
from typing import Annotated, Any

from accounts.scoping import Actor, find_own, looked_at
from cases.queries import check_not_stopped, library_of
from django.db import transaction
from django.utils import timezone
from events.log import log
from events.models import EventKind
from library.facts import reference
from outbox.actions import Message, send_mail
from pydantic import Field
from recipes.lines import as_data, texts_of
from recipes.models import Recipe
from records.links import give, take_back
from wainscot_core.batch.ask import BatchAsk
from wainscot_core.batch.record import Entry, EntryKind, check_entry
from wainscot_core.batch.results import BatchPlan
from wainscot_core.batch.weighed_batch import WeighedIn, weigh_batch
from wainscot_core.boundary import Day, Text300, Whole, YesNo, dump, read
from wainscot_core.errors import InputError
from wainscot_core.facts.foods import FoodLibrary
from wainscot_core.recipe.line import LineText, read_line

from .models import Batch, BatchEntry, CookLink
from .queries import (
    WITH_RECIPE,
    batch_boxes,
    cooked_of,
    entries_of,
    issued_version,
    kept_verdict,
    planned,
    stove_of,
)
from .views import batch_view

WITH_CASE = ("case__dog__client__practice", "case__practice")
# A letter each, so that a code fits a label.
MOST_A_DAY = 26 * 27
MOST_AHEAD = 60
MOST_ENTRIES = 2000
MOST_LINK_DAYS = 60


@dataclass(frozen=True, kw_only=True)
class BatchIn:
    """A batch to be kept: of the issued version or of the draft, and the day on which it is cooked."""

    ask: BatchAsk
    draft: bool = False
    cook_on: Day


@transaction.atomic
def start_batch(who: Actor, pk: int, asked: BatchIn) -> Batch:
    """Keep a planned batch. Raises InputError where it cannot be planned, where the recipe is not out, and where a dog of
    the pot must not have it."""
    recipe = find_own(Recipe, who.practice, *WITH_CASE, lock=True, pk=pk)
    check_not_stopped(recipe.case)
    today = timezone.localdate()
    if not 0 <= (asked.cook_on - today).days <= MOST_AHEAD:
        raise InputError("cook_on", f"must be today or within {MOST_AHEAD} days")
    version = None if asked.draft else issued_version(recipe)
    if version is None and not asked.draft:
        raise InputError("draft", "this recipe is not issued: say that the draft is meant")
    plan = planned(recipe, version, asked.ask)
    barred = [e.name for e in plan.eaters if e.must_not]
    if barred:
        raise InputError(
            "eaters",
            f"{' and '.join(barred)} must not have this pot: settle what its checks say, or take the dog out",
        )
    batch = Batch.objects.create(
        practice=who.practice, recipe=recipe, release_version=version,
        code=_next_code(who, asked.cook_on), cook_on=asked.cook_on,
        covers_days=version.covers_days if version else recipe.covers_days,
        lines=version.lines if version else as_data(texts_of(recipe)),
        ask=dump(asked.ask), plan=dump(plan), by=who.name,
    )  # fmt: skip
    _judge(batch)
    batch.save()
    log(
        who, EventKind.BATCH_PLANNED, recipe.case_id, batch.pk, code=batch.code, recipe=recipe.name,
        days=f"{plan.days:.3g}",
    )  # fmt: skip
    return batch


def _next_code(who: Actor, on: date) -> str:
    """The day and the next letter: A to Z, then AA."""
    count = Batch.objects.for_practice(who.practice).filter(cook_on=on).count()
    if count >= MOST_A_DAY:
        raise InputError("cook_on", "has more batches than there are letters")
    rest, last = divmod(count, 26)
    return f"{on:%Y-%m-%d}-{ascii_uppercase[rest - 1] if rest else ''}{ascii_uppercase[last]}"


@dataclass(frozen=True, kw_only=True)
class WeighIn:
    """What a batch weighed when it was done. version: of the batch as it was looked at."""

    weighed: WeighedIn
    version: int


@transaction.atomic
def weigh(who: Actor, pk: int, asked: WeighIn) -> Batch:
    """Put down what a finished batch weighs; a second weighing takes the place of the first, and both are in the log.
    Raises InputError, StaleWriteError where somebody else wrote to it since."""
    batch = _locked(who, pk, asked.version)
    plan = read(BatchPlan, batch.plan)
    weigh_batch(reference(), read(BatchAsk, batch.ask), plan, asked.weighed, kept_verdict(batch))
    batch.finished = dump(asked.weighed)
    _save(batch)
    log(
        who, EventKind.BATCH_WEIGHED, batch.recipe.case_id, batch.pk, code=batch.code,
        grams=f"{asked.weighed.finished_g:.6g}",
    )  # fmt: skip
    return batch


@dataclass(frozen=True, kw_only=True)
class ThrowIn:
    """Why a batch is thrown away."""

    reason: Text300
    version: int


@transaction.atomic
def throw_away(who: Actor, pk: int, asked: ThrowIn) -> Batch:
    """A batch is not fed: it stays on record, with why."""
    if len(asked.reason.strip()) < 3:
        raise InputError("reason", "say why it is not fed")
    batch = _locked(who, pk, asked.version)
    batch.thrown = asked.reason.strip()
    _save(batch)
    log(
        who, EventKind.BATCH_THROWN, batch.recipe.case_id, batch.pk, code=batch.code, reason=batch.thrown
    )  # fmt: skip
    return batch


@dataclass(frozen=True, kw_only=True)
class EntriesIn:
    """What was put down, in its order."""

    entries: Annotated[tuple[Entry, ...], Field(min_length=1, max_length=200)]


@transaction.atomic
def put_down(who: Actor, pk: int, asked: EntriesIn) -> Batch:
    """Keep what was put down while a batch is cooked: all of it, or nothing. What was kept already, by its key, is passed
    over: it may be sent again after a lost answer. Raises InputError naming the entry."""
    batch = find_own(Batch, who.practice, *WITH_RECIPE, lock=True, pk=pk)
    plan = read(BatchPlan, batch.plan)
    known = set(batch.entries.values_list("key", flat=True))
    fresh = [e for e in asked.entries if e.key not in known]
    if batch.thrown and fresh:
        raise InputError("", f"this batch was thrown away: {batch.thrown}")
    if len(known) + len(fresh) > MOST_ENTRIES:
        raise InputError("entries", f"a batch holds at most {MOST_ENTRIES} entries")
    library = library_of(batch.recipe.case)
    for i, entry in enumerate(fresh):
        try:
            _check(batch, plan, library, check_entry(plan, entry))
        except InputError as error:
            raise error.under(f"entries[{i}]") from None
        BatchEntry.objects.create(batch=batch, key=entry.key, by=who.name, data=dump(entry))
        batch.finished = _finished_with(batch, entry) or batch.finished
        if entry.kind is EntryKind.FINISHED:
            log(
                who, EventKind.BATCH_WEIGHED, batch.recipe.case_id, batch.pk, code=batch.code,
                grams=f"{entry.grams:.6g}",
            )  # fmt: skip
    if fresh:
        _judge(batch)
        _save(batch)
    return batch


def _judge(batch: Batch) -> None:
    """Keep the verdict with the batch: later facts do not change what was said of what was cooked."""
    try:
        batch.cooked = dump(cooked_of(batch, stove_of(batch), entries_of(batch)))
    except InputError:
        # What cannot be judged is told where it is looked at.
        batch.cooked = {}


def _check(batch: Batch, plan: BatchPlan, library: FoodLibrary, entry: Entry) -> None:
    if entry.kind in {EntryKind.SWAPPED, EntryKind.EXTRA}:
        text = LineText(entry.food, f"{entry.grams or 0:.6g} g", preparation=entry.preparation)
        read_line(reference().methods, library, text)
    told = _finished_with(batch, entry)
    if told is not None:
        weigh_batch(reference(), read(BatchAsk, batch.ask), plan, read(WeighedIn, told), None)


def _finished_with(batch: Batch, entry: Entry) -> dict[str, Any] | None:
    """What a batch weighs with an entry: all of it, or a cup of it; None where the entry is about neither."""
    if entry.kind is EntryKind.FINISHED:
        return {**batch.finished, "finished_g": entry.grams}
    if entry.kind is not EntryKind.CUP:
        return None
    if not batch.finished:
        raise InputError("kind", "weigh all of the finished food first, then a cup of it")
    return {**batch.finished, "cup_g": entry.grams, "cup_ml": entry.ml}


@dataclass(frozen=True, kw_only=True)
class CookLinkIn:
    """For how many days the owner can cook by the address; send: it is written to the owner."""

    days: Whole = 60
    send: YesNo = False


@transaction.atomic
def give_link(who: Actor, pk: int, asked: CookLinkIn) -> CookLink:
    """An address by which the owner cooks a batch. Raises InputError for days that cannot be, and where it is to be sent
    and there is no address of the owner's."""
    batch = find_own(Batch, who.practice, *WITH_RECIPE, lock=True, pk=pk)
    if batch.thrown:
        raise InputError("", f"this batch was thrown away: {batch.thrown}")
    if batch.release_version is None:
        raise InputError("", "only a batch of an issued recipe is given to its owner")
    link = give(CookLink, who, asked.days, MOST_LINK_DAYS, batch=batch)
    log(
        who, EventKind.LINK_MADE, batch.recipe.case_id, link.pk, document="cooking",
        number=batch.release_version.number, audience="the owner",
        until=link.expires.date().isoformat(),
    )  # fmt: skip
    if asked.send:
        client = batch.recipe.case.dog.client
        dog = batch.recipe.case.dog.name
        text = (
            f"Hello {client.name},\n\nthis page leads you through cooking batch {batch.code} for {dog}, step by step. "
            f"What you put down is seen by {who.practice}. It opens until {link.expires.date().isoformat()}."
        )
        message = Message(client.name, client.email, f"Cooking for {dog}", text, link.path)
        send_mail(who.practice, batch.recipe.case_id, message)
    return link


@transaction.atomic
def close_link(who: Actor, pk: int) -> CookLink:
    """Take an address back."""
    link = find_own(CookLink, who.practice, "batch__recipe", lock=True, pk=pk)
    if take_back(link):
        log(
            who, EventKind.LINK_REVOKED, link.batch.recipe.case_id, link.pk, document="cooking",
            audience="the owner",
        )  # fmt: skip
    return link


@dataclass(frozen=True, kw_only=True)
class BoxesIn:
    """From which day a batch is fed, and which of its boxes are gone. version: of the batch as it was looked at."""

    feed_from: Day
    gone: Annotated[tuple[Annotated[Whole, Field(ge=1, le=5000)], ...], Field(max_length=2000)] = ()
    version: int


@transaction.atomic
def stock_batch(who: Actor, pk: int, asked: BoxesIn) -> Batch:
    """Say from which day a batch is fed, and what of it is gone. Raises InputError, StaleWriteError."""
    batch = _locked(who, pk, asked.version)
    boxes = batch_boxes(batch, asked.feed_from)
    unknown = sorted(set(asked.gone) - {b.number for b in boxes})
    if unknown:
        raise InputError("gone", f"there is no box {unknown[0]}: there are {len(boxes)}")
    batch.feed_from, batch.gone = asked.feed_from, sorted(set(asked.gone))
    _save(batch)
    log(
        who, EventKind.BATCH_STOCKED, batch.recipe.case_id, batch.pk, code=batch.code,
        day=asked.feed_from.isoformat(), gone=len(batch.gone),
    )  # fmt: skip
    return batch


def _locked(who: Actor, pk: int, version: int) -> Batch:
    batch = find_own(Batch, who.practice, "recipe__case", lock=True, pk=pk)
    looked_at(batch, version, lambda: batch_view(batch))
    if batch.thrown:
        raise InputError("", f"this batch was thrown away: {batch.thrown}")
    return batch


def _save(batch: Batch) -> None:
    batch.version += 1
    batch.save()
