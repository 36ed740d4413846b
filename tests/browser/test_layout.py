"""Every page on every size: nothing goes sideways, axe finds nothing, and a case can be walked by keys."""

import re
import shutil
import sqlite3
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from steps import enter, go_to, new_case, open_dog

# A phone, a window of 1280 x 800 at 200 %, a desk.
SIZES = [(390, 844), (640, 400), (1280, 800)]
CASE = ["intake", "energy", "targets", "plan", "checks", "history"]

SIDEWAYS = """() => {
  const width = document.documentElement.clientWidth;
  const inside = (e) => {
    for (let up = e.parentElement; up && up !== document.body; up = up.parentElement)
      if (getComputedStyle(up).overflowX !== 'visible') return true;
    return false;
  };
  const out = [...document.querySelectorAll('body *')].filter((e) => {
    const box = e.getBoundingClientRect();
    return box.width > 1 && box.right > width + 1 && !inside(e);
  });
  return out.slice(0, 3).map((e) => e.tagName + ' ' + (e.textContent || '').slice(0, 40));
}"""


PLACES = [
    "/", "/cases", "bench", *CASE, "/library", "/library/import", "/standards", "/evidence", "/practice", "/people", "/audit",
    "/installation", "/account", "/issued", "/outbox", "/invoices", "client",
]  # fmt: skip


def address_of(page: Page, place: str) -> str:
    """Where a place of the first case is."""
    case = page.evaluate("fetch('/api/cases').then((r) => r.json())")["rows"][0]
    return {
        "bench": f"/cases/{case['id']}/recipes/{case['recipes'][0]['id']}",
        "client": f"/clients/{case['owner_id']}",
        **{step: f"/cases/{case['id']}/{step}" for step in CASE},
    }.get(place, place)


@pytest.mark.parametrize("place", PLACES)
def test_every_page_fits_and_is_accessible_in_both_themes(
    signed_in: Page, demo: str, axe: Callable[[Page], list[str]], place: str
) -> None:
    page = signed_in
    page.goto(demo + address_of(page, place))
    page.get_by_role("heading", level=1).first.wait_for()
    page.wait_for_load_state("networkidle")
    for width, height in SIZES:
        page.set_viewport_size({"width": width, "height": height})
        assert page.evaluate("document.documentElement.scrollWidth") <= width
        assert page.evaluate(SIDEWAYS) == [], (width, place)
        assert axe(page) == [], (width, place)
    # Another theme is other colours, whatever the size.
    page.evaluate("document.documentElement.dataset.theme = 'dark'")
    assert axe(page) == [], ("dark", place)


# Nothing to break it at, and as long as a name may be in most places.
UNBROKEN = "Rindfleischetikettierungsueberwachungsaufgabenuebertragung"
NAMED = [
    ("cases_dog", "name"), ("cases_dog", "breed"), ("cases_client", "name"), ("cases_client", "phone"),
    ("cases_case", "title"), ("diets_recipe", "name"), ("accounts_practice", "name"),
    ("outbox_mail", "subject"), ("library_ownfood", "name"), ("office_practicetext", "text"), ("office_appointment", "note"), ("diets_keptrecipe", "name"), ("accounts_user", "email"),
]  # fmt: skip


def test_a_long_word_breaks_and_no_page_is_wider_than_a_phone(
    page: Page, demo_data: Path, served: Callable[[Path], str], tmp_path: Path
) -> None:
    data = tmp_path / "data"
    shutil.copytree(demo_data, data)
    with closing(sqlite3.connect(data / "wainscot.sqlite3")) as database:
        for table, column in NAMED:
            database.execute(f"UPDATE {table} SET {column} = ?", [UNBROKEN])  # noqa: S608
        # What is told of the past is never written again, but for this test.
        guards = database.execute(
            "SELECT name FROM sqlite_master WHERE type = 'trigger' AND tbl_name = 'events_event'"
        ).fetchall()
        for (guard,) in guards:
            database.execute(f"DROP TRIGGER {guard}")
        database.execute(
            "UPDATE events_event SET data = replace(data, 'First draft', ?)", [UNBROKEN]
        )
        database.commit()
    address = served(data)
    page.set_viewport_size({"width": 390, "height": 844})
    enter(page.request, address)
    page.goto(address)
    wide = {}
    for place in PLACES:
        page.goto(address + address_of(page, place))
        page.get_by_role("heading", level=1).first.wait_for()
        page.wait_for_load_state("networkidle")
        found = page.evaluate(SIDEWAYS)
        if found or page.evaluate("document.documentElement.scrollWidth") > 390:
            wide[place] = found
    assert wide == {}


def test_the_bench_shows_one_part_where_there_is_no_room_for_more(signed_in: Page) -> None:
    page = signed_in
    page.set_viewport_size({"width": 390, "height": 844})
    open_dog(page, "Juniper")
    amount = page.get_by_label("Amount of Carrot, boiled")
    expect(amount).to_be_visible()
    expect(page.get_by_role("region", name="Minerals")).to_have_count(0)
    parts = page.get_by_role("navigation", name="Parts of the bench")
    parts.get_by_role("button", name="Wall").click()
    expect(amount).not_to_be_visible()
    board = page.get_by_role("button", name="Calcium: ")
    box = board.bounding_box()
    # It lies: far wider than high, and high enough to be hit.
    assert box is not None and box["width"] > 250 and box["height"] >= 24
    board.click()
    page.get_by_role("button", name="Where it comes from").click()
    expect(page.get_by_role("heading", name="Calcium")).to_be_visible()
    parts.get_by_role("button", name="Recipe").click()
    expect(amount).to_be_visible()
    page.set_viewport_size({"width": 1280, "height": 800})
    expect(page.get_by_role("navigation", name="Parts of the bench")).not_to_be_visible()
    expect(board).to_be_visible()


def test_steps_say_how_far_a_case_is_and_what_is_next(signed_in: Page) -> None:
    page = signed_in
    new_case(page, "Rowan", "11")
    steps = page.get_by_role("navigation", name="Steps")
    expect(steps.get_by_role("link", name="Intake , not begun")).to_be_visible()
    expect(steps.get_by_role("link", name="First draft , not begun")).to_be_visible()
    steps.get_by_role("link", name="Ask diagnoses and").click()
    page.get_by_label("asked the vet: the list is complete").check()
    expect(steps.get_by_role("link", name="Intake , begun")).to_be_visible()
    expect(steps.get_by_role("link", name="Ask age and")).to_be_visible()
    page.set_viewport_size({"width": 390, "height": 844})
    page.get_by_role("button", name="Intake, 1 of 9").click()
    page.get_by_role("menuitem", name="Energy , not begun").click()
    expect(page.get_by_label("Body weight, kg")).to_be_visible()


def test_a_condition_asks_its_stage_and_offers_the_energy_that_fits(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    new_case(page, "Aspen", "12", bench=False)
    page.get_by_label("Age", exact=True).fill("9 years")
    page.get_by_role("combobox", name="Add a condition").click()
    page.get_by_role("option", name="Mitral valve disease, heart failure").click()
    stage = page.get_by_role("group", name="Stage of Mitral valve disease")
    expect(stage).to_contain_text("Mitral valve disease, heart failure: which stage?")
    # Not counted yet, and still asked after a look elsewhere.
    go_to(page, "Energy")
    go_to(page, "Intake")
    assert axe(page) == []
    page.get_by_role("button", name="B2", exact=True).click()
    expect(page.get_by_text("Mitral valve disease, heart failure, B2")).to_be_visible()
    page.get_by_role("combobox", name="Neutered").click()
    page.get_by_role("option", name="neutered", exact=True).click()
    # 8 of 9 at 12 kg: ideal 9.23 kg (10 % per point over 5), so a plan is offered instead of 1.6 x RER.
    page.get_by_label("8 of 9").check(force=True)
    offer = page.get_by_role("region", name="Energy that fits")
    expect(offer).to_contain_text("Weight plan to the ideal weight, as body condition is 8 of 9")
    offer.get_by_role("button", name="Take").click()
    expect(offer).to_have_count(0)
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    go_to(page, "Energy")
    expect(page.get_by_label("Why this figure")).to_have_value(
        "Weight plan to the ideal weight: body condition is 8 of 9"
    )
    # The way there is drawn: 1 % a week from 12 kg is 9.2 kg in 27 weeks, and 11.76 kg after two.
    plan = page.get_by_role("region", name="Weight plan")
    drawn = re.compile("From 12.0 kg to 9.2 kg in 27 weeks")
    expect(plan.get_by_role("img", name=drawn)).to_be_visible()
    first = plan.get_by_role("table", name="On the scales").get_by_role("row").nth(1)
    expect(first).to_contain_text("11.8 kg11.9 kg11.5 kg")
    assert axe(page) == []


def focused(page: Page) -> str:
    """What has the focus: its label, or its words."""
    return str(
        page.evaluate(
            """() => { const e = document.activeElement;
              if (!e || e === document.body) return 'body';
              return (e.getAttribute('aria-label') || e.labels?.[0]?.textContent
                || e.textContent || e.getAttribute('placeholder') || e.tagName).trim(); }"""
        )
    )


def tab_to(page: Page, words: str, most: int = 120) -> None:
    """Press Tab until something of this name has the focus; it is never nowhere on the way."""
    for _ in range(most):
        page.keyboard.press("Tab")
        if focused(page).startswith(words):
            return
    raise AssertionError(f"{words!r} was not reached; {focused(page)!r} has the focus")


@pytest.mark.parametrize("size", SIZES)
def test_a_case_is_walked_with_keys_alone(signed_in: Page, size: tuple[int, int]) -> None:
    page, keys = signed_in, signed_in.keyboard
    page.set_viewport_size({"width": size[0], "height": size[1]})
    tab_to(page, "New case")
    keys.press("Enter")
    dog = f"Elm{size[0]}"
    keys.type(f"{dog}, 8 kg, owner Walker{size[0]}")
    keys.press("Enter")
    expect(page.get_by_role("button", name="Create")).to_be_focused()
    keys.press("Enter")
    page.get_by_label("Way of feeding wanted").wait_for()
    tab_to(page, "Age")
    keys.type("7 years")
    tab_to(page, "Housing")
    keys.type("indoors")
    keys.press("Tab")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    keys.press("Control+k")
    keys.type(f"{dog} first")
    page.get_by_role("option", name=f"{dog}: First draft").wait_for()
    keys.press("Enter")
    page.get_by_label("Add an ingredient").wait_for()
    keys.press("/")
    keys.type("150 g chicken thigh roasted")
    page.get_by_role("listbox").get_by_role("option").first.wait_for()
    keys.press("Enter")
    expect(page.locator("[data-line='0']")).to_be_focused()
    keys.press("Control+a")
    keys.type("160 g")
    keys.press("Tab")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    assert focused(page) != "body"
    keys.press("g")
    worst = page.locator("[data-board]:focus")
    expect(worst).to_have_count(1)
    keys.press("ArrowRight")
    expect(worst).to_have_count(1)
    keys.press("a")
    expect(page.get_by_role("button", name="Find the amounts")).to_be_visible()
    keys.press("Control+z")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    assert focused(page) != "body"
