"""Limits become this dog's: what counts on its weight, its ideal weight, its energy.

Every dog here weighs 30 kg and should weigh 20, so that a rule on the wrong weight shows. Figures by
pocket calculator: 20^0.75 = 9.4574, 30^0.75 = 12.8186.
"""

from typing import Any

import pytest
from wainscot_core.boundary import read
from wainscot_core.dog.record import TargetsRecord
from wainscot_core.dossier.dossier import merged_targets
from wainscot_core.dossier.reference import Reference
from wainscot_core.formats.casefile import read_case
from wainscot_core.targets.requirements import FeedingFacts
from wainscot_core.targets.standards import Limit

FED = FeedingFacts(weight_kg=30, ideal_weight_kg=20, kcal_per_day=1000)


def limit(facts: Reference, key: str, fed: FeedingFacts = FED, **targets: Any) -> Limit:
    record = read(TargetsRecord, {"standard": "nrc-2006", **targets}, "targets")
    return merged_targets(facts, record, fed).requirements.limits[key]


def test_per_kg75_is_of_the_ideal_weight(facts: Reference) -> None:
    """120 mg per kg^0.75 x 9.4574 in 1000 kcal is 1.1349 g; on 30 kg it would be 1.538."""
    found = limit(
        facts, "EPADHA", conditions=[{"id": "hypertriglyceridaemia", "stage": "over-500"}]
    )
    assert found.minimum == pytest.approx(1.1349, rel=1e-4)


def test_per_kg_is_of_the_weight_on_the_scale(facts: Reference) -> None:
    """65 mg per kg x 30 kg in 1000 kcal is 1.95 g; on 20 kg it would be 1.3."""
    found = limit(facts, "EPADHA", conditions=[{"id": "mmvd", "stage": "C"}])
    assert found.minimum == pytest.approx(1.95)


def case(facts: Reference, kcal: float, key: str = "PROCNT", **targets: Any) -> Limit:
    """A limit of a dog of 20 kg in condition that is fed so much."""
    data = {
        "format": "wainscot-case", "version": 1, "dog": {"name": "T", "weight_kg": 20},
        "energy": {"kcal_per_day": kcal}, "targets": {"standard": "nrc-2006", **targets},
        "recipe": {"lines": [{"food": "usda:05062", "grams": 100}]},
    }  # fmt: skip
    return read_case(facts, data).requirements.limits[key]


@pytest.mark.parametrize(
    ("standard", "life_stage", "printed", "intake"),
    # Printed protein per 1000 kcal, and the kcal per kg^0.75 the standard's figures assume.
    [
        ("nrc-2006", "adult", 25.0, 130),
        ("aafco-2016", "adult", 45.0, 130),
        ("fediaf-2021", "adult-mer110", 45.0, 110),
        ("fediaf-2021", "adult", 45.0, 110),
        ("fediaf-2021", "adult-mer95", 52.1, 95),
    ],
)
def test_floors_rise_by_what_each_standard_assumes(
    facts: Reference, standard: str, life_stage: str, printed: float, intake: float
) -> None:
    """Fed 700 kcal, 74.02 per kg^0.75: the floor is printed x intake x 9.4574 / 700."""
    found = case(facts, 700, standard=standard, life_stage=life_stage)
    assert found.minimum == pytest.approx(printed * intake * 9.4574 / 700, rel=1e-4)
    if standard == "nrc-2006":
        # An allowance is the recommended value too, and rises with the floor.
        assert found.recommended == pytest.approx(found.minimum)


def test_a_dog_fed_enough_keeps_the_printed_floors(facts: Reference) -> None:
    """95 x 9.4574 = 898.5 kcal is the lowest published maintenance."""
    assert case(facts, 900).minimum == pytest.approx(25)
    assert case(facts, 890).minimum == pytest.approx(25 * 130 * 9.4574 / 890, rel=1e-4)


def test_losing_weight_holds_floors_even_when_fed_enough(facts: Reference) -> None:
    """Calcium 1000 mg x 130 x 9.4574 / 1000; without the condition it stays at 1000."""
    loss = [{"id": "overweight", "stage": "loss"}]
    assert case(facts, 1000, "CA").minimum == pytest.approx(1000)
    assert case(facts, 1000, "CA", conditions=loss).minimum == pytest.approx(1229.5, rel=1e-4)


def test_growth_is_not_held_per_kg75(facts: Reference) -> None:
    """A puppy's 700 kcal are its growth stage's; the printed floor stands."""
    printed = next(
        x.minimum
        for x in facts.standards["nrc-2006"].life_stages["growth-14wk-plus"].limits
        if x.key == "PROCNT"
    )
    assert case(facts, 700, life_stage="growth").minimum == printed


def test_a_condition_s_floor_above_the_allowance_leaves_no_recommended_value(
    facts: Reference,
) -> None:
    """NRC allows 25 g of protein; heart failure wants 51.4 g: 25 is no recommendation then."""
    found = limit(facts, "PROCNT", conditions=[{"id": "mmvd", "stage": "C"}])
    assert (found.minimum, found.recommended) == (51.4, None)


@pytest.mark.parametrize(("value", "verdict_floor"), [(None, None), (10.0, 10.0)])
def test_a_decision_takes_a_bound_away_or_sets_it(
    facts: Reference, value: float | None, verdict_floor: float | None
) -> None:
    decision = {"key": "PROCNT", "bound": "min", "value": value, "by": "Dr Elm", "reason": "liver"}
    found = limit(facts, "PROCNT", decisions=[decision])
    assert found.minimum == verdict_floor
    made = next(o for o in found.origins if o.decision)
    assert (made.value, made.decision and made.decision.by) == (value, "Dr Elm")
