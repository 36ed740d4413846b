"""Energy of a case: which methods fit the dog, ideal weight, weight plan, volume rules."""

from typing import Any

from cases.models import Case, Dog
from library.facts import reference
from wainscot_core.amounts import grams_per_ml
from wainscot_core.casefile import Line, sum_lines
from wainscot_core.energy_methods import DogFacts, Estimate, applicable
from wainscot_core.errors import InputError
from wainscot_core.foods import FoodLibrary
from wainscot_core.trace import Step
from wainscot_core.volume import read_rule, rule_kcal
from wainscot_core.weight import IdealWeight, WeightPlan, ideal_weight, weight_plan

PERCENT_PER_WEEK = 1.0


def life_stage_of(case: Case) -> str:
    """growth, senior, working, gestation, lactation or adult, from the case's facts.

    Growth until 12 months, 18 for an expected adult weight over 25 kg; senior from 8 years,
    6 over 25 kg: the usual conventions, which the consultant confirms through the life stage.
    """
    ids = {c["id"] for c in case.conditions}
    for stage in ("gestation", "lactation"):
        if stage in ids:
            return stage
    dog = case.dog
    large = (dog.adult_weight_kg or dog.weight_kg) > 25
    if dog.age_months is not None and dog.age_months < (18 if large else 12):
        return "growth"
    if dog.activity == "working" or "working" in ids:
        return "working"
    if dog.age_months is not None and dog.age_months >= (72 if large else 96):
        return "senior"
    return "adult"


def dog_facts(case: Case) -> DogFacts:
    """What the methods look at."""
    dog, stage = case.dog, life_stage_of(case)
    tags = {stage}
    if stage in {"adult", "senior"}:
        tags |= {"adult", dog.activity or "typical"}
        if dog.neutered is not None:
            tags.add("neutered" if dog.neutered else "intact")
        years = (dog.age_months or 0) / 12
        if dog.age_months is not None and years <= 7:
            tags.add("young" if years < 3 else "mid")
    if stage == "growth":
        tags.add("growth-early" if (dog.age_months or 0) < 4 else "growth-late")
    if dog.body_condition is not None and stage != "growth":
        if dog.body_condition > 5:
            tags.add("overweight")
        if dog.body_condition < 4:
            tags.add("thin")
    tags |= _breed_tags(dog)
    found = ideal(case)
    return DogFacts(
        dog.weight_kg, dog.ideal_weight_kg or (found.typical_kg if found else None),
        dog.adult_weight_kg, dog.litter_size,
        dog.lactation_week, frozenset(tags),
    )  # fmt: skip


def _breed_tags(dog: Dog) -> set[str]:
    breed = dog.breed.lower()
    known = {
        "terrier": "terrier",
        "great dane": "dane",
        "newfoundland": "newfoundland",
        "greyhound": "greyhound",
    }
    found = {tag for word, tag in known.items() if word in breed}
    return found | ({"breed"} if found else set())


def estimates(case: Case) -> tuple[Estimate, ...]:
    """Every method that fits, by kcal."""
    return applicable(reference().energy_methods, dog_facts(case))


def ideal(case: Case) -> IdealWeight | None:
    """Ideal weight from body condition, for a grown dog that is scored."""
    if case.dog.body_condition is None or life_stage_of(case) == "growth":
        return None
    return ideal_weight(
        reference().weight["ideal_weight"], case.dog.weight_kg, case.dog.body_condition
    )


def plan(case: Case) -> tuple[float, WeightPlan] | None:
    """A plan to the ideal weight when the dog is not in condition."""
    found = ideal(case)
    if found is None or case.dog.body_condition in {None, 4, 5}:
        return None
    target = case.dog.ideal_weight_kg or found.typical_kg
    if abs(target - case.dog.weight_kg) < 0.05 * case.dog.weight_kg:
        return None
    facts = reference()
    return target, weight_plan(
        facts.weight["weight_plan"],
        facts.energy.rer_a,
        case.dog.weight_kg,
        target,
        PERCENT_PER_WEEK,
    )


def volume(case: Case, library: FoodLibrary, lines: list[Line], rule: str) -> tuple[Step, float]:
    """kcal of a volume rule for this dog and recipe, and the density used, g/ml."""
    if not lines:
        raise InputError("recipe", "the recipe is empty; a volume rule needs a recipe")
    sums = sum_lines(library, lines, 1)
    if sums.kcal <= 0:
        raise InputError("recipe", "the recipe has no energy")
    # A food without a household weight counts as water, 1 g/ml.
    ml = sum(line.fed_grams / (grams_per_ml(line.food) or 1.0) for line in lines)
    density = sums.total_grams / ml
    return rule_kcal(
        read_rule(rule), case.dog.weight_kg, density, sums.kcal / sums.total_grams
    ), density


def energy_view(case: Case, chosen: dict[str, Any]) -> dict[str, Any]:
    """The energy page as plain data."""
    found, planned = ideal(case), plan(case)
    return {
        "life_stage": life_stage_of(case),
        "chosen": chosen,
        "estimates": [
            {
                "id": e.method.id, "school": e.method.school, "label": e.method.label,
                "kcal": e.kcal, "low": e.low, "high": e.high, "step": e.step.as_dict(),
            }
            for e in estimates(case)
        ],
        "ideal": {
            "typical_kg": found.typical_kg, "low_kg": found.low_kg, "high_kg": found.high_kg,
            "steps": [s.as_dict() for s in found.steps],
        } if found else None,
        "plan": {
            "target_kg": planned[0], "pct_per_week": PERCENT_PER_WEEK,
            "start_kcal": planned[1].start_kcal, "floor_kcal": planned[1].floor_kcal,
            "weeks": planned[1].weeks, "weights_kg": list(planned[1].weights_kg),
            "steps": [s.as_dict() for s in planned[1].steps],
        } if planned else None,
    }  # fmt: skip
