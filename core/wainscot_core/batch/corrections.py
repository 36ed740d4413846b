"""What can still be done for a batch that was not cooked as planned. Every proposal was analysed again before it is made;
what went in stays in."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from ..errors import InputError
from ..figures import listed, rounded
from ..formulation.candidates import LineRule
from ..formulation.formulate import formulate
from ..formulation.question import Settings, default_allowed
from ..recipe.line import Line
from .cooked import Contents, CookedBatch, CookedDay, contents_of, longer, scaled_all
from .cooked import cooked_batch as judged
from .eaters import Eater
from .plan import Pot
from .record import MOST_OTHER_DAYS, Cooking, Swap, Went, went_in
from .results import BatchPlan
from .split import in_grams, steps_of

_MOST_SUPPLEMENTS = 6
# A supplement that went in may be raised to so many times as much.
_MOST_OF_ONE = 4.0
_TIME_LIMIT_S = 4.0


class Way(StrEnum):
    """A way to correct. missing: put in what is missing; stretch: make the batch larger, so that what there is too much
    of is right, and feed it longer; supplement: add what closes the gaps, all that went in left as it is."""

    MISSING = "missing"
    STRETCH = "stretch"
    SUPPLEMENT = "supplement"


@dataclass(frozen=True, kw_only=True)
class Addition:
    """What is put in. position: of the recipe's line, None for what it does not have."""

    position: int | None
    food: str
    name: str
    grams: float


@dataclass(frozen=True, kw_only=True)
class Correction:
    """A way to correct a batch, analysed. days: that it feeds then; holds: it holds what was planned; after: each dog's day
    with it."""

    way: Way
    words: str
    add: tuple[Addition, ...]
    days: float
    holds: bool
    after: tuple[CookedDay, ...]


@dataclass(frozen=True, kw_only=True)
class Corrections:
    """Ways to correct, those that hold first. first: what must be put down before anything can be said, "" for nothing;
    discard: why it is not to be fed as it is, "" where it may be."""

    ways: tuple[Correction, ...]
    first: str
    discard: str


def corrections(
    pot: Pot, plan: BatchPlan, eaters: Sequence[Eater], cooking: Cooking
) -> Corrections:
    """What can be done. Nothing is proposed while a line is not put down, nor for a batch that a dog must not have."""
    found = judged(pot, plan, eaters, cooking)
    barred = [d for d in found.days if d.must_not]
    if barred:
        why = f"{listed([d.name for d in barred])} must not have it: {barred[0].must_not[0]}"
        return Corrections(ways=(), first="", discard=why)
    if found.too_cold:
        first = f"Cook on and measure again: {listed(found.too_cold)}."
        return Corrections(ways=(), first=first, discard="")
    if found.unknown:
        first = f"Put down first what went in: {listed(found.unknown)}."
        return Corrections(ways=(), first=first, discard="")
    if found.holds:
        return Corrections(ways=(), first="", discard="")
    ways = [
        *_missing(pot, plan, eaters, cooking), *_stretch(pot, plan, eaters, cooking),
        *_supplement(pot, plan, eaters, cooking),
    ]  # fmt: skip
    ways.sort(key=lambda w: (not w.holds, len(w.add)))
    return Corrections(
        ways=tuple(ways), first="", discard="" if any(w.holds for w in ways) else _discard(found)
    )


def _discard(found: CookedBatch) -> str:
    names = listed([x for day in found.days for x in day.worse])
    return (
        f"Nothing at hand makes it hold what was planned ({names}). Do not feed it for more than a meal or two before the "
        "attending veterinarian has been asked, or cook it anew."
    )


def _with(cooking: Cooking, add: Sequence[Addition]) -> Cooking:
    more = dict(cooking.more)
    extras = list(cooking.extras)
    for x in add:
        if x.position is None:
            extras.append(Swap(x.food, x.grams, ""))
        else:
            more[x.position] = more.get(x.position, 0.0) + x.grams
    return replace(cooking, more=more, extras=tuple(extras))


def _made(
    way: Way, words: str, add: Sequence[Addition], days: float,
    pot: Pot, plan: BatchPlan, eaters: Sequence[Eater], cooking: Cooking,
) -> Correction:  # fmt: skip
    """A correction as it comes out; days: that it feeds, which makes each day's share of it smaller."""
    after = judged(pot, plan, eaters, replace(_with(cooking, add), days=days))
    return Correction(
        way=way, words=words, add=tuple(add), days=rounded(days), holds=after.holds, after=after.days
    )  # fmt: skip


def _step(grams: float, step_g: float) -> float:
    return in_grams(steps_of(grams, step_g), step_g)


def _needed(plan: BatchPlan, cooking: Cooking, larger: float) -> list[Addition]:
    """What is missing of every line of a batch so much larger, in steps of its scale; what was swapped is no gap of its
    line."""
    add = []
    for line in plan.lines:
        found = went_in(line, cooking)
        if found.went is Went.SWAPPED:
            continue
        grams = _step(line.grams * larger - found.least_g, line.step_g)
        if grams > 0:
            add.append(
                Addition(position=line.position, food=line.food, name=line.name, grams=grams)
            )
    return add


def _missing(
    pot: Pot, plan: BatchPlan, eaters: Sequence[Eater], cooking: Cooking
) -> Iterator[Correction]:
    add = _needed(plan, cooking, longer(plan, cooking))
    if add:
        words = f"Put in what is missing: {listed([_told(x) for x in add], 4)}."
        yield _made(
            Way.MISSING, words, add, plan.days * longer(plan, cooking), pot, plan, eaters, cooking
        )


def _stretch(
    pot: Pot, plan: BatchPlan, eaters: Sequence[Eater], cooking: Cooking
) -> Iterator[Correction]:
    larger = max(
        (went_in(x, cooking).least_g / x.grams for x in plan.lines if x.grams > 0), default=1.0
    )
    if not longer(plan, cooking) + 1e-6 < larger <= MOST_OTHER_DAYS:
        return
    add = _needed(plan, cooking, larger)
    days = plan.days * larger
    words = f"Make the batch larger and feed it {days:.1f} days instead of {plan.days:.1f}: {listed([_told(x) for x in add], 4)}."
    if add:
        yield _made(Way.STRETCH, words, add, days, pot, plan, eaters, cooking)


def _supplement(
    pot: Pot, plan: BatchPlan, eaters: Sequence[Eater], cooking: Cooking
) -> Iterator[Correction]:
    """What the solver adds with all that went in left as it is; of the first dog's part, and then analysed for all."""
    lead, share, days = eaters[0], plan.eaters[0].share, plan.days * longer(plan, cooking)
    part = share * plan.days
    contents: Contents = contents_of(lead.dossier, pot.dossier.lines, plan, cooking)
    own = scaled_all((*lead.own, *lead.beside), days)
    lines = (*scaled_all(contents.least, part), *own)
    dossier = replace(lead.dossier, lines=lines, days=days)
    in_pot = len(contents.least)
    settings = Settings(
        mode="close", goals=("minimums", "fewest", "near"), max_supplements=_MOST_SUPPLEMENTS + len(lines),
        allowed=default_allowed(dossier, "close"), time_limit_s=_TIME_LIMIT_S,
        line_rules={i: _rule(line, i < in_pot) for i, line in enumerate(lines)},
    )  # fmt: skip
    try:
        found = formulate(dossier, settings)
    except InputError:
        # What went in cannot be adjusted at all: then there is no such way.
        return
    by_food = {x.food: x for x in plan.lines}
    add = []
    for change in found.changes:
        more = change.after_grams - change.before_grams
        if more > 1e-6:
            planned = by_food.get(change.food)
            add.append(
                Addition(
                    position=planned.position if planned else None, food=change.food,
                    name=change.name, grams=rounded(more / part),
                )
            )  # fmt: skip
    if add:
        words = f"Leave what went in and add {listed([_told(x) for x in add], 4)}."
        yield _made(
            Way.SUPPLEMENT,
            words,
            add,
            plan.days * longer(plan, cooking),
            pot,
            plan,
            eaters,
            cooking,
        )


def _rule(line: Line, in_pot: bool) -> LineRule:
    """What went in stays; of a supplement in the pot there can be more."""
    if in_pot and line.food.is_supplement:
        grams = line.amount.grams
        return LineRule("free", low_grams=grams, high_grams=grams * _MOST_OF_ONE)
    return LineRule("fixed")


def _told(x: Addition) -> str:
    return f"{x.grams:.4g} g {x.name}"
