"""Contents of supplements against formula masses computed by hand, and labels."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.analysis.adequacy import Status, judge
from wainscot_core.confidence import Confidence
from wainscot_core.dog.intake import present_intake
from wainscot_core.dog.record import DietItem
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.facts.bag_label import Guarantee
from wainscot_core.facts.foods import Food, Grade, Provenance
from wainscot_core.facts.labels import (
    Guarantees,
    Label,
    LabelMethod,
    PackLabel,
    as_fed,
    on_dry_matter,
    read_label,
    read_pack,
)
from wainscot_core.facts.stoichiometry import mass_share, molar_mass, parse_formula
from wainscot_core.facts.supplements import label_values
from wainscot_core.recipe.totals import totals
from wainscot_core.targets.standards import Limit, RequirementSet

WEIGHTS = {"H": 1.008, "C": 12.011, "N": 14.007, "O": 15.999, "Ca": 40.078, "P": 30.974}


def test_formulas_with_brackets_and_water() -> None:
    # Calcium citrate tetrahydrate: 3 Ca, 12 C, 10 + 8 H, 14 + 4 O.
    assert parse_formula("Ca3(C6H5O7)2.4H2O") == {"Ca": 3, "C": 12, "H": 18, "O": 18}
    assert molar_mass("CaCO3", WEIGHTS) == pytest.approx(100.09, abs=0.01)


@pytest.mark.parametrize("formula", ["", "Ca(", "ca", "Ca)2", "H2O?"])
def test_unreadable_formulas(formula: str) -> None:
    with pytest.raises(ValueError, match="formula"):
        parse_formula(formula)


def test_a_part_that_is_not_there() -> None:
    with pytest.raises(ValueError, match="does not hold"):
        mass_share("CaCO3", "P", WEIGHTS)


@pytest.mark.parametrize(
    ("supplement", "tag", "percent"),
    # Published contents by mass.
    [
        ("calcium-carbonate", "CA", 40.04),
        ("potassium-chloride", "K", 52.45),
        ("zinc-gluconate", "ZN", 14.35),
        ("choline-bitartrate", "CHOLN", 41.13),
        ("magnesium-oxide", "MG", 60.30),
        ("sodium-chloride", "CLD", 60.66),
        ("calcium-citrate", "CA", 21.08),
        ("tricalcium-phosphate", "P", 19.97),
        ("lysine-hcl", "LYS", 80.04),
        ("thiamin-hcl", "THIA", 78.68),
    ],
)
def test_contents_agree_with_formula_masses(
    facts: Reference, supplement: str, tag: str, percent: float
) -> None:
    values = facts.supplements[f"supp:{supplement}"].values
    per_g = {"g": 1.0, "mg": 1e-3, "ug": 1e-6}[facts.catalogue.get(tag).unit]
    assert values[tag] * per_g == pytest.approx(percent, rel=0.001)


def test_a_tablet_holds_what_its_name_says(facts: Reference) -> None:
    library = facts.library
    food = library.food("supp:zinc-tablet-10")
    tablet = next(m for m in food.measures if m.name == "tablet")
    zinc = library.values[library.row(food.id), facts.catalogue.index("ZN")]
    assert zinc * tablet.grams / 100 == pytest.approx(10)


def test_kelp_asks_for_its_label(facts: Reference) -> None:
    kelp = facts.supplements["supp:kelp-powder"]
    assert "ID" not in kelp.values
    assert [q.tag for q in kelp.label] == ["ID"]
    # 650 ug per g is 65 000 ug per 100 g.
    assert label_values(kelp, {"ID": 650}, facts.catalogue)["ID"] == pytest.approx(65_000)


DRY_FOOD = Label(protein=26, fat=16, fibre=4, moisture=10, ash=8)


def test_a_label_by_hand(facts: Reference) -> None:
    """100 - 10 - 26 - 16 - 4 - 8 = 36; 3.5 x 26 + 8.5 x 16 + 3.5 x 36 = 353 kcal/100 g."""
    found = read_label(facts.labels, DRY_FOOD)
    assert found.per_100_g["CHOCDF"] - found.per_100_g["FIBTG"] == pytest.approx(36)
    assert found.kcal_per_kg == pytest.approx(3530)
    assert found.energy_shares["PROCNT"] == pytest.approx(91 / 353)
    assert found.energy_shares["FAT"] == pytest.approx(136 / 353)
    assert found.energy_shares["CHOCDF"] == pytest.approx(126 / 353)


def test_nrc_predictive_by_its_published_example(facts: Reference) -> None:
    """Moisture 72, protein 8, fat 5, ash 2, crude fibre 1: 117.3 kcal per 100 g."""
    found = read_label(facts.labels, Label(8, 5, 1, 72, 2), method=LabelMethod.NRC_PREDICTIVE)
    assert found.kcal_per_kg / 10 == pytest.approx(117.3, abs=0.05)
    assert [s.label for s in found.steps][1:] == [
        "Gross energy",
        "Energy digestibility",
        "Digestible energy",
        "Metabolisable energy",
    ]


@given(
    protein=st.floats(1, 40),
    fat=st.floats(1, 20),
    fibre=st.floats(0, 8),
    moisture=st.floats(5, 75),
    ash=st.floats(0, 8),
)
def test_dry_matter_and_back_is_the_same(
    facts: Reference, protein: float, fat: float, fibre: float, moisture: float, ash: float
) -> None:
    label = Label(protein, fat, fibre, moisture, ash)
    back = as_fed(on_dry_matter(label))
    for name in ("protein", "fat", "fibre", "ash"):
        assert getattr(back, name) == pytest.approx(getattr(label, name))
    if protein + fat + fibre + moisture + ash < 99:
        one, two = read_label(facts.labels, label), read_label(facts.labels, on_dry_matter(label))
        assert one.kcal_per_kg == pytest.approx(two.kcal_per_kg)


def test_a_label_that_adds_up_to_too_much_is_refused(facts: Reference) -> None:
    with pytest.raises(InputError, match="check the basis"):
        read_label(facts.labels, Label(60, 30, 5, 10, 8))
    with pytest.raises(InputError) as caught:
        read_label(facts.labels, Label(26, 120, 4, 10, 8))
    assert caught.value.field == "fat"


def test_a_guarantee_is_a_bound_and_no_more(facts: Reference) -> None:
    """Makers leave 1.0 point of fat and 1.5 of protein in dry food, 0.6 and 0.7 in wet; twice that is the most."""

    def within(**more) -> tuple[dict[str, float], dict[str, float]]:
        pack = PackLabel(**{"protein": 26, "fat": 15, "fibre": 4, "moisture": 10, **more})
        found = read_pack(facts.labels, pack)
        return found.per_100_g, found.may_exceed

    values, more = within()
    assert (values["PROCNT"], values["FAT"]) == (26, 15)
    assert more == pytest.approx({"PROCNT": 3, "FAT": 2})
    assert within(moisture=78, protein=9, fat=6, fibre=1)[1] == pytest.approx(
        {"PROCNT": 1.4, "FAT": 1.2}
    )
    averages = Guarantees(protein=Guarantee.AVERAGE, fat=Guarantee.AVERAGE)
    assert within(guarantees=averages)[1] == {}
    # Of what is "at most" there is so much less that can be counted on.
    values, more = within(guarantees=Guarantees(fat=Guarantee.MAX))
    assert values["FAT"] == 13 and more["FAT"] == 2
    # On dry matter: 90 % of 16.67 is 15 as fed, and the margin is of what is fed.
    values, more = within(fat=15 / 0.9, protein=26 / 0.9, fibre=4 / 0.9, dry_matter=True)
    assert values["FAT"] == pytest.approx(15) and more["FAT"] == pytest.approx(2)


def test_per_1000_kcal_a_guarantee_is_a_range(facts: Reference) -> None:
    """15 to 17 g of fat in 365 kcal: 41.1 to 46.6 g per 1000 kcal."""
    pack = PackLabel(protein=26, fat=15, fibre=4, moisture=10, kcal_per_kg=3650)
    fat = read_pack(facts.labels, pack).per_1000_kcal["FAT"]
    assert (fat.least, fat.most) == pytest.approx((41.096, 46.575), rel=1e-4)


def test_a_ceiling_is_not_met_by_what_is_only_guaranteed_as_a_least(facts: Reference) -> None:
    """41 g of fat per 1000 kcal at least, 47 at most: under a ceiling of 44 in doubt, under 50 met, and a minimum of 41
    is reached by what is promised alone."""

    def stands(may_exceed: dict[str, float], limit: Limit) -> tuple[Status, str]:
        food = Food("own:bag", "Bag", "own", "plain", may_exceed=may_exceed)
        values = {"ENERC": 365.0, "PROCNT": 26.0, "FAT": 15.0}
        origin = Provenance("own", Grade.LABEL, "label", "", Confidence.UNSAID)
        library = facts.library.extended([food], [values], [origin])
        sums = totals(library, [library.row("own:bag")], [200.0])
        found = {v.key: v for v in judge(sums, RequirementSet("", {"FAT": limit}))}["FAT"]
        return found.status, found.why

    def fat(low: float | None, high: float | None) -> Limit:
        return Limit("FAT", "g", low, None, high)

    status, why = stands({"FAT": 2.0}, fat(None, 44.0))
    assert status is Status.UNPROVEN and "5.48 more" in why
    assert stands({}, fat(None, 44.0))[0] is Status.MET
    assert stands({"FAT": 2.0}, fat(None, 50.0))[0] is Status.MET
    assert stands({"FAT": 2.0}, fat(41.0, None))[0] is Status.MET
    # What may be there more reaches no minimum, and rules none out.
    assert stands({"FAT": 2.0}, fat(44.0, None))[0] is Status.UNPROVEN
    assert stands({"FAT": 2.0}, fat(50.0, None))[0] is Status.SHORT
    assert stands({"FAT": 2.0}, fat(None, 40.0))[0] is Status.OVER


def test_how_fat_a_food_is_goes_by_the_most_its_label_allows(facts: Reference) -> None:
    origin = Provenance("own", Grade.LABEL, "label", "", Confidence.UNSAID)
    bag = Food("own:bag", "Bag", "own", "plain", may_exceed={"FAT": 2.0})
    found = facts.library.extended([bag], [{"ENERC": 365.0, "FAT": 15.0}], [origin])
    assert found.food("own:bag").attributes.fat_g_mcal == pytest.approx(46.575, rel=1e-4)


def test_a_stated_energy_takes_precedence(facts: Reference) -> None:
    assert read_label(facts.labels, DRY_FOOD, kcal_per_kg=3700).per_100_g["ENERC"] == pytest.approx(
        370
    )


def test_ash_that_a_label_leaves_out_is_typical_of_dry_matter(facts: Reference) -> None:
    """8 % of dry matter: of a food with 75 % water 2.0 g, not 8."""
    found = read_label(facts.labels, Label(8, 5, 1, 75, None))
    assert found.per_100_g["ASH"] == pytest.approx(2.0)
    # 100 - 75 - 8 - 5 - 1 - 2 = 9
    assert found.carbohydrate_g == pytest.approx(9)
    assert "typical 8 % of dry matter" in found.steps[0].inputs[-1].source


def test_what_is_eaten_now_is_split_by_the_factors_of_bought_food(facts: Reference) -> None:
    """2 cups with 20 g protein, 10 g fat, 30 g carbohydrate: 140, 170 and 210 of 520 kcal."""
    item = DietItem(
        name="Dry", amount=2, kcal_per_unit=260, protein_g=20, fat_g=10, carbohydrate_g=30
    )
    found = present_intake(facts.catalogue.modified_atwater, [item])
    assert found.kcal == 520
    assert found.shares is not None
    assert found.shares.fat == pytest.approx(170 / 520)
    assert found.shares.protein == pytest.approx(140 / 520)
    unknown = DietItem(name="Chew", amount=1)
    partly = present_intake(facts.catalogue.modified_atwater, [item, unknown])
    assert (partly.kcal, partly.unknown_items) == (520, 1)
    no_fat = DietItem(name="Rice", amount=1, kcal_per_unit=100, protein_g=2, carbohydrate_g=20)
    assert present_intake(facts.catalogue.modified_atwater, [item, no_fat]).shares is None
