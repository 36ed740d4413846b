"""Limits become this dog's: what counts on its weight, its ideal weight, its energy.

Every dog here weighs 30 kg and should weigh 20, so that a rule on the wrong weight shows. Figures by
pocket calculator: 20^0.75 = 9.4574, 30^0.75 = 12.8186.
"""

from dataclasses import replace
from typing import Any

import pytest
from wainscot_core.boundary import read
from wainscot_core.case.targets_view import opening_of, rail_of
from wainscot_core.confidence import Confidence
from wainscot_core.dog.record import TargetsRecord
from wainscot_core.dossier.dossier import merged_targets
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.formats.casefile import read_case
from wainscot_core.targets.basis import Basis
from wainscot_core.targets.conditions import Condition, ConditionLimit
from wainscot_core.targets.per import FeedingFacts, Per
from wainscot_core.targets.requirements import MergedSet, SafetyLayer, check_decision, merge
from wainscot_core.targets.safe_limits import NO_DOSE_RULE, Counts, Role, SafeLimit, SafeStage
from wainscot_core.targets.standards import Bound, Decision, Limit, Sets, Strength

FED = FeedingFacts(weight_kg=30, ideal_weight_kg=20, kcal_per_day=1000)


def limit(facts: Reference, key: str, fed: FeedingFacts = FED, **targets: Any) -> Limit:
    record = read(TargetsRecord, {"standard": "nrc-2006", **targets}, "targets")
    return merged_targets(facts, record, fed).requirements.limits[key]


def test_per_kg75_is_of_the_ideal_weight(facts: Reference) -> None:
    """120 mg per kg^0.75 x 9.4574 in 1000 kcal is 1.1349 g; on 30 kg it would be 1.538."""
    found = limit(
        facts, "EPADHA", conditions=[{"id": "hypertriglyceridaemia", "stage": "over-500"}]
    )
    assert found.advised_min == pytest.approx(1.1349, rel=1e-4)


def test_per_kg_is_of_the_weight_on_the_scale(facts: Reference) -> None:
    """65 mg per kg x 30 kg in 1000 kcal is 1.95 g; on 20 kg it would be 1.3."""
    found = limit(facts, "EPADHA", conditions=[{"id": "mmvd", "stage": "C"}])
    assert found.advised_min == pytest.approx(1.95)


def case(facts: Reference, kcal: float, key: str = "PROCNT", **targets: Any) -> Limit:
    """A limit of a dog of 20 kg in condition that is fed so much."""
    data = {
        "format": "wainscot-case", "version": 1, "dog": {"name": "T", "weight_kg": 20},
        "energy": {"kcal_per_day": kcal}, "targets": {"standard": "nrc-2006", **targets},
        "recipe": {"lines": [{"food": "usda:05062", "grams": 100}]},
    }  # fmt: skip
    return read_case(facts, data).requirements.limits[key]


@pytest.mark.parametrize(
    ("standard", "life_stage", "expected"),
    # Fed 700 kcal, 74.02 per kg^0.75: printed x the intake it assumes / 74.02; AAFCO assumes none.
    [
        ("nrc-2006", "adult", 25 * 131.22 / 74.0161),
        ("aafco-2016", "adult", 45.0),
        ("fediaf-2021", "adult-mer110", 45 * 110 / 74.0161),
        ("fediaf-2021", "adult", 52.1 * 95 / 74.0161),
        ("fediaf-2021", "adult-mer95", 52.1 * 95 / 74.0161),
    ],
)
def test_floors_rise_by_what_each_standard_assumes(
    facts: Reference, standard: str, life_stage: str, expected: float
) -> None:
    found = case(facts, 700, standard=standard, life_stage=life_stage)
    assert found.minimum == pytest.approx(expected, rel=1e-4)
    if standard == "nrc-2006":
        # An allowance is the recommended value too, and rises with the floor.
        assert found.recommended == pytest.approx(found.minimum)


def test_growth_is_not_held_per_kg75(facts: Reference) -> None:
    """A puppy's 700 kcal are its growth stage's; the printed floor stands."""
    assert case(facts, 700, life_stage="growth-14wk-plus").minimum == 43.8


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


# NRC 2006 prints 25 g of protein and 1.5 mg of copper and assumes 131.22 kcal per kg^0.75; this dog gets 1000 / 9.4574.
HELD = 131.22 / (1000 / 9.4574)


def test_a_window_hangs_on_what_the_standard_asks_for(facts: Reference) -> None:
    """What a condition or a decision made of it is drawn beside it: the rail does not move with them."""
    raised = limit(facts, "PROCNT", conditions=[{"id": "mmvd", "stage": "C"}])
    assert raised.minimum == 51.4
    assert rail_of(raised) == pytest.approx(25 * HELD, rel=1e-4)
    for value in (1.0, None):
        decision = {"key": "CU", "bound": "min", "value": value, "by": "Dr Elm", "reason": "liver"}
        lowered = limit(facts, "CU", decisions=[decision])
        assert lowered.minimum == value
        assert rail_of(lowered) == pytest.approx(1.5 * HELD, rel=1e-4)


def test_a_window_is_as_wide_as_the_most_by_the_least(facts: Reference) -> None:
    """Under 1 no amount is in it; and it has no width where a side is open."""
    crossed = limit(facts, "CU", conditions=[{"id": "copper-hepatopathy", "stage": "chelation"}])
    assert opening_of(crossed) == pytest.approx(1.2 / (1.5 * HELD), rel=1e-4)
    assert opening_of(limit(facts, "THIA")) is None
    retinol = limit(facts, "RETOL")
    assert (retinol.minimum, rail_of(retinol), opening_of(retinol)) == (None, None, None)


def made(facts: Reference, key: str, bound: str, *values: float) -> list[tuple[Condition, str]]:
    """Conditions made up for the purpose, one for each value, each with this one limit."""
    base = facts.conditions["senior"]
    unit = facts.catalogue.get(key).unit
    return [
        (
            replace(
                base,
                id=f"made-{i}",
                name=f"Made {i}",
                limits=(
                    ConditionLimit(
                        key,
                        Sets(bound),
                        value,
                        None,
                        unit,
                        Per.MCAL,
                        (),
                        Strength.HARD,
                        "s",
                        Confidence.LOW,
                        "",
                    ),
                ),
            ),
            "healthy",
        )
        for i, value in enumerate(values)
    ]


def merged(facts: Reference, conditions: list[tuple[Condition, str]], **more: Any) -> MergedSet:
    return merge(
        facts.catalogue, facts.standards["nrc-2006"], "adult", conditions, FED,
        more.get("decisions", ()), rules=facts.basis, basis=Basis.PER_1000_KCAL,
        safety=SafetyLayer(tuple(more.get("safe_limits", ())), NO_DOSE_RULE),
    )  # fmt: skip


def test_the_highest_of_two_targets_is_recommended(facts: Reference) -> None:
    found = merged(facts, made(facts, "ZN", "recommended", 30.0, 40.0)).requirements.limits["ZN"]
    assert found.recommended == 40


@pytest.mark.parametrize(("cap", "under"), [(14.9, True), (15.0, False), (16.0, False)])
def test_a_cap_goes_under_the_standard_only_below_its_floor(
    facts: Reference, cap: float, under: bool
) -> None:
    """NRC 2006 asks for 15 mg of zinc per 1000 kcal."""
    assert ("ZN" in merged(facts, made(facts, "ZN", "max", cap)).under_standard) is under


def test_how_far_two_limits_are_apart_is_told(facts: Reference) -> None:
    """18 over 15 is a fifth more."""
    conflicts = merged(facts, made(facts, "ZN", "max", 15.0) + made(facts, "ZN", "min", 18.0))
    assert "they are 20% apart" in conflicts.conflicts[0].words


@pytest.mark.parametrize(("safe", "apart"), [(15.3, False), (15.0, True), (14.0, True)])
def test_a_floor_needs_room_under_the_safe_limit_which_never_gives_way(
    facts: Reference, safe: float, apart: bool
) -> None:
    limit = SafeLimit(
        "ZN",
        frozenset({SafeStage.ADULT}),
        safe,
        "mg",
        Per.MCAL,
        Role.CEILING,
        Counts.TOTAL,
        "",
        "made",
        "s",
        Confidence.LOW,
        "effect",
        "",
    )
    found = merged(facts, [], safe_limits=[limit])
    assert bool(found.conflicts) is apart
    assert {o.id for c in found.conflicts for o in c.options} <= {"floor-gives-way"}


def test_what_was_checked_is_a_decision_and_nothing_recalled(facts: Reference) -> None:
    decision = Decision(key="ZN", bound=Bound.MIN, value=20.0, by="Dr Elm", reason="r")
    conditions = made(facts, "ZN", "min", 18.0)
    origins = merged(facts, conditions, decisions=[decision]).requirements.limits["ZN"].origins
    assert {o.source: o.checked for o in origins} == {
        "NRC 2006, Adult maintenance": False,
        "Made 0, healthy": False,
        "decided by Dr Elm": True,
    }


@pytest.mark.parametrize(("value", "may"), [(0.0, True), (1e9, False), (-0.1, False), (None, True)])
def test_a_decision_is_a_possible_figure(facts: Reference, value: float | None, may: bool) -> None:
    decision = Decision(key="ZN", bound=Bound.MAX, value=value, by="Dr Elm", reason="r")
    if may:
        assert check_decision(facts.catalogue, decision) == decision
    else:
        with pytest.raises(InputError) as caught:
            check_decision(facts.catalogue, decision)
        assert caught.value.field == "value"
