"""The checks of a recipe, each with what it must tell and must not."""

from typing import Any

import pytest
from wainscot_core.analysis.analyse import analyse
from wainscot_core.case.intake_view import intake_view
from wainscot_core.checks import CHECKS, check
from wainscot_core.checks.medicines import medicines_met
from wainscot_core.checks.strict import check_strict, incomplete_groups
from wainscot_core.conventions import DEFAULT
from wainscot_core.dog.record import read_record
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.findings import Finding, Kind, Level, gathered
from wainscot_core.formats.casefile import read_case
from wainscot_core.recipe.line import LineText

THIGH, RICE, ONION = "usda:05096", "usda:20445", "usda:11282"


def findings(facts: Reference, lines: list[dict[str, Any]], kcal: float = 500, **more: Any):
    data = {
        "format": "wainscot-case", "version": 1, "dog": {"name": "T", "weight_kg": 10},
        "energy": {"kcal_per_day": kcal}, "targets": {"standard": "nrc-2006"},
        "recipe": {"lines": lines}, **more,
    }  # fmt: skip
    return check(read_case(facts, data))


def test_raw_meat_is_a_hazard_until_it_is_cooked(facts: Reference) -> None:
    raw = findings(facts, [{"food": THIGH, "grams": 400}])
    assert [f.level for f in raw if f.kind is Kind.HAZARD] == [Level.WARN]
    method = "poultry-simmered-kept"
    cooked = findings(facts, [{"food": THIGH, "grams": 400, "preparation": method}])
    assert not [f for f in cooked if f.kind is Kind.HAZARD]


def test_a_raw_hazard_is_not_one_of_a_cooked_food(facts: Reference) -> None:
    """Cooked chicken breast is listed as cooked: its form decides, not its name."""
    cooked = findings(facts, [{"food": "usda:05064", "grams": 300}])
    assert not [f for f in cooked if f.kind is Kind.HAZARD]


def test_blocks_come_first(facts: Reference) -> None:
    found = findings(facts, [{"food": THIGH, "grams": 400}, {"food": ONION, "grams": 5}])
    assert found[0].level is Level.BLOCK and found[0].food == ONION
    levels = [list(Level).index(f.level) for f in found]
    assert levels == sorted(levels)


@pytest.mark.parametrize(
    # 400 g of cooked rice: 4 x 2.69 + 9 x 0.28 + 4 x (28.17 - 0.4) = 124.4 per 100 g are 497 kcal.
    ("kcal", "words"),
    [(455, None), (447, "11% above"), (550, None), (566, "12% below")],
)
def test_energy_is_told_beyond_a_tenth(facts: Reference, kcal: float, words: str | None) -> None:
    told = [
        f.what
        for f in findings(facts, [{"food": RICE, "grams": 400}], kcal)
        if f.kind is Kind.ENERGY
    ]
    assert [w[: len(words or "")] for w in told] == ([words] if words else [])


def test_a_recipe_without_energy_says_so(facts: Reference) -> None:
    told = findings(facts, [{"food": "supp:calcium-carbonate", "grams": 5}])
    assert [f.what for f in told if f.kind is Kind.ENERGY] == ["No energy"]


def test_an_analysis_tells_what_the_checks_find(facts: Reference) -> None:
    data = {
        "format": "wainscot-case", "version": 1, "dog": {"name": "T", "weight_kg": 10},
        "energy": {"kcal_per_day": 500}, "targets": {"standard": "nrc-2006"},
        "reactions": [{"food": "chicken"}],
        "recipe": {"lines": [{"food": THIGH, "grams": 400}]},
    }  # fmt: skip
    dossier = read_case(facts, data)
    assert analyse(dossier).flags == check(dossier)
    assert {f.kind for f in check(dossier)} >= {Kind.REACTION, Kind.HAZARD}


def test_every_finding_says_why_and_what_to_do(facts: Reference) -> None:
    lines = [{"food": THIGH, "grams": 40}, {"food": ONION, "grams": 5}]
    for finding in findings(facts, lines, reactions=[{"food": "chicken"}]):
        assert finding.what and finding.why and finding.do
    assert len(set(CHECKS)) == len(CHECKS)


def test_medicines_are_told_by_name_the_gravest_first(facts: Reference) -> None:
    named = ["vitamin tablets", "Spironolactone 10 mg", "furosemide"]
    found = list(medicines_met(facts.interactions, named))
    assert {f.named for f in found} == {"Spironolactone 10 mg", "furosemide"}
    levels = [list(Level).index(f.level) for f in found]
    assert levels == sorted(levels) and found[0].level is Level.BLOCK


def test_intake_asks_what_is_missing_and_of_the_growing_more(facts: Reference) -> None:
    def missing(**dog: Any) -> set[str]:
        record = read_record({"dog": {"name": "T", "weight_kg": 12, **dog}})
        return {f.field for f in intake_view(facts, record, DEFAULT).missing}

    grown = missing(age_months=40, neutered=False)
    assert "dog.age_months" not in grown and "dog.neutered" not in grown
    assert "dog.body_condition" in grown and "dog.adult_weight_kg" not in grown
    # A large breed grows until 18 months, a small one until 12.
    assert "dog.adult_weight_kg" in missing(age_months=11)
    assert "dog.adult_weight_kg" not in missing(age_months=13)
    assert missing() >= {"dog.age_months", "intake.vet_team", "intake.owner.cook"}


def test_under_strict_an_incomplete_food_needs_a_reason(facts: Reference) -> None:
    strict = read_record(
        {"dog": {"name": "T", "weight_kg": 10}, "data_policy": "strict", "strict_groups": ["amino"]}
    )
    graded = read_record({"dog": {"name": "T", "weight_kg": 10}, "strict_groups": ["amino"]})
    own = facts.library
    gaps = next(f.id for f in own.foods if f.plain and incomplete_groups(strict, own, f.id))
    assert incomplete_groups(graded, own, gaps) == ()
    with pytest.raises(InputError) as caught:
        check_strict(strict, own, [LineText(gaps, "10 g")])
    assert caught.value.field == "lines[0].override"
    check_strict(strict, own, [LineText(gaps, "10 g", override="the vet agrees")])
    check_strict(graded, own, [LineText(gaps, "10 g")])


@pytest.mark.parametrize(
    # Chicken breast has 3.9 mg of calcium to 214.9 of phosphorus; a gram of calcium carbonate brings 400.
    ("carbonate_g", "outside"),
    [(0.0, True), (1.2, False), (2.3, True)],
)
def test_a_ratio_is_held_to_what_is_usual_where_nothing_limits_it(
    facts: Reference, carbonate_g: float, outside: bool
) -> None:
    """The standard sets no floor for calcium : phosphorus; 1 is usual, and 2 a safe limit."""
    lines = [{"food": "usda:05062", "grams": 200}]
    if carbonate_g:
        lines.append({"food": "supp:calcium-carbonate", "grams": carbonate_g})
    data = {
        "format": "wainscot-case", "version": 1, "dog": {"name": "T", "weight_kg": 10},
        "energy": {"kcal_per_day": 500}, "targets": {"standard": "nrc-2006"},
        "recipe": {"lines": lines},
    }  # fmt: skip
    ratio = next(r for r in analyse(read_case(facts, data)).ratios if r.key == "CA_P")
    # (7.88 + 400.4 x g) / 429.8: 0.02, 1.14 and 2.16.
    assert ratio.value == pytest.approx((7.88 + 400.4 * carbonate_g) / 429.8, rel=0.02)
    assert (ratio.low, ratio.high, ratio.outside) == (1, 2, outside)


def test_a_conflict_is_told_until_it_is_decided(facts: Reference) -> None:
    targets = {"standard": "nrc-2006", "conditions": [{"id": "copper-hepatopathy", "stage": ""}]}
    lines = [{"food": RICE, "grams": 400}]
    told = [f for f in findings(facts, lines, targets=targets) if f.kind is Kind.CONFLICT]
    assert [(f.nutrient, f.level) for f in told] == [("CU", Level.DECIDE)]
    decision = {"key": "CU", "bound": "min", "value": 1.2, "by": "Dr Elm", "reason": "chelation"}
    decided = findings(facts, lines, targets={**targets, "decisions": [decision]})
    assert not [f for f in decided if f.kind is Kind.CONFLICT]


def beside(facts: Reference, medicine: str, food: str) -> list[Any]:
    intake = {"medicines": [{"name": medicine}], "medicines_asked": True}
    found = findings(
        facts, [{"food": RICE, "grams": 385}, {"food": food, "grams": 1}], intake=intake
    )
    return [f for f in found if f.kind is Kind.MEDICINE and f.food]


def test_a_potassium_salt_beside_spironolactone_is_blocked(facts: Reference) -> None:
    (met,) = beside(facts, "Spironolactone 25 mg", "supp:potassium-chloride")
    assert (met.level, met.food) == (Level.BLOCK, "supp:potassium-chloride")
    assert met.named == "Spironolactone 25 mg" and "potassium in the blood rises" in met.what
    assert met.do and met.source == "Keene et al 2019"


def test_beside_an_ace_inhibitor_it_is_a_warning(facts: Reference) -> None:
    (met,) = beside(facts, "enalapril", "supp:potassium-chloride")
    assert met.level is Level.WARN


def test_a_medicine_is_no_finding_where_no_line_meets_it(facts: Reference) -> None:
    assert beside(facts, "Spironolactone 25 mg", "supp:calcium-carbonate") == []
    # Micrograms of iodine are no source of potassium, whatever the salt is called.
    assert beside(facts, "Spironolactone 25 mg", "supp:potassium-iodide") == []
    assert beside(facts, "paracetamol", "supp:potassium-chloride") == []


def test_several_raw_foods_are_one_caution_that_names_them(facts: Reference) -> None:
    """Four raw meats are one matter; an onion among them is another, and still the first."""
    raw = [THIGH, "usda:05665", "usda:23567", "usda:13325"]
    found = findings(
        facts, [*({"food": f, "grams": 100} for f in raw), {"food": ONION, "grams": 5}]
    )
    told = gathered(found)
    (meat,) = [f for f in told if f.matter == "Raw meat or offal"]
    names = [facts.library.food(f).name for f in raw]
    assert meat.what == "Raw meat or offal: " + "; ".join(names)
    assert told[0].food == ONION
    # Nothing else went, and nothing was put together that does not say the same.
    assert len(told) == len(found) - 3
    assert {f.why for f in told} == {f.why for f in found}


def test_only_what_says_the_same_is_put_together() -> None:
    """Another reason is another caution; what shares no matter stands alone however alike it is."""

    def said(what: str, why: str, matter: str = "Raw fish") -> Finding:
        return Finding(
            kind=Kind.HAZARD, level=Level.WARN, what=what, why=why, do="Cook it.", matter=matter,
            food=what,
        )  # fmt: skip

    apart = [said("Raw fish: cod", "worms"), said("Raw fish: tuna", "mercury")]
    assert gathered(apart) == tuple(apart)
    alone = [said("Cod", "worms", matter=""), said("Tuna", "worms", matter="")]
    assert gathered(alone) == tuple(alone)
    (both,) = gathered([said("Raw fish: cod", "worms"), said("Raw fish: tuna", "worms")])
    assert (both.what, both.food) == ("Raw fish: cod; tuna", "")
