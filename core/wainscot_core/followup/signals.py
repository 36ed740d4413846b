"""What scores put down day by day say: means of a week, a flare after a challenge, what is for the veterinarian at once."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from statistics import fmean, median

from ..facts.trials import FlareRules, RedFlagRules, TrialRules
from .entry import DayEntry, Sign

# Seen once they are for the veterinarian, whatever else was logged.
_AT_ONCE = {
    Sign.SWELLING: "the face or throat swells",
    Sign.BLOOD: "there is blood in what comes out",
    Sign.BLACK: "the stool is black",
}
SIGN_WORDS = {
    Sign.EAR: "new redness or itch of an ear", Sign.PAWS: "new redness or licking of paws",
    Sign.FACE_RED: "redness of the face", Sign.HIVES: "hives", **_AT_ONCE,
}  # fmt: skip
_CLOSE = 1e-9


def by_day(entries: Iterable[DayEntry], name: str, worst: bool = False) -> dict[date, float]:
    """A score of each day on which it was put down: of several of one day their mean, or the highest of them."""
    found: dict[date, list[float]] = {}
    for entry in entries:
        value = getattr(entry, name)
        if value is not None:
            found.setdefault(entry.date, []).append(float(value))
    return {day: max(x) if worst else fmean(x) for day, x in sorted(found.items())}


def of_days(values: Mapping[date, float], first: date, last: date) -> list[float]:
    """The values from a day to another, both within."""
    return [x for day, x in values.items() if first <= day <= last]


def week_mean(
    rules: TrialRules, values: Mapping[date, float], until: date, middle: bool = False
) -> float | None:
    """The mean (middle: the median) of the week that ends with a day; None where too few days of it were put down."""
    found = of_days(values, until - timedelta(days=rules.mean_days - 1), until)
    if len(found) < rules.mean_least:
        return None
    return median(found) if middle else fmean(found)


def is_logged(rules: TrialRules, values: Mapping[date, float], first: date, last: date) -> bool:
    """Whether enough days of each week of a time were put down: of every run of a week's days, as of a shorter time."""
    span = (last - first).days + 1
    for back in range(max(1, span - rules.mean_days + 1)):
        start = first + timedelta(days=back)
        end = min(last, start + timedelta(days=rules.mean_days - 1))
        least = min(rules.mean_least, (end - start).days + 1)
        if len(of_days(values, start, end)) < least:
            return False
    return True


@dataclass(frozen=True, kw_only=True)
class Ground:
    """Why a day counts as a flare. severe: never to be tried again."""

    date: date
    words: str
    severe: bool = False


def flare(
    rules: TrialRules, entries: Sequence[DayEntry], start: date, until: date
) -> tuple[Ground, ...]:
    """What speaks of a flare from a day to another, both within, against the week before; the first of each kind, in the
    order of days. A stool that cannot be compared, as the week before was not logged, counts as it is; itch cannot."""
    week = timedelta(days=rules.mean_days)
    before = [e for e in entries if start - week <= e.date < start]
    during = [e for e in entries if start <= e.date <= until]
    flares = rules.flare
    firsts = (
        _itch(flares, before, during), _stool(flares, before, during), _vomiting(flares, during),
        _signs(before, during),
    )  # fmt: skip
    grounds = [next(found, None) for found in firsts]
    severe = next(_swelling(during), None)
    return tuple(sorted({g for g in (*grounds, severe) if g is not None}, key=lambda g: g.date))


def _itch(
    rules: FlareRules, before: Sequence[DayEntry], during: Sequence[DayEntry]
) -> Iterator[Ground]:
    was = by_day(before, "itch").values()
    if not was:
        return
    limit = fmean(was) + rules.itch_up
    high = [day for day, x in by_day(during, "itch", worst=True).items() if x >= limit - _CLOSE]
    for day in high:
        near = [d for d in high if 0 <= (day - d).days < rules.itch_of_days]
        if len(near) >= rules.itch_days:
            yield Ground(date=day, words=f"itch up by {rules.itch_up:g} or more on {len(near)} of {rules.itch_of_days} days")  # fmt: skip


def _stool(
    rules: FlareRules, before: Sequence[DayEntry], during: Sequence[DayEntry]
) -> Iterator[Ground]:
    was = by_day(before, "stool").values()
    soft_before = bool(was) and fmean(was) > rules.stool_up_from + 0.5
    days = by_day(during, "stool", worst=True)
    soft = [day for day, x in days.items() if x >= rules.stool_twice]
    for day, score in days.items():
        if score >= rules.stool_once:
            yield Ground(date=day, words=f"stool {score:g} of 7")
        elif not soft_before and any(0 < (day - d).days <= 2 for d in soft) and day in soft:
            yield Ground(date=day, words=f"stool {score:g} of 7, twice")


def _vomiting(rules: FlareRules, during: Sequence[DayEntry]) -> Iterator[Ground]:
    days = by_day(during, "vomiting", worst=True)
    for day in days:
        times = sum(of_days(days, day - timedelta(days=6), day))
        if times >= rules.vomiting_in_week:
            yield Ground(date=day, words=f"vomited {times:g} times in a week")


def _signs(before: Sequence[DayEntry], during: Sequence[DayEntry]) -> Iterator[Ground]:
    """Signs that were not there in the week before; what is for the veterinarian counts though it was."""
    old = {sign for e in before for sign in e.signs} - set(_AT_ONCE)
    for entry in sorted(during, key=lambda e: e.date):
        for sign in entry.signs:
            if sign not in old:
                yield Ground(date=entry.date, words=SIGN_WORDS[sign], severe=sign is Sign.SWELLING)


def _swelling(during: Sequence[DayEntry]) -> Iterator[Ground]:
    for entry in sorted(during, key=lambda e: e.date):
        if Sign.SWELLING in entry.signs:
            yield Ground(date=entry.date, words=SIGN_WORDS[Sign.SWELLING], severe=True)


def red_flags(rules: RedFlagRules, entries: Sequence[DayEntry], today: date) -> tuple[str, ...]:
    """What was put down of the last days and is for the veterinarian before anything else, each with its day."""
    first = today - timedelta(days=rules.recent_days - 1)
    recent = sorted((e for e in entries if first <= e.date <= today), key=lambda e: e.date)
    found: dict[str, date] = {}
    for entry in recent:
        for words in _of_a_day(rules, entry):
            found.setdefault(words, entry.date)
    itchy = [d for d, x in by_day(recent, "itch", worst=True).items() if x >= rules.itch]
    if len(itchy) >= rules.itch_days:
        found.setdefault(f"itch of {rules.itch:g} or more on {len(itchy)} days", itchy[0])
    stools = by_day(recent, "stools", worst=True)
    none = [d for d, x in stools.items() if x == 0 and stools.get(d - timedelta(days=1)) == 0]
    if none:
        found.setdefault("no stool in two days", none[0])
    breaths = [e for e in recent if e.breaths is not None]
    fast = [e for e in breaths if (e.breaths or 0) > rules.breaths_over]
    if len(fast) >= rules.breaths_times:
        found.setdefault(f"more than {rules.breaths_over} breaths a minute asleep, {len(fast)} times", fast[0].date)  # fmt: skip
    return tuple(f"{words} ({day.isoformat()})" for words, day in found.items())


def _of_a_day(rules: RedFlagRules, entry: DayEntry) -> Iterator[str]:
    for sign in entry.signs:
        if sign in _AT_ONCE:
            yield _AT_ONCE[sign]
    if entry.stool is not None and entry.stool >= rules.stool:
        yield f"stool {entry.stool} of 7"
    if entry.vomiting is not None and entry.vomiting >= rules.vomiting_a_day:
        yield f"vomited {entry.vomiting} times in a day"
    if entry.appetite_percent is not None and entry.appetite_percent < rules.appetite_under:
        yield f"ate less than {rules.appetite_under:g} % of what was offered"
