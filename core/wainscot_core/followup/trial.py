"""An elimination trial as it went: what may come next, what is refused and why, and what each food did.

A trial is its plan and the moves that were made. A move is judged once, by the log of that day, and keeps what came of it;
the state is those moves told again, so that what is put down or struck later never makes a trial unreadable.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from enum import StrEnum
from typing import Annotated

from pydantic import Field

from ..boundary import Day, Name80, Text80, Text120, Text300, YesNo
from ..confidence import Confidence
from ..facts.trials import TrialKind, TrialRules

OLD_DIET = ""  # the food of a challenge with all of what was fed before


class Phase(StrEnum):
    """Where a trial stands. READY: clear again, nothing is being tried."""

    BASELINE = "baseline"
    CHANGE_OVER = "change-over"
    TRIAL = "trial"
    PROVOCATION = "provocation"
    CONFIRMING = "confirming"
    READY = "ready"
    ITEM = "item"
    WASHOUT = "washout"
    ENDED = "ended"


class MoveKind(StrEnum):
    """What can be done. FEED: from this day on nothing but the diet; PROVOKE: all of the old diet back; ITEM: one food;
    FLARE, PASS: how a challenge ended; CLEAR: as before again; DISTURBANCE: something else that moves itch or stool."""

    CHANGE_OVER = "change-over"
    FEED = "feed"
    EXPOSURE = "exposure"
    DISTURBANCE = "disturbance"
    READ = "read"
    PROVOKE = "provoke"
    ITEM = "item"
    FLARE = "flare"
    PASS = "pass"  # noqa: S105
    CLEAR = "clear"
    FINISH = "finish"
    STOP = "stop"


class Disturbance(StrEnum):
    """What moves itch or stool beside food. MASKING: a medicine that hides itch, as a steroid or oclacitinib."""

    MEDICINE = "medicine"
    MASKING = "masking"
    SEASON = "season"
    PARASITES = "parasites"
    INFECTION = "infection"


class Outcome(StrEnum):
    """What a trial showed."""

    RESPONSE = "response"
    PARTIAL = "partial"
    NONE = "none"


class Verdict(StrEnum):
    """What a food did."""

    REACTS = "reacts"
    LIKELY = "likely"
    TOLERATED = "tolerated"
    UNSURE = "unsure"


_WORSE = {Verdict.LIKELY: 1, Verdict.REACTS: 2}


@dataclass(frozen=True, kw_only=True)
class TrialPlan:
    """A trial to run. diet: what alone is fed; old_diet: what was; severe: foods after which the dog swelled or collapsed,
    never tried again; started: the first day of its baseline."""

    kind: TrialKind = TrialKind.SKIN
    started: Day
    diet: Annotated[tuple[Name80, ...], Field(min_length=1, max_length=20)]
    old_diet: Text120 = ""
    severe: Annotated[tuple[Name80, ...], Field(max_length=40)] = ()


@dataclass(frozen=True, kw_only=True)
class TrialMove:
    """What is done on a day. food: what is tried, or slipped in; staple: it is to be fed often, so that one flare does not
    prove it; full: all of it was eaten each day; signs: something was seen; swelling: of face or throat; vet: the
    veterinarian says so; without_severe: nothing of what is never tried again is in it; over: the disturbance ended."""

    kind: MoveKind
    date: Day
    food: Text80 = ""
    staple: YesNo = False
    full: YesNo = False
    signs: YesNo = False
    swelling: YesNo = False
    vet: YesNo = False
    without_severe: YesNo = False
    disturbance: Disturbance | None = None
    over: YesNo = False
    note: Text300 = ""


@dataclass(frozen=True, kw_only=True)
class Made:
    """A move and what came of it by the log of that day. grounds: why; severe: never to be tried again."""

    move: TrialMove
    outcome: Outcome | None = None
    verdict: Verdict | None = None
    confidence: Confidence = Confidence.UNSAID
    grounds: tuple[str, ...] = ()
    severe: YesNo = False


@dataclass(frozen=True, kw_only=True)
class TrialRecord:
    """A trial: its plan, and what was done, in that order."""

    plan: TrialPlan
    made: Annotated[tuple[Made, ...], Field(max_length=400)] = ()


@dataclass(frozen=True, kw_only=True)
class Challenge:
    """A food that is being tried, or was tried last. flared: None while it is open; disturbed: why it proves nothing."""

    food: str
    start: date
    staple: bool = False
    flared: bool | None = None
    in_log: bool = False
    disturbed: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class FoodVerdict:
    """What a food did, the last time it was tried, from start to the day it was judged. flares: how often it was followed by one that was in the log."""

    food: str
    verdict: Verdict
    confidence: Confidence
    start: date
    on: date
    flares: int = 0
    grounds: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class TrialSpan:
    """A phase that ran, or runs: end None."""

    phase: Phase
    start: date
    end: date | None = None
    food: str = ""


@dataclass(frozen=True, kw_only=True)
class TrialState:
    """Where a trial stands. clock: since when nothing else was fed, None while signs after a slip are not clear again; calm:
    the last day before the old diet came back, against which "as before" is told; alarm: the veterinarian has to have seen
    the dog; running: disturbances that did not end, since when."""

    phase: Phase
    since: date
    day_one: date | None = None
    clock: date | None = None
    slipped: date | None = None
    outcome: Outcome | None = None
    read_on: date | None = None
    calm: date | None = None
    confirmed: bool = False
    challenge: Challenge | None = None
    exposures: tuple[date, ...] = ()
    disturbances: tuple[tuple[Disturbance, date, date | None], ...] = ()
    severe: tuple[str, ...] = ()
    alarm: bool = False
    verdicts: Mapping[str, FoodVerdict] = field(default_factory=dict)
    spans: tuple[TrialSpan, ...] = ()
    ended: str = ""
    last: date


def disturbs(
    rules: TrialRules, kind: Disturbance, start: date, end: date | None, first: date, last: date
) -> bool:  # fmt: skip
    """Whether a disturbance (end None: it goes on) moves what is seen from a day to another; medicines act on."""
    lasts = {Disturbance.MEDICINE: rules.mean_days, Disturbance.MASKING: rules.wash_days}
    acts_on = timedelta(days=lasts.get(kind, 0))
    return start <= last and (end is None or end + acts_on >= first)


def food_key(name: str) -> str:
    """A food by its name, however it was written."""
    return " ".join(name.casefold().split())


def state_of(rules: TrialRules, record: TrialRecord) -> TrialState:
    """Where a trial stands after all that was done."""
    plan = record.plan
    state = TrialState(
        phase=Phase.BASELINE, since=plan.started, severe=tuple(plan.severe), last=plan.started,
        spans=(TrialSpan(phase=Phase.BASELINE, start=plan.started),),
    )  # fmt: skip
    for made in record.made:
        state = after(rules, state, made)
    return state


def after(rules: TrialRules, state: TrialState, made: Made) -> TrialState:
    """The state after a move that was allowed."""
    move = made.move
    state = replace(state, last=max(state.last, move.date))
    match move.kind:
        case MoveKind.EXPOSURE:
            return _exposed(rules, state, made)
        case MoveKind.DISTURBANCE:
            return _disturbed(rules, state, move)
        case MoveKind.CHANGE_OVER:
            return _to(state, Phase.CHANGE_OVER, move.date)
        case MoveKind.FEED:
            state = replace(state, day_one=move.date, clock=move.date)
            return _to(state, Phase.TRIAL, move.date)
        case MoveKind.READ:
            state = replace(state, outcome=made.outcome, read_on=move.date)
            return _end(state, move.date, "no response") if made.outcome is Outcome.NONE else state
        case MoveKind.PROVOKE | MoveKind.ITEM:
            return _challenged(state, move)
        case MoveKind.FLARE | MoveKind.PASS:
            return _closed(state, made)
        case MoveKind.CLEAR:
            return _cleared(state, made)
        case MoveKind.FINISH:
            return _end(state, move.date, "done")
        case MoveKind.STOP:
            return _end(state, move.date, f"stopped: {move.note}")


def _to(state: TrialState, phase: Phase, on: date, food: str = "") -> TrialState:
    *before, last = state.spans
    spans = (*before, replace(last, end=on), TrialSpan(phase=phase, start=on, food=food))
    return replace(state, phase=phase, since=on, spans=spans)


def _end(state: TrialState, on: date, why: str) -> TrialState:
    *before, last = state.spans
    spans = (*before, replace(last, end=on))
    return replace(state, phase=Phase.ENDED, since=on, ended=why, spans=spans)


def _exposed(rules: TrialRules, state: TrialState, made: Made) -> TrialState:
    day = made.move.date
    near = [d for d in state.exposures if abs((day - d).days) < rules.exposures_in_days]
    exposures = (*state.exposures, day)
    state = replace(
        _doubted(state, lambda first, last: first <= day <= last), exposures=exposures,
        alarm=state.alarm or made.severe,
    )  # fmt: skip
    if made.severe and made.move.food:
        state = replace(state, severe=(*state.severe, made.move.food))
    if state.phase is not Phase.TRIAL or (state.clock is not None and day < state.clock):
        return state
    if made.grounds:
        # With signs the clock waits until the dog is clear again.
        return replace(state, clock=None, slipped=state.slipped or day)
    if len(near) + 1 >= rules.most_exposures and state.clock is not None:
        # So many slips cannot be read: the clock starts again after the last.
        return replace(state, clock=day + timedelta(days=1))
    return state


def _doubted(state: TrialState, in_time: Callable[[date, date], bool]) -> TrialState:
    """What was tolerated is unsure when something is told later of the time in which it was tried."""
    verdicts = {
        key: replace(
            found, verdict=Verdict.UNSURE, confidence=Confidence.LOW,
            grounds=(*found.grounds, "something else moved itch or stool at that time, as was told later"),
        )
        if found.verdict is Verdict.TOLERATED and in_time(found.start, found.on)
        else found
        for key, found in state.verdicts.items()
    }  # fmt: skip
    return replace(state, verdicts=verdicts)


def _disturbed(rules: TrialRules, state: TrialState, move: TrialMove) -> TrialState:
    kind, rows = move.disturbance or Disturbance.MEDICINE, list(state.disturbances)
    if move.over:
        rows = [
            (k, start, move.date) if k is kind and end is None else (k, start, end)
            for k, start, end in rows
        ]
    else:
        # A new medicine is an event; the others last until they are said to be over.
        end = move.date if kind is Disturbance.MEDICINE else None
        rows.append((kind, move.date, end))
        state = _doubted(
            state, lambda first, last: disturbs(rules, kind, move.date, end, first, last)
        )  # fmt: skip
    return replace(state, disturbances=tuple(rows))


def _challenged(state: TrialState, move: TrialMove) -> TrialState:
    whole = move.kind is MoveKind.PROVOKE
    food = OLD_DIET if whole else move.food
    challenge = Challenge(food=food, start=move.date, staple=move.staple)
    if whole:
        state = replace(state, calm=move.date - timedelta(days=1))
    phase = Phase.PROVOCATION if whole else Phase.ITEM
    return _to(replace(state, challenge=challenge), phase, move.date, food)


def _closed(state: TrialState, made: Made) -> TrialState:
    challenge, move = state.challenge, made.move
    if challenge is None:
        return state
    flared = move.kind is MoveKind.FLARE
    challenge = replace(
        challenge, flared=flared, in_log=made.verdict is Verdict.LIKELY and made.confidence is not Confidence.LOW
    )  # fmt: skip
    state = replace(state, challenge=challenge, alarm=state.alarm or made.severe)
    if state.phase is Phase.PROVOCATION:
        if made.severe:
            # Nobody knows which part of it did it.
            state = replace(state, severe=(*state.severe, "the old diet"))
        if flared:
            return _to(state, Phase.CONFIRMING, move.date)
        return _end(state, move.date, "the old diet did nothing: a reaction to food is not shown")
    if made.severe:
        state = replace(state, severe=(*state.severe, challenge.food))
    return _to(_judged(state, made), Phase.WASHOUT, move.date, challenge.food)


def _judged(state: TrialState, made: Made) -> TrialState:
    """Keep what a food did."""
    challenge = state.challenge
    if challenge is None or made.verdict is None:
        return state
    key = food_key(challenge.food)
    old = state.verdicts.get(key)
    # Counted as the challenge ends; what comes of it when the dog is clear again is the same flare.
    more = made.move.kind is MoveKind.FLARE and challenge.in_log
    flares = (old.flares if old else 0) + more
    verdict, sure, grounds = made.verdict, made.confidence, made.grounds
    if verdict is Verdict.TOLERATED and flares:
        verdict, sure = Verdict.UNSURE, Confidence.LOW
        grounds = (*grounds, "but it flared on it before")
    elif old is not None and _WORSE.get(old.verdict, 0) > _WORSE.get(verdict, 0):
        # What was shown is not unshown by a trial that shows less.
        verdict, sure, grounds = old.verdict, old.confidence, old.grounds
    found = FoodVerdict(
        food=challenge.food, verdict=verdict, confidence=sure, start=challenge.start,
        on=made.move.date, flares=flares,
        grounds=grounds,
    )  # fmt: skip
    return replace(state, verdicts={**state.verdicts, key: found})


def _cleared(state: TrialState, made: Made) -> TrialState:
    on = made.move.date
    state = replace(state, alarm=False)
    if made.severe and state.challenge is not None:
        state = replace(state, severe=(*state.severe, state.challenge.food))
    if state.phase is Phase.TRIAL:
        return replace(state, clock=on, slipped=None)
    if state.phase is Phase.CONFIRMING:
        return _to(replace(state, confirmed=True), Phase.READY, on)
    if state.phase is not Phase.WASHOUT:
        return state
    return _to(_judged(state, made), Phase.READY, on)
