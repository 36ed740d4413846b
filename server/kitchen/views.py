"""What the kitchen of a case looks like from outside."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime

from accounts.conventions import ConventionsView, conventions_view
from cases.models import Case
from cases.queries import conventions_for, library_of
from cases.records import record_of
from library.facts import reference
from recipes.lines import texts_of
from recipes.models import Recipe
from recipes.versions import edition_of, texts
from release.queries import issued_release, same_lines
from wainscot_core.batch.ask import BatchAsk
from wainscot_core.batch.boxes import Box, TakeOut, thaw_plan
from wainscot_core.batch.cooked import CookedBatch
from wainscot_core.batch.freezer import Freezer
from wainscot_core.batch.record import Cooking, Entry, cooking_of
from wainscot_core.batch.results import BatchPlan
from wainscot_core.batch.steps import CookStep, steps_of_batch
from wainscot_core.batch.weighed_batch import WeighedBatch, WeighedIn
from wainscot_core.boundary import read
from wainscot_core.documents.paper import CAUTION
from wainscot_core.errors import InputError
from wainscot_core.facts.batches import Cover, Density, FreezeShape, Vessel
from wainscot_core.recipe.amounts import pieces_of, weight_of
from wainscot_core.recipe.line import LineText, read_all

from .models import Batch
from .queries import (
    batch_boxes,
    cooked_of,
    freezer_of,
    household_batches,
    kept_verdict,
    mates_of,
    stores_of,
    stove_of,
    tools_of,
    weighed_of,
)

MOST_BATCHES = 60


@dataclass(frozen=True, kw_only=True)
class PieceView:
    """A piece or a can that a food comes in."""

    name: str
    grams: float


@dataclass(frozen=True, kw_only=True)
class CookLine:
    """A line that can be cooked: what it weighs in the recipe, and what pieces it comes in."""

    food: str
    name: str
    grams: float
    pieces: tuple[PieceView, ...]


@dataclass(frozen=True, kw_only=True)
class CookSource:
    """A recipe that can be cooked: as it was issued, or as a draft. edition: which, in words; changed: the recipe at work
    is another one than the issued; tones: what each food is drawn in; problem: why it cannot be cooked, "" where it can."""

    recipe: int
    draft: bool
    name: str
    edition: str
    approved: str
    changed: bool
    covers_days: float
    lines: tuple[CookLine, ...]
    tones: dict[str, str]
    problem: str


@dataclass(frozen=True, kw_only=True)
class MateRecipe:
    """A recipe of another dog, whose supplements it may get at serving."""

    id: int
    name: str


@dataclass(frozen=True, kw_only=True)
class Mate:
    """Another dog of the household."""

    case: int
    name: str
    recipes: tuple[MateRecipe, ...]


@dataclass(frozen=True, kw_only=True)
class BatchView:
    """A batch that was planned. edition: of what, in words; draft: of a recipe that is not issued; weighed: what its
    finished weight makes of a meal, None before; thrown: why it is not fed, "" while it is; feed_from: the day of its first
    box, None while nobody said."""

    id: int
    version: int
    code: str
    cook_on: date
    recipe: int
    recipe_name: str
    edition: str
    draft: bool
    by: str
    ask: BatchAsk
    plan: BatchPlan
    finished: WeighedIn | None
    weighed: WeighedBatch | None
    thrown: str
    feed_from: date | None


@dataclass(frozen=True, kw_only=True)
class KitchenChoice:
    """Something to choose, and what it is called."""

    id: str
    name: str


@dataclass(frozen=True, kw_only=True)
class KitchenView:
    """All that a batch of a case is planned with. tools: what the household used the last time, None before its first
    batch; batches: of this case, the newest first."""

    vessels: tuple[Vessel, ...]
    covers: tuple[KitchenChoice, ...]
    shapes: tuple[KitchenChoice, ...]
    densities: tuple[KitchenChoice, ...]
    sources: tuple[CookSource, ...]
    mates: tuple[Mate, ...]
    tools: BatchAsk | None
    fine_scale: bool
    batches: tuple[BatchView, ...]


@dataclass(frozen=True, kw_only=True)
class EntryView:
    """An entry as it was put down: when, by whom."""

    at: datetime
    by: str
    entry: Entry


@dataclass(frozen=True, kw_only=True)
class LineWeight:
    """What was weighed of a line, into a vessel or for all of it."""

    line: int
    vessel: int | None
    grams: float


@dataclass(frozen=True, kw_only=True)
class CoreReading:
    """A temperature in the middle of a vessel, None for the only one."""

    vessel: int | None
    celsius: float


@dataclass(frozen=True, kw_only=True)
class CookState:
    """What the entries come to: weights, lines that went in as listed, were left out or swapped, steps done, temperatures
    by step."""

    weighed: tuple[LineWeight, ...]
    planned: tuple[int, ...]
    left_out: tuple[int, ...]
    swapped: tuple[int, ...]
    steps: tuple[str, ...]
    core: tuple[CoreReading, ...]


@dataclass(frozen=True, kw_only=True)
class CookView:
    """A batch to cook. number: of writes to it, which tells an answer from an older one; edition, approved: of what it is
    cooked; caution: what is to be kept in mind; cooked: how it stands as it was put down; problem: why that cannot be
    computed, "" where it can; practice: who is asked. owner: it is opened by the owner's address."""

    id: int
    number: int
    code: str
    dogs: tuple[str, ...]
    recipe_name: str
    edition: str
    approved: str
    draft: bool
    cook_on: date
    practice: str
    owner: bool
    case: int | None
    days: float
    vessels: tuple[str, ...]
    steps: tuple[CookStep, ...]
    state: CookState
    entries: tuple[EntryView, ...]
    cooked: CookedBatch | None
    problem: str
    weighed: WeighedBatch | None
    caution: str
    conventions: ConventionsView


def cook_view(batch: Batch, owner: bool = False) -> CookView:
    """A batch as whoever cooks it sees it. Raises InputError where its recipe cannot be read any more."""
    ask, plan = read(BatchAsk, batch.ask), read(BatchPlan, batch.plan)
    stove = stove_of(batch)
    rows = list(batch.entries.all())
    entries = [read(Entry, row.data) for row in rows]
    cooking = cooking_of(entries)
    problem, cooked = "", kept_verdict(batch)
    if cooked is None:
        try:
            cooked = cooked_of(batch, stove, entries)
        except InputError as error:
            problem = error.message
    version = batch.release_version
    release = version.releases.first() if version else None
    return CookView(
        id=batch.pk, number=batch.version, code=batch.code,
        dogs=tuple(e.name for e in plan.eaters), recipe_name=batch.recipe.name,
        edition=edition_of(version) if version else "Draft, not issued",
        approved=release.approved if release else "", draft=version is None,
        cook_on=batch.cook_on, practice=batch.practice.name, owner=owner,
        # What the owner's address opens is the batch alone.
        case=None if owner else batch.recipe.case_id,
        days=plan.days, vessels=tuple(v.name for v in plan.vessels),
        steps=steps_of_batch(stove.pot, ask, plan),
        state=_state(cooking),
        entries=tuple(
            # Who works for a practice is no business of whoever holds an address.
            EntryView(at=row.at, by="" if owner else row.by, entry=entry)
            for row, entry in zip(rows, entries, strict=True)
        ),
        cooked=cooked, problem=problem,
        weighed=weighed_of(batch), caution=CAUTION,
        conventions=conventions_view(conventions_for(batch.recipe.case.dog.client)),
    )  # fmt: skip


def _state(cooking: Cooking) -> CookState:
    return CookState(
        weighed=tuple(
            LineWeight(line=line, vessel=vessel, grams=grams)
            for (line, vessel), grams in cooking.weighed.items()
        ),
        planned=tuple(sorted(cooking.planned)), left_out=tuple(sorted(cooking.left_out)),
        swapped=tuple(sorted(cooking.swaps)), steps=tuple(sorted(cooking.steps)),
        core=tuple(
            CoreReading(vessel=vessel, celsius=celsius) for vessel, celsius in cooking.core.items()
        ),
    )  # fmt: skip


def batch_view(batch: Batch) -> BatchView:
    """A stored batch."""
    ask, plan = read(BatchAsk, batch.ask), read(BatchPlan, batch.plan)
    told = read(WeighedIn, batch.finished) if batch.finished else None
    version = batch.release_version
    return BatchView(
        id=batch.pk, version=batch.version, code=batch.code, cook_on=batch.cook_on,
        recipe=batch.recipe_id, recipe_name=batch.recipe.name,
        edition=edition_of(version) if version else "Draft, not issued", draft=version is None,
        by=batch.by, ask=ask, plan=plan, finished=told,
        weighed=weighed_of(batch), thrown=batch.thrown,
        feed_from=batch.feed_from,
    )  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class BoxesView:
    """The boxes of a batch, as if it were the only one: where each is kept and when it is due. feed_from: as it was said, or
    the day it is cooked; said: somebody did; gone: numbers of those that are not there; sheets: what labels are printed
    on."""

    id: int
    version: int
    code: str
    feed_from: date
    said: bool
    boxes: tuple[Box, ...]
    gone: tuple[int, ...]
    take_out: tuple[TakeOut, ...]
    sheets: tuple[KitchenChoice, ...]
    law: str


def boxes_view(batch: Batch, feed_from: date | None = None) -> BoxesView:
    """The boxes of a batch, fed from a day to look at, or as it was said. Raises InputError."""
    rules = reference().boxes
    start = feed_from or batch.feed_from or batch.cook_on
    boxes = batch_boxes(batch, start)
    return BoxesView(
        id=batch.pk, version=batch.version, code=batch.code, feed_from=start,
        said=batch.feed_from is not None, boxes=boxes, gone=tuple(batch.gone),
        take_out=thaw_plan(boxes),
        sheets=tuple(KitchenChoice(id=s.id, name=s.name) for s in rules.sheets.values()),
        law=rules.law,
    )  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class FreezerBatch:
    """A batch in the freezer of a household. version: as it was looked at; feed_from: the day of its first box, None while
    nobody said; done: its finished weight is put down; wrong: why its boxes are not counted, "" where they are or nobody
    said from when it is fed; gone: numbers of boxes that are not there."""

    id: int
    version: int
    code: str
    dogs: tuple[str, ...]
    cook_on: date
    feed_from: date | None
    done: bool
    wrong: str
    gone: tuple[int, ...]


@dataclass(frozen=True, kw_only=True)
class FreezerView:
    """All that a household has of its batches. thawed_days: that thawed food keeps; warm: how it is given."""

    freezer: Freezer
    batches: tuple[FreezerBatch, ...]
    thawed_days: int
    warm: str


def freezer_view(case: Case) -> FreezerView:
    """The freezer of a case's household."""
    batches = household_batches(case)
    stores, wrong = stores_of(batches)
    rules = reference().boxes
    return FreezerView(
        freezer=freezer_of(stores), batches=tuple(_in_freezer(b, wrong) for b in batches),
        thawed_days=rules.thawed_days, warm=rules.warm,
    )  # fmt: skip


def _in_freezer(batch: Batch, wrong: Mapping[int, str]) -> FreezerBatch:
    return FreezerBatch(
        id=batch.pk, version=batch.version, code=batch.code,
        dogs=tuple(e.name for e in read(BatchPlan, batch.plan).eaters), cook_on=batch.cook_on,
        feed_from=batch.feed_from, done=bool(batch.finished), wrong=wrong.get(batch.pk, ""),
        gone=tuple(batch.gone),
    )  # fmt: skip


def kitchen_view(case: Case) -> KitchenView:
    """The kitchen of a case."""
    rules = reference().batches
    batches = (
        Batch.objects.for_practice(case.practice)
        .filter(recipe__case=case)
        .select_related("recipe", "release_version")[:MOST_BATCHES]
    )
    recipes = case.recipes.filter(archived=False).prefetch_related("lines")
    return KitchenView(
        vessels=tuple(rules.vessels.values()), covers=_choices(rules.covers),
        shapes=_choices(rules.keep.shapes), densities=_choices(rules.densities),
        sources=tuple(s for r in recipes for s in _sources(case, r)),
        mates=tuple(
            Mate(
                case=mate.pk, name=mate.dog.name,
                recipes=tuple(MateRecipe(id=r.pk, name=r.name) for r in mate.recipes.filter(archived=False)),
            )
            for mate in mates_of(case)
        ),
        tools=tools_of(case), fine_scale=record_of(case).intake.owner.fine_scale,
        batches=tuple(map(batch_view, batches)),
    )  # fmt: skip


def _choices(of: Mapping[str, Cover | FreezeShape | Density]) -> tuple[KitchenChoice, ...]:
    return tuple(KitchenChoice(id=x.id, name=x.name) for x in of.values())


def _sources(case: Case, recipe: Recipe) -> list[CookSource]:
    found = []
    release = issued_release(recipe)
    version = release.frozen if release else None
    changed = version is not None and not same_lines(recipe, version)
    if release is not None and version is not None:
        lines, problem = _lines(case, texts(version))
        found.append(
            CookSource(
                recipe=recipe.pk, draft=False, name=recipe.name, edition=edition_of(version),
                approved=release.approved, changed=changed, covers_days=version.covers_days,
                lines=lines, tones=recipe.tones, problem=problem,
            )
        )  # fmt: skip
    if version is None or changed:
        lines, problem = _lines(case, texts_of(recipe))
        found.append(
            CookSource(
                recipe=recipe.pk, draft=True, name=recipe.name, edition="Draft, not issued",
                approved="", changed=changed, covers_days=recipe.covers_days, lines=lines,
                tones=recipe.tones, problem=problem,
            )
        )  # fmt: skip
    return found


def _lines(case: Case, said: Sequence[LineText]) -> tuple[tuple[CookLine, ...], str]:
    """The lines of a recipe, and why it cannot be cooked, "" where it can."""
    if not said:
        return (), "it has no lines yet"
    measures = conventions_for(case.dog.client).measures
    try:
        lines = read_all(reference().methods, library_of(case), said)
    except InputError as error:
        return (), error.message
    found = tuple(
        CookLine(
            food=line.food.id, name=line.food.name, grams=line.amount.grams,
            pieces=tuple(
                PieceView(name=m.name.removeprefix("each "), grams=weight_of(m, measures))
                for m in pieces_of(line.food)
            ),
        )
        for line in lines
    )  # fmt: skip
    return found, ""
