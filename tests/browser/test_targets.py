"""Conditions, conflicts and energy as a consultant meets them."""

from collections.abc import Callable

from playwright.sync_api import Page, expect


def test_a_conflict_is_shown_decided_and_printed(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    page.get_by_role("link", name="Sorrel").click()
    page.get_by_role("link", name="Targets").click()
    conflicts = page.get_by_role("region", name="Conflicts")
    expect(conflicts).to_contain_text("No recipe can do both")
    assert axe(page) == []
    conflicts.get_by_text("The floor gives way").click()
    conflicts.get_by_label("Decided by").fill("Dr Elm")
    conflicts.get_by_label("Reason").fill("chelation started")
    conflicts.get_by_role("button", name="Decide").click()
    expect(conflicts).to_contain_text("Decided by Dr Elm: chelation started")
    page.get_by_role("link", name="Chicken, cheese and rice").click()
    page.get_by_role("link", name="Print").click()
    expect(page.get_by_text("For the vet to sign off")).to_be_visible()
    expect(page.get_by_text("Decided by Dr Elm")).to_be_visible()


def test_adding_a_condition_tightens_the_wall(signed_in: Page) -> None:
    page = signed_in
    page.get_by_role("link", name="Clover").click()
    page.get_by_role("link", name="Targets").click()
    page.get_by_role("combobox", name="Add a condition").click()
    page.get_by_role("option", name="Osteoarthritis").click()
    expect(page.get_by_role("heading", name="Osteoarthritis, chronic")).to_be_visible()
    page.get_by_role("button", name="Remove").last.click()
    expect(page.get_by_role("heading", name="Osteoarthritis, chronic")).to_have_count(0)


def test_methods_side_by_side_and_volume_rule(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    page.get_by_role("link", name="Sorrel").click()
    page.get_by_role("link", name="Energy").click()
    expect(page.get_by_text("At condition 8/9: 9.2 kg")).to_be_visible()
    page.get_by_role("button", name="Use Weight-loss start, Weight").click()
    expect(page.get_by_label("kcal a day")).to_have_value("371")
    page.get_by_role("button", name="What does it give?").click()
    expect(page.get_by_text("of the target.")).to_be_visible()
    assert axe(page) == []
