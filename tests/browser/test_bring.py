"""A recipe in words: pasted, put right by the keyboard alone, taken to the bench."""

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect
from steps import go_in, new_case

# Three traps: cooked rice by the cup, a food that is not known here, an amount that is not given.
RECIPE = """This is what I cook for Comfrey 🐶🍲, it lasts two days.

600 g chicken breast, raw
2 cups rice
1 medium sweet potato, raw
1/2 cup peas, frozen
2 large eggs
1 tbsp olive oil
200 g green beans, raw
1 tin sardines in water
250 g kangaroo bites
1 tsp eggshell powder a day
1 tsp dried parsley
salt to taste

Simmer the chicken.
No onions!
"""


def test_a_recipe_of_twelve_lines_is_put_right_by_keys_alone(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page, keys = signed_in, signed_in.keyboard
    new_case(page, "Comfrey", "20 kg")
    page.get_by_role("link", name="Bring in what the client cooks").press("Enter")
    box = page.get_by_label("The recipe as it was sent")
    expect(box).to_be_focused()
    keys.insert_text(RECIPE)
    keys.press("Control+Enter")
    lines = page.locator("[data-line]")
    expect(lines).to_have_count(12)
    expect(page.get_by_label("Days the recipe feeds")).to_have_value("2")
    expect(page.locator("[data-stretch]").nth(4)).to_have_text("52 large eggs")
    # Nothing is in the recipe, the wall shows what is read, and one line is not in it.
    expect(page.get_by_text("2 lines are not counted yet")).to_be_visible()
    expect(page.locator("[data-board=PROCNT] [data-open]")).to_have_count(1)
    assert axe(page) == []

    # What stands for nothing yet comes first: both are put right, and what was done can be undone.
    current = page.locator("[data-line][aria-current]")
    expect(current).to_contain_text("kangaroo")
    keys.press("f")
    keys.type("venison raw")
    page.get_by_role("listbox").get_by_role("option").first.wait_for()
    keys.press("Enter")
    expect(page.locator("[data-amount-of-stretch]")).to_have_value("250 g")
    keys.press("Enter")
    expect(current).to_contain_text("Salt")
    keys.press("x")
    keys.type("not any more")
    keys.press("Enter")
    expect(page.locator("[data-decision=out]")).to_contain_text("not any more")
    keys.press("Control+z")
    expect(page.locator("[data-decision=out]")).to_have_count(0)
    expect(current).to_contain_text("Salt")
    keys.press("q")
    expect(page.locator("[data-decision=asked]")).to_have_count(1)

    # The rice was weighed cooked: its choice says what that makes of the recipe.
    while "Rice" not in (current.text_content() or ""):
        keys.press("ArrowDown")
    cooked = current.get_by_role("button").filter(has_text="if it was weighed cooked")
    expect(cooked).to_contain_text("kcal a day less")
    keys.press((cooked.locator("kbd").text_content() or "").strip())
    expect(cooked).to_have_attribute("aria-pressed", "true")
    keys.press("Enter")
    keys.press("y")
    # The rest is as it was read.
    open_ = page.locator("[data-decision=open]")
    for left in range(open_.count(), 0, -1):
        expect(open_).to_have_count(left)
        keys.press("Enter")
    expect(open_).to_have_count(0)

    keys.press("w")
    message = page.get_by_label("The message")
    expect(message).to_have_value(re.compile("1. “salt to taste”: How much"))
    keys.press("Escape")
    keys.press("Control+Enter")
    expect(page.get_by_label(re.compile("^Amount of "))).to_have_count(11)
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    expect(page.get_by_label("Amount of Eggshell powder, fine, dried")).to_have_value("11 g")
    expect(page.get_by_label("Days the recipe feeds")).to_have_value("2")
    expect(page.get_by_label("Amount of Chicken breast, meat only, raw")).to_have_value("600 g")

    # What was sent is kept, and what waits for the owner is there to go on with.
    page.get_by_role("button", name=re.compile("^Recipe “")).click()
    page.get_by_role("menuitem", name="Bring in a recipe").click()
    expect(page.locator("[data-decision=asked]")).to_have_count(1)
    page.reload()
    expect(page.locator("[data-decision=done]")).to_have_count(11)
    keys.press("e")
    expect(page.get_by_text("Waits for the owner: “salt to taste”")).to_be_visible()


def test_what_cannot_be_read_is_told_and_stays(signed_in: Page) -> None:
    page = signed_in
    new_case(page, "Figwort", "9 kg")
    page.get_by_role("link", name="Bring in what the client cooks").click()
    box = page.get_by_label("The recipe as it was sent")
    box.fill("%PDF-1.7 and so on")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("alert")).to_contain_text("The text is a PDF")
    expect(box).to_have_value("%PDF-1.7 and so on")
    page.get_by_label("A file with the recipe").set_input_files(
        {
            "name": "recipe.html",
            "mimeType": "text/html",
            "buffer": b"<html><script>alert(1)</script><li>300 g cod, raw</li><li>2 carrots and 1 egg</li></html>",
        }
    )
    lines = page.locator("[data-line]")
    expect(lines).to_have_count(3)
    # Parted and put together again.
    page.locator("[data-line]").filter(has_text="Cod").get_by_role("button").first.click()
    page.keyboard.press("s")
    words = page.get_by_label("In other words, an ingredient a line")
    words.fill("150 g cod, raw\n150 g haddock, raw")
    words.press("Control+Enter")
    expect(lines).to_have_count(4)
    page.keyboard.press("Control+z")
    expect(lines).to_have_count(3)


def test_a_rule_of_thumb_is_judged_and_becomes_a_line(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    new_case(page, "Lungwort", "10 kg")
    page.get_by_label("Add an ingredient").fill("500 g chicken thigh raw")
    page.get_by_role("listbox").get_by_role("option").first.wait_for()
    page.keyboard.press("Enter")
    page.get_by_role("button", name=re.compile("^Recipe “")).click()
    page.get_by_role("menuitem", name="Judge a rule of thumb").click()
    rule = page.get_by_label("The rule, as it was said")
    rule.fill("a pinch of stardust per kilo")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("The rule ")
    rule.fill("1 tsp eggshell powder per kg of meat")
    page.keyboard.press("Enter")
    comes_to = page.get_by_label("What it comes to")
    # A teaspoon is 5.5 g; half a kilo takes half of it.
    expect(comes_to).to_contain_text("2.75 g Eggshell powder")
    expect(comes_to.get_by_role("row", name=re.compile("^Calcium"))).to_be_visible()
    assert axe(page) == []
    page.get_by_role("button", name="Put it in as a line").click()
    expect(page.get_by_label("Amount of Eggshell powder, fine, dried")).to_have_value("2.75 g")


def test_a_bag_becomes_a_matched_fresh_diet(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    go_in(page, "Library")
    page.get_by_role("button", name="Own food").click()
    page.get_by_label("Text of the bag").fill(
        "Guaranteed analysis: crude protein (min) 26 %, crude fat (min) 15 %, crude fibre (max) 4 %, "
        "moisture (max) 10 %. 3650 kcal/kg, 365 kcal/cup. Ingredients: chicken meal, brewers rice, "
        "carrots, animal digest, salt."
    )
    page.get_by_role("button", name="Read it into the panel").click()
    expect(page.get_by_label("kcal per kg")).to_have_value("3650")
    page.get_by_role("textbox", name="Name").fill("Selfheal dry food")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    go_in(page, "Cases")
    new_case(page, "Selfheal", "12 kg")
    page.locator("main").focus()
    page.keyboard.press("a")
    page.get_by_role("combobox", name="How to adjust").click()
    page.get_by_role("option", name="Match a split").click()
    page.get_by_label("Match a food").fill("Selfheal dry food")
    page.get_by_role("listbox").get_by_role("option").first.wait_for()
    page.keyboard.press("Enter")
    # A cup is 100 g, and 100 g bring 390 kcal by the method of the case.
    page.get_by_label("It eats of it a day").fill("2 cups")
    expect(page.get_by_text("780 kcal a day")).to_be_visible()
    page.get_by_role("button", name="Make 780 kcal its target").click()
    expect(page.get_by_text("That is its energy target.")).to_be_visible()
    page.get_by_role("button", name="What it is made of").click()
    made_of = page.get_by_role("dialog")
    expect(made_of).to_contain_text("the most frequent hidden chicken or beef")
    expect(made_of.get_by_label("Chicken thigh, meat only, raw")).to_be_checked()
    assert axe(page) == []
    made_of.get_by_role("button", name="Build it of these").click()
    page.get_by_role("button", name="Find the amounts").click()
    page.get_by_role("button", name="Take 1").wait_for()
    answer = page.get_by_role("region", name="Proposal")
    expect(answer).to_contain_text("Every limit is met")
    expect(answer).to_contain_text("wanted")
    expect(answer.get_by_role("row", name=re.compile("^Moisture, as fed 10"))).to_be_visible()
    page.get_by_role("button", name="Take 1").click()
    expect(page.get_by_label("Amount of Chicken thigh, meat only, raw")).to_be_visible()
    expect(page.get_by_text(re.compile(r"^0 short \(stops"))).to_be_visible()
