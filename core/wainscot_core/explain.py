"""Open a figure: which lines bring a nutrient, what is unknown, which limits, how computed."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from .adequacy import Finding, check
from .analysis import Totals
from .dossier import Dossier
from .foods import Food, FoodLibrary, Provenance
from .line import sum_lines
from .trace import Quantity, Step


@dataclass(frozen=True)
class LineSource:
    """What one line brings of a nutrient; value and amount None when unknown."""

    position: int
    food: Food
    grams: float
    per_100_g: float | None
    amount: float | None
    share: float | None
    provenance: Provenance


@dataclass(frozen=True)
class NutrientReport:
    """Everything the drawer shows of one nutrient."""

    key: str
    finding: Finding
    lines: tuple[LineSource, ...]
    steps: tuple[Step, ...]


def line_sources(
    library: FoodLibrary, rows: Sequence[int], totals: Totals, key: str
) -> tuple[LineSource, ...]:
    """What every line brings of a nutrient, largest first, unknown last."""
    column = library.catalogue.index(key)
    whole = totals.known[column]
    sources = []
    for position, row in enumerate(rows):
        per_100 = float(library.values[row, column])
        known = not np.isnan(per_100)
        amount = float(totals.contributions[position, column]) if known else None
        sources.append(
            LineSource(
                position,
                library.foods[row],
                float(totals.grams[position]),
                per_100 if known else None,
                amount,
                (amount / whole if whole > 0 else 0.0) if amount is not None else None,
                library.provenance[library.codes[row, column]],
            )
        )
    return tuple(sorted(sources, key=lambda s: (s.amount is None, -(s.amount or 0.0))))


def explain(dossier: Dossier, key: str) -> NutrientReport:
    """The report of one nutrient. Raises KeyError for a key outside the catalogue."""
    library = dossier.library
    totals = sum_lines(library, dossier.lines, dossier.days)
    rows = [line.row for line in dossier.lines]
    nutrient = library.catalogue.get(key)
    column = library.catalogue.index(key)
    lines = line_sources(library, rows, totals, key)
    finding = check(totals, dossier.requirements, dossier.policy)[column]
    batch = float(totals.known[column])
    steps = [
        Step(
            f"{nutrient.name} in the batch",
            "sum of (grams / 100) x (value per 100 g) x (share retained in cooking)",
            tuple(
                Quantity(
                    f"{s.food.name}, {s.grams:g} g",
                    s.amount,
                    nutrient.unit,
                    f"{s.per_100_g:g} {nutrient.unit}/100 g, {s.provenance.grade}: {s.provenance.citation}",
                )
                for s in lines
                if s.amount is not None
            ),
            batch,
            nutrient.unit,
        ),
        Step(
            f"{nutrient.name} a day",
            "batch / days it covers",
            (Quantity("batch", batch, nutrient.unit), Quantity("days", totals.days, "days")),
            batch / totals.days,
            f"{nutrient.unit}/day",
        ),
    ]
    if totals.kcal > 0:
        steps.append(
            Step(
                f"{nutrient.name} per 1000 kcal ME",
                "batch / kcal of the batch x 1000",
                (
                    Quantity("batch", batch, nutrient.unit),
                    Quantity("energy of the batch", totals.kcal, "kcal", "food tables"),
                ),
                batch / totals.kcal * 1000,
                f"{nutrient.unit}/1000 kcal",
            )
        )
    if nutrient.parts:
        steps.insert(
            0,
            Step(
                f"{nutrient.name}, how it is counted",
                " + ".join(
                    f"{weight:g} x {library.catalogue.get(part).name}" if weight != 1 else library.catalogue.get(part).name
                    for part, weight in zip(nutrient.parts, nutrient.weights, strict=True)
                ),
                tuple(
                    Quantity(library.catalogue.get(p).name, totals.amount(p), library.catalogue.get(p).unit)
                    for p in nutrient.parts
                ),
                batch,
                nutrient.unit,
                nutrient.note,
            ),
        )  # fmt: skip
    return NutrientReport(key, finding, lines, tuple(steps))
