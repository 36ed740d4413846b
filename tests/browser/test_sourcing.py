"""What the owner can get, asked by keyboard, and what is bought, in the real interface."""

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect
from steps import add_line, new_case


def write(page: Page, *amounts: str) -> None:
    for amount in amounts:
        add_line(page, amount)
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")


def test_an_owner_is_asked_by_keys_and_the_list_is_printed(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    new_case(page, "Toadflax", "14 kg")
    expect(page.get_by_role("button", name="Buy")).to_be_disabled()
    write(page, "500 g chicken breast raw", "3 large eggs", "700 g white rice cooked")
    page.get_by_role("button", name="Buy").click()
    buying = page.get_by_role("dialog")
    expect(buying).to_contain_text("3 not asked yet")
    expect(buying.get_by_role("row", name=re.compile("^Rice, white.*raw"))).to_contain_text("250 g")
    expect(buying.get_by_role("row", name=re.compile("^Egg"))).to_contain_text("3 large")
    assert axe(page) == []
    # One key a food, and the focus goes on to the next.
    buying.get_by_role("radio", name="can get", exact=True).first.focus()
    page.keyboard.press("g")
    expect(buying).to_contain_text("2 not asked yet")
    page.keyboard.press("o")
    expect(buying).to_contain_text("To be ordered")
    days = buying.get_by_label(re.compile("^Days before"))
    days.fill("3")
    days.press("Enter")
    expect(buying).to_contain_text("at least 3 days before cooking")
    rice = buying.get_by_role("row", name=re.compile("^Rice"))
    rice.get_by_role("radio", name="cannot get").click()
    expect(buying).to_contain_text("Cannot be had or used")
    # Another number of days is another list.
    buying.get_by_label("Days to buy for").fill("2")
    expect(rice).to_contain_text("500 g")
    with page.expect_popup() as opened:
        buying.get_by_role("link", name="Print the list").click()
    expect(opened.value.get_by_role("heading", name="Toadflax: shop list")).to_be_visible()
    opened.value.close()
    rice.get_by_role("button", name="Replace").click()
    expect(page.get_by_role("dialog", name=re.compile("Replace"))).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_text("owner cannot get it")).to_be_visible()


def test_the_rest_is_noted_at_once_and_taken_back(signed_in: Page) -> None:
    page = signed_in
    new_case(page, "Eyebright", "9 kg")
    write(page, "300 g turkey breast", "200 g carrot raw")
    page.locator("[data-board]").first.focus()
    page.keyboard.press("s")
    buying = page.get_by_role("dialog")
    buying.get_by_role("button", name="Ask the owner").click()
    message = page.get_by_label("The message")
    expect(message).to_have_value(re.compile("Eyebright’s recipe.*Carrot, raw", re.S))
    page.get_by_role("button", name="Close").first.click()
    buying.get_by_role("button", name="The rest can be had").click()
    expect(buying).to_contain_text("Everything can be had")
    buying.get_by_role("button", name="Take the rest back").click()
    expect(buying).to_contain_text("2 not asked yet")
