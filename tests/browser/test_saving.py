"""Nothing typed is lost: offline, with a slow server, in two tabs, over a reload."""

import re

import pytest
from playwright.sync_api import Page, expect
from steps import go_to, new_case

LIVER = "Amount of Beef liver, raw"


def state(page: Page, words: str) -> None:
    expect(page.get_by_test_id("save-state")).to_have_text(words)


@pytest.fixture
def bench(signed_in: Page) -> Page:
    """A new case with 100 g of liver and 100 g of carrot on its bench."""
    page = signed_in
    new_case(page, "Yew", "12 kg")
    for text in ("100 g beef liver raw", "100 g carrot raw"):
        page.get_by_label("Add an ingredient").fill(text)
        page.get_by_role("listbox").get_by_role("option").first.wait_for()
        page.keyboard.press("Enter")
    expect(page.get_by_label("Amount of Carrot, raw")).to_have_value("100 g")
    state(page, "Saved")
    return page


def other_tab(page: Page) -> Page:
    tab = page.context.new_page()
    tab.goto(page.url)
    tab.get_by_label(LIVER).wait_for()
    return tab


def test_what_is_typed_offline_is_kept_over_a_look_elsewhere_and_sent(bench: Page) -> None:
    page = bench
    go_to(page, "Intake")
    page.get_by_label("Housing").wait_for()
    go_to(page, "First draft")
    page.get_by_label(LIVER).wait_for()
    page.context.set_offline(True)
    page.get_by_label(LIVER).fill("120 g")
    page.get_by_label("Amount of Carrot, raw").fill("80 g")
    state(page, "2 changes kept here, to send")
    expect(page.locator("[data-stale='true']").first).to_be_visible()
    expect(page.get_by_text("for the amounts before: the server cannot be reached")).to_be_visible()
    go_to(page, "Intake")
    page.get_by_label("Housing").fill("indoors")
    page.keyboard.press("Tab")
    state(page, "3 changes kept here, to send")
    go_to(page, "First draft")
    expect(page.get_by_label(LIVER)).to_have_value("120 g")
    page.context.set_offline(False)
    state(page, "Saved")
    expect(page.locator("[data-stale='true']")).to_have_count(0)
    page.reload()
    expect(page.get_by_label(LIVER)).to_have_value("120 g")
    expect(page.get_by_label("Amount of Carrot, raw")).to_have_value("80 g")


def test_a_reload_while_the_server_fails_sends_later(bench: Page) -> None:
    page = bench
    page.route(
        "**/api/recipes/*",
        lambda route: (
            route.fulfill(status=500, json={"error": {"field": "", "message": "It broke."}})
            if route.request.method == "PATCH"
            else route.continue_()
        ),
    )
    page.get_by_label(LIVER).fill("130 g")
    state(page, "1 change kept here, to send")
    # The browser asks before the page goes.
    asked: list[str] = []
    page.once("dialog", lambda dialog: (asked.append(dialog.type), dialog.accept()))
    page.reload()
    assert asked == ["beforeunload"]
    expect(page.get_by_label(LIVER)).to_have_value("130 g")
    page.get_by_role("button", name="Send now").click()
    page.unroute("**/api/recipes/*")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    # Undo outlives the page too.
    page.reload()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label(LIVER)).to_have_value("100 g")
    state(page, "Saved")


def test_one_line_that_cannot_be_read_does_not_stop_the_others(bench: Page) -> None:
    page = bench
    page.get_by_label(LIVER).fill("some")
    page.get_by_label("Amount of Carrot, raw").fill("70 g")
    state(page, "1 change not saved: see where")
    tab = other_tab(page)
    expect(tab.get_by_label("Amount of Carrot, raw")).to_have_value("70 g")
    expect(tab.get_by_label(LIVER)).to_have_value("100 g")


def test_two_tabs_change_other_lines_and_both_stay(bench: Page) -> None:
    page = bench
    tab = other_tab(page)
    tab.get_by_label(LIVER).fill("150 g")
    state(tab, "Saved")
    page.get_by_label("Amount of Carrot, raw").fill("60 g")
    state(page, "Saved")
    # The answer to this page's change brought the other one's.
    expect(page.get_by_label(LIVER)).to_have_value("150 g")
    page.get_by_role("button", name="Remove Carrot, raw").click()
    expect(page.get_by_label(LIVER)).to_be_focused()
    state(page, "Saved")
    tab.get_by_label("Amount of Carrot, raw").fill("55 g")
    row = tab.get_by_role("row", name=re.compile("Carrot, raw"))
    expect(row.get_by_role("button", name=re.compile("Take theirs: nothing"))).to_be_visible()
    row.get_by_role("button", name=re.compile("Keep mine")).click()
    state(tab, "Saved")
    page.reload()
    expect(page.get_by_label("Amount of Carrot, raw")).to_have_value("55 g")


def test_a_slow_server_loses_no_keystroke(bench: Page) -> None:
    page = bench
    # Every answer comes half a second late, whatever is typed meanwhile.
    network = page.context.new_cdp_session(page)
    slow = {"offline": False, "latency": 500, "downloadThroughput": -1, "uploadThroughput": -1}
    network.send("Network.emulateNetworkConditions", slow)
    for grams in (110, 120, 130, 140):
        page.get_by_label(LIVER).fill(f"{grams} g")
        page.get_by_label("Amount of Carrot, raw").fill(f"{grams - 50} g")
    go_to(page, "Intake")
    state(page, "Saved")
    network.send("Network.emulateNetworkConditions", {**slow, "latency": 0})
    go_to(page, "First draft")
    page.reload()
    expect(page.get_by_label(LIVER)).to_have_value("140 g")
    expect(page.get_by_label("Amount of Carrot, raw")).to_have_value("90 g")


def test_a_browser_that_does_not_say_which_pages_live_shows_the_page_all_the_same(
    signed_in: Page,
) -> None:
    page = signed_in
    page.add_init_script("navigator.locks.request = () => new Promise(() => undefined)")
    page.reload()
    expect(page.get_by_role("heading", name="Cases")).to_be_visible()
