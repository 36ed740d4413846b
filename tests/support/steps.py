"""Steps that many browser tests begin with."""

import re
from uuid import uuid4

from playwright.sync_api import Page, expect


def new_case(page: Page, dog: str, weight: str, bench: bool = True) -> None:
    """Start a case of a client of its own; on its bench, or in its intake, where a new case opens."""
    page.get_by_role("button", name="New case").click()
    page.get_by_label("Dog", exact=True).fill(dog)
    page.get_by_label("Owner").fill(f"Owner {uuid4().hex[:8]}")
    page.get_by_label("Weight, kg").fill(weight)
    page.get_by_role("button", name="Create").click()
    page.get_by_label("Way of feeding wanted").wait_for()
    if bench:
        page.get_by_role("navigation", name="Steps").get_by_role("link", name="First draft").click()
        page.get_by_label("Add an ingredient").wait_for()


def add_line(page: Page, text: str) -> None:
    """Add an ingredient as typed and wait for its line: it comes when the search has answered."""
    amounts = page.get_by_label(re.compile("^Amount of "))
    before = amounts.count()
    page.get_by_label("Add an ingredient").fill(text)
    page.get_by_role("listbox").get_by_role("option").first.wait_for()
    page.keyboard.press("Enter")
    expect(amounts).to_have_count(before + 1)


def new_dog(page: Page, dog: str) -> None:
    """A case of its own at its follow-up, where nothing is put down yet."""
    new_case(page, dog, "20", bench=False)
    page.get_by_role("navigation", name="Steps").get_by_role("link", name="Follow-up").click()
    page.get_by_role("heading", name="Follow-up").wait_for()


def open_dog(page: Page, dog: str) -> None:
    """From the list of cases into the case of a dog, on whatever page of the list it stands."""
    page.get_by_label("Find a case").fill(dog)
    page.get_by_role("link", name=dog, exact=True).click()
