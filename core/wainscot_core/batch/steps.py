"""The order of work of a batch, one step a screen: what is weighed into what, what is cooked, measured, cooled, parted."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum

from ..facts.handling import Place
from ..figures import listed, lowered
from .ask import BatchAsk
from .plan import Pot
from .portions import Portions
from .results import BatchLine, BatchPlan, vessels_of
from .weighing import Tool


class CookKind(StrEnum):
    """What is done in a step. do: it is ticked; weigh: a weight is put down; count: pieces are; cook: a time runs; core: a
    temperature is measured; finish: all of the finished food is weighed."""

    DO = "do"
    WEIGH = "weigh"
    COUNT = "count"
    COOK = "cook"
    CORE = "core"
    FINISH = "finish"


@dataclass(frozen=True, kw_only=True)
class CookStep:
    """A step. id: what ticks know it by; line, vessel: what is weighed, into which; grams, low_g, high_g: the weight and the
    band in which it is right; step_g: of the scale; minutes: of a time that runs; celsius: to be reached."""

    id: str
    kind: CookKind
    title: str
    words: str
    short: str
    line: int | None = None
    vessel: int | None = None
    grams: float | None = None
    low_g: float | None = None
    high_g: float | None = None
    step_g: float | None = None
    tool: Tool | None = None
    pieces: float | None = None
    piece: str = ""
    minutes: float | None = None
    celsius: float | None = None


# How far a weight may be off and be right: a food, and what works like a medicine.
_FOOD_BAND, _FINE_BAND = 0.02, 0.03


def band(grams: float, step_g: float, small: bool) -> tuple[float, float]:
    """The weights that are right: 2 % (3 % of a supplement), but at least one step of the scale. Source: convention."""
    off = max(grams * (_FINE_BAND if small else _FOOD_BAND), step_g)
    return max(0.0, grams - off), grams + off


def steps_of_batch(pot: Pot, ask: BatchAsk, plan: BatchPlan) -> tuple[CookStep, ...]:
    """The steps in the order in which they are done. pot: of the recipe."""
    return tuple(_steps(pot, ask, plan))


def _steps(of: Pot, ask: BatchAsk, plan: BatchPlan) -> Iterator[CookStep]:
    reference, handling = of.dossier.reference, of.handling
    by = {place: [x for x in plan.lines if x.place is place] for place in Place}
    pot = sorted(by[Place.POT], key=lambda x: handling.lines[x.position].turn)
    cup = sorted(by[Place.COOLED], key=lambda x: x.grams)
    yield _do(
        "gather", "Put everything on the table",
        "Wash your hands. If one thing is missing, stop here and call.", "Everything is there",
    )  # fmt: skip
    for line in cup:
        yield from _weighings(plan, line, "Not yet into the food.")
    flesh = {
        i for i, x in enumerate(handling.lines) if x.place is Place.POT and x.turn == 1
    }  # the turn of flesh in the work
    for line in pot:
        cut = handling.lines[line.position].step.partition(";")[0]
        words = _sentence(cut)
        if line.position in flesh:
            words += " Its own board and knife; do not rinse it; then wash hands, board and knife."
        yield from _weighings(plan, line, words.strip())
    if plan.finished.water_g > 0:
        yield CookStep(
            id="water", kind=CookKind.DO, title="Water that stays in the food",
            words=f"{plan.finished.water_g:.0f} g of water, beside what dry food takes up.",
            short="Water", grams=plan.finished.water_g,
        )  # fmt: skip
    yield from _cooking(of, ask, pot)
    if handling.core_celsius is not None and pot:
        for i, name in vessels_of(plan):
            yield CookStep(
                id=f"core-{'all' if i is None else i}", kind=CookKind.CORE,
                title=f"Core temperature{f' of {name}' if name else ''}",
                words="In the thickest place, in two spots; write down the lower.",
                short="Core temperature", vessel=i, celsius=handling.core_celsius,
            )  # fmt: skip
    for line in by[Place.READY]:
        how = handling.lines[line.position].words
        yield from _weighings(plan, line, f"{_sentence(how)} Into the food.".strip())
    if handling.raw:
        yield _do(
            "raw", "Fed raw", f"{listed(handling.raw, 9)}: keep it apart from your own food; wash hands, board and bowl hot afterwards.",
            "Raw food kept apart",
        )  # fmt: skip
    hours = f"{handling.cool_hours:g}"
    yield _do(
        "cool", "Cool it",
        f"Within {hours} hours: spread it not deeper than 5 cm, or stand the vessel in cold water and stir.", "Cool it",
    )  # fmt: skip
    if cup:
        words = (
            f"Below {handling.cool_celsius:.0f} °C: stir the cup into a bowl of the food, and that into all of it, for 3 to 5 "
            "minutes."
        )
        if len(plan.vessels) > 1:
            words += " Part the cup by what the food in each vessel weighs, unless it was weighed for each."
        yield _do("stir", "Stir in the cup", words, "Stir in the cup")
    yield CookStep(
        id="finish", kind=CookKind.FINISH, title="Weigh all of it",
        words="Vessels with the food, less the empty vessels. Broth that belongs to it is weighed too.",
        short="Weigh all of it", grams=plan.finished.grams,
        low_g=plan.finished.grams * (1 - reference.batches.off_beyond),
        high_g=plan.finished.grams * (1 + reference.batches.off_beyond), step_g=ask.coarse_g,
    )  # fmt: skip
    for eater, boxes in zip(plan.eaters, plan.portions, strict=True):
        yield _do(
            f"portion-{eater.case}", f"{boxes.boxes} boxes for {eater.name}",
            f"{_boxes(boxes)} as planned; the weighed batch says it exactly. Label each: dog, batch, day, use by.",
            f"Boxes for {eater.name}",
        )  # fmt: skip


def _short(plan: BatchPlan, line: BatchLine) -> str:
    """A name up to its first comma, where that is one line."""
    short = line.name.partition(",")[0]
    same = [x for x in plan.lines if x.name.partition(",")[0] == short]
    return short if len(same) == 1 else line.name


def _sentence(words: str) -> str:
    return f"{words[:1].upper()}{words[1:]}." if words else ""


def _counting(line: BatchLine) -> str:
    """What is done with pieces that are counted."""
    if line.piece in {"tablet", "capsule"}:
        return "Crush to powder, no crumbs, into a labelled cup."
    return "Count them into a labelled cup."


def _do(key: str, title: str, words: str, short: str) -> CookStep:
    return CookStep(id=key, kind=CookKind.DO, title=title, words=words, short=short)


def _weighings(plan: BatchPlan, line: BatchLine, words: str) -> Iterator[CookStep]:
    if line.pieces is not None:
        low, high = band(line.grams, line.step_g, small=True)
        yield CookStep(
            id=f"line-{line.position}-all", kind=CookKind.COUNT, title=line.name,
            words=f"{_counting(line)} {words}".strip(), short=_short(plan, line), line=line.position,
            grams=line.grams, low_g=low, high_g=high, step_g=line.step_g, tool=line.tool,
            pieces=line.pieces, piece=line.piece,
        )  # fmt: skip
        return
    places: list[tuple[int | None, float]] = (
        [(None, line.grams)] if line.once else list(enumerate(line.vessels))
    )
    for vessel, grams in places:
        low, high = band(grams, line.step_g, line.supplement)
        where = ""
        if line.place is Place.COOLED:
            where = "Into a labelled cup. "
        if vessel is not None:
            cup = "cup " if line.place is Place.COOLED else ""
            name = "" if cup else f" ({plan.vessels[vessel].name})"
            where = f"Into {cup}{chr(65 + vessel)}{name}. "
        elif line.place is Place.POT and len(plan.vessels) > 1:
            where = "Once for all vessels; part it among them by eye. "
        yield CookStep(
            id=f"line-{line.position}-{'all' if vessel is None else vessel}", kind=CookKind.WEIGH,
            title=line.name, words=(where + words).strip(),
            short=_short(plan, line),
            line=line.position, vessel=vessel, grams=grams, low_g=low, high_g=high,
            step_g=line.step_g, tool=line.tool,
        )  # fmt: skip


def _minutes(of: Pot, ask: BatchAsk, line: BatchLine) -> float:
    """About how long a line cooks: as long as its vessel runs, or as long as such a food takes."""
    rules = of.dossier.reference
    if rules.batches.covers[ask.cover].own_time:
        return ask.minutes
    real = of.dossier.lines[line.position]
    method = real.prepared.method.id if real.prepared is not None else None
    found = rules.handling.minutes_of(real.food.attributes, method)
    return ask.minutes if found is None else found


def _cooking(of: Pot, ask: BatchAsk, pot: Sequence[BatchLine]) -> Iterator[CookStep]:
    """Foods that are cooked alike, together, as long as the one that takes longest."""
    groups: dict[str, list[str]] = {}
    minutes: dict[str, float] = {}
    for line in pot:
        # How it is cut stands before; how it is cooked behind.
        cut, _, cook = of.handling.lines[line.position].step.partition("; ")
        minutes[cook or cut] = max(minutes.get(cook or cut, 0.0), _minutes(of, ask, line))
        groups.setdefault(cook or cut, []).append(line.name.partition(",")[0])
    for n, (how, foods) in enumerate(groups.items()):
        first, *others = dict.fromkeys(foods)
        named = listed([first, *map(lowered, others)], 9)
        yield CookStep(
            id=f"cook-{n}", kind=CookKind.COOK, title=f"Cook: {named}",
            words=_sentence(how) or "Cook it until it is done.",
            short=f"Cook {lowered(first)}", minutes=minutes[how],
        )  # fmt: skip


def _boxes(of: Portions) -> str:
    if of.last_g == of.each_g:
        return f"{of.boxes} of {of.each_g:g} g"
    return f"{of.boxes - 1} of {of.each_g:g} g and one of {of.last_g:g} g"
