"""Safe limits that are counted on what supplements add, and a single day's doses."""

from collections.abc import Iterator

import numpy as np

from ..dossier.dossier import Dossier
from ..figures import plainly
from ..findings import Finding, Kind, Level
from ..recipe.totals import Totals
from ..targets.per import Per
from ..targets.safe_limits import Counts, Role, SafeLimit
from ..units import convert

_LEVELS = {
    Role.CEILING: Level.BLOCK,
    Role.ACUTE: Level.BLOCK,
    Role.CAUTION: Level.WARN,
    Role.LEGAL: Level.NOTE,
}
_DO = {
    Role.CEILING: "Add less of it.",
    Role.ACUTE: "Add less of it: this is a dose that can harm in a single day. Only the vet may go above it.",
    Role.CAUTION: "Add less of it, or ask the attending vet.",
    Role.LEGAL: "For a homemade diet it is advice; food that is sold must keep to it.",
}


def added_amounts(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """One finding for every such limit that the known amounts pass."""
    for limit in dossier.targets.safe:
        counted = limit.counts is not Counts.TOTAL or limit.role is Role.ACUTE
        if limit.role in _LEVELS and limit.value is not None and counted:
            amount = limit_amount(dossier, sums, limit)
            if amount > limit.value * (1 + 1e-9):
                yield _finding(dossier, limit, amount)


def label_doses(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """One finding for every supplement of which there is more than its label allows."""
    kg_days = sums.days * dossier.weight_kg
    for line in dossier.lines:
        given = line.food.handling
        most = given.most_by_label(sums.kcal, kg_days) if given is not None else np.inf
        if line.amount.grams > most * (1 + 1e-6):
            yield Finding(
                kind=Kind.SAFETY,
                level=Level.DECIDE,
                what=f"{line.food.name}: {plainly(line.amount.grams)} g, its label allows {plainly(most)} g in this batch",
                why="what a maker allows at most may rest on what the label does not name",
                do="Give less of it, or decide with the attending vet.",
                source="the label, as the practice entered it",
                food=line.food.id,
            )


def strengths_not_told(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """One finding for every supplement whose strength stands on its pack alone and nobody has entered it: of how much
    it brings nothing can be said, too much included."""
    catalogue = dossier.library.catalogue
    for line in {line.food.id: line for line in dossier.lines}.values():
        asked = line.food.handling.label if line.food.handling is not None else ()
        for question in asked:
            if np.isnan(dossier.library.values[line.row, catalogue.index(question.tag)]):
                name = catalogue.name_of(question.tag)
                yield Finding(
                    kind=Kind.SAFETY, level=Level.DECIDE, matter="Strength not told",
                    what=f"Strength not told: {line.food.name}",
                    why=f"its {name.lower()} differs from pack to pack, a hundredfold and more; nobody can say whether it is "
                    "too little or too much",
                    do=f"Read {name.lower()} in {question.unit} per {question.per} on the pack and enter it with the food, or take "
                    "another one.",
                    source="the pack itself", food=line.food.id, nutrient=question.tag,
                )  # fmt: skip


def _added(dossier: Dossier, sums: Totals, key: str, soluble: bool) -> float:
    """What the supplements of the batch bring of a nutrient, in catalogue units."""
    column = sums.catalogue.index(key)
    rows = [
        i
        for i, line in enumerate(dossier.lines)
        if line.food.handling is not None and not (soluble and line.food.handling.bound_phosphate)
    ]
    return float(np.nansum(sums.contributions[rows, column])) if rows else 0.0


def limit_amount(dossier: Dossier, sums: Totals, limit: SafeLimit) -> float:
    """What the recipe holds of it in the limit's own unit and per what it is; 0 when it adds none."""
    if limit.counts is Counts.TOTAL:
        return sums.amount(limit.key) * limit_scale(dossier, sums, limit)
    soluble = limit.counts is Counts.ADDED_SOLUBLE
    added = _added(dossier, sums, limit.key, soluble)
    if added <= 0:
        return 0.0
    batch = sums.amount(limit.key) if limit.counts is Counts.TOTAL_IF_ADDED else added
    return batch * limit_scale(dossier, sums, limit)


def limit_scale(dossier: Dossier, sums: Totals, limit: SafeLimit) -> float:
    """What one of a nutrient in the batch, in the catalogue's unit, is in the limit's own and per what it is."""
    one = convert(limit.key, 1.0, sums.catalogue.get(limit.key).unit, limit.unit)
    of = {
        Per.MCAL: sums.kcal / 1000,
        Per.KG: sums.days * dossier.targets.facts.weight_kg,
        Per.MBW: sums.days * dossier.targets.facts.ideal_weight_kg**0.75,
        Per.DRY: sums.dry_matter_grams / 1000,
    }[limit.per]
    return one / of if of > 0 else 0.0


def _finding(dossier: Dossier, limit: SafeLimit, amount: float) -> Finding:
    name = dossier.library.catalogue.name_of(limit.key)
    counts = {
        Counts.TOTAL: "in all",
        Counts.ADDED: "from supplements",
        Counts.ADDED_SOLUBLE: "from soluble phosphates",
        Counts.TOTAL_IF_ADDED: "in all, some of it added",
    }[limit.counts]
    per = limit.printed.partition(" ")[2]
    return Finding(
        kind=Kind.SAFETY,
        level=_LEVELS[limit.role],
        what=f"{name}: {plainly(amount)} {per} {counts}",
        why=f"{limit.kind}: at most {limit.printed}"
        + (f" ({limit.effect})" if limit.effect else "")
        + (f"; {limit.note}" if limit.note else ""),
        do=_DO[limit.role],
        source=limit.source,
        confidence=limit.confidence,
        nutrient=limit.key,
    )
