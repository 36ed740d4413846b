"""Several recipes of a case: started, named, copied, put away and taken back."""

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect
from steps import new_case, open_dog


def test_recipes_are_named_copied_put_away_and_taken_back(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    new_case(page, "Hawthorn", "14 kg")
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


def test_keys_are_for_the_bench_alone_and_can_be_turned_off(signed_in: Page) -> None:
    page = signed_in
    open_dog(page, "Alder")
    page.locator("[data-board]").first.wait_for()
    # Whoever comes by a link is at the bench; "/" leads there from the steps too.
    expect(page.locator("main")).to_be_focused()
    page.get_by_role("link", name="Plan").focus()
    page.keyboard.press("/")
    expect(page.get_by_label("Add an ingredient")).to_be_focused()
    adjust = page.get_by_role("radio", name="Adjust")
    # A letter typed on a control that takes letters is not a key of the bench.
    page.get_by_role("button", name=re.compile("^Looked at by")).focus()
    page.keyboard.press("a")
    expect(adjust).not_to_be_checked()
    # The first stop leads past the frame to the work.
    page.keyboard.press("Escape")
    skip = page.get_by_role("button", name="Skip to the work")
    skip.focus()
    page.keyboard.press("Enter")
    expect(page.locator("main")).to_be_focused()
    page.keyboard.press("a")
    expect(adjust).to_be_checked()
    page.locator("main").focus()
    page.keyboard.press("?")
    page.get_by_label("Single letters are keys").uncheck()
    page.keyboard.press("Escape")
    expect(page.locator("main")).to_be_focused()
    page.keyboard.press("d")
    expect(adjust).to_be_checked()
