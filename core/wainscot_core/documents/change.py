"""The change-over calendar: grams of the new food and of the old, a meal, for this dog, day by day."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date

from ..analysis.results import LineResult
from ..conventions import Conventions, day, food_weight, number, share, spelled
from ..dog.record import DietItem
from ..facts.handling import Place
from ..kitchen.change_over import ChangeBy, ChangePlan, day_of
from ..snapshot.snapshot import FrozenRecipe, Snapshot
from .paper import (
    CAUTION,
    Block,
    Column,
    Document,
    DocumentKind,
    Section,
    Table,
    Tone,
    Words,
    origin_of,
)


@dataclass(frozen=True, kw_only=True)
class ChangeDay:
    """A day: the share of the new food in the day's energy, what is given of it a meal, and of the old, in words."""

    on: date
    share: float
    new: str
    old: str


def change_days(snapshot: Snapshot, plan: ChangePlan) -> tuple[ChangeDay, ...]:
    """The days of a change-over. Raises InputError for a snapshot without a recipe."""
    recipe, c = snapshot.of_recipe, snapshot.parties.conventions
    meals = recipe.analysis.recipe.meals_per_day
    old = snapshot.case.intake.current_diet
    if plan.by is ChangeBy.INGREDIENT:
        return tuple(_by_ingredient(c, recipe, plan, old, meals))
    # As it is fed, not as it was weighed raw.
    whole = sum(fed_weights(recipe)) / _meals(recipe)
    return tuple(
        ChangeDay(
            on=day_of(plan, i), share=part, new=food_weight(c, whole * part),
            old=_old(c, old, 1 - part, meals),
        )
        for i, part in enumerate(plan.shares)
    )  # fmt: skip


def fed_weights(recipe: FrozenRecipe) -> list[float]:
    """What each line weighs as it is fed, g: about, where dry food takes up water."""
    lines = recipe.analysis.recipe.lines
    water = [at.water_g for at in recipe.handling.lines] if recipe.handling else [0.0] * len(lines)
    return [line.fed_grams + more for line, more in zip(lines, water, strict=True)]


def _meals(recipe: FrozenRecipe) -> float:
    """How many meals a batch makes."""
    whole = recipe.analysis.recipe
    return whole.covers_days * whole.meals_per_day


def _old(c: Conventions, diet: Sequence[DietItem], part: float, meals: int) -> str:
    """What is left of the old food a meal."""
    if part <= 1e-9:
        return "none"
    if not diet:
        return f"{share(c, part)} of what it was"
    return "; ".join(_item(c, item, part / meals) for item in diet)


def _item(c: Conventions, item: DietItem, part: float) -> str:
    amount = item.amount * part
    if item.unit.strip().lower() in {"g", "gram", "grams"}:
        return f"{food_weight(c, amount)} {item.name}"
    return f"{number(c, amount, 2)} {item.unit} {item.name}".replace("  ", " ")


def _order(recipe: FrozenRecipe) -> list[tuple[LineResult, float]]:
    """Foods, with what they weigh as fed, in the order they are brought in: what brings most energy first, what is stirred in cold after that, what is
    given in the bowl last."""
    lines = recipe.analysis.recipe.lines
    places = [at.place for at in recipe.handling.lines] if recipe.handling else []
    late = {Place.COOLED: 1, Place.BOWL: 2}
    ranked = sorted(
        range(len(lines)),
        key=lambda i: (late.get(places[i], 0) if places else 0, -(lines[i].kcal or 0.0)),
    )
    weights = fed_weights(recipe)
    return [(lines[i], weights[i]) for i in ranked]


def _by_ingredient(
    c: Conventions, recipe: FrozenRecipe, plan: ChangePlan, old: Sequence[DietItem], meals: int
) -> Iterator[ChangeDay]:
    order = _order(recipe)
    total = sum(line.kcal or 0.0 for line, _ in order) or 1.0
    days = len(plan.shares)
    for i in range(days):
        # One food after the other, evenly over the days; on the last all of them.
        count = max(1, round((i + 1) * len(order) / days))
        given = order[:count]
        part = 1.0 if count == len(order) else sum(line.kcal or 0.0 for line, _ in given) / total
        said = ", ".join(
            f"{spelled(c, x.name)} {food_weight(c, grams / _meals(recipe))}" for x, grams in given
        )
        yield ChangeDay(on=day_of(plan, i), share=part, new=said, old=_old(c, old, 1 - part, meals))


def change_calendar(snapshot: Snapshot, edition: str, approved: str, plan: ChangePlan) -> Document:
    """The calendar. Raises InputError for a snapshot without a recipe."""
    c, dog = snapshot.parties.conventions, snapshot.case.dog.name
    days = change_days(snapshot, plan)
    return Document(
        kind=DocumentKind.CHANGE,
        title=f"{dog}: {len(days)} days to the new food",
        aside=snapshot.parties.aside(edition),
        sections=(
            Section(title="", blocks=(_table(c, days),)),
            Section(title="If it does not go well", blocks=tuple(_rules(plan)), tone=Tone.BOX),
        ),
        foot=(
            Words(
                lead=approved or "Do not begin before the attending veterinarian has approved it.",
                text=CAUTION,
            ),
        ),
        fine=(f"Steps: {plan.source}.", origin_of(snapshot)),
    )


def _table(c: Conventions, days: Sequence[ChangeDay]) -> Table:
    return Table(
        columns=(
            Column(title="day"),
            Column(title="new", figures=True),
            Column(title="new food, a meal", figures=True),
            Column(title="old food, a meal"),
        ),
        rows=tuple(
            (f"{i + 1}, {day(c, x.on)}", share(c, x.share), x.new, x.old)
            for i, x in enumerate(days)
        ),
        ticks=True,
    )


def _rules(plan: ChangePlan) -> Iterator[Block]:
    yield Words(text=plan.hold)
    yield Words(text=plan.stop)
    yield Words(text=plan.ill)
