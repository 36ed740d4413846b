"""What the words of an ingredient statement stand for."""

import pytest
from wainscot_core.analysis.analyse import analyse
from wainscot_core.dossier.reference import Reference
from wainscot_core.facts.label_terms import LabelTerms
from wainscot_core.formats.casefile import FORMAT, open_case
from wainscot_core.formulation.choices import choices_of
from wainscot_core.formulation.draft import first_draft
from wainscot_core.formulation.formulate import formulate
from wainscot_core.formulation.problem import MacroTarget
from wainscot_core.formulation.proposal import State
from wainscot_core.formulation.question import Settings
from wainscot_core.recipe.line import LineText, read_all


@pytest.mark.parametrize(
    ("text", "term"),
    [
        ("Chicken meal", "chicken meal"),
        ("dehydrated chicken protein", "chicken meal"),
        ("CHICKEN (26 %)", "chicken"),
        ("deboned chicken", "chicken"),
        ("poultry fat (preserved with mixed tocopherols)", "chicken fat"),
        ("dried plain beet pulp", "beet pulp"),
        ("brewers rice", "brewers rice"),
        ("corn gluten meal", "corn gluten meal"),
        ("dried peas", "pea"),
        ("Yellow peas", "pea"),
        ("meat and animal derivatives", "meat by-products"),
        ("menhaden oil", "fish oil"),
        ("zinc proteinate", "zinc sulfate"),
    ],
)
def test_a_term_is_known_however_it_is_written(facts: Reference, text: str, term: str) -> None:
    found = facts.label_terms.of_ingredient(text)
    assert found is not None and found.term == term


@pytest.mark.parametrize("text", ["chicken stardust", "beef jerky bits", "rice noodles", "", "x"])
def test_what_is_not_known_is_not_taken_for_what_it_is_of(facts: Reference, text: str) -> None:
    """ "Rice noodles" end with a word that nobody knows: they are no rice."""
    assert facts.label_terms.of_ingredient(text) is None


def test_chicken_flavour_is_no_chicken(facts: Reference) -> None:
    found = facts.label_terms.of_ingredient("chicken flavour")
    assert found is not None and found.group == "palatant" and found.foods == ()


def test_the_order_is_kept_and_what_stands_behind_the_salt_is_small(facts: Reference) -> None:
    read = facts.label_terms.read(
        "Chicken meal, brewers rice, stardust, salt, taurine, carrots", facts.library
    )
    assert [t.place for t in read] == [1, 2, 3, 4, 5, 6]
    assert [t.main for t in read] == [True, True, True, False, False, False]
    assert read[2].term is None and read[2].text == "stardust"
    assert read[0].stand_ins[0].food == "usda:05096"


def test_every_term_stands_for_foods_that_there_are(facts: Reference) -> None:
    for term in facts.label_terms.terms:
        assert term.definition and term.source
        assert [f for f in term.foods if f not in facts.library] == []


def test_a_name_stands_for_its_first_term() -> None:
    row = {"term": "a", "aliases": "b; c", "group": "x", "definition": "d", "of": "", "foods": "",
           "note": "", "hidden": "", "caution": "", "source": "s", "confidence": "low"}  # fmt: skip
    terms = LabelTerms.from_rows([row, {**row, "term": "c"}])
    assert terms.aliases["c"].term == "a"


def test_a_bought_diet_is_built_fresh_of_what_its_bag_names(facts: Reference) -> None:
    """Its split of energy, the dog's kcal, every minimum of NRC 2006 met."""
    case = {
        "format": FORMAT, "version": 1, "dog": {"name": "Hazel", "weight_kg": 12, "age_months": 60},
        "energy": {"kcal_per_day": 700}, "targets": {"standard": "nrc-2006"},
        "recipe": {"covers_days": 1, "lines": []},
    }  # fmt: skip
    dossier = open_case(facts, case).dossier
    read = facts.label_terms.read("Chicken meal, brewers rice, carrots, salt", facts.library)
    foods = [s.food for t in read if t.main for s in t.stand_ins[:1]]
    drafted = [LineText(x.food, x.quantity) for x in first_draft(dossier, foods)]
    begun = dossier.with_lines(read_all(facts.methods, facts.library, drafted))
    assert {line.food.id for line in begun.lines} == set(foods)
    usual = next(m for m in choices_of(dossier, None).modes if m.id == "match").allowed
    split = MacroTarget(0.26, 0.37, 0.37)
    found = formulate(begun, Settings(mode="match", macros=split, allowed=tuple(usual)))
    assert found.state is State.MET
    made = analyse(dossier.with_lines(found.lines))
    assert made.macros is not None
    assert made.macros.protein == pytest.approx(0.26, abs=0.02)
    assert made.macros.fat == pytest.approx(0.37, abs=0.02)
    assert made.recipe.kcal_per_day == pytest.approx(700, rel=0.03)
    assert [n.name for n in made.nutrients if n.breaks or n.status == "unproven"] == []
