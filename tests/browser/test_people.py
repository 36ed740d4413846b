"""Who works here: asked to join, let in, held to what they may do, and back at work after they were signed out."""

import re

from playwright.sync_api import Browser, Page, expect
from steps import enter, go_in, go_to, open_dog
from wainscot_cli.serving import DEMO_PASSWORD

PASSWORD = "oak-linen-rail-7"


def sign_in_as(page: Page, address: str, name: str, password: str = DEMO_PASSWORD) -> None:
    page.goto(address)
    page.get_by_label("Name").fill(name)
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name="Sign in").click()


def test_somebody_is_asked_and_joins(signed_in: Page, demo: str, browser: Browser) -> None:
    page = signed_in
    go_in(page, "Practice")
    page.get_by_role("link", name="People").click()
    page.get_by_label("E-mail").fill("wren@example.org")
    page.get_by_role("button", name="Invite").click()
    asked = page.get_by_role("listitem").filter(has_text="wren@example.org")
    asked.get_by_role("button", name="Show the link").click()
    link = page.get_by_role("dialog").locator("p.font-mono").inner_text()
    assert link.startswith(f"{demo}/invitation/")
    page.keyboard.press("Escape")

    visitor = browser.new_page()
    visitor.goto(link)
    expect(visitor.get_by_text("as assistant")).to_be_visible()
    visitor.get_by_label("Your name for signing in").fill("wren")
    visitor.get_by_label("Password").fill("short")
    visitor.get_by_role("button", name="Join").click()
    expect(visitor.get_by_role("alert")).to_contain_text("too short")
    visitor.get_by_label("Password").fill(PASSWORD)
    visitor.get_by_role("button", name="Join").click()
    visitor.get_by_role("heading", name="Desk").wait_for()
    expect(visitor.get_by_text("You read, log and cook here.")).to_be_visible()
    expect(visitor.get_by_role("link", name="Practice")).to_have_count(0)
    visitor.goto(link)
    expect(visitor.get_by_text("used already")).to_be_visible()

    page.reload()
    row = page.get_by_role("row").filter(has_text="wren@example.org")
    row.get_by_role("button", name="Has left").click()
    expect(page.get_by_role("heading", name="Have left")).to_be_visible()
    visitor.goto(f"{demo}/cases")
    expect(visitor.get_by_role("heading", name="Sign in")).to_be_visible()
    visitor.close()


def test_an_assistant_is_told_what_is_not_theirs_to_change(page: Page, demo: str) -> None:
    sign_in_as(page, demo, "nell")
    go_in(page, "Cases")
    open_dog(page, "Juniper")
    page.get_by_role("link", name="Maren Holt").click()
    invoices = page.get_by_role("region", name="Invoices")
    expect(invoices.get_by_role("listitem").first).to_be_visible()
    expect(invoices.get_by_role("button")).to_have_count(0)
    go_in(page, "Cases")
    open_dog(page, "Bramble")
    go_to(page, "Intake")
    page.get_by_label("Weight, kg", exact=True).fill("33")
    page.keyboard.press("Tab")
    expect(page.get_by_role("alert").first).to_contain_text("A consultant of this practice")
    stored = page.evaluate("fetch('/api/cases').then((r) => r.json())")["rows"]
    assert 33 not in [row.get("weight_kg") for row in stored]


def test_whoever_was_signed_out_goes_on_where_they_were(signed_in: Page, demo: str) -> None:
    """What was typed meanwhile is sent once they are back; nothing is lost and nobody begins at the front door."""
    page = signed_in
    open_dog(page, "Juniper")
    go_to(page, "Intake")
    box = page.get_by_label("Housing")
    box.wait_for()
    at = page.url
    # All cookies of the browser are gone: the server knows nobody any more.
    page.context.clear_cookies()
    box.fill("Flat, third floor")
    page.keyboard.press("Tab")
    dialog = page.get_by_role("dialog", name="You were signed out")
    expect(dialog).to_be_visible()
    dialog.get_by_label("Password").fill(DEMO_PASSWORD)
    dialog.get_by_role("button", name="Sign in").click()
    expect(dialog).to_have_count(0)
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    assert page.url == at
    page.reload()
    expect(page.get_by_label("Housing")).to_have_value("Flat, third floor")


def test_a_new_password_and_the_end_of_other_sessions(
    page: Page, demo: str, browser: Browser
) -> None:
    sign_in_as(page, demo, "iris")
    other = browser.new_page()
    enter(other.request, demo, "iris")
    page.get_by_role("link", name="iris").click()
    expect(page.get_by_role("button", name="Sign out everywhere else")).to_be_visible()
    page.get_by_label("Password now").fill(DEMO_PASSWORD)
    page.get_by_label("New password").fill(PASSWORD)
    page.get_by_role("button", name="Change the password").click()
    expect(page.get_by_text(re.compile("1 other session ended"))).to_be_visible()
    assert other.request.get(f"{demo}/api/cases").status == 403
    other.close()
    # As it was, for whoever signs in next.
    page.get_by_label("Password now").fill(PASSWORD)
    page.get_by_label("New password").fill(DEMO_PASSWORD)
    page.get_by_role("button", name="Change the password").click()
    expect(page.get_by_text("The new password holds.", exact=True)).to_be_visible()


def test_who_did_what_is_asked_by_kind(signed_in: Page) -> None:
    page = signed_in
    go_in(page, "Practice")
    page.get_by_role("link", name="Who did what").click()
    page.get_by_role("combobox", name="What").click()
    page.get_by_role("option", name="People and sign-ins").click()
    expect(page).to_have_url(re.compile("kind=person"))
    expect(page.get_by_text("demo signed in").first).to_be_visible()
    expect(page.get_by_text("Saved the plan")).to_have_count(0)
    with page.expect_download() as got:
        page.get_by_role("link", name="All of it as a table").click()
    assert got.value.path().read_text().startswith("at,by,kind,case,what\n")
