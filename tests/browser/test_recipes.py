"""Several recipes of a case: started, named, copied, put away and taken back."""

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect


def test_recipes_are_named_copied_put_away_and_taken_back(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    page.get_by_role("button", name="New case").click()
    page.get_by_label("Dog", exact=True).fill("Hawthorn")
    page.get_by_label("Owner").fill("Test Owner")
    page.get_by_label("Weight", exact=True).fill("14 kg")
    page.get_by_role("button", name="Create").click()
    page.get_by_label("Add an ingredient").fill("100 g beef liver raw")
    page.get_by_role("listbox").get_by_role("option").first.wait_for()
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    expect(page).to_have_title("First draft, Hawthorn – Wainscot")

    menu = page.get_by_role("button", name=re.compile("^Recipe “"))
    menu.click()
    assert axe(page) == []
    page.get_by_role("menuitem", name="Rename").click()
    page.get_by_role("textbox", name="Name").fill("With liver")
    page.keyboard.press("Enter")
    expect(page.get_by_role("link", name="With liver")).to_be_visible()
    expect(page).to_have_title("With liver, Hawthorn – Wainscot")

    menu.click()
    page.get_by_role("menuitem", name="Duplicate").click()
    expect(page.get_by_role("link", name="With liver, copy")).to_be_visible()
    expect(page.get_by_label("Amount of Beef liver, raw")).to_have_value("100 g")

    menu.click()
    page.get_by_role("menuitem", name="Put away").click()
    expect(page.get_by_role("link", name="With liver, copy")).to_have_count(0)
    page.get_by_text("1 put away").click()
    page.get_by_role("button", name="Take “With liver, copy” back").click()
    expect(page).to_have_title("With liver, copy, Hawthorn – Wainscot")

    page.get_by_role("button", name="+ New recipe").click()
    expect(page).to_have_title("Draft 1, Hawthorn – Wainscot")
    expect(page.get_by_text("The wall fills as the recipe does")).to_be_visible()
