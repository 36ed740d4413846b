"""What is typed of a line goes with it: to the list, the bench, the sheet; nothing typed is lost."""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, Route, expect
from steps import add_line, go_in, go_to, new_case


@pytest.fixture
def fresh_case(signed_in: Page) -> Page:
    """A new case on its empty bench."""
    page = signed_in
    new_case(page, "Fennel", "18 lb")
    return page


def test_eggs_are_asked_about_and_a_reading_is_chosen(fresh_case: Page) -> None:
    page = fresh_case
    expect(page.get_by_text("8.2 kg")).to_be_visible()
    page.get_by_label("Add an ingredient").fill("3 eggs")
    page.get_by_role("option", name=re.compile("^Egg, whole, raw")).click()
    box = page.get_by_label(re.compile("Amount of Egg, whole, raw"))
    expect(box).to_have_value("3 eggs")
    expect(page.get_by_role("alert")).to_contain_text("several amounts")
    page.get_by_role("button", name="3 large, 150 g").press("Enter")
    expect(box).to_have_value("3 large")
    expect(box).to_be_focused()
    expect(page.get_by_role("row", name=re.compile("Egg, whole, raw"))).to_contain_text("150")


def test_the_list_forgets_what_was_found_before(fresh_case: Page) -> None:
    page = fresh_case
    box = page.get_by_label("Add an ingredient")
    box.fill("3 eggs")
    expect(page.get_by_role("option", name=re.compile("Eggshell powder"))).to_have_count(1)
    box.fill("banana")
    expect(page.get_by_role("option").first).to_contain_text("Banana")
    expect(page.get_by_role("option", name=re.compile("Eggshell powder"))).to_have_count(0)
    box.press("Enter")
    expect(page.get_by_label(re.compile("Amount of Banana"))).to_have_value("100 g")


def test_the_sheet_says_and_computes_what_the_bench_does(fresh_case: Page) -> None:
    page = fresh_case
    add_line(page, "500 g chicken thigh raw")
    method = page.get_by_role("combobox", name=re.compile("^How Chicken thigh"))
    method.select_option(label="simmered, broth discarded")
    expect(page.get_by_text("Together, 360 g a day")).to_be_visible()
    short = page.get_by_text(re.compile(r"^\d+ short")).first.inner_text()
    expect(page.get_by_text("Saved", exact=True)).to_be_visible()
    bench = page.get_by_role("table").last.inner_text()
    assert "Thiamin" in bench
    with page.expect_popup() as opened:
        page.get_by_role("link", name="Sheet", exact=True).click()
    row = opened.value.get_by_role("row", name=re.compile("Chicken thigh"))
    expect(row).to_contain_text("simmered, broth discarded (gives 360 g)")
    against = opened.value.get_by_role("main").inner_text()
    names = re.search(r"Short: (.*)\.", against)
    assert names is not None and "Thiamin" in names[1]
    assert len(names[1].split(", ")) >= int(short.split()[0]) - 2
    assert "Raw meat" not in against


def test_fields_filled_one_after_another_are_all_kept(fresh_case: Page) -> None:
    page = fresh_case
    go_to(page, "Intake")
    said = {
        "source": "butcher",
        "cook": "raw only",
        "store": "chest freezer",
        "spend": "40 a month",
    }
    for key, text in said.items():
        page.get_by_label(f"Can {key}").fill(text)
        page.keyboard.press("Tab")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    page.reload()
    for key, text in said.items():
        expect(page.get_by_label(f"Can {key}")).to_have_value(text)


def test_what_is_typed_on_paper_is_read_or_kept_with_the_reason(
    fresh_case: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = fresh_case
    go_to(page, "Intake")
    page.get_by_label("Age", exact=True).fill("9 years")
    page.keyboard.press("Tab")
    expect(page.get_by_label("Age", exact=True)).to_have_value("9 years")
    page.get_by_role("button", name="Add to “Eats now, a day”").click()
    page.get_by_label("Eats now, a day, Food, row 1").fill("Dry food")
    page.get_by_label("Eats now, a day, Amount, row 1").fill("2 1/3")
    page.get_by_label("Eats now, a day, kcal a unit, row 1").fill("370")
    page.keyboard.press("Tab")
    expect(page.get_by_text("863 kcal a day", exact=True)).to_be_visible()
    weight = page.get_by_label("Weight, kg", exact=True)
    weight.fill("nine stone")
    page.keyboard.press("Tab")
    expect(page.get_by_role("alert")).to_contain_text("cannot read 'nine stone' as a weight")
    expect(page.get_by_test_id("save-state")).to_have_text("1 change not saved: see where")
    assert axe(page) == []
    # It is still there after a look elsewhere, and the rest is saved.
    go_to(page, "Targets")
    go_to(page, "Intake")
    expect(page.get_by_label("Weight, kg", exact=True)).to_have_value("nine stone")
    page.get_by_label("Weight, kg", exact=True).fill("9 lb")
    page.keyboard.press("Tab")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    expect(page.get_by_text("4.1 kg", exact=True)).to_be_visible()


def test_changes_made_while_the_server_is_away_are_kept_and_sent(fresh_case: Page) -> None:
    page = fresh_case
    go_to(page, "Intake")
    page.get_by_label("Housing").wait_for()

    def refuse(route: Route) -> None:
        if route.request.method == "PATCH":
            route.abort()
        else:
            route.continue_()

    page.route("**/api/cases/*", refuse)
    page.get_by_label("Housing").fill("indoors")
    page.keyboard.press("Tab")
    expect(page.get_by_test_id("save-state")).to_have_text("1 change kept here, to send")
    page.get_by_role("button", name="Send now").click()
    page.unroute("**/api/cases/*")
    # It is sent again by itself, if not by the key.
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")


def _do(page: Page, dog: str, what: str) -> None:
    page.get_by_role("button", name=f"More: what to do with the case of {dog}").click()
    page.get_by_role("menuitem", name=what, exact=True).click()


def test_a_case_is_archived_and_deleted_after_its_name(signed_in: Page) -> None:
    page = signed_in
    new_case(page, "Tansy", "9 kg")
    go_in(page, "Cases")
    _do(page, "Tansy", "Archive")
    expect(page.get_by_role("link", name="Tansy")).to_have_count(0)
    page.get_by_label(re.compile("^Archived")).check()
    expect(page.get_by_role("link", name="Tansy")).to_be_visible()
    _do(page, "Tansy", "Delete…")
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("button", name="Delete")).to_be_disabled()
    dialog.get_by_label("Type Tansy to delete it").fill("Tansy")
    dialog.get_by_role("button", name="Delete").click()
    expect(page.get_by_text("No case is archived.")).to_be_visible()
