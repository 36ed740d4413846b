"""What conditions ask beyond the standard: the figures of their published sources, and what they count."""

import pytest
from wainscot_core.analysis.analyse import analyse
from wainscot_core.analysis.results import Analysis, Status
from wainscot_core.dossier.reference import Reference
from wainscot_core.formats.casefile import read_case

from tests.core.test_requirements import merged

BREAST, LENTILS, RICE = "usda:05062", "usda:16070", "usda:20445"


def analysed(facts: Reference, condition: str, stage: str, *lines: tuple[str, float]) -> Analysis:
    data = {
        "format": "wainscot-case", "version": 1, "dog": {"name": "T", "weight_kg": 10},
        "energy": {"kcal_per_day": 500},
        "targets": {"standard": "nrc-2006", "conditions": [{"id": condition, "stage": stage}]},
        "recipe": {"lines": [{"food": f, "grams": g} for f, g in lines]},
    }  # fmt: skip
    return analyse(read_case(facts, data))


@pytest.mark.parametrize(
    ("condition", "stage", "key", "side", "figure"),
    [
        # Freeman & Rush 2012: sodium modest in heart failure, protein kept, omega-3 for cachexia and rhythm.
        ("dcm", "chf", "NA", "maximum", 800),
        ("dcm", "occult", "NA", "advised_max", 1000),
        ("dcm", "refractory", "NA", "maximum", 800),
        ("dcm", "refractory", "NA", "advised_max", 500),
        ("dcm", "chf", "PROCNT", "minimum", 51.4),
        # Keene et al 2019: at stage D lower sodium only as tolerated.
        ("mmvd", "D", "NA", "advised_max", 500),
        ("mmvd", "C", "NA", "maximum", 800),
        # Behrend et al 2018: 45 % of energy at 4 kcal per g, fibre left out.
        ("diabetes", "stable", "CHOAVLDF", "advised_max", 112.5),
        # Stones: three quarters of the bowl water.
        ("calcium-oxalate", "prevent", "MOIST", "advised_min", 0.75),
        ("struvite", "sterile", "MOIST", "advised_min", 0.75),
        ("urate", "prevent", "MOIST", "advised_min", 0.75),
        ("cystine", "prevent", "MOIST", "advised_min", 0.75),
        ("ckd", "3", "MOIST", "advised_min", 0.70),
    ],
)  # fmt: skip
def test_a_condition_s_figure(
    facts: Reference, condition: str, stage: str, key: str, side: str, figure: float
) -> None:
    assert getattr(merged(facts, (condition, stage)).requirements.limits[key], side) == figure


@pytest.mark.parametrize(
    "condition",
    [
        "cystine", "proteinuria", "epi", "colitis-fibre", "atopic", "epilepsy", "cancer",
        "cardiac-cachexia", "hyperkalaemia", "hypoadrenocorticism", "shunt", "hypercalcaemia",
        "cobalamin-low", "growth-toy", "surgery",
    ],
)  # fmt: skip
def test_a_condition_is_there_and_says_when_to_see_the_vet(
    facts: Reference, condition: str
) -> None:
    found = facts.conditions[condition]
    assert (
        found.words.get("red_flags")
        and found.source
        and all(d > 0 for d in found.recheck_days.values())
    )


def test_available_carbohydrate_leaves_fibre_out(facts: Reference) -> None:
    """Lentils: 20.13 g carbohydrate with 7.9 g fibre per 100 g: 12.23 g count, not 20.13."""
    told = analysed(facts, "diabetes", "stable", (BREAST, 150), (LENTILS, 400))
    lines = {n.key: n for n in told.nutrients}
    carbs, fibre = lines["CHOCDF"].per_day, lines["FIBTG"].per_day
    assert carbs == pytest.approx(4 * 20.13, rel=0.02) and fibre == pytest.approx(4 * 7.9, rel=0.02)
    assert lines["CHOAVLDF"].per_day == pytest.approx(carbs - fibre)
    # All of it, over what 112.5 g per 1000 kcal allow, would have been close to the cap.
    assert lines["CHOAVLDF"].status is Status.MET


def test_moisture_is_the_water_of_the_bowl(facts: Reference) -> None:
    """Cooked rice is 68.4 % water, under the three quarters that a stone former wants; with as much
    breast (75 %) again it is still under, with water-rich squash it is over."""
    dry = analysed(facts, "calcium-oxalate", "prevent", (RICE, 400))
    wet = analysed(facts, "calcium-oxalate", "prevent", (RICE, 200), ("usda:11485", 600))
    moisture = {r.key: r for r in dry.ratios}["MOIST"]
    assert moisture.value == pytest.approx(0.684, abs=0.003)
    assert moisture.status is Status.OFF_ADVICE
    # Butternut squash, raw, is 87.4 % water by difference: (200 x 68.4 + 600 x 87.4) / 800.
    told = {r.key: r for r in wet.ratios}["MOIST"]
    assert told.value == pytest.approx(0.8265, abs=0.001) and told.status is Status.MET
