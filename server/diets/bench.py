"""A case's recipe as the core's bench: exclusions, prices, and the runs of its formulation."""

from collections.abc import Sequence
from typing import Any

from cases.models import Case, ClientFood
from library.facts import reference
from library.models import PracticeFood
from wainscot_core.casefile import read_case_conditions
from wainscot_core.exclusions import Avoidance, Reaction, why_unfit
from wainscot_core.foods import FoodLibrary
from wainscot_core.formulation.candidates import open_questions
from wainscot_core.formulation.proposal import Bench
from wainscot_core.formulation.request import avoidance_of
from wainscot_core.line import Line as CoreLine
from wainscot_core.report import exclusion_flags
from wainscot_core.standards import RequirementSet

from .services import case_energy, case_targets

_MARKS = {
    ClientFood.Mark.CANNOT_GET: "the owner cannot get it",
    ClientFood.Mark.WILL_NOT_USE: "the owner will not use it",
}


def avoidance(case: Case, library: FoodLibrary, lines: Sequence[CoreLine]) -> Avoidance:
    """What this dog and this owner keep out of a recipe."""
    marked = {
        m.food: _MARKS[ClientFood.Mark(m.mark)]
        for m in ClientFood.objects.filter(client_id=case.dog.client_id)
    }
    for food in PracticeFood.objects.filter(practice_id=case.practice_id, unavailable=True):
        marked.setdefault(food.food, "it cannot be had now")
    conditions = read_case_conditions(reference(), case_targets(case))
    medicines = [m["name"] for m in case.intake.get("medicines", [])]
    return avoidance_of(
        reference(), library, lines, case_reactions(case), conditions, marked, medicines
    )


def reaction_flags(
    case: Case, library: FoodLibrary, lines: Sequence[CoreLine]
) -> list[dict[str, Any]]:
    """What in a recipe this dog reacts to or its trial leaves out. Reads no further records."""
    if not case.reactions and not any(c["id"] == "food-reaction" for c in case.conditions):
        return []
    facts = reference()
    conditions = read_case_conditions(facts, case_targets(case))
    avoid = avoidance_of(facts, library, lines, case_reactions(case), conditions, {})
    return exclusion_flags(lines, avoid, facts.supplements)


def case_reactions(case: Case) -> list[Reaction]:
    """The recorded reactions."""
    return [Reaction(r["food"], r.get("form", ""), r.get("tolerates", "")) for r in case.reactions]


def prices(case: Case) -> dict[str, float]:
    """Known prices per kg by food."""
    found = {}
    for noted in PracticeFood.objects.filter(practice_id=case.practice_id):
        price = noted.price_per_kg()
        if price is not None:
            found[noted.food] = price
    return found


def core_bench(
    case: Case,
    library: FoodLibrary,
    lines: Sequence[CoreLine],
    days: float,
    requirements: RequirementSet,
    policy: str,
) -> Bench:
    """Everything the formulation of a recipe looks at."""
    return Bench(
        reference(), library, tuple(lines), days, case_energy(case).target_kcal, requirements,
        policy, avoidance(case, library, lines), prices(case),
    )  # fmt: skip


def choices(case: Case, library: FoodLibrary, lines: Sequence[CoreLine]) -> list[dict[str, Any]]:
    """What may be added: every generic supplement and the staples, with what speaks against each."""
    avoid = avoidance(case, library, lines)
    facts = reference()
    rules = facts.formulation
    found = []
    for food_id in (*dict.fromkeys((*rules.supplements, *facts.supplements)), *rules.staples):
        supplement = facts.supplements.get(food_id)
        why = why_unfit(library.food(food_id), avoid, supplement)
        if not why and open_questions(library, food_id, supplement):
            why = "its strength must be read from the pack first"
        found.append(
            {
                "food": food_id,
                "name": library.food(food_id).name,
                "kind": "supplement" if supplement else "food",
                "usual": food_id in rules.supplements or food_id in rules.staples,
                "why_not": why,
            }
        )
    return found
