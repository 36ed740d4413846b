"""Proportions, exclusions, interactions, closer looks."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.analysis.adequacy import judge
from wainscot_core.analysis.insight import amino_pattern, macros, without_each
from wainscot_core.bowl.exclusions import (
    Avoidance,
    Reaction,
    reaction_groups,
    trial_of,
    why_excluded,
    why_unfit,
)
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.facts.attributes import Attributes
from wainscot_core.facts.foods import Food
from wainscot_core.facts.interactions import met_by
from wainscot_core.recipe.plan import extras_share
from wainscot_core.recipe.proportions import gauges, own_way, rescaled, way_of
from wainscot_core.recipe.totals import totals
from wainscot_core.targets.food_rules import rules_for
from wainscot_core.targets.standards import requirement_set

MEAT = Food(
    "m", "Beef, ground, raw", "beef", "raw", allergens=("beef",),
    attributes=Attributes(kind="muscle", species="beef", state="raw"),
)  # fmt: skip
LIVER = Food(
    "l", "Beef liver, raw", "beef", "raw", allergens=("beef",),
    attributes=Attributes(kind="organ:liver", species="beef", state="raw"),
)  # fmt: skip
RICE = Food("r", "Rice, cooked", "grain", "cooked", allergens=("rice",))
CARROT = Food("c", "Carrot, raw", "vegetable", "raw")
POTATO = Food(
    "p", "Potato, boiled", "vegetable", "cooked", allergens=("potato",),
    attributes=Attributes(kind="root", species="potato", state="cooked"),
)  # fmt: skip


def test_parts_are_told_apart(facts: Reference) -> None:
    rules = facts.feeding
    found = [rules.part_of(f) for f in (MEAT, LIVER, RICE, CARROT, POTATO)]
    assert found == ["meat", "organ", "starch", "vegetable", "starch"]
    # What it is decides, not its name: the leaves of a sweet potato are greens.
    library = facts.library
    leaves = next(f for f in library.foods if f.name == "Sweet potato leaves, raw")
    plantain = next(f for f in library.foods if f.name == "Plantains, raw")
    assert (rules.part_of(leaves), rules.part_of(plantain)) == ("vegetable", "starch")


def test_rescaling_never_needs_more_of_anything(facts: Reference) -> None:
    rules = facts.feeding
    way = way_of(rules, "protein-starch-vegetable")
    assert way is not None
    foods = (MEAT, LIVER, RICE, CARROT)

    @given(st.lists(st.floats(1, 2000), min_size=4, max_size=4))
    def run(grams: list[float]) -> None:
        factors = rescaled(rules, way, foods, grams)
        assert max(factors) == pytest.approx(1)
        after = [g * f for g, f in zip(grams, factors, strict=True)]
        for gauge in gauges(rules, way, foods, after):
            assert gauge.share == pytest.approx(gauge.wanted)

    run()


@pytest.mark.parametrize("shares", [{}, {"tail": 50.0}, {"meat": -1.0}, {"meat": math.inf}])
def test_own_proportions_that_make_no_sense_are_refused(
    facts: Reference, shares: dict[str, float]
) -> None:
    with pytest.raises(InputError) as caught:
        own_way(facts.feeding, shares)
    assert caught.value.field == "way_shares"


def test_a_guide_is_off_beyond_its_tolerance(facts: Reference) -> None:
    """Equal parts are 33.3 %: 38 % is within 5 points, 39 % is not."""
    way = own_way(facts.feeding, {"meat": 1.0, "starch": 1.0, "vegetable": 1.0})
    for meat, off in ((38.0, False), (39.0, True)):
        found = gauges(facts.feeding, way, (MEAT, RICE, CARROT), (meat, 33.0, 67.0 - meat))
        assert found[0].off is off


def avoid(facts: Reference, *reactions: Reaction, trial: bool = False) -> Avoidance:
    groups = reaction_groups(facts.allergens, reactions)
    found = trial_of(facts.source_groups, [(MEAT, 40.0, 0.0), (RICE, 5.0, 60.0)]) if trial else None
    return Avoidance(facts.source_groups, groups, facts.hazards, found)


def test_reacts_to_the_meat_but_tolerates_the_organ(facts: Reference) -> None:
    both = avoid(facts, Reaction("beef"))
    assert why_excluded(MEAT, both) and why_excluded(LIVER, both)
    meat_only = avoid(facts, Reaction("beef", form="the meat", tolerates="the organ"))
    assert why_excluded(MEAT, meat_only) == "the dog reacts to beef"
    assert why_excluded(LIVER, meat_only) == ""


BREAST, RAW_BREAST, CHICKEN_LIVER = "usda:05064", "usda:05062", "usda:05028"
SKIMMED_FAT = "usda:04542"


@pytest.mark.parametrize(
    ("reaction", "left"),
    [
        (Reaction("chicken"), set()),
        # The food's own name in what is tolerated tolerates nothing else of it.
        (Reaction("chicken", tolerates="chicken fat"), {SKIMMED_FAT}),
        (Reaction("chicken", tolerates="the fat, or boiled liver"), {SKIMMED_FAT, CHICKEN_LIVER}),
        (Reaction("chicken", tolerates="cooked meat"), {BREAST}),
        # A word that is not known lifts nothing, whatever stands beside it.
        (Reaction("chicken", tolerates="cooked by her mother"), set()),
        (Reaction("chicken", tolerates="broth of roasted carcass"), set()),
        (Reaction("chicken", form="liver"), {BREAST, RAW_BREAST, SKIMMED_FAT}),
        (Reaction("chicken", form="raw meat"), set()),
        (Reaction("chicken", form="livery bits"), set()),
    ],
)
def test_a_reaction_leaves_only_what_is_understood(
    facts: Reference, reaction: Reaction, left: set[str]
) -> None:
    avoided = avoid(facts, reaction)
    foods = {BREAST, RAW_BREAST, CHICKEN_LIVER, SKIMMED_FAT}
    assert {f for f in foods if not why_excluded(facts.library.food(f), avoided)} == left


def test_what_is_not_understood_of_a_reaction_is_said(facts: Reference) -> None:
    strange = avoid(facts, Reaction("beef", tolerates="hydrolysed"))
    assert "“hydrolysed” is not understood" in why_excluded(MEAT, strange)
    twice = avoid(facts, Reaction("beef"), Reaction("beef", tolerates="the organ"))
    assert why_excluded(LIVER, twice) == "the dog reacts to beef"


def test_a_trial_lets_nothing_else_in(facts: Reference) -> None:
    trial = avoid(facts, Reaction("chicken"), trial=True)
    assert why_excluded(MEAT, trial) == "" and why_excluded(RICE, trial) == ""
    assert "potato" in why_excluded(POTATO, trial)
    assert why_excluded(CARROT, trial)
    turkey = Food("t", "Turkey breast, raw", "poultry", "raw", allergens=("turkey",))
    assert "cross-react" in why_excluded(turkey, trial)
    # A capsule's shell is gelatin of beef or pork: beef is the trial's own protein, pork is not.
    capsule = facts.library.food("supp:taurine-capsule-500")
    assert "pork" in why_excluded(capsule, trial)
    oil = facts.library.food("usda:04510")
    assert why_excluded(oil, trial) == ""


def test_a_condition_rules_foods_out_of_suggestions(facts: Reference) -> None:
    def unfit(food: str, condition: str, stage: str) -> str:
        rules = rules_for(facts.food_rules, [(condition, stage)])
        return why_unfit(
            facts.library.food(food), Avoidance(facts.source_groups, {}, None, None, rules)
        )

    lentils, rice, spinach = "usda:16070", "usda:20445", "usda:11457"
    assert "lentils" in unfit(lentils, "dcm", "suspect")
    assert unfit(rice, "dcm", "suspect") == ""
    assert "oxalate" in unfit(spinach, "calcium-oxalate", "prevent")
    # Advice keeps a food in the list, with its reason.
    assert unfit(lentils, "dcm", "occult") == ""


def test_interactions_are_found_by_generic_name(facts: Reference) -> None:
    found = met_by(facts.interactions, ["Prednisolone 5 mg", "fish oil"])
    assert found and {m.named for m in found} == {"Prednisolone 5 mg"}
    assert found[0].interaction.action == "block"


def test_energy_split_by_hand(facts: Reference) -> None:
    library = facts.library
    # Chicken breast 100 g and cooked rice 100 g, from the table itself.
    rows = [library.row("usda:05062"), library.row("usda:20445")]
    values = library.values[rows]
    at = library.catalogue.index
    protein = 4 * values[:, at("PROCNT")].sum()
    fat = 9 * values[:, at("FAT")].sum()
    carbohydrate = 4 * (values[:, at("CHOCDF")].sum() - values[:, at("FIBTG")].sum())
    whole = protein + fat + carbohydrate
    found = macros(totals(library, rows, [100.0, 100.0]))
    assert found is not None
    assert found.protein == pytest.approx(protein / whole)
    assert found.protein + found.fat + found.carbohydrate == pytest.approx(1)
    assert found.moisture == pytest.approx(values[:, at("WATER")].sum() / 200)


def test_leaving_a_line_out_tells_what_it_was_needed_for(facts: Reference) -> None:
    library = facts.library
    limits = requirement_set(facts.catalogue, facts.standards["nrc-2006"], "adult")
    rows = [library.row(f) for f in ("usda:05062", "usda:20445", "supp:calcium-carbonate")]
    grams = [200.0, 200.0, 3.0]
    sums = totals(library, rows, grams)
    findings = judge(sums, limits)
    found = without_each(sums, findings)
    assert "CA" in found[2].lost
    # The same verdict as analysing the recipe without the line.
    for line in range(3):
        rest = [i for i in range(3) if i != line]
        again = judge(totals(library, [rows[i] for i in rest], [grams[i] for i in rest]), limits)
        then = {f.key: f.status for f in again}
        now = {f.key: f.status for f in findings}
        lost = {k for k in then if now[k] in {"met", "off advice"} and then[k] in {"short", "over"}}
        assert lost == set(found[line].lost)


def test_limiting_amino_acid_is_the_one_nearest_its_minimum(facts: Reference) -> None:
    library = facts.library
    limits = requirement_set(facts.catalogue, facts.standards["nrc-2006"], "adult")
    findings = judge(totals(library, [library.row("usda:20445")], [500.0]), limits)
    pattern = amino_pattern(facts.catalogue, findings)
    ratios = {
        f.key: f.value / f.limit.minimum
        for f in findings
        if f.limit and f.limit.minimum and f.value
    }
    assert pattern[0].of_minimum == pytest.approx(min(ratios[a.key] for a in pattern))
    lysine = next(a for a in pattern if a.key == "LYS")
    assert lysine.per_lysine == lysine.wanted == 1


def test_treats_and_toppers_count_bought_food_does_not() -> None:
    kcal = [("treat", 50.0), ("topper", 30.0), ("bought", 200.0), ("supplement", 9.0)]
    assert extras_share(kcal, 800) == pytest.approx(0.1)
