"""Energy of a case: which methods fit the dog, ideal weight, weight plan, volume rules."""

from datetime import date, timedelta
from typing import Any

from cases.models import Case, Dog
from django.utils import timezone
from library.facts import reference
from wainscot_core.amounts import grams_per_ml
from wainscot_core.energy_methods import DogFacts, Estimate, applicable, from_weight_trend
from wainscot_core.errors import InputError
from wainscot_core.foods import FoodLibrary
from wainscot_core.intake import present_intake
from wainscot_core.line import Line, sum_lines
from wainscot_core.trace import Quantity, Step
from wainscot_core.volume import read_rule, rule_kcal
from wainscot_core.weight import IdealWeight, WeightPlan, ideal_weight, weight_plan

PERCENT_PER_WEEK = 1.0


def life_stage_of(case: Case) -> str:
    """growth, senior, working, gestation, lactation or adult, from the case's facts.

    Growth until 12 months, 18 for an expected adult weight over 25 kg; senior from 8 years,
    6 over 25 kg: the usual conventions, which the consultant confirms through the life stage.
    """
    ids = {c["id"] for c in case.conditions}
    dog = case.dog
    for stage, week in (("gestation", dog.gestation_week), ("lactation", dog.lactation_week)):
        if stage in ids or week:
            return stage
    large = (dog.adult_weight_kg or dog.weight_kg) > 25
    if dog.age is not None and dog.age < (18 if large else 12):
        return "growth"
    if dog.activity == "working" or "working" in ids:
        return "working"
    if dog.age is not None and dog.age >= (72 if large else 96):
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
        years = (dog.age or 0) / 12
        if dog.age is not None and years <= 7:
            tags.add("young" if years < 3 else "mid")
    if stage == "growth":
        tags.add("growth-early" if (dog.age or 0) < 4 else "growth-late")
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


def _own_estimates(case: Case) -> list[dict[str, Any]]:
    """What is known of this very dog: present intake, its weight trend, the consultant's figure."""
    found: list[tuple[str, str, Step]] = []
    present = present_intake(case.intake.get("current_diet", []))
    if present.kcal > 0:
        missing = (
            f"; {present.unknown_items} without kcal left out" if present.unknown_items else ""
        )
        inputs = tuple(
            Quantity(i["name"], i["amount"] * i["kcal_per_unit"], "kcal/day")
            for i in case.intake.get("current_diet", [])
            if i.get("kcal_per_unit") is not None
        )
        step = Step(
            "Present intake", f"sum of amount x kcal per unit{missing}", inputs, present.kcal,
            "kcal/day", "as recorded at intake", "low" if present.unknown_items else "medium",
        )  # fmt: skip
        found.append(("present-intake", "Present intake", step))
        try:
            trend = _trend(case, present.kcal)
        except InputError:
            trend = None
        if trend is not None:
            found.append(("weight-trend", "Measured from the weight trend", trend))
    if case.kcal_per_day:
        step = Step(
            "Consultant's own figure", "as entered", (), case.kcal_per_day, "kcal/day",
            case.energy_reason or "no reason recorded", "",
        )  # fmt: skip
        found.append(("own-figure", "Own figure", step))
    return [
        {
            "id": key, "school": "This dog", "label": label, "kcal": step.value, "low": None,
            "high": None, "step": step.as_dict(),
        }
        for key, label, step in found
    ]  # fmt: skip


def _trend(case: Case, kcal: float) -> Step | None:
    """Maintenance from the last two weighings, when their dates can be read."""
    weights = []
    for entry in case.intake.get("weights", []):
        try:
            weights.append((date.fromisoformat(entry["on"]), float(entry["kg"])))
        except ValueError:
            continue
    weights.sort()
    if len(weights) < 2:
        return None
    (start, first), (end, last) = weights[-2:]
    return from_weight_trend(kcal, first, last, (end - start).days)


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
        ]
        + _own_estimates(case),
        "ideal": {
            "typical_kg": found.typical_kg, "low_kg": found.low_kg, "high_kg": found.high_kg,
            "steps": [s.as_dict() for s in found.steps],
        } if found else None,
        "plan": {
            "target_kg": planned[0], "pct_per_week": PERCENT_PER_WEEK,
            "start_kcal": planned[1].start_kcal, "floor_kcal": planned[1].floor_kcal,
            "weeks": planned[1].weeks,
            "expected": (timezone.localdate() + timedelta(weeks=planned[1].weeks)).isoformat(),
            "weights_kg": list(planned[1].weights_kg),
            "steps": [s.as_dict() for s in planned[1].steps],
        } if planned else None,
    }  # fmt: skip
