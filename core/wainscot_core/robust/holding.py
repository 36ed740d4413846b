"""A quick look at how surely an answer holds where it is cooked with care: the draw of chances, of fewer batches, of which
only the limits that the tables meet are looked at."""

from dataclasses import dataclass

import numpy as np

from ..analysis.adequacy import HELD, Status, judge, judge_ratios
from ..dossier.dossier import Dossier
from ..figures import rounded
from .chances import Chances, columns_of, held_of
from .simulate import Runs, simulate
from .uncertain import uncertain

# One batch in each of so many kitchens; the share is off by up to 2 of 100 then.
QUICK = Runs(kitchens=750, batches=1, week=1)


@dataclass(frozen=True, kw_only=True)
class Weakest:
    """The limit that fails most often: its nutrient or ratio, and the share of batches in which it holds."""

    key: str
    name: str
    share: float


@dataclass(frozen=True, kw_only=True)
class Holding:
    """In which share of batches all limits hold that the recipe meets by its table, where nothing is left out. limits: how
    many those are; open_limits: how many are short, over or not proven by the table already, and not looked at."""

    share: float
    limits: int
    open_limits: int
    batches: int
    weakest: Weakest | None


def holding(dossier: Dossier, runs: Runs = QUICK) -> Holding | None:
    """The estimate for a dossier's recipe; None for one without energy."""
    of = uncertain(dossier, slips=False)
    if not of.kcal > 0:
        return None
    status: dict[str, Status] = {
        v.key: v.status for v in judge(of.sums, dossier.requirements, dossier.policy)
    }
    status |= {r.ratio.key: r.status for r in judge_ratios(of.sums, dossier.requirements)}
    limits = {k: x for k, x in dossier.requirements.limits.items() if not x.sets_nothing}
    met = {k: x for k, x in limits.items() if status[k] in HELD}
    ratios = {r.key: r for r in of.library.catalogue.ratios}
    drawn = simulate(of, columns_of(of, met.values()), runs)
    every = np.ones((runs.kitchens, runs.batches), dtype=bool)
    shares: dict[str, float] = {}
    for key, limit in met.items():
        fine = held_of(of, drawn, limit, ratios.get(key), 1)[1]
        shares[key] = float(fine.mean())
        every &= fine
    return _told(dossier, float(every.mean()), shares, len(limits) - len(met), every.size)


def holding_of(dossier: Dossier, found: Chances) -> Holding:
    """The same of what was drawn already."""
    shares = {c.key: c.batch.share for c in found.limits if c.status in HELD}
    drawn = found.kitchens * found.batches
    return _told(dossier, found.together.share, shares, len(found.limits) - len(shares), drawn)


def _told(
    dossier: Dossier, share: float, shares: dict[str, float], opened: int, batches: int
) -> Holding:
    worst = min(shares, key=lambda k: shares[k], default=None)
    weakest = None
    if worst is not None and shares[worst] < 1:
        name = dossier.library.catalogue.name_of(worst)
        weakest = Weakest(key=worst, name=name, share=rounded(shares[worst]))
    return Holding(
        share=rounded(share), limits=len(shares), open_limits=opened, batches=batches,
        weakest=weakest,
    )  # fmt: skip
