"""Follow-up: weights that are put down say what holds them, and lead to another amount."""

import re
from collections.abc import Callable
from datetime import date, timedelta

from playwright.sync_api import Browser, Page, expect
from steps import go_to, new_dog, open_dog


def test_weights_lead_to_another_amount(signed_in: Page, axe: Callable[[Page], list[str]]) -> None:
    """Ten weeks at 0.2 kg a week more: learnt, drawn, a tenth less proposed, and taken as the target."""
    page = signed_in
    new_dog(page, "Rushlight")
    expect(page.get_by_text("No weight is put down yet")).to_be_visible()
    form = page.get_by_role("region", name="Put down a day")
    # A day that is refused is mended where it is wrong, without the mouse.
    form.get_by_label("Weight, kg").fill("2000")
    form.get_by_role("button", name="Put it down").press("Enter")
    expect(form.get_by_label("Weight, kg")).to_be_focused()
    expect(form.get_by_role("alert")).to_be_visible()
    for i in range(11):
        on = date.today() - timedelta(days=7 * (10 - i))
        form.get_by_label("Day").fill(on.isoformat())
        form.get_by_label("Weight, kg").fill(f"{20 + 0.2 * i:.1f}")
        form.get_by_role("button", name="Put it down").click()
        expect(page.get_by_role("region", name="What was put down").get_by_role("listitem")).to_have_count(i + 1)  # fmt: skip
    learnt = page.get_by_role("region", name="Energy learnt")
    expect(learnt).to_contain_text("a day as logged hold this weight")
    expect(learnt).to_contain_text(re.compile("Feed .* kcal a day instead of"))
    plot = page.get_by_role("img", name=re.compile("Weight: .* 11 weighings"))
    expect(plot).to_be_visible()
    assert axe(page) == []
    # What is wrong is asked about; what does not count is not.
    form.get_by_label("Weight, kg").fill("27")
    form.get_by_role("button", name="Put it down").click()
    expect(learnt).to_contain_text("Is a weight wrong")
    expect(learnt).to_contain_text("No other amount is proposed")
    days = page.get_by_role("region", name="What was put down")
    days.get_by_role("button", name=re.compile("^does not count")).first.click()
    expect(learnt).not_to_contain_text("Is a weight wrong")
    # What was learnt goes into the case, and its recipe goes on at the bench.
    anew = page.get_by_role("region", name="A new version")
    expect(anew).to_contain_text(re.compile(r"Weight 2[12]\.\d+ kg instead of 20\.0 kg"))
    anew.get_by_role("checkbox", name=re.compile("kcal a day instead of")).set_checked(True)
    anew.get_by_role("button", name="Begin the new version").click()
    expect(page).to_have_url(re.compile(r"/recipes/\d+\?side=adjust$"))
    expect(page.get_by_role("region", name="Recipe")).to_be_visible()
    page.go_back()
    expect(anew).not_to_contain_text("The follow-up shows")
    go_to(page, "Energy")
    expect(page.get_by_label("kcal a day")).not_to_have_value("")


def test_laboratory_values_stand_against_their_own_range(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    """In the unit of the report; what is missing is asked for at its field; what does not count leaves the plot."""
    page = signed_in
    new_dog(page, "Tallow")
    labs = page.get_by_role("region", name="Laboratory values")
    labs.get_by_role("button", name="Put a value down").click()
    for low, value in (("0.5", "1.2"), ("0.5", "1.9")):
        labs.get_by_label("Test").select_option(label="Creatinine")
        labs.get_by_label("Unit").select_option("mg/dL")
        labs.get_by_label("Value").fill(value)
        labs.get_by_label("Range as printed, from").fill(low)
        labs.get_by_label("to", exact=True).fill("1.8")
        labs.get_by_role("button", name="Put the value down").click()
        expect(labs.get_by_label("Value")).to_have_value("")
    row = labs.get_by_role("listitem").filter(has_text="Creatinine")
    expect(row).to_contain_text("1.9 mg/dL")
    expect(row).to_contain_text("over its range, 0.5 to 1.8")
    row.get_by_text("Creatinine").click()
    expect(row).to_contain_text("Ask the vet. One reading: a plan waits for a second.")
    assert axe(page) == []
    row.get_by_role("button", name=re.compile("^does not count")).first.click()
    expect(row).to_contain_text("within its range, 0.5 to 1.8")
    labs.get_by_label("Value").fill("5")
    labs.get_by_label("Test").select_option(label="Potassium")
    labs.get_by_label("Range as printed, from").fill("6")
    labs.get_by_label("to", exact=True).fill("5")
    labs.get_by_role("button", name="Put the value down").click()
    expect(labs.get_by_text("must be less than the upper end")).to_be_visible()


def test_the_owner_sends_a_day_from_a_phone(
    signed_in: Page, demo: str, browser: Browser, axe: Callable[[Page], list[str]]
) -> None:
    """Without an account: a weight and what was changed; the practice sees it, the owner sees what to call for."""
    page = signed_in
    new_dog(page, "Thimble")
    page.get_by_text("Let the owner put days down").click()
    page.get_by_role("button", name="Make an address").click()
    address = page.get_by_role("link", name=re.compile("diary"))
    address.wait_for()
    phone = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True)
    owner = phone.new_page()
    owner.goto(demo + str(address.get_attribute("href")))
    expect(owner.get_by_role("heading", level=1)).to_have_text("How is Thimble?")
    assert owner.evaluate("document.documentElement.scrollWidth") <= 390
    assert axe(owner) == []
    small = owner.evaluate(
        "[...document.querySelectorAll('main button, main input:not([type=checkbox]), main label:has(input)')].map(b => b.getBoundingClientRect())"
        ".filter(r => r.width && r.height < 48).length"
    )
    assert small == 0
    owner.get_by_role("button", name="Put it down").click()
    expect(owner.get_by_text("says nothing yet")).to_be_visible()
    owner.get_by_label("Weight, kg").fill("20.2")
    owner.get_by_label("Left out or swapped").fill("rice instead of potato")
    owner.get_by_role("button", name="Put it down").click()
    expect(owner.get_by_text("It is sent to")).to_be_visible()
    expect(owner.get_by_role("region", name="Put down before")).to_contain_text("20.20 kg")
    phone.close()
    page.reload()
    days = page.get_by_role("region", name="What was put down")
    expect(days).to_contain_text("changed: rice instead of potato")
    expect(days).to_contain_text("the owner, by a link")


def test_what_the_owner_changed_stands_beside_the_plan(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    """The premix left out and cheese for a failing heart: what must not be comes first; what to say, and into the log."""
    page = signed_in
    open_dog(page, "Teasel")
    go_to(page, "Follow-up")
    fed = page.get_by_role("region", name="What is really fed")
    fed.get_by_role("button", name="Say what was changed").click()
    # By keys: into the lines, down to the premix, and what is open takes the focus with it.
    lines = fed.get_by_role("list", name="Lines of the plan").get_by_role("button")
    expect(lines.first).to_be_focused()
    premix = lines.filter(has_text="All-in-one premix")
    for _ in range(lines.count()):
        if premix.evaluate("e => e === document.activeElement"):
            break
        page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    how = fed.get_by_role("combobox", name=re.compile("All-in-one premix"))
    expect(how).to_be_focused()
    expect(fed.get_by_text(re.compile("^Say how All-in-one premix"))).to_be_visible()
    how.click()
    page.get_by_role("option", name="left out").click()
    fed.get_by_label("Something beside it").fill("20 g cheddar")
    fed.get_by_role("option").first.wait_for()
    fed.get_by_label("Something beside it").press("Enter")
    fed.get_by_role("button", name="See what that does").click()
    does = page.get_by_role("region", name="What that does")
    expect(does).to_contain_text("It must not be fed so: the veterinarian first.")
    expect(does.get_by_role("row", name=re.compile("Zinc"))).to_contain_text("short")
    expect(does.get_by_role("list", name="Each change by itself").get_by_role("listitem")).to_have_count(2)  # fmt: skip
    assert axe(page) == []
    does.get_by_role("button", name="What to say to").click()
    expect(does.get_by_label("The message")).to_have_value(re.compile("premix.* left out: by this the food has"))  # fmt: skip
    does.get_by_role("button", name="Put it down for today").click()
    expect(does.get_by_role("status").filter(has_text="Put down for today")).to_be_visible()
    expect(page.get_by_role("region", name="What was put down")).to_contain_text("left out; ")
    how.click()
    page.get_by_role("option", name="as the plan says").click()
    expect(premix).to_be_focused()
    fed.get_by_role("button", name="Close").click()
    expect(fed.get_by_role("button", name="Say what was changed")).to_be_focused()
