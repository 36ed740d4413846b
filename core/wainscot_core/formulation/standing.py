"""How an adjusted recipe stands by the analysis, not by the solver: what is short, over or not proven, through
which lines, and what rests on estimates."""

from dataclasses import dataclass

import numpy as np

from ..analysis.adequacy import TOO_MUCH, Status, below, judge, judge_ratios
from ..dossier.dossier import Dossier
from ..recipe.line import sum_lines
from ..recipe.totals import Totals


@dataclass(frozen=True, kw_only=True)
class Unproven:
    """A limit that is not proven, and the lines whose contents are not known."""

    key: str
    name: str
    lines: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class Standing:
    """Names of what is short and over, what is not proven, the names of what holds but lies off an advice, and of those
    minimums that hold only as long as estimates do."""

    short: tuple[str, ...]
    over: tuple[str, ...]
    unproven: tuple[Unproven, ...]
    off_advice: tuple[str, ...]
    on_estimates: tuple[str, ...]


def standing_of(dossier: Dossier) -> Standing:
    """How a recipe stands."""
    sums = sum_lines(dossier.library, dossier.lines, dossier.days)
    name = dossier.library.catalogue.name_of
    short: list[str] = []
    over: list[str] = []
    unproven: list[Unproven] = []
    estimates: list[str] = []
    advised: list[str] = []
    for verdict in judge(sums, dossier.requirements, dossier.policy):
        if verdict.status is Status.OFF_ADVICE:
            advised.append(name(verdict.key))
        if verdict.status is Status.SHORT:
            short.append(name(verdict.key))
        elif verdict.status in TOO_MUCH:
            over.append(name(verdict.key))
        elif verdict.status is Status.UNPROVEN:
            unproven.append(_unproven(dossier, sums, verdict.key, (verdict.key,)))
        elif (
            verdict.limit is not None
            and verdict.least_likely is not None
            and below(verdict.least_likely, verdict.limit.minimum)
        ):
            estimates.append(name(verdict.key))
    for found in judge_ratios(sums, dossier.requirements):
        if found.status is Status.OFF_ADVICE:
            advised.append(found.ratio.name)
        if found.status is Status.SHORT:
            short.append(found.ratio.name)
        elif found.status in TOO_MUCH:
            over.append(found.ratio.name)
        elif found.status is Status.UNPROVEN:
            parts = (*found.ratio.top, *found.ratio.bottom)
            unproven.append(_unproven(dossier, sums, found.ratio.key, parts))
    return Standing(
        short=tuple(short),
        over=tuple(over),
        unproven=tuple(unproven),
        off_advice=tuple(advised),
        on_estimates=tuple(estimates),
    )


def _unproven(dossier: Dossier, sums: Totals, key: str, parts: tuple[str, ...]) -> Unproven:
    catalogue = dossier.library.catalogue
    columns = [catalogue.index(k) for k in parts]
    missing = np.flatnonzero(np.isnan(sums.contributions[:, columns]).sum(axis=1))
    names = [dossier.lines[i].food.name for i in missing.tolist()]
    return Unproven(key=key, name=catalogue.name_of(key), lines=tuple(dict.fromkeys(names)))
