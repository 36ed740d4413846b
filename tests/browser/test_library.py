"""The library as a consultant uses it."""

from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect
from steps import open_dog


def to_library(page: Page) -> None:
    page.get_by_role("link", name="Library").click()
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
        ("Ash, %", "8"),
    ):
        page.get_by_label(label).fill(value)
    expect(page.get_by_role("dialog")).to_contain_text("3530 kcal/kg")
    page.get_by_label("Ingredient statement").fill("Herring meal, oats")
    page.get_by_role("button", name="Save").first.click()
    profile = page.get_by_role("region", name="Profile")
    expect(profile).to_contain_text("Source: fish, oats")
    page.get_by_role("link", name="Cases").click()
    open_dog(page, "Clover")
    page.get_by_label("Add an ingredient").fill("20 g harbour")
    page.get_by_role("option", name="Harbour dry food").wait_for()
    page.keyboard.press("Enter")
    expect(page.get_by_label("Amount of Harbour dry food")).to_have_value("20 g")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label("Amount of Harbour dry food")).to_have_count(0)


def test_import_shows_the_bad_rows(signed_in: Page, tmp_path: Path) -> None:
    page = signed_in
    path = tmp_path / "foods.csv"
    path.write_text("slug,name,ENERC,CA\nstew-a,Stew A,100,5\nstew-b,Stew B,much,5\n")
    to_library(page)
    page.get_by_role("button", name="Import, export").click()
    page.get_by_label("Import a CSV or JSON file").set_input_files(path)
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("row", name="3 ENERC 'much' is not a number")).to_be_visible()
    dialog.get_by_role("button", name="Skip the bad rows and import 1").click()
    expect(dialog).to_contain_text("1 foods imported")


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
    page.get_by_role("button", name="Read it into the form").click()
    protein = page.get_by_label("Protein, at least, %")
    expect(protein).to_have_value("26")
    expect(page.get_by_label("kcal per kg")).to_have_value("3650")
    expect(page.get_by_label("Ingredient statement")).to_have_value("lamb meal, barley")
    expect(page.get_by_label("What was read")).to_contain_text("selenium 0.3 mg/kg")
    assert axe(page) == []
    page.get_by_role("radio", name="As it usually is").click()
    expect(protein).to_have_value("27.5")
    page.get_by_role("textbox", name="Name").fill("Lamb and barley, dry")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text("Lamb and barley, dry").first).to_be_visible()
