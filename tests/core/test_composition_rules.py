"""How the composition builder fills a food, rule by rule, and what holds for every built food."""

import csv
from collections import Counter
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from wainscot_cli.composition import names
from wainscot_cli.composition.rules import (
    AMINO,
    POLYUNSATURATED,
    Food,
    Register,
    amino_pattern_for,
    fill_amino_acids,
    fill_fatty_acids,
    fill_iodine_taurine,
    fill_minor,
    read_csv,
    zero_reason,
)
from wainscot_core.dossier.reference import Reference

INPUTS = Path(__file__).resolve().parents[2] / "reference" / "composition" / "inputs"


def food(klass: str, name: str, form: str = "raw", ndb: str = "00000", **values: float) -> Food:
    made = Food(ndb, name, name.upper(), klass, form, {}, {})
    for tag, value in values.items():
        made.put(tag, value, "A")
    return made


@pytest.fixture(scope="module")
def patterns() -> dict[str, dict[str, str]]:
    return {r["pattern"]: r for r in read_csv(INPUTS / "amino_acid_patterns.csv")}


@pytest.fixture(scope="module")
def shares() -> dict[str, dict[str, str]]:
    return {r["item"]: r for r in read_csv(INPUTS / "fatty_acid_shares.csv")}


@pytest.fixture(scope="module")
def surveys() -> dict[tuple[str, str], dict[str, str]]:
    return {(r["tag"], r["item"]): r for r in read_csv(INPUTS / "iodine_taurine.csv")}


# A zero of the older table is a hole unless there is a reason


@pytest.mark.parametrize(
    ("klass", "name", "tag"),
    [
        ("beef", "Beef liver", "FIBTG"), ("vegetable", "Carrot", "VITB12"), ("fruit", "Apple", "CHOLE"),
        ("grain", "Rice", "RETOL"), ("poultry", "Chicken breast", "RETOL"), ("fish", "Cod", "CHOCDF"),
    ],
)  # fmt: skip
def test_true_zeros_have_a_reason(klass: str, name: str, tag: str) -> None:
    assert zero_reason(food(klass, name), tag)


@pytest.mark.parametrize(
    ("klass", "name", "tag"),
    [
        ("beef", "Beef heart", "CHOLN"), ("lamb-game", "Lamb liver", "TOCPHA"), ("beef", "Beef liver", "RETOL"),
        ("vegetable", "Carrot", "ZN"), ("poultry", "Chicken breast", "SE"), ("grain", "Oats", "MN"),
        ("fish", "Cod", "VITB12"), ("legume", "Lentils", "PANTAC"), ("vegetable", "Carrot", "FIBTG"),
    ],
)  # fmt: skip
def test_holes_stay_unknown(klass: str, name: str, tag: str) -> None:
    assert zero_reason(food(klass, name), tag) is None


def test_a_refined_oil_holds_nothing_but_fat() -> None:
    oil = food("fat-oil", "Corn oil", "plain", FAT=100)
    for tag in ("CA", "ZN", "THIA", "CHOLN", "FIBTG"):
        assert zero_reason(oil, tag)
    # A fish oil holds retinol and cholesterol for all a table's zero says.
    fish = food("fat-oil", "Cod liver oil", "plain", FAT=100)
    assert zero_reason(fish, "RETOL") is None and zero_reason(fish, "CHOLE") is None


# A value that is there is never overwritten


def test_put_keeps_the_first_value() -> None:
    made = food("grain", "Rice", CA=10)
    made.put("CA", 99, "B")
    assert made.values["CA"] == 10 and made.codes["CA"] == "A"


def test_a_register_keeps_the_first_words_of_a_code() -> None:
    register = Register()
    assert register.add("x", "pattern", "first", "", "high") == "x"
    register.add("x", "pattern", "second", "", "low")
    assert register.entries["x"].text == "first"


# Amino acids


@pytest.mark.parametrize(
    ("klass", "name", "starts"),
    [
        ("poultry", "Chicken breast, meat only, raw", "chicken_muscle"),
        ("poultry", "Turkey breast, raw", "turkey_muscle"),
    ],
)
def test_patterns_follow_the_class(klass: str, name: str, starts: str) -> None:
    assert amino_pattern_for(food(klass, name)) == starts


def test_pattern_amino_acids_scale_with_protein(patterns: dict[str, Any]) -> None:
    register = Register()
    one = food("poultry", "Chicken breast, meat only, raw", PROCNT=20)
    two = food("poultry", "Chicken breast, meat only, cooked", PROCNT=30)
    fill_amino_acids(one, patterns, register)
    fill_amino_acids(two, patterns, register)
    # 8.49 g lysine per 100 g protein (input row chicken_muscle).
    assert one.values["LYS"] == pytest.approx(0.0849 * 20, abs=1e-4)
    for tag in AMINO:
        assert two.values[tag] == pytest.approx(1.5 * one.values[tag], abs=2e-4)
    assert register.entries[one.codes["LYS"]].grade == "pattern"


def test_no_protein_no_amino_acids_and_unknown_protein_unknown(patterns: dict[str, Any]) -> None:
    register = Register()
    oil = food("fat-oil", "Corn oil", PROCNT=0.0)
    fill_amino_acids(oil, patterns, register)
    assert {oil.values[t] for t in AMINO} == {0.0}
    nothing = food("poultry", "Chicken breast, meat only, raw")
    fill_amino_acids(nothing, patterns, register)
    assert not set(AMINO) & nothing.values.keys()


def test_essential_amino_acids_of_a_pattern_stay_below_protein(patterns: dict[str, Any]) -> None:
    for name, row in patterns.items():
        assert sum(float(row[t] or 0) for t in AMINO) < 100, name


# Fatty acids


def test_linoleic_acid_of_a_plant_is_pufa_less_ala_of_the_same_sample(
    shares: dict[str, Any],
) -> None:
    register = Register()
    corn = food("fat-oil", "Some seed oil", "plain", FAT=100, FAPU=54.7, F18D3N3=1.2)
    fill_fatty_acids(corn, shares, register)
    assert corn.values["F18D2N6"] == pytest.approx(53.5)
    assert register.entries[corn.codes["F18D2N6"]].grade == "pattern"
    for tag in ("F20D4N6", "F20D5N3", "F22D6N3"):
        assert corn.values[tag] == 0


def test_another_samples_ala_is_never_subtracted(shares: dict[str, Any]) -> None:
    seed = food("nut-seed", "Unheard-of seed", "dried", FAT=40, FAPU=20)
    seed.put("F18D3N3", 5.0, "borrowed")
    fill_fatty_acids(seed, shares, Register())
    assert seed.codes.get("F18D2N6") != "r:pufa-ala"


def test_shares_of_fat_scale_with_fat(shares: dict[str, Any]) -> None:
    row = shares["olive oil"]
    oil = food("fat-oil", "Olive oil", "plain", FAT=50)
    fill_fatty_acids(oil, shares, Register())
    assert oil.values["F18D2N6"] == pytest.approx(float(row["F18D2N6"]) / 2, abs=1e-4)


def test_no_fat_no_fatty_acids(shares: dict[str, Any]) -> None:
    egg_white = food("dairy-egg", "Egg white, raw", FAT=0.0)
    fill_fatty_acids(egg_white, shares, Register())
    assert {egg_white.values[t] for t in POLYUNSATURATED} == {0.0}


# Iodine, taurine, chloride, starch, carotene


def test_land_plants_hold_no_taurine_but_seaweed_is_unknown(surveys: dict[Any, Any]) -> None:
    carrot, kelp = food("vegetable", "Carrot"), food("vegetable", "Seaweed, kelp")
    fill_iodine_taurine(carrot, surveys, Register())
    fill_iodine_taurine(kelp, surveys, Register())
    assert carrot.values["TAU"] == 0
    assert "TAU" not in kelp.values and "ID" not in kelp.values


def test_survey_figures_carry_their_range(surveys: dict[Any, Any]) -> None:
    register = Register()
    beef = food("beef", "Beef, ground, raw")
    fill_iodine_taurine(beef, surveys, register)
    source = register.entries[beef.codes["ID"]]
    assert "range" in source.text and source.grade == "pattern"
    assert not [c for c in beef.codes if c.endswith("!")]


def test_chloride_follows_sodium_only_where_that_is_defensible() -> None:
    register = Register()
    salt = food("herb-spice", "Salt, table", "plain", "02047", NA=38758)
    chicken, bread = food("poultry", "Chicken", NA=100), food("grain", "Bread, wheat", NA=500)
    for item in (salt, chicken, bread):
        fill_minor(item, register)
    # 35.45 / 22.99 = 1.542
    assert salt.values["CLD"] == pytest.approx(38758 * 1.542, abs=0.1)
    assert register.entries[salt.codes["CLD"]].grade == "stoichiometric"
    assert (
        chicken.values["CLD"] == 100 and register.entries[chicken.codes["CLD"]].confidence == "low"
    )
    assert "CLD" not in bread.values


def test_starch_is_what_is_left_of_carbohydrate() -> None:
    rice = food("grain", "Rice", CHOCDF=28.0, FIBTG=0.4, SUGAR=0.1)
    fill_minor(rice, Register())
    assert rice.values["STARCH"] == pytest.approx(27.5)
    unknown = food("grain", "Oats", CHOCDF=66.0, FIBTG=10.0)
    fill_minor(unknown, Register())
    assert "STARCH" not in unknown.values


def test_carotene_equivalents_follow_from_the_definition_of_rae() -> None:
    carrot = food("vegetable", "Carrot", VITA_RAE=835, RETOL=0)
    fill_minor(carrot, Register())
    assert carrot.values["CARTBEQ"] == pytest.approx(12 * 835)


def test_mushrooms_are_not_said_to_hold_no_vitamin_d() -> None:
    carrot, mushroom = food("vegetable", "Carrot"), food("vegetable", "Mushrooms, white")
    fill_minor(carrot, Register())
    fill_minor(mushroom, Register())
    assert carrot.values["VITD"] == 0
    assert "VITD" not in mushroom.values


# Names and classes


def test_not_whole_rows_are_left_out() -> None:
    left_out = names._NOT_WHOLE
    for row in (
        "CHICKEN,BREADED",
        "BEEF,CURED,CORNED",
        "PORK SAUSAGE",
        "BEANS,BAKED,CND",
        "CARROTS,CKD,W/SALT",
    ):
        assert left_out.search(row), row
    for row in ("CHICKEN,BROILERS,BREAST,MEAT ONLY,RAW", "CARROTS,RAW", "BEEF,LIVER,RAW"):
        assert not left_out.search(row), row


# What holds for every built food


def test_every_value_has_a_source_and_every_source_is_described(facts: Reference) -> None:
    library = facts.library
    known = ~np.isnan(library.values)
    assert (library.codes[known] > 0).all()
    grades = Counter(p.grade for p in library.provenance)
    assert grades.keys() <= {
        "unknown",
        "analysed",
        "borrowed",
        "pattern",
        "derived",
        "stoichiometric",
        "label",
    }
    for provenance in library.provenance[1:]:
        assert provenance.text and provenance.grade != "unknown", provenance.code


def test_no_land_plant_holds_what_only_animals_make(facts: Reference) -> None:
    library, at = facts.library, facts.catalogue.index
    plants = [
        i for i, f in enumerate(library.foods)
        if f.klass in names.PLANT and f.attributes.kind not in {"seaweed", "alga", "fungus"}
    ]  # fmt: skip
    assert len(plants) > 1000
    assert np.nanmax(library.values[plants, at("TAU")]) == 0
    for tag in ("F20D5N3", "F22D6N3"):
        # The table itself prints traces for a few (quinoa 0.047 g); no rule of ours adds any.
        values = library.values[plants, at(tag)]
        assert np.nanmax(values) < 0.05
        analysed = library.firm[plants, at(tag)]
        assert np.nanmax(np.where(analysed, 0.0, values)) == 0


def test_the_same_share_of_every_land_meats_protein_is_lysine_within_reason(
    facts: Reference,
) -> None:
    library, at = facts.library, facts.catalogue.index
    rows = [
        i for i, f in enumerate(library.foods)
        if f.klass in {"poultry", "beef", "pork", "lamb-game"} and library.values[i, at("PROCNT")] > 10
    ]  # fmt: skip
    share = library.values[rows, at("LYS")] / library.values[rows, at("PROCNT")]
    share = share[~np.isnan(share)]
    assert len(share) > 800
    # Muscle protein holds 7 to 10 % lysine; skin and gelatin less.
    assert share.min() > 0.02 and share.max() < 0.11


def test_derived_columns_are_the_sums_they_say(facts: Reference) -> None:
    library, at = facts.library, facts.catalogue.index
    for nutrient in facts.catalogue.nutrients:
        if not nutrient.parts or nutrient.key == "VITA":
            continue
        total = sum(
            library.values[:, at(part)] * weight
            for part, weight in zip(nutrient.parts, nutrient.weights, strict=True)
        )
        whole = library.values[:, at(nutrient.key)]
        both = ~np.isnan(total) & ~np.isnan(whole)
        np.testing.assert_allclose(whole[both], total[both], rtol=1e-9, atol=1e-12)
        # Unknown as soon as one part is.
        assert np.isnan(whole[np.isnan(total)]).all(), nutrient.key


def test_measures_weigh_something_and_are_named_once(facts: Reference) -> None:
    for item in facts.library.foods:
        seen = [m.name for m in item.measures]
        assert all(m.grams > 0 for m in item.measures), item.id
        assert len(seen) == len(set(seen)), (item.id, seen)


def test_files_list_the_same_foods_in_the_same_order() -> None:
    folder = INPUTS.parent
    ids = []
    for name in ("foods.csv", "values.csv", "sources.csv"):
        with (folder / name).open(newline="", encoding="utf-8") as handle:
            ids.append([row[0] for row in csv.reader(handle)][1:])
    assert ids[0] == ids[1] == ids[2]
    assert len(ids[0]) == len(set(ids[0]))
