"""Writes to an elimination trial."""

from dataclasses import dataclass, replace

from accounts.scoping import Actor, find_own, looked_at
from cases.actions import change_fields
from cases.models import Case
from cases.records import plain_data, record_of
from django.db import transaction
from django.utils import timezone
from events.log import log
from events.models import EventKind
from library.facts import reference
from wainscot_core.boundary import Name80, Whole, dump, read
from wainscot_core.changes import FieldChange
from wainscot_core.errors import InputError
from wainscot_core.followup.entry import DayEntry
from wainscot_core.followup.maintenance import verdict_of, with_verdict
from wainscot_core.followup.trial import (
    MoveKind,
    Phase,
    TrialMove,
    TrialPlan,
    TrialRecord,
    food_key,
    state_of,
)
from wainscot_core.followup.trial_moves import make, take_back

from .models import FollowTrial
from .views import follow_view

MOST_TRIALS = 40


@dataclass(frozen=True, kw_only=True)
class TrialIn:
    """A trial to begin."""

    plan: TrialPlan


@transaction.atomic
def start_trial(who: Actor, pk: int, asked: TrialIn) -> Case:
    """Begin a trial of a case. Raises InputError where one is running, or for a plan that cannot be."""
    case = find_own(Case, who.practice, "dog__client__practice", "practice", lock=True, pk=pk)
    plan = asked.plan
    if case.trials.filter(open=True).exists():
        raise InputError("", "a trial is running: end it first")
    if case.trials.count() >= MOST_TRIALS:
        raise InputError("", f"a case holds at most {MOST_TRIALS} trials")
    if plan.started > timezone.localdate():
        raise InputError("started", f"{plan.started.isoformat()} is still to come")
    if (timezone.localdate() - plan.started).days > 366:
        raise InputError("started", "is more than a year ago")
    twice = {food_key(f) for f in plan.diet} & {food_key(f) for f in plan.severe}
    if twice:
        raise InputError("diet", f"the dog swelled or collapsed after {', '.join(sorted(twice))}")
    trial = FollowTrial.objects.create(
        practice=who.practice, case=case, data=dump(TrialRecord(plan=plan))
    )
    foods = ", ".join(plan.diet)
    log(who, EventKind.TRIAL_STARTED, case.pk, trial.pk, foods=foods)
    return case


@dataclass(frozen=True, kw_only=True)
class TrialMoveIn:
    """What is done. version: of the trial as it was looked at."""

    move: TrialMove
    version: Whole


@transaction.atomic
def move_trial(who: Actor, pk: int, asked: TrialMoveIn) -> Case:
    """Do one thing more in a trial. Raises InputError that says why it is refused, StaleWriteError."""
    trial, case = _looked_at(who, pk, asked.version)
    record = make(
        reference().trials, read(TrialRecord, trial.data), counted_days(case), asked.move,
        timezone.localdate(),
    )  # fmt: skip
    _keep(trial, record)
    log(
        who, EventKind.TRIAL_MOVED, case.pk, trial.pk, day=asked.move.date.isoformat(),
        what=_said(asked.move),
    )  # fmt: skip
    return case


@dataclass(frozen=True, kw_only=True)
class TrialTakeBackIn:
    """Take the last of it back. version: of the trial as it was looked at."""

    version: Whole


@transaction.atomic
def undo_move(who: Actor, pk: int, asked: TrialTakeBackIn) -> Case:
    """Take the last move back; an ended trial goes on. Raises InputError where there is none, StaleWriteError."""
    trial, case = _looked_at(who, pk, asked.version)
    before = read(TrialRecord, trial.data)
    record = take_back(before)
    if not trial.open and case.trials.filter(open=True).exists():
        raise InputError("", "another trial is running: end it first")
    _keep(trial, record)
    log(who, EventKind.TRIAL_MOVE_UNDONE, case.pk, trial.pk, what=_said(before.made[-1].move))
    return case


@dataclass(frozen=True, kw_only=True)
class TrialVerdictIn:
    """A food of which the case is to say what the trial showed. version: of the trial as it was looked at."""

    food: Name80
    version: Whole


@transaction.atomic
def write_verdict(who: Actor, pk: int, asked: TrialVerdictIn) -> Case:
    """Put what a food did into the case. Raises InputError where it was not tried, or changes nothing; StaleWriteError."""
    trial, case = _looked_at(who, pk, asked.version)
    state = state_of(reference().trials, read(TrialRecord, trial.data))
    record = record_of(case)
    new = with_verdict(record, state, verdict_of(state, asked.food))
    if new == record:
        raise InputError("food", "changes nothing in the case")
    was = plain_data(case)["reactions"]
    now = dump(replace(record, reactions=new.reactions))["reactions"]
    return change_fields(who, case.pk, (FieldChange(path="reactions", was=was, value=now),))


def _looked_at(who: Actor, pk: int, version: int) -> tuple[FollowTrial, Case]:
    trial = find_own(FollowTrial, who.practice, "case", lock=True, pk=pk)
    case = find_own(Case, who.practice, "dog__client__practice", "practice", pk=trial.case_id)
    looked_at(trial, version, lambda: follow_view(case))
    return trial, case


def _keep(trial: FollowTrial, record: TrialRecord) -> None:
    trial.data = dump(record)
    trial.open = state_of(reference().trials, record).phase is not Phase.ENDED
    trial.version += 1
    trial.save()


def counted_days(case: Case) -> tuple[DayEntry, ...]:
    """The days of a case that count, in the order in which they were put down."""
    rows = case.follow_entries.filter(struck=False).order_by("pk")
    return tuple(read(DayEntry, row.data) for row in rows)


_SAID = {
    MoveKind.CHANGE_OVER: "change-over began", MoveKind.FEED: "nothing but the diet from now on",
    MoveKind.EXPOSURE: "{} slipped in", MoveKind.DISTURBANCE: "{}", MoveKind.READ: "read",
    MoveKind.PROVOKE: "the old diet is back", MoveKind.ITEM: "{} is tried", MoveKind.FLARE: "a flare, stopped",
    MoveKind.PASS: "ended without a flare", MoveKind.CLEAR: "as before again", MoveKind.FINISH: "finished",
    MoveKind.STOP: "stopped",
}  # fmt: skip


def _said(move: TrialMove) -> str:
    about = (
        move.disturbance.value
        if move.kind is MoveKind.DISTURBANCE and move.disturbance
        else move.food
    )
    return _SAID[move.kind].format(about + (" is over" if move.over else ""))
