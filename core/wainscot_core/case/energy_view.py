"""Everything that is known of a dog's energy need, side by side: methods, ideal weight, weight plan,
what it eats now, what its weight says, and what a volume rule would give it."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date

from ..confidence import Confidence
from ..dog.energy import Energy, EnergyRules
from ..dog.energy_methods import DogFacts, Estimate, applicable, from_weight_trend
from ..dog.intake import present_intake
from ..dog.life_stage import Stage, energy_tags, life_stage_of
from ..dog.portion_rule import Served, portion_kcal, read_portion
from ..dog.record import CaseRecord, DietItem, DogRecord, EnergyBy, Weighing
from ..dog.weight import IdealWeight, WeightPlan, ideal_weight, weight_plan
from ..dossier.reference import Reference
from ..errors import InputError
from ..facts.foods import FoodLibrary
from ..facts.me_methods import DEFAULT_ME, MeChoice, MeMethod
from ..figures import rounded
from ..recipe.amounts import grams_per_ml
from ..recipe.line import Line, sum_lines
from ..trace import Quantity, Step
from ..units import Measures

# What the estimates that come from the dog itself stand under.
THIS_DOG = "This dog"
PRESENT_INTAKE = "present-intake"


@dataclass(frozen=True, kw_only=True)
class Multiplier:
    """A published multiplier of RER that fits this dog, with its range."""

    label: str
    value: float
    low: float | None
    high: float | None


@dataclass(frozen=True, kw_only=True)
class FoodEnergyMethod:
    """A way to find the ME of food, what it is for, and whether it is the default."""

    id: MeMethod
    name: str
    words: str
    when: str
    source: str
    confidence: Confidence
    is_default: bool


@dataclass(frozen=True, kw_only=True)
class FoodEnergyChoices:
    """The ME methods a case can stand on, why the default is it, and what is taken for granted about
    what a dog gets out of food."""

    methods: tuple[FoodEnergyMethod, ...]
    why: str
    granted: tuple[MeChoice, ...]


@dataclass(frozen=True, kw_only=True)
class EnergyOffer:
    """A figure that fits this dog better than the one that is set: what it is, and why it is offered."""

    label: str
    kcal: float
    why: str


@dataclass(frozen=True, kw_only=True)
class EnergyView:
    """Every method side by side.

    chosen: the target as it is set. metabolic_kg: kg^0.75 of the weight on the scale, by which a figure is told per
    kg^0.75. present_kcal: what the dog eats now, None where it was not put down; present_unknown: so many of its items have
    no kcal and are not in it. ideal, plan: None where the dog is not
    scored, is growing, or is in condition. food: how the energy of food is found. offers: figures that fit the dog where
    the one that is set does not.
    """

    life_stage: Stage
    chosen: Energy
    metabolic_kg: float
    present_kcal: float | None
    present_unknown: int
    multipliers: tuple[Multiplier, ...]
    estimates: tuple[Estimate, ...]
    ideal: IdealWeight | None
    plan: WeightPlan | None
    food: FoodEnergyChoices
    offers: tuple[EnergyOffer, ...] = ()


@dataclass(frozen=True, kw_only=True)
class PortionResult:
    """What a rule on how much is fed gives: kcal a day, and its share of the energy target; the same at the upper end
    of a range, None where it tells one figure."""

    step: Step
    share_of_target: float
    high: Step | None
    high_share: float | None


def stage_in(reference: Reference, record: CaseRecord) -> Stage:
    """The life stage of a recorded case."""
    known = reference.conditions
    conditions = [known[c.id] for c in record.conditions if c.id in known]
    return life_stage_of(reference.life_stages, record.dog, conditions)


def energy_view(
    reference: Reference, record: CaseRecord, chosen: Energy, today: date
) -> EnergyView:
    """The energy of a recorded case."""
    stage = stage_in(reference, record)
    ideal = ideal_of(reference, record.dog, stage)
    facts = dog_facts(reference, record.dog, stage, ideal)
    plan = plan_of(reference, record.dog, ideal, today)
    estimates = tuple(applicable(reference.energy_methods, facts))
    own = tuple(own_estimates(reference, record))
    diet = record.intake.current_diet
    return EnergyView(
        life_stage=stage,
        chosen=chosen,
        metabolic_kg=rounded(record.dog.weight_kg**0.75),
        present_kcal=next((e.kcal for e in own if e.id == PRESENT_INTAKE), None),
        present_unknown=sum(item.kcal_per_unit is None for item in diet),
        multipliers=tuple(
            Multiplier(
                label=m.label, value=m.data["k"], low=m.data.get("low"), high=m.data.get("high")
            )
            for m in reference.energy_methods.multipliers_for(facts)
        ),
        estimates=(*estimates, *own),
        ideal=ideal,
        plan=plan,
        food=food_energy_choices(reference),
        offers=tuple(_offers(record, chosen.target_kcal, stage, plan, estimates)),
    )


# A figure that differs by less is the same one.
OFFER_FROM_SHARE = 0.05


def _offers(
    record: CaseRecord, target: float, stage: Stage, plan: WeightPlan | None,
    estimates: Sequence[Estimate],
) -> Iterator[EnergyOffer]:  # fmt: skip
    """A weight plan for a dog out of condition; for any other the multiples of its life stage, where the
    preset one is none of theirs and nobody said why it is kept."""
    if plan is not None:
        if abs(plan.start_kcal - target) > OFFER_FROM_SHARE * target:
            yield EnergyOffer(
                label="Weight plan to the ideal weight", kcal=plan.start_kcal,
                why=f"body condition is {record.dog.body_condition} of 9",
            )  # fmt: skip
        return
    if record.energy_reason or record.energy_method is EnergyBy.OWN_FIGURE:
        return
    ranges = [e for e in estimates if e.school == MULTIPLES]
    if any((e.low or e.kcal) * 0.99 <= target <= (e.high or e.kcal) * 1.01 for e in ranges):
        return
    for found in ranges:
        yield EnergyOffer(label=found.label, kcal=found.kcal, why=f"it counts as {stage}")


# The school of methods that multiply RER (methods.yaml).
MULTIPLES = "RER multiplier"


def food_energy_choices(reference: Reference) -> FoodEnergyChoices:
    """The ways the energy of food can be found."""
    return FoodEnergyChoices(
        methods=tuple(
            FoodEnergyMethod(
                id=m.id, name=m.name, words=m.words, when=m.when, source=m.source,
                confidence=m.confidence, is_default=m.id is DEFAULT_ME,
            )
            for m in reference.me.methods.values()
        ),
        why=reference.me.why,
        granted=reference.me.choices,
    )  # fmt: skip


def dog_facts(
    reference: Reference, dog: DogRecord, stage: Stage, ideal: IdealWeight | None
) -> DogFacts:
    """What the methods look at."""
    return DogFacts(
        dog.weight_kg,
        dog.ideal_weight_kg or (ideal.typical_kg if ideal else None),
        dog.adult_weight_kg,
        dog.litter_size,
        dog.lactation_week,
        energy_tags(reference.life_stages, dog, stage),
    )


def ideal_of(reference: Reference, dog: DogRecord, stage: Stage) -> IdealWeight | None:
    """Ideal weight from body condition, for a grown dog that is scored."""
    if dog.body_condition is None or stage is Stage.GROWTH:
        return None
    return ideal_weight(reference.weight["ideal_weight"], dog.weight_kg, dog.body_condition)


def plan_of(
    reference: Reference, dog: DogRecord, ideal: IdealWeight | None, today: date
) -> WeightPlan | None:
    """A plan to the ideal weight at the typical rate, when the dog is not in condition."""
    rules, data = reference.life_stages, reference.weight["weight_plan"]
    if ideal is None or dog.body_condition is None:
        return None
    low, high = rules.plan_ideal_condition
    target = dog.ideal_weight_kg or ideal.typical_kg
    if (
        low <= dog.body_condition <= high
        or abs(target - dog.weight_kg) < rules.plan_from_share * dog.weight_kg
    ):
        return None
    rates = data["loss_pct_per_week" if target < dog.weight_kg else "gain_pct_per_week"]
    return weight_plan(data, reference.energy, dog.weight_kg, target, rates["typical"], today)


def own_estimates(reference: Reference, record: CaseRecord) -> Iterator[Estimate]:
    """What is known of this very dog: present intake, its weight trend, the consultant's figure."""
    diet = record.intake.current_diet
    present = present_intake(reference.catalogue.modified_atwater, diet)
    if present.kcal > 0:
        yield _own(
            PRESENT_INTAKE, "Present intake", _eaten(diet, present.kcal, present.unknown_items)
        )
        trend = _trend(reference, record.intake.weights, present.kcal)
        if trend is not None:
            yield _own("weight-trend", "Measured from the weight trend", trend)
    if record.kcal_per_day:
        reason = record.energy_reason or "no reason recorded"
        step = Step(
            "Consultant's own figure", "as entered", (), record.kcal_per_day, "kcal/day", reason
        )
        yield _own("own-figure", "Own figure", step)


def _own(key: str, label: str, step: Step) -> Estimate:
    return Estimate(
        id=key, school=THIS_DOG, label=label, kcal=step.value, low=None, high=None, step=step
    )


def _eaten(diet: Sequence[DietItem], kcal: float, unknown: int) -> Step:
    missing = f"; {unknown} without kcal left out" if unknown else ""
    inputs = tuple(
        Quantity(item.name, item.amount * item.kcal_per_unit, "kcal/day")
        for item in diet
        if item.kcal_per_unit is not None
    )
    return Step(
        "Present intake", f"sum of amount x kcal per unit{missing}", inputs, kcal, "kcal/day",
        "as recorded at intake", Confidence.LOW if unknown else Confidence.MEDIUM,
    )  # fmt: skip


def _trend(reference: Reference, weighings: Sequence[Weighing], kcal: float) -> Step | None:
    """Maintenance from the last two weighings, when their dates can be read."""
    weights = []
    for entry in weighings:
        try:
            weights.append((date.fromisoformat(entry.on), entry.kg))
        except ValueError:
            continue
    weights.sort()
    if len(weights) < 2:
        return None
    (start, first), (end, last) = weights[-2:]
    try:
        return from_weight_trend(reference.energy_methods, kcal, first, last, (end - start).days)
    except InputError:
        return None


def portion_result(
    rules: EnergyRules,
    record: CaseRecord,
    library: FoodLibrary,
    lines: Sequence[Line],
    rule: str,
    target_kcal: float,
    measures: Measures = Measures.US,
) -> PortionResult:
    """kcal a day of a rule on how much is fed, told in these cups, for this dog and recipe. Raises InputError (rule or
    recipe)."""
    served = Served(record.dog.weight_kg)
    sums = sum_lines(library, lines, 1) if lines else None
    if sums is not None and sums.kcal > 0:
        # A food without a household weight counts as water, 1 g/ml; the step says so.
        ml = sum(x.fed_grams / (grams_per_ml(x.food, measures=measures) or 1.0) for x in lines)
        served = Served(record.dog.weight_kg, sums.total_grams / ml, sums.kcal / sums.total_grams)
    steps = portion_kcal(rules, read_portion(rule, measures), served)
    low, high = steps[0], steps[-1] if len(steps) > 1 else None
    return PortionResult(
        step=low, share_of_target=rounded(low.value / target_kcal), high=high,
        high_share=None if high is None else rounded(high.value / target_kcal),
    )  # fmt: skip
