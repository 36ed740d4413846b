"""Simulated dogs, to try on them what is learnt of weights: two tissues, portions that are off, guts that fill, scales that
round, treats that nobody writes down, needs that change at once. Another model than the one that learns."""

from dataclasses import dataclass

import numpy as np
from wainscot_core.followup.learner import LogDay, Weighing

FAT, LEAN = 9440.0, 1820.0


@dataclass(frozen=True)
class Life:
    """How a dog lives and is weighed. every: days between weighings; treats: unlogged, a share of its need; step: of its
    need, a share, on a day; off_plan: how far its food is off its need."""

    kg: float
    every: int
    treats: float = 0.0
    step: float = 0.0
    step_on: int = 28
    off_plan: float = 0.0
    logged: float = 1.0
    blunders: bool = True


@dataclass(frozen=True)
class Dog:
    """A life as it was logged. holds: kcal as logged that hold its last weight; expected: what an equation says."""

    days: tuple[LogDay, ...]
    holds: float
    expected: float
    condition: float
    grain: float
    truth: tuple[float, ...]


def live(life: Life, seed: int, days: int = 57) -> Dog:
    """One dog."""
    rng = np.random.default_rng(seed)
    condition = float(rng.choice([4, 5, 5, 6, 7, 8]))
    fat_share = float(np.clip(0.20 + 0.05 * (condition - 5) + rng.normal(0, 0.03), 0.05, 0.5))
    fat, lean = life.kg * fat_share, life.kg * (1 - fat_share)
    per_mbw = 105.0 * float(np.exp(rng.normal(0, 0.22)))
    expected = 105.0 * life.kg**0.75
    portion = 1 + float(rng.normal(0, 0.04))
    grain = 0.02 if life.kg < 5 else 0.1 if life.kg < 30 else 0.2
    gut, activity = 0.0, 0.0
    need0 = per_mbw * life.kg**0.75
    plan = (need0 * (1 - life.treats) / portion) * (1 + life.off_plan)
    log, truth = [], []
    need = need0
    for day in range(days):
        weight = fat + lean
        scale = 1 + (life.step if day >= life.step_on else 0.0)
        need = per_mbw * scale * weight**0.75 * float(np.exp(activity))
        weighings: tuple[Weighing, ...] = ()
        if day % life.every == 0 or day == 0:
            shown = weight * (1 + gut) * (1 + rng.normal(0, 0.005))
            if life.blunders and rng.random() < 1 / 60:
                shown *= 1 + float(rng.choice([-1, 1])) * rng.uniform(0.04, 0.12)
            weighings = (Weighing(round(round(shown / grain) * grain, 4)),)
        logged = plan
        eaten = logged * portion * (1 + rng.normal(0, 0.06)) + need0 * life.treats
        known = bool(rng.random() < life.logged)
        log.append(LogDay(logged, known, weighings))
        truth.append(weight)
        surplus = eaten - need
        part = fat / (fat + 0.10 * lean)
        change = surplus / (part * FAT + (1 - part) * LEAN)
        fat, lean = max(fat + part * change, 0.02 * life.kg), lean + (1 - part) * change
        gut = 0.75 * gut + rng.normal(0, 0.003)
        activity = 0.97 * activity + rng.normal(0, 0.006)
    still = per_mbw * (1 + (life.step if life.step else 0.0)) * truth[-1] ** 0.75 * float(np.exp(activity))  # fmt: skip
    holds = (still - need0 * life.treats) / portion
    return Dog(tuple(log), holds, expected, condition, grain, tuple(truth))


GROUPS: dict[str, dict[str, float]] = {
    "nothing hidden": {},
    "treats": {"treats": 0.12},
    "less need": {"step": -0.20},
    "more need": {"step": 0.20},
    "fed too much": {"off_plan": 0.15},
    "fed too little": {"off_plan": -0.15},
    "half logged": {"logged": 0.5},
}
