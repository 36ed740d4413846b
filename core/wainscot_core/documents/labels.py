"""Labels of the boxes of a batch: for whom, what is in it, by when, what is added, whom to call."""

from collections.abc import Sequence
from dataclasses import dataclass

from ..batch.boxes import Box
from ..batch.cooked import CookedBatch
from ..batch.eaters import EaterResult
from ..batch.results import BatchPlan
from ..conventions import day, food_weight, number, spelled
from ..errors import InputError
from ..facts.boxes import BoxRules, LabelSheet
from ..snapshot.snapshot import Parties
from .batch import BatchWords

# So many foods are named on a label, the heaviest first.
_MOST_NAMED = 6
# On a small label this wide the weight and the energy stand in one line.
_WIDE_MM = 50.0
# Letters of a dog's name that a small label has room for.
_SHORT_NAME = 14


@dataclass(frozen=True, kw_only=True)
class Label:
    """A label. loud: what must be read first, "" for nothing; head: what always stands on it; lines: the rest, what matters
    most first, of which as many are printed as there is room for; none on a small one."""

    dog: str
    loud: str
    head: tuple[str, ...]
    lines: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class LabelPages:
    """Labels on sheets. first: how many places of the first sheet are used up; address: what the code on each leads to."""

    sheet: LabelSheet
    first: int
    labels: tuple[Label, ...]
    address: str


def label_pages(
    parties: Parties,
    what: BatchWords,
    plan: BatchPlan,
    cooked: CookedBatch | None,
    boxes: Sequence[Box],
    rules: BoxRules,
    sheet: str,
    first: int,
    address: str,
) -> LabelPages:
    """The labels of boxes. Raises InputError for a sheet there is none of and places that are not on it."""
    if sheet not in rules.sheets:
        raise InputError("sheet", f"use one of: {', '.join(rules.sheets)}")
    paper = rules.sheets[sheet]
    if not 0 <= first < paper.count:
        raise InputError("first", f"must be from 0 to {paper.count - 1}: places that are used up")
    small, wide = paper.height < rules.small_mm, paper.width > _WIDE_MM
    eaters = {e.case: e for e in plan.eaters}
    labels = tuple(
        _label(parties, what, plan, cooked, box, eaters[box.case], rules, small, wide)
        for box in boxes
    )
    return LabelPages(sheet=paper, first=first, labels=labels, address=address)


def _label(
    parties: Parties, what: BatchWords, plan: BatchPlan, cooked: CookedBatch | None, box: Box,
    eater: EaterResult, rules: BoxRules, small: bool, wide: bool,
) -> Label:  # fmt: skip
    c = parties.conventions
    grams, kcal = food_weight(c, box.grams), f"{number(c, box.kcal)} kcal"
    code, by = f"{what.code}-{box.number}", day(c, box.use_by)
    loud = _loud(parties, what, cooked, eater)
    if small:
        # The day and the letter tell the batch.
        short = code.partition("-")[2]
        added = "add at meals" if any(a.grams_per_meal for a in eater.added) else ""
        # What must be read, or is missing without it, takes the place of the energy where there is room for one of them.
        first = (f"{grams}, {kcal}", added) if wide else (grams, "" if loud else added or kcal)
        head = (*(x for x in first if x), f"by {by}", short)
        name = eater.name
        if len(name) > _SHORT_NAME:
            name = f"{name[: _SHORT_NAME - 1]}…"
        return Label(dog=name, loud="Ask first" if loud else "", head=head, lines=())
    part = ", part of a meal" if box.part else ""
    where = "Frozen" if box.frozen else "Fridge"
    head = (
        f"{grams}, {kcal}{part}", f"Cooked {day(c, what.cook_on)}", f"{where}: by {by}", code,
    )  # fmt: skip
    lines = tuple(_lines(parties, what, plan, box, eater, rules))
    return Label(dog=eater.name, loud=loud, head=head, lines=lines)


def _loud(
    parties: Parties, what: BatchWords, cooked: CookedBatch | None, eater: EaterResult
) -> str:
    """What is to be read before it is fed."""
    found = next((d for d in cooked.days if d.case == eater.case), None) if cooked else None
    if found is not None and found.must_not:
        return f"NOT FOR {eater.name.upper()}: do not feed"
    if not what.approved:
        return "Draft: not approved by a vet"
    if cooked is not None and cooked.too_cold:
        return "Did not get hot enough: do not feed"
    if cooked is None or cooked.unknown:
        return f"Not known whether it holds: ask {parties.practice}"
    if found is not None and found.worse:
        return f"Not complete as cooked: ask {parties.practice}"
    if eater.off and not eater.lead:
        return f"Not complete: ask {parties.practice}"
    return ""


def _lines(
    parties: Parties, what: BatchWords, plan: BatchPlan, box: Box, eater: EaterResult, rules: BoxRules
) -> list[str]:  # fmt: skip
    c = parties.conventions
    heavy = sorted(plan.lines, key=lambda x: -x.fed_g)
    named = [spelled(c, x.name.partition(",")[0]) for x in heavy[:_MOST_NAMED]]
    more = len(heavy) - len(named)
    lines = []
    if eater.added:
        added = ", ".join(
            f"{spelled(c, a.name)} {a.grams_per_meal:.3g} g"
            for a in eater.added
            if a.grams_per_meal
        )
        lines.append(f"Add at every meal: {added}")
    others = [e.name for e in plan.eaters if e.case != eater.case]
    lines.append(f"For {eater.name} only" + (f", not for {' or '.join(others)}" if others else ""))
    lines.append(f"In it: {', '.join(named)}{f' and {more} more' if more > 0 else ''}")
    lines.append(f"{what.recipe}. {what.edition}. {parties.practice}")
    thawed = f"Thawed: {rules.thawed_days} days in the fridge. " if box.frozen else ""
    lines.append(f"{thawed}{rules.warm}")
    lines.append(rules.law)
    return lines
