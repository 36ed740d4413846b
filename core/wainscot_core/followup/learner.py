"""The energy that holds a dog's weight, learnt from its weights and what it was fed.

A state of three: w the true weight in kg, b the logarithm of what its need is against what was expected, q gut fill as a
share of the weight. An extended Kalman filter steps it day by day; a need that changes at once is followed by histories
that took the step on another day, each as likely as the weights make it. Arrays have the histories first: (K, ...).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..facts.foods import FloatArray
from ..facts.learning import LearningRules

# A history less likely than this is dropped.
_FORGOTTEN = 1e-5
# Days between two histories that a step is begun in: a finer grid finds the same steps.
_STEP_EVERY = 3
_POWER = 0.75
# The weight to begin with is the middle of so many.
_FIRST_WEIGHTS = 3


@dataclass(frozen=True)
class Weighing:
    """A weight of a day, kg; off: SD of what the scale may be off beside its own noise, as a share."""

    kg: float
    off: float = 0.0


@dataclass(frozen=True)
class LogDay:
    """A day. kcal: fed, as far as it is known; known: it was logged; weighings: of that day."""

    kcal: float
    known: bool
    weighings: tuple[Weighing, ...] = ()


@dataclass(frozen=True)
class Needs:
    """The need as histories have it: (K,) how likely each is, and the logarithm of kcal a day with its SD."""

    share: FloatArray
    middle: FloatArray
    off: FloatArray

    def at(self, below: float, also_off: float = 0.0) -> float:
        """The logarithm that the need lies under with this probability. also_off: SD of what none of them knows."""
        off = np.hypot(self.off, also_off)
        low = float((self.middle - 8 * off).min())
        high = float((self.middle + 8 * off).max())
        for _ in range(60):
            half = (low + high) / 2
            under = float(self.share @ _under((half - self.middle) / off))
            low, high = (half, high) if under < below else (low, half)
        return (low + high) / 2


@dataclass(frozen=True)
class Belief:
    """What is believed at the end. prior_left: of what was not known at first, a share; stepped: how likely the need changed
    at once, since the first day; since: by how much, as a logarithm; on: the likeliest day of it, None for none."""

    needs: Needs
    prior_left: float
    stepped: float
    since: float
    on: int | None


@dataclass(frozen=True)
class Seen:
    """A weighing against what was expected before it: kg, SD of the difference, and how likely it is a blunder."""

    day: int
    kg: float
    expected: float
    off: float
    blunder: float

    @property
    def score(self) -> float:
        """By how many SD it is off."""
        return (self.kg - self.expected) / self.off


class Learner:
    """Histories of one dog. rho: kcal per kg of change; grain: the step of its scale, kg."""

    def __init__(
        self, rules: LearningRules, rho: float, expected_kcal: float, kg: float, off: float, grain: float
    ) -> None:  # fmt: skip
        """expected_kcal: the need that is expected at the first weight, kg; off: SD of its logarithm."""
        self.rules, self.rho, self.grain = rules, rho, grain
        self.per_mbw = expected_kcal / kg**_POWER
        self.first_off = off
        self.mean = np.array([[kg, 0.0, 0.0]])
        first = (rules.first_weight_off * kg) ** 2
        self.cov = np.diag([first, off**2, rules.gut_first**2])[None]
        self.log_likely = np.zeros(1)
        # The day of the last step of each history, and what its need was before; -1 for none.
        self.step_on = np.full(1, -1)
        self.before = np.zeros(1)
        self.day = 0
        self.reference_kcal: float | None = None

    def pass_day(self, day: LogDay) -> None:
        """One day of food on."""
        rules = self.rules
        if self.reference_kcal is None:
            self.reference_kcal = day.kcal
        w, b, q = self.mean.T
        need = self.per_mbw * np.exp(b) * w**_POWER
        count = len(w)
        step = np.zeros((count, 3, 3))
        step[:, 0, 0] = 1 - _POWER * need / (self.rho * w)
        step[:, 0, 1] = -need / self.rho
        step[:, 1, 1] = 1.0
        step[:, 2, 2] = rules.gut_keeps
        more = day.kcal / self.reference_kcal - 1 if self.reference_kcal else 0.0
        self.mean = np.stack(
            [
                np.maximum(w + (day.kcal - need) / self.rho, 0.05), b,
                rules.gut_keeps * q + (1 - rules.gut_keeps) * rules.gut_by_food * more,
            ],
            axis=1,
        )  # fmt: skip
        noise = np.zeros((count, 3, 3))
        unknown = 0.0 if day.known else rules.not_logged_off * day.kcal / self.rho
        noise[:, 0, 0] = (rules.day_weight_off * w) ** 2 + unknown**2
        noise[:, 1, 1] = rules.day_need_off**2
        noise[:, 2, 2] = rules.gut_off**2
        self.cov = step @ self.cov @ step.transpose(0, 2, 1) + noise
        self.day += 1

    def branch(self) -> None:
        """One more history, every few days: the need changed just now."""
        rules = self.rules
        if self.day % _STEP_EVERY:
            return
        chance = rules.step_a_day * _STEP_EVERY
        mean, cov = self._mixed()
        wide = cov.copy()
        wide[1, 1] += rules.step_off**2
        self.mean = np.concatenate([self.mean, mean[None]])
        self.cov = np.concatenate([self.cov, wide[None]])
        self.log_likely = np.concatenate([self.log_likely + np.log1p(-chance), [np.log(chance)]])
        self.step_on = np.concatenate([self.step_on, [self.day]])
        self.before = np.concatenate([self.before, [mean[1]]])
        self._settle()

    def _settle(self) -> None:
        """Likelihoods add up to 1; what is not likely, or one too many, is dropped."""
        top = self.log_likely.max()
        self.log_likely = self.log_likely - top - np.log(np.exp(self.log_likely - top).sum())
        order = np.argsort(-self.log_likely, kind="stable")[: self.rules.kept]
        keep = np.sort(order[self.log_likely[order] > np.log(_FORGOTTEN)])
        # A step just begun has had no weight to be judged by.
        young = np.flatnonzero(self.day - self.step_on <= 14)
        keep = np.union1d(keep, young[self.step_on[young] >= 0])
        for name in ("mean", "cov", "log_likely", "step_on", "before"):
            setattr(self, name, getattr(self, name)[keep])
        self.log_likely = self.log_likely - np.log(np.exp(self.log_likely).sum())

    def _mixed(self) -> tuple[FloatArray, FloatArray]:
        """Mean and covariance of all histories together."""
        share = self.likely
        mean = share @ self.mean
        apart = self.mean - mean
        return mean, np.einsum("k,kij->ij", share, self.cov + apart[:, :, None] * apart[:, None, :])

    @property
    def likely(self) -> FloatArray:
        """(K,) how likely each history is."""
        return np.exp(self.log_likely)

    def weigh(self, weighing: Weighing) -> Seen:
        """A weight: what it says, a blunder as far as it may be one."""
        rules = self.rules
        w, _, q = self.mean.T
        look = np.stack([1 + q, np.zeros_like(w), w], axis=1)
        expected = w * (1 + q)
        scale = (rules.weighing_off * w) ** 2 + self.grain**2 / 12 + (weighing.off * w) ** 2
        spread = np.einsum("ki,kij,kj->k", look, self.cov, look) + scale
        apart = weighing.kg - expected
        wide = (rules.blunder_off * w) ** 2
        sound = np.log1p(-rules.blunder_share) + _log_normal(apart, spread)
        wrong = np.log(rules.blunder_share) + _log_normal(apart, spread + wide)
        both = np.logaddexp(sound, wrong)
        blunder = np.exp(wrong - both)
        prior_share = self.likely
        seen = Seen(
            self.day, weighing.kg, float(prior_share @ expected),
            float(np.sqrt(prior_share @ (spread + (expected - prior_share @ expected) ** 2))), 0.0,
        )  # fmt: skip
        self._update(look, apart, spread, spread + wide, blunder)
        self.log_likely = self.log_likely + both
        self._settle_weights()
        return Seen(seen.day, seen.kg, seen.expected, seen.off, float(prior_share @ blunder))

    def _settle_weights(self) -> None:
        top = self.log_likely.max()
        self.log_likely = self.log_likely - top - np.log(np.exp(self.log_likely - top).sum())

    def _update(
        self, look: FloatArray, apart: FloatArray, sound: FloatArray, wrong: FloatArray, blunder: FloatArray
    ) -> None:  # fmt: skip
        """Of both ways to read it, a sound weight and a blunder, one mean and covariance."""
        cross = np.einsum("kij,kj->ki", self.cov, look)
        means, covs = [], []
        for spread in (sound, wrong):
            gain = cross / spread[:, None]
            means.append(self.mean + gain * apart[:, None])
            covs.append(self.cov - gain[:, :, None] * cross[:, None, :])
        p = blunder[:, None]
        mean = (1 - p) * means[0] + p * means[1]
        cov = np.zeros_like(self.cov)
        for share, one, its in ((1 - blunder, means[0], covs[0]), (blunder, means[1], covs[1])):
            off = one - mean
            cov += share[:, None, None] * (its + off[:, :, None] * off[:, None, :])
        self.mean, self.cov = mean, (cov + cov.transpose(0, 2, 1)) / 2

    def needs(self) -> "Needs":
        """What each history says of the need at the weight of today."""
        w, b = self.mean[:, 0], self.mean[:, 1]
        slope = np.stack([_POWER / w, np.ones_like(w), np.zeros_like(w)], axis=1)
        each = np.einsum("ki,kij,kj->k", slope, self.cov, slope)
        return Needs(self.likely, np.log(self.per_mbw) + b + _POWER * np.log(w), np.sqrt(each))

    def weight(self) -> tuple[float, float]:
        """The true weight of today, kg, and its SD."""
        mean, cov = self._mixed()
        return float(mean[0]), math.sqrt(float(cov[0, 0]))

    def belief(self) -> Belief:
        """What is believed now."""
        share, b = self.likely, self.mean[:, 1]
        stepped = self.step_on >= 0
        likely = float(share[stepped].sum())
        since = float(share[stepped] @ (b - self.before)[stepped] / likely) if likely > 0 else 0.0
        on = int(self.step_on[np.argmax(np.where(stepped, share, -1.0))]) if stepped.any() else None
        left = float(self._mixed()[1][1, 1] / self.first_off**2)
        return Belief(self.needs(), left, likely, since, on)


def _under(x: FloatArray) -> FloatArray:
    """(K,) the standard normal distribution at x."""
    return np.array([0.5 * math.erfc(-v / math.sqrt(2)) for v in x.tolist()])


def _log_normal(apart: FloatArray, variance: FloatArray) -> FloatArray:
    return -0.5 * (apart**2 / variance + np.log(2 * np.pi * variance))


@dataclass(frozen=True)
class Learnt:
    """What a log comes to. need: kcal that hold the weight as it was logged; low, high: 90 % of what it may be; weights: of
    each day, kg, and SD; seen: every weighing against what was expected; end: what is believed at the end."""

    need: float
    low: float
    high: float
    weights: tuple[tuple[float, float], ...]
    seen: tuple[Seen, ...]
    end: Belief


def learn(
    rules: LearningRules, body_condition: float, expected_kcal: float, off: float, days: Sequence[LogDay],
    grain: float,
) -> Learnt:  # fmt: skip
    """What a log says of the need. days: one after another, the first with a weight. What a kg of change holds is not known
    exactly: it is learnt with more and with less of it too, and the interval holds what that makes."""
    rho = rules.tissue.kcal_per_kg(body_condition)
    weights: list[tuple[float, float]] = []
    seen: list[Seen] = []

    def run(factor: float, branching: bool) -> Learner:
        # The first weight may be a blunder itself: it is one of several, and is weighed like them.
        first = float(np.median([x.kg for day in days for x in day.weighings][:_FIRST_WEIGHTS]))
        learner = Learner(rules, rho * factor, expected_kcal, first, off, grain)
        for i, day in enumerate(days):
            # Weighed in the morning, before the food of the day.
            found = [learner.weigh(weighing) for weighing in day.weighings]
            if branching:
                seen.extend(found)
                weights.append(learner.weight())
            if i < len(days) - 1:
                learner.pass_day(day)
                if branching:
                    learner.branch()
        return learner

    # What the tissue does to the figure is told without following every step.
    less, more = (run(factor, False).needs().at(0.5) for factor in (1 - rules.tissue.off, 1 + rules.tissue.off))  # fmt: skip
    end = run(1.0, True).belief()
    by_tissue = abs(less - more) / 2
    need, low, high = (end.needs.at(p, by_tissue) for p in (0.5, 0.05, 0.95))
    low, high = need - rules.widen * (need - low), need + rules.widen * (high - need)
    return Learnt(math.exp(need), math.exp(low), math.exp(high), tuple(weights), tuple(seen), end)
