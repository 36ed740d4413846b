"""The shelf as a practice fills it."""

from collections.abc import Callable

from playwright.sync_api import Page, expect
from steps import go_in, open_dog


def test_a_label_is_entered_by_keys_and_asked_about(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    go_in(page, "Shelf")
    page.get_by_role("button", name="Enter a label").press("Enter")
    page.get_by_label("Name", exact=True).fill("Harbour zinc")
    lines = page.get_by_label("What it holds, a nutrient a line")
    lines.fill("Zinc gluconate 50 mg\nKelp 20 mg")
    read = page.get_by_role("region", name="As it is read")
    expect(read).to_contain_text("Is 50 mg the zinc gluconate or the zinc?")
    expect(read).to_contain_text("Kelp 20 mg: not a name that is known here")
    # Nothing is put on while something is open, and what was typed stands.
    page.get_by_role("radio", name="nothing that counts").press("Enter")
    page.get_by_role("button", name="Put it on the shelf").press("Enter")
    expect(page.get_by_text("say what is meant by “Zinc gluconate 50 mg”").first).to_be_visible()
    read.get_by_role("button", name="the zinc: 50 mg").press("Enter")
    read.get_by_role("button", name="holds nothing that counts").press("Enter")
    expect(read).to_contain_text("In one tablet: Zinc 50.0 mg")
    assert axe(page) == []
    page.get_by_role("button", name="Put it on the shelf").press("Enter")
    shelf = page.get_by_role("region", name="On the shelf")
    expect(shelf).to_contain_text("In a tablet: Zinc 50.0 mg")
    # It is found by its name and written by the piece.
    go_in(page, "Cases")
    open_dog(page, "Clover")
    page.get_by_label("Add an ingredient").fill("harbour zinc")
    page.get_by_role("option", name="Harbour zinc").wait_for()
    page.keyboard.press("Enter")
    expect(page.get_by_label("Amount of Harbour zinc")).to_have_value("1/2 tablet")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label("Amount of Harbour zinc")).to_have_count(0)
    # Taken off, and put back by the note's own button.
    go_in(page, "Shelf")
    page.get_by_role("button", name="Take off: Harbour zinc").press("Enter")
    expect(page.get_by_role("button", name="Put back: Harbour zinc")).to_be_visible()
    page.get_by_role("button", name="Undo").press("Enter")
    page.get_by_role("button", name="Take off: Harbour zinc").press("Enter")
    expect(page.get_by_role("button", name="Put back: Harbour zinc")).to_be_visible()
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")


def test_a_label_half_typed_is_there_after_a_reload(signed_in: Page) -> None:
    page = signed_in
    go_in(page, "Shelf")
    page.get_by_role("button", name="Enter a label").click()
    page.get_by_label("Name", exact=True).fill("Half typed")
    page.reload()
    page.get_by_role("button", name="Enter a label").click()
    expect(page.get_by_label("Name", exact=True)).to_have_value("Half typed")
    page.get_by_role("button", name="Cancel").click()
