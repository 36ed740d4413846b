"""What weights and kcal say: the kcal as logged that hold this weight, what looks wrong, and whether to feed another
amount."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from ..dog.energy import rer_kcal
from ..dog.energy_methods import DogFacts, estimate
from ..dog.record import Activity
from ..dossier.reference import Reference
from ..facts.learning import KcalChangeRules, LearningRules
from ..figures import rounded
from ..trace import Quantity, Step
from .learner import Learnt, Seen, learn
from .log import Diary, Goal, WeightLog, check_log, diary_of

# A weight this likely a blunder is asked about.
_DOUBTFUL = 0.5
# From so much over or under its ideal weight a dog is to lose or gain.
_IDEAL_OFF = 0.05
# What is logged as fed changed where its middle moved by more.
_OTHER_KCAL = 0.05
_LEAST_SIDE = 3


@dataclass(frozen=True, kw_only=True)
class TrendWeight:
    """A weight. expected: kg before it was known, low and high: 90 % of where it could be; ask: what to ask, "" for
    nothing."""

    date: date
    weight_kg: float
    expected: float
    low: float
    high: float
    ask: str


@dataclass(frozen=True, kw_only=True)
class PathDay:
    """What the dog weighs on a day by all that is known up to it, kg: low and high hold 90 %."""

    date: date
    weight_kg: float
    low: float
    high: float


@dataclass(frozen=True, kw_only=True)
class Changed:
    """The need changed at once. since: about when; by: a share of it."""

    since: date
    by: float
    words: str


@dataclass(frozen=True, kw_only=True)
class KcalProposal:
    """Another amount a day, instead of so many kcal."""

    kcal: float
    instead_of: float
    why: str


@dataclass(frozen=True, kw_only=True)
class Trend:
    """What a log says. kcal_hold: kcal as logged that hold the weight, low and high: 90 % of what they may be, None where
    nothing is learnt; path: its weight day by day; plan_path: what its plan means it to
    weigh, and between what; weight_kg: now; per_week: its change, a share; fed_kcal: of the last two weeks; not_proposed: why no
    other amount is proposed, "" where one is; ask: what to ask the owner; vet: what the veterinarian looks at first."""

    kcal_hold: float | None
    low: float | None
    high: float | None
    learnt: bool
    changed: Changed | None
    proposal: KcalProposal | None
    weights: tuple[TrendWeight, ...]
    path: tuple[PathDay, ...]
    plan_path: tuple[PathDay, ...]
    weight_kg: float
    per_week: float
    fed_kcal: float
    not_proposed: str
    ask: tuple[str, ...]
    vet: tuple[str, ...]
    steps: tuple[Step, ...]
    warnings: tuple[str, ...]


def trend(reference: Reference, log: WeightLog, today: date, held: str = "") -> Trend:
    """What a log says up to its last entry. held: why no other amount is proposed, whatever the weights say. Raises InputError for a log that cannot be."""
    rules = reference.learning
    diary = diary_of(check_log(log, today), rules.other_scale_off)
    kg = float(np.median([w.kg for d in diary.days for w in d.weighings][:3]))
    expected, name = _expected(reference, log, kg)
    found = learn(
        rules, log.dog.condition, expected, rules.prior_off, diary.days, diary.grain
    )  # fmt: skip
    growing = log.dog.age_months is not None and log.dog.age_months < rules.grown_months
    learnt = not growing and _is_learnt(rules, found, diary)
    fed = _fed(diary)
    per_week = _per_week(found, rules.change.for_days)
    vet = tuple(_for_the_vet(rules, log, found))
    asks = tuple(_asks(rules, found, diary, expected, learnt))
    proposal, why_not = None, "the dog is growing: it follows its growth curve, not this"
    if held:
        why_not = held
    elif not growing:
        proposal, why_not = _proposal(reference, log, diary, found, learnt, fed, per_week, vet)
    return Trend(
        kcal_hold=None if growing else rounded(found.need),
        low=None if growing else rounded(found.low), high=None if growing else rounded(found.high),
        learnt=learnt, changed=None if growing else _changed(rules, found, diary),
        proposal=proposal, weights=tuple(_weights(rules, found, diary)),
        path=tuple(_path(rules, found, diary)),
        plan_path=() if growing else tuple(_plan_path(rules.change, log, found, diary)),
        weight_kg=rounded(found.weights[-1][0]), per_week=rounded(per_week), fed_kcal=rounded(fed),
        not_proposed="" if proposal else why_not, ask=asks, vet=vet,
        steps=() if growing else (_step(rules, log, found, expected, name, fed, diary),),
        warnings=diary.warnings,
    )  # fmt: skip


def _expected(reference: Reference, log: WeightLog, kg: float) -> tuple[float, str]:
    """The need before anything was learnt, and by what."""
    if log.dog.expected_kcal is not None:
        return log.dog.expected_kcal, "by the chosen method"
    wanted = reference.learning.prior_by_activity[(log.dog.activity or Activity.TYPICAL).value]
    rules = reference.energy_methods
    method = next(m for m in rules.methods if m.id == wanted)
    found = estimate(rules, method, DogFacts(kg))
    return found.kcal, f"{found.school}, {found.label}"


def _is_learnt(rules: LearningRules, found: Learnt, diary: Diary) -> bool:
    """The interval is narrow enough, or most is known by the weights; never before so many days."""
    if len(diary.days) <= rules.learnt_days or len(found.seen) < 3:
        return False
    half = (found.high - found.low) / 2 / found.need
    return half <= rules.learnt_half_width or found.end.prior_left < rules.learnt_prior_left


def _fed(diary: Diary) -> float:
    """kcal a day as logged, of the last two weeks; of all where those are not logged."""
    days = diary.days[-15:-1] or diary.days
    logged = [d.kcal for d in days if d.known]
    return float(np.mean(logged or [d.kcal for d in days]))


def _per_week(found: Learnt, days: int) -> float:
    """Change of weight a week, a share, over the last days."""
    now = found.weights[-1][0]
    back = found.weights[max(0, len(found.weights) - 1 - days)][0]
    weeks = min(days, len(found.weights) - 1) / 7
    return (now / back - 1) / weeks if weeks > 0 else 0.0


def _goal(log: WeightLog, kg: float) -> Goal:
    ideal = log.dog.ideal_weight_kg
    if log.dog.goal is not None:
        return log.dog.goal
    if ideal is None or abs(kg / ideal - 1) <= _IDEAL_OFF:
        return Goal.HOLD
    return Goal.LOSE if kg > ideal else Goal.GAIN


def _wanted_per_week(rules: LearningRules, goal: Goal) -> float:
    if goal is Goal.LOSE:
        return -rules.change.loss_per_week
    return rules.change.gain_per_week if goal is Goal.GAIN else 0.0


def _for_the_vet(rules: LearningRules, log: WeightLog, found: Learnt) -> Iterator[str]:
    """Changes of weight that nobody meant."""
    goal = _goal(log, found.weights[0][0])
    now, last = found.weights[-1][0], len(found.weights) - 1
    for days, share, words in (
        (28, rules.change.month, "in a month"), (182, rules.change.half_year, "in half a year")
    ):  # fmt: skip
        if last < days // 2:
            continue
        was = found.weights[max(0, last - days)][0]
        change = now / was - 1
        meant = (goal is Goal.LOSE and change < 0) or (goal is Goal.GAIN and change > 0)
        most = 0.02 * days / 7 if meant else share
        if abs(change) >= most:
            yield (
                f"{abs(change):.0%} {'lost' if change < 0 else 'gained'} {words}: the veterinarian looks at this before "
                "anything is fed otherwise"
            )  # fmt: skip
            return


def _asks(
    rules: LearningRules, found: Learnt, diary: Diary, expected: float, learnt: bool
) -> Iterator[str]:
    wrong = [s for s in found.seen if _is_doubtful(rules, s)]
    if wrong:
        yield "Is a weight wrong, or was it another scale? See those that are marked."
    if learnt and np.log(found.need / expected) < rules.change.low_need:
        yield (
            "It holds its weight on very little as logged: what else goes in? Treats, chews, food of others, larger "
            "portions than were written down."
        )
    known = sum(d.known for d in diary.days)
    if known < len(diary.days) / 2:
        yield "On most days nothing was put down of what was fed: what the plan gives is taken, and the figure is no surer than that."


def _is_doubtful(rules: LearningRules, seen: Seen) -> bool:
    return seen.blunder > _DOUBTFUL or abs(seen.score) > rules.ask_beyond


def _weights(rules: LearningRules, found: Learnt, diary: Diary) -> Iterator[TrendWeight]:
    for seen, on in zip(found.seen, diary.by_day, strict=True):
        off = rules.z * seen.off
        ask = ""
        if _is_doubtful(rules, seen):
            ask = f"{seen.kg:g} kg where {seen.expected:.3g} kg was expected: is this right?"
        yield TrendWeight(
            date=on, weight_kg=seen.kg, expected=rounded(seen.expected),
            low=rounded(seen.expected - off), high=rounded(seen.expected + off), ask=ask,
        )  # fmt: skip


def _path(rules: LearningRules, found: Learnt, diary: Diary) -> Iterator[PathDay]:
    for i, (kg, off) in enumerate(found.weights):
        yield PathDay(
            date=diary.on(i), weight_kg=rounded(kg), low=rounded(kg - rules.z * off),
            high=rounded(kg + rules.z * off),
        )  # fmt: skip


def _plan_path(
    change: KcalChangeRules, log: WeightLog, found: Learnt, diary: Diary
) -> Iterator[PathDay]:  # fmt: skip
    """From its first weight to what is ideal for it, at the rate that is wanted; low and high: the slowest and the fastest
    that is, a little of what says nothing beside. A plan of another amount goes on from what it weighed then."""
    anew = (diary.plan_since - diary.first).days if diary.plan_since is not None else 0
    if not 0 < anew < len(found.weights):
        anew = 0
    yield from _path_from(change, log, found, diary, 0, anew)
    yield from _path_from(change, log, found, diary, anew, len(found.weights))


def _path_from(
    change: KcalChangeRules, log: WeightLog, found: Learnt, diary: Diary, begin: int, end: int
) -> Iterator[PathDay]:
    """The path of one plan, from one day of the log up to another."""
    start, ideal = found.weights[begin][0], log.dog.ideal_weight_kg
    goal = _goal(log, start)
    way = {Goal.HOLD: 0, Goal.LOSE: -1, Goal.GAIN: 1}[goal]
    rate = change.loss_per_week if goal is Goal.LOSE else change.gain_per_week
    for i in range(begin, end):
        slow, middle, fast = (
            _there(start * (1 + way * per_week) ** ((i - begin) / 7), ideal, way)
            for per_week in (change.path_least, rate, change.path_most)
        )
        yield PathDay(
            date=diary.on(i), weight_kg=rounded(middle),
            low=rounded(min(slow, fast) * (1 - change.path_off)),
            high=rounded(max(slow, fast) * (1 + change.path_off)),
        )  # fmt: skip


def _there(kg: float, ideal: float | None, way: int) -> float:
    """A weight on its way, no further than what is ideal."""
    if ideal is None or way == 0:
        return kg
    return max(kg, ideal) if way < 0 else min(kg, ideal)


def _changed(rules: LearningRules, found: Learnt, diary: Diary) -> Changed | None:
    last = found.end
    if last.on is None or last.stepped < rules.step_told_from:
        return None
    since, by = diary.on(last.on), float(np.exp(last.since) - 1)
    way = "less" if by < 0 else "more"
    return Changed(
        since=since, by=rounded(by),
        words=(
            f"Something changed about {since.isoformat()}: it needs about {abs(by):.0%} {way} than before, as it is logged. "
            "Ask what did: neutering, heat, exercise, an injury, a medicine, treats."
        ),
    )  # fmt: skip


def _new_plan(diary: Diary, within: int) -> date | None:
    """The day from which the plan gives another amount, where that was within so many days; None where it was not."""
    since, last = diary.plan_since, diary.on(len(diary.days) - 1)
    return since if since is not None and (last - since).days < within else None


def _last_change(diary: Diary, within: int) -> date | None:
    """The day on which another amount was fed, where that was within so many days; None where it was not."""
    kcal = np.array([d.kcal for d in diary.days[:-1] if d.known])
    at = np.array([i for i, d in enumerate(diary.days[:-1]) if d.known])
    if len(at) == 0:
        return None
    recent = at >= len(diary.days) - 1 - 2 * within
    kcal, at = kcal[recent], at[recent]
    splits = []
    for i in range(_LEAST_SIDE, len(kcal) - _LEAST_SIDE + 1):
        before, after = np.median(kcal[:i]), np.median(kcal[i:])
        if before > 0 and abs(after / before - 1) > _OTHER_KCAL:
            # The day that leaves least to explain on either side.
            left = np.abs(kcal[:i] - before).sum() + np.abs(kcal[i:] - after).sum()
            splits.append((float(left), int(at[i])))
    if not splits:
        return None
    day = min(splits)[1]
    return diary.on(day) if len(diary.days) - 1 - day < within else None


def _proposal(
    reference: Reference, log: WeightLog, diary: Diary, found: Learnt, learnt: bool, fed: float,
    per_week: float, vet: tuple[str, ...],
) -> tuple[KcalProposal | None, str]:  # fmt: skip
    """Another amount, or why none is proposed."""
    rules = reference.learning
    change = rules.change
    plan = diary.plan_kcal or fed
    if vet:
        return None, vet[0]
    if not learnt:
        return None, "not enough is known yet: weigh on, on the same scale at the same hour"
    last = diary.by_day[-1]
    if any(_is_doubtful(rules, s) for s, on in zip(found.seen, diary.by_day, strict=True) if on == last):  # fmt: skip
        return None, "the last weight looks wrong: weigh again first"
    changed = _last_change(diary, change.hold_days) or _new_plan(diary, change.hold_days)
    if changed is not None:
        until = changed + timedelta(days=change.hold_days)
        return None, f"another amount is fed since {changed.isoformat()}: hold it until {until.isoformat()}"  # fmt: skip
    kg = found.weights[-1][0]
    goal = _goal(log, kg)
    wanted = _wanted_per_week(rules, goal)
    rho = rules.tissue.kcal_per_kg(log.dog.condition)
    room = wanted * kg * rho / 7
    low, high = found.low + room, found.high + room
    if low * (1 - change.beyond) <= plan <= high * (1 + change.beyond):
        return None, f"{plan:.0f} kcal a day are within what it may need for its goal"
    if abs(per_week - wanted) <= change.off_goal_per_week:
        return None, "its weight runs as it should"
    target = found.need + room
    limited = min(max(target, plan * (1 - change.most)), plan * (1 + change.most))
    step = change.round_kcal
    kcal = round(limited / step) * step
    floor = change.floor_rer_share * rer_kcal(reference.energy, log.dog.ideal_weight_kg or kg)
    if kcal < floor and kcal < plan:
        if plan <= floor:
            return None, (
                f"less than {floor:.0f} kcal a day ({change.floor_rer_share:g} x RER) is given with the veterinarian only"
            )
        kcal = float(np.ceil(floor / step) * step)
    if abs(kcal - plan) < step:
        return None, f"{plan:.0f} kcal a day are near enough"
    way = "loses" if per_week < 0 else "gains"
    why = (
        f"As logged, {found.need:.0f} kcal ({found.low:.0f} to {found.high:.0f}) hold its weight; on {plan:.0f} it {way} "
        f"{abs(per_week):.1%} a week. At most {change.most:.0%} at once, then {change.hold_days} days as they are."
    )
    return KcalProposal(kcal=kcal, instead_of=rounded(plan), why=why), ""


def _step(
    rules: LearningRules, log: WeightLog, found: Learnt, expected: float, name: str, fed: float, diary: Diary
) -> Step:  # fmt: skip
    rho = rules.tissue.kcal_per_kg(log.dog.condition)
    return Step(
        "kcal as logged that hold this weight",
        "Kalman filter: weight' = weight + (kcal fed - need) / kcal of a kg; need = expected x exp(b) x (kg / first kg)^0.75",
        (
            Quantity("expected at first", rounded(expected), "kcal/day", name),
            Quantity("weights", float(len(found.seen)), ""),
            Quantity("days", float(len(diary.days)), ""),
            Quantity("fed, last two weeks", rounded(fed), "kcal/day", "as logged"),
            Quantity("a kg of change holds", rounded(rho), "kcal", rules.tissue.source),
            Quantity("low", rounded(found.low), "kcal/day", "90 % interval"),
            Quantity("high", rounded(found.high), "kcal/day", "90 % interval"),
        ),
        rounded(found.need), "kcal/day", rules.source,
    )  # fmt: skip
