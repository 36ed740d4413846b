"""Status of each nutrient against a requirement set.

short      known amount below the minimum, and every line has a value
unproven   known amount below the minimum and some line has no value (or only a maximum
           is set and some line has no value)
met        the known amount reaches the minimum and does not pass the maximum
over       the known amount passes the maximum of a standard or condition
above safe limit   the known amount passes the safe upper limit, whatever the standard prints
no limit   nothing sets one
"""

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
    NO_LIMIT = "no limit"


# What passes a bound from above, by the known amount alone.
TOO_MUCH = frozenset({Status.OVER, Status.ABOVE_SAFE})


@dataclass(frozen=True)
class Verdict:
    """One nutrient or ratio against its limit; amounts per 1000 kcal, None when undefined."""

    key: str
    value: float | None
    limit: Limit | None
    status: Status
    unknown_lines: int
    maximum_unproven: bool
    why: str = ""


def status_of(value: float | None, unknown: bool, limit: Limit | None) -> Status:
    """The status of a known amount, whether some line has no value, and a limit."""
    if limit is None or (limit.minimum is None and limit.ceiling is None):
        return Status.NO_LIMIT
    if value is None:
        return Status.UNPROVEN
    if limit.safe is not None and value > limit.safe * (1 + TOLERANCE):
        return Status.ABOVE_SAFE
    if limit.maximum is not None and value > limit.maximum * (1 + TOLERANCE):
        return Status.OVER
    if limit.minimum is not None:
        if value >= limit.minimum * (1 - TOLERANCE):
            return Status.MET
        return Status.UNPROVEN if unknown else Status.SHORT
    return Status.UNPROVEN if unknown else Status.MET


# What breaks a limit, beside what is only not proven.
BREAKS = frozenset({Status.SHORT, *TOO_MUCH})


def against(status: Status, limit: Limit | None) -> float | None:
    """The bound a status speaks of: what is broken, or else the minimum, or else the ceiling."""
    if limit is None:
        return None
    if status is Status.ABOVE_SAFE:
        return limit.safe
    if status is Status.OVER:
        return limit.maximum
    return limit.minimum if limit.minimum is not None else limit.ceiling


def urgency(value: float | None, status: Status, limit: Limit | None) -> float:
    """How much a nutrient wants looking at: 0 for nothing, then unproven (up to 1), short (1 to 2),
    over (2 to 3), above the safe limit (3 to 4), each by how far it is from its bound."""
    bound = against(status, limit)
    if status is Status.UNPROVEN:
        if not value or not bound or limit is None or limit.minimum is None:
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

    graded    borrowed and pattern values count, and are shown as such
    strict    only analysed, stoichiometric and label values count; the rest is unknown
    cautious  minimums are checked without estimates, maximums with them
    """
    energy = totals.kcal
    factor = 1000.0 / energy if energy > 0 else None
    verdicts = []
    for i, nutrient in enumerate(totals.catalogue.nutrients):
        limit = requirements.limits.get(nutrient.key)
        whole, soft = float(totals.known[i]), float(totals.estimated[i])
        missing = int(totals.unknown_lines[i])
        unproved = missing + int(totals.estimated_lines[i])
        amount = whole - soft if policy == Policy.STRICT else whole
        unknown = unproved if policy == Policy.STRICT else missing
        value = amount * factor if factor is not None else None
        status = status_of(value, unknown > 0, limit)
        if (
            policy == Policy.CAUTIOUS
            and status is Status.MET
            and limit is not None
            and factor is not None
        ):
            status = status_of(
                (whole - soft) * factor,
                unproved > 0,
                Limit(limit.key, limit.unit, limit.minimum, None, None),
            )
            status = Status.MET if status is Status.NO_LIMIT else status
        verdicts.append(
            Verdict(
                nutrient.key,
                value,
                limit,
                status,
                unknown,
                unknown > 0 and limit is not None and limit.ceiling is not None,
                explain_status(status, policy, missing, unproved - missing),
            )
        )
    return tuple(verdicts)


def explain_status(status: Status, policy: Policy, missing: int, estimated: int) -> str:
    """Why a status is what it is, in words; "" when the word says it all."""
    parts = []
    if status in {Status.UNPROVEN, Status.SHORT} and missing:
        parts.append(f"{_lines(missing)} no value in any source, which is not zero")
    if policy == Policy.STRICT and estimated and status is not Status.NO_LIMIT:
        parts.append(f"{_lines(estimated)} only an estimate, which strict does not count")
    if policy == Policy.CAUTIOUS and estimated and status in {Status.UNPROVEN, Status.SHORT}:
        parts.append(
            f"{_lines(estimated)} only an estimate, which cautious does not count towards a minimum"
        )
    if policy == Policy.GRADED and estimated and status is Status.MET:
        parts.append(f"{_lines(estimated)} an estimate, which graded counts")
    return "; ".join(parts)


def _lines(count: int) -> str:
    return f"{count} ingredient has" if count == 1 else f"{count} ingredients have"


@dataclass(frozen=True)
class RatioVerdict:
    """A ratio by mass, its window and status; value None when it cannot be computed."""

    ratio: Ratio
    value: float | None
    top: float
    bottom: float
    limit: Limit | None
    status: Status
    unknown_lines: int


def judge_ratios(totals: Totals, requirements: RequirementSet) -> tuple[RatioVerdict, ...]:
    """A verdict for every ratio of the catalogue.

    An unknown part makes a ratio unproven whichever way it points: it could move either way.
    """
    catalogue = totals.catalogue
    verdicts = []
    for ratio in catalogue.ratios:
        top, bottom = catalogue.parts_of(ratio, totals.amount)
        unknown = max(
            int(totals.unknown_lines[catalogue.index(k)]) for k in (*ratio.top, *ratio.bottom)
        )
        limit = requirements.limits.get(ratio.key)
        value = top / bottom * ratio.scale if bottom > 0 else None
        if limit is None:
            status = Status.NO_LIMIT
        elif unknown:
            status = Status.UNPROVEN
        else:
            status = status_of(value, False, limit)
        verdicts.append(RatioVerdict(ratio, value, top, bottom, limit, status, unknown))
    return tuple(verdicts)
