"""The sheet of a batch: what goes into each vessel, what is weighed once, what each dog gets of it."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date

from ..batch.eaters import EaterResult
from ..batch.portions import Portions
from ..batch.results import BatchLine, BatchPlan
from ..batch.weighing import Tool
from ..conventions import Conventions, day, food_weight, money, number, spelled, told
from ..findings import Level
from ..snapshot.snapshot import Parties
from .paper import (
    CAUTION,
    Block,
    Column,
    Document,
    DocumentKind,
    Points,
    Section,
    Table,
    Tone,
    Words,
    sentence,
)


@dataclass(frozen=True, kw_only=True)
class BatchWords:
    """What a batch is called: its code, the recipe and which edition of it, the day it is cooked, who approved it ("" for
    nobody)."""

    code: str
    recipe: str
    edition: str
    cook_on: date
    approved: str


def batch_sheet(parties: Parties, what: BatchWords, plan: BatchPlan) -> Document:
    """A batch on paper."""
    c = parties.conventions
    names = " and ".join(e.name for e in plan.eaters)
    return Document(
        kind=DocumentKind.BATCH,
        title=f"{names}: batch {what.code}",
        aside=parties.aside(f"{what.recipe}. {what.edition}"),
        sections=(
            Section(title="", blocks=(_whole(c, what, plan),)),
            *_told(c, plan),
            *_lists(c, plan),
            Section(title="When it is done", blocks=tuple(_done(c, plan))),
            Section(title="A meal", blocks=tuple(_meals(c, plan))),
            Section(title="Keep", blocks=(_keep(c, plan),)),
        ),
        foot=(
            Words(
                lead=what.approved
                or "Do not feed this before the attending veterinarian has approved it.",
                text=CAUTION,
            ),
        ),
        fine=(sentence(plan.source), *_cost(c, plan)),
    )


def _whole(c: Conventions, what: BatchWords, plan: BatchPlan) -> Words:
    done = plan.finished
    return Words(
        lead=f"For {number(c, plan.days, 1)} days, cooked on {day(c, what.cook_on, long=True)}.",
        text=f"{food_weight(c, done.raw_g)} go in; finished it weighs about {food_weight(c, done.grams)} "
        f"({food_weight(c, done.low)} to {food_weight(c, done.high)}).",
    )


def _told(c: Conventions, plan: BatchPlan) -> Iterator[Section]:
    grave = [f for f in plan.findings if f.level is not Level.NOTE]
    if grave:
        items = tuple(
            Words(lead=told(c, sentence(f.what)), text=told(c, f"{sentence(f.why)} {f.do}"))
            for f in grave
        )
        yield Section(title="First", blocks=(Points(items=items),), tone=Tone.DECIDE)


def _lists(c: Conventions, plan: BatchPlan) -> Iterator[Section]:
    apart = [line for line in plan.lines if not line.once]
    once = [line for line in plan.lines if line.once]
    if apart:
        columns = (
            Column(title=""), *(Column(title=f"{chr(65 + i)}: {v.name}", figures=True) for i, v in enumerate(plan.vessels)),
            Column(title="together", figures=True),
        )  # fmt: skip
        rows = tuple(
            (
                spelled(c, line.name),
                *(_amount(line, grams) for grams in line.vessels),
                _amount(line, line.grams),
            )
            for line in apart
        )
        yield Section(
            title="Weighed for each vessel",
            blocks=(Table(columns=columns, rows=rows, ticks=True),),
        )
    if once:
        several = len(plan.vessels) > 1
        made = Table(
            columns=(Column(title=""), Column(title="weigh", figures=True), Column(title="on")),
            rows=tuple(
                (spelled(c, line.name), _amount(line, line.grams), _tool(line)) for line in once
            ),
            ticks=True,
        )
        how = "Stir it into one cup, and part the cup by what the food in each vessel weighs."
        blocks: tuple[Block, ...] = (made, Words(text=how)) if several else (made,)
        yield Section(
            title="Weighed once for all of it" if several else "Weigh",
            blocks=blocks, tone=Tone.BOX if several else Tone.PLAIN,
        )  # fmt: skip


def _amount(line: BatchLine, grams: float) -> str:
    if line.pieces is not None:
        return f"{line.pieces:g} {line.piece}{'' if line.pieces == 1 else 's'}"
    # As many places as the scale shows.
    places = max(0, min(3, len(f"{line.step_g:.3f}".rstrip("0").partition(".")[2])))
    return f"{grams:.{places}f} g"


def _tool(line: BatchLine) -> str:
    if line.tool is Tool.NONE:
        return "no scale at hand: see above"
    return line.tool.value if line.tool is not Tool.COUNT else "counted"


def _done(c: Conventions, plan: BatchPlan) -> Iterator[Block]:
    yield Words(
        text="Weigh all of it: vessels with food, less the empty vessels. Write it here: ______ g."
    )
    water = plan.finished
    if water.water_g or water.evaporates_g:
        yield Words(
            text=f"{food_weight(c, water.water_g)} of water go in beside what dry food takes up "
            f"({food_weight(c, water.taken_up_g)}); about {food_weight(c, water.evaporates_g)} boil away."
        )
    yield Words(text="More than a tenth off what is expected: do not portion it; ask first.")


def _meals(c: Conventions, plan: BatchPlan) -> Iterator[Block]:
    columns = (
        Column(title=""), Column(title="a meal", figures=True), Column(title="meals a day", figures=True),
        Column(title="boxes", figures=True), Column(title="in the bowl, a meal"),
    )  # fmt: skip
    rows = tuple(
        (
            e.name, food_weight(c, e.grams_per_meal), str(e.meals_per_day), _boxes(c, p), _added(c, e),
        )
        for e, p in zip(plan.eaters, plan.portions, strict=True)
    )  # fmt: skip
    yield Table(columns=columns, rows=rows)
    yield Words(text="As planned; the weighed batch says what a meal is.")
    beside = [e for e in plan.eaters if e.beside]
    if beside:
        yield Points(
            items=tuple(
                Words(
                    lead=f"{e.name} every day beside it:",
                    text=", ".join(f"{spelled(c, b.name)} {food_weight(c, b.grams)}" for b in e.beside) + ".",
                )
                for e in beside
            )
        )  # fmt: skip


def _boxes(c: Conventions, p: Portions) -> str:
    if p.last_g == p.each_g:
        return f"{p.boxes} of {food_weight(c, p.each_g)}"
    return f"{p.boxes - 1} of {food_weight(c, p.each_g)}, one of {food_weight(c, p.last_g)}"


def _added(c: Conventions, eater: EaterResult) -> str:
    named: Sequence[str] = [
        f"{spelled(c, a.name)} {a.grams_per_meal:.3g} g" for a in eater.added if a.grams_per_meal
    ]
    return ", ".join(named) or "nothing"


def _keep(c: Conventions, plan: BatchPlan) -> Words:
    kept = plan.storage
    cold = (
        f"{food_weight(c, kept.fridge_g)} for {number(c, kept.fridge_days, 1)} days in the fridge"
    )
    if kept.frozen_g <= 0:
        return Words(text=f"{cold}.")
    return Words(
        text=f"{cold}; freeze {food_weight(c, kept.frozen_g)}, some {kept.freezer_litres:.1f} l: {kept.freeze_words}."
    )


def _cost(c: Conventions, plan: BatchPlan) -> Iterator[str]:
    if plan.cost > 0:
        rest = f"; {plan.unpriced} without a price not counted" if plan.unpriced else ""
        yield f"About {money(c, plan.cost_per_day)} a day at the prices noted{rest}."
