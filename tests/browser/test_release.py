"""From a draft to a plan the owner has, as a consultant, a vet and an owner go through it."""

import re
from collections.abc import Callable

from playwright.sync_api import Browser, Page, expect
from steps import add_line, go_to, new_case, open_of_last_mail, settle, to_checks


def test_a_plan_goes_from_the_bench_to_the_owner(
    signed_in: Page, demo: str, browser: Browser, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    new_case(page, "Meadowsweet", "10 kg")
    for line in ("180 g chicken thigh", "1 cup white rice cooked"):
        add_line(page, line)
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    owner = page.get_by_role("link", name=re.compile("^Owner "))
    name = owner.inner_text()
    owner.click()
    page.get_by_label("E-mail").fill("owner@example.org")
    page.get_by_label("E-mail").press("Tab")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    page.go_back()
    to_checks(page)
    check = page.get_by_role("button", name="Check it")
    expect(check).to_be_disabled()
    assert axe(page) == []
    settle(page, "For two weeks, until the premix has come.")
    check.click()
    page.get_by_label("The attending vet").fill("Dr Yarrow")
    page.get_by_label("E-mail address").fill("yarrow@example.org")
    page.get_by_role("button", name="Send to the vet").click()
    expect(page.get_by_text("It was not opened yet.")).to_be_visible()
    at = page.url

    # The vet, on a phone, without an account.
    phone = browser.new_context(viewport={"width": 390, "height": 844})
    vet = phone.new_page()
    vet.goto(demo + open_of_last_mail(page, "Dr Yarrow"))
    expect(vet.get_by_role("heading", name="Decided, for you to agree with")).to_be_visible()
    assert vet.evaluate("document.documentElement.scrollWidth") <= 390
    assert axe(vet) == []
    vet.get_by_label("I approve it", exact=True).check()
    vet.get_by_label("Comment").fill("Weigh her in two weeks.")
    vet.get_by_role("button", name="Send my answer").click()
    expect(vet.get_by_role("alert")).to_contain_text("your name")
    expect(vet.get_by_label("Comment")).to_have_value("Weigh her in two weeks.")
    vet.get_by_label("Your name").fill("Dr Yarrow")
    vet.get_by_label("Licence number").fill("V-77")
    vet.get_by_role("button", name="Send my answer").click()
    expect(vet.get_by_role("status")).to_contain_text("Approved by Dr Yarrow, licence V-77")
    expect(vet.get_by_role("button", name="Send my answer")).to_have_count(0)

    page.goto(at)
    page.get_by_text("“Weigh her in two weeks.”").wait_for()
    page.get_by_role("button", name=f"Issue to {name}").click()
    expect(page.get_by_text("Version 1 is with the owner.")).to_be_visible()
    sheet = phone.new_page()
    sheet.goto(demo + open_of_last_mail(page, name))
    expect(sheet.get_by_text("Approved by Dr Yarrow, licence V-77").first).to_be_visible()
    assert sheet.evaluate("document.documentElement.scrollWidth") <= 390
    assert axe(sheet) == []
    # What was ticked off stays so on this phone.
    sheet.get_by_role("link", name="Change-over").click()
    sheet.get_by_role("checkbox").first.check()
    sheet.reload()
    expect(sheet.get_by_role("checkbox").first).to_be_checked()
    expect(sheet.get_by_role("checkbox").nth(1)).not_to_be_checked()

    # Another recipe is another version, with what differs.
    page.goto(at)
    go_to(page, "First draft")
    amount = page.get_by_label(re.compile("^Amount of Chicken"))
    amount.fill("200 g")
    amount.press("Enter")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    to_checks(page)
    page.get_by_text("The recipe on the bench differs from it").click()
    expect(page.get_by_role("row", name=re.compile("^Chicken"))).to_contain_text("180 g200 g")
    # And the one the owner has can be called back.
    page.get_by_role("button", name="Withdraw…").click()
    page.get_by_label("Why it must not be fed any more").fill("the chicken was recalled")
    page.get_by_role("button", name="Withdraw the plan").click()
    expect(page.get_by_text(re.compile("Version 1 was withdrawn"))).to_be_visible()
    sheet.reload()
    expect(sheet.get_by_text(re.compile("Do not feed this any more"))).to_be_visible()
    vet.reload()
    expect(vet.get_by_text(re.compile("the chicken was recalled"))).to_be_visible()
    phone.close()
