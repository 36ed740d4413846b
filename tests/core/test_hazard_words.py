"""Hazards in words: what is told, what only looks alike, what is said not to be there, and how much of it there is."""

import csv
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.checks import check
from wainscot_core.checks.told import check_phrase
from wainscot_core.dossier.reference import Reference
from wainscot_core.findings import GRAVEST_FIRST, Finding, Level
from wainscot_core.formats.casefile import open_case

FIXTURES = Path(__file__).parents[1] / "fixtures"
with (FIXTURES / "hazard_phrases.csv").open(encoding="utf-8") as handle:
    PHRASES = list(csv.DictReader(handle))
HAZARDS = [row for row in PHRASES if row["hazard"]]
HARMLESS = [row for row in PHRASES if not row["hazard"]]


def found_in(facts: Reference, row: dict[str, str]) -> tuple[Finding, ...]:
    return check_phrase(facts, row["text"], float(row["kg"]) if row["kg"] else None)


def told(findings: tuple[Finding, ...], name: str) -> list[Finding]:
    return [f for f in findings if name in {f.matter, f.what}]


def test_the_table_is_large() -> None:
    assert len(HAZARDS) >= 80 and len(HARMLESS) >= 40


@pytest.mark.parametrize("row", HAZARDS, ids=lambda r: f"{r['text']} {r['kg']}")
def test_a_hazard_is_told_with_what_to_do(facts: Reference, row: dict[str, str]) -> None:
    names = {h.id: h.name for h in (*facts.hazards.by_id.values(), *facts.hazards.doses)}
    found = told(found_in(facts, row), names[row["hazard"]])
    assert found, found_in(facts, row)
    # No less grave than it must be.
    wanted = GRAVEST_FIRST.index(Level(row["level"]))
    assert GRAVEST_FIRST.index(found[0].level) <= wanted
    assert found[0].why and found[0].do and found[0].source


@pytest.mark.parametrize("row", HARMLESS, ids=lambda r: r["text"])
def test_what_is_harmless_is_not_stopped(facts: Reference, row: dict[str, str]) -> None:
    grave = [f for f in found_in(facts, row) if f.level in {Level.BLOCK, Level.DECIDE}]
    assert grave == []


def test_the_dose_is_told_for_this_dog(facts: Reference) -> None:
    """5 g on 3 kg is 1.7 g per kg, on 40 kg 0.12; onion powder counts nine times its weight."""
    for text, kg, dose in (("5 g onion", 3, "1.7"), ("5 g onion", 40, "0.12"),
                           ("5 g onion powder", 9, "5")):  # fmt: skip
        (found,) = told(check_phrase(facts, text, kg), "Onion family")
        assert f"here {dose} g per kg" in found.why and found.level is Level.BLOCK


@pytest.mark.parametrize(
    ("text", "kg", "nutrient", "level"),
    [
        # 13.6 g a tablespoon, 250 ug a 100 g; 20 ug per 1000 kcal is 12.4 ug at 130 kcal per kg^0.75, 6.7 at 70.
        ("cod liver oil 2 tbsp", 8, "VITD", Level.BLOCK),
        ("cod liver oil 1 tsp", 8, "VITD", Level.WARN),
        ("cod liver oil 1 ml", 8, "VITD", None),
        # 250 ug; 10 ug per kg is poison for 8 kg, and not for 40.
        ("10 drops vitamin D 1000 IU per drop", 8, "VITD", Level.BLOCK),
        ("selenium 200 mcg tablet x 5", 8, "SE", Level.BLOCK),
        ("selenium 200 mcg tablet x 5", 45, "SE", Level.WARN),
        # Much of a food that keeps to the limits by itself is no poison.
        ("2 kg chicken thighs, cooked", 3, "P", None),
        # The limit of methionine is on what supplements add.
        ("200 g chicken liver, cooked", 8, "MET", None),
    ],
)
def test_a_strong_dose_is_told_by_the_dogs_weight(
    facts: Reference, text: str, kg: float, nutrient: str, level: Level | None
) -> None:
    found = [f for f in check_phrase(facts, text, kg) if f.nutrient == nutrient]
    assert [f.level for f in found] == ([] if level is None else [level])
    assert not [f for f in check_phrase(facts, text) if f.nutrient]


def test_a_strength_of_nothing_known_is_never_passed_over(facts: Reference) -> None:
    """The library's vitamin D comes in drops: what a capsule is of is not known, and it may be far too much."""
    (told_of,) = check_phrase(facts, "vitamin D3 2000 IU capsule, one daily", 6)
    assert told_of.matter == "Dose not known" and told_of.level is Level.WARN
    assert not [
        f
        for f in check_phrase(facts, "10 drops vitamin D 1000 IU per drop", 6)
        if f.matter == "Dose not known"
    ]


def test_a_raw_food_is_asked_about_where_nobody_says_how_it_is_fed(facts: Reference) -> None:
    levels = {
        text: [f.level for f in told(check_phrase(facts, text), "Raw pork")]
        for text in ("500 g raw pork mince", "500 g pork mince", "500 g pork mince, cooked")
    }
    assert list(levels.values()) == [[Level.BLOCK], [Level.DECIDE], []]
    # There is no cooked row of many raw foods: what is said counts.
    assert not told(check_phrase(facts, "100 g cooked chicken wings"), "Raw meat or offal")
    assert told(check_phrase(facts, "100 g chicken wings"), "Raw meat or offal")


def test_a_clearing_word_clears_only_what_it_is_said_of(facts: Reference) -> None:
    """Salmon oil is no salmon in a can, and a lid that is removed no bone."""
    for text in (
        "roast chicken bones, mixed with one teaspoon of the usual good quality salmon oil",
        "Roast lamb bones.\nRemove the lid.",
    ):
        assert told(check_phrase(facts, text), "Cooked bones"), text
    assert not told(
        check_phrase(facts, "Boil the thighs bone-in.\nTake out the bones."), "Cooked bones"
    )


def test_every_hazard_that_words_are_about_is_known(facts: Reference) -> None:
    for entry in facts.hazard_words.entries:
        assert entry.hazard in facts.hazards.by_id
        assert entry.words or entry.near


def test_the_note_of_a_line_is_read(facts: Reference) -> None:
    case = {
        "format": "wainscot-case", "version": 1,
        "dog": {"weight_kg": 10, "age_months": 48, "sex": "female", "neutered": True},
        "energy": {"kcal_per_day": 500},
        "targets": {"standard": "nrc-2006"},
        "recipe": {"days": 1, "lines": [
            {"food": "usda:20445", "grams": 200, "note": "boiled with a stock cube"},
            {"food": "usda:11124", "grams": 50, "note": "no onion, no garlic"},
        ]},
    }  # fmt: skip
    found = check(open_case(facts, case).dossier)
    (broth,) = [f for f in found if f.matter.startswith("Broth")]
    assert broth.level is Level.BLOCK and broth.food == "usda:20445" and "note" in broth.what
    assert not told(found, "Onion family")


@given(st.text(alphabet=st.characters(blacklist_categories=["Cs"]), max_size=200))
def test_any_text_is_read(facts: Reference, text: str) -> None:
    for one in facts.hazard_words.told_in(text):
        assert text[one.start : one.end] == one.text
