"""Every page says what state it is in: fetching, empty, refused, away from the server."""

import json
import re

from playwright.sync_api import Page, Route, expect
from steps import open_dog


def _case(page: Page, dog: str) -> str:
    open_dog(page, dog)
    page.get_by_role("navigation", name="Steps").wait_for()
    found = re.search(r"/cases/(\d+)", page.url)
    assert found is not None
    return found[1]


def _step(page: Page, name: str) -> None:
    # Its name goes on with how far it is, once that is known.
    steps = page.get_by_role("navigation", name="Steps")
    steps.get_by_role("link", name=re.compile(f"^{name}")).click()


def test_what_cannot_be_shown_says_so_and_what_to_do(signed_in: Page) -> None:
    page = signed_in
    case = _case(page, "Juniper")
    broken = True

    def fail(route: Route) -> None:
        if broken:
            message = {"error": {"field": "", "message": "It could not be computed."}}
            route.fulfill(status=500, content_type="application/json", body=json.dumps(message))
        else:
            route.continue_()

    page.route(f"**/api/cases/{case}/targets", fail)
    _step(page, "Targets")
    alert = page.get_by_role("alert")
    expect(alert).to_contain_text("The targets cannot be shown. It could not be computed.")
    expect(alert).to_contain_text("Try again in a moment")
    broken = False
    page.get_by_role("button", name="Try again").click()
    expect(page.get_by_role("heading", name="Requirement set")).to_be_visible()


def test_figures_stay_while_the_server_is_away(signed_in: Page) -> None:
    """What was fetched stays, marked; when the server answers again the mark goes by itself."""
    page = signed_in
    _case(page, "Juniper")
    _step(page, "Energy")
    methods = page.get_by_role("heading", name="Methods side by side")
    methods.wait_for()
    page.wait_for_load_state("networkidle")
    page.context.set_offline(True)
    page.get_by_label("Body weight").fill("8.4")
    page.keyboard.press("Tab")
    expect(page.locator("[data-offline=true]")).to_have_count(1)
    expect(page.get_by_test_id("save-state")).to_have_text("1 change kept here, to send")
    expect(
        page.get_by_text("for what was stored before: the server cannot be reached")
    ).to_be_visible()
    expect(methods).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    page.context.set_offline(False)
    expect(page.locator("[data-offline=true]")).to_have_count(0)
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")


def test_a_filter_that_nothing_passes_offers_the_way_back(signed_in: Page) -> None:
    page = signed_in
    page.get_by_label("Find a case").fill("nobody at all")
    expect(page.get_by_text("No case matches “nobody at all”.")).to_be_visible()
    page.get_by_role("button", name="Show every case").click()
    expect(page.get_by_role("navigation", name="Pages of cases")).to_be_visible()


def test_a_case_is_found_and_the_way_back_leads_to_what_was_found(signed_in: Page) -> None:
    page = signed_in
    page.get_by_label("Find a case").fill("JUNI")
    expect(page.get_by_role("status").filter(has_text="1 case")).to_be_visible()
    expect(page).to_have_url(re.compile(r"words=JUNI$"))
    page.get_by_role("link", name="Juniper", exact=True).click()
    page.get_by_role("navigation", name="Steps").wait_for()
    page.go_back()
    expect(page.get_by_label("Find a case")).to_have_value("JUNI")
    expect(page.get_by_role("status").filter(has_text="1 case")).to_be_visible()
    page.get_by_label("Find a case").fill("")
    page.get_by_label("Condition").select_option(label="Chronic kidney disease (IRIS)")
    expect(page.get_by_role("link", name="Juniper", exact=True)).to_have_count(0)
    page.get_by_label("Condition").select_option(label="Any condition")
    page.get_by_role("button", name="Dog", exact=True).click()
    expect(page.get_by_role("columnheader", name="Dog")).to_have_attribute("aria-sort", "ascending")
    expect(page).to_have_url(re.compile(r"order=dog$"))


def test_a_word_of_the_trade_has_its_meaning_behind_it(signed_in: Page) -> None:
    page = signed_in
    _case(page, "Juniper")
    _step(page, "Targets")
    page.get_by_role("button", name="safe limit", exact=True).focus()
    page.keyboard.press("Enter")
    meaning = page.get_by_role("dialog")
    expect(meaning).to_contain_text("never called met")
    meaning.get_by_role("link", name="All words").click()
    expect(page.get_by_role("heading", name="Words", exact=True)).to_be_visible()
    page.get_by_label("Find a word").fill("resting energy")
    expect(page.get_by_role("term")).to_have_text(["RER"])


def test_the_work_has_the_focus_after_a_command(signed_in: Page) -> None:
    """Whoever goes somewhere by keys goes on there, not at the top of the window."""
    page = signed_in
    for typed, heading in (("standards", "Standards"), ("words", "Words")):
        page.keyboard.press("Control+k")
        page.get_by_role("combobox").fill(typed)
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name=heading, exact=True)).to_be_visible()
        expect(page.locator("main")).to_be_focused()


def test_what_begins_like_it_is_found_first(signed_in: Page) -> None:
    page = signed_in
    page.keyboard.press("Control+k")
    page.get_by_role("combobox").fill("br")
    # Other tests may have made dogs of such a name.
    expect(page.get_by_role("option").first).to_have_text(re.compile("^Br"))
