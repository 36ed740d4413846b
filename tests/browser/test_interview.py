"""The interview: what is asked here, and what the owner answers herself by an address."""

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect
from steps import go_to, new_case

LIMIT = 390


def test_the_owner_answers_on_a_phone_and_it_is_looked_through(
    signed_in: Page, demo: str, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    new_case(page, "Spindle", "12", bench=False)
    page.get_by_text(re.compile("^Let .* answer$")).click()
    page.get_by_role("button", name="Make an address").click()
    address = page.get_by_role("link", name=re.compile("sheet")).get_attribute("href") or ""
    browser = page.context.browser
    assert browser is not None
    phone = browser.new_context(viewport={"width": LIMIT, "height": 844}).new_page()
    phone.goto(demo + address)
    expect(phone.get_by_role("heading", level=1)).to_have_text("About Spindle")
    assert phone.evaluate("document.documentElement.scrollWidth") <= LIMIT
    assert axe(phone) == []
    # Nothing said is nothing sent.
    phone.get_by_role("button", name=re.compile("^Send it")).click()
    expect(phone.get_by_role("alert")).to_contain_text("nothing is written yet")
    phone.get_by_label("How are the stools, and how often?").fill("soft since Sunday")
    phone.get_by_label("How old is your dog?").fill("9")
    phone.get_by_label("Which medicines and supplements").fill("pimobendan 1.25 mg\nfish oil")
    phone.get_by_label("What does your dog weigh?").fill("900 kg")
    weak = phone.locator("[data-question=weak]")
    weak.get_by_role("button", name="Yes").click()
    # What was typed is there after a reload.
    phone.reload()
    expect(phone.get_by_label("How are the stools, and how often?")).to_have_value(
        "soft since Sunday"
    )
    expect(weak.get_by_role("button", name="Yes")).to_have_attribute("aria-pressed", "true")
    phone.get_by_role("button", name=re.compile("^Send it")).click()
    expect(phone.get_by_role("status")).to_contain_text("It is sent")
    expect(phone.get_by_label("How old is your dog?")).to_have_value("")
    phone.context.close()

    page.reload()
    around = page.get_by_role("region", name="What is known of the dog")
    expect(around.locator("[data-station=gut]")).to_contain_text(
        "stools: soft since Sunday, the owner’s words, not looked at"
    )
    bar = page.get_by_role("region", name="Look through")
    expect(bar).to_contain_text("5 answers wait")
    assert axe(page) == []
    # A bare figure is months or years: it is not taken over by a key.
    expect(bar).to_contain_text("Not taken over by a key: 9 can be 9 months or 9 years")
    expect(bar.get_by_role("button", name="Take it over")).to_have_count(0)
    bar.get_by_role("button").first.focus()
    page.keyboard.press("2")
    # What the record refuses is not taken over, and waits on.
    expect(bar).to_contain_text("900 kg")
    page.keyboard.press("1")
    expect(bar.get_by_role("alert")).to_contain_text("Not taken over")
    expect(page.get_by_label("Weight, kg", exact=True)).to_be_focused()
    page.get_by_label("Weight, kg", exact=True).fill("12")
    bar.get_by_role("button", name="Leave it").click()
    expect(bar).to_contain_text("fish oil")
    expect(bar.get_by_role("button", name="Take it over")).to_be_focused()
    page.keyboard.press("1")
    expect(page.get_by_label("Medicines and supplements, Name, row 2")).to_have_value("fish oil")
    # A mark on the dog leads to the answer behind it.
    expect(bar).to_contain_text("2 answers wait")
    around.get_by_role("button", name=re.compile("^somebody weak at home: yes")).click()
    expect(bar).to_contain_text("somebody weak at home")
    page.evaluate("document.querySelector('main').scrollTo(0, 0)")
    page.keyboard.press("1")
    expect(bar).to_contain_text("soft since Sunday")
    # The page stays where it is read.
    expect(bar.get_by_role("button", name="Take it over")).to_be_focused()
    assert page.evaluate("document.querySelector('main').scrollTop") == 0
    page.keyboard.press("1")
    expect(bar).to_have_count(0)
    expect(page.get_by_label("Stools", exact=True)).to_have_value("soft since Sunday")
    expect(around.locator("[data-station=people]")).to_contain_text("somebody weak at home, known")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    page.reload()
    expect(page.get_by_label("Medicines and supplements, Name, row 1")).to_have_value(
        "pimobendan 1.25 mg"
    )
    # What she sent stands as she sent it, and can be looked at again.
    sheet = page.get_by_role("region", name=re.compile("^Sheet of"))
    expect(sheet.get_by_role("listitem").filter(has_text="soft since")).to_contain_text(
        "taken over"
    )
    sheet.get_by_role("button", name=re.compile("Look at it again ?: age")).click()
    expect(bar).to_contain_text("1 answer waits")


def test_a_diagnosis_without_its_stage_is_asked_and_counts_for_nothing(signed_in: Page) -> None:
    page = signed_in
    page.get_by_role("button", name="New case").click()
    page.get_by_label("In one line").fill("Sorb, 8 y MN, 9 kg, BCS 5, MMVD, owner Ola Berg")
    page.get_by_label("In one line").press("Enter")
    expect(page.get_by_role("button", name="Create")).to_be_focused()
    page.keyboard.press("Enter")
    around = page.get_by_role("region", name="What is known of the dog")
    expect(around).to_contain_text("stage of Mitral valve disease, heart failure, open")
    expect(around.locator("[data-station=heart]")).to_have_count(0)
    around.get_by_role("button", name=re.compile("^stage of Mitral")).click()
    stage = page.get_by_role("group", name="Stage of Mitral valve disease, heart failure")
    expect(stage.get_by_role("button", name="A", exact=True)).to_be_focused()
    # It is there after a reload: nothing that was named is lost.
    page.reload()
    stage.get_by_role("button", name="B2").click()
    expect(around.locator("[data-station=heart]")).to_contain_text(
        "Mitral valve disease, heart failure: B2, known"
    )
    expect(stage).to_have_count(0)
    expect(around).not_to_contain_text("stage of Mitral")
    expect(page.get_by_label("Notes")).to_have_value("")


def test_a_pasted_blood_result_is_looked_at_before_it_is_kept(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    new_case(page, "Medlar", "10", bench=False)
    page.get_by_role("button", name="A blood result").click()
    pasted = page.get_by_role("region", name="A pasted report")
    pasted.get_by_label("Text of the report").fill(
        "Creatinine 142 µmol/L 44-159\nPotassium 4.9 mmol/L 3.5-5.8\nALT 88 92 U/L\nseen by us"
    )
    pasted.get_by_label("Day of the sample").fill("2 Mar 2026")
    pasted.get_by_role("button", name="Read it").click()
    read = pasted.get_by_role("list", name="Read")
    expect(read.get_by_role("listitem")).to_have_count(2)
    missed = pasted.get_by_role("region", name="Not read")
    expect(missed).to_contain_text("another figure stands beside it (92)")
    expect(missed).to_contain_text("seen by us")
    assert axe(page) == []
    # One is left out; the other is put down.
    read.get_by_role("checkbox").first.uncheck()
    pasted.get_by_role("button", name="Put 1 value down").click()
    expect(page.get_by_text("1 value is put down")).to_be_visible()
    go_to(page, "Follow-up")
    kept = page.get_by_role("region", name="Laboratory values")
    expect(kept).to_contain_text("Potassium")
    expect(kept).to_contain_text("within its range")
    expect(kept).not_to_contain_text("Creatinine")
