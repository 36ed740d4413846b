"""Writes to batches: plan one, weigh it, throw it away."""

from dataclasses import dataclass
from datetime import date
from string import ascii_uppercase

from accounts.scoping import Actor, find_own
from cases.queries import check_not_stopped
from django.db import transaction
from django.utils import timezone
from events.log import log
from events.models import EventKind
from library.facts import reference
from recipes.lines import as_data, texts_of
from recipes.models import Recipe
from wainscot_core.batch.ask import BatchAsk
from wainscot_core.batch.results import BatchPlan
from wainscot_core.batch.weighed_batch import WeighedIn, weigh_batch
from wainscot_core.boundary import Day, Text300, dump, read
from wainscot_core.errors import InputError
from wire.errors import StaleWriteError

from .models import Batch
from .queries import issued_version, planned
from .views import batch_view

WITH_CASE = ("case__dog__client__practice", "case__practice")
# A letter each, so that a code fits a label.
MOST_A_DAY = 26 * 27
MOST_AHEAD = 60


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
    weigh_batch(reference(), read(BatchAsk, batch.ask), plan, asked.weighed)
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


def _locked(who: Actor, pk: int, version: int) -> Batch:
    batch = find_own(Batch, who.practice, "recipe__case", lock=True, pk=pk)
    if batch.version != version:
        raise StaleWriteError(batch_view(batch))
    if batch.thrown:
        raise InputError("", f"this batch was thrown away: {batch.thrown}")
    return batch


def _save(batch: Batch) -> None:
    batch.version += 1
    batch.save()
