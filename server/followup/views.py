"""What follows a plan, from outside."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from enum import StrEnum

from accounts.conventions import ConventionsView, conventions_view
from cases.models import Case
from cases.queries import conventions_for, record_energy
from cases.records import record_of
from django.utils import timezone
from kitchen.models import Batch
from library.facts import reference
from release.models import ReleaseMove
from wainscot_core.boundary import read
from wainscot_core.dog.record import CaseRecord
from wainscot_core.errors import InputError
from wainscot_core.followup.entry import DayEntry, PlanSince, kcal_of, log_of
from wainscot_core.followup.laboratory import LabSeries, LabValue, series_of
from wainscot_core.followup.maintenance import unwritten
from wainscot_core.followup.signals import red_flags
from wainscot_core.followup.trend import Trend, trend
from wainscot_core.followup.trial import Made, TrialPlan, TrialRecord, state_of
from wainscot_core.followup.trial_now import TrialNow, trial_now
from wainscot_core.release.states import ReleaseState

from .models import FollowEntry, FollowTrial, LabResult


@dataclass(frozen=True, kw_only=True)
class FollowEntryView:
    """A day as it was put down: when, by whom; struck: it does not count; fed_kcal: what was fed on it, None where it does
    not say."""

    id: int
    version: int
    at: datetime
    by: str
    struck: bool
    fed_kcal: float | None
    entry: DayEntry


@dataclass(frozen=True, kw_only=True)
class TrialView:
    """An elimination trial. made: what was done, in that order; unwritten: foods of which the case does not say yet what
    it showed."""

    id: int
    version: int
    plan: TrialPlan
    made: tuple[Made, ...]
    now: TrialNow
    unwritten: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class LabView:
    """A laboratory value as it was put down; struck: it does not count."""

    id: int
    version: int
    by: str
    struck: bool
    value: LabValue


class MarkKind(StrEnum):
    """What happened on a day beside what was put down of it."""

    SIGNED = "signed"
    ISSUED = "issued"
    BATCH = "batch"


@dataclass(frozen=True, kw_only=True)
class FollowMark:
    """Something that happened, to be shown beside what was put down."""

    date: date
    kind: MarkKind
    words: str


@dataclass(frozen=True, kw_only=True)
class FollowView:
    """A case after its plan was issued. entries: the newest first; flags: what of the last days is for the veterinarian;
    trials, labs: the newest first; series: what those that count say; marks: versions that were signed or issued, batches that were cooked; plan_kcal: that its plan gives a day; plans: what those that were issued gave, the oldest first; trend: what they say, None where nothing can be said
    yet, and why."""

    entries: tuple[FollowEntryView, ...]
    flags: tuple[str, ...]
    trials: tuple[TrialView, ...]
    marks: tuple[FollowMark, ...]
    labs: tuple[LabView, ...]
    series: tuple[LabSeries, ...]
    plan_kcal: float | None
    plans: tuple[PlanSince, ...]
    trend: Trend | None
    why: str


def follow_view(case: Case) -> FollowView:
    """What is put down of a case, and what it says."""
    rows = list(FollowEntry.objects.for_practice(case.practice).filter(case=case))
    read_rows = [(row, read(DayEntry, row.data)) for row in rows]
    record, today = record_of(case), timezone.localdate()
    # In the order in which they were put down.
    counted = [entry for row, entry in reversed(read_rows) if not row.struck]
    flags = red_flags(reference().trials.red_flags, counted, today)
    trials = tuple(
        _trial(row, record, counted)
        for row in FollowTrial.objects.for_practice(case.practice).filter(case=case)
    )
    marks = tuple(_marks(case))
    labs = tuple(
        LabView(
            id=row.pk, version=row.version, by=row.by, struck=row.struck,
            value=read(LabValue, row.data),
        )
        for row in LabResult.objects.for_practice(case.practice).filter(case=case)
    )  # fmt: skip
    plan_kcal, found, why = None, None, "no weight is put down yet"
    issued = _issued_kcal(case)
    try:
        plan_kcal = record_energy(record).target_kcal
    except InputError as error:
        why = f"its energy is not known: {error.message}"
    if plan_kcal is not None and any(e.weight_kg is not None for e in counted):
        try:
            plans = [row.plan_kcal for row in reversed(rows) if not row.struck]
            log = log_of(record, counted, plans, plan_kcal, issued)
            held = f"{flags[0]}: the veterinarian looks at this first" if flags else ""
            found, why = trend(reference(), log, today, held), ""
        except InputError as error:
            why = error.message
    entries = tuple(_entry(row, entry, plan_kcal) for row, entry in read_rows)
    return FollowView(
        entries=entries, flags=flags, trials=trials, marks=marks, labs=labs,
        series=series_of(
            reference().laboratory, [lab.value for lab in reversed(labs) if not lab.struck]
        ),
        plan_kcal=plan_kcal, plans=issued, trend=found, why=why,
    )  # fmt: skip


def plan_kcal_on(case: Case, day: date) -> float | None:
    """What a case's plan gives on a day: that of the version which was issued by then, else of the case as it is now; None
    where its energy cannot be computed."""
    before = [plan.kcal for plan in _issued_kcal(case) if plan.since <= day]
    if before:
        return before[-1]
    try:
        return record_energy(record_of(case)).target_kcal
    except InputError:
        return None


def _issued_kcal(case: Case) -> tuple[PlanSince, ...]:
    """What the versions that were issued gave a day, each from its day on, the oldest first."""
    moves = (
        ReleaseMove.objects.filter(release__recipe__case=case, after=ReleaseState.ISSUED.value)
        .select_related("release__frozen__snapshot")
        .order_by("at", "pk")
    )
    return tuple(
        PlanSince(
            since=timezone.localdate(move.at),
            kcal=move.release.frozen.snapshot.kept.energy.target_kcal,
        )
        for move in moves
        if move.release.frozen and move.release.frozen.snapshot
    )


def _marks(case: Case) -> Iterator[FollowMark]:
    moves = ReleaseMove.objects.filter(
        release__recipe__case=case,
        after__in=(ReleaseState.APPROVED.value, ReleaseState.ISSUED.value),
    )
    for move in moves.select_related("release__recipe"):
        words, kind = f"{move.release.recipe.name}, version {move.number}", MarkKind.ISSUED
        if move.after == ReleaseState.APPROVED.value:
            words, kind = f"{words}, signed by {move.by}", MarkKind.SIGNED
        yield FollowMark(date=timezone.localdate(move.at), kind=kind, words=words)
    batches = Batch.objects.for_practice(case.practice).filter(recipe__case=case, thrown="")
    for batch in batches.filter(cook_on__lte=timezone.localdate()):
        yield FollowMark(date=batch.cook_on, kind=MarkKind.BATCH, words=f"batch {batch.code}")


def _trial(row: FollowTrial, record: CaseRecord, counted: Sequence[DayEntry]) -> TrialView:
    rules, trial = reference().trials, read(TrialRecord, row.data)
    return TrialView(
        id=row.pk, version=row.version, plan=trial.plan, made=trial.made,
        now=trial_now(rules, trial, counted, timezone.localdate()),
        unwritten=unwritten(record, state_of(rules, trial)),
    )  # fmt: skip


def _entry(row: FollowEntry, entry: DayEntry, plan_kcal: float | None) -> FollowEntryView:
    plan = row.plan_kcal or plan_kcal
    return FollowEntryView(
        id=row.pk, version=row.version, at=row.created, by=row.by, struck=row.struck,
        fed_kcal=entry.kcal_fed if plan is None else kcal_of(entry, plan), entry=entry,
    )  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class DiaryDay:
    """A day that is in a diary already, and its weight, kg."""

    date: date
    weight_kg: float | None


@dataclass(frozen=True, kw_only=True)
class DiaryView:
    """A dog's diary as its owner sees it: nothing of the case but the dog's name, who is asked, the last days that were
    put down, and what of them is for the veterinarian at once."""

    dog: str
    practice: str
    flags: tuple[str, ...]
    days: tuple[DiaryDay, ...]
    conventions: ConventionsView


LAST_DAYS = 10


def diary_view(case: Case) -> DiaryView:
    """The diary of a case for its owner."""
    rows = FollowEntry.objects.for_practice(case.practice).filter(case=case, struck=False)
    return DiaryView(
        dog=case.dog.name, practice=case.practice.name, flags=red_flags(
            reference().trials.red_flags, [read(DayEntry, row.data) for row in rows[:LAST_DAYS]],
            timezone.localdate(),
        ),
        days=tuple(
            DiaryDay(date=row.day, weight_kg=row.data.get("weight_kg")) for row in rows[:LAST_DAYS]
        ),
        conventions=conventions_view(conventions_for(case.dog.client)),
    )  # fmt: skip
