"""Foods made from other rows and published figures: what they hold, how sure, and what is said of them."""

import pytest
from wainscot_core.analysis.analyse import analyse
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.facts.food_energy import on_scale
from wainscot_core.facts.foods import FIRM_GRADES, Grade
from wainscot_core.facts.me_methods import MeMethod
from wainscot_core.facts.preparations import methods_for
from wainscot_core.findings import Level
from wainscot_core.formats.casefile import read_case
from wainscot_core.recipe.proportions import gauges


def derived(facts: Reference) -> list[int]:
    return [i for i, f in enumerate(facts.library.foods) if f.derived]


def value(facts: Reference, food: str, tag: str) -> float:
    return float(facts.library.values[facts.library.row(food), facts.catalogue.index(tag)])


@pytest.mark.parametrize(
    ("food", "tag", "expected"),
    [
        # Soft row x (1 - bone share) + bone x bone share, by hand from the printed figures.
        # Neck with skin: 14.1 g protein, 18 mg Ca, 117 mg P in 100 g; 36 % bone of 18 g, 3700, 1750 mg.
        ("der:chicken-neck", "CA", 0.64 * 18 + 0.36 * 3700),
        ("der:chicken-neck", "P", 0.64 * 117 + 0.36 * 1750),
        ("der:chicken-neck", "PROCNT", 0.64 * 14.07 + 0.36 * 18),
        # Turkey neck, meat only: 20.14 g protein, 39 mg Ca; 42 % bone of 19 g, 4810 mg.
        ("der:turkey-neck", "CA", 0.58 * 39 + 0.42 * 4810),
        # Ground beef 80/20: 6.9 mg Ca (newest analysis); 10 % of 9990 mg.
        ("der:mix-beef-10", "CA", 0.9 * 6.9 + 0.1 * 9990),
        # Goat milk 134 mg Ca as it is; its 4.45 g carbohydrate x 0.85.
        ("der:goat-kefir", "CA", 134),
        ("der:goat-kefir", "CHOCDF", 0.85 * 4.45),
        # Published calcium of whole parts: necks 1.0 to 1.5 g, feet 1.5 to 3 g, ground whole rabbit 0.6 to 1.2 g.
        ("der:water", "CA", 3),
        ("der:mct-oil", "ENERC", 830),
    ],
)
def test_figures_by_hand(facts: Reference, food: str, tag: str, expected: float) -> None:
    assert value(facts, food, tag) == pytest.approx(expected, rel=0.005)


@pytest.mark.parametrize(
    ("food", "low", "high"),
    [
        ("der:chicken-neck", 1000, 1500),
        ("der:chicken-feet", 1500, 3000),
        ("der:rabbit-whole", 600, 1250),
    ],
)
def test_calcium_is_that_of_published_whole_parts(
    facts: Reference, food: str, low: float, high: float
) -> None:
    assert low <= value(facts, food, "CA") <= high


def test_every_value_of_a_derived_food_says_so(facts: Reference) -> None:
    library = facts.library
    stored = [i for i, n in enumerate(facts.catalogue.nutrients) if not n.parts]
    assert len(derived(facts)) >= 40
    for row in derived(facts):
        codes = {int(c) for c in library.codes[row, stored] if c}
        assert codes
        for code in codes:
            origin = library.provenance[code]
            assert origin.grade is Grade.DERIVED and origin.grade not in FIRM_GRADES
            assert origin.text.startswith("Derived:") and origin.citation, library.foods[row].id


def test_the_range_of_bone_goes_into_the_verdict(facts: Reference) -> None:
    """Neck: bone 28 to 40 %, of 2590 to 5180 mg calcium: from 0.72 x 18 + 0.28 x 2590 to 0.6 x 18 + 0.4 x 5180."""
    least, typical, most = 0.72 * 18 + 0.28 * 2590, 0.64 * 18 + 0.36 * 3700, 0.6 * 18 + 0.4 * 5180
    off = max(most - typical, typical - least) / typical
    spread = facts.library.provenance_of("der:chicken-neck", "CA").spread
    assert off <= spread <= off + 0.05


def test_nobody_knows_the_iodine_of_a_neck(facts: Reference) -> None:
    """A thyroid may hang on it: up to 500 ug, not the 15 of clean flesh."""
    library = facts.library
    row, column = library.row("der:chicken-neck"), facts.catalogue.index("ID")
    assert value(facts, "der:chicken-neck", "ID") != value(facts, "der:chicken-neck", "ID")
    upper = library.bounds.upper(facts.catalogue, [library.foods[row]], library.values[[row]])
    assert upper[0, column] == 500


def test_half_of_the_protein_of_bone_is_no_energy(facts: Reference) -> None:
    library = on_scale(facts.library, facts.me, MeMethod.ATWATER)
    food = library.food("der:chicken-wing")
    assert food.bone_protein_g == pytest.approx(0.46 * 18)
    protein, fat, carbohydrate = (value(facts, food.id, tag) for tag in ("PROCNT", "FAT", "CHOCDF"))
    counted = 4 * (protein - 0.5 * food.bone_protein_g) + 9 * fat + 4 * carbohydrate
    assert library.values[library.row(food.id), 0] == pytest.approx(counted)


def case(lines: list[dict]) -> dict:
    return {
        "format": "wainscot-case", "version": 1, "dog": {"name": "Fen", "weight_kg": 12},
        "energy": {"kcal_per_day": 700}, "targets": {"standard": "nrc-2006"},
        "recipe": {"covers_days": 1, "lines": lines},
    }  # fmt: skip


def test_bone_is_never_cooked(facts: Reference) -> None:
    assert methods_for(facts.methods, facts.library.food("usda:05066"))
    assert not methods_for(facts.methods, facts.library.food("der:chicken-drumstick"))
    cooked = {"food": "der:chicken-drumstick", "grams": 100, "preparation": "poultry-roasted"}
    with pytest.raises(InputError, match="bone is never cooked"):
        read_case(facts, case([cooked]))


@pytest.mark.parametrize(
    ("food", "hazards"),
    [
        ("der:chicken-neck", {"Raw meaty bone", "Neck or gullet that may carry the thyroid"}),
        ("der:pork-neck", {"Raw pork", "Raw meaty bone"}),
        ("der:dulse", {"Seaweed"}),
        ("der:trachea", {"Neck or gullet that may carry the thyroid"}),
        ("der:sardine-water", set()),
    ],
)
def test_what_is_said_of_it(facts: Reference, food: str, hazards: set[str]) -> None:
    found = {h.name for h in facts.hazards.of(facts.library.food(food))}
    assert hazards <= found
    assert "Raw meaty bone" in found or not facts.library.food(food).with_bone


def test_the_program_never_brings_one_up_by_itself(facts: Reference) -> None:
    """Calcium is short; meaty bones and shell would mend it, and are not proposed."""
    from wainscot_core.formulation.helpful import for_nutrient

    dossier = read_case(
        facts, case([{"food": "usda:05062", "grams": 500}, {"food": "usda:20045", "grams": 300}])
    )
    assert analyse(dossier).recipe.kcal > 500
    found = [h.food for h in for_nutrient(dossier, "CA")]
    assert found and not [f for f in found if f.startswith("der:")]


def test_meat_with_bone_counts_as_both(facts: Reference) -> None:
    """100 g of neck in a raw way of feeding: 36 g bone, 64 g meat."""
    way = facts.feeding.ways["meat-bone-organ"]
    found = {
        g.group: g.grams
        for g in gauges(facts.feeding, way, [facts.library.food("der:chicken-neck")], [100])
    }
    assert found == {"meat": pytest.approx(64), "bone": pytest.approx(36), "organ": 0}
    # The soft bones of canned fish are fish.
    fish = {
        g.group: g.grams
        for g in gauges(facts.feeding, way, [facts.library.food("usda:15088")], [100])
    }
    assert fish["meat"] == 100 and fish["bone"] == 0


def test_under_the_strict_policy_it_does_not_count(facts: Reference) -> None:
    lines = [{"food": "usda:05062", "grams": 300}, {"food": "der:chicken-neck", "grams": 100}]
    strict = analyse(read_case(facts, {**case(lines), "data_policy": "strict"}))
    calcium = next(n for n in strict.nutrients if n.key == "CA")
    assert calcium.per_1000_kcal is not None and calcium.per_1000_kcal < 100
    assert Level.WARN in {f.level for f in strict.flags}
