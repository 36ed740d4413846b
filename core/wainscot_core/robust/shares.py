"""What the doubt in a nutrient comes from, and how to be surer of it."""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from ..facts.foods import FloatArray
from ..figures import rounded
from .uncertain import Cause, Uncertain

INPUTS = 3
# A part of the variance that is worth doing something about.
WORTH = 0.1


class SurerWay(StrEnum):
    """How one can be surer, the cheapest first."""

    MEASURE = "measure"
    TICK = "tick"
    NAME_IT = "name-it"
    COOK = "cook"
    ASK_MAKER = "ask-maker"
    ANALYSE = "analyse"
    OTHER_FORM = "other-form"


# What a cause of doubt asks for.
WAYS = {
    Cause.MEASURING: SurerWay.MEASURE,
    Cause.OWNER: SurerWay.TICK,
    Cause.SWAP: SurerWay.NAME_IT,
    Cause.COOKING: SurerWay.COOK,
    Cause.LABEL: SurerWay.ASK_MAKER,
    Cause.TABLE: SurerWay.ANALYSE,
    Cause.CONTENT: SurerWay.OTHER_FORM,
}


@dataclass(frozen=True, kw_only=True)
class Input:
    """One cause of doubt: of which line, its share of the variance of a batch, what would make it surer, and
    whether it evens out over many batches."""

    line: int
    name: str
    cause: Cause
    share: float
    way: SurerWay
    words: str
    averages: bool


@dataclass(frozen=True, kw_only=True)
class NutrientDoubt:
    """What the doubt in a nutrient comes from. cv: standard deviation of a batch, as a share of what the tables say;
    inputs: the largest shares; cheapest: the cheapest way that is worth it, None where nothing is."""

    key: str
    name: str
    cv: float | None
    inputs: tuple[Input, ...]
    cheapest: Input | None


# What stays the same in every batch.
STAYS = frozenset({Cause.TABLE, Cause.LABEL})


def variances(of: Uncertain, column: int) -> dict[Cause, FloatArray]:
    """(L,) variance of a batch's amount of a nutrient by cause, in its unit squared: to the first order, each
    cause by itself."""
    brought, content = of.brought[:, column], of.content[:, column]
    if of.follows_protein[column]:
        protein = of.library.catalogue.index("PROCNT")
        content = np.hypot(content, of.content[:, protein])
    errors = of.errors
    asked = 1 + of.tool_bias
    measured = asked * np.hypot(of.measured_once, of.tool_stays)
    squared = np.square(brought)
    return {
        Cause.CONTENT: squared * np.where(of.labelled, 0.0, np.square(content)),
        Cause.LABEL: squared * np.where(of.labelled, np.square(content), 0.0),
        Cause.TABLE: squared * np.square(of.table[:, column]),
        Cause.MEASURING: squared * np.square(measured),
        Cause.COOKING: squared * np.square(of.retention[:, column]),
        Cause.OWNER: squared
        * np.array(
            [
                _variance(((d.left_out, 0.0), (d.halved, errors.half), (d.over, errors.over)))
                for d in of.drifts
            ]
        ),
        Cause.SWAP: np.array([_swap_variance(of, i, column) for i in range(len(of.names))]),
    }


def _swap_variance(of: Uncertain, line: int, column: int) -> float:
    """Variance of what a line brings where other foods, each as often, stand for it in a share of batches."""
    others, rate = of.others[line], of.drifts[line].swapped
    if others is None:
        return 0.0
    more = others.brought[:, column] - of.brought[line, column]
    return float(rate * np.mean(np.square(more)) - np.square(rate * np.mean(more)))


def _variance(slips: tuple[tuple[float, float], ...]) -> float:
    """Variance of a share that is 1 but for slips: each with its rate and what it leaves."""
    mean = 1 + sum(rate * (share - 1) for rate, share in slips)
    usual = 1 - sum(rate for rate, _ in slips)
    return usual * (1 - mean) ** 2 + sum(rate * (share - mean) ** 2 for rate, share in slips)


def doubt(of: Uncertain, key: str) -> NutrientDoubt:
    """What the doubt in one nutrient comes from."""
    catalogue = of.library.catalogue
    column = catalogue.index(key)
    parts = variances(of, column)
    total = float(sum(part.sum() for part in parts.values()))
    mean = float(of.brought[:, column].sum())
    found = [
        Input(
            line=i, name=of.names[i], cause=cause, share=rounded(float(part[i]) / total),
            way=WAYS[cause], words=_words(of, i, cause, catalogue.name_of(key)),
            averages=cause not in STAYS,
        )
        for cause, part in parts.items()
        for i in np.flatnonzero(part > 0).tolist()
    ] if total > 0 else []  # fmt: skip
    found.sort(key=lambda x: (-x.share, x.line, x.cause))
    ways = list(SurerWay)
    worth = [x for x in found if x.share >= WORTH and x.words]
    return NutrientDoubt(
        key=key, name=catalogue.name_of(key),
        cv=rounded(total**0.5 / mean) if mean > 0 else None,
        inputs=tuple(found[:INPUTS]),
        cheapest=min(worth, key=lambda x: (ways.index(x.way), -x.share), default=None),
    )  # fmt: skip


def _words(of: Uncertain, line: int, cause: Cause, nutrient: str) -> str:
    """What to do about a cause; "" where nothing is to be done."""
    name = of.names[line]
    if cause is Cause.MEASURING:
        surer = of.tools[line].surer
        return f"{name}: {surer}" if surer else ""
    return {
        Cause.OWNER: f"{name}: into the batch, with a box to tick on the sheet",
        Cause.SWAP: f"{name}: say on the sheet that no other will do, or which",
        Cause.COOKING: f"{name}: keep the liquid it is cooked in, or cook it for less long",
        Cause.LABEL: f"{name}: ask the maker for the analysis of the lot",
        Cause.TABLE: f"{name}: have a sample analysed, or take a food that was",
        Cause.CONTENT: f"{nutrient} by a weighed supplement rather than by {name}",
    }[cause]
