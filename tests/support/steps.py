"""Steps that many browser tests begin with."""

import re
from uuid import uuid4

from playwright.sync_api import APIRequestContext, APIResponse, Locator, Page, expect
from wainscot_cli.serving import DEMO_PASSWORD, DEMO_USER

# Milliseconds that are waited for what comes in the end: a busy machine takes its time, a test that passes does not wait.
PATIENCE = 120_000


def sign_in(page: Page, address: str) -> None:
    page.goto(address)
    page.get_by_label("Name").fill(DEMO_USER)
    page.get_by_label("Password").fill(DEMO_PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Desk").wait_for()


def go_to(page: Page, step: str | re.Pattern[str]) -> None:
    """The page of a step of the open case."""
    _follow(page.get_by_role("navigation", name="Steps").get_by_role("link", name=step).first)


def go_in(page: Page, place: str) -> None:
    """One of the pages that are no case's."""
    _follow(page.get_by_role("navigation", name="Main").get_by_role("link", name=place, exact=True))


def _follow(link: Locator) -> None:
    """The page it was followed from stays, and would take the keys, until the other is there."""
    link.click()
    expect(link).to_have_attribute("aria-current", "page")


def post(request: APIRequestContext, address: str, path: str, body: object) -> APIResponse:
    """A request of the API that writes, or computes, with the token it needs."""
    cookies = request.storage_state()["cookies"]
    token = next(c["value"] for c in cookies if c["name"] == "csrftoken")
    headers = {"X-CSRFToken": token, "Referer": address}
    return request.post(f"{address}/api/{path}", data=body, headers=headers)


def enter(request: APIRequestContext, address: str, name: str = DEMO_USER) -> None:
    """Sign in by the API."""
    request.get(f"{address}/api/session")
    said = post(request, address, "session/sign-in", {"username": name, "password": DEMO_PASSWORD})
    assert said.ok, said.text()


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
    page.get_by_role("heading", name=dog, exact=True, level=1).wait_for()


def to_checks(page: Page) -> None:
    """From a bench to its checks, once how much is to be settled is told beside the step."""
    steps = page.get_by_role("navigation", name="Steps")
    steps.get_by_role("link", name=re.compile("^Checks.*to settle")).click()


def settle(page: Page, reason: str) -> None:
    """Accept every limit that is not held, if there is one, with one reason."""
    page.get_by_role("complementary", name="The way out").wait_for()
    gaps = page.get_by_role("region", name=re.compile("^Limits not held"))
    if gaps.count():
        gaps.get_by_role("button", name="Choose all").click()
        gaps.get_by_label("Why it may stay as it is").fill(reason)
        gaps.get_by_role("button", name=re.compile("^Record it")).click()
        expect(gaps.get_by_label("Why it may stay as it is")).to_have_count(0)
    single = page.get_by_role("button", name=re.compile("^Decide: "))
    while single.count():
        before = single.count()
        single.first.click()
        page.get_by_label("Why it may stay as it is").fill(reason)
        page.get_by_role("button", name="Record the decision").click()
        expect(single).to_have_count(before - 1)
    expect(page.get_by_text("nothing stands against it", exact=True)).to_be_visible()


def open_of_last_mail(page: Page, who: str) -> str:
    page.get_by_role("navigation", name="Main").get_by_role("link", name="Outbox").click()
    link = page.get_by_role("link", name=f"Open it as {who}").first
    link.wait_for()
    return str(link.get_attribute("href"))


def keep(page: Page) -> str:
    """Keep the batch that is planned; its code."""
    page.get_by_role("button", name="Keep this batch").click()
    kept = page.get_by_text(re.compile(r"^Kept as batch "))
    kept.wait_for()
    return kept.inner_text().removeprefix("Kept as batch ").rstrip(".")


def batch(page: Page, code: str) -> Locator:
    return page.get_by_role("region", name="Batches").get_by_role("listitem").filter(has_text=code)
