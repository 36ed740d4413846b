"""What is not sure of a recipe, line by line: how far each part may be off, and what of it averages.

Shapes: L lines, N nutrients of the catalogue. Shares are of the mean; sigma is that of a log-normal draw.
"""

from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..dossier.dossier import Dossier
from ..facts.foods import FloatArray, FoodLibrary, Grade
from ..facts.kitchen_errors import Drift, KitchenErrors, Tool
from ..recipe.line import Line, sum_lines
from ..recipe.totals import Totals
from ..units import MASS_G
from .swaps import class_of, with_food


class Cause(StrEnum):
    """Why a batch is not what the recipe says."""

    CONTENT = "content"
    TABLE = "table"
    LABEL = "label"
    MEASURING = "measuring"
    COOKING = "cooking"
    OWNER = "owner"
    SWAP = "swap"


@dataclass(frozen=True)
class Others:
    """What may stand for a line, at its weight. brought: (M, N) of each food, what it has no value of as nothing;
    may_hold: (M, N) how much of that there may be at most, infinite where nothing bounds it."""

    brought: FloatArray
    may_hold: FloatArray


@dataclass(frozen=True)
class Uncertain:
    """A recipe with what is not sure of it.

    brought: (L, N) by line, what a line has no value of as nothing; may_hold: (N,) what those lines may hold at
    most, infinite where nothing bounds it. content: (L, N) from one purchase to the next; table: (L, N) of the
    mean itself, the same for good; retention: (L, N) of the share that cooking leaves. labelled: (L,) what a pack
    says. tools, drifts: by line. others: by line, None where nothing stands for it. uneven: (L,) CV of
    what a single day of the batch gets of it, 0 of what is not stirred in. kcal: of the batch, as the food
    tables say.
    """

    library: FoodLibrary
    sums: Totals
    names: tuple[str, ...]
    brought: FloatArray
    may_hold: FloatArray
    content: FloatArray
    table: FloatArray
    retention: FloatArray
    labelled: NDArray[np.bool_]
    tools: tuple[Tool, ...]
    drifts: tuple[Drift, ...]
    others: tuple[Others | None, ...]
    uneven: FloatArray
    follows_protein: NDArray[np.bool_]
    errors: KitchenErrors

    @property
    def kcal(self) -> float:
        """Energy of the batch by the tables, kcal."""
        return self.sums.kcal

    @cached_property
    def measured_once(self) -> FloatArray:
        """(L,) standard deviation of one measuring, as a share."""
        grams = self.sums.grams
        return np.array([t.once(float(g)) for t, g in zip(self.tools, grams, strict=True)])

    @cached_property
    def tool_stays(self) -> FloatArray:
        """(L,) of the tool or the hand, the same every time, as a share."""
        return np.array([t.stays for t in self.tools])

    @cached_property
    def tool_bias(self) -> FloatArray:
        """(L,) how much more is taken than was asked, as a share."""
        return np.array([t.bias for t in self.tools])


def uncertain(dossier: Dossier, slips: bool = True, mixed: str = "") -> Uncertain:
    """What is not sure of a dossier's recipe, as its owner measures it. slips: with what owners leave out, halve,
    double, swap, and stir in unevenly; otherwise a kitchen where nobody does. mixed: how supplements are stirred in, ""
    where nobody says. Raises InputError (mixed)."""
    library, lines = dossier.library, dossier.lines
    errors, variation = dossier.reference.kitchen_errors, dossier.reference.variation
    mixing = errors.mixing_of(mixed)
    sums = sum_lines(library, lines, dossier.days)
    foods = [line.food for line in lines]
    content = (
        variation.of(library, foods) if foods else np.zeros((0, len(library.catalogue.nutrients)))
    )
    brought = np.nan_to_num(sums.contributions)
    labelled = np.array([_labelled(library, line) for line in lines], dtype=bool)
    return Uncertain(
        library=library,
        sums=sums,
        names=tuple(line.food.name for line in lines),
        brought=brought,
        may_hold=sums.may_hold,
        content=content,
        table=_table_error(errors, library, lines, content, labelled),
        retention=_retention(errors, sums, lines),
        labelled=labelled,
        tools=tuple(
            errors.tool_of(
                x.food, x.amount.unit, x.amount.count, x.amount.grams, dossier.fine_scale
            )
            for x in lines
        ),
        drifts=tuple(errors.drift_of(library, x.food) for x in lines)
        if slips
        else (NEVER,) * len(lines),
        others=tuple(_others(library, x, dossier.days) for x in lines)
        if slips
        else (None,) * len(lines),
        uneven=np.array([mixing.cv * _is_stirred_in(x, dossier.days) * slips for x in lines]),
        follows_protein=variation.follows_protein(library),
        errors=errors,
    )


# How an owner treats a line in a kitchen where nothing goes amiss.
NEVER = Drift(id="never", left_out=0.0, halved=0.0, over=0.0, swapped=0.0, holds={}, kind=None)


def _others(library: FoodLibrary, line: Line, days: float) -> Others | None:
    """What may stand for a line; of foods whose energy is not known none, for all is counted by energy."""
    energy = [library.catalogue.index(tag) for tag in ("PROCNT", *library.factors.kcal_per_g)]
    members = [
        food
        for food in class_of(library, line.food)
        if not np.isnan(library.values[library.row(food.id), energy]).any()
    ]
    if not members:
        return None
    sums = sum_lines(library, [with_food(library, line, food) for food in members], days)
    return Others(np.nan_to_num(sums.contributions), sums.line_may_hold)


def _is_stirred_in(line: Line, days: float) -> bool:
    """Whether a line is parted between days by stirring: a supplement in a batch of several."""
    handling = line.food.handling
    return days > 1 and handling is not None and not handling.at_serving


def _labelled(library: FoodLibrary, line: Line) -> bool:
    codes = library.codes[line.row]
    grades = {library.provenance[int(c)].grade for c in np.unique(codes)} - {Grade.UNKNOWN}
    return line.food.is_supplement or (bool(grades) and grades <= {Grade.LABEL, Grade.COMPUTED})


def _table_error(
    errors: KitchenErrors, library: FoodLibrary, lines: tuple[Line, ...],
    content: FloatArray, labelled: NDArray[np.bool_],
) -> FloatArray:  # fmt: skip
    """What a pack says is not the mean of samples: its own variation stands for it."""
    catalogue = library.catalogue
    grams = [MASS_G.get(n.unit, 0.0) for n in catalogue.nutrients]
    per_gram = np.array(grams) / 100
    rows = [line.row for line in lines]
    fraction = np.nan_to_num(library.values[rows]) * per_gram
    found = errors.table.of(content, fraction)
    found[labelled] = 0.0
    return found


def _retention(errors: KitchenErrors, sums: Totals, lines: tuple[Line, ...]) -> FloatArray:
    """Standard deviation of what cooking leaves, as a share of what is left."""
    catalogue = sums.catalogue
    found = np.zeros((len(lines), len(catalogue.nutrients)))
    if sums.retention is None:
        return found
    for i, line in enumerate(lines):
        if line.prepared is None:
            continue
        kept = line.prepared.method.liquid_kept
        mineral = errors.retention_kept if kept else errors.retention_drained
        for j, nutrient in enumerate(catalogue.nutrients):
            left = float(sums.retention[i, j])
            points = errors.retention_tags.get(nutrient.key)
            if points is None:
                points = mineral if left != 1.0 else 0.0
            found[i, j] = points / left if left > 0 else 0.0
    return found
