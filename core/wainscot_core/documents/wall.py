"""The wall on paper: a board for every nutrient that stands on it, filled towards the rail, which is the least; the
cornice is the most. Heights and places as the screen draws them, so that page and PDF print the same."""

import math
from collections.abc import Sequence

from ..analysis.adequacy import BREAKS, Status
from ..analysis.results import Analysis, NutrientResult
from .paper import Boards, PaperBoard

# Shares of a board's height.
RAIL, CORNICE = 0.5, 0.88
# Above this ratio of most to least the part above the rail is logarithmic.
_WIDE = 3.0
_WIDTH, _GAP, _PANEL_GAP = 10.0, 2.5, 9.0


def height_of(value: float, least: float | None, most: float | None) -> float | None:
    """Height of an amount, 0 to 1; None where there is nothing to measure it against."""
    if least is not None and least > 0:
        if value <= least:
            return RAIL * value / least
        if most is None:
            return RAIL + (CORNICE - RAIL) * (1 - least / value)
        if value <= most:
            return RAIL + (CORNICE - RAIL) * _between(value, least, most)
        return _over(value, most)
    if most is not None and most > 0:
        return CORNICE * value / most if value <= most else _over(value, most)
    return None


def _between(value: float, least: float, most: float) -> float:
    if most / least > _WIDE:
        return math.log(value / least) / math.log(most / least)
    return (value - least) / (most - least) if most > least else 1.0


def _over(value: float, most: float) -> float:
    return CORNICE + (1 - CORNICE) * min(1.0, 0.35 + 0.65 * math.log2(value / most))


def wall_of(analysis: Analysis, groups: Sequence[str]) -> Boards:
    """The boards of an analysis, panel by panel. groups: which, in their order."""
    boards, x = [], 0.0
    for group in groups:
        found = [n for n in analysis.nutrients if n.board and n.group == group]
        for nutrient in found:
            boards.append(_board(nutrient, x))
            x += _WIDTH + _GAP
        if found:
            x += _PANEL_GAP - _GAP
    return Boards(boards=tuple(boards), width=max(x - _PANEL_GAP, _WIDTH))


def _board(found: NutrientResult, x: float) -> PaperBoard:
    most = found.ceiling
    value = found.per_1000_kcal
    height = None if value is None else height_of(value, found.min, most)
    return PaperBoard(
        label=found.short, x=x, height=round(height or 0.0, 4),
        rail=found.min is not None, cornice=most is not None,
        unproven=found.status is Status.UNPROVEN or height is None,
        breaks=found.status in BREAKS,
    )  # fmt: skip
