"""What the follow-up shows and the case does not say yet: what a new version of the plan is made with."""

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from ..boundary import dump
from ..changes import FieldChange
from ..dog.record import CaseRecord, EnergyBy, Muscle
from ..errors import InputError
from .entry import DayEntry
from .maintenance import with_verdict
from .trend import KcalProposal, Trend
from .trial import FoodVerdict, TrialState, food_key

# The case follows a weight that is off by more than scales are (a share); it is written in steps of a scale, kg.
WEIGHT_OFF = 0.01
SCALE_STEPS_PER_KG = 20


class News(StrEnum):
    """What is new of a dog."""

    WEIGHT = "weight"
    CONDITION = "condition"
    MUSCLE = "muscle"
    KCAL = "kcal"
    REACTION = "reaction"


@dataclass(frozen=True, kw_only=True)
class Learned:
    """Something that the follow-up shows and the case does not say. id: by which it is taken; food: of a reaction, else "";
    was, now: what the case says and what it would say (kg, of 9, kcal a day, a word), None for nothing; why: what shows it;
    changes: of the case."""

    id: str
    news: News
    food: str = ""
    was: float | str | None
    now: float | str | None
    why: str
    changes: tuple[FieldChange, ...]


def learned(
    record: CaseRecord,
    entries: Sequence[DayEntry],
    trend: Trend | None,
    trials: Sequence[TrialState],
    today: date,
) -> tuple[Learned, ...]:
    """All that the case does not say yet. entries: days that count, in the order they were put down; trials: the newest
    first."""
    return (
        *_weight(record, trend),
        *_scored(record, entries),
        *_kcal(record, trend, today),
        *_reactions(record, trials),
    )


def _weight(record: CaseRecord, trend: Trend | None) -> Iterator[Learned]:
    was = record.dog.weight_kg
    if trend is None or abs(trend.weight_kg / was - 1) <= WEIGHT_OFF:
        return
    now = round(trend.weight_kg * SCALE_STEPS_PER_KG) / SCALE_STEPS_PER_KG
    yield Learned(
        id=_id(News.WEIGHT, now), news=News.WEIGHT, was=was, now=now, why="by all its weights together",
        changes=(FieldChange(path="dog.weight_kg", value=now, was=was),),
    )  # fmt: skip


def _scored(record: CaseRecord, entries: Sequence[DayEntry]) -> Iterator[Learned]:
    """Body and muscle condition as they were scored last, each."""
    dog, intake = record.dog, record.intake
    scored = max((e for e in entries if e.body_condition), key=lambda e: e.date, default=None)
    if scored is not None and scored.body_condition != dog.body_condition:
        yield Learned(
            id=_id(News.CONDITION, scored.body_condition), news=News.CONDITION, was=dog.body_condition, now=scored.body_condition,
            why=f"scored on {scored.date.isoformat()}",
            changes=(FieldChange(path="dog.body_condition", value=scored.body_condition, was=dog.body_condition),),
        )  # fmt: skip
    felt = max(
        (e for e in entries if e.muscle is not Muscle.UNSCORED), key=lambda e: e.date, default=None
    )
    if felt is not None and felt.muscle is not intake.muscle_condition:
        was, now = intake.muscle_condition.value, felt.muscle.value
        yield Learned(
            id=_id(News.MUSCLE, now), news=News.MUSCLE, was=was or None, now=now,
            why=f"scored on {felt.date.isoformat()}",
            changes=(FieldChange(path="intake.muscle_condition", value=now, was=was),),
        )  # fmt: skip


def _kcal(record: CaseRecord, trend: Trend | None, today: date) -> Iterator[Learned]:
    """Another amount, only where the rule of the trend proposes one."""
    if trend is None or trend.proposal is None or is_taken(record, trend.proposal):
        return
    kcal = trend.proposal.kcal
    reason = f"Learnt from its weights on {today.isoformat()}"
    yield Learned(
        id=_id(News.KCAL, kcal), news=News.KCAL, was=trend.proposal.instead_of, now=kcal, why=trend.proposal.why,
        changes=(
            FieldChange(path="energy_method", value=EnergyBy.OWN_FIGURE.value, was=record.energy_method.value),
            FieldChange(path="kcal_per_day", value=kcal, was=record.kcal_per_day),
            FieldChange(path="energy_reason", value=reason, was=record.energy_reason),
        ),
    )  # fmt: skip


def is_taken(record: CaseRecord, proposal: KcalProposal) -> bool:
    """The case has the amount that is proposed already."""
    own = record.energy_method is EnergyBy.OWN_FIGURE
    return own and record.kcal_per_day == proposal.kcal


def _reactions(record: CaseRecord, trials: Sequence[TrialState]) -> Iterator[Learned]:
    """What trials showed of foods, each food apart."""
    keys = dict.fromkeys(key for state in trials for key in state.verdicts)
    for key in keys:
        new, found = _shown(record, trials, key)
        if found is not None:
            yield Learned(
                id=_id(News.REACTION, key), news=News.REACTION, food=found.food, was=_certainty(record, key),
                now=_certainty(new, key), why="; ".join(found.grounds), changes=(),
            )  # fmt: skip


def _shown(
    record: CaseRecord, trials: Sequence[TrialState], key: str
) -> tuple[CaseRecord, FoodVerdict | None]:
    """The case with what all trials showed of a food, the oldest first: what one of them proved, a later one that it passed
    does not undo. And the verdict that changed it last, None where none did."""
    last = None
    for state in reversed(trials):
        found = state.verdicts.get(key)
        if found is None:
            continue
        new = with_verdict(record, state, found)
        record, last = (new, found) if new != record else (record, last)
    return record, last


def _id(news: News, to: float | str | None) -> str:
    """By which something is taken: what it comes to is part of it, so that nothing else is taken than what was looked at."""
    return f"{news.value}:{to}"


def _certainty(record: CaseRecord, key: str) -> str | None:
    said = [r for r in record.reactions if food_key(r.food) == key]
    return (said[0].certainty.value or "reacts") if said else None


def with_reactions(
    record: CaseRecord, trials: Sequence[TrialState], taken: Collection[str]
) -> CaseRecord:
    """The case with what trials showed of the foods that are taken, by the ids of `learned`."""
    for key in dict.fromkeys(key for state in trials for key in state.verdicts):
        if _id(News.REACTION, key) in taken:
            record, _ = _shown(record, trials, key)
    return record


def changes_of(
    record: CaseRecord,
    found: Sequence[Learned],
    trials: Sequence[TrialState],
    taken: Collection[str],
) -> tuple[FieldChange, ...]:
    """What taking these changes in the case. Raises InputError for one that is not there: it was put into the case, or the
    log says otherwise, since it was looked at."""
    by_id = {one.id: one for one in found}
    for wanted in taken:
        if wanted not in by_id:
            raise InputError("take", f"{wanted} is not new any more: look at it again")
    changes = [c for one in found if one.id in taken for c in one.changes]
    after = with_reactions(record, trials, taken)
    if after != record:
        changes.append(
            FieldChange(
                path="reactions", was=dump(record)["reactions"], value=dump(after)["reactions"]
            )
        )
    return tuple(changes)
