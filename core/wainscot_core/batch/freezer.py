"""All boxes of a household over its batches: which is fed when, first in first out, and what is taken out tonight."""

import heapq
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from ..facts.boxes import BoxRules
from .boxes import Box, TakeOut, evenings_before


@dataclass(frozen=True, kw_only=True)
class Store:
    """The boxes of a batch that is fed. fed_from: the day of its first box; gone: numbers of boxes that are not there any
    more; meals: of a day, by dog's case; shape: in which they are frozen."""

    batch: int
    code: str
    cook_on: date
    fed_from: date
    shape: str
    boxes: tuple[Box, ...]
    gone: frozenset[int]
    meals: Mapping[int, int]


@dataclass(frozen=True, kw_only=True)
class Kept:
    """A box that is there. eat_on, meal: when it is due; frozen: it is in the freezer today; use_by: its last day; take_out:
    the evening on which it goes into the fridge, None for one that is there."""

    batch: int
    code: str
    number: int
    case: int
    dog: str
    grams: float
    kcal: float
    part: bool
    eat_on: date
    meal: int
    frozen: bool
    use_by: date
    take_out: date | None


@dataclass(frozen=True, kw_only=True)
class DogStock:
    """How long a dog's boxes last. meals: that are left; runs_out: the last day with one, None where none is left; soon:
    that is within the days at which it is said."""

    case: int
    dog: str
    meals: int
    runs_out: date | None
    soon: bool


@dataclass(frozen=True, kw_only=True)
class Freezer:
    """What a household has on a day. boxes: in the order in which they are fed; past: still there and past their last day;
    wasted: what will be past it before it is reached; evenings: what is taken out when, by place among the boxes."""

    on: date
    boxes: tuple[Kept, ...]
    tonight: tuple[int, ...]
    past: tuple[Kept, ...]
    wasted: tuple[Kept, ...]
    evenings: tuple[TakeOut, ...]
    dogs: tuple[DogStock, ...]


@dataclass(frozen=True)
class _Slot:
    """A box and the meal at which it is fed; None: it is past its last day before."""

    store: Store
    box: Box
    eat_on: date | None
    meal: int


def freezer(rules: BoxRules, stores: Sequence[Store], today: date) -> Freezer:
    """What there is today, and how it is fed on. What keeps shortest is fed first, so of what is frozen the first that was
    cooked; what was due before today counts as eaten."""
    kept: list[Kept] = []
    past: list[Kept] = []
    wasted: list[Kept] = []
    dogs = []
    for case in dict.fromkeys(b.case for s in stores for b in s.boxes):
        own = [(s, b) for s in stores for b in s.boxes if b.case == case]
        before = _fed(own, min(s.fed_from for s, _ in own))
        left = [x for x in before if x.box.number not in x.store.gone]
        there = []
        for slot in left:
            if slot.eat_on is None and slot.box.use_by < today:
                past.append(_kept(rules, slot, None, today))
            elif slot.eat_on is None or slot.eat_on >= today:
                there.append(slot)
        eaten = sum(x.eat_on == today and x.box.number in x.store.gone for x in before)
        planned = {(x.store.batch, x.box.number): x.eat_on for x in before}
        again = _fed([(x.store, x.box) for x in there], today, eaten)
        dog = []
        for slot in again:
            was = planned[(slot.store.batch, slot.box.number)]
            if slot.eat_on is None:
                wasted.append(_kept(rules, slot, was, today))
            else:
                dog.append(_kept(rules, slot, was, today))
        last = max((x.eat_on for x in dog), default=None)
        dogs.append(
            DogStock(
                case=case, dog=own[0][1].dog, meals=len(dog), runs_out=last,
                soon=last is not None and (last - today).days < rules.soon_days,
            )
        )  # fmt: skip
        kept += dog
    kept.sort(key=lambda x: (x.eat_on, x.meal, x.case))
    out = _evenings(kept)
    tonight = next((x.boxes for x in out if x.on == today), ())
    return Freezer(
        on=today, boxes=tuple(kept), tonight=tonight, past=tuple(past), wasted=tuple(wasted),
        evenings=out, dogs=tuple(dogs),
    )  # fmt: skip


def _fed(own: Sequence[tuple[Store, Box]], start: date, eaten: int = 0) -> list[_Slot]:
    """Every box of a dog in its meal from a day on. eaten: meals of the first day that it had already."""
    return list(_slots(own, start, eaten))


def _slots(own: Sequence[tuple[Store, Box]], start: date, eaten: int) -> Iterator[_Slot]:
    waiting = sorted(own, key=lambda x: x[0].fed_from, reverse=True)
    # Nobody ever compares two boxes of one batch by more than their numbers.
    open_: list[tuple[date, date, int, int, Store, Box]] = []
    day, meal = start, eaten
    while waiting or open_:
        if not open_ and waiting[-1][0].fed_from > day:
            day, meal = waiting[-1][0].fed_from, 0
        while waiting and waiting[-1][0].fed_from <= day:
            store, box = waiting.pop()
            heapq.heappush(open_, (box.use_by, store.cook_on, store.batch, box.number, store, box))
        while open_ and open_[0][0] < day:
            *_, store, box = heapq.heappop(open_)
            yield _Slot(store, box, None, 0)
        if not open_:
            continue
        *_, store, box = open_[0]
        if meal >= store.meals[box.case]:
            day, meal = day + timedelta(days=1), 0
            continue
        heapq.heappop(open_)
        meal += 1
        yield _Slot(store, box, day, meal)


def _kept(rules: BoxRules, slot: _Slot, was: date | None, today: date) -> Kept:
    """was: when it was due by the plan before today, which says whether it was taken out."""
    store, box = slot.store, slot.box
    due = slot.eat_on or box.use_by
    out = None
    if box.take_out is not None:
        out = _evening(rules, store, box, due)
        if was is None or _evening(rules, store, box, was) >= today:
            # Its turn came sooner than planned: it is still frozen, and thaws as long as can be.
            out = max(out, today)
    return Kept(
        batch=store.batch, code=store.code, number=box.number, case=box.case, dog=box.dog,
        grams=box.grams, kcal=box.kcal, part=box.part, eat_on=due, meal=slot.meal,
        frozen=out is not None and out >= today, use_by=box.use_by, take_out=out,
    )  # fmt: skip


def _evening(rules: BoxRules, store: Store, box: Box, due: date) -> date:
    before = due - timedelta(days=evenings_before(rules, store.shape, box.grams))
    return max(before, store.cook_on + timedelta(days=1))


def _evenings(boxes: Sequence[Kept]) -> tuple[TakeOut, ...]:
    days: dict[date, list[int]] = {}
    for i, box in enumerate(boxes):
        if box.take_out is not None and box.frozen:
            days.setdefault(box.take_out, []).append(i)
    return tuple(TakeOut(on=on, boxes=tuple(n)) for on, n in sorted(days.items()))
