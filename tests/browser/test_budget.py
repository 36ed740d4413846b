"""Three new cases from nothing to a recipe that holds, by few clicks and keys, and nothing typed is lost."""

import re
from collections.abc import Iterator

import pytest
from playwright.sync_api import Page, expect

MOST_CLICKS, MOST_KEYS = 25, 250
LONG = 60_000
# What a person does, counted where the browser hears it; a click by Enter is a key.
COUNT = """for (const kind of ['click', 'keydown']) addEventListener(kind, (e) => {
  if (!e.isTrusted || (kind === 'click' && e.detail === 0)) return;
  sessionStorage[kind] = 1 + Number(sessionStorage[kind] || 0);
}, true);"""


@pytest.fixture
def counted(page: Page, signed_in: Page) -> Iterator[Page]:
    """A page on which every click and key is counted; what was done is told and within the budget."""
    page.evaluate("sessionStorage.clear()")
    page.add_init_script(COUNT)
    page.get_by_role("link", name="Desk").click()
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


def go_to(page: Page, step: str | re.Pattern[str]) -> None:
    page.get_by_role("navigation", name="Steps").get_by_role("link", name=step).first.click()


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


def find_and_take(page: Page) -> None:
    """The first answer of those the bench finds for the lines as they stand."""
    page.get_by_role("radio", name="Adjust").click()
    find = page.get_by_role("button", name="Find the amounts")
    find.focus()
    page.keyboard.press("Enter")
    take = page.get_by_role("button", name="Take 1")
    expect(take).to_be_focused(timeout=LONG)
    page.keyboard.press("Enter")
    expect(page.get_by_role("region", name="Proposal")).to_have_count(0)
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
