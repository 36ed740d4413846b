"""Status of each nutrient against a requirement set.

What the lines are known to hold is the least there can be; with the most that lines without a value
may hold it is the most.

short      even the most does not reach the minimum
unproven   the least and the most lie on two sides of a minimum or of a ceiling
met        the least reaches the minimum and the most does not pass a ceiling
over       the least passes the maximum of a standard or condition
above safe limit   the least passes the safe upper limit, whatever the standard prints
off advice all of that is met and what is only advised is not
no limit   nothing sets one
"""

import math
from dataclasses import dataclass
from enum import StrEnum

from ..facts.nutrients import Ratio
from ..facts.policy import Policy
from ..recipe.totals import Totals
from ..targets.standards import Limit, RequirementSet

# Relative tolerance: 1.0000000001 of a maximum is not over.
TOLERANCE = 1e-9


class Status(StrEnum):
    """Verdict on a nutrient or ratio."""

    SHORT = "short"
    UNPROVEN = "unproven"
    MET = "met"
    OVER = "over"
    ABOVE_SAFE = "above safe limit"
    OFF_ADVICE = "off advice"
    NO_LIMIT = "no limit"


# What passes a bound from above, by the known amount alone.
TOO_MUCH = frozenset({Status.OVER, Status.ABOVE_SAFE})
# Nothing that binds is in doubt.
HELD = frozenset({Status.MET, Status.OFF_ADVICE, Status.NO_LIMIT})


@dataclass(frozen=True)
class Verdict:
    """One nutrient against its limit; amounts per 1000 kcal, None when undefined.

    limit: with minimums that depend on other nutrients filled in. most: what there is at most, None
    when a line without a value may hold any amount. least_likely, most_likely: the same two with the
    ranges of estimates.
    """

    key: str
    value: float | None
    limit: Limit | None
    status: Status
    unknown_lines: int
    maximum_unproven: bool
    why: str = ""
    most: float | None = None
    least_likely: float | None = None
    most_likely: float | None = None
    rises: str = ""


def above(value: float, bound: float | None) -> bool:
    """True when a value passes an upper bound."""
    return bound is not None and value > bound * (1 + TOLERANCE)


def below(value: float, bound: float | None) -> bool:
    """True when a value does not reach a lower bound."""
    return bound is not None and value < bound * (1 - TOLERANCE)


def status_of(least: float | None, most: float, limit: Limit | None) -> Status:
    """The status of what there is at least and at most (infinity when nothing bounds it)."""
    if limit is None or limit.sets_nothing:
        return Status.NO_LIMIT
    if least is None:
        return Status.UNPROVEN
    if above(least, limit.safe):
        return Status.ABOVE_SAFE
    if above(least, limit.maximum):
        return Status.OVER
    if below(most, limit.minimum):
        return Status.SHORT
    if below(least, limit.minimum) or above(most, limit.ceiling):
        return Status.UNPROVEN
    if below(least, limit.advised_min) or above(least, limit.advised_ceiling):
        return Status.OFF_ADVICE
    return Status.MET


# What breaks a limit, beside what is only not proven or not advised.
BREAKS = frozenset({Status.SHORT, *TOO_MUCH})


# Within so many times its minimum, or a ceiling so many times it, an amount is near its bound: what a purchase or a
# hand that slips can change. A working figure of ours.
NEAR = 1.2


def near_bound(value: float | None, status: Status, limit: Limit | None) -> bool:
    """Whether an amount is near a bound that binds or is advised, past it, or not known."""
    if limit is None or status is Status.NO_LIMIT:
        return False
    if value is None or status is not Status.MET:
        return True
    low, high = limit.minimum, limit.ceiling
    return (low is not None and value < NEAR * low) or (high is not None and value * NEAR > high)


def against(value: float | None, status: Status, limit: Limit | None) -> float | None:
    """The bound a status speaks of: what is broken, in doubt or advised, or else the minimum, or else
    the ceiling, or else what is advised."""
    if limit is None:
        return None
    if status is Status.ABOVE_SAFE:
        return limit.safe
    if status is Status.OVER:
        return limit.maximum
    if value is not None:
        if status is Status.UNPROVEN and not below(value, limit.minimum):
            return limit.ceiling
        if status is Status.OFF_ADVICE:
            return limit.advised_min if below(value, limit.advised_min) else limit.advised_ceiling
    bounds = (limit.minimum, limit.ceiling, limit.advised_min, limit.advised_ceiling)
    return next((x for x in bounds if x is not None), None)


def urgency(value: float | None, status: Status, limit: Limit | None) -> float:
    """How much a nutrient wants looking at: 0 for nothing, then off advice (0.005), unproven (up to
    1), short (1 to 2), over (2 to 3), above the safe limit (3 to 4), each by how far it is from its
    bound."""
    bound = against(value, status, limit)
    if status is Status.OFF_ADVICE:
        return 0.005
    if status is Status.UNPROVEN:
        if not value or not bound or limit is None or not below(value, limit.minimum):
            return 0.1
        return min(max(1 - value / bound, 0.01), 0.99)
    if status not in BREAKS or value is None or bound is None:
        return 0.0
    if status is Status.SHORT:
        return 1 + (1 - value / bound if bound else 0.0)
    return (3.0 if status is Status.ABOVE_SAFE else 2.0) + (1 - bound / value if value else 0.0)


def judge(
    totals: Totals, requirements: RequirementSet, policy: Policy = Policy.GRADED
) -> tuple[Verdict, ...]:
    """A verdict for every nutrient of the catalogue, in its order.

    graded    borrowed and pattern values count, and are shown as such with their range
    strict    only analysed, stoichiometric and label values count; the rest is unknown
    cautious  minimums are checked without estimates, maximums with them
    """
    energy = totals.kcal
    factor = 1000.0 / energy if energy > 0 else None
    strict = policy == Policy.STRICT
    beside = {}
    if factor is not None:
        # What other nutrients' minimums rise with: the most there can be asks the most.
        most = totals.known + totals.may_hold
        beside = {
            r.other: float(most[totals.catalogue.index(r.other)]) * factor
            for x in requirements.limits.values()
            for r in x.rises
        }
    verdicts = []
    for i, nutrient in enumerate(totals.catalogue.nutrients):
        limit = requirements.limits.get(nutrient.key)
        rises = ""
        if limit is not None and factor is not None:
            rises = "; ".join(
                f"{r.words} ({r.source})" for r in limit.rises if r.at(beside[r.other]) > r.base
            )
            limit = limit.beside(beside)
        missing = int(totals.unknown_lines[i])
        unproved = missing + int(totals.estimated_lines[i])
        whole, soft = float(totals.known[i]), float(totals.estimated[i])
        spread, extra = float(totals.spread[i]), float(totals.may_hold[i])
        if factor is None:
            status = status_of(None, math.inf, limit)
            unknown = unproved if strict else missing
            verdicts.append(Verdict(nutrient.key, None, limit, status, unknown, False))
            continue
        least = (whole - soft if strict else whole) * factor
        most_of = (whole + extra + (spread if strict else 0.0)) * factor
        status = status_of(least, most_of, limit)
        if policy == Policy.CAUTIOUS and status in {Status.MET, Status.OFF_ADVICE} and limit:
            bare = status_of(
                (whole - soft) * factor,
                (whole + extra + spread) * factor,
                Limit(limit.key, limit.unit, limit.minimum, None, None),
            )
            status = status if bare in HELD else bare
        unknown = unproved if strict else missing
        verdicts.append(
            Verdict(
                nutrient.key,
                least,
                limit,
                status,
                unknown,
                limit is not None
                and not above(least, limit.ceiling)
                and above(most_of, limit.ceiling),
                _why(
                    status,
                    policy,
                    limit,
                    least,
                    most_of,
                    (whole - spread) * factor,
                    missing,
                    unproved - missing,
                ),
                _finite(most_of),
                max(0.0, whole - spread) * factor,
                _finite((whole + extra + spread) * factor),
                rises,
            )
        )
    return tuple(verdicts)


def _finite(amount: float) -> float | None:
    return amount if math.isfinite(amount) else None


def _why(
    status: Status,
    policy: Policy,
    limit: Limit | None,
    least: float,
    most: float,
    likely: float,
    missing: int,
    estimated: int,
) -> str:
    """Why a status is what it is, in words; "" when the word says it all."""
    parts = []
    if status is Status.UNPROVEN and missing:
        bounded = (
            f"they may hold up to {most - least:.3g} more"
            if math.isfinite(most)
            else "nothing bounds what they may hold"
        )
        parts.append(f"{_lines(missing)} no value in any source, which is not zero; {bounded}")
    if status is Status.UNPROVEN and not missing and most > least:
        parts.append(
            f"a label says “at least”, which is not “no more than”: there may be {most - least:.3g} more"
        )
    if status is Status.SHORT and missing:
        parts.append(f"{_lines(missing)} no value, and even the most they may hold is not enough")
    if policy == Policy.STRICT and estimated and status is not Status.NO_LIMIT:
        parts.append(f"{_lines(estimated)} only an estimate, which strict does not count")
    if policy == Policy.CAUTIOUS and estimated and status in {Status.UNPROVEN, Status.SHORT}:
        parts.append(
            f"{_lines(estimated)} only an estimate, which cautious does not count towards a minimum"
        )
    if policy == Policy.GRADED and estimated and status in {Status.MET, Status.OFF_ADVICE}:
        parts.append(f"{_lines(estimated)} an estimate, which graded counts")
        if limit is not None and below(likely, limit.minimum):
            parts.append(f"at the low end of its range ({likely:.3g}) it would not be met")
    return "; ".join(parts)


def _lines(count: int) -> str:
    return f"{count} ingredient has" if count == 1 else f"{count} ingredients have"


@dataclass(frozen=True)
class RatioVerdict:
    """A ratio by mass, its window and status. value: None when a part is not known or nothing is below
    the line; least and most bound it then, most None when nothing does."""

    ratio: Ratio
    value: float | None
    least: float | None
    most: float | None
    top: float
    bottom: float
    limit: Limit | None
    status: Status
    unknown_lines: int


def judge_ratios(totals: Totals, requirements: RequirementSet) -> tuple[RatioVerdict, ...]:
    """A verdict for every ratio of the catalogue: with an unknown part it lies between two bounds."""
    catalogue = totals.catalogue
    verdicts = []
    for ratio in catalogue.ratios:
        top, bottom = catalogue.parts_of(ratio, totals.amount)
        more_top, more_bottom = catalogue.parts_of(ratio, totals.may_hold_of)
        unknown = max(
            int(totals.unknown_lines[catalogue.index(k)]) for k in (*ratio.top, *ratio.bottom)
        )
        limit = requirements.limits.get(ratio.key)
        least, most = 0.0, math.inf
        if bottom > 0:
            most = (top + more_top) / bottom * ratio.scale
        if bottom + more_bottom > 0 and math.isfinite(more_bottom):
            least = top / (bottom + more_bottom) * ratio.scale
        defined = bottom > 0 or more_bottom > 0
        value = most if bottom > 0 and not unknown else None
        status = Status.NO_LIMIT
        if limit is not None and not limit.sets_nothing:
            status = status_of(least if defined else None, most, limit)
        verdicts.append(
            RatioVerdict(
                ratio, value, least if defined else None, _finite(most), top, bottom, limit, status,
                unknown,
            )
        )  # fmt: skip
    return tuple(verdicts)
