"""Read an elimination trial by its log: whether its baseline says something, and what the diet did."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from ..errors import InputError
from ..facts.trials import LengthRules, TrialKind, TrialRules
from .entry import DayEntry
from .signals import by_day, flare, of_days, week_mean
from .trial import Disturbance, Made, Outcome, Phase, TrialMove, TrialPlan, TrialState


@dataclass(frozen=True)
class TrialCase:
    """All that a move is judged by."""

    rules: TrialRules
    plan: TrialPlan
    state: TrialState
    entries: Sequence[DayEntry]
    move: TrialMove

    @property
    def length(self) -> LengthRules:
        """How long its kind of trial takes."""
        return self.rules.lengths[self.plan.kind]

    @property
    def main(self) -> str:
        """The score by which its kind of trial is told."""
        return "itch" if self.plan.kind is TrialKind.SKIN else "stool"


def begun(case: TrialCase) -> Made:
    """The baseline is long enough and says something."""
    rules, plan, on = case.rules, case.plan, case.move.date
    if case.state.phase is not Phase.BASELINE:
        return Made(move=case.move)
    days = (on - plan.started).days
    if days < rules.baseline_days:
        ready = plan.started + timedelta(days=rules.baseline_days)
        raise InputError("date", f"the baseline takes {rules.baseline_days} days: not before {ready.isoformat()}")  # fmt: skip
    new = [
        d for kind, d, _ in case.state.disturbances
        if kind in (Disturbance.MEDICINE, Disturbance.MASKING) and (on - d).days < rules.quiet_days
    ]  # fmt: skip
    if new:
        ready = max(new) + timedelta(days=rules.quiet_days)
        raise InputError("date", f"a medicine is new: the baseline says nothing before {ready.isoformat()}")  # fmt: skip
    name = case.main
    values = of_days(by_day(case.entries, name), plan.started, on - timedelta(days=1))
    if len(values) < rules.baseline_logged:
        raise InputError(
            "", f"{name} was put down on {len(values)} days of the baseline: {rules.baseline_logged} are needed"
        )  # fmt: skip
    signs = tuple(_troubles(case, plan.started, on - timedelta(days=1)))
    if not signs:
        raise InputError("", "the baseline shows no trouble that a diet could be seen to mend: ask the veterinarian")  # fmt: skip
    return Made(move=case.move, grounds=signs)


def _mean(case: TrialCase, name: str, first: date, last: date) -> float | None:
    found = of_days(by_day(case.entries, name), first, last)
    return sum(found) / len(found) if found else None


def _troubles(case: TrialCase, first: date, last: date) -> Iterator[str]:
    """What is amiss in the baseline, and by how much."""
    if case.plan.kind is TrialKind.SKIN:
        itch = _mean(case, "itch", first, last)
        if itch is not None and itch >= case.rules.skin.well_under:
            yield f"itch {itch:.1f} of 10"
        return
    gut = case.rules.gut
    for name, most, words in (
        ("stool", gut.well_stool, "stool {:.1f} of 7"), ("stools", gut.usual_stools, "{:.1f} stools a day"),
        ("vomiting", gut.usual_vomiting / 7, "vomiting {:.1f} times a day"),
    ):  # fmt: skip
        mean = _mean(case, name, first, last)
        if mean is not None and mean > most:
            yield words.format(mean)


def read_trial(case: TrialCase) -> Made:
    """What the trial showed. Refused before it can be read."""
    rules, state, length, on = case.rules, case.state, case.length, case.move.date
    if state.alarm:
        raise InputError("", "the dog swelled: the veterinarian sees it before anything is read")
    if state.clock is None:
        raise InputError("", "there were signs after a slip: wait until it is clear again, the clock starts from then")  # fmt: skip
    days = (on - state.clock).days
    if days < rules.never_before_days:
        ready = state.clock + timedelta(days=length.least_days)
        raise InputError("date", f"{days} days of nothing else say nothing: it is read on {ready.isoformat()}")  # fmt: skip
    _no_late_signs(case)
    masked = _masked_until(case)
    if masked is None:
        raise InputError("", "a medicine that masks itch is given: it cannot be read. Whether it can be left off is the vet's to say")  # fmt: skip
    if on < masked:
        raise InputError("date", f"a medicine that masks itch was given: it cannot be read before {masked.isoformat()}")  # fmt: skip
    least = length.again_days if state.outcome is Outcome.PARTIAL else length.least_days
    outcome, grounds = outcome_of(case)
    if days < least and not (case.move.vet and outcome is Outcome.RESPONSE):
        ready = state.clock + timedelta(days=least)
        raise InputError(
            "date", f"it takes {least} days of nothing else and is read on {ready.isoformat()}; only a response can be "
            "read sooner, when the vet says so"
        )  # fmt: skip
    return Made(move=case.move, outcome=outcome, grounds=grounds)


def late_signs(case: TrialCase) -> tuple[date, str] | None:
    """A slip that was put down as harmless and what the log shows after it; None where it shows nothing."""
    clock, within = case.state.clock, timedelta(days=case.rules.signs_within_days)
    if clock is None:
        return None
    for day in sorted(case.state.exposures):
        if day < clock:
            continue
        found = flare(case.rules, case.entries, day, min(day + within, case.move.date))
        if found:
            return day, f"after the slip of {day.isoformat()} the log shows: {found[0].words}"
    return None


def _no_late_signs(case: TrialCase) -> None:
    on, within = case.move.date, timedelta(days=case.rules.signs_within_days)
    late = late_signs(case)
    if late:
        raise InputError(
            "", f"{late}. Say when the dog was clear again: the clock starts from then"
        )
    open_until = max((d + within for d in case.state.exposures if d <= on), default=date.min)
    if on < open_until:
        raise InputError(
            "date", f"signs may still come after the last slip: wait until {open_until.isoformat()}"
        )


def _masked_until(case: TrialCase) -> date | None:
    """The first day on which no masking medicine was given for long enough; None while one is."""
    ends = [end for kind, _, end in case.state.disturbances if kind is Disturbance.MASKING]
    if any(end is None for end in ends):
        return None
    wash = timedelta(days=case.rules.wash_days)
    return max((end + wash for end in ends if end is not None), default=date.min)


def outcome_of(case: TrialCase) -> tuple[Outcome, tuple[str, ...]]:
    first, last = case.plan.started, case.state.spans[0].end or case.move.date
    last -= timedelta(days=1)
    if case.plan.kind is TrialKind.SKIN:
        return _skin(case, _mean(case, "itch", first, last))
    return _gut(case, first, last)


def _now(case: TrialCase, name: str) -> float | None:
    return week_mean(case.rules, by_day(case.entries, name), case.move.date)


def _needed(case: TrialCase, name: str) -> float:
    value = _now(case, name)
    if value is None:
        raise InputError(
            "", f"{name} was put down on fewer than {case.rules.mean_least} of the last {case.rules.mean_days} days"
        )  # fmt: skip
    return value


def _skin(case: TrialCase, base: float | None) -> tuple[Outcome, tuple[str, ...]]:
    skin, now = case.rules.skin, _needed(case, "itch")
    if not base:
        raise InputError("", "the itch of the baseline is not on record any more")
    fall = 1 - now / base
    grounds = (f"itch {now:.1f} of 10, from {base:.1f}",)
    if fall >= skin.response_fall or now < skin.well_under:
        return Outcome.RESPONSE, grounds
    return (Outcome.PARTIAL if fall >= skin.partial_fall else Outcome.NONE), grounds


def _gut(case: TrialCase, first: date, last: date) -> tuple[Outcome, tuple[str, ...]]:
    """Each trouble of the baseline: whether it is over."""
    gut = case.rules.gut
    over, grounds = [], []
    stool = _needed(case, "stool")
    was = _mean(case, "stool", first, last)
    # A stool that was well has to be well still.
    over.append(stool <= gut.well_stool)
    grounds.append(f"stool {stool:.1f} of 7" + ("" if was is None else f", from {was:.1f}"))
    for name, usual, fall, words in (
        ("stools", gut.usual_stools, gut.stools_fall, "stools a day"),
        ("vomiting", gut.usual_vomiting / 7, gut.vomiting_fall, "vomiting a day"),
    ):
        was = _mean(case, name, first, last)
        if was is None or was <= usual:
            continue
        now = _now(case, name)
        over.append(now is not None and now <= was * (1 - fall))
        grounds.append(f"{words} {'not put down' if now is None else f'{now:.1f}'}, from {was:.1f}")
    if all(over):
        return Outcome.RESPONSE, tuple(grounds)
    return (Outcome.PARTIAL if any(over) else Outcome.NONE), tuple(grounds)
