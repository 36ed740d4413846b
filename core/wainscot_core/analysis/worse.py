"""Whether a diet holds less than another: the one judgement of what was cooked, or is fed, against what was planned."""

from .adequacy import BREAKS, HELD, Status
from .results import Analysis, NutrientResult, RatioResult

Judged = NutrientResult | RatioResult


def judged_by_key(day: Analysis) -> dict[str, Judged]:
    """Nutrients and ratios of an analysis."""
    judged: tuple[Judged, ...] = (*day.nutrients, *day.ratios)
    return {x.key: x for x in judged}


def holds_less(before: Judged, now: Judged, status: Status | None = None) -> bool:
    """Whether a limit holds less: another verdict that holds less, or the same breach grown by a tenth. status: of now, where
    it is another than its own."""
    status = now.status if status is None else status
    if status is before.status:
        return status in BREAKS and now.urgency > before.urgency * 1.1 + 1e-9
    return status not in HELD and _grade(status) >= _grade(before.status)


def _grade(status: Status) -> int:
    if status in HELD:
        return 0
    if status is Status.UNPROVEN:
        return 1
    return 3 if status is Status.ABOVE_SAFE else 2


def value_of(of: Judged) -> float | None:
    """What is judged: per 1000 kcal, a ratio its value."""
    return of.per_1000_kcal if isinstance(of, NutrientResult) else of.value
