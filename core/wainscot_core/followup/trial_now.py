"""A trial as it stands today: what may be done and what not yet, what is due, how itch and stool run, what each food did."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from ..errors import InputError
from ..facts.trials import TrialKind, TrialRules
from ..figures import rounded
from .entry import DayEntry
from .signals import by_day, flare, of_days, week_mean
from .trial import (
    Disturbance,
    FoodVerdict,
    MoveKind,
    Outcome,
    Phase,
    TrialMove,
    TrialRecord,
    TrialSpan,
    TrialState,
    Verdict,
    state_of,
)
from .trial_moves import in_its_place, judge
from .trial_read import TrialCase, late_signs

_RECHECK_DAYS = 28  # the veterinarian sees a dog on a trial about then


@dataclass(frozen=True, kw_only=True)
class TrialOption:
    """A move that may be done today; why: why it may not, "" where it may; other_day: on another day it may."""

    kind: MoveKind
    why: str
    other_day: bool


@dataclass(frozen=True, kw_only=True)
class TrialDue:
    """What is to be done on a day."""

    date: date
    words: str


@dataclass(frozen=True, kw_only=True)
class TrialCourse:
    """How a score runs: its mean in the baseline and in the last week, None where too little was put down; wanted: what it
    is to fall to."""

    name: str
    baseline: float | None
    now: float | None
    wanted: float | None


@dataclass(frozen=True, kw_only=True)
class OpenDisturbance:
    """What goes on beside food, since when."""

    kind: Disturbance
    since: date


@dataclass(frozen=True, kw_only=True)
class TrialNow:
    """Where a trial stands. days: since its phase began; clean_days: of nothing else eaten, None while it is not counted;
    warnings: what the log shows and nobody said; passed: foods of the maintenance diet."""

    phase: Phase
    since: date
    days: int
    clean_days: int | None
    outcome: Outcome | None
    confirmed: bool
    trying: str | None
    alarm: bool
    ended: str
    severe: tuple[str, ...]
    exposures: tuple[date, ...]
    disturbances: tuple[OpenDisturbance, ...]
    courses: tuple[TrialCourse, ...]
    verdicts: tuple[FoodVerdict, ...]
    passed: tuple[str, ...]
    spans: tuple[TrialSpan, ...]
    options: tuple[TrialOption, ...]
    due: tuple[TrialDue, ...]
    warnings: tuple[str, ...]


def trial_now(
    rules: TrialRules, record: TrialRecord, entries: Sequence[DayEntry], today: date
) -> TrialNow:
    """A trial as it stands. entries: those that count."""
    state = state_of(rules, record)
    verdicts = tuple(state.verdicts.values())
    tolerated = [v.food for v in verdicts if v.verdict is Verdict.TOLERATED]
    responded = state.outcome in (Outcome.RESPONSE, Outcome.PARTIAL)
    trying = state.challenge if state.phase in (Phase.PROVOCATION, Phase.ITEM) else None
    return TrialNow(
        phase=state.phase, since=state.since, days=(today - state.since).days,
        clean_days=None if state.clock is None else max(0, (today - state.clock).days),
        outcome=state.outcome, confirmed=state.confirmed,
        trying=None if trying is None else trying.food, alarm=state.alarm, ended=state.ended,
        severe=state.severe, exposures=state.exposures,
        disturbances=tuple(
            OpenDisturbance(kind=kind, since=start)
            for kind, start, end in state.disturbances if end is None
        ),
        courses=tuple(_courses(rules, record, state, entries, today)), verdicts=verdicts,
        passed=(*record.plan.diet, *tolerated) if responded else (), spans=state.spans,
        options=tuple(_options(rules, record, state, entries, today)),
        due=tuple(due_of(rules, record, state)),
        warnings=tuple(_warnings(rules, record, state, entries, today)),
    )  # fmt: skip


def _courses(
    rules: TrialRules, record: TrialRecord, state: TrialState, entries: Sequence[DayEntry],
    today: date,
) -> Iterator[TrialCourse]:  # fmt: skip
    first, end = record.plan.started, state.spans[0].end
    last = today if end is None else end - timedelta(days=1)
    for name in ("itch", "stool"):
        values = by_day(entries, name)
        base = of_days(values, first, last)
        now = week_mean(rules, values, today)
        mean = sum(base) / len(base) if base else None
        wanted = _wanted(rules, record.plan.kind, name, mean)
        if mean is not None or now is not None:
            yield TrialCourse(
                name=name, baseline=None if mean is None else rounded(mean),
                now=None if now is None else rounded(now),
                wanted=None if wanted is None else rounded(wanted),
            )  # fmt: skip


def _wanted(
    rules: TrialRules, kind: TrialKind, name: str, baseline: float | None
) -> float | None:  # fmt: skip
    if kind is TrialKind.GUT:
        return rules.gut.well_stool if name == "stool" else None
    if name != "itch" or baseline is None:
        return None
    return max(rules.skin.well_under, baseline * (1 - rules.skin.response_fall))


def _options(
    rules: TrialRules, record: TrialRecord, state: TrialState, entries: Sequence[DayEntry],
    today: date,
) -> Iterator[TrialOption]:  # fmt: skip
    """Every move, tried as it would be made today with all that it has to say."""
    running = {kind for kind, _, end in state.disturbances if end is None}
    free = next((d for d in Disturbance if d not in running), Disturbance.MEDICINE)
    for kind in MoveKind:
        move = TrialMove(
            kind=kind, date=today, food="a food", full=True, without_severe=True, vet=state.alarm,
            signs=kind is MoveKind.FLARE, disturbance=free, note="a reason",
        )  # fmt: skip
        other_day = False
        try:
            if state.phase is not Phase.ENDED:
                in_its_place(TrialCase(rules, record.plan, state, entries, move))
                other_day = True
            judge(rules, record.plan, state, entries, move, today)
        except InputError as error:
            yield TrialOption(kind=kind, why=error.message, other_day=other_day)
        else:
            yield TrialOption(kind=kind, why="", other_day=False)


def due_of(rules: TrialRules, record: TrialRecord, state: TrialState) -> Iterator[TrialDue]:
    """What comes next of a trial by its plan, the first first."""
    length = rules.lengths[record.plan.kind]
    named = "the old diet" if state.challenge is None else state.challenge.food or "the old diet"

    def after(start: date, days: int, words: str) -> TrialDue:
        return TrialDue(date=start + timedelta(days=days), words=words)

    match state.phase:
        case Phase.BASELINE:
            yield after(
                state.since, rules.baseline_days, "the baseline is long enough: begin the diet"
            )
        case Phase.CHANGE_OVER:
            yield after(state.since, rules.mean_days, "change over to the diet alone")
        case Phase.TRIAL if state.clock is not None:
            if state.read_on is None and record.plan.kind is TrialKind.SKIN:
                yield after(state.clock, _RECHECK_DAYS, "the veterinarian sees the dog")
            again = state.outcome is Outcome.PARTIAL
            days = length.again_days if again else length.least_days
            yield after(state.clock, days, "read the trial" + (" again" if again else ""))
        case Phase.PROVOCATION:
            yield after(state.since, rules.rechallenge_days, "the old diet is back long enough")
        case Phase.CONFIRMING:
            yield after(state.since, rules.slow_days, "as before again, or ask the veterinarian")
        case Phase.ITEM:
            yield after(state.since, length.item_days, f"{named} is given long enough")
        case Phase.WASHOUT:
            yield after(
                state.since,
                rules.washout_days,
                "the washout is long enough: look whether it is as before",
            )
        case _:
            return


def _warnings(
    rules: TrialRules, record: TrialRecord, state: TrialState, entries: Sequence[DayEntry],
    today: date,
) -> Iterator[str]:  # fmt: skip
    trying = state.challenge if state.phase in (Phase.PROVOCATION, Phase.ITEM) else None
    if trying is not None:
        for ground in flare(rules, entries, trying.start, today):
            yield f"The log shows a flare: {ground.words} ({ground.date.isoformat()}). Stop {trying.food or 'the old diet'} now."
    if state.phase is Phase.TRIAL:
        move = TrialMove(kind=MoveKind.READ, date=today)
        late = late_signs(TrialCase(rules, record.plan, state, entries, move))
        if late is not None:
            yield f"{late[1][0].upper()}{late[1][1:]}. The clock starts again when the dog is clear."
    if state.alarm:
        yield "The dog swelled: the veterinarian sees it at once, before anything else is given."
