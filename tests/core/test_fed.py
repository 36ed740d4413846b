"""A recipe that is fed already, strengths that nobody told, and everything that may harm in one list."""

from typing import Any

import pytest
from wainscot_core.checks import check
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.findings import Finding, Level
from wainscot_core.formats.casefile import open_case
from wainscot_core.release.concerns import standing_against
from wainscot_core.release.freeze import Forward, judged

CHICKEN = {"food": "usda:05064", "grams": 200}
MONTHS = "One recipe for more than 90 days"


def case(*lines: dict[str, Any], stage: str = "adult", age: int = 48, **recipe: Any) -> Any:
    return {
        "format": "wainscot-case", "version": 1,
        "dog": {"weight_kg": 10, "age_months": age, "adult_weight_kg": 12},
        "energy": {"kcal_per_day": 500}, "targets": {"standard": "nrc-2006", "life_stage": stage},
        "recipe": {"lines": list(lines or (CHICKEN,)), **recipe},
    }  # fmt: skip


def told(facts: Reference, data: Any) -> list[str]:
    return [f.what for f in check(open_case(facts, data).dossier)]


def harm(facts: Reference, data: Any) -> dict[str, Finding]:
    opened = open_case(facts, data)
    plan = judged(Forward(opened.dossier, "", ()))
    found = standing_against(plan, facts.label_prompts)
    return {f.what: f for f in found}


@pytest.mark.parametrize(("days", "is_told"), [(0, False), (90, False), (91, True), (400, True)])
def test_one_recipe_for_months_is_told(facts: Reference, days: int, is_told: bool) -> None:
    assert (MONTHS in told(facts, case(fed_days=days))) is is_told


@pytest.mark.parametrize(
    ("made_for", "stage", "age", "is_told"),
    [
        ("adult", "growth", 5, True), ("growth", "adult", 48, True), ("adult", "adult", 48, False),
        ("growth", "growth", 5, False), ("", "growth", 5, False),
    ],
)  # fmt: skip
def test_a_recipe_made_for_another_stage_is_told(
    facts: Reference, made_for: str, stage: str, age: int, is_told: bool
) -> None:
    data = case(stage=stage, age=age, made_for=made_for)
    found = [f for f in check(open_case(facts, data).dossier) if "another stage" in f.what]
    assert [f.level for f in found] == ([Level.DECIDE] if is_told else [])


def test_a_stage_that_is_none_is_named(facts: Reference) -> None:
    with pytest.raises(InputError) as error:
        open_case(facts, case(made_for="old age"))
    assert error.value.field == "recipe.made_for" and "adult" in error.value.message


def test_a_strength_that_nobody_told_is_asked(facts: Reference) -> None:
    """Kelp holds what its pack says; until then nobody can say whether 1 g is too much."""
    data = case(CHICKEN, {"food": "supp:kelp-powder", "grams": 1})
    found = {f.what: f for f in check(open_case(facts, data).dossier)}
    asked = found["Strength not told: Kelp powder, iodine as on its label"]
    assert asked.level is Level.DECIDE and asked.nutrient == "ID"
    assert any(what.startswith("Seaweed") for what in found)
    data["known"] = {"supp:kelp-powder": {"strengths": {"ID": 700}}}
    said = told(facts, data)
    assert not [x for x in said if x.startswith("Strength")] and any("Seaweed" in x for x in said)


def test_ten_times_the_kelp_is_a_block(facts: Reference) -> None:
    """700 ug a gram in 500 kcal: 1 g is 1400 ug per 1000 kcal, over the safe upper limit of 1000 and below the ceiling of
    2750; 10 g are far above."""
    levels = []
    for grams in (0.3, 1, 10):
        data = case(CHICKEN, {"food": "supp:kelp-powder", "grams": grams})
        data["known"] = {"supp:kelp-powder": {"strengths": {"ID": 700}}}
        found = [f for f in harm(facts, data).values() if f.nutrient == "ID"]
        levels.append(found[0].level if found else None)
    assert levels == [None, Level.DECIDE, Level.BLOCK]


def test_liver_and_cod_liver_oil_add_up(facts: Reference) -> None:
    liver, oil = {"food": "usda:13325", "grams": 90}, {"food": "usda:04589", "grams": 20}
    keys = [
        {f.nutrient for f in harm(facts, case(*lines)).values() if f.level is Level.BLOCK}
        for lines in ((CHICKEN, liver), (CHICKEN, liver, oil))
    ]
    assert "VITD" not in keys[0] and {"RETOL", "VITD"} <= keys[1]


def test_calcium_of_a_pup_is_a_block_and_of_a_grown_dog_is_not(facts: Reference) -> None:
    """4 g of carbonate are 1.6 g of calcium in 330 kcal of chicken, 4.8 g per 1000 kcal: above 4 g, below 6.25."""
    chalk = {"food": "supp:calcium-carbonate", "grams": 4}
    pup, grown = (
        [f.level for f in harm(facts, case(CHICKEN, chalk, stage=s, age=a)).values() if f.nutrient == "CA"]
        for s, a in (("growth-4-14wk", 3), ("adult", 48))
    )  # fmt: skip
    assert pup == [Level.BLOCK] and grown == []


def test_a_can_is_to_be_read_and_what_is_short_is_left_to_the_analysis(facts: Reference) -> None:
    found = harm(facts, case({"food": "usda:15184", "grams": 100}))
    assert any(f.kind == "label" for f in found.values())
    assert not [what for what in found if "short" in what]
