"""A rotation formulated as a whole: the least set of its recipes that, adjusted together, make the round hold.

Minimums and maximums of a standard are asked of the round: what the other days bring is taken off. What must not be passed on
any day (maximums and safe upper limits) is asked of each recipe too, less what is given on its own day. Each proposal is looked for as for a recipe
alone; that the round holds is judged by the analysis of the round and by nothing else.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import combinations

from ..analysis.adequacy import HELD, TOO_MUCH, Status, judge, judge_ratios
from ..dossier.dossier import Dossier
from ..errors import InputError
from ..facts.policy import Policy
from ..recipe.line import sum_lines
from ..recipe.plan import Daily, Turn, one_day, scaled
from ..recipe.totals import Totals
from ..targets.standards import Limit
from .alternatives import distance_between
from .formulate import formulate
from .proposal import Proposal, State
from .question import Settings
from .solution import Progress
from .solver import Cancelled

# The least of a day's energy that a recipe brings beside what is given every day.
LEAST_SHARE = 0.2
# Bounds on the round are asked of a recipe with so much to spare: its energy is met within a band.
SPARE = 0.01
# Recipes that are adjusted together at most before all of them are.
MOST_TOGETHER = 2
ROUND = "the round together"


@dataclass(frozen=True, kw_only=True)
class Adjusted:
    """A recipe of a rotation and what is proposed for it. distance: the share of its energy that comes from elsewhere."""

    turn: int
    proposal: Proposal
    distance: float


@dataclass(frozen=True, kw_only=True)
class Rotation:
    """What makes a round hold. adjusted: the recipes that change, () where none needs to; before, after: the limits that are
    not met over the round, by key, after them None where nothing could be proposed; turns: the rotation with them."""

    adjusted: tuple[Adjusted, ...]
    before: tuple[str, ...]
    after: tuple[str, ...]
    turns: tuple[Turn, ...]

    @property
    def holds(self) -> bool:
        """Whether every limit is met over the round."""
        return not self.after


def rotation(
    dossier: Dossier,
    settings: Settings,
    turns: Sequence[Turn],
    daily: Sequence[Daily],
    progress: Progress | None = None,
    cancelled: Cancelled | None = None,
) -> Rotation:
    """The least set of recipes to adjust, of those that are fed. dossier: anything of the case, its recipe is not looked at.
    Raises InputError for a rotation without days, or where what is given every day leaves no room for a recipe."""
    fed = [i for i, turn in enumerate(turns) if turn.days > 0 and turn.lines]
    if not fed:
        raise InputError("turns", "put a recipe with something in it into the plan")
    before = unmet(dossier, turns, daily)
    if not before:
        return Rotation(adjusted=(), before=(), after=(), turns=tuple(turns))
    best: Rotation | None = None
    sets = [
        chosen
        for size in range(1, min(MOST_TOGETHER, len(fed)) + 1)
        for chosen in combinations(fed, size)
    ]
    if len(fed) > MOST_TOGETHER:
        sets.append(tuple(fed))
    for at, chosen in enumerate(sets):
        if cancelled is not None and cancelled():
            break
        if best is not None and best.holds and len(chosen) > len(best.adjusted):
            # A smaller set does.
            break
        if progress is not None:
            progress(at, len(sets), ROUND)
        found = _together(dossier, settings, turns, daily, chosen, cancelled)
        if found is not None and (best is None or _rank(found) < _rank(best)):
            best = replace(found, before=before)
    return best or Rotation(adjusted=(), before=before, after=before, turns=tuple(turns))


def unmet(dossier: Dossier, turns: Sequence[Turn], daily: Sequence[Daily]) -> tuple[str, ...]:
    """The limits that are not met over a round, and those that are passed on one of its days, by key."""
    over_round = _judged(dossier, _sums(dossier, turns, daily))
    found = [key for key, status in over_round if status not in HELD]
    for turn in turns:
        if turn.days > 0:
            day = sum_lines(dossier.library, one_day(turn, daily), 1)
            found += [key for key, status in _judged(dossier, day) if status in TOO_MUCH]
    return tuple(dict.fromkeys(found))


def _judged(dossier: Dossier, sums: Totals) -> list[tuple[str, Status]]:
    nutrients = ((v.key, v.status) for v in judge(sums, dossier.requirements, dossier.policy))
    ratios = ((r.ratio.key, r.status) for r in judge_ratios(sums, dossier.requirements))
    limits = dossier.requirements.limits
    return [
        (key, status)
        for key, status in (*nutrients, *ratios)
        if key in limits and not limits[key].sets_nothing
    ]


def _rank(found: Rotation) -> tuple[int, int, float]:
    return (
        len(found.after),
        len(found.adjusted),
        sum(a.distance * found.turns[a.turn].days for a in found.adjusted),
    )


def _together(
    dossier: Dossier,
    settings: Settings,
    turns: Sequence[Turn],
    daily: Sequence[Daily],
    chosen: Sequence[int],
    cancelled: Cancelled | None,
) -> Rotation | None:
    """These recipes adjusted one after the other, each beside the others as they are by then."""
    now = list(turns)
    adjusted = []
    # The one that is fed most often first: it can make up for most.
    for i in sorted(chosen, key=lambda i: (-turns[i].days, i)):
        asked = beside(dossier, now, daily, i)
        proposal = formulate(asked, settings, None, cancelled)
        if not proposal.lines or proposal.state in {State.CANCELLED, State.TIME_LIMIT}:
            continue
        now[i] = replace(turns[i], lines=proposal.lines)
        adjusted.append(
            Adjusted(
                turn=i,
                proposal=proposal,
                distance=distance_between(asked, asked.with_lines(proposal.lines)),
            )
        )
    if not adjusted:
        return None
    return Rotation(
        adjusted=tuple(adjusted), before=(), after=unmet(dossier, now, daily), turns=tuple(now)
    )


def beside(dossier: Dossier, turns: Sequence[Turn], daily: Sequence[Daily], at: int) -> Dossier:
    """The dossier of one recipe whose limits are such that the round holds when it meets them. Raises InputError where what is
    given every day leaves no room for it."""
    turn = turns[at]
    given = _kcal_of_a_day(dossier, daily)
    kcal = dossier.energy.target_kcal - given
    if kcal < LEAST_SHARE * dossier.energy.target_kcal:
        raise InputError(
            "items", "what is given every day leaves no room for a recipe: give less of it first"
        )
    others = [t for i, t in enumerate(turns) if i != at]
    rest = _sums(dossier, others, daily, sum(t.days for t in turns))
    same_day = _sums(dossier, [], daily, 1) if daily else None

    def asked(limit: Limit) -> Limit:
        if limit.key not in dossier.library.catalogue:
            # A ratio of sums is no sum of ratios: it stays asked of the recipe.
            return limit
        of_day = limit if same_day is None else _of_its_day(limit, same_day, kcal, dossier.policy)
        return _of_the_rest(of_day, limit, rest, kcal * turn.days, dossier.policy)

    limits = {key: asked(limit) for key, limit in dossier.requirements.limits.items()}
    requirements = replace(dossier.requirements, limits=limits)
    return replace(
        dossier,
        lines=turn.lines,
        days=turn.covers_days,
        energy=replace(dossier.energy, target_kcal=kcal),
        targets=replace(dossier.targets, requirements=requirements),
    )


def _of_its_day(limit: Limit, given: Totals, kcal: float, policy: Policy) -> Limit:
    """A limit with what is given on the same day taken off what must not be passed on any, per 1000 kcal of a recipe that
    brings so many kcal to the day."""
    most = _Left(limit, given, kcal, policy).most
    return replace(limit, maximum=most(limit.maximum), safe=most(limit.safe))


def _of_the_rest(own: Limit, limit: Limit, rest: Totals, kcal: float, policy: Policy) -> Limit:
    """What is left of a limit on the round for a recipe that brings so many kcal to it, per 1000 kcal of the recipe. own:
    what is asked of it on its own days; kcal: of all its days in the round."""
    left = _Left(limit, rest, kcal, policy)
    least, shifted = left.least(limit.minimum), left.most(limit.maximum)
    return replace(
        own,
        minimum=None if least is None or least <= 0 else least,
        maximum=min((x for x in (own.maximum, shifted) if x is not None), default=None),
    )


@dataclass(frozen=True)
class _Left:
    """What others leave of bounds to a recipe of so many kcal, per 1000 kcal of it."""

    limit: Limit
    others: Totals
    kcal: float
    policy: Policy

    def least(self, bound: float | None) -> float | None:
        """Of a minimum: by what the others are sure to bring."""
        column = self.others.catalogue.index(self.limit.key)
        sure = float(self.others.known[column])
        if self.policy is not Policy.GRADED:
            sure -= float(self.others.estimated[column])
        return self._left(bound, sure, SPARE)

    def most(self, bound: float | None) -> float | None:
        """Of a maximum: by the most that they may bring, where anything bounds that; 0 where nothing is left."""
        column = self.others.catalogue.index(self.limit.key)
        high = float(self.others.known[column] + self.others.may_hold[column])
        if self.policy is not Policy.GRADED:
            high += float(self.others.spread[column])
        found = self._left(bound, high, -SPARE)
        # What others may hold without anybody knowing is no reason to give a recipe less than nothing.
        return bound if found is None or not math.isfinite(found) else max(found, 0.0)

    def _left(self, bound: float | None, brought: float, spare: float) -> float | None:
        every = (self.kcal + self.others.kcal) / 1000
        return None if bound is None else (bound * every * (1 + spare) - brought) / self.kcal * 1000


def _sums(
    dossier: Dossier, turns: Sequence[Turn], daily: Sequence[Daily], days: float | None = None
) -> Totals:
    """What the turns bring to a round, with the daily items on so many days; None for the days of the turns."""
    total = sum(t.days for t in turns) if days is None else days
    lines = [
        scaled(line, turn.days / turn.covers_days)
        for turn in turns
        for line in turn.lines
        if turn.days
    ]
    given = [scaled(d.line, total) for d in daily]
    return sum_lines(dossier.library, (*lines, *given), max(total, 1.0))


def _kcal_of_a_day(dossier: Dossier, daily: Sequence[Daily]) -> float:
    return sum_lines(dossier.library, [d.line for d in daily], 1).kcal if daily else 0.0
