"""Judge a move of an elimination trial by the log: what is refused, and what comes of what is not."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from datetime import date, timedelta

from ..confidence import Confidence
from ..errors import InputError
from ..facts.trials import TrialRules
from .entry import DayEntry
from .signals import by_day, flare, is_logged, of_days, week_mean
from .trial import (
    OLD_DIET,
    Challenge,
    Disturbance,
    Made,
    MoveKind,
    Outcome,
    Phase,
    TrialMove,
    TrialPlan,
    TrialRecord,
    TrialState,
    Verdict,
    after,
    disturbs,
    food_key,
    state_of,
)
from .trial_read import TrialCase, begun, late_signs, outcome_of, read_trial

MOST_MOVES = 400
_LESS_SURE = {Confidence.HIGH: Confidence.MEDIUM, Confidence.MEDIUM: Confidence.LOW, Confidence.LOW: Confidence.LOW}  # fmt: skip
_DISTURBED_WORDS = {
    Disturbance.MEDICINE: "a new medicine", Disturbance.MASKING: "a medicine that masks itch",
    Disturbance.SEASON: "the season", Disturbance.PARASITES: "parasites", Disturbance.INFECTION: "an infection",
}  # fmt: skip
# Where each move belongs, and what is said elsewhere; the others go anywhere before the end.
_PLACES = {
    MoveKind.CHANGE_OVER: ((Phase.BASELINE,), "the change-over comes once, after the baseline"),
    MoveKind.FEED: ((Phase.BASELINE, Phase.CHANGE_OVER), "the diet began already"),
    MoveKind.READ: ((Phase.TRIAL,), "what is read is the time on nothing but the diet"),
    MoveKind.PROVOKE: ((Phase.TRIAL,), "the old diet comes back once, after the trial was read"),
    MoveKind.FLARE: ((Phase.PROVOCATION, Phase.ITEM), "nothing is being tried"),
    MoveKind.PASS: ((Phase.PROVOCATION, Phase.ITEM), "nothing is being tried"),
    MoveKind.FINISH: ((Phase.READY,), "it is finished when single foods were tried and the dog is clear"),
}  # fmt: skip


def make(
    rules: TrialRules,
    record: TrialRecord,
    entries: Sequence[DayEntry],
    move: TrialMove,
    today: date,
) -> TrialRecord:
    """A trial with one move more. entries: those that count. Raises InputError that says why it is refused."""
    if len(record.made) >= MOST_MOVES:
        raise InputError("", f"a trial holds at most {MOST_MOVES} moves: stop it and start another")
    state = state_of(rules, record)
    made = judge(rules, record.plan, state, entries, move, today)
    after(rules, state, made)
    return replace(record, made=(*record.made, made))


def take_back(record: TrialRecord) -> TrialRecord:
    """A trial without its last move. Raises InputError where there is none."""
    if not record.made:
        raise InputError("", "nothing was done yet that could be taken back")
    return replace(record, made=record.made[:-1])


def judge(
    rules: TrialRules, plan: TrialPlan, state: TrialState, entries: Sequence[DayEntry], move: TrialMove,
    today: date,
) -> Made:  # fmt: skip
    """What comes of a move. Raises InputError that says why it is refused."""
    if state.phase is Phase.ENDED:
        raise InputError("", f"this trial has ended ({state.ended}): start another")
    if move.date > today:
        raise InputError("date", f"{move.date.isoformat()} is still to come")
    # A slip or a medicine is often told later.
    first = plan.started if move.kind in (MoveKind.EXPOSURE, MoveKind.DISTURBANCE) else state.last
    if move.date < first:
        raise InputError("date", f"is before {first.isoformat()}, when the last was done")
    case = TrialCase(rules, plan, state, entries, move)
    in_its_place(case)
    match move.kind:
        case MoveKind.CHANGE_OVER | MoveKind.FEED:
            return begun(case)
        case MoveKind.EXPOSURE:
            return _slipped(case)
        case MoveKind.DISTURBANCE:
            return _noted(case)
        case MoveKind.READ:
            return read_trial(case)
        case MoveKind.PROVOKE:
            return _provoked(case)
        case MoveKind.ITEM:
            return _item(case)
        case MoveKind.FLARE:
            return _flared(case)
        case MoveKind.PASS:
            return _passed(case)
        case MoveKind.CLEAR:
            return _clear(case)
        case MoveKind.STOP:
            if not move.note:
                raise InputError("note", "say why it is stopped")
            return Made(move=move)
        case MoveKind.FINISH:
            return Made(move=move)


def in_its_place(case: TrialCase) -> None:
    """Raises InputError for what does not belong where the trial stands, on whatever day."""
    state, move = case.state, case.move
    open_food = state.challenge if state.phase in (Phase.PROVOCATION, Phase.ITEM) else None
    starts = move.kind in (MoveKind.PROVOKE, MoveKind.ITEM)
    if starts and open_food is not None:
        raise InputError(
            "", f"{_named(open_food.food)} is still being tried: one challenge at a time"
        )
    if starts and state.alarm:
        raise InputError(
            "", "the dog swelled: nothing is tried before the veterinarian has said it is clear"
        )
    if move.kind is MoveKind.ITEM and state.phase is Phase.WASHOUT:
        raise InputError("", "it is in washout: nothing is tried before the dog is as before")
    if move.kind is MoveKind.ITEM and not state.confirmed:
        raise InputError("", "single foods come after a response, and after the old diet was given back and confirmed it")  # fmt: skip
    if move.kind is MoveKind.CLEAR and not _waits(case):
        raise InputError("", "nothing waits to be clear again")
    if move.kind is MoveKind.EXPOSURE and state.phase is Phase.BASELINE:
        raise InputError("", "there is no slip before the diet began")
    place = _PLACES.get(move.kind)
    if place is not None and state.phase not in place[0]:
        raise InputError("", place[1])


def _waits(case: TrialCase) -> bool:
    state = case.state
    if state.alarm or state.phase in (Phase.CONFIRMING, Phase.WASHOUT):
        return True
    return state.phase is Phase.TRIAL and (state.clock is None or late_signs(case) is not None)


def _named(food: str) -> str:
    return "the old diet" if food == OLD_DIET else food


def _slipped(case: TrialCase) -> Made:
    """Something else was eaten. What the log shows within three days counts as signs, whatever is said."""
    move, rules = case.move, case.rules
    if not move.food:
        raise InputError("food", "say what it was")
    last = move.date + timedelta(days=rules.signs_within_days)
    found = flare(rules, case.entries, move.date, last)
    said = ("signs were seen",) if move.signs or move.swelling else ()
    grounds = (*(g.words for g in found), *said)
    return Made(move=move, grounds=grounds, severe=move.swelling or any(g.severe for g in found))


def _noted(case: TrialCase) -> Made:
    kind = case.move.disturbance
    if kind is None:
        raise InputError("disturbance", "say what it is")
    running = any(k is kind and end is None for k, _, end in case.state.disturbances)
    if case.move.over and not running:
        raise InputError("over", f"{_DISTURBED_WORDS[kind]} was not put down as going on")
    if not case.move.over and running:
        raise InputError("disturbance", f"{_DISTURBED_WORDS[kind]} is put down as going on already")
    return Made(move=case.move)


def _provoked(case: TrialCase) -> Made:
    state = case.state
    if state.outcome is None:
        raise InputError("", "the trial was not read yet: nothing is tried before a response")
    if state.clock is None or late_signs(case):
        raise InputError("", "there were signs after a slip: wait until it is clear again")
    outcome, grounds = outcome_of(case)
    if outcome is Outcome.NONE:
        raise InputError("", f"the response does not hold any more: {'; '.join(grounds)}")
    if state.severe and not case.move.without_severe:
        raise InputError(
            "without_severe", f"the dog swelled or collapsed after {', '.join(state.severe)}: say that nothing of it is in the "
            "old diet, or leave it out; it is never given back at home"
        )  # fmt: skip
    _comparable(case)
    return Made(move=case.move)


def _item(case: TrialCase) -> Made:
    move, state = case.move, case.state
    if not move.food:
        raise InputError("food", "say which food is tried")
    key = food_key(move.food)
    if key in {food_key(name) for name in state.severe}:
        raise InputError("food", f"the dog swelled or collapsed after {move.food}: it is never tried at home. Ask the veterinarian")  # fmt: skip
    if state.severe and not move.without_severe:
        raise InputError(
            "without_severe", f"say that {move.food} is nothing of {', '.join(state.severe)}, after which the dog swelled or collapsed"
        )  # fmt: skip
    _comparable(case)
    yesterday = move.date - timedelta(days=1)
    worse = tuple(_not_as_before(case, state.calm or yesterday, yesterday))
    if worse:
        raise InputError("", f"the dog is not as it was before: {'; '.join(worse)}")
    return Made(move=move)


def _comparable(case: TrialCase) -> None:
    """A flare is told against the week before: it has to be on record."""
    name = case.main
    before = week_mean(
        case.rules, by_day(case.entries, name), case.move.date - timedelta(days=1)
    )  # fmt: skip
    if before is None:
        raise InputError(
            "", f"{name} was put down on fewer than {case.rules.mean_least} of the {case.rules.mean_days} days before: a flare "
            "could not be told from them"
        )  # fmt: skip


def _flared(case: TrialCase) -> Made:
    move, challenge = case.move, _open(case.state)
    found = flare(case.rules, case.entries, challenge.start, move.date)
    if not found and not move.signs and not move.swelling:
        raise InputError(
            "signs", "the log shows no flare: put the days down, or say that signs were seen"
        )
    grounds = tuple(f"{g.words} ({g.date.isoformat()})" for g in found) or ("signs were seen",)
    severe = move.swelling or any(g.severe for g in found)
    disturbed = tuple(_disturbed_by(case, challenge.start, move.date))
    if severe:
        return Made(move=move, verdict=Verdict.REACTS, confidence=Confidence.MEDIUM, grounds=grounds, severe=True)  # fmt: skip
    if disturbed:
        return Made(move=move, verdict=Verdict.UNSURE, confidence=Confidence.LOW, grounds=(*grounds, *disturbed))  # fmt: skip
    sure = Confidence.MEDIUM if found else Confidence.LOW
    return Made(move=move, verdict=Verdict.LIKELY, confidence=sure, grounds=grounds)


def _open(state: TrialState) -> Challenge:
    if state.challenge is None:
        raise InputError("", "nothing is being tried")
    return state.challenge


def _disturbed_by(case: TrialCase, first: date, last: date) -> Iterator[str]:
    """What else may have moved itch or stool in a time."""
    for kind, start, end in case.state.disturbances:
        if disturbs(case.rules, kind, start, end, first, last):
            yield f"{_DISTURBED_WORDS[kind]} at that time"
    if any(first <= day <= last for day in case.state.exposures):
        yield "something else was eaten at that time"


def _passed(case: TrialCase) -> Made:
    move, rules, challenge = case.move, case.rules, _open(case.state)
    whole = case.state.phase is Phase.PROVOCATION
    least = rules.rechallenge_days if whole else case.length.item_days
    days = (move.date - challenge.start).days
    if days < least:
        ready = challenge.start + timedelta(days=least)
        raise InputError("date", f"{_named(challenge.food)} is given for {least} days: until {ready.isoformat()}")  # fmt: skip
    found = flare(rules, case.entries, challenge.start, move.date)
    if found:
        raise InputError(
            "", f"the log shows a flare: {found[0].words} on {found[0].date.isoformat()}"
        )
    last = move.date - timedelta(days=1)
    why = tuple(_unproven(case, challenge.start, last))
    if whole:
        if why:
            raise InputError("", f"that the old diet does nothing is not shown: {'; '.join(why)}")
        return Made(move=move)
    if why:
        return Made(move=move, verdict=Verdict.UNSURE, confidence=Confidence.LOW, grounds=why)
    logged = of_days(by_day(case.entries, case.main), challenge.start, last)
    all_logged = len(logged) >= days
    sure = Confidence.HIGH if all_logged else Confidence.MEDIUM
    if case.state.disturbances:
        sure = _LESS_SURE[sure]
    return Made(move=move, verdict=Verdict.TOLERATED, confidence=sure, grounds=(f"{days} days, no flare",))  # fmt: skip


def _unproven(case: TrialCase, first: date, last: date) -> Iterator[str]:
    """Why no flare in a time does not show that a food is tolerated."""
    name = case.main
    if not case.move.full:
        yield "not all of it was eaten each day"
    if not is_logged(case.rules, by_day(case.entries, name), first, last):
        yield f"{name} was not put down on enough days"
    yield from _disturbed_by(case, first, case.move.date)


def _clear(case: TrialCase) -> Made:
    """As before again. Refused while the log does not show it."""
    move, state, rules = case.move, case.state, case.rules
    if state.alarm and not move.vet:
        raise InputError("vet", "the dog swelled: the veterinarian says when it is clear")
    if state.phase is Phase.WASHOUT:
        ready = state.since + timedelta(days=rules.washout_days)
        if move.date < ready:
            raise InputError("date", f"the washout takes {rules.washout_days} days: not before {ready.isoformat()}")  # fmt: skip
    until = state.calm if state.phase is not Phase.TRIAL else None
    if until is None:
        late = late_signs(case)
        slipped = state.slipped or (late[0] if late else state.since)
        until = slipped - timedelta(days=1)
    why = tuple(_not_as_before(case, until, move.date))
    if why:
        raise InputError("", f"it is not as before: {'; '.join(why)}")
    challenge = state.challenge
    if state.phase is not Phase.WASHOUT or challenge is None:
        return Made(move=move)
    if not challenge.flared:
        return _late(case, challenge)
    old = state.verdicts[food_key(challenge.food)]
    proven = old.verdict is Verdict.LIKELY and challenge.in_log
    if proven and not (challenge.staple and old.flares < 2):
        sure = Confidence.HIGH if old.flares >= 2 else Confidence.MEDIUM
        if state.disturbances:
            sure = _LESS_SURE[sure]
        return Made(move=move, verdict=Verdict.REACTS, confidence=sure, grounds=(*old.grounds, "clear again without it"))  # fmt: skip
    return Made(move=move)


def _late(case: TrialCase, challenge: Challenge) -> Made:
    """A flare after a food was taken out again: it does not count as tolerated any more."""
    found = flare(case.rules, case.entries, challenge.start, case.move.date)
    if not found:
        return Made(move=case.move)
    return Made(
        move=case.move, verdict=Verdict.UNSURE, confidence=Confidence.LOW,
        grounds=(f"{found[0].words} on {found[0].date.isoformat()}, after it was taken out",),
        severe=any(g.severe for g in found),
    )  # fmt: skip


def _not_as_before(case: TrialCase, until: date, on: date) -> Iterator[str]:
    """What is worse in the week that ends on a day than in the one that ended with another."""
    needed = case.main
    for name in ("itch", "stool"):
        values = by_day(case.entries, name)
        middle = name == "stool"
        was = week_mean(case.rules, values, until, middle)
        now = week_mean(case.rules, values, on, middle)
        if now is None or was is None:
            if name == needed:
                which = "the last" if now is None else "those"
                yield f"{name} was put down on too few of {which} {case.rules.mean_days} days"
            continue
        if now > was * (1 + case.rules.clear_within) + 1e-9:
            yield f"{name} is {now:.1f}, it was {was:.1f}"
