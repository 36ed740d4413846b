"""Analyse a plan: the whole round, and a day of each recipe."""

from collections.abc import Sequence
from dataclasses import dataclass

from ..dossier.dossier import Dossier
from ..findings import Finding, Kind, Level
from ..recipe.plan import Daily, DailyKind, Turn, extras_share, one_day
from .adequacy import Status
from .analyse import analyse
from .results import Analysis, NutrientResult, RatioResult


@dataclass(frozen=True, kw_only=True)
class OffTarget:
    """A nutrient or ratio that is not met on a day, and how much it wants looking at."""

    key: str
    name: str
    status: Status
    urgency: float


@dataclass(frozen=True, kw_only=True)
class PlanDay:
    """A day on which one recipe is fed, with the daily items."""

    name: str
    days: float
    kcal_per_day: float
    bad: tuple[OffTarget, ...]


@dataclass(frozen=True, kw_only=True)
class PlanResult:
    """A plan over one round of its rotation. extras_share: what treats and toppers bring of the
    day's kcal; item_kcal: kcal a day of every daily item."""

    analysis: Analysis
    days: tuple[PlanDay, ...]
    round_days: float
    extras_share: float
    item_kcal: tuple[float, ...]
    findings: tuple[Finding, ...]


def analyse_plan(dossier: Dossier, turns: Sequence[Turn], daily: Sequence[Daily]) -> PlanResult:
    """`dossier`: that of the whole round (plan.whole_round)."""
    whole = analyse(dossier)
    by_item = brought(dossier, daily)
    share = extras_share(by_item, whole.recipe.kcal_per_day)
    return PlanResult(
        analysis=whole,
        days=tuple(plan_day(dossier, turn, daily) for turn in turns),
        round_days=dossier.days,
        extras_share=share,
        item_kcal=tuple(kcal for _, kcal in by_item),
        findings=too_many_extras(dossier, daily, whole),
    )


def brought(dossier: Dossier, daily: Sequence[Daily]) -> list[tuple[DailyKind, float]]:
    """kcal a day of every daily item."""
    column = dossier.library.catalogue.index("ENERC")
    values = dossier.library.values
    return [(d.kind, float(values[d.line.row, column]) * d.line.amount.grams / 100) for d in daily]


def too_many_extras(dossier: Dossier, daily: Sequence[Daily], day: Analysis) -> tuple[Finding, ...]:
    """A finding where treats and toppers bring more than they should of a day."""
    rule = dossier.reference.extras
    share = extras_share(brought(dossier, daily), day.recipe.kcal_per_day)
    if share <= rule.most_share:
        return ()
    return (_too_many_extras(share, rule.most_share, rule.source),)


def plan_day(dossier: Dossier, turn: Turn, daily: Sequence[Daily]) -> PlanDay:
    """A day of one recipe."""
    found = analyse(dossier.with_lines(one_day(turn, daily), 1))
    judged: tuple[NutrientResult | RatioResult, ...] = (*found.nutrients, *found.ratios)
    return PlanDay(
        name=turn.name,
        days=turn.days,
        kcal_per_day=found.recipe.kcal_per_day,
        bad=tuple(
            OffTarget(key=x.key, name=x.name, status=x.status, urgency=x.urgency)
            for x in judged
            if x.urgency > 0
        ),
    )


def _too_many_extras(share: float, most: float, source: str) -> Finding:
    return Finding(
        kind=Kind.EXTRAS,
        level=Level.WARN,
        what=f"Treats and toppers bring {share:.0%} of the day's kcal",
        why=f"at most {most:.0%}: what they bring is not balanced",
        do="Give less of them, or move them into the recipe.",
        source=source,
    )
