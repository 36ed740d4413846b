"""What is bought for a recipe, and whether it can be had. Water and protein of rows: USDA Standard Reference."""

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.analysis.shopping import (
    Had,
    ShopItem,
    ShopList,
    question_to_owner,
    shop_list,
    sourcing_of,
    sourcing_words,
)
from wainscot_core.bowl.exclusions import rather_not, why_excluded, why_unfit
from wainscot_core.bowl.marks import FoodMark, Mark
from wainscot_core.documents.shopping import ForWhat, shopping_sheet
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.formats.casefile import FORMAT, case_file_data, open_case, record_of
from wainscot_core.formulation.question import default_allowed
from wainscot_core.snapshot.snapshot import Parties

CHICKEN, COOKED_CHICKEN, EGG, KALE = "usda:05062", "usda:05064", "usda:01123", "usda:11233"
RICE, RAW_RICE, WATER, SALMON = "usda:20045", "usda:20044", "der:water", "usda:15084"
CALCIUM = "supp:calcium-carbonate"


def dossier(facts: Reference, lines: dict[str, float], days: float = 7, **more: Any) -> Dossier:
    return open_case(facts, case(lines, days, **more)).dossier


def case(lines: dict[str, float], days: float = 7, **more: Any) -> dict[str, Any]:
    return {
        "format": FORMAT, "version": 1, "dog": {"name": "Hazel", "weight_kg": 12},
        "energy": {"kcal_per_day": 600}, "targets": {"standard": "nrc-2006"},
        "recipe": {
            "covers_days": days, "lines": [{"food": f, "grams": g} for f, g in lines.items()],
        },
        **more,
    }  # fmt: skip


def items(found: ShopList) -> dict[str, ShopItem]:
    return {item.food: item for aisle in found.aisles for item in aisle.items}


def test_a_cooked_row_is_bought_raw_by_what_stays_in_it(facts: Reference) -> None:
    """Rice: 31.56 g of dry matter in 100 g cooked, 88.38 g raw; chicken breast: 31.02 g of protein and 22.50 g."""
    found = items(shop_list(dossier(facts, {RICE: 700, COOKED_CHICKEN: 310}), 14))
    rice, chicken = found[RICE], found[COOKED_CHICKEN]
    assert "raw" in rice.instead and rice.needed_grams == 1400
    assert 1400 * 31.56 / 88.38 <= rice.buy_grams <= 1400 * 31.56 / 88.38 + 10
    assert 620 * 31.02 / 22.50 <= chicken.buy_grams <= 620 * 31.02 / 22.50 + 50


def test_pieces_supplements_and_the_tap(facts: Reference) -> None:
    found = shop_list(dossier(facts, {EGG: 230, CALCIUM: 8.15, WATER: 300, SALMON: 120}), 14)
    of = items(found)
    # 460 g are 9.2 large eggs of 50 g.
    assert (of[EGG].pieces, of[EGG].pieces_sure) == ("10 large", True)
    assert of[CALCIUM].buy_grams == pytest.approx(16.3)
    assert of[WATER].had is Had.TAP and found.unpriced == 3
    assert [aisle.id for aisle in found.aisles] == ["fish", "dairy", "supplements", "rest"]
    assert "drained" in of[SALMON].how


def test_what_is_trimmed_off_is_bought_too(facts: Reference) -> None:
    """A quarter of a kale is stalk, and up to 45 %: 400 g in the pot are 534 g, or 728 g."""
    kale = items(shop_list(dossier(facts, {KALE: 200}), 14))[KALE]
    assert (kale.needed_grams, kale.buy_grams, kale.most_grams) == (400, 540, 730)


@given(grams=st.floats(0.05, 5000), days=st.floats(0.5, 60))
def test_never_less_is_bought_than_is_weighed(facts: Reference, grams: float, days: float) -> None:
    found = items(shop_list(dossier(facts, {CHICKEN: grams, KALE: grams, CALCIUM: grams}), days))
    for item in found.values():
        assert item.needed_grams == pytest.approx(grams * days / 7)
        assert item.needed_grams * (1 - 1e-6) <= item.buy_grams <= item.most_grams


def test_a_food_in_two_lines_is_bought_once(facts: Reference) -> None:
    data = case({CHICKEN: 100})
    data["recipe"]["lines"] += [
        {"food": CHICKEN, "grams": 250, "preparation": "poultry-simmered-kept"}
    ]
    found = items(shop_list(open_case(facts, data).dossier, 7))
    assert found[CHICKEN].needed_grams == 350


def test_a_price_is_of_what_is_bought(facts: Reference) -> None:
    found = shop_list(dossier(facts, {CHICKEN: 500, KALE: 200}, prices_per_kg={KALE: 4.0}), 14)
    assert items(found)[KALE].price == pytest.approx(0.54 * 4)
    assert (found.price, found.unpriced) == (pytest.approx(2.16), 1)


@pytest.mark.parametrize(
    ("prices", "paid"),
    # 700 g of cooked rice; 250 g of raw: 700 x 31.56 / 88.38, rounded up to the next 10 g.
    [({RICE: 2.0}, 1.4), ({RAW_RICE: 2.0}, 0.5), ({RICE: 2.0, RAW_RICE: 4.0}, 1.0)],
)
def test_a_price_of_the_cooked_food_is_of_its_cooked_weight(
    facts: Reference, prices: dict[str, float], paid: float
) -> None:
    found = shop_list(dossier(facts, {RICE: 700}, prices_per_kg=prices), 7)
    assert found.price == pytest.approx(paid)


@pytest.mark.parametrize("days", [0, -1, 367])
def test_days_that_cannot_be_are_refused(facts: Reference, days: float) -> None:
    with pytest.raises(InputError) as caught:
        shop_list(dossier(facts, {CHICKEN: 500}), days)
    assert caught.value.field == "days"


def test_an_empty_recipe_has_no_list(facts: Reference) -> None:
    with pytest.raises(InputError, match="no lines"):
        shop_list(dossier(facts, {}), 7)


SAID = {"sourcing": {CHICKEN: {"had": "can-get"}, KALE: {"had": "special-order", "days": 3}}}


def test_what_the_owner_said_stands_beside_each_food(facts: Reference) -> None:
    found = shop_list(
        dossier(facts, {CHICKEN: 500, KALE: 200, EGG: 50, RICE: 700}, **SAID,
                cannot_use={RAW_RICE: "the owner cannot get it"}), 7,
    )  # fmt: skip
    had = {food: item.had for food, item in items(found).items()}
    # Rice that cannot be had raw cannot be had for the pot.
    assert had == {
        CHICKEN: Had.CAN_GET, KALE: Had.SPECIAL_ORDER, EGG: Had.NOT_ASKED, RICE: Had.CANNOT,
    }  # fmt: skip
    sourcing = found.sourcing
    assert not sourcing.checked and sourcing.days == 3
    assert sourcing_words(sourcing).startswith("Replace what cannot be had: Rice")
    assert items(found)[KALE].why == "the owner has to order it 3 days before"


def test_nothing_is_left_to_do_once_all_was_asked(facts: Reference) -> None:
    asked = dossier(facts, {CHICKEN: 500, WATER: 300, KALE: 100}, **SAID)
    assert sourcing_of(asked).checked and sourcing_words(sourcing_of(asked)) == ""
    unasked = sourcing_of(dossier(facts, {CHICKEN: 500, KALE: 200}))
    assert sourcing_words(unasked).endswith("and 1 more")


def test_what_must_not_be_fed_is_not_bought(facts: Reference) -> None:
    reacts = {"reactions": [{"food": "chicken"}], "sourcing": {CHICKEN: {"had": "can-get"}}}
    found = shop_list(dossier(facts, {CHICKEN: 500, KALE: 200}, **reacts), 7)
    assert "chicken" in items(found)[CHICKEN].against
    assert items(found)[KALE].against == "" and len(found.sourcing.against) == 1
    assert not found.sourcing.checked and found.unpriced == 1
    unsaid = shop_list(dossier(facts, {CHICKEN: 500}, reactions=[{"food": "chicken"}]), 7)
    assert unsaid.sourcing.not_asked == () and len(unsaid.sourcing.against) == 1
    assert sourcing_words(found.sourcing).startswith("Replace what must not be fed: Chicken")
    sheet = shopping_sheet(Parties(practice="P", client="O"), ForWhat("H", "R"), found, "today")
    [table] = [b for s in sheet.sections for b in s.blocks if b.form == "table"]
    assert table.rows[0][2] == "none"


def test_a_poison_and_what_a_condition_never_has_are_not_bought(facts: Reference) -> None:
    onion, cheese = "usda:11282", "usda:01012"
    ill = {"targets": {"standard": "nrc-2006", "conditions": [{"id": "mmvd", "stage": "C"}]}}
    found = items(shop_list(dossier(facts, {CHICKEN: 500, onion: 20, cheese: 50}, **ill), 7))
    assert found[onion].against and found[cheese].against and not found[CHICKEN].against


def test_what_the_owner_will_not_use_is_no_danger(facts: Reference) -> None:
    said = {"cannot_use": {KALE: "the owner will not use it"}}
    found = shop_list(dossier(facts, {CHICKEN: 500, KALE: 200}, **said), 7).sourcing
    assert found.against == () and len(found.missing) == 1


def test_an_order_of_unknown_length_leaves_the_longest_unknown(facts: Reference) -> None:
    said = {CHICKEN: {"had": "special-order"}, KALE: {"had": "special-order", "days": 3}}
    sourcing = sourcing_of(dossier(facts, {CHICKEN: 500, KALE: 200}, sourcing=said))
    assert len(sourcing.ordered) == 2 and sourcing.days is None


def test_what_must_be_ordered_may_be_used_and_is_no_first_choice(facts: Reference) -> None:
    staple = facts.formulation.staples[0]
    plain = dossier(facts, {CHICKEN: 500})
    said = dossier(facts, {CHICKEN: 500}, sourcing={staple: {"had": "special-order"}})
    food = facts.library.food(staple)
    assert why_excluded(food, said.avoid) == "" and "order" in rather_not(food, said.avoid)
    assert staple in default_allowed(plain, "rebalance")
    assert staple not in default_allowed(said, "rebalance")


def test_a_file_holds_what_was_said(facts: Reference) -> None:
    data = case({CHICKEN: 500}, **SAID, cannot_use={EGG: "the owner will not use it"})
    opened = open_case(facts, data)
    again = case_file_data(
        record_of(opened.file),
        "Owner",
        "R",
        7,
        opened.dossier.lines,
        [],
        marks=opened.dossier.marks,
    )
    assert again["cannot_use"] == data["cannot_use"]
    assert again["sourcing"] == {
        CHICKEN: {"had": "can-get", "days": None}, KALE: {"had": "special-order", "days": 3},
    }  # fmt: skip


@pytest.mark.parametrize("said", [{"had": "maybe"}, {"had": "can-get", "days": -1}, {}])
def test_what_is_said_wrongly_is_refused(facts: Reference, said: dict[str, Any]) -> None:
    with pytest.raises(InputError) as caught:
        dossier(facts, {CHICKEN: 500}, sourcing={KALE: said})
    assert caught.value.field.startswith(f"sourcing.{KALE}")


def test_a_mark_says_itself() -> None:
    assert FoodMark(EGG, Mark.SPECIAL_ORDER, days=1).why.endswith("1 day before")
    assert [m for m in Mark if not m.keeps_out] == [Mark.CAN_GET, Mark.SPECIAL_ORDER]


def test_the_list_on_paper_says_first_what_stands_against_it(facts: Reference) -> None:
    found = shop_list(dossier(facts, {CHICKEN: 500, KALE: 200, RICE: 700, EGG: 230}, **SAID), 14)
    what = ForWhat("Hazel", "“Stew”")
    sheet = shopping_sheet(Parties(practice="P", client="Owner"), what, found, "today")
    first = sheet.sections[1]
    assert first.title == "First"
    said = " ".join(f"{w.lead} {w.text}" for w in first.blocks if w.form == "words")
    assert "Not asked yet" in said and "Order 3 days before" in said
    rows = [
        row for s in sheet.sections for b in s.blocks if b.form == "table" for row in b.rows
    ]  # fmt: skip
    assert ("10 large", "460 g") in {row[2:4] for row in rows}
    rice = next(row for row in rows if row[1].startswith("Rice"))
    assert "raw" in rice[1] and rice[4].replace("\u202f", "").startswith("Gives 1400 g cooked")


def test_the_owner_is_asked_by_what_is_bought(facts: Reference) -> None:
    found = items(shop_list(dossier(facts, {RICE: 700, EGG: 50}), 7))
    text = question_to_owner("Ann Reed", "Hazel", list(found.values()))
    assert text.startswith("Hello Ann,") and "Rice, white, long-grain, raw" in text
    assert question_to_owner("", "Hazel", []).startswith("Hello,")


def test_the_dog_is_spoken_of_before_the_shop(facts: Reference) -> None:
    """Cottage cheese, which the owner cannot get, and which heart failure never has."""
    cheese = facts.library.food("usda:01012")
    said = {"cannot_use": {cheese.id: "the owner cannot get it"}}
    ill = {"targets": {"standard": "nrc-2006", "conditions": [{"id": "mmvd", "stage": "C"}]}}
    assert why_unfit(cheese, dossier(facts, {CHICKEN: 500}, **said).avoid).startswith("the owner")
    assert "salt" in why_unfit(cheese, dossier(facts, {CHICKEN: 500}, **said, **ill).avoid)
