"""What is really fed, by what the owner says was changed, beside the plan that was issued; and what to tell the owner."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Annotated

from pydantic import Field

from ..analysis.adequacy import Status
from ..analysis.analyse import analyse
from ..analysis.results import Analysis, NutrientResult
from ..analysis.worse import Judged, holds_less, judged_by_key, value_of
from ..boundary import Text40, Text60, Text80, Whole
from ..errors import InputError
from ..figures import figure, listed, lowered, rounded
from ..findings import Finding, Level
from ..recipe.line import Line, LineText, read_line
from ..recipe.numbers import read_number
from ..recipe.plan import scaled
from ..release.freeze import Forward

# kcal of a day that differ by no more than this share are the plan's.
SAME_KCAL = 0.05
MOST_ITEMS = 20


class How(StrEnum):
    """How a line is fed otherwise than planned."""

    LEFT_OUT = "left-out"
    AMOUNT = "amount"
    SWAPPED = "swapped"
    EXTRA = "extra"


@dataclass(frozen=True, kw_only=True)
class DriftItem:
    """Something that is fed otherwise. line: which of the plan, from 0, None for an extra; food: what goes in instead, or
    beside it; amount: as typed, of the whole recipe, of an extra that of a day; "50 %" is half of the line; "" of a swap: as
    much as of the line; preparation: how what goes in is cooked."""

    how: How
    line: Annotated[Whole, Field(ge=0)] | None = None
    food: Text80 = ""
    amount: Text60 = ""
    preparation: Text40 = ""


@dataclass(frozen=True, kw_only=True)
class DriftLimit:
    """A limit that stands otherwise than in the plan; amounts and limits per 1000 kcal, of a ratio as they are. worse: it
    holds less than planned."""

    key: str
    name: str
    unit: str
    decimals: int
    before: float | None
    after: float | None
    status_before: Status
    status_after: Status
    least: float | None
    most: float | None
    worse: bool


@dataclass(frozen=True, kw_only=True)
class DriftEffect:
    """What one change does by itself. what: the change in words; limits: what holds less by it; kcal: a day more or less;
    must_not: why it must not be fed; told: what else is told of it; do: what to ask of the owner."""

    what: str
    limits: tuple[str, ...]
    kcal: float
    must_not: tuple[str, ...]
    told: tuple[str, ...]
    do: str


@dataclass(frozen=True, kw_only=True)
class Drift:
    """A day as it is really fed beside a day of the plan. words: the verdict; message: to the owner."""

    kcal_planned: float
    kcal_fed: float
    limits: tuple[DriftLimit, ...]
    must_not: tuple[str, ...]
    effects: tuple[DriftEffect, ...]
    words: str
    message: str


@dataclass(frozen=True, kw_only=True)
class To:
    """Whom a message is for, and of whom."""

    client: str
    dog: str
    practice: str


def drift(forward: Forward, items: Sequence[DriftItem], to: To) -> Drift:
    """What is really fed. forward: the plan that was issued. Raises InputError naming the item and its field."""
    if not items:
        raise InputError("items", "says nothing yet: choose what is fed otherwise")
    said = [x.line for x in items if x.line is not None]
    if len(said) != len(set(said)):
        raise InputError("items", "names a line of the plan twice")
    fed = [_fed_line(forward, i, item) for i, item in enumerate(items)]
    planned, now = _day(forward, ()), _day(forward, list(zip(items, fed, strict=True)))
    limits = _limits(planned, now)
    kcal, was = now.recipe.kcal_per_day, planned.recipe.kcal_per_day
    # Nothing of it is said to be right while all of it together is not.
    calm = (
        not any(x.worse for x in limits)
        and not _news(planned, now, *_TROUBLE)
        and not _energy(was, kcal)
    )
    effects = tuple(
        _effect(forward, item, line, planned, alone=_day(forward, [(item, line)]), calm=calm)
        for item, line in zip(items, fed, strict=True)
    )  # fmt: skip
    # What comes of several together is told too, and of one that no longer comes with the others nothing is held back.
    must_not = tuple(dict.fromkeys([*_news(planned, now, Level.BLOCK), *(w for e in effects for w in e.must_not)]))  # fmt: skip
    return Drift(
        kcal_planned=rounded(was), kcal_fed=rounded(kcal), limits=limits, must_not=must_not,
        effects=effects, words=_words(limits, must_not, was, kcal),
        message=_message(to, effects, limits, was, kcal),
    )  # fmt: skip


def _fed_line(forward: Forward, i: int, item: DriftItem) -> Line | None:
    """The line that goes in, None where nothing does. Of an extra for the days of the recipe."""
    dossier, at = forward.dossier, f"items[{i}]"
    line = None
    if item.how is not How.EXTRA:
        if item.line is None or item.line >= len(dossier.lines):
            raise InputError(f"{at}.line", "is not a line of the plan")
        line = dossier.lines[item.line]
    if item.how is How.LEFT_OUT:
        return None
    text = item.amount.strip()
    if line is not None and text.endswith("%"):
        share = _share(text, at)
        if item.how is How.AMOUNT:
            return scaled(line, share)
        text = f"{line.amount.grams * share:.6g} g"
    if item.how is How.SWAPPED and not text and line is not None:
        text = f"{line.amount.grams:.6g} g"
    if not text:
        raise InputError(f"{at}.amount", "is missing: how much of it")
    if item.how is How.AMOUNT and line is not None:
        # Nobody reads the old amount out of the new text: it was never stored.
        typed = replace(
            line.text or LineText(line.food.id, text), quantity=text, grams=None, basis=""
        )
    else:
        typed = LineText(item.food, text, preparation=item.preparation)
    try:
        found = read_line(dossier.reference.methods, dossier.library, typed)
    except InputError as error:
        field = "food" if error.field == "food" else "amount"
        if error.field == "preparation":
            field = "preparation"
        raise InputError(f"{at}.{field}", error.message) from None
    return scaled(found, dossier.days) if item.how is How.EXTRA else found


def _share(text: str, at: str) -> float:
    try:
        share = read_number(text.removesuffix("%").strip()) / 100
    except InputError as error:
        raise InputError(f"{at}.amount", error.message) from None
    if not 0 < share <= 10:
        raise InputError(f"{at}.amount", "must be above 0 and at most 1000 % of the line")
    return share


def _day(forward: Forward, changed: Sequence[tuple[DriftItem, Line | None]]) -> Analysis:
    """A day of the plan with these changes, with what is given beside it."""
    lines: list[Line | None] = list(forward.dossier.lines)
    for item, line in changed:
        if item.how is How.EXTRA or item.line is None:
            lines.append(line)
        else:
            lines[item.line] = line
    left = [x for x in lines if x is not None]
    if not left:
        raise InputError("items", "leaves nothing of the plan")
    day = replace(forward, dossier=forward.dossier.with_lines(left))
    return analyse(day.dossier.with_lines(day.day_lines, 1))


def _limits(before: Analysis, after: Analysis) -> tuple[DriftLimit, ...]:
    """Verdicts that differ, and breaches that grew; what holds less first."""
    was, now = judged_by_key(before), judged_by_key(after)
    found = [_limit(was[key], now[key]) for key in was]
    return tuple(sorted((x for x in found if x), key=lambda x: not x.worse))


def _limit(was: Judged, now: Judged) -> DriftLimit | None:
    worse = holds_less(was, now)
    if was.status is now.status and not worse:
        return None
    nutrient = isinstance(now, NutrientResult)
    return DriftLimit(
        key=now.key, name=now.name, unit=now.unit if isinstance(now, NutrientResult) else "",
        decimals=now.decimals if isinstance(now, NutrientResult) and nutrient else 2,
        before=figure(value_of(was)), after=figure(value_of(now)), status_before=was.status,
        status_after=now.status, least=now.min, most=now.ceiling, worse=worse,
    )  # fmt: skip


def _told(finding: Finding) -> str:
    return f"{finding.what}: {finding.why}" if finding.why else finding.what


def _news(before: Analysis, after: Analysis, *levels: Level) -> tuple[str, ...]:
    """What is told of a day and not of the one before."""
    known = {(f.what, f.why) for f in before.flags if f.level in levels}
    found = (f for f in after.flags if f.level in levels and (f.what, f.why) not in known)
    return tuple(dict.fromkeys(map(_told, found)))


_TROUBLE = (Level.BLOCK, Level.DECIDE, Level.WARN)
_LACKS = {
    Status.SHORT: "too little {}", Status.OVER: "too much {}", Status.ABOVE_SAFE: "more {} than is safe",
    Status.UNPROVEN: "{} that nobody can vouch for",
}  # fmt: skip


def _lack(limit: DriftLimit) -> str:
    return _LACKS.get(limit.status_after, "{}").format(lowered(limit.name))


def _effect(
    forward: Forward,
    item: DriftItem,
    fed: Line | None,
    planned: Analysis,
    alone: Analysis,
    calm: bool,
) -> DriftEffect:
    old = f"“{forward.dossier.lines[item.line].food.name}”" if item.line is not None else ""
    new = f"“{fed.food.name}”" if fed is not None else ""
    what = {
        How.LEFT_OUT: f"{old} left out",
        How.AMOUNT: f"{old}, {item.amount} instead of what the plan says",
        How.SWAPPED: f"{new} instead of {old}",
        How.EXTRA: f"{new} beside it, {item.amount} a day",
    }[item.how]
    worse = tuple(_lack(x) for x in _limits(planned, alone) if x.worse)
    must_not = _news(planned, alone, Level.BLOCK)
    return DriftEffect(
        what=what, limits=worse, kcal=rounded(alone.recipe.kcal_per_day - planned.recipe.kcal_per_day),
        must_not=must_not, told=_news(planned, alone, Level.DECIDE, Level.WARN), do=_do(item.how, old, new, calm and not worse, bool(must_not)),
    )  # fmt: skip


def _do(how: How, old: str, new: str, calm: bool, barred: bool) -> str:
    if barred:
        return f"Please stop giving {new or old} today and ask your veterinarian about it."
    if calm:
        return "This can stay so until we have looked at it together."
    if how is How.LEFT_OUT:
        return f"Please put {old} back in as the list says, or tell us what keeps you from it."
    if how is How.AMOUNT:
        return f"Please weigh {old} as the list says, or tell us what keeps you from it."
    if how is How.SWAPPED:
        return f"Please go back to {old}, or tell us if you cannot get it: we look for another."
    return f"Please leave out {new} until we have made room for it."


def _energy(was: float, now: float) -> str:
    if was <= 0 or abs(now / was - 1) <= SAME_KCAL:
        return ""
    return f"it gives {now:.0f} kcal a day instead of {was:.0f}"


def _words(limits: Sequence[DriftLimit], must_not: Sequence[str], was: float, now: float) -> str:
    if must_not:
        return "It must not be fed so: the veterinarian first."
    worse = [_lack(x) for x in limits if x.worse]
    kcal = f" It gives {now:.0f} kcal a day, {was:.0f} planned." if round(now) != round(was) else ""
    if worse:
        return f"As it is fed it holds less than the plan: {listed(worse, 6)}.{kcal}"
    if _energy(was, now):
        return f"It holds what was planned, but not its energy.{kcal}"
    return f"As it is fed it holds what was planned.{kcal}"


def _message(
    to: To, effects: Sequence[DriftEffect], limits: Sequence[DriftLimit], was: float, now: float
) -> str:
    """What to tell the owner: what must stop first, then each change, what it does, and what to do."""
    first = [e for e in effects if e.must_not]
    lines = [f"Hello {to.client},", "", f"thank you for telling us what goes into {to.dog}'s bowl."]
    for effect in (*first, *(e for e in effects if not e.must_not)):
        does = "; ".join(effect.must_not) or (
            f"by this the food has {listed(effect.limits, 4)}" if effect.limits else "no limit is broken by this alone"
        )  # fmt: skip
        lines += ["", f"- {effect.what}: {does}. {effect.do}"]
    together = [x for x in limits if x.worse and not any(_lack(x) in e.limits for e in effects)]
    if together:
        lines += ["", f"All of it together: {listed([_lack(x) for x in together], 4)}."]
    energy = _energy(was, now)
    if energy:
        lines += ["", f"As it is now {energy}."]
    lines += [
        "", f"Please do not make up for it with anything else before we have answered. If {to.dog} is unwell, ask your veterinarian first.",
        "", to.practice,
    ]  # fmt: skip
    return "\n".join(lines)
