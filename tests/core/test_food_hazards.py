"""Foods that can harm any dog: each one named, and no look-alike."""

import csv
from pathlib import Path

import pytest
from wainscot_core.dossier.reference import Reference
from wainscot_core.findings import Level

from tests.core.test_checks import findings

ROOT = Path(__file__).resolve().parents[2]


def ids(facts: Reference, food: str) -> set[str]:
    return {h.id for h in facts.hazards.of(facts.library.food(food))}


@pytest.mark.parametrize(
    ("food", "hazard"),
    [
        ("usda:09037", "avocado"),
        ("usda:09038", "avocado"),
        ("usda:02025", "nutmeg"),
        ("usda:02022", "nutmeg"),  # mace
        ("usda:09307", "rhubarb"),
        ("usda:16027", "raw-kidney-beans"),
        ("usda:16027", "raw-pulses"),
        ("usda:09060", "carambola"),
        ("usda:17166", "raw-meat"),  # elk
        ("usda:17146", "raw-wild-game"),  # bear: Trichinella
        ("usda:17158", "raw-pork"),  # wild boar
        ("usda:15164", "raw-shellfish"),  # mussel
        ("usda:05146", "raw-meat"),  # goose
        ("usda:05641", "raw-meat"),  # ostrich
        ("usda:09263", "persimmon"),
        ("usda:11134", "cassava"),
        ("usda:11352", "raw-potato"),
        ("usda:04589", "cod-liver-oil"),
        ("usda:11445", "kelp"),
        ("usda:11282", "allium"),
        ("usda:15076", "raw-salmonid"),
    ],
)  # fmt: skip
def test_a_hazard_is_told(facts: Reference, food: str, hazard: str) -> None:
    assert hazard in ids(facts, food)


@pytest.mark.parametrize(
    ("food", "hazard"),
    [
        ("usda:11974", "grape"),  # leaves
        ("usda:16033", "raw-kidney-beans"),  # boiled
        ("usda:15165", "raw-shellfish"),  # cooked
        ("usda:17167", "raw-wild-game"),
        ("usda:11485", "raw-potato"),
        ("usda:11437", "raw-shellfish"),  # salsify, the "vegetable oyster"
        ("usda:11987", "raw-shellfish"),  # oyster mushroom
        ("usda:12084", "lactose"),  # butternuts
    ],
)
def test_a_look_alike_is_not(facts: Reference, food: str, hazard: str) -> None:
    assert hazard not in ids(facts, food)


def test_every_raw_flesh_of_the_table_is_told(facts: Reference) -> None:
    """Flesh that is fed raw, of any species, has a hazard of raw food; none has that is not raw."""
    raw_ids = {h.id for h in facts.hazards.foods if h.id.startswith("raw-")}
    flesh = {"muscle", "organ", "fish", "shellfish", "skin", "egg"}
    for food in facts.library.foods:
        of = food.attributes
        if food.is_supplement or of.group not in flesh:
            continue
        told = ids(facts, food.id) & raw_ids
        if of.state == "raw":
            assert told, food.name
        elif of.state == "cooked":
            assert not told, (food.name, told)


def test_every_hazard_is_about_a_food_that_is_there_and_says_what_to_do(facts: Reference) -> None:
    names = {h.id for h in facts.hazards.foods}
    assert len(names) == len(facts.hazards.foods)
    for hazard in (*facts.hazards.foods, *facts.hazards.outside):
        assert hazard.do and hazard.hazard and hazard.source, hazard.id
    for hazard in facts.hazards.foods:
        assert all(i in facts.library for i in hazard.foods), hazard.id
        assert any(hazard.about(f.id, f.attributes) for f in facts.library.foods), hazard.id


def test_what_stands_outside_the_table_is_kept_too(facts: Reference) -> None:
    outside = {h.id: h for h in facts.hazards.outside}
    for named in (
        "xylitol",
        "cocoa",
        "caffeine",
        "alcohol",
        "cooked-bone",
        "hops",
        "kernels",
        "mould",
    ):
        assert outside[named].level is Level.BLOCK
    # Gwaltney-Brant 2001; Piscitelli et al 2010: 0.1 g/kg xylitol lowers the sugar of the blood.
    assert outside["xylitol"].signs_from_g_per_kg == 0.1


# What the table's marks must be (source group -> foods), against words that stand in their names.
MARKED = {
    "usda:20008": set(),  # buckwheat is no wheat
    "usda:09107": set(),  # gooseberries are no goose
    "usda:09138": set(),
    "usda:09405": set(),  # kiwifruit, "chinese gooseberries"
    "usda:11437": set(),  # salsify, "vegetable oyster"
    "usda:05651": {"poultry-other"},  # the ostrich's cut "oyster"
    "usda:05631": {"poultry-other"},
    "usda:05307": {"chicken"},  # Cornish hens are no corn
    "usda:04520": {"lamb"},  # mutton tallow is no beef
    "usda:04601": {"dairy"},
    "usda:04602": {"dairy"},
}


@pytest.mark.parametrize("food", MARKED)
def test_marks_follow_what_a_food_is(facts: Reference, food: str) -> None:
    assert set(facts.library.food(food).allergens) == MARKED[food], facts.library.food(
        food
    ).allergens


def test_every_pulse_is_marked(facts: Reference) -> None:
    for food in facts.library.foods:
        if food.attributes.kind in {"pulse", "soy"} and food.attributes.species != "carob flour":
            assert food.allergens, food.name


def test_every_food_has_attributes_with_its_source_read_or_ruled(facts: Reference) -> None:
    with (ROOT / "reference" / "composition" / "attributes.csv").open(encoding="utf-8") as f:
        rows = {r["id"]: r for r in csv.DictReader(f)}
    for food in facts.library.foods:
        if food.is_supplement:
            continue
        assert rows[food.id]["kind"] not in {"", "unknown"}, food.name


def test_a_dose_is_told_where_one_is_known(facts: Reference) -> None:
    (raisin,) = [
        f
        for f in findings(facts, [{"food": "usda:09298", "grams": 20}])
        if f.food == "usda:09298" and f.level is Level.BLOCK
    ]
    assert "here 2 g per kg" in raisin.why and "from 2.8" in raisin.why
