"""The view that asks whether a recipe survives a kitchen."""

import re

from playwright.sync_api import Page, expect
from steps import add_line, new_case


def test_how_surely_it_holds_and_what_it_cannot_live_without(signed_in: Page) -> None:
    page = signed_in
    new_case(page, "Simmer", "12")
    add_line(page, "300 g chicken thigh")
    add_line(page, "1 tbsp olive oil")
    page.get_by_role("radio", name="In a kitchen").click()
    tops = page.get_by_role("region", name="Tops of ten thousand batches")
    boards = tops.get_by_role("button")
    expect(boards.first).to_be_visible()
    sure = page.get_by_role("region", name="How surely it holds")
    protein = tops.get_by_role("button", name=re.compile("^Protein: holds in "))
    protein.click()
    expect(sure.get_by_role("heading", name="Protein")).to_be_visible()
    expect(sure).to_contain_text("of 100")
    # The arrows walk along the boards, and the board that has the keys is the one that is told of.
    protein.press("ArrowRight")
    focused = page.locator("[data-sawn]:focus")
    expect(focused).to_have_attribute("aria-pressed", "true")
    expect(sure.get_by_role("heading", name="Protein")).to_have_count(0)
    carried = page.get_by_role("region", name="Without it, double it")
    expect(carried).to_contain_text("It cannot live without")
    expect(carried).to_contain_text(re.compile(r"By its tables \d+ limits are broken"))
    carried.get_by_role("button", name="Another of its kind?").first.click()
    expect(
        carried.get_by_text(re.compile(r"^Of \d+ others of its kind \d+ would do"))
    ).to_be_visible()
    # What is changed on the bench is drawn anew.
    expect(tops).to_contain_text("28 batches each")
    page.get_by_label("feeds").fill("7")
    expect(tops).to_contain_text("4 batches each")


def test_a_single_day_of_what_is_stirred_in(signed_in: Page) -> None:
    page = signed_in
    new_case(page, "Ladle", "12")
    add_line(page, "300 g chicken thigh")
    add_line(page, "1 g calcium carbonate")
    page.get_by_label("feeds").fill("7")
    page.get_by_role("radio", name="In a kitchen").click()
    tops = page.get_by_role("region", name="Tops of ten thousand batches")
    calcium = tops.get_by_role("button", name=re.compile("^Calcium: "))
    calcium.click()
    day = page.get_by_text("a single day, its ceiling")
    ways = page.get_by_role("combobox", name="Supplements are")
    expect(ways).to_contain_text("sprinkled in three goes")
    # Onto each portion nothing is uneven, and one can go back.
    ways.click()
    page.get_by_role("option", name="measured onto each portion").click()
    expect(day).to_have_count(0)
    ways.click()
    page.get_by_role("option", name="sprinkled on top and turned over").click()
    expect(ways).to_contain_text("sprinkled on top")
    expect(calcium).to_be_visible()
