"""How a recipe does, on one page for an owner: what is short, over, unproven, unsafe, what it would take, and for how
long it may be fed as it is."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ..analysis.adequacy import HELD, TOO_MUCH, Status
from ..analysis.results import Analysis, NutrientResult, RatioResult
from ..conventions import Conventions, number, share, spelled, told
from ..dog.as_it_is import AsItIs, AsItIsRules, Span
from ..release.span import answer_of
from ..snapshot.snapshot import Snapshot
from .cautions import cautions_of
from .paper import (
    CAUTION,
    Block,
    Document,
    DocumentKind,
    Points,
    Section,
    Table,
    Tone,
    Words,
    listed,
    origin_of,
    sentence,
    table,
)

# As many as go on one page beside the rest.
MOST_NAMED = 28

Judged = NutrientResult | RatioResult


@dataclass(frozen=True)
class Taking:
    """What it would take to make a recipe complete. added: names with amounts of a batch; left: what does not hold with
    them either. undecided: it cannot be worked out while two limits are apart."""

    added: Sequence[tuple[str, str]]
    left: Sequence[str]
    undecided: bool = False


def verdict_sheet(
    snapshot: Snapshot, rules: AsItIsRules, taking: Taking, whom: str, edition: str
) -> Document:
    """The sheet of a recipe. whom: the dog that it is judged for, in words. Raises InputError for a snapshot without
    one."""
    recipe = snapshot.of_recipe
    c, analysis = snapshot.parties.conventions, recipe.analysis
    judged: list[Judged] = [*analysis.nutrients, *analysis.ratios]
    answer = answer_of(snapshot, rules)
    sections = [
        Section(title="As it is", blocks=tuple(_as_it_is(c, snapshot, answer)), tone=Tone.DECIDE),
        *_unsafe(c, analysis),
        *_off(c, "Too little", "of what is needed", judged, {Status.SHORT}),
        *_off(c, "Too much", "of what is allowed", judged, TOO_MUCH),
        *_unproven(c, judged),
    ]
    if any(x.status not in HELD for x in judged):
        sections.append(Section(title="What it would take", blocks=tuple(_taking(c, taking))))
    return Document(
        kind=DocumentKind.VERDICT,
        title=f"How does “{recipe.name}” do for {whom}?",
        aside=snapshot.parties.aside(edition),
        sections=tuple(sections),
        foot=(
            Words(
                lead="Do not change what your dog eats because of this page alone: show it to the veterinarian.",
                text=CAUTION,
            ),
        ),
        fine=(
            f"Judged against {analysis.requirements}, per 1000 kcal. What is not known is not taken for none.",
            origin_of(snapshot),
        ),
    )


def _as_it_is(c: Conventions, snapshot: Snapshot, answer: AsItIs) -> Iterator[Block]:
    lead = {
        Span.NOT: "Not to be fed as it is, not for a day, unless the veterinarian says so.",
        Span.DAYS: f"For at most {answer.days} days, while it is being mended.",
        Span.ON: "It can stay, once the veterinarian has approved it.",
    }[answer.span]
    yield Words(lead=lead, text=told(c, sentence(answer.why)))
    whole, energy = snapshot.of_recipe.analysis.recipe, snapshot.energy
    yield Words(
        text=f"A day of it is {number(c, whole.kcal_per_day)} kcal; the dog needs about "
        f"{number(c, energy.target_kcal)}."
    )
    if answer.source:
        yield Words(lead="By:", text=sentence(answer.source))


def _unsafe(c: Conventions, analysis: Analysis) -> Iterator[Section]:
    if said := cautions_of(c, analysis.flags):
        yield Section(title="Unsafe, or to watch", blocks=(Points(items=said),))


def _off(
    c: Conventions,
    title: str,
    of: str,
    judged: Sequence[Judged],
    states: frozenset[Status] | set[Status],
) -> Iterator[Section]:
    found = [x for x in judged if x.status in states]
    if not found:
        return
    found.sort(key=lambda x: -x.urgency)
    cells = [_cells(c, x) for x in found[:MOST_NAMED]]
    blocks: list[Block] = [_paired(of, cells)]
    if more := [spelled(c, x.name) for x in found[MOST_NAMED:]]:
        blocks.append(Words(lead="And less so:", text=listed(more)))
    yield Section(title=title, blocks=tuple(blocks))


def _paired(title: str, cells: Sequence[tuple[str, str]]) -> Table:
    """Names with figures, two beside each other: the second column goes on where the first ends."""
    half = (len(cells) + 1) // 2
    right = [*cells[half:], *[("", "")] * (2 * half - len(cells))]
    rows = [(*one, *other) for one, other in zip(cells[:half], right, strict=True)]
    return table(("", title, "", title), rows, figures=(1, 3))


def _cells(c: Conventions, judged: Judged) -> tuple[str, str]:
    """ "Calcium", "12 % of 1562 mg"."""
    bound = judged.against
    if isinstance(judged, NutrientResult):
        value, decimals = judged.per_1000_kcal, judged.decimals
        unit = f" {spelled(c, judged.unit)}"
    else:
        value, unit, decimals = judged.value, "", 2
    part = share(c, value / bound) if value is not None and bound else "unknown"
    return spelled(c, judged.name), f"{part} of {number(c, bound, decimals)}{unit}"


def _unproven(c: Conventions, judged: Sequence[Judged]) -> Iterator[Section]:
    names = [spelled(c, x.name) for x in judged if x.status is Status.UNPROVEN]
    if names:
        text = f"{listed(names)} Some foods in it have no figure for these, or only a least one: they may be right or not."
        yield Section(title="Not known", blocks=(Words(text=text),))


def _taking(c: Conventions, taking: Taking) -> Iterator[Block]:
    if taking.undecided:
        yield Words(
            text="That cannot be worked out while two limits are apart: the veterinarian decides which gives way."
        )
        return
    if not taking.added:
        yield Words(text="Nothing that can be added mends it: its foods themselves have to change.")
        return
    how_many = len(taking.added)
    things = "1 thing" if how_many == 1 else f"{how_many} things"
    added = (f"{spelled(c, name)} {told(c, amount)}" for name, amount in taking.added)
    yield Words(
        lead=f"The fewest found: {things} beside its foods, in each batch.",
        text="; ".join(added) + ".",
    )
    if taking.left:
        yield Words(
            lead="Still not right with them:", text=listed(spelled(c, name) for name in taking.left)
        )
    yield Words(
        text="These amounts are worked out, not prescribed: strengths differ from pack to pack, and none of them is "
        "given before the veterinarian has agreed."
    )
