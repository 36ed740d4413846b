"""From the label of a supplement to an item of the shelf: what a consultant copies from a bottle in a minute."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated

from pydantic import Field

from ..boundary import Name20, Name40, Name160, Number, Text40, Text200, Text300, Text20000
from ..units import convert
from .allergens import AllergenWords
from .foods import SupplementKind, wrong_values
from .label_lines import LineState, ReadLine, read_lines
from .label_words import LabelWords, UnitKind
from .nutrients import Catalogue
from .shelf import ShelfItem, amount_in
from .supplements import Measuring, shelf_supplement

MOST_LINES = 120
# What is weighed may be a little heavier than what its label counts of it, never lighter.
_CARRIED = 1.1

Above = Annotated[Number, Field(gt=0, le=100_000)]


class LabelRest(StrEnum):
    """What a supplement holds of all its label does not name."""

    UNSAID = ""
    NOTHING = "nothing"
    UNKNOWN = "unknown"


class MostFor(StrEnum):
    """What the most that a label allows is for."""

    MEGACALORIE = "1000-kcal"
    TEN_KG_DAY = "10-kg-day"


@dataclass(frozen=True, kw_only=True)
class LabelLine:
    """A line as printed, and what a person said it means: a tag, compound, nothing, unknown; "" for nothing yet."""

    text: Text300
    meant: Text40 = ""


@dataclass(frozen=True, kw_only=True)
class ShelfLabel:
    """The label of a supplement as printed.

    unit: a kind of unit (supplements/label_words.yaml); per: how many of it the lines are for, grams of what is
    weighed. unit_g: the weight of one, or of a level spoon; tsp_g: of a level teaspoon of what is weighed. rest: what
    it holds of all that is not named. most: units, or grams, that are allowed at most. source_groups: what a dog may
    react to, beside what the other ingredients and the shell tell.
    """

    name: Name160
    kind: SupplementKind = SupplementKind.SINGLE
    unit: Name20
    per: Above = 1.0
    unit_g: Above | None = None
    tsp_g: Above | None = None
    lines: Annotated[tuple[LabelLine, ...], Field(max_length=MOST_LINES)] = ()
    rest: LabelRest = LabelRest.UNSAID
    most: Above | None = None
    most_for: MostFor = MostFor.MEGACALORIE
    heat: Text200 = ""
    add: Text200 = ""
    ingredients: Text20000 = ""
    source_groups: tuple[Name40, ...] = ()


@dataclass(frozen=True, kw_only=True)
class StillOpen:
    """What keeps a label from the shelf: the field and what to do."""

    field: str
    message: str


@dataclass(frozen=True, kw_only=True)
class Brings:
    """What one unit (or a gram) brings of a nutrient."""

    key: str
    name: str
    amount: float
    unit: str


@dataclass(frozen=True, kw_only=True)
class ShelfReading:
    """What a label means. item: as it would stand on the shelf, None while something is open. unit: what the
    amounts are for. cautions: said, and taken as it is."""

    item: ShelfItem | None
    lines: tuple[ReadLine, ...]
    unit: str
    brings: tuple[Brings, ...]
    source_groups: tuple[str, ...]
    open: tuple[StillOpen, ...]
    cautions: tuple[str, ...]


@dataclass(frozen=True)
class LabelFacts:
    """What labels are read by."""

    words: LabelWords
    catalogue: Catalogue
    allergens: AllergenWords
    measuring: Measuring


def read_label(
    facts: LabelFacts, label: ShelfLabel, item_id: str, point: bool = True
) -> ShelfReading:
    """What a label means, and what is still to be said before it can stand on the shelf. Never raises: what is wrong
    is told by the field."""
    kind = facts.words.unit_kinds.get(label.unit)
    texts = [(line.text, line.meant) for line in label.lines]
    lines = read_lines(facts.words, facts.catalogue, texts, point)
    amounts = _amounts(facts, lines)
    groups = _groups(facts, label, lines, kind)
    still = list(_still_open(label, lines, kind))
    item, cautions = None, []
    if kind is not None and not still:
        unit_g, typical = _weight(facts, label, kind, amounts)
        item = _item(facts, label, kind, item_id, lines, amounts, groups, unit_g, typical)
        wrong = wrong_values(facts.catalogue, {"ENERC": 0.0, **item_values(facts, item)})
        still += [StillOpen(field="lines", message=f"{key}: {said}") for key, said in wrong]
        if wrong:
            item = None
        else:
            cautions = list(_cautions(facts, item, kind))
    words = "g" if kind is None or kind.weight else kind.words
    return ShelfReading(
        item=item, lines=lines, unit=words, brings=_brings(facts, amounts, label.per),
        source_groups=groups, open=tuple(still), cautions=tuple(cautions),
    )  # fmt: skip


def _amounts(facts: LabelFacts, lines: Sequence[ReadLine]) -> dict[str, float]:
    """What the counted lines bring together by tag, in catalogue units; energy from what carries it, where the label
    does not say."""
    found: dict[str, float] = {}
    for line in lines:
        for part in line.parts:
            found[part.key] = found.get(part.key, 0.0) + part.amount
    factors = facts.catalogue.atwater.kcal_per_g
    carriers = [key for key in factors if key in found]
    if carriers and "ENERC" not in found:
        fibre = found.get("FIBTG", 0.0) if "CHOCDF" in found else 0.0
        found["ENERC"] = sum(factors[k] * found[k] for k in carriers) - factors["CHOCDF"] * fibre
    return found


def _groups(
    facts: LabelFacts, label: ShelfLabel, lines: Sequence[ReadLine], kind: UnitKind | None
) -> tuple[str, ...]:
    """The source groups a dog may react to: said, of the shell, and named anywhere on the label."""
    printed = " . ".join([label.name, label.ingredients, *(line.text for line in lines)])
    named = facts.allergens.found_in(printed)
    shell = kind.shell if kind is not None else ()
    return tuple(sorted({*label.source_groups, *shell, *named}))


def _still_open(
    label: ShelfLabel, lines: Sequence[ReadLine], kind: UnitKind | None
) -> "list[StillOpen]":
    said = []
    if kind is None:
        said.append(StillOpen(field="unit", message="choose what the label counts in"))
    elif kind.typical_g is None and not kind.weight and label.unit_g is None:
        said.append(
            StillOpen(field="unit_g", message=f"weigh one {kind.words}, or copy its weight")
        )
    if not lines:
        said.append(StillOpen(field="lines", message="copy what it holds, a nutrient a line"))
    waiting = [line for line in lines if line.state is LineState.OPEN]
    if waiting:
        more = f" and {len(waiting) - 1} more" if len(waiting) > 1 else ""
        said.append(
            StillOpen(field="lines", message=f"say what is meant by “{waiting[0].text}”{more}")
        )
    elif lines and not any(line.parts for line in lines):
        said.append(StillOpen(field="lines", message="no line names anything that is counted here"))
    nameless = [line for line in lines if line.state is LineState.UNKNOWN and not line.unknown]
    if label.rest is LabelRest.UNSAID:
        said.append(
            StillOpen(field="rest", message="say what it holds of all the label does not name")
        )
    elif label.rest is LabelRest.NOTHING and nameless:
        message = f"“{nameless[0].text}” is not known: so the rest is not known either"
        said.append(StillOpen(field="rest", message=message))
    return said


def _weight(
    facts: LabelFacts, label: ShelfLabel, kind: UnitKind, amounts: Mapping[str, float]
) -> tuple[float, bool]:
    """The weight of one unit, g (1 of what is weighed), and whether it is only typical."""
    if kind.weight:
        return 1.0, False
    if label.unit_g is not None:
        return label.unit_g, False
    sums = (*facts.words.parts.values(), *facts.words.totals.values())
    inside = {part for parts in sums for part in parts}
    counted = sum(
        convert(key, amount, facts.catalogue.get(key).unit, "g")
        for key, amount in amounts.items()
        if key != "ENERC" and key not in inside
    )
    return max(kind.typical_g or 1.0, counted / label.per * _CARRIED), True


def _item(
    facts: LabelFacts,
    label: ShelfLabel,
    kind: UnitKind,
    item_id: str,
    lines: Sequence[ReadLine],
    amounts: Mapping[str, float],
    groups: tuple[str, ...],
    unit_g: float,
    typical: bool,
) -> ShelfItem:
    """The item of the shelf that a settled label makes."""
    per_100_g = {key: amount / label.per / unit_g * 100 for key, amount in amounts.items()}
    parts = facts.words.parts
    unknown = {p for key, of in parts.items() if amounts.get(key) for p in of}
    unknown |= {key for line in lines for key in line.unknown}
    most = None if label.most is None else label.most * unit_g
    by_energy = label.most_for is MostFor.MEGACALORIE
    spoon = label.unit_g if kind.spoon else label.tsp_g if kind.weight else None
    return ShelfItem(
        id=item_id, name=label.name, kind=label.kind, per_100_g=per_100_g,
        rest_is_zero=label.rest is LabelRest.NOTHING,
        unknown=tuple(sorted(unknown - set(amounts))),
        unit=kind.piece, unit_g=unit_g if kind.piece else None,
        unit_g_typical=typical and bool(kind.piece), step=kind.step, tsp_g=spoon,
        most_g_per_mcal=most if by_energy else None,
        most_g_per_kg_day=None if by_energy or most is None else most / 10,
        heat=label.heat, add=label.add, allergens=groups, source="its label, entered by the practice",
    )  # fmt: skip


def _cautions(facts: LabelFacts, item: ShelfItem, kind: UnitKind) -> "list[str]":
    """What is taken as it is, and should be known."""
    said = []
    block = blocked(facts, item)
    if block:
        said.append(f"It will never be proposed: {block}")
    if item.unit_g_typical:
        said.append(
            f"The weight of one {kind.piece} is not on the label: give it by the piece, never by weight."
        )
    if kind.weight and item.tsp_g is None:
        said.append(
            "No spoon is known: it is proposed only for an owner with a fine scale. Weigh a level teaspoon of it."
        )
    if not item.add:
        said.append("When it is added is not said: the owner's sheet cannot tell it.")
    return said


def _brings(facts: LabelFacts, amounts: Mapping[str, float], per: float) -> tuple[Brings, ...]:
    order = [n for n in facts.catalogue.nutrients if n.key in amounts]
    return tuple(
        Brings(key=n.key, name=n.name, amount=amounts[n.key] / per, unit=n.unit) for n in order
    )


def brings_of(facts: LabelFacts, item: ShelfItem) -> tuple[Brings, ...]:
    """What one piece of an item brings, or 100 g of what is weighed; what it brings nothing of is left out."""
    amounts = {key: amount for key, amount in item_values(facts, item).items() if amount}
    return _brings(facts, amounts, 100 / item.unit_g if item.unit_g else 1.0)


def item_values(facts: LabelFacts, item: ShelfItem) -> dict[str, float]:
    """Values per 100 g of an item by tag, in catalogue units. Raises InputError naming the tag."""
    return {
        key: amount_in(facts.catalogue.get(key).unit, key, raw, f"per_100_g.{key}")
        for key, raw in item.per_100_g.items()
        if key in facts.catalogue
    }


def blocked(facts: LabelFacts, item: ShelfItem) -> str:
    """Why an item must not be used; "" when it may."""
    made = shelf_supplement(item, item_values(facts, item), facts.catalogue)
    handling = facts.measuring.checked(made).food.handling
    return handling.block if handling is not None else ""


def label_of(facts: LabelFacts, item: ShelfItem) -> ShelfLabel:
    """The label that would make an item which came without one."""
    kinds = facts.words.unit_kinds.values()
    kind = next(
        (k for k in kinds if item.unit and k.piece == item.unit and not k.shell),
        facts.words.unit_kinds["gram"],
    )
    pieces = bool(kind.piece)
    # What is zero is said only where it would else be unknown.
    amounts = {k: v for k, v in item_values(facts, item).items() if v or not item.rest_is_zero}
    lines = tuple(
        LabelLine(text=f"{b.name} {float(f'{b.amount:.10g}')!r} {b.unit}", meant=b.key)
        for b in _brings(facts, amounts, 100 / item.unit_g if pieces and item.unit_g else 1.0)
    )
    each = item.unit_g if pieces and item.unit_g else 1.0
    by_weight = item.most_g_per_kg_day is not None
    most = item.most_g_per_kg_day * 10 if item.most_g_per_kg_day else item.most_g_per_mcal
    return ShelfLabel(
        name=item.name, kind=item.kind, unit=kind.id, per=1.0 if pieces else 100.0,
        unit_g=item.unit_g if pieces and not item.unit_g_typical else None, tsp_g=item.tsp_g,
        lines=lines, rest=LabelRest.NOTHING if item.rest_is_zero else LabelRest.UNKNOWN,
        most=most / each if most else None,
        most_for=MostFor.TEN_KG_DAY if by_weight else MostFor.MEGACALORIE,
        heat=item.heat, add=item.add, source_groups=item.allergens,
    )  # fmt: skip
