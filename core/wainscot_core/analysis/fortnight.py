"""Two weeks of bowls: which recipe is fed on which day, how the old food gives way, and what treats add."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from ..dossier.dossier import Dossier
from ..errors import InputError
from ..figures import rounded
from ..kitchen.change_over import ChangePlan
from ..recipe.line import sum_lines
from ..recipe.plan import EXTRAS, Daily, Turn, extras_share, one_day
from .plan_view import brought

DAYS = 14


@dataclass(frozen=True, kw_only=True)
class Portion:
    """What is fed of a recipe on a day. turn: its place in the rotation; share: of the day; grams: as fed."""

    turn: int
    name: str
    share: float
    kcal: float
    grams: float


@dataclass(frozen=True, kw_only=True)
class BowlDay:
    """A day. new: the share of the new food, 1 once the change is over; step: the share rises again on this
    day, which is only done when the days before went well. old_kcal: of the old food; apart_kcal: bought food and supplements given apart;
    extras_kcal: treats and toppers. over: extras bring more than they should, of what is fed that day."""

    on: date
    new: float
    step: bool
    portions: tuple[Portion, ...]
    old_kcal: float
    apart_kcal: float
    extras_kcal: float
    kcal: float
    over: bool


@dataclass(frozen=True, kw_only=True)
class Fortnight:
    """Two weeks of bowls. target_kcal: the rail; most_kcal: the target and the most that treats may bring beside it."""

    target_kcal: float
    most_kcal: float
    days: tuple[BowlDay, ...]


def fortnight(
    dossier: Dossier, turns: Sequence[Turn], daily: Sequence[Daily], start: date,
    begins: date | None = None, change: ChangePlan | None = None,
) -> Fortnight:  # fmt: skip
    """The two weeks from a day on. begins: the first day of the plan, `start` where it is not said; before it the old
    food is fed. The rotation goes round in the order of its turns from there; a day that two recipes share is fed of
    both. Raises InputError for a plan that feeds nothing."""
    round_days = sum(turn.days for turn in turns)
    if round_days <= 0 and not daily:
        raise InputError("turns", "put a recipe or a bought food into the plan")
    target, rule = dossier.energy.target_kcal, dossier.reference.extras
    whole = [_of_a_day(dossier, turn) for turn in turns]
    by_item = brought(dossier, daily)
    extras = sum(kcal for kind, kcal in by_item if kind in EXTRAS)
    apart = sum(kcal for kind, kcal in by_item if kind not in EXTRAS)
    first = begins or start
    days = []
    for i in range(DAYS):
        on = start + timedelta(days=i)
        new = new_share(on, first, change)
        before = new_share(on - timedelta(days=1), first, change) if change is not None else new
        portions = tuple(
            Portion(
                turn=k, name=turns[k].name, share=rounded(part * new),
                kcal=rounded(whole[k][0] * part * new), grams=rounded(whole[k][1] * part * new),
            )
            for k, part in _fed(turns, round_days, (on - first).days)
            if new > 0
        )  # fmt: skip
        old = target * (1 - new)
        kcal = sum(p.kcal for p in portions) + old + apart + extras
        days.append(
            BowlDay(
                on=on, new=new, step=new > before > 0, portions=portions, old_kcal=rounded(old),
                apart_kcal=rounded(apart), extras_kcal=rounded(extras), kcal=rounded(kcal),
                over=extras_share(by_item, kcal) > rule.most_share,
            )
        )  # fmt: skip
    return Fortnight(
        target_kcal=rounded(target),
        most_kcal=rounded(target * (1 + rule.most_share)),
        days=tuple(days),
    )


def new_share(on: date, begins: date, change: ChangePlan | None) -> float:
    """The share of the new food on a day: none before the plan begins, by the change-over from there, all after it."""
    day = (on - begins).days
    if day < 0:
        return 0.0
    return change.shares[day] if change is not None and day < len(change.shares) else 1.0


def _fed(turns: Sequence[Turn], round_days: float, day: int) -> Iterator[tuple[int, float]]:
    """The recipes of a day and what part of it each feeds: the day's stretch of the rounds, laid over the turns."""
    if round_days <= 0:
        return
    parts = [0.0] * len(turns)
    at, end = float(day), float(day + 1)
    begin = (at // round_days) * round_days
    while begin < end:
        for k, turn in enumerate(turns):
            parts[k] += max(0.0, min(end, begin + turn.days) - max(at, begin))
            begin += turn.days
    yield from ((k, part) for k, part in enumerate(parts) if part > 1e-9)


def _of_a_day(dossier: Dossier, turn: Turn) -> tuple[float, float]:
    """kcal and grams as fed of a day of a recipe alone."""
    sums = sum_lines(dossier.library, one_day(turn, ()), 1)
    return sums.kcal, sums.total_grams
