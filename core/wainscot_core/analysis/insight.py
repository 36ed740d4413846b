"""Closer looks at a recipe: energy split, limiting amino acid, what each line is needed for."""

import math
from dataclasses import dataclass

import numpy as np

from ..facts.nutrients import Catalogue
from ..recipe.totals import Totals
from .adequacy import HELD, TOLERANCE, TOO_MUCH, Verdict


@dataclass(frozen=True)
class Macros:
    """Share of energy, by the factors of the ME method, from protein, fat and carbohydrate without fibre, and the
    recipe's density: kcal per gram as fed, moisture and fibre as shares of weight and dry matter.
    fibre_known: False when some line has no fibre value and counts as carbohydrate in full.
    """

    protein: float
    fat: float
    carbohydrate: float
    kcal_per_gram: float
    moisture: float
    fibre_dry_matter: float
    fibre_known: bool
    source: str


def macros(sums: Totals) -> Macros | None:
    """The energy split; None for a recipe without energy."""
    fibre = sums.amount("FIBTG")
    factors = sums.library.factors
    kcal = factors.of(
        sums.amount("PROCNT"), sums.amount("FAT"), max(0.0, sums.amount("CHOCDF") - fibre)
    )
    whole = sum(kcal.values())
    grams = sums.total_grams
    if whole <= 0 or grams <= 0:
        return None
    dry = sums.dry_matter_grams
    return Macros(
        kcal["PROCNT"] / whole,
        kcal["FAT"] / whole,
        kcal["CHOCDF"] / whole,
        sums.kcal / grams,
        sums.amount("WATER") / grams,
        fibre / dry if dry > 0 else 0.0,
        int(sums.unknown_lines[sums.catalogue.index("FIBTG")]) == 0,
        f"{factors.words} kcal/g ({factors.source})",
    )


@dataclass(frozen=True)
class AminoShare:
    """An essential amino acid beside lysine: in the recipe, and in the standard's own minimums."""

    key: str
    name: str
    per_lysine: float
    wanted: float
    of_minimum: float


def amino_pattern(catalogue: Catalogue, verdicts: tuple[Verdict, ...]) -> tuple[AminoShare, ...]:
    """Essential amino acids relative to lysine, the most limiting first.

    wanted: the ratio of the standard's minimums; of_minimum: amount over minimum. Empty when
    lysine has no value or no minimum; without one whose minimum is not known.
    """
    by_key = {f.key: f for f in verdicts}
    lysine = by_key.get("LYS")
    if lysine is None or not lysine.value or lysine.limit is None or not lysine.limit.minimum:
        return ()
    found = []
    for key in catalogue.amino_pattern:
        f = by_key[key]
        if f.value is None or f.limit is None or not f.limit.minimum:
            continue
        # A minimum that rises with what is not known is not reached by any amount.
        if not math.isfinite(f.limit.minimum):
            continue
        found.append(
            AminoShare(
                key,
                catalogue.get(key).name,
                f.value / lysine.value,
                f.limit.minimum / lysine.limit.minimum,
                f.value / f.limit.minimum,
            )
        )
    return tuple(sorted(found, key=lambda a: a.of_minimum))


@dataclass(frozen=True)
class Without:
    """What a recipe would be without one line: nutrients lost (met now, not then), and mended
    (over now, not then)."""

    line: int
    lost: tuple[str, ...]
    mended: tuple[str, ...]


def without_each(sums: Totals, verdicts: tuple[Verdict, ...]) -> tuple[Without, ...]:
    """Leave out each line in turn and compare verdicts, by graded values (adequacy.status_of,
    for all lines and limits at once).
    """
    catalogue = sums.catalogue
    limits = [(v.key, v.limit) for v in verdicts if v.limit is not None]
    columns = np.array([catalogue.index(k) for k, _ in limits], dtype=np.intp)
    contributions = sums.contributions
    energy = contributions[:, catalogue.index("ENERC")]
    kcal = sums.kcal - np.where(np.isnan(energy), 0.0, energy)
    part = contributions[:, columns]
    missing = np.isnan(part)
    amounts = sums.known[columns] - np.where(missing, 0.0, part)
    held = sums.line_may_hold[:, columns]
    finite, endless = np.where(np.isfinite(held), held, 0.0), np.isinf(held)
    extra = finite.sum(axis=0) - finite
    extra[(endless.sum(axis=0) - endless) > 0] = np.inf
    with np.errstate(divide="ignore", invalid="ignore"):
        values = amounts / kcal[:, None] * 1000
        most = (amounts + extra) / kcal[:, None] * 1000
    low = np.array([-np.inf if x.minimum is None else x.minimum for _, x in limits])
    high = np.array([np.inf if x.ceiling is None else x.ceiling for _, x in limits])
    over = values > high * (1 + TOLERANCE)
    short = ~over & (most < low * (1 - TOLERANCE))
    now = {f.key: f.status for f in verdicts}
    met_now = np.array([now[k] in HELD for k, _ in limits], dtype=bool)
    over_now = np.array([now[k] in TOO_MUCH for k, _ in limits], dtype=bool)
    fed = (kcal > 1e-9)[:, None]
    lost, mended = fed & met_now & (over | short), fed & over_now & ~over
    keys = [k for k, _ in limits]
    return tuple(
        Without(
            line,
            tuple(keys[i] for i in np.flatnonzero(lost[line])),
            tuple(keys[i] for i in np.flatnonzero(mended[line])),
        )
        for line in range(len(sums.grams))
    )
