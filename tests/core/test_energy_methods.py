"""Every published equation against its worked example; weight plans; volume rules."""

from datetime import date, timedelta
from pathlib import Path

import pytest
import yaml
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.case.energy_view import energy_view
from wainscot_core.dog.energy import by_own_figure
from wainscot_core.dog.energy_methods import (
    DogFacts,
    Estimate,
    applicable,
    estimate,
    from_weight_trend,
    present_intake_kcal,
)
from wainscot_core.dog.life_stage import energy_tags, life_stage_of
from wainscot_core.dog.portion_rule import Served, portion_kcal, read_portion
from wainscot_core.dog.record import DogRecord, read_record
from wainscot_core.dog.volume_rule import read_rule, rule_kcal
from wainscot_core.dog.weight import ideal_weight, weight_plan
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError

ROOT = Path(__file__).resolve().parents[2]
EXAMPLES = [
    (m["id"], *m["example"])
    for m in yaml.safe_load((ROOT / "reference/energy/methods.yaml").read_text())["methods"]
]


@pytest.mark.parametrize(("method_id", "given_facts", "kcal"), EXAMPLES)
def test_worked_examples_to_four_figures(
    facts: Reference, method_id: str, given_facts: dict, kcal: float
) -> None:
    method = next(m for m in facts.energy_methods.methods if m.id == method_id)
    dog = DogFacts(
        given_facts["w"],
        given_facts["w"],
        given_facts.get("adult"),
        given_facts.get("litter"),
        given_facts.get("week"),
    )
    found = estimate(facts.energy_methods, method, dog).kcal
    assert float(f"{found:.4g}") == pytest.approx(kcal, abs=0.11 if kcal < 1000 else 0.6)


@pytest.mark.parametrize(("week", "kcal"), [(1, 3871), (2, 4471), (3, 4921), (4, 5221)])
def test_lactation_by_week(facts: Reference, week: int, kcal: float) -> None:
    """25 kg, 6 pups (NRC 2006)."""
    method = next(m for m in facts.energy_methods.methods if m.id == "nrc-lactation")
    found = estimate(facts.energy_methods, method, DogFacts(25, litter_size=6, lactation_week=week))
    assert found.kcal == pytest.approx(kcal, abs=0.6)


@pytest.mark.parametrize(("weight", "kcal"), [(10, 1181), (18, 1529), (27, 1658)])
def test_growth_steps(facts: Reference, weight: float, kcal: float) -> None:
    """Expected adult weight 30 kg (FEDIAF 2018)."""
    method = next(m for m in facts.energy_methods.methods if m.id == "fediaf-growth-step")
    found = estimate(facts.energy_methods, method, DogFacts(weight, adult_weight_kg=30))
    assert found.kcal == pytest.approx(kcal, abs=0.6)


def test_a_missing_fact_is_named(facts: Reference) -> None:
    method = next(m for m in facts.energy_methods.methods if m.id == "nrc-growth")
    with pytest.raises(InputError) as caught:
        estimate(facts.energy_methods, method, DogFacts(10))
    assert caught.value.field == "adult_weight_kg"
    with pytest.raises(InputError, match="weighs less"):
        estimate(facts.energy_methods, method, DogFacts(40, adult_weight_kg=30))


def test_methods_follow_the_dog(facts: Reference) -> None:
    adult = applicable(facts.energy_methods, DogFacts(10, tags=frozenset({"adult", "neutered"})))
    labels = {e.label for e in adult}
    assert "Neutered adult" in labels
    assert "Intact adult" not in labels
    assert not any("Growth" in label or "Gestation" in label for label in labels)
    assert [e.kcal for e in adult] == sorted(e.kcal for e in adult)


def test_present_intake() -> None:
    assert present_intake_kcal([(1.75, 412)]) == pytest.approx(721)


def test_a_dog_that_gains_was_overfed(facts: Reference) -> None:
    """0.5 kg gained in 50 days is 77 kcal a day too much."""
    found = from_weight_trend(facts.energy_methods, 800, 20.0, 20.5, 50)
    assert found.value == pytest.approx(800 - 77)
    with pytest.raises(InputError, match="14 days"):
        from_weight_trend(facts.energy_methods, 800, 20, 20.5, 5)


def test_ideal_weight_of_12_kg_at_8_of_9(facts: Reference) -> None:
    """10 % per point: 12 / 1.3 = 9.2; 15 %: 12 / 1.45 = 8.3; body fat 35 %: 12 x 0.65 / 0.8 = 9.75."""
    found = ideal_weight(facts.weight["ideal_weight"], 12, 8)
    assert round(found.typical_kg, 1) == 9.2
    assert found.low_kg == pytest.approx(12 / 1.45)
    assert found.high_kg == pytest.approx(9.75)
    with pytest.raises(InputError):
        ideal_weight(facts.weight["ideal_weight"], 12, 10)


TODAY = date(2026, 3, 2)


@given(weight=st.floats(3, 80), over=st.floats(1.05, 1.6), rate=st.floats(0.2, 2.0))
def test_a_loss_plan_never_goes_below_its_floor(
    facts: Reference, weight: float, over: float, rate: float
) -> None:
    plan = weight_plan(
        facts.weight["weight_plan"], facts.energy, weight * over, weight, rate, TODAY
    )
    assert plan.start_kcal >= plan.floor_kcal
    assert all(a >= b for a, b in zip(plan.weights_kg, plan.weights_kg[1:], strict=False))
    assert plan.expected == TODAY + timedelta(weeks=plan.weeks)


def test_a_plan_for_12_kg_to_9_kg(facts: Reference) -> None:
    """RER at 9 kg is 70 x 9^0.75 = 363.7 kcal: the start; the floor is 0.8 of it. At 1 % a week,
    12 x 0.99^n reaches 9 in ln(0.75) / ln(0.99) = 28.6 weeks."""
    plan = weight_plan(facts.weight["weight_plan"], facts.energy, 12, 9, 1.0, TODAY)
    assert plan.start_kcal == pytest.approx(363.7, abs=0.1)
    assert plan.floor_kcal == pytest.approx(291.0, abs=0.1)
    assert (plan.weeks, plan.weights_kg[-1]) == (29, 9)
    assert plan.weights_kg[:3] == pytest.approx((12, 11.88, 11.7612))
    # 0.5 and 2 % a week: 12 x 0.995 ^ 2 and 12 x 0.98 ^ 2 kg after the two weeks the dog is weighed in.
    first = plan.weighings[0]
    assert first.on == TODAY + timedelta(days=14) and plan.begins == TODAY
    assert (first.kg, first.slow_kg, first.fast_kg) == pytest.approx((11.7612, 11.8803, 11.5248))
    # At 2 % the target is reached after 15 weeks: 12 x 0.98 ^ 14 is 9.04 kg, and kept.
    assert plan.fast_kg[14] == pytest.approx(9.0436, abs=1e-3) and set(plan.fast_kg[15:]) == {9}
    assert len(plan.slow_kg) == len(plan.fast_kg) == len(plan.weights_kg)
    assert len(plan.weighings) == 14 and plan.weighings[-1].on == TODAY + timedelta(days=14 * 14)
    # On the 10th day 3 of 7 days of the second week are gone: 11.88 - 3/7 x 0.1188 kg.
    tenth = {**facts.weight["weight_plan"], "weigh_every_days": {"value": 10}}
    first = weight_plan(tenth, facts.energy, 12, 9, 1.0, TODAY).weighings[0]
    assert (first.on, first.kg) == (TODAY + timedelta(days=10), pytest.approx(11.829086, abs=1e-5))
    gain = weight_plan(facts.weight["weight_plan"], facts.energy, 9, 12, 1.0, TODAY)
    # 9 x 1.01^n reaches 12 in ln(1.3333) / ln(1.01) = 28.9 weeks.
    assert (gain.weeks, gain.weights_kg[1], gain.weights_kg[-1]) == (29, pytest.approx(9.09), 12)
    # 1.4 x 70 x 12^0.75 = 631.8
    assert gain.start_kcal == pytest.approx(631.8, abs=0.2)


def test_too_fast_a_loss_is_refused(facts: Reference) -> None:
    with pytest.raises(InputError, match="up to 2"):
        weight_plan(facts.weight["weight_plan"], facts.energy, 12, 9, 3, TODAY)


@pytest.mark.parametrize(
    ("text", "ml_per_kg"),
    [
        ("a cup a day per 10 kg", 236.588 / 10),
        ("A third of a cup per 5 lb at each of two meals", 236.588 / 3 * 2 / 2.26796),
        ("1 1/2 cups daily per 20 lb", 1.5 * 236.588 / 9.07185),
        ("half a cup per 5 kg twice a day", 0.5 * 236.588 / 5 * 2),
        ("2 tbsp per kg", 2 * 14.78676),
    ],
)
def test_volume_rules(text: str, ml_per_kg: float) -> None:
    assert read_rule(text).ml_per_kg == pytest.approx(ml_per_kg, rel=1e-4)


def test_energy_of_a_volume_rule() -> None:
    """A cup per 10 kg for 20 kg: 473 ml at 1 g/ml and 1.2 kcal/g is 568 kcal."""
    step = rule_kcal(read_rule("a cup a day per 10 kg"), 20, 1.0, 1.2)
    assert step.value == pytest.approx(2 * 236.588 * 1.2, rel=1e-4)


@pytest.mark.parametrize(
    ("text", "kcal"),
    [
        # 20 kg, food of 1.5 kcal a gram; 70 x 20^0.75 = 662.0 kcal.
        ("2-3 % of body weight a day", (600, 900)),
        ("feed 2.5% of his ideal bodyweight", (750,)),
        ("5 to 10 percent of the puppy's weight", (1500, 3000)),
        ("30 kcal per lb", (30 * 20 / 0.45359237,)),
        ("60-66 calories a kilo", (1200, 1320)),
        ("RER x 1.6", (662.0 * 1.6,)),
        ("1.2 times the RER", (662.0 * 1.2,)),
        ("about 900 kcal a day", (900,)),
        ("a cup a day per 10 kg", (2 * 236.588 * 1.5,)),
    ],
)
def test_rules_on_how_much_is_fed(facts: Reference, text: str, kcal: tuple[float, ...]) -> None:
    steps = portion_kcal(facts.energy, read_portion(text), Served(20, 1.0, 1.5))
    assert [s.value for s in steps] == pytest.approx(list(kcal), rel=1e-3)


def test_a_rule_needs_a_recipe_only_where_it_is_of_food(facts: Reference) -> None:
    bare = Served(20)
    assert portion_kcal(facts.energy, read_portion("30 kcal per lb"), bare)
    for text in ("2 % of body weight", "a cup per 10 kg"):
        with pytest.raises(InputError, match="needs a recipe"):
            portion_kcal(facts.energy, read_portion(text), bare)


@pytest.mark.parametrize("text", ["40 % of body weight", "0 % of body weight"])
def test_no_dog_eats_that(text: str) -> None:
    with pytest.raises(InputError, match="no dog eats"):
        read_portion(text)


@pytest.mark.parametrize("text", ["", "enough", "a cup", "per 10 kg"])
def test_unreadable_rules_say_how(text: str) -> None:
    with pytest.raises(InputError, match="write for example"):
        read_rule(text)


def test_lactation_counts_at_most_eight_pups(facts: Reference) -> None:
    """25 kg, week 3: 145 x 11.180 + 25 x (24 x 4 + 12 x 4) x 1.1 = 1621.1 + 3960; nine feed no more."""
    method = next(m for m in facts.energy_methods.methods if m.id == "nrc-lactation")
    for pups in (8, 9, 12):
        dog = DogFacts(25, litter_size=pups, lactation_week=3)
        assert estimate(facts.energy_methods, method, dog).kcal == pytest.approx(5581, abs=1)


def dog_of(**dog: object) -> DogRecord:
    return read_record({"dog": {"name": "T", "weight_kg": 10, **dog}}).dog


@pytest.mark.parametrize(
    ("dog", "stage"),
    [
        ({"age_months": 11}, "growth"),
        ({"age_months": 12}, "adult"),
        ({"age_months": 17, "adult_weight_kg": 26}, "growth"),
        ({"age_months": 17, "adult_weight_kg": 25}, "adult"),
        ({"age_months": 18, "adult_weight_kg": 26}, "adult"),
        ({"age_months": 95}, "adult"),
        ({"age_months": 96}, "senior"),
        ({"age_months": 72, "weight_kg": 26}, "senior"),
        ({"age_months": 71, "weight_kg": 26}, "adult"),
        ({"age_months": 40, "activity": "working"}, "working"),
        ({"age_months": 40, "lactation_week": 2}, "lactation"),
        ({"age_months": 40, "gestation_week": 6}, "gestation"),
        ({}, "adult"),
    ],
)
def test_life_stages_by_the_usual_conventions(
    facts: Reference, dog: dict[str, object], stage: str
) -> None:
    """Grown at 12 months, over 25 kg at 18; senior from 8 years, over 25 kg from 6."""
    assert life_stage_of(facts.life_stages, dog_of(**dog)) == stage


def test_a_condition_may_say_the_life_stage(facts: Reference) -> None:
    nursing = [facts.conditions["lactation"]]
    assert life_stage_of(facts.life_stages, dog_of(age_months=40), nursing) == "lactation"
    sick = [facts.conditions["ckd"]]
    assert life_stage_of(facts.life_stages, dog_of(age_months=40), sick) == "adult"


@pytest.mark.parametrize(
    ("dog", "tags"),
    [
        ({"age_months": 35, "neutered": True}, {"adult", "typical", "neutered", "young"}),
        ({"age_months": 36, "neutered": False}, {"adult", "typical", "intact", "mid"}),
        ({"age_months": 84, "activity": "low"}, {"adult", "low", "mid"}),
        ({"age_months": 85}, {"adult", "typical"}),
        ({"age_months": 3}, {"growth", "growth-early"}),
        ({"age_months": 4, "body_condition": 8}, {"growth", "growth-late"}),
        ({"body_condition": 5}, {"adult", "typical"}),
        ({"body_condition": 6}, {"adult", "typical", "overweight"}),
        ({"body_condition": 3}, {"adult", "typical", "thin"}),
        ({"body_condition": 4}, {"adult", "typical"}),
        ({"breed": "Border Terrier"}, {"adult", "typical", "breed", "terrier"}),
    ],
)
def test_what_methods_are_chosen_by(
    facts: Reference, dog: dict[str, object], tags: set[str]
) -> None:
    record = dog_of(**dog)
    stage = life_stage_of(facts.life_stages, record)
    assert energy_tags(facts.life_stages, record, stage) == tags


@pytest.mark.parametrize(
    ("dog", "target"),
    [
        ({"body_condition": 8, "weight_kg": 12}, 12 / 1.3),
        ({"body_condition": 5, "weight_kg": 12}, None),
        ({"body_condition": 4, "weight_kg": 12}, None),
        ({"body_condition": 3, "weight_kg": 12}, 12 / 0.8),
        ({"body_condition": 8, "weight_kg": 12, "ideal_weight_kg": 11.5}, None),
        ({"body_condition": 8, "weight_kg": 12, "ideal_weight_kg": 11.3}, 11.3),
        ({"body_condition": 8, "weight_kg": 12, "age_months": 5}, None),
    ],
)
def test_when_a_weight_plan_is_drawn(
    facts: Reference, dog: dict[str, object], target: float | None
) -> None:
    """Out of condition (not 4 or 5), grown, and 5 % or more from the target."""
    record = read_record({"dog": {"name": "T", "weight_kg": 10, **dog}})
    chosen = by_own_figure(facts.energy, record.dog.weight_kg, 500)
    plan = energy_view(facts, record, chosen, TODAY).plan
    assert (plan.target_kg if plan else None) == (target and pytest.approx(target))
    if plan:
        assert plan.pct_per_week == 1.0


def test_what_the_scale_is_drawn_from(facts: Reference) -> None:
    """16^0.75 is 8; two cups of 150 kcal and a treat of 40 are eaten, of a third thing nobody knows the kcal."""
    dog = {"name": "T", "weight_kg": 16}
    cups = {"name": "stew", "amount": 2, "unit": "cup", "kcal_per_unit": 150}
    treat = {"name": "biscuit", "amount": 1, "unit": "piece", "kcal_per_unit": 40}
    diet = [cups, treat, {"name": "a bone", "amount": 1, "unit": "piece"}]
    chosen = by_own_figure(facts.energy, 16, 500)
    fed = energy_view(
        facts, read_record({"dog": dog, "intake": {"current_diet": diet}}), chosen, TODAY
    )
    assert (fed.metabolic_kg, fed.present_kcal, fed.present_unknown) == (8, 340, 1)
    unasked = energy_view(facts, read_record({"dog": dog}), chosen, TODAY)
    assert (unasked.present_kcal, unasked.present_unknown) == (None, 0)


@pytest.mark.parametrize(("rate", "may"), [(0.0, False), (-1.0, False), (2.0, True), (2.01, False)])
def test_a_rate_is_above_0_and_at_most_what_is_published(
    facts: Reference, rate: float, may: bool
) -> None:
    data = facts.weight["weight_plan"]
    if may:
        assert weight_plan(data, facts.energy, 12, 9, rate, TODAY).weeks > 0
    else:
        with pytest.raises(InputError) as caught:
            weight_plan(data, facts.energy, 12, 9, rate, TODAY)
        assert caught.value.field == "pct_per_week"


def test_gain_has_a_rate_of_its_own(facts: Reference) -> None:
    data = {**facts.weight["weight_plan"], "gain_pct_per_week": {"max": 1.0}}
    assert weight_plan(data, facts.energy, 12, 9, 1.5, TODAY).weeks > 0
    with pytest.raises(InputError, match="up to 1 %"):
        weight_plan(data, facts.energy, 9, 12, 1.5, TODAY)


def test_a_plan_is_drawn_for_three_years_at_most(facts: Reference) -> None:
    """At 0.1 % a week 20 kg are 17.1 after 156 weeks, and 10 is not reached."""
    plan = weight_plan(facts.weight["weight_plan"], facts.energy, 20, 10, 0.1, TODAY)
    assert plan.weeks == 156
    assert plan.weights_kg[-1] == pytest.approx(20 * 0.999**156)


@pytest.mark.parametrize(
    # By fat: 12 x (1 - (0.20 + 0.05 x points)) / 0.8.
    ("condition", "by_fat"),
    [(9, 12 * 0.60 / 0.8), (5, 12.0), (1, 12 * 1.0 / 0.8)],
)
def test_every_score_has_an_ideal_weight(facts: Reference, condition: int, by_fat: float) -> None:
    found = ideal_weight(facts.weight["ideal_weight"], 12, condition)
    assert found.steps[2].value == pytest.approx(by_fat)
    assert found.low_kg <= found.typical_kg <= found.high_kg


@pytest.mark.parametrize("condition", [0, 10])
def test_scores_outside_1_to_9_are_refused(facts: Reference, condition: int) -> None:
    with pytest.raises(InputError):
        ideal_weight(facts.weight["ideal_weight"], 12, condition)


def by(facts: Reference, method_id: str, dog: DogFacts) -> Estimate:
    method = next(m for m in facts.energy_methods.methods if m.id == method_id)
    return estimate(facts.energy_methods, method, dog)


def test_weight_loss_starts_from_the_ideal_weight(facts: Reference) -> None:
    """70 x 9^0.75 = 363.7 for 12 kg that should be 9; maintenance stays on the 12."""
    dog = DogFacts(12, ideal_weight_kg=9)
    assert by(facts, "loss-start", dog).kcal == pytest.approx(363.7, abs=0.1)
    # 1.6 x 70 x 12^0.75 = 722.1
    assert by(facts, "k-neutered", dog).kcal == pytest.approx(722.1, abs=0.2)


def test_a_method_brings_its_published_range(facts: Reference) -> None:
    """RER of 10 kg is 393.6: 1.4 to 1.6 x it; FEDIAF 3 to 7 years 95 to 130 x 5.6234."""
    neutered = by(facts, "k-neutered", DogFacts(10))
    assert (neutered.low, neutered.high) == (
        pytest.approx(551.1, abs=0.2),
        pytest.approx(629.8, abs=0.2),
    )
    middle = by(facts, "fediaf-3-7", DogFacts(10))
    assert (middle.low, middle.high) == (
        pytest.approx(534.2, abs=0.2),
        pytest.approx(731.0, abs=0.2),
    )
    assert by(facts, "nrc-average", DogFacts(10)).low is None


@pytest.mark.parametrize(
    ("weight", "kcal"), [(2.0, 130.0), (45.0, 1420.0), (1.9, None), (46.0, None)]
)
def test_the_linear_equation_holds_from_2_to_45_kg(
    facts: Reference, weight: float, kcal: float | None
) -> None:
    if kcal is None:
        with pytest.raises(InputError, match="holds from 2 to 45 kg"):
            by(facts, "rer-linear", DogFacts(weight))
    else:
        assert by(facts, "rer-linear", DogFacts(weight)).kcal == kcal


def test_a_dog_at_its_adult_weight_still_has_growth_figures(facts: Reference) -> None:
    """(254.1 - 135 x 1) x 30^0.75 = 119.1 x 12.8186 = 1526.7."""
    grown = DogFacts(30, adult_weight_kg=30)
    assert by(facts, "klein-growth", grown).kcal == pytest.approx(1526.7, abs=0.2)
    assert by(facts, "fediaf-growth-step", grown).kcal == pytest.approx(140 * 12.8186, abs=0.5)


@pytest.mark.parametrize(("weight", "factor"), [(15.0, 210), (15.1, 175), (24.0, 175), (24.1, 140)])
def test_growth_steps_change_at_half_and_four_fifths(
    facts: Reference, weight: float, factor: float
) -> None:
    """FEDIAF 2018: 210 until 50 % of the adult weight, 175 until 80 %, then 140."""
    found = by(facts, "fediaf-growth-step", DogFacts(weight, adult_weight_kg=30)).kcal
    assert found == pytest.approx(factor * weight**0.75)
