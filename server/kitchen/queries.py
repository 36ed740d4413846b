"""What a batch is planned of: the pot, the dogs that eat from it, and what the household cooks in."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from accounts.scoping import find_own
from cases.models import Case
from cases.queries import library_of
from cases.records import record_of
from django.utils import timezone
from library.facts import reference
from plans.models import Plan
from plans.queries import read_items
from recipes.dossiers import dossier_of
from recipes.lines import stored_lines, text_from
from recipes.models import Recipe, RecipeVersion
from release.queries import decisions_of, forward_of, forward_with, issued_release
from wainscot_core.batch.ask import BatchAsk, EaterIn
from wainscot_core.batch.boxes import MOST_WAIT_DAYS, Box, boxes_of
from wainscot_core.batch.cooked import CookedBatch, cooked_batch
from wainscot_core.batch.corrections import Corrections, corrections
from wainscot_core.batch.eaters import Eater
from wainscot_core.batch.freezer import Freezer, Store, freezer
from wainscot_core.batch.plan import Pot, plan_batch, served
from wainscot_core.batch.record import Entry, cooking_of
from wainscot_core.batch.results import BatchPlan
from wainscot_core.batch.weighed_batch import WeighedBatch, WeighedIn, weigh_batch
from wainscot_core.boundary import read
from wainscot_core.errors import InputError
from wainscot_core.facts.handling import Place, Texture
from wainscot_core.findings import Level
from wainscot_core.kitchen.handling import handling_of
from wainscot_core.recipe.line import Line, read_all
from wainscot_core.recipe.plan import scaled
from wainscot_core.release.decisions import weighed
from wainscot_core.release.freeze import Forward, concerns_now

from .models import Batch

WITH_RECIPE = (
    "recipe__case__dog__client__practice", "recipe__case__practice", "release_version",
)  # fmt: skip


def issued_version(recipe: Recipe) -> RecipeVersion | None:
    """The version that the owner has; None where none is out."""
    release = issued_release(recipe)
    return release.frozen if release is not None else None


def planned(recipe: Recipe, version: RecipeVersion | None, ask: BatchAsk) -> BatchPlan:
    """A batch of a recipe, or of a version of it, on today's facts; nothing is stored. Raises InputError."""
    stove = _stove(recipe, version, forward_of(recipe, version), ask)
    return plan_batch(stove.pot, ask, stove.eaters)


@dataclass(frozen=True)
class Stove:
    """A batch to cook: the pot and the dogs that eat from it, the one the recipe was made for first."""

    pot: Pot
    eaters: tuple[Eater, ...]


def stove_of(batch: Batch) -> Stove:
    """What a kept batch is cooked of: the lines that were kept with it, on today's facts. Raises InputError."""
    recipe, version = batch.recipe, batch.release_version
    said = [text_from(line) for line in batch.lines]
    lines = read_all(reference().methods, library_of(recipe.case), said)
    forward = forward_with(recipe, version, lines, recipe.name, batch.covers_days)
    return _stove(recipe, version, forward, read(BatchAsk, batch.ask))


def _stove(recipe: Recipe, version: RecipeVersion | None, forward: Forward, ask: BatchAsk) -> Stove:
    pot = Pot(forward.dossier, handling_of(forward.dossier, _texture(version)))
    return Stove(pot, (_lead(recipe, forward, pot), *_mates(recipe, ask)))


def entries_of(batch: Batch) -> list[Entry]:
    """What was put down of a batch, in its order."""
    return [read(Entry, row.data) for row in batch.entries.all()]


def cooked_of(batch: Batch, stove: Stove, entries: Sequence[Entry]) -> CookedBatch:
    """A batch as it was cooked so far. Raises InputError."""
    plan = read(BatchPlan, batch.plan)
    return cooked_batch(stove.pot, plan, stove.eaters, cooking_of(entries))


def corrections_of(batch: Batch) -> Corrections:
    """What can still be done for a batch. Raises InputError."""
    stove = stove_of(batch)
    cooking = cooking_of(entries_of(batch))
    plan = read(BatchPlan, batch.plan)
    return corrections(stove.pot, plan, stove.eaters, cooking)


def _texture(version: RecipeVersion | None) -> Texture:
    if version is None or version.snapshot is None:
        return Texture.CHUNKS
    handling = version.snapshot.kept.of_recipe.handling
    return handling.texture if handling is not None else Texture.CHUNKS


def _lead(recipe: Recipe, forward: Forward, pot: Pot) -> Eater:
    concerns = concerns_now(forward, record_of(recipe.case))
    standing = weighed(concerns, decisions_of(recipe))
    return Eater(
        case=recipe.case_id, name=forward.dossier.dog_name, dossier=forward.dossier,
        own=served(pot), beside=tuple(d.line for d in forward.beside),
        recipes_per_day=1 / forward.dossier.days,
        open_blocks=tuple(
            w.concern.what for w in standing if w.is_open and w.concern.level is Level.BLOCK
        ),
    )  # fmt: skip


def mates_of(case: Case) -> list[Case]:
    """The cases of the other dogs of a household."""
    found = Case.objects.for_practice(case.practice).filter(
        dog__client=case.dog.client_id, archived=False
    )
    others = found.exclude(dog=case.dog_id).select_related("dog__client__practice", "practice")
    return list(others.order_by("dog__name", "pk"))


def _mates(recipe: Recipe, ask: BatchAsk) -> list[Eater]:
    known = {case.pk: case for case in mates_of(recipe.case)} if ask.eaters else {}
    found, seen = [], set()
    for i, entry in enumerate(ask.eaters):
        case = known.get(entry.case)
        if case is None:
            raise InputError(f"eaters[{i}].case", "is no other dog of this household")
        if case.dog_id in seen:
            raise InputError(f"eaters[{i}].case", f"{case.dog.name} is at the pot already")
        seen.add(case.dog_id)
        try:
            found.append(_mate(case, entry))
        except InputError as error:
            raise error.under(f"eaters[{i}]") from None
    return found


def _mate(case: Case, entry: EaterIn) -> Eater:
    if entry.kcal_per_day is not None and not 0 < entry.kcal_per_day <= 10_000:
        raise InputError("kcal_per_day", "must be above 0 and at most 10000 kcal")
    library = library_of(case)
    dossier = dossier_of(case, (), 1.0, library=library)
    own: tuple[Line, ...] = ()
    if entry.recipe is not None:
        recipe = find_own(Recipe, case.practice, pk=entry.recipe, case=case)
        lines = stored_lines(recipe, library)
        dossier = dossier_of(case, lines, recipe.covers_days, library=library)
        # Its supplements and what it gets in the bowl; the food itself is in the pot.
        own = tuple(
            scaled(line, 1 / recipe.covers_days)
            for line, at in zip(lines, handling_of(dossier, Texture.CHUNKS).lines, strict=True)
            if line.food.is_supplement or at.place is Place.BOWL
        )
    plan = Plan.objects.filter(case=case).first()
    beside = read_items(library, plan.items) if plan else []
    return Eater(
        case=case.pk, name=case.dog.name, dossier=dossier, own=own,
        beside=tuple(d.line for d in beside), kcal_per_day=entry.kcal_per_day,
    )  # fmt: skip


def tools_of(case: Case) -> BatchAsk | None:
    """What the household cooked in, weighed on and had room for the last time; None before its first batch."""
    last = (
        Batch.objects.for_practice(case.practice)
        .filter(recipe__case__dog__client=case.dog.client_id)
        .first()
    )
    return read(BatchAsk, last.ask) if last is not None else None


def kept_verdict(batch: Batch) -> CookedBatch | None:
    """The verdict that is kept with a batch; None where it could not be judged."""
    return read(CookedBatch, batch.cooked) if batch.cooked else None


def weighed_of(batch: Batch) -> WeighedBatch | None:
    """What the finished weight of a batch makes of it; None before it was weighed. Raises InputError."""
    if not batch.finished:
        return None
    ask, plan = read(BatchAsk, batch.ask), read(BatchPlan, batch.plan)
    return weigh_batch(reference(), ask, plan, read(WeighedIn, batch.finished), kept_verdict(batch))


def _by_what_went_in(batch: Batch, ask: BatchAsk, plan: BatchPlan) -> WeighedBatch | None:
    """Before it was weighed: what it should weigh by what went in; None where that is what was planned."""
    cooked = kept_verdict(batch)
    if cooked is None or not cooked.expected_g:
        return None
    told = WeighedIn(finished_g=cooked.expected_g)
    return weigh_batch(reference(), ask, plan, told, cooked)


def household_batches(case: Case) -> list[Batch]:
    """The batches of which a household may still have boxes, those of all its dogs, the last cooked first."""
    keep = reference().batches.keep
    oldest = timezone.localdate() - timedelta(days=keep.longest_days + MOST_WAIT_DAYS)
    found = (
        Batch.objects.for_practice(case.practice)
        .filter(recipe__case__dog__client=case.dog.client_id, thrown="", cook_on__gte=oldest)
        .select_related(*WITH_RECIPE)
    )
    return list(found.order_by("-cook_on", "-pk"))


def stores_of(batches: Iterable[Batch]) -> tuple[list[Store], dict[int, str]]:
    """The boxes of the batches of which somebody said from when they are fed; and of those whose boxes cannot be told any
    more, why: the others are told all the same."""
    found, wrong = [], {}
    for batch in batches:
        if batch.feed_from is None:
            continue
        try:
            boxes = batch_boxes(batch, batch.feed_from)
        except InputError as error:
            wrong[batch.pk] = error.message
            continue
        plan = read(BatchPlan, batch.plan)
        found.append(
            Store(
                batch=batch.pk, code=batch.code, cook_on=batch.cook_on, fed_from=batch.feed_from,
                shape=read(BatchAsk, batch.ask).shape, boxes=boxes, gone=frozenset(batch.gone),
                meals={e.case: e.meals_per_day for e in plan.eaters},
            )
        )  # fmt: skip
    return found, wrong


def freezer_of(stores: Sequence[Store]) -> Freezer:
    """What a household has today of its batches."""
    return freezer(reference().boxes, stores, timezone.localdate())


def batch_boxes(batch: Batch, feed_from: date) -> tuple[Box, ...]:
    """The boxes of a batch that is fed from a day on. Raises InputError."""
    facts = reference()
    ask, plan = read(BatchAsk, batch.ask), read(BatchPlan, batch.plan)
    weighed = weighed_of(batch) or _by_what_went_in(batch, ask, plan)
    library = library_of(batch.recipe.case)
    oily = any(
        facts.handling.oily.holds(library.food(x.food).attributes) is True
        for x in plan.lines
        if x.food in library
    )
    return boxes_of(
        facts.batches, facts.boxes, plan, weighed, ask.shape, batch.cook_on, feed_from, oily
    )
