"""An elimination trial by hand: days put down, steps done and refused, a food judged and put into the case."""

import re
from collections.abc import Callable
from datetime import date, timedelta

from playwright.sync_api import Page, expect
from steps import new_dog

LENGTH = 60


def on(day: int) -> str:
    return (date.today() - timedelta(days=LENGTH - day)).isoformat()


def put_down(page: Page, *days: int, stool: int) -> None:
    form = page.get_by_role("region", name="Put down a day")
    for day in days:
        form.get_by_label("Day").fill(on(day))
        form.get_by_label("Stool, 1 to 7").fill(str(stool))
        form.get_by_role("button", name="Put it down").click()
        # The form is empty again when it is kept.
        expect(form.get_by_label("Stool, 1 to 7")).to_have_value("")


def step(page: Page, button: str, day: int, **said: str) -> None:
    trial = page.get_by_role("region", name="Elimination trial")
    # What may not be done today is done on the day on which it was done.
    trial.get_by_role("button", name=re.compile(f"^{button}(, on another day)?$")).click()
    form = trial.locator("form")
    form.get_by_label("Day").fill(on(day))
    for label, text in said.items():
        form.get_by_label(label).fill(text)
    form.get_by_role("button", name=button, exact=True).click()


def test_a_trial_from_baseline_to_verdict(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    new_dog(page, "Marrow")
    trial = page.get_by_role("region", name="Elimination trial")
    trial.get_by_role("button", name="Begin a trial").click()
    trial.get_by_role("radio", name=re.compile("gut")).check()
    trial.get_by_label("First day of the baseline").fill(on(0))
    trial.get_by_label("What alone is fed").fill("duck, millet")
    trial.get_by_role("button", name="Begin the baseline").click()
    expect(trial).to_contain_text("Before the diet, day")
    # Nothing is on record yet: the diet may not begin, and it says why.
    trial.get_by_text("What may not be done yet, and why").click()
    expect(trial).to_contain_text("stool was put down on 0 days of the baseline: 5 are needed")
    put_down(page, 0, 1, 2, 3, 4, stool=5)
    step(page, "Nothing but the diet", 7)
    expect(trial).to_contain_text("Nothing but the diet, day")
    put_down(page, 18, 19, 20, 21, stool=3)
    step(page, "Read the trial", 21)
    expect(trial).to_contain_text("it responded")
    step(page, "Give the old diet back", 22)
    put_down(page, 24, stool=6)
    expect(trial).to_contain_text("The log shows a flare: stool 6 of 7")
    step(page, "A flare: stop it", 24)
    put_down(page, 27, 28, 29, 30, stool=3)
    step(page, "As before again", 31)
    expect(trial).to_contain_text("confirmed by the old diet")
    step(page, "Try one food", 31, Food="beef")
    put_down(page, 33, stool=6)
    step(page, "A flare: stop it", 33)
    foods = trial.get_by_role("list", name="What each food did")
    expect(foods).to_contain_text("likely reacts")
    put_down(page, 37, 38, 39, 40, stool=3)
    step(page, "As before again", 40)
    expect(foods.get_by_role("listitem")).to_contain_text("reacts, medium confidence")
    expect(trial).to_contain_text("The maintenance diet is built from: duck, millet")
    plot = page.get_by_role("img", name=re.compile("^From "))
    expect(plot).to_be_visible()
    assert axe(page) == []
    foods.get_by_role("button", name="Put it into the case").click()
    expect(page.get_by_text(re.compile("^reacts to")).locator("..")).to_contain_text("beef")
    # A step is taken back; the focus stays in the trial.
    trial.get_by_role("button", name="Take the last step back").click()
    expect(trial).to_contain_text("Washout, day")
    assert page.evaluate("document.activeElement.closest('section')?.getAttribute('aria-label')") == "Elimination trial"  # fmt: skip


def test_the_days_are_read_by_keyboard(signed_in: Page) -> None:
    page = signed_in
    new_dog(page, "Pippin the Elder")
    put_down(page, LENGTH - 3, stool=4)
    put_down(page, LENGTH, stool=2)
    line = page.get_by_role("slider", name="Day of Pippin the Elder")
    line.focus()
    for _ in range(3):
        page.keyboard.press("ArrowLeft")
    expect(line).to_have_attribute("aria-valuetext", re.compile("stool 4$"))
    page.keyboard.press("End")
    page.keyboard.press("ArrowLeft")
    expect(line).to_have_attribute("aria-valuetext", re.compile("nothing was put down$"))
