"""Open a figure: which lines bring a nutrient, what is unknown, and how it is computed."""

import numpy as np

from ..dossier.dossier import Dossier
from ..facts.nutrients import Catalogue, Nutrient
from ..figures import figure, rounded
from ..recipe.line import sum_lines
from ..recipe.totals import Totals
from ..trace import Quantity, Step
from .results import Explanation, LineSource


def line_sources(dossier: Dossier, totals: Totals, column: int) -> tuple[LineSource, ...]:
    """What every line brings of a nutrient, largest first, unknown last."""
    library = dossier.library
    whole = float(totals.known[column])
    sources = []
    for position, line in enumerate(dossier.lines):
        per_100 = float(library.values[line.row, column])
        known = not np.isnan(per_100)
        amount = float(totals.contributions[position, column]) if known else None
        origin = library.provenance[int(library.codes[line.row, column])]
        sources.append(
            LineSource(
                line=position,
                food=line.food.id,
                name=line.food.name,
                grams=rounded(float(totals.grams[position])),
                per_100_g=figure(per_100),
                amount=figure(amount),
                share=None if amount is None else rounded(amount / whole if whole > 0 else 0.0),
                grade=origin.grade,
                provenance=origin.text,
                citation=origin.citation,
                confidence=origin.confidence,
            )
        )
    return tuple(sorted(sources, key=lambda s: (s.amount is None, -(s.amount or 0.0))))


def explain(dossier: Dossier, key: str) -> Explanation:
    """One nutrient opened. Raises KeyError for a key outside the catalogue."""
    catalogue = dossier.library.catalogue
    nutrient, column = catalogue.get(key), catalogue.index(key)
    totals = sum_lines(dossier.library, dossier.lines, dossier.days)
    lines = line_sources(dossier, totals, column)
    batch = float(totals.known[column])
    steps = [
        Step(
            f"{nutrient.name} in the batch",
            "sum of (grams / 100) x (value per 100 g) x (share retained in cooking)",
            tuple(
                Quantity(
                    f"{s.name}, {s.grams:g} g",
                    s.amount,
                    nutrient.unit,
                    f"{s.per_100_g:g} {nutrient.unit}/100 g, {s.grade}: {s.citation}",
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
        steps.insert(0, how_counted(catalogue, nutrient, totals, batch))
    return Explanation(
        key=key, origin=dossier.requirements.origins_of(key), lines=lines, steps=tuple(steps)
    )


def how_counted(catalogue: Catalogue, nutrient: Nutrient, totals: Totals, batch: float) -> Step:
    """What a nutrient that is a sum is made of."""
    parts = [catalogue.get(part) for part in nutrient.parts]
    return Step(
        f"{nutrient.name}, how it is counted",
        " + ".join(
            part.name if weight == 1 else f"{weight:g} x {part.name}"
            for part, weight in zip(parts, nutrient.weights, strict=True)
        ),
        tuple(Quantity(part.name, totals.amount(part.key), part.unit) for part in parts),
        batch,
        nutrient.unit,
        nutrient.note,
    )
