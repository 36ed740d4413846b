"""What is due of a case, when, for whom and why: nothing here asks what day it is."""

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

from ..dog.life_stage import Stage, life_stage_of
from ..dog.record import CaseRecord
from ..dossier.reference import Reference
from ..errors import InputError
from ..followup.entry import DayEntry
from ..followup.laboratory import LabSeries
from ..followup.trial_now import TrialDue
from ..release.states import ReleaseState
from ..targets.conditions import Condition, stage_of
from .reopen import OffPath, reopens

# So many values are told of one dog at once; so long is why.
MOST_TOLD = 3
MOST_WHY = 500


class Holder(StrEnum):
    """Who holds what is due."""

    PRACTICE = "practice"
    VET = "vet"
    OWNER = "owner"


class DueKind(StrEnum):
    """What is due."""

    SYMPTOM = "symptom"
    WEIGH = "weigh"
    VET_VISIT = "vet-visit"
    LABORATORY = "laboratory"
    TRIAL = "trial"
    COOK = "cook"
    AMOUNT = "amount"
    SIGNATURE = "signature"
    ISSUE = "issue"
    DRAFT = "draft"
    REOPEN = "reopen"
    DATA = "data"
    PLAN_AGE = "plan-age"
    SWAPPED = "swapped"
    SHEET = "sheet"


class DuePlace(StrEnum):
    """Where it is done."""

    INTAKE = "intake"
    BENCH = "bench"
    CHECKS = "checks"
    KITCHEN = "kitchen"
    FOLLOW = "follow"


@dataclass(frozen=True, kw_only=True)
class Due:
    """Something that is due. what: verb first; recipe: whose bench or checks, None elsewhere."""

    kind: DueKind
    holder: Holder
    on: date
    what: str
    why: str
    place: DuePlace
    recipe: int | None = None


@dataclass(frozen=True, kw_only=True)
class Standing:
    """A recipe on its way out, or out: since when it is so."""

    recipe: int
    name: str
    state: ReleaseState
    since: date


@dataclass(frozen=True, kw_only=True)
class Asked:
    """A vet who was asked to sign, and until when the address opens."""

    recipe: int
    vet: str
    on: date
    until: date


@dataclass(frozen=True, kw_only=True)
class Moved:
    """A plan that is out and would be judged otherwise on today's data. since: when that was seen first; words: what."""

    recipe: int
    name: str
    since: date
    words: str


@dataclass(frozen=True, kw_only=True)
class OwnersSheet:
    """The sheet that the owner fills in. asked: when it was asked of her, None where no address opens any more; sent: when she
    sent the first one of which answers wait; waiting: how many do; answered: she sent one since it was asked."""

    asked: date | None = None
    sent: date | None = None
    waiting: int = 0
    answered: bool = False


@dataclass(frozen=True, kw_only=True)
class CaseFacts:
    """All that is known of a case that can make something due. begun: of the case; done: when a kind was last done, as
    somebody said; told: the reasons of what it was said of; moved: what data changed of plans that are out; off_path: of the last weight; runs_out: the last day that is cooked for; proposal: another amount, in words; flags: of the last days, for
    the vet."""

    record: CaseRecord
    begun: date
    standings: Sequence[Standing] = ()
    asked: Sequence[Asked] = ()
    entries: Sequence[DayEntry] = ()
    series: Sequence[LabSeries] = ()
    trial: Sequence[TrialDue] = ()
    runs_out: date | None = None
    proposal: str = ""
    flags: Sequence[str] = ()
    done: Mapping[DueKind, date] | None = None
    told: Mapping[DueKind, Collection[str]] | None = None
    moved: Sequence[Moved] = ()
    off_path: OffPath | None = None
    sheet: OwnersSheet = OwnersSheet()


def due_of(reference: Reference, facts: CaseFacts) -> tuple[Due, ...]:
    """All that is or will be due of a case, the first first."""
    found = [
        *_symptoms(facts), *_weigh(reference, facts), *_vet(reference, facts), *_laboratory(reference, facts),
        *_reopen(reference, facts), *_moved(facts), *_trial(facts), *_cook(facts), *_amount(facts), *_releases(reference, facts), *_swapped(reference, facts), *_sheet(facts),
    ]  # fmt: skip
    return tuple(sorted(found, key=lambda d: (d.on, list(DueKind).index(d.kind))))


def _issued(facts: CaseFacts) -> Standing | None:
    """The plan that is fed: the one issued last."""
    issued = [s for s in facts.standings if s.state is ReleaseState.ISSUED]
    return max(issued, key=lambda s: s.since, default=None)


def _done(facts: CaseFacts, kind: DueKind) -> date:
    return (facts.done or {}).get(kind, date.min)


def _symptoms(facts: CaseFacts) -> Iterator[Due]:
    last = max((e.date for e in facts.entries), default=None)
    if last is None or last <= _done(facts, DueKind.SYMPTOM):
        return
    for words in facts.flags[:1]:
        more = f" and {len(facts.flags) - 1} more" if len(facts.flags) > 1 else ""
        yield Due(
            kind=DueKind.SYMPTOM, holder=Holder.PRACTICE, on=last, place=DuePlace.FOLLOW,
            what="Ask the vet to see it", why=f"{words}{more}",
        )  # fmt: skip


def _weigh(reference: Reference, facts: CaseFacts) -> Iterator[Due]:
    issued = _issued(facts)
    if issued is None:
        return
    rules, dog = reference.rechecks, facts.record.dog
    weighed = [e.date for e in facts.entries if e.weight_kg is not None and e.date > issued.since]
    words, days = _weighing(reference, facts.record)
    if not weighed:
        days = min(days, rules.weigh["first_days"])
        why = f"no weight since “{issued.name}” was issued on {issued.since.isoformat()}"
    else:
        why = f"last on {max(weighed).isoformat()}; every {days} days {words}"
    yield Due(
        kind=DueKind.WEIGH, holder=Holder.OWNER, place=DuePlace.FOLLOW,
        on=max([issued.since, *weighed]) + timedelta(days=days), what=f"Weigh {dog.name}",
        why=f"{why} ({rules.weigh_source})",
    )  # fmt: skip


def _weighing(reference: Reference, record: CaseRecord) -> tuple[str, int]:
    """How often a dog is weighed, and of what."""
    days, dog = reference.rechecks.weigh, record.dog
    stage = life_stage_of(reference.life_stages, dog, _conditions(reference, record))
    if stage is Stage.GROWTH:
        early = dog.age_months is not None and dog.age_months < 4
        return "while it grows", days["growing_to_4_months" if early else "growing"]
    if stage in (Stage.GESTATION, Stage.LACTATION):
        return "while it breeds", days["breeding"]
    if dog.ideal_weight_kg is not None and dog.weight_kg > dog.ideal_weight_kg * 1.02:
        return "while it is to lose weight", days["loss"]
    if stage is Stage.SENIOR:
        return "as a senior", days["senior"]
    return "as an adult", days["adult"]


def _conditions(reference: Reference, record: CaseRecord) -> list[Condition]:
    return [reference.conditions[d.id] for d in record.conditions if d.id in reference.conditions]


def _staged(reference: Reference, record: CaseRecord) -> Iterator[tuple[Condition, str]]:
    """The conditions of a dog, each with its stage, "" where it is not said."""
    for diagnosis in record.conditions:
        condition = reference.conditions.get(diagnosis.id)
        if condition is not None:
            try:
                yield condition, stage_of(condition, diagnosis.stage)
            except InputError:
                yield condition, ""


def _vet(reference: Reference, facts: CaseFacts) -> Iterator[Due]:
    issued = _issued(facts)
    if issued is None:
        return
    rules, record = reference.rechecks, facts.record
    # A stage that nobody said is taken as the one that is seen soonest.
    asked = [
        (c.recheck_days.get(stage, min(c.recheck_days.values())), c.name, c.source)
        for c, stage in _staged(reference, record)
        if c.recheck_days
    ]
    if asked:
        days, name, source = min(asked)
    else:
        stage = life_stage_of(reference.life_stages, record.dog, ())
        key = {Stage.GROWTH: "growing", Stage.SENIOR: "senior"}.get(stage, "adult")
        days, name, source = rules.vet[key], f"a dog that is {key}", rules.vet_source
    seen = _done(facts, DueKind.VET_VISIT)
    if seen < issued.since:
        if asked:
            days = min(days, rules.after_change_days)
        why = f"within {days} days of another recipe: {name}"
    else:
        why = f"last on {seen.isoformat()}; every {days} days: {name}"
    yield Due(
        kind=DueKind.VET_VISIT, holder=Holder.VET, place=DuePlace.FOLLOW,
        on=max(issued.since, seen) + timedelta(days=days), what="Recheck by the vet",
        why=f"{why} ({source})",
    )  # fmt: skip


def _laboratory(reference: Reference, facts: CaseFacts) -> Iterator[Due]:
    """Values that open the plan again before those that are only out of the range of their own report."""
    stages = {c.id: stage for c, stage in _staged(reference, facts.record)}
    opening, outside = [], []
    for series in facts.series:
        if series.points[-1].date <= _done(facts, DueKind.LABORATORY):
            continue
        if _opens(reference, stages, series):
            opening.append(series)
        elif series.outside:
            outside.append(series)
    told = opening or outside
    if told:
        yield Due(
            kind=DueKind.LABORATORY, holder=Holder.PRACTICE, place=DuePlace.FOLLOW,
            on=min(s.points[-1].date for s in told),
            what="See whether the plan still holds" if opening else "Ask the vet what it means",
            why="; ".join(map(_value_words, told[:MOST_TOLD])),
        )  # fmt: skip


def _opens(reference: Reference, stages: Mapping[str, str], series: LabSeries) -> bool:
    last = series.points[-1].value
    before = series.points[-2].value if len(series.points) > 1 else None
    return any(
        t.test == series.test and t.condition in stages and t.crossed(last, before)
        and (not t.stages or stages[t.condition] in t.stages)
        for t in reference.rechecks.laboratory
    )  # fmt: skip


def _value_words(series: LabSeries) -> str:
    last = series.points[-1]
    once = " (one reading: a plan waits for a second)" if series.once else ""
    return f"{series.name} {last.printed} on {last.date.isoformat()}{once}"


def _reopen(reference: Reference, facts: CaseFacts) -> Iterator[Due]:
    """What was put down since the plan was issued, or was looked at."""
    issued = _issued(facts)
    if issued is None:
        return
    since = max(issued.since, _done(facts, DueKind.REOPEN))
    conditions = {c.id for c, _ in _staged(reference, facts.record)}
    found = reopens(
        reference.rechecks.signs, conditions, [e for e in facts.entries if e.date > since],
        [e for e in facts.entries if e.date <= since],
        facts.off_path if facts.off_path and facts.off_path.date > since else None,
    )  # fmt: skip
    if found:
        yield Due(
            kind=DueKind.REOPEN, holder=Holder.PRACTICE, on=found[0].date, place=DuePlace.FOLLOW,
            what="See whether the plan still holds",
            why=f"{'; '.join(x.words for x in found)} ({reference.rechecks.signs.source})",
        )  # fmt: skip


# A practice convention: by then somebody asks again.
SHEET_DAYS = 5


def _sheet(facts: CaseFacts) -> Iterator[Due]:
    sheet, dog = facts.sheet, facts.record.dog.name
    if sheet.sent is not None and sheet.waiting:
        waits = "1 answer waits" if sheet.waiting == 1 else f"{sheet.waiting} answers wait"
        yield Due(
            kind=DueKind.SHEET, holder=Holder.PRACTICE, on=sheet.sent, place=DuePlace.INTAKE,
            what="Look through the owner’s sheet", why=f"{waits}: none of it counts before",
        )  # fmt: skip
    elif sheet.asked is not None and not sheet.answered:
        yield Due(
            kind=DueKind.SHEET, holder=Holder.OWNER, place=DuePlace.INTAKE,
            on=sheet.asked + timedelta(days=SHEET_DAYS), what=f"Fill the sheet about {dog} in",
            why=f"asked on {sheet.asked.isoformat()}",
        )  # fmt: skip


def _moved(facts: CaseFacts) -> Iterator[Due]:
    """What was looked at already is not told again until it is something else."""
    for moved in facts.moved:
        why = f"“{moved.name}”: {moved.words}"[:MOST_WHY]
        if why not in (facts.told or {}).get(DueKind.DATA, ()):
            yield Due(
                kind=DueKind.DATA, holder=Holder.PRACTICE, on=moved.since, place=DuePlace.CHECKS,
                what="See what today’s data change in the plan", why=why, recipe=moved.recipe,
            )  # fmt: skip


def _trial(facts: CaseFacts) -> Iterator[Due]:
    for due in facts.trial:
        yield Due(
            kind=DueKind.TRIAL, holder=Holder.PRACTICE, on=due.date, place=DuePlace.FOLLOW,
            what="See to the trial", why=due.words,
        )  # fmt: skip


def _cook(facts: CaseFacts) -> Iterator[Due]:
    if facts.runs_out is not None:
        yield Due(
            kind=DueKind.COOK, holder=Holder.OWNER, on=facts.runs_out - timedelta(days=2),
            place=DuePlace.KITCHEN, what="Cook again",
            why=f"what is cooked lasts until {facts.runs_out.isoformat()}",
        )  # fmt: skip


def _amount(facts: CaseFacts) -> Iterator[Due]:
    last = max((e.date for e in facts.entries), default=None)
    if facts.proposal and last is not None and last > _done(facts, DueKind.AMOUNT):
        yield Due(
            kind=DueKind.AMOUNT, holder=Holder.PRACTICE, on=last, place=DuePlace.FOLLOW,
            what="Decide on another amount", why=facts.proposal,
        )  # fmt: skip


DRAFT_DAYS = 7
_MOVES = {
    ReleaseState.CHECKED: (DueKind.SIGNATURE, "Send it to the vet"),
    ReleaseState.APPROVED: (DueKind.ISSUE, "Issue it to the owner"),
}


def _releases(reference: Reference, facts: CaseFacts) -> Iterator[Due]:
    rules = reference.rechecks
    fed = _issued(facts) is not None
    for standing in facts.standings:
        here, number = DuePlace.CHECKS, standing.recipe
        if standing.state is ReleaseState.WITH_VET:
            asked = next((a for a in facts.asked if a.recipe == standing.recipe), None)
            on = asked.until if asked else standing.since
            who = asked.vet if asked else "the vet"
            yield Due(
                kind=DueKind.SIGNATURE, holder=Holder.VET, on=on, what=f"{who} has “{standing.name}”",
                why=f"sent on {standing.since.isoformat()}", place=here, recipe=number,
            )  # fmt: skip
        elif standing.state in _MOVES:
            kind, what = _MOVES[standing.state]
            yield Due(
                kind=kind, holder=Holder.PRACTICE, on=standing.since, what=what,
                why=f"“{standing.name}” is {standing.state.value} since {standing.since.isoformat()}", place=here, recipe=number,
            )  # fmt: skip
        elif standing.state is ReleaseState.DRAFT and not fed:
            yield Due(
                kind=DueKind.DRAFT, holder=Holder.PRACTICE, recipe=standing.recipe, place=DuePlace.BENCH,
                on=standing.since + timedelta(days=DRAFT_DAYS), what="Go on with the draft",
                why=f"“{standing.name}” lies open since {standing.since.isoformat()}",
            )  # fmt: skip
        elif standing.state is ReleaseState.ISSUED:
            looked = max(standing.since, _done(facts, DueKind.PLAN_AGE))
            yield Due(
                kind=DueKind.PLAN_AGE, holder=Holder.PRACTICE, what="Look the plan through",
                on=looked + timedelta(days=rules.plan_days),
                why=f"“{standing.name}” was issued on {standing.since.isoformat()}", place=here, recipe=number,
            )  # fmt: skip


def _swapped(reference: Reference, facts: CaseFacts) -> Iterator[Due]:
    issued = _issued(facts)
    since = max(_done(facts, DueKind.SWAPPED), issued.since if issued else date.min)
    days = sorted({e.date for e in facts.entries if e.changed and e.date > since})
    if len(days) > reference.rechecks.changed_days:
        last = next(e.changed for e in reversed(facts.entries) if e.changed and e.date == days[-1])
        yield Due(
            kind=DueKind.SWAPPED, holder=Holder.PRACTICE, on=days[-1], place=DuePlace.FOLLOW,
            what="See what is really fed",
            why=f"changed on {len(days)} days since {days[0].isoformat()}; last: {last}",
        )  # fmt: skip
