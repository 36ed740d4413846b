"""The library as a consultant uses it."""

import re
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect
from steps import go_in, new_case, open_dog


def to_library(page: Page) -> None:
    go_in(page, "Library")
    expect(page.get_by_text("plain whole foods and supplements only")).to_be_visible()


def test_find_open_and_see_where_a_value_comes_from(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    to_library(page)
    page.get_by_label("Find a food").fill("courgette")
    page.get_by_role("button", name="Courgette, raw").click()
    profile = page.get_by_role("region", name="Profile")
    expect(profile.get_by_role("heading", name="Courgette, raw")).to_be_visible()
    profile.get_by_role("button", name="source of Taurine").click()
    expect(profile).to_contain_text("Not detected in land plants: true zero")
    assert axe(page) == []


def test_compare_foods(signed_in: Page) -> None:
    page = signed_in
    to_library(page)
    for text, name in (("mussel", "Mussel, blue, raw"), ("oyster", "Oyster, eastern, wild, raw")):
        page.get_by_label("Find a food").fill(text)
        page.get_by_label(f"Compare {name}").check()
    page.get_by_role("button", name="Compare 2").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("row", name="Zinc")).to_be_visible()
    dialog.get_by_role("radio", name="100 g").click()
    expect(dialog.get_by_role("row", name="Zinc")).to_contain_text("39.30")
    page.keyboard.press("Escape")
    # Beside a dog its gaps come first, and what is asked is a line.
    page.get_by_label("Beside a dog’s gaps").click()
    page.get_by_role("option", name=re.compile("^For Juniper")).first.click()
    page.get_by_role("button", name="Compare 2").click()
    expect(dialog).to_contain_text("Gaps of Juniper first")
    expect(dialog.get_by_role("row").nth(1)).to_contain_text(", a gap")


def test_foods_for_the_gaps_of_a_dog(signed_in: Page, axe: Callable[[Page], list[str]]) -> None:
    """Chicken and rice alone: what closes the most gaps stands first, and goes into the recipe."""
    page = signed_in
    go_in(page, "Cases")
    new_case(page, "Yarrow", "12 kg")
    for food in ("300 g chicken thigh", "200 g white rice cooked"):
        page.get_by_label("Add an ingredient").fill(food)
        page.get_by_role("listbox").get_by_role("option").first.wait_for()
        page.keyboard.press("Enter")
    expect(page.get_by_label(re.compile("^Amount of "))).to_have_count(2)
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    page.get_by_role("button", name="First draft").click()
    page.get_by_role("menuitem", name="Foods for its gaps").click()
    expect(page.get_by_label("Beside a dog’s gaps")).to_have_text(re.compile("For Yarrow"))
    foods = page.get_by_role("region", name="Foods")
    expect(foods.get_by_role("status")).to_contain_text("what closes most of Yarrow’s gaps first")
    first = foods.get_by_role("button", name=re.compile("helps with "))
    expect(first.first).to_be_visible()
    assert axe(page) == []
    beside = page.get_by_role("region", name="Beside what Yarrow needs")
    page.get_by_label("Find a food").fill("mussel")
    foods.get_by_role("button", name=re.compile("^Mussel, blue, raw")).click()
    # Raw it destroys thiamine: dense as it is, it is not offered.
    expect(beside).to_contain_text("Not for Yarrow: raw it destroys thiamine")
    expect(beside.get_by_role("button", name="Put it into the recipe")).to_have_count(0)
    page.get_by_label("Find a food").fill("egg yolk")
    foods.get_by_role("button", name=re.compile("^Egg yolk, raw")).click()
    expect(beside.get_by_role("row", name="Choline")).to_contain_text("×")
    assert axe(page) == []
    beside.get_by_role("button", name="Put it into the recipe").click()
    expect(page.get_by_label(re.compile("^Amount of Egg yolk"))).to_have_value("100 g")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label(re.compile("^Amount of "))).to_have_count(2)


def test_own_food_from_a_label_goes_into_a_recipe(signed_in: Page) -> None:
    page = signed_in
    to_library(page)
    page.get_by_role("button", name="Own food").click()
    page.get_by_label("Name").fill("Harbour dry food")
    for label, value in (
        ("Protein, at least, %", "26"),
        ("Fat, at least, %", "16"),
        ("Fibre, at most, %", "4"),
        ("Moisture, at most, %", "10"),
        ("Ash, on average, %", "8"),
    ):
        page.get_by_label(label).fill(value)
    meaning = page.get_by_role("region", name="What it means")
    expect(meaning).to_contain_text("3530 kcal/kg")
    # 16 g of 353 kcal, and by twice the usual margin 18 g.
    expect(meaning).to_contain_text("45 to 51 g")
    page.get_by_label("What the figure of fat is").click()
    page.get_by_role("option", name="on average").click()
    expect(meaning).not_to_contain_text("45 to 51 g")
    expect(page.get_by_label("Fat, on average, %")).to_have_value("16")
    page.get_by_label("Ingredient statement").fill("Herring meal, oats")
    page.get_by_role("button", name="Save").first.click()
    profile = page.get_by_role("region", name="Profile")
    expect(profile).to_contain_text("Source: fish, oats")
    go_in(page, "Cases")
    open_dog(page, "Clover")
    page.get_by_label("Add an ingredient").fill("20 g harbour")
    page.get_by_role("option", name="Harbour dry food").wait_for()
    page.keyboard.press("Enter")
    expect(page.get_by_label("Amount of Harbour dry food")).to_have_value("20 g")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label("Amount of Harbour dry food")).to_have_count(0)


SHEET = """Food;Moisture (%);Protein (% DM);Energy (kJ/100 g);Iron, Fe;Vitamin A (IU);Lot;Copper (mg)
Harvest stew;72,0;35,5;500;2,2;900;A1;<0,5
Oat mash;81;12;285;1,2;;A2;n/a
Rabbit hash;70;41;610;lots;120;A3;0,1
"""


def test_a_table_of_other_headings_is_said_column_by_column_and_taken(
    signed_in: Page, axe: Callable[[Page], list[str]], tmp_path: Path
) -> None:
    """35.5 % of the 28 % that is dry: 9.9 g; 500 kJ are 120 kcal."""
    page = signed_in
    path = tmp_path / "sheet.csv"
    path.write_text(SHEET)
    to_library(page)
    page.get_by_role("link", name="Bring in a table").click()
    page.get_by_label("Bring in a CSV or JSON file").set_input_files(path)
    becomes = page.get_by_role("region", name="What it becomes")
    expect(becomes.get_by_role("row", name="Harvest stew 120 9.9 unknown 72.0")).to_be_visible()
    expect(becomes).to_contain_text("'lots' is not a number")
    expect(becomes).to_contain_text("only a bound or a trace, taken as unknown")
    assert axe(page) == []
    take = page.get_by_role("button", name="Skip the bad rows and take 2 foods")
    expect(take).to_be_disabled()
    expect(page.get_by_text("3 columns have to be said first.")).to_be_visible()
    page.get_by_role("button", name="That is it: Iron, Fe").click()
    page.get_by_role("button", name="Leave it out: Lot").click()
    # With its carotene it is no retinol: left out by a person.
    page.get_by_label("What “Vitamin A (IU)” holds").click()
    page.get_by_role("option", name="left out").click()
    take.click()
    expect(page.get_by_text("2 foods in the library now.")).to_be_visible()
    page.get_by_role("link", name="See them there").click()
    page.get_by_label("Find a food").fill("harvest")
    page.get_by_role("button", name="Harvest stew").click()
    expect(page.get_by_role("region", name="Profile")).to_contain_text("9.9 g")


def test_cells_are_pasted_and_what_is_no_table_says_what_to_do(signed_in: Page, demo: str) -> None:
    page = signed_in
    page.goto(f"{demo}/library/import")
    page.get_by_role("heading", name="Bring in a table of foods").wait_for()
    paste = """text => {
      const held = new DataTransfer();
      held.setData("text/plain", text);
      document.dispatchEvent(new ClipboardEvent("paste", { clipboardData: held, bubbles: true }));
    }"""
    page.evaluate(paste, "PK\u0003\u0004")
    expect(page.get_by_role("alert")).to_contain_text("save the sheet as CSV")
    page.get_by_role("button", name="Another table").click()
    page.evaluate(paste, "Food\tkcal\nMorning mash\t90")
    page.get_by_role("button", name="Take 1 food").wait_for()
    page.get_by_role("radio", name="1 kg").click()
    expect(page.get_by_role("row", name="Morning mash 9 unknown")).to_be_visible()


def test_kelp_asks_for_its_label_at_the_bench(signed_in: Page) -> None:
    page = signed_in
    open_dog(page, "Juniper")
    page.get_by_label("Add an ingredient").fill("0.2 g kelp powder")
    page.get_by_role("listbox").get_by_role("option", name="Kelp powder").first.wait_for()
    page.keyboard.press("Enter")
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("Read it from the pack")
    dialog.get_by_label("Iodine, µg per g").fill("650")
    dialog.get_by_role("button", name="Add").click()
    expect(page.get_by_label("Amount of Kelp powder")).to_have_value("0.2 g")
    page.get_by_role("button", name="Undo").click()


def test_cooking_on_a_line_changes_the_wall(signed_in: Page) -> None:
    page = signed_in
    open_dog(page, "Bramble")
    fat = page.get_by_role("button", name="Fat: ")
    expect(fat).to_contain_text("", use_inner_text=True)
    before = fat.get_attribute("aria-label")
    page.get_by_label("How Beef, ground 80/20, raw is fed").select_option("crumbles-rinsed")
    expect(page.get_by_text("→ 182")).to_be_visible()
    assert fat.get_attribute("aria-label") != before
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("→ 182")).to_have_count(0)


def test_the_text_of_a_bag_fills_the_form(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    to_library(page)
    page.get_by_role("button", name="Own food").click()
    page.get_by_label("Text of the bag").fill(
        "Guaranteed analysis: crude protein (min) 26 %, crude fat (min) 15 %, crude fibre (max) 4 %, "
        "moisture (max) 10 %, selenium 0.3 mg/kg. 3 650 kcal/kg. Ingredients: lamb meal, barley."
    )
    page.get_by_role("button", name="Read it into the panel").click()
    protein = page.get_by_label("Protein, at least, %")
    expect(protein).to_have_value("26")
    expect(page.get_by_label("kcal per kg")).to_have_value("3650")
    expect(page.get_by_label("Ingredient statement")).to_have_value("lamb meal, barley")
    expect(page.get_by_label("What was read")).to_contain_text("selenium 0.3 mg/kg")
    assert axe(page) == []
    page.get_by_role("textbox", name="Name").fill("Lamb and barley, dry")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text("Lamb and barley, dry").first).to_be_visible()
