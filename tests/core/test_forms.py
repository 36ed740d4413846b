"""Cooking, data policies, own-food tables."""

import numpy as np
import pytest
from wainscot_core.analysis.adequacy import judge
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.facts.allergens import AllergenWords
from wainscot_core.facts.completeness import completeness
from wainscot_core.facts.foods import Food, Provenance
from wainscot_core.facts.preparations import forms_of, methods_for, prepare, same_food
from wainscot_core.recipe.amount import Amount
from wainscot_core.recipe.line import Line, sum_lines
from wainscot_core.targets.standards import requirement_set


def line(facts: Reference, food: str, grams: float, method: str = "") -> Line:
    row = facts.library.row(food)
    prepared = prepare(facts.methods, facts.library, row, method) if method else None
    return Line(facts.library.foods[row], row, Amount(grams, "g", grams, ""), prepared)


def test_500_g_thigh_simmered_broth_kept_or_discarded(facts: Reference) -> None:
    """Discarded: 72 % of the weight is left and 55 % of the potassium (published yield, retention)."""
    kept = sum_lines(facts.library, [line(facts, "usda:05096", 500, "poultry-simmered-kept")], 1)
    away = sum_lines(
        facts.library, [line(facts, "usda:05096", 500, "poultry-simmered-discarded")], 1
    )
    raw = sum_lines(facts.library, [line(facts, "usda:05096", 500)], 1)
    assert kept.total_grams == pytest.approx(500)
    assert away.total_grams == pytest.approx(360)
    assert away.amount("K") == pytest.approx(0.55 * raw.amount("K"))
    assert kept.amount("K") == pytest.approx(raw.amount("K"))
    assert away.amount("TAU") == pytest.approx(0.40 * raw.amount("TAU"))
    assert away.amount("PROCNT") == pytest.approx(raw.amount("PROCNT"))


def test_half_a_cup_of_dry_rice_cooked(facts: Reference) -> None:
    """92.5 g dry rice absorbs water to 2.85 times its weight and keeps its protein."""
    cooked = sum_lines(facts.library, [line(facts, "usda:20444", 92.5, "grain-boiled")], 1)
    dry = sum_lines(facts.library, [line(facts, "usda:20444", 92.5)], 1)
    assert cooked.total_grams == pytest.approx(92.5 * 2.85)
    assert cooked.amount("PROCNT") == pytest.approx(dry.amount("PROCNT"))
    assert cooked.kcal == pytest.approx(dry.kcal)
    # What was gained is water: dry matter moves by the ash and nothing else.
    assert cooked.dry_matter_grams == pytest.approx(dry.dry_matter_grams, rel=0.02)


def test_drained_and_rinsed_ground_beef_loses_its_own_fat(facts: Reference) -> None:
    """80/20: 8.5 g fat per 100 g cooked x yield 0.70 = 5.95 g of 20 g; the energy goes with it,
    as that of the protein that is rinsed away."""
    raw = sum_lines(facts.library, [line(facts, "usda:23572", 100)], 1)
    rinsed = sum_lines(facts.library, [line(facts, "usda:23572", 100, "crumbles-rinsed")], 1)
    assert rinsed.amount("FAT") == pytest.approx(8.5 * 0.70, rel=0.01)
    lost = raw.amount("FAT") - rinsed.amount("FAT")
    washed = raw.amount("PROCNT") - rinsed.amount("PROCNT")
    assert raw.kcal - rinsed.kcal == pytest.approx(9 * lost + 4 * washed, rel=0.01)


@pytest.mark.parametrize(
    ("food", "method", "cooked"),
    [
        # Raw through the method against the table's own cooked row, fat in g per 100 g cooked.
        ("usda:05139", "poultry-roasted", 28.35),  # duck, meat and skin
        ("usda:17224", "crumbles-drained", 19.65),  # ground lamb
        ("usda:10219", "crumbles-drained", 20.77),  # ground pork
        ("usda:05091", "poultry-roasted", 15.49),  # chicken thigh with skin
        ("usda:23562", "ground-simmered-discarded", 12.04),  # ground beef 90/10, boiled
    ],
)
def test_fat_that_runs_off_is_not_fed(
    facts: Reference, food: str, method: str, cooked: float
) -> None:
    fed = sum_lines(facts.library, [line(facts, food, 500, method)], 1)
    assert 100 * fed.amount("FAT") / fed.total_grams == pytest.approx(cooked, rel=0.15)
    raw = sum_lines(facts.library, [line(facts, food, 500)], 1)
    lost = raw.amount("FAT") - fed.amount("FAT")
    assert raw.kcal - fed.kcal == pytest.approx(9 * lost, rel=0.03)
    # Its fatty acids go with it.
    kept = fed.amount("FAT") / raw.amount("FAT")
    assert fed.amount("F18D2N6") == pytest.approx(kept * raw.amount("F18D2N6"))


def test_fat_after_cooking_is_that_of_the_cooked_row_for_every_pair(facts: Reference) -> None:
    """Every fatty raw muscle and fish with a cooked row of its own, through every method that lets fat run off."""
    fat = facts.library.values[:, facts.catalogue.index("FAT")]
    pairs = 0
    for row, food in enumerate(facts.library.foods):
        if food.attributes.group not in {"muscle", "fish"} or not fat[row] > 8:
            continue
        cooked = [
            fat[i] for i, other in enumerate(facts.library.foods)
            if other.form == "cooked" and same_food(food, other)
        ]  # fmt: skip
        for method in methods_for(facts.methods, food):
            if not cooked or method.rendering is None:
                continue
            found = prepare(facts.methods, facts.library, row, method.id)
            left = fat[row] * found.retention[facts.catalogue.index("FAT")] / found.yield_share
            assert 0.6 * min(cooked) <= left <= 1.4 * max(cooked), (food.name, method.id, left)
            pairs += 1
    assert pairs > 150


def test_without_a_cooked_row_fat_is_rendered_by_how_much_there_is(facts: Reference) -> None:
    """70/30 ground beef keeps 38 % as crumbles; fatty poultry without a cooked row three fifths or less."""
    row = facts.library.row("usda:13498")
    share = prepare(facts.methods, facts.library, row, "crumbles-drained")
    assert share.retention[facts.catalogue.index("FAT")] == pytest.approx(0.38)
    model = next(m.rendering for m in facts.methods if m.rendering)
    assert [model.kept("poultry", g) for g in (5, 12, 18, 39)] == [1, 0.75, 0.6, 0.55]
    assert [model.kept("beef", g) for g in (5, 12, 18, 25, 39)] == [1, 0.8, 0.77, 0.7, 0.65]


def test_the_trace_says_whose_fat_it_goes_by(facts: Reference) -> None:
    row = facts.library.row("usda:17224")
    steps = prepare(facts.methods, facts.library, row, "crumbles-drained").steps
    (fat,) = [s for s in steps if s.label == "Fat kept"]
    assert "Lamb, ground, broiled" in fat.source


@pytest.mark.parametrize(
    ("food", "method"),
    [
        ("usda:20035", "grain-boiled"),  # quinoa
        ("usda:23572", "ground-simmered-discarded"),
        ("usda:05332", "poultry-ground-simmered-discarded"),
        ("usda:01123", "egg-scrambled"),
        ("usda:11485", "squash-baked"),
        ("usda:15015", "fish-steamed"),
    ],
)
def test_a_food_can_be_cooked_so(facts: Reference, food: str, method: str) -> None:
    assert method in {
        m.id for m in methods_for(facts.methods, facts.library.foods[facts.library.row(food)])
    }


def test_steamed_mussels_weigh_half(facts: Reference) -> None:
    """11.9 g protein per 100 g raw, 23.8 g cooked."""
    cooked = sum_lines(facts.library, [line(facts, "usda:15164", 200, "shellfish-steamed")], 1)
    assert cooked.total_grams == pytest.approx(100)


def test_every_method_keeps_between_nothing_and_everything(facts: Reference) -> None:
    water = facts.catalogue.index("WATER")
    seen = set()
    for row, food in enumerate(facts.library.foods):
        if not food.plain:
            continue
        for method in methods_for(facts.methods, food):
            found = prepare(facts.methods, facts.library, row, method.id)
            others = np.delete(found.retention, water)
            assert ((others >= 0) & (others <= 1.05)).all(), (food.name, method.id)
            assert 0.4 < found.yield_share < 6
            seen.add(method.id)
    assert seen == {m.id for m in facts.methods}


def test_a_method_that_does_not_fit_names_those_that_do(facts: Reference) -> None:
    with pytest.raises(InputError, match="grain-boiled"):
        prepare(facts.methods, facts.library, facts.library.row("usda:20444"), "fish-baked")


def test_linked_forms_by_protein(facts: Reference) -> None:
    """Raw thigh 18.61 g, roasted 25.94 g protein per 100 g: 100 g raw give about 72 g."""
    found = forms_of(facts.library, facts.library.row("usda:05096"))
    roasted = next(f for f in found if f.food.id == "usda:05098")
    assert roasted.weight_share == pytest.approx(18.6125 / 25.94, rel=0.01)


def test_policies_give_different_explained_verdicts(facts: Reference) -> None:
    """Beef without a value of vitamin D, a food with an estimate only, one analysed.

    Need 3.4 ug per 1000 kcal; known 5 ug per 1000 kcal, of which 4 are estimated.
    """
    foods = [Food(f"own:{n}", n, "fruit", "raw") for n in ("analysed", "estimated")]
    foods.append(Food("own:lacking", "lacking", "beef", "raw"))
    library = facts.library.extended(
        foods,
        [{"ENERC": 100, "VITD": 0.3}, {"ENERC": 100, "VITD": 1.2}, {"ENERC": 100}],
        [
            Provenance("a", "label", "", "", ""),
            Provenance("b", "pattern", "", "", ""),
            Provenance("c", "label", "", "", ""),
        ],
    )
    lines = [Line(f, library.row(f.id), Amount(1, "g", 1000 / 3, "")) for f in foods]
    sums = sum_lines(library, lines, 1)
    limits = requirement_set(facts.catalogue, facts.standards["nrc-2006"], "adult")
    column = facts.catalogue.index("VITD")
    found = {p: judge(sums, limits, p)[column] for p in ("graded", "strict", "cautious")}
    assert found["graded"].status == "met"
    assert found["strict"].status == "unproven"
    assert found["cautious"].status == "unproven"
    assert found["strict"].value == pytest.approx(1.0)
    assert found["graded"].value == pytest.approx(5.0)
    assert "graded counts" in found["graded"].why
    assert "strict does not count" in found["strict"].why
    assert "towards a minimum" in found["cautious"].why


def test_cautious_checks_a_maximum_with_estimates(facts: Reference) -> None:
    library = facts.library.extended(
        [Food("own:x", "X", "own", "plain")],
        [{"ENERC": 100, "VITD": 2.5}],
        [Provenance("b", "pattern", "", "", "")],
    )
    lines = [Line(library.food("own:x"), library.row("own:x"), Amount(1, "g", 1000, ""))]
    limits = requirement_set(facts.catalogue, facts.standards["nrc-2006"], "adult")
    column = facts.catalogue.index("VITD")
    sums = sum_lines(library, lines, 1)
    # 25 ug per 1000 kcal is over the safe upper limit of 20, estimate or not.
    assert judge(sums, limits, "cautious")[column].status == "over"
    assert judge(sums, limits, "strict")[column].status == "unproven"


def test_completeness_counts_known_and_analysed(facts: Reference) -> None:
    found = {c.group: c for c in completeness(facts.library, facts.library.row("usda:05062"))}
    assert found["amino"].known == 1
    assert found["amino"].firm == 0  # every amino acid of meat is a pattern
    assert found["energy"].firm == 1


def test_allergens_in_a_statement(facts: Reference) -> None:
    words: AllergenWords = facts.allergens
    found = words.found_in(
        "Dehydrated salmon, sweet potato, peas, chicken fat, brewers yeast, soya lecithin"
    )
    assert set(found) == {"fish", "sweet-potato", "pea", "chicken", "yeast", "soy"}
    assert words.found_in("Peanut flour") == {}


@pytest.mark.parametrize(
    ("food", "trait", "level"),
    [
        ("usda:11457", "oxalate", "high"),
        ("usda:13325", "purine", "high"),
        ("usda:01123", "purine", "very-low"),
        ("usda:15088", "added_salt", "added"),
    ],
)
def test_what_a_food_is(facts: Reference, food: str, trait: str, level: str) -> None:
    assert getattr(facts.library.food(food).attributes, trait) == level


# Methods whose raw foods have cooked rows of the same food in the table, by words of the cooked row, and what
# keeps its weight: protein in flesh, dry matter in what takes up water.
PAIRED = {
    "roasted": ("roasted", "PROCNT"), "poultry-roasted": ("roasted", "PROCNT"),
    "simmered-discarded": ("braised simmered stewed", "PROCNT"),
    "poultry-simmered-discarded": ("stewed simmered", "PROCNT"),
    "crumbles-drained": ("pan-browned", "PROCNT"), "organ-simmered": ("simmered braised", "PROCNT"),
    "liver-cooked": ("braised simmered", "PROCNT"), "fish-baked": ("cooked", "PROCNT"),
    "legume-boiled": ("boiled", "dry"), "grain-boiled": ("cooked", "dry"),
}  # fmt: skip


@pytest.mark.parametrize("method", PAIRED)
def test_yields_are_those_of_the_tables_own_pairs(facts: Reference, method: str) -> None:
    """Weight after cooking against the pair's: median over all pairs of a method within 10 %."""
    library, at = facts.library, facts.catalogue.index
    words, keeps = PAIRED[method]
    protein, water = library.values[:, at("PROCNT")], library.values[:, at("WATER")]
    off = []
    for row, food in enumerate(library.foods):
        if method not in {m.id for m in methods_for(facts.methods, food)} or food.derived:
            continue
        done = prepare(facts.methods, library, row, method)
        for other in library.rows_by_form.get((food.klass, "cooked"), ()):
            name = library.foods[other].name.lower()
            if not same_food(food, library.foods[other]) or not any(
                w in name for w in words.split()
            ):
                continue
            if keeps == "dry":
                pair = (100 - water[row]) / (100 - water[other])
            else:
                pair = protein[row] / protein[other] * done.retention[at("PROCNT")]
            off.append(done.yield_share / pair)
    assert len(off) >= 3
    assert 0.9 <= float(np.median(off)) <= 1.1


def test_a_practices_own_raw_meat_is_cooked_by_its_class(facts: Reference) -> None:
    """Not by its name: what it is called says nothing of how it can be cooked."""
    own = Food("own:x", "Grandmother's best", "poultry", "raw")
    assert {m.id for m in methods_for(facts.methods, own)} == {
        "poultry-roasted", "poultry-simmered-discarded", "poultry-simmered-kept",
    }  # fmt: skip
    assert not methods_for(facts.methods, Food("own:y", "Chicken thigh, raw", "own", "raw"))
    assert not same_food(own, Food("own:z", "Grandmother's best", "poultry", "cooked"))


def test_rows_of_one_food_are_known_by_their_family(facts: Reference) -> None:
    library = facts.library
    assert same_food(library.food("usda:05027"), library.food("usda:05028"))  # chicken liver
    assert not same_food(library.food("usda:05027"), library.food("usda:13325"))
