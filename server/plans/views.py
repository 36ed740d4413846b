"""What a plan looks like from outside."""

from dataclasses import dataclass
from datetime import date

from cases.queries import library_of
from django.utils import timezone
from library.facts import reference
from wainscot_core.analysis.fortnight import Fortnight
from wainscot_core.analysis.plan_view import PlanDay
from wainscot_core.analysis.results import Analysis
from wainscot_core.errors import InputError
from wainscot_core.findings import Finding
from wainscot_core.recipe.plan import DailyKind
from wainscot_core.recipe.tones import merged

from .mending import check_plan
from .models import Plan
from .queries import fortnight_of, keyed, plan_result


@dataclass(frozen=True, kw_only=True)
class TurnView:
    """A recipe of the rotation and its days in each round."""

    recipe: int
    days: float


@dataclass(frozen=True, kw_only=True)
class PlanItemView:
    """A daily item with its food's name and kcal a day, None when the plan cannot be computed."""

    key: str
    kind: DailyKind
    food: str
    name: str
    quantity: str
    kcal: float | None


@dataclass(frozen=True, kw_only=True)
class ScheduleChoice:
    """A change-over that can be chosen."""

    days: int
    name: str
    source: str


@dataclass(frozen=True, kw_only=True)
class PlanView:
    """A plan: its turns and items, each recipe's day, and the round as a whole. bowls: two weeks of it, None where it
    cannot be computed; hold: what is done when a step does not go well. problem: why it
    cannot be computed, "" when it can; spoilt: its row cannot be read. tones: what each food of its recipes is drawn in."""

    version: int
    turns: tuple[TurnView, ...]
    items: tuple[PlanItemView, ...]
    days: tuple[PlanDay, ...]
    round_days: float
    extras_share: float
    extras_most: float
    extras_source: str
    findings: tuple[Finding, ...]
    analysis: Analysis | None
    begins: date | None
    change_days: int
    schedules: tuple[ScheduleChoice, ...]
    bowls: Fortnight | None
    hold: str
    empty: bool
    problem: str
    spoilt: bool
    tones: dict[str, str]


def plan_view(plan: Plan) -> PlanView:
    """A stored plan with its analysis; a line that cannot be read stops the sums, not the plan."""
    rule = reference().extras
    try:
        check_plan(plan)
    except InputError as error:
        return _spoilt_view(
            plan, f"This plan holds something that cannot be read. {error.field}: {error.message}"
        )
    empty = not any(t["days"] for t in plan.turns) and not plan.items
    found, bowls, problem = None, None, ""
    if not empty:
        try:
            found = plan_result(plan.case, plan.turns, plan.items)
            bowls = fortnight_of(plan, timezone.localdate())
        except InputError as error:
            problem = error.message
    kcal = found.item_kcal if found else (None,) * len(plan.items)
    library = library_of(plan.case)
    return PlanView(
        version=plan.version,
        turns=tuple(TurnView(recipe=t["recipe"], days=t["days"]) for t in plan.turns),
        items=tuple(
            PlanItemView(
                key=key,
                kind=DailyKind(item["kind"]),
                food=item["food"],
                name=library.food(item["food"]).name if item["food"] in library else item["food"],
                quantity=item["quantity"],
                kcal=energy,
            )
            for (key, item), energy in zip(keyed(plan.items).items(), kcal, strict=True)
        ),
        days=found.days if found else (),
        round_days=found.round_days if found else 0.0,
        extras_share=found.extras_share if found else 0.0,
        extras_most=rule.most_share,
        extras_source=rule.source,
        findings=found.findings if found else (),
        analysis=found.analysis if found else None,
        begins=plan.begins,
        change_days=plan.change_days,
        schedules=_schedules(),
        bowls=bowls,
        hold=reference().change_over.hold,
        empty=empty,
        problem=problem,
        spoilt=False,
        tones=_tones(plan),
    )


def _spoilt_view(plan: Plan, problem: str) -> PlanView:
    rule = reference().extras
    return PlanView(
        version=plan.version, turns=(), items=(), days=(), round_days=0.0, extras_share=0.0, extras_most=rule.most_share,
        extras_source=rule.source, findings=(), analysis=None, begins=None, change_days=0, schedules=(), bowls=None,
        hold="", empty=False, problem=problem, spoilt=True, tones={},
    )  # fmt: skip


def _schedules() -> tuple[ScheduleChoice, ...]:
    rules = reference().change_over
    return tuple(
        ScheduleChoice(days=days, name=schedule.name, source=schedule.source)
        for days, schedule in rules.schedules.items()
    )


def _tones(plan: Plan) -> dict[str, str]:
    known = {r.pk: r.tones for r in plan.case.recipes.all()}
    return merged(known[t["recipe"]] for t in plan.turns if t["days"] and t["recipe"] in known)
