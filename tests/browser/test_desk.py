"""The desk: what is due stands in its order, is reached by keys, done or put off with a reason."""

import re
from datetime import date, timedelta
from typing import Any

from playwright.sync_api import Page, expect
from steps import go_in, new_dog, sign_in


def desk(page: Page) -> None:
    go_in(page, "Desk")
    page.get_by_role("heading", name="Desk").wait_for()


def test_a_symptom_that_is_put_down_comes_first_until_it_is_seen(signed_in: Page) -> None:
    page = signed_in
    new_dog(page, "Wicket")
    form = page.get_by_role("region", name="Put down a day")
    form.get_by_label("blood").check()
    form.get_by_role("button", name="Put it down").click()
    expect(page.get_by_text("The veterinarian first:")).to_be_visible()
    desk(page)
    mine = page.get_by_role("region", name="In your hands").get_by_role("listitem").filter(has_text="Wicket")  # fmt: skip
    expect(mine).to_contain_text("Ask the vet to see it")
    expect(mine).to_contain_text("There is blood in what comes out")
    mine.get_by_role("button", name="Done or later: Wicket").click()
    mine.get_by_role("button", name="Ask the vet to see it: done today").click()
    coming = page.get_by_role("region", name="In the next two weeks")
    row = coming.get_by_role("listitem").filter(has_text="Wicket")
    expect(row).to_contain_text("Go on with the draft")
    expect(mine).to_have_count(0)
    # The focus stays in the list, and what was said can be taken back.
    expect(page.locator("[data-first]:focus")).to_have_count(1)
    said = page.get_by_role("status").filter(has_text="Wicket, Ask the vet to see it: done today")
    said.get_by_role("button", name="Take it back").click()
    expect(mine).to_contain_text("Ask the vet to see it")
    expect(said).to_have_count(0)


def test_a_thing_is_put_off_with_a_reason_and_opened_by_keys(signed_in: Page) -> None:
    page = signed_in
    new_dog(page, "Larkspur")
    desk(page)
    row = page.get_by_role("listitem").filter(has_text="Larkspur")
    row.get_by_role("button", name="Done or later: Larkspur").click()
    expect(row.get_by_label("What")).to_be_focused()
    row.get_by_label("Until").fill((date.today() - timedelta(days=1)).isoformat())
    row.get_by_label("Why").fill("the owner is away")
    row.get_by_role("button", name="Put it off").click()
    expect(row.get_by_role("alert")).to_contain_text("must be a day to come")
    row.get_by_label("Until").fill((date.today() + timedelta(days=10)).isoformat())
    row.get_by_role("button", name="Put it off").click()
    expect(row).to_contain_text("put off: the owner is away")
    # From dog to dog by keys, and in.
    page.locator("[data-first]").first.focus()
    page.keyboard.press("j")
    page.keyboard.press("k")
    expect(page.locator("[data-first]").first).to_be_focused()
    row.locator("[data-first]").focus()
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile(r"/cases/\d+/recipes/\d+$"))


def test_the_desk_goes_into_a_calendar(signed_in: Page) -> None:
    page = signed_in
    new_dog(page, "Saxifrage")
    desk(page)
    page.get_by_text("The desk in your calendar").click()
    page.get_by_role("button", name="Make an address").click()
    address = page.locator("a[href^='/due/']")
    path = address.get_attribute("href") or ""
    expect(page.get_by_text("opens until")).to_be_visible()
    server = re.sub(r"(https?://[^/]+).*", r"\1", page.url)
    read = page.request.get(server + path)
    assert read.ok and "Saxifrage: Go on with the draft" in read.text().replace("\r\n ", "")
    page.get_by_role("button", name="Take it back").click()
    expect(address).to_have_count(0)
    assert page.request.get(server + path).status == 410


def test_many_cases_that_changed_come_in_by_themselves(page: Page, machine: Any) -> None:
    """More than are worked out at one look: the last of them is there without opening the desk again."""
    sign_in(page, machine.address)
    token = next(c["value"] for c in page.context.cookies() if c["name"] == "csrftoken")
    for n in range(60):
        asked = {"client_name": f"Owner {n}", "dog_name": f"Pup {n:02d}", "weight_kg": 12}
        made = page.request.post(
            f"{machine.address}/api/cases", data=asked,
            headers={"X-CSRFToken": token, "Referer": machine.address},
        )  # fmt: skip
        assert made.ok, made.text()
    page.reload()
    coming = page.get_by_role("region", name="In the next two weeks")
    expect(coming.get_by_text("Pup 59", exact=True)).to_be_visible()
