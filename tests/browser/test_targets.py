"""Conditions, conflicts and energy as a consultant meets them."""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect
from steps import go_in, go_to, new_case, open_dog


def test_a_conflict_is_shown_decided_and_printed(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    open_dog(page, "Sorrel")
    go_to(page, "Targets")
    # What has to be decided is open beside the rail, and its two ends are drawn crossed.
    row = page.get_by_role(
        "button", name=re.compile("^Copper: least .*two limits cannot both hold")
    )
    expect(row).to_have_attribute("aria-pressed", "true")
    conflicts = page.get_by_role("region", name="Conflict")
    expect(conflicts).to_contain_text("No recipe can do both")
    assert axe(page) == []
    conflicts.get_by_text("The floor gives way").click()
    conflicts.get_by_label("Decided by").fill("Dr Elm")
    conflicts.get_by_label("Reason").fill("chelation started")
    conflicts.get_by_role("button", name="Decide").click()
    expect(conflicts).to_contain_text("Decided by Dr Elm: chelation started")
    page.get_by_role("link", name="Chicken, cheese and rice").click()
    expect(page.get_by_text("Saved", exact=True)).to_be_visible()
    with page.expect_popup() as opened:
        page.get_by_role("link", name="Sheet", exact=True).click()
    expect(opened.value.get_by_role("heading", name="For the vet to sign off")).to_be_visible()
    expect(opened.value.get_by_text("Decided by Dr Elm")).to_be_visible()


def test_an_end_is_moved_by_keys_with_a_reason_and_a_name(signed_in: Page) -> None:
    """Chosen with the arrows, drawn while it is typed, and nothing kept before it is said who decides and why."""
    page = signed_in
    open_dog(page, "Bramble")
    go_to(page, "Targets")
    page.get_by_role("button", name=re.compile("^Protein: ")).focus()
    page.keyboard.press("ArrowDown")
    fat = page.get_by_role("button", name=re.compile("^Fat: "))
    expect(fat).to_be_focused()
    was = fat.locator(".sr-only").inner_text()
    page.keyboard.press("]")
    box = page.get_by_label("New bound of Fat per 1000 kcal")
    expect(box).to_be_focused()
    before = float(box.input_value())
    # One in a hundred down, and ten.
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Shift+ArrowDown")
    assert float(box.input_value()) == pytest.approx(before * 0.99 * 0.9, rel=1e-3)
    page.keyboard.press("Enter")
    expect(fat).to_contain_text(was)
    page.get_by_label("Who decides on Fat").fill("Dr Elm")
    page.get_by_label("Reason for Fat").fill("lower by a tenth until the recheck")
    page.keyboard.press("Enter")
    ends = page.get_by_role("region", name="Move an end")
    expect(ends).to_contain_text("Decided by Dr Elm: lower by a tenth until the recheck")
    expect(fat).not_to_contain_text(was)
    ends.get_by_role("button", name="Take back").click()
    expect(fat).to_contain_text(was)
    expect(ends).not_to_contain_text("Dr Elm")


def test_adding_a_condition_tightens_the_wall(signed_in: Page) -> None:
    page = signed_in
    open_dog(page, "Clover")
    go_to(page, "Targets")
    page.get_by_role("combobox", name="Add a condition").click()
    page.get_by_role("option", name="Osteoarthritis").click()
    expect(page.get_by_role("heading", name="Osteoarthritis, chronic")).to_be_visible()
    page.get_by_role("button", name="Remove").last.click()
    expect(page.get_by_role("heading", name="Osteoarthritis, chronic")).to_have_count(0)


def test_methods_side_by_side_and_volume_rule(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    open_dog(page, "Sorrel")
    go_to(page, "Energy")
    expect(page.get_by_text("At condition 8/9: 9.2 kg")).to_be_visible()
    page.get_by_role("button", name="Use Weight-loss start, Weight").click()
    expect(page.get_by_label("kcal a day")).to_have_value("371")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    page.get_by_role("button", name="What does it give?").click()
    expect(page.get_by_text("of the target.")).to_be_visible()
    assert axe(page) == []


def test_intake_saves_as_it_goes_and_a_red_flag_stops_the_case(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    new_case(page, "Linden", "12", bench=False)
    around = page.get_by_role("region", name="What is known of the dog")
    waist = around.locator("[data-station=weight]")
    expect(waist).to_contain_text("body condition, open")
    page.get_by_label("8 of 9").check(force=True)
    expect(waist).to_contain_text("condition 8 of 9, known")
    expect(waist).not_to_contain_text("open")
    assert axe(page) == []
    page.get_by_label("Seen now").fill("repeated vomiting")
    page.get_by_label("Who was told").click()
    expect(page.get_by_role("alert")).to_contain_text("See the vet first")
    page.get_by_text("the vet has cleared the case").click()
    expect(page.get_by_text("See the vet first.")).to_have_count(0)
    page.reload()
    expect(page.get_by_label("8 of 9")).to_be_checked()


def test_a_standard_is_read_off_its_print_by_keys(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    go_in(page, "Standards")
    # FEDIAF 2021 at 95 kcal/kg^0.75 asks the most calcium, 1.45 g; no standard lets there be over 6.25 g.
    calcium = re.compile("^Calcium: least 1.?450, most 6.?250 mg per 1000 kcal over . columns")
    expect(page.get_by_role("button", name=calcium)).to_be_visible()
    nrc = page.get_by_role("listitem").filter(has_text="NRC 2006")
    nrc.get_by_role("button", name=re.compile("^Begin")).click()
    least = page.get_by_label("Printed least")
    expect(least).to_be_focused()
    # What was read otherwise is not signed; it can be copied with what was read.
    page.keyboard.type("26")
    page.keyboard.press("Tab")
    page.keyboard.type("20")
    page.keyboard.press("Enter")
    slips = page.get_by_role("region", name="Protein, as printed")
    expect(slips.get_by_text("Here stands 25 g, and you read 26 g")).to_be_visible()
    expect(slips.get_by_role("button", name="Copy NRC 2006 with what I read")).to_be_visible()
    least.fill("25")
    page.keyboard.press("Enter")
    # The next row of the same table is asked for at once.
    expect(page.get_by_role("region", name="Fat, as printed")).to_be_visible()
    expect(least).to_be_focused()
    expect(least).to_have_value("")
    expect(nrc).to_contain_text("1 of 41 rows read off")
    assert axe(page) == []
    page.get_by_role("button", name=re.compile("^Protein: ")).click()
    expect(slips).to_contain_text("Read off by demo on")
    page.reload()
    expect(slips).to_contain_text("Read off by demo on")
    slips.get_by_role("button", name="Take it back").click()
    expect(nrc).to_contain_text("none of 41 rows read off")


def test_standards_are_compared_and_copied(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    go_in(page, "Standards")
    page.get_by_role("button", name="As a table, own copies").click()
    # Sodium is printed 200 mg by one and 0.20 g by the other: 200 mg on one basis.
    expect(page.get_by_role("row", name="Sodium NA 200 75")).to_contain_text("200")
    page.get_by_label("Copy to edit, named").fill("House rules")
    page.get_by_role("button", name="Copy").click()
    page.get_by_label("min of ZN").fill("18")
    page.get_by_label("min of CU").click()
    expect(page.get_by_label("min of ZN")).to_have_value("18")
    assert axe(page) == []


def test_a_second_standard_on_the_wall(signed_in: Page) -> None:
    page = signed_in
    open_dog(page, "Juniper")
    page.get_by_role("button", name=re.compile("^Looked at by")).click()
    page.get_by_role("combobox", name="Second standard on the wall").click()
    page.get_by_role("option", name="AAFCO 2016, Adult maintenance").click()
    page.keyboard.press("Escape")
    expect(page.locator("[data-second]").first).to_be_visible()
    expect(page.get_by_role("button", name="Zinc: ")).to_have_attribute(
        "aria-label", re.compile("by AAFCO 2016")
    )


def test_the_method_of_food_energy_moves_every_figure(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    """4/9/4 unless said otherwise; the table's factors give more, and the bench says what the others say."""
    page = signed_in
    open_dog(page, "Clover")
    go_to(page, "Energy")
    chosen = page.get_by_role("combobox", name="Energy of food")
    expect(chosen).to_contain_text("4/9/4 with available carbohydrate")
    chosen.click()
    page.get_by_role("option", name="Table factors").click()
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    page.locator('a[href*="/recipes/"]').first.click()
    page.get_by_text("Balance", exact=True).first.click()
    energy = page.get_by_role("region", name="Energy of the food")
    expect(energy).to_contain_text("Table factors")
    expect(energy.get_by_role("row").filter(has_text="4/9/4")).to_contain_text("−")
    assert axe(page) == []
    go_to(page, "Energy")
    chosen.click()
    page.get_by_role("option", name="4/9/4").click()
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")


def test_how_sure_the_numbers_are_is_shown(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    go_in(page, "How sure")
    expect(page.get_by_role("heading", name="How sure are we")).to_be_visible()
    expect(page.get_by_text(re.compile(r"No food breaks any of the \d+ checks"))).to_be_visible()
    checks = page.get_by_role("region", name="Checks")
    expect(checks.get_by_role("row")).not_to_have_count(0)
    expect(checks).not_to_contain_text("usda:")
    assert axe(page) == []
