"""Three new cases from nothing to a recipe that holds, by few clicks and keys, and nothing typed is lost."""

import re
from collections.abc import Iterator
from typing import Any

import pytest
from playwright.sync_api import Page, expect
from steps import go_in, go_to, sign_in

MOST_CLICKS, MOST_KEYS = 25, 250
# What a person does, counted where the browser hears it; a click by Enter is a key.
COUNT = """for (const kind of ['click', 'keydown']) addEventListener(kind, (e) => {
  if (!e.isTrusted || (kind === 'click' && e.detail === 0)) return;
  sessionStorage[kind] = 1 + Number(sessionStorage[kind] || 0);
}, true);"""


@pytest.fixture
def counted(page: Page, machine: Any) -> Iterator[Page]:
    """A page on which every click and key is counted; what was done is told and within the budget."""
    sign_in(page, machine.address)
    page.evaluate("sessionStorage.clear()")
    page.add_init_script(COUNT)
    go_in(page, "Desk")
    page.reload()
    page.get_by_role("heading", name="Desk").wait_for()
    yield page
    clicks, keys = (
        int(page.evaluate(f"sessionStorage.{kind} || 0")) for kind in ("click", "keydown")
    )
    assert 0 < clicks <= MOST_CLICKS, (clicks, keys)
    assert 0 < keys <= MOST_KEYS, (clicks, keys)


def begin(page: Page, line: str) -> None:
    """A case from its first line."""
    page.get_by_role("button", name="New case").click()
    expect(page.get_by_label("In one line")).to_be_focused()
    page.keyboard.type(line)
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Create")).to_be_focused()
    page.keyboard.press("Enter")
    page.get_by_label("Way of feeding wanted").wait_for()


MAIL = """Hi, this is what I cook for Otter, it lasts a day.

200 g turkey, ground, raw
1 cup rice, cooked
1 carrot
1/2 can pumpkin
2 eggs

Thanks, Ada
"""


def test_a_heart_and_what_the_owner_cooks(counted: Page) -> None:
    page, keys = counted, counted.keyboard
    begin(page, "Otter, 9 y spayed Cavalier, 18 lb, BCS 5, MMVD C, furosemide, owner Ada Finch")
    # All of the line is in the intake.
    expect(page.get_by_label("Age", exact=True)).to_have_value("9 years")
    expect(page.get_by_label("5 of 9")).to_be_checked()
    expect(
        page.get_by_text("Cavalier King Charles Spaniel, 9 years, neutered female")
    ).to_be_visible()
    expect(page.get_by_role("combobox", name=re.compile("^Stage of Mitral"))).to_contain_text("C")
    go_to(page, "First draft")
    page.get_by_role("link", name="Bring in what the client cooks").click()
    expect(page.get_by_label("The recipe as it was sent")).to_be_focused()
    keys.insert_text(MAIL)
    keys.press("Control+Enter")
    page.locator("[data-line]").first.wait_for()
    open_ = page.locator("[data-decision=open]")
    for left in range(5, 0, -1):
        expect(open_).to_have_count(left)
        keys.press("Enter")
    expect(open_).to_have_count(0)
    keys.press("Control+Enter")
    expect(page.get_by_label(re.compile("^Amount of "))).to_have_count(5)
    find_and_take(page)
    expect(page.get_by_role("heading", name="Every limit is met")).to_be_visible()


def find_and_take(page: Page, opened: bool = False) -> None:
    """The first answer of those the bench finds for the lines as they stand. opened: the panel is."""
    if not opened:
        page.get_by_role("radio", name="Adjust").click()
    find = page.get_by_role("button", name="Find the amounts")
    find.focus()
    page.keyboard.press("Enter")
    take = page.get_by_role("button", name="Take 1")
    expect(take).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.get_by_role("region", name="Proposal")).to_have_count(0)
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")


BAG = """Guaranteed analysis: crude protein (min) 26 %, crude fat (min) 15 %, crude fibre (max) 4 %, moisture (max) 10 %.
Calorie content: 3524 kcal/kg, 370 kcal/cup. One cup is 105 g.
Ingredients: chicken meal, brown rice, barley, chicken fat, beet pulp."""


def test_from_a_bag_to_a_fresh_recipe(counted: Page) -> None:
    page, keys = counted, counted.keyboard
    begin(page, "Barley, 6 y MN Labrador, 36 kg, BCS 7, pancreatitis mild, owner Elin Moor")
    # Overweight: the energy that fits is offered, and taken by one click.
    page.get_by_role("region", name="Energy that fits").get_by_role("button").first.click()
    expect(page.get_by_role("region", name="Energy that fits")).to_have_count(0)
    go_in(page, "Library")
    page.get_by_role("button", name="Own food").click()
    expect(page.get_by_label("Name", exact=True)).to_be_focused()
    keys.type("The old dry food")
    page.get_by_label("Text of the bag").click()
    keys.insert_text(BAG)
    page.get_by_role("button", name="Read it into the panel").click()
    expect(page.get_by_label("kcal per cup")).to_have_value("370")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    go_in(page, "Cases")
    page.get_by_role("link", name="Barley", exact=True).first.click()
    go_to(page, "First draft")
    page.get_by_role("button", name=re.compile("^Protein : starch : vegetable, 50")).click()
    expect(page.get_by_label(re.compile("^Amount of "))).to_have_count(3)
    page.get_by_role("radio", name="Adjust").click()
    page.get_by_role("combobox", name="How to adjust").click()
    page.get_by_role("option", name="Match a split").click()
    page.get_by_label("Match a food").click()
    keys.type("old dry")
    page.get_by_role("option", name=re.compile("The old dry food")).wait_for()
    keys.press("Enter")
    # It is taken once the search has answered to all that was typed.
    page.get_by_text("The split of The old dry food").wait_for()
    find_and_take(page, opened=True)
    expect(page.get_by_role("heading", name=re.compile("^Every limit is met"))).to_be_visible()


def test_a_trial_of_one_protein_and_one_starch(counted: Page) -> None:
    page = counted
    begin(page, "Quill, 3 y FS, 22 kg, BCS 5, reacts to chicken, elimination trial, owner Wren Ash")
    go_to(page, "First draft")
    page.get_by_role("radio", name=re.compile("^Pork loin")).click()
    page.get_by_role("radio", name=re.compile("^Potato, boiled")).click()
    page.get_by_role("button", name="Begin the trial’s recipe").click()
    expect(page.get_by_label(re.compile("^Amount of "))).to_have_count(2)
    find_and_take(page)
    expect(page.get_by_role("heading", name="Every limit is met")).to_be_visible()
    # No other source of protein or starch came in; oil is none.
    foods = page.get_by_label(re.compile("^Amount of ")).all()
    names = " ".join(food.get_attribute("aria-label") or "" for food in foods)
    assert not re.search("chicken|egg,|turkey|beef|fish,|rice|oat|barley|pasta", names, re.I), names
