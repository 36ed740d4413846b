"""What is really fed of the plan that is issued, by what the owner says; nothing is stored of it until a day is put down."""

from dataclasses import dataclass
from typing import Annotated

from cases.models import Case
from pydantic import Field
from release.models import Release
from release.queries import forward_of
from wainscot_core.errors import InputError
from wainscot_core.followup.drift import MOST_ITEMS, Drift, DriftItem, To, drift
from wainscot_core.release.freeze import Forward
from wainscot_core.release.states import ReleaseState


@dataclass(frozen=True, kw_only=True)
class PlanLine:
    """A line of the plan: food by its id and its name; quantity as typed."""

    food: str
    name: str
    quantity: str


@dataclass(frozen=True, kw_only=True)
class DriftPlan:
    """What is to be fed. number: of the version that was issued, None where none is: then of the recipe on the bench."""

    name: str
    number: int | None
    days: float
    lines: tuple[PlanLine, ...]


@dataclass(frozen=True, kw_only=True)
class DriftIn:
    """What is fed otherwise."""

    items: Annotated[tuple[DriftItem, ...], Field(max_length=MOST_ITEMS)]


def fed_release(case: Case) -> Release | None:
    """The plan of a case that its owner has."""
    return (
        Release.objects.for_practice(case.practice)
        .filter(recipe__case=case, recipe__archived=False, state=ReleaseState.ISSUED.value)
        .select_related("recipe__case__dog__client__practice", "frozen__snapshot")
        .first()
    )


def _forward(case: Case) -> tuple[Forward, int | None]:
    """The plan that is fed. Raises InputError where there is none."""
    issued = fed_release(case)
    if issued is not None and issued.frozen is not None:
        return forward_of(issued.recipe, issued.frozen), issued.frozen.number
    recipe = case.recipes.filter(archived=False).last()
    if recipe is None:
        raise InputError("", "the case has no recipe yet: there is no plan to compare with")
    return forward_of(recipe), None


def drift_plan(case: Case) -> DriftPlan:
    """What is to be fed. Raises InputError where there is no plan."""
    forward, number = _forward(case)
    dossier = forward.dossier
    return DriftPlan(
        name=forward.name, number=number, days=dossier.days,
        lines=tuple(
            PlanLine(food=x.food.id, name=x.food.name, quantity=x.text.quantity if x.text else f"{x.amount.grams:g} g")
            for x in dossier.lines
        ),
    )  # fmt: skip


def drift_of(case: Case, asked: DriftIn) -> Drift:
    """A day as it is really fed. Raises InputError naming the item and its field."""
    forward, _ = _forward(case)
    dog = case.dog
    return drift(
        forward, asked.items, To(client=dog.client.name, dog=dog.name, practice=case.practice.name)
    )
