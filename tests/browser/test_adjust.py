"""The settings of a formulation, and what follows from them on the bench."""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Locator, Page, Route, expect
from steps import add_line, go_to, new_case


@pytest.fixture
def heart(signed_in: Page) -> Page:
    """A heart case of its own on the bench, with the Adjust panel open."""
    page = signed_in
    new_case(page, "Sedge", "9")
    for text in ("160 g chicken thigh roasted", "200 g rice white cooked", "60 g carrot boiled"):
        add_line(page, text)
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    page.get_by_role("radio", name="Adjust").click()
    expect(page.get_by_role("button", name="Find the amounts")).to_be_visible()
    return page


def find(page: Page) -> Locator:
    page.get_by_role("button", name="Find the amounts").click()
    proposal = page.get_by_role("region", name="Proposal")
    expect(proposal).to_be_visible()
    return proposal


def test_a_fixed_line_stays_and_a_left_out_one_goes(heart: Page) -> None:
    page = heart
    page.get_by_text("What may happen to each line").click()
    page.get_by_label(re.compile("What may happen to Chicken thigh")).select_option("fixed")
    page.get_by_label(re.compile("What may happen to Carrot")).select_option("excluded")
    expect(page.get_by_text("(2 set)")).to_be_visible()
    changes = find(page).get_by_role("table", name="Changes")
    thigh = changes.get_by_role("row", name=re.compile("Chicken thigh"))
    expect(thigh).to_have_attribute("data-kind", "kept")
    expect(changes).to_contain_text("left out by the consultant")
    page.get_by_role("button", name="Take 1").click()
    expect(page.get_by_label(re.compile("Amount of Carrot"))).to_have_count(0)
    expect(page.get_by_label(re.compile("Amount of Chicken thigh"))).to_have_value("160 g")


def test_bounds_hold(heart: Page) -> None:
    page = heart
    page.get_by_text("What may happen to each line").click()
    page.get_by_label(re.compile("What may happen to Rice")).select_option("free")
    page.get_by_label("to g").fill("120")
    find(page)
    page.get_by_role("button", name="Take 1").click()
    rice = page.get_by_label(re.compile("Amount of Rice"))
    if rice.count():
        assert int(rice.input_value().split()[0]) <= 120


def test_a_bound_that_makes_no_sense_is_said(heart: Page) -> None:
    page = heart
    page.get_by_text("What may happen to each line").click()
    page.get_by_label(re.compile("What may happen to Rice")).select_option("free")
    page.get_by_label("from g").fill("300")
    page.get_by_label("to g").fill("100")
    page.get_by_role("button", name="Find the amounts").click()
    expect(page.get_by_role("alert")).to_contain_text("is more than at most 100 g")


def test_what_may_be_added_is_chosen(heart: Page) -> None:
    page = heart
    page.get_by_text(re.compile("^What may be added")).click()
    for name in (
        "All-in-one premix, everyday (made up)",
        "All-in-one premix, without phosphorus (made up)",
    ):
        page.get_by_role("checkbox", name=name).uncheck()
    # Its label strength is in the demo practice; kelp's is not.
    expect(page.get_by_role("checkbox", name=re.compile("Kelp powder"))).to_be_disabled()
    page.get_by_label("Supplements at most").fill("12")
    proposal = find(page)
    expect(proposal.get_by_role("table", name="Changes")).not_to_contain_text("premix")
    expect(proposal.get_by_role("table", name="Changes")).to_contain_text(
        re.compile("tablet|drop|powder")
    )


def test_too_few_supplements_are_named_as_the_cause(heart: Page) -> None:
    page = heart
    page.get_by_role("combobox", name="How to adjust").click()
    page.get_by_role("option", name="Close the gaps").click()
    page.get_by_label("Supplements at most").fill("0")
    proposal = find(page)
    expect(proposal).to_contain_text("Not every minimum can be reached")
    # The food is left alone and nothing may be added: its gaps stay, and are named.
    expect(proposal).to_contain_text("The recipe stays as it is.")
    expect(proposal).to_contain_text("These cannot hold together")
    expect(proposal).to_contain_text(re.compile("would make it possible|would end this one"))


def test_the_order_of_goals_can_be_changed(heart: Page) -> None:
    page = heart
    page.get_by_text("Order of goals").click()
    earlier = page.get_by_role("button", name="Least cost earlier")
    for _ in range(3):
        earlier.click()
    proposal = find(page)
    proposal.get_by_text("How the first was found").click()
    steps = proposal.locator("details li")
    texts = [t.split(":")[0] for t in steps.all_inner_texts()]
    assert texts.index("Least cost") < texts.index("Stay near the recipe")


def test_a_split_is_matched(heart: Page) -> None:
    page = heart
    page.get_by_role("combobox", name="How to adjust").click()
    page.get_by_role("option", name="Match a split").click()
    # Shares must add up to 100.
    for name, value in (("Protein", "30"), ("Fat", "30"), ("Carbohydrate", "50")):
        page.get_by_label(name, exact=True).fill(value)
    page.get_by_role("button", name="Find the amounts").click()
    expect(page.get_by_role("alert")).to_contain_text("add up to 100 %")
    page.get_by_label("Carbohydrate", exact=True).fill("40")
    find(page)
    page.get_by_role("button", name="Take 1").click()
    page.keyboard.press("Escape")
    page.get_by_role("radio", name="Balance").click()
    split = page.get_by_role("region", name="Energy split")
    for share in ("30 %", "40 %"):
        expect(split).to_contain_text(share)


def test_answers_go_stale_when_the_recipe_changes(heart: Page) -> None:
    page = heart
    find(page)
    page.get_by_role("button", name="Ask otherwise").click()
    expect(page.get_by_role("button", name="Back to the answers")).to_be_visible()
    page.get_by_label(re.compile("Amount of Rice")).fill("250 g")
    expect(page.get_by_text("The recipe was changed since")).to_be_visible()
    expect(page.get_by_role("button", name="Back to the answers")).to_have_count(0)
    page.get_by_role("button", name="Put the answers away").click()
    expect(page.get_by_text("The recipe was changed since")).to_have_count(0)


def test_a_recipe_that_cannot_be_read_is_not_adjusted(heart: Page) -> None:
    page = heart
    page.get_by_label(re.compile("Amount of Rice")).fill("plenty")
    expect(page.get_by_text("Mend the amounts that cannot be read.")).to_be_visible()
    expect(page.get_by_role("button", name="Find the amounts")).to_be_disabled()


def test_a_rescaled_recipe_is_one_undo(heart: Page) -> None:
    page = heart
    page.get_by_role("radio", name="Balance").click()
    page.get_by_role("combobox", name="Proportions to keep to").click()
    page.get_by_role("option", name="Equal parts of protein, starch and vegetable").click()
    page.get_by_role("button", name="Rescale to what there is least of").click()
    # 60 g of carrot is the least: a third each.
    expect(page.get_by_label(re.compile("Amount of Chicken thigh"))).to_have_value("60 g")
    expect(page.get_by_label(re.compile("Amount of Rice"))).to_have_value("60 g")
    way = page.get_by_role("region", name="Way of feeding")
    expect(way.get_by_text("33 %").first).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label(re.compile("Amount of Rice"))).to_have_value("200 g")


def test_own_proportions_are_read_or_refused(heart: Page) -> None:
    page = heart
    page.get_by_role("radio", name="Balance").click()
    page.get_by_role("combobox", name="Proportions to keep to").click()
    page.get_by_role("option", name="Own proportions").click()
    page.get_by_label("Share of vegetables and fruit").fill("")
    page.get_by_label("Share of meat and fish").fill("lots")
    expect(page.get_by_text("A share is a number above 0")).to_be_visible()
    page.get_by_label("Share of meat and fish").fill("60")
    box = page.get_by_label("Share of starch")
    box.fill("40")
    box.press("Enter")
    expect(page.get_by_role("region", name="Way of feeding")).to_contain_text("of 60 %")


def test_the_case_moves_on_with_its_facts(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    new_case(page, "Yarrow", "20", bench=False)
    page.get_by_role("combobox", name="Sex").click()
    page.get_by_role("option", name="female").click()
    page.get_by_label("Lactation week").fill("3")
    page.get_by_label("Pups in the litter").fill("6")
    page.get_by_label("Born (age follows)").fill("2023-01-15")
    page.get_by_label("Pups in the litter").click()
    expect(page.get_by_text("Size class medium; counts as lactation")).to_be_visible()
    assert axe(page) == []
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    go_to(page, "Energy")
    # 145 x 20^0.75 + 20 x (24 x 4 + 12 x 2) x 1.1 = 1371.4 + 2640.
    row = page.get_by_role("main").get_by_text(re.compile("4.?011"))
    expect(row.first).to_be_visible()


def test_a_bound_is_moved_by_keys_and_by_hand_and_seen_at_once(
    heart: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = heart
    held: list[Route] = []
    seen: list[str] = []

    def hold(route: Route) -> None:
        # What rests waits until what comes at once was seen.
        if not seen and (route.request.post_data_json or {}).get("settle"):
            held.append(route)
        else:
            route.continue_()

    page.route("**/api/recipes/*/live", hold)
    page.get_by_role("button", name="Protein:").press("Enter")
    grip = page.get_by_role("slider", name="Protein, at least")
    for _ in range(6):
        grip.press("ArrowUp")
    bound = page.get_by_role("region", name="Your bounds").get_by_label("at least")
    expect(bound).not_to_have_value("")
    comes_to = page.get_by_role("region", name="What it comes to")
    expect(comes_to).to_contain_text("not yet in measurable amounts.")
    # Once it rests, in amounts that can be measured.
    seen.append(comes_to.inner_text())
    for route in held:
        route.continue_()
    expect(comes_to).to_contain_text("in amounts that can be measured.")
    # What the lines would be stands in them.
    expect(page.get_by_role("region", name="Recipe")).to_contain_text("→ ")
    expect(page.get_by_text("With your bounds")).to_be_visible()
    # One key leads back to where the amounts are found.
    grip.press("a")
    expect(page.get_by_role("button", name="Find the amounts")).to_be_focused()
    least = float(bound.input_value())
    assert axe(page) == []
    box = grip.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] - 20, steps=4)
    page.mouse.up()
    expect(bound).not_to_have_value(f"{least:g}")
    assert float(bound.input_value()) > least
    # A line's bounds, on a scale of their own.
    page.get_by_text("What may happen to each line").click()
    page.get_by_label("What may happen to Chicken thigh").select_option("free")
    page.get_by_role("slider", name="Chicken thigh, meat only, roasted, at least").press("PageUp")
    expect(page.get_by_label("from g")).not_to_have_value("")
    # What cannot be is said beside it, and nothing is lost.
    page.get_by_role("region", name="Your bounds").get_by_label("at most").fill("20")
    expect(comes_to.get_by_role("alert")).to_contain_text("Protein cannot be at least")
    page.get_by_role("button", name="Let go: the bound on Protein").press("Enter")
    page.get_by_label("What may happen to Chicken thigh").select_option("as the mode says")
    expect(page.get_by_text("With your bounds")).to_have_count(0)
