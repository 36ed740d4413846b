"""Units, dates and names as a practice or a client has them, on the real pages."""

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect
from steps import go_in, new_case


def choose(page: Page, box: str, option: str) -> None:
    page.get_by_role("combobox", name=box).click()
    page.get_by_role("option", name=option).click()


def test_a_practice_in_the_united_states_starts_in_pounds(
    page: Page, fresh: str, axe: Callable[[Page], list[str]]
) -> None:
    page.goto(fresh)
    page.get_by_label("Practice").fill("New Practice")
    page.get_by_label("Your name for signing in").fill("consultant")
    choose(page, "Where you work", "United States")
    page.get_by_label("Password").fill("oak-linen-rail-7")
    page.get_by_role("button", name="Start").click()
    page.get_by_text(re.compile("^Dogs in lb, food in .*, US cups")).wait_for()
    page.get_by_role("button", name="Begin with a dog of yours").click()
    page.get_by_label("Dog", exact=True).fill("Fen")
    page.get_by_label("Owner").fill("Ida Marsh")
    page.get_by_label("Weight, lb").fill("18")
    page.get_by_role("button", name="Create").click()
    expect(page.get_by_text("18.0 lb", exact=True)).to_be_visible()
    weight = page.get_by_label("Weight, lb", exact=True)
    expect(weight).to_have_value("18")
    weight.fill("20 1/2")
    page.get_by_label("Born (age follows)").fill("3 Dec 2020")
    page.get_by_label("Housing").click()
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    expect(page.get_by_text("20.5 lb", exact=True)).to_be_visible()
    expect(page.get_by_label("Born (age follows)")).to_have_value("Dec 3, 2020")
    go_in(page, "Practice")
    assert axe(page) == []
    choose(page, "A dog's weight", "kilograms")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    go_in(page, "Cases")
    # 20.5 lb are 9.2986 kg.
    expect(page.get_by_role("cell", name="9.3 kg")).to_be_visible()


def test_a_client_is_written_to_in_her_own_units(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    new_case(page, "Vetch", "10 kg")
    page.get_by_label("Add an ingredient").fill("120 g chicken thigh roasted")
    page.get_by_role("listbox").get_by_role("option").first.wait_for()
    page.keyboard.press("Enter")
    page.get_by_role("link", name="Owner").click()
    assert axe(page) == []
    choose(page, "A dog's weight", "pounds")
    choose(page, "Food is weighed in", "ounces")
    choose(page, "Names", "American")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    expect(page.get_by_text("22.0 lb")).to_be_visible()
    page.get_by_role("link", name="First draft").click()
    # 120 g are 4.23 oz.
    expect(page.get_by_role("cell", name="4.2 oz", exact=True).first).to_be_visible()
    page.get_by_label("Add an ingredient").fill("30 rice white cooked")
    page.get_by_role("listbox").get_by_role("option").first.wait_for()
    page.keyboard.press("Enter")
    page.get_by_role("button", name="30 oz, 850 g").click()
    expect(page.get_by_role("cell", name="1 lb 14.0 oz").first).to_be_visible()
    page.get_by_role("radio", name="Balance").click()
    expect(page.get_by_text("Fiber in dry matter")).to_be_visible()
    # Everyone else's pages stay as they were.
    go_in(page, "Cases")
    expect(page.get_by_role("cell", name="10.0 kg").first).to_be_visible()


def test_an_owner_of_a_known_name_is_asked_about(signed_in: Page) -> None:
    page = signed_in
    page.get_by_role("button", name="New case").click()
    page.get_by_label("Dog", exact=True).fill("Sorrel the second")
    page.get_by_label("Owner").fill("maren holt")
    page.get_by_label("Weight, kg").fill("4")
    page.get_by_label("the same, with Juniper").check()
    page.get_by_role("button", name="Create").click()
    page.get_by_role("link", name="Maren Holt").click()
    # The first list of a client is that of her dogs.
    dogs = page.get_by_role("list").filter(has_text="Juniper").first
    expect(dogs).to_contain_text("Sorrel the second")
