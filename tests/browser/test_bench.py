"""What a consultant does at the bench, and what they see."""

import io
import re
from collections.abc import Callable
from typing import Any

import pypdf
from playwright.sync_api import Browser, Page, Route, expect
from steps import add_line, go_to, new_case, open_dog
from wainscot_cli.bench_browser import measured


def open_case(page: Page, dog: str) -> None:
    open_dog(page, dog)
    expect(page.get_by_role("heading", name=dog)).to_be_visible()
    page.locator("[data-board]").first.wait_for()


def empty_bench(page: Page, dog: str) -> None:
    new_case(page, dog, "10")
    expect(page.get_by_text("The wall fills as the recipe does")).to_be_visible()


def board(page: Page, name: str):
    return page.get_by_role("button", name=re.compile(f"^{re.escape(name)}: "))


def saved(page: Page) -> None:
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")


def test_amount_moves_the_wall_undo_takes_it_back_and_reload_keeps_it(signed_in: Page) -> None:
    page = signed_in
    open_case(page, "Juniper")
    phosphorus = board(page, "Phosphorus")
    expect(phosphorus).to_have_attribute("data-status", "short")
    cheese = page.get_by_label("Amount of Cottage cheese, creamed 4%")
    expect(cheese).to_have_value("1/4 cup")
    cheese.fill("2 cups")
    expect(phosphorus).to_have_attribute("data-status", "met")
    saved(page)
    cheese.press("Control+z")
    expect(cheese).to_have_value("1/4 cup")
    expect(phosphorus).to_have_attribute("data-status", "short")
    page.keyboard.press("Control+Shift+z")
    expect(phosphorus).to_have_attribute("data-status", "met")
    saved(page)
    page.reload()
    expect(cheese).to_have_value("2 cups")
    expect(phosphorus).to_have_attribute("data-status", "met")


def test_build_a_recipe_without_the_mouse(signed_in: Page) -> None:
    page = signed_in
    empty_bench(page, "Rowan")
    page.keyboard.press("/")
    page.keyboard.type("250 g chiken thigh")
    page.get_by_role("option", name=re.compile("Chicken thigh, meat only, raw")).wait_for()
    page.keyboard.press("Enter")
    amount = page.get_by_label(re.compile("Amount of Chicken thigh"))
    expect(amount).to_have_value("250 g")
    expect(amount).to_be_focused()
    add_line(page, "2 cups rice white cooked")
    expect(page.get_by_label(re.compile("Amount of Rice"))).to_have_value("2 cups")
    expect(page.get_by_role("row").nth(2)).to_contain_text("316")
    page.get_by_label(re.compile("Amount of Rice")).press("Alt+ArrowUp")
    expect(page.get_by_role("row").nth(1)).to_contain_text("Rice")
    page.get_by_label(re.compile("Amount of Rice")).press("Escape")
    page.get_by_label(re.compile("Amount of Rice")).blur()
    page.keyboard.press("g")
    expect(page.locator("[data-board]:focus")).to_have_attribute("data-status", "short")
    saved(page)


def test_remove_and_bring_back(signed_in: Page) -> None:
    page = signed_in
    empty_bench(page, "Hazel")
    add_line(page, "100 g beef liver raw")
    add_line(page, "carrot raw")
    page.get_by_role("button", name="Remove Beef liver, raw").click()
    expect(page.get_by_label("Amount of Beef liver, raw")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label("Amount of Beef liver, raw")).to_have_value("100 g")
    saved(page)


def test_a_bad_amount_says_what_to_do_and_loses_nothing(signed_in: Page) -> None:
    page = signed_in
    empty_bench(page, "Aspen")
    add_line(page, "100 g beef liver raw")
    saved(page)
    amount = page.get_by_label("Amount of Beef liver, raw")
    for text, says in (
        ("-5 g", "above zero"),
        ("5 furlongs", "use one of"),
        ("plenty", "cannot read"),
    ):
        amount.fill(text)
        expect(page.get_by_role("alert")).to_contain_text(says)
        expect(page.locator("[data-board]").first).to_be_visible()
    # What was typed is still there after a reload, with what is wrong; what is stored is one undo away.
    page.reload()
    expect(amount).to_have_value("plenty")
    expect(page.get_by_role("alert")).to_contain_text("cannot read")
    expect(page.get_by_test_id("save-state")).to_have_text("1 change not saved: see where")
    amount.press("Control+z")
    expect(amount).to_have_value("100 g")
    saved(page)


def test_drawer_opens_a_figure(signed_in: Page) -> None:
    page = signed_in
    open_case(page, "Alder")
    board(page, "Calcium").click()
    detail = page.get_by_role("complementary", name="Calcium")
    expect(detail).to_contain_text("Short by")
    expect(detail).to_contain_text("not yet checked against the publication")
    expect(detail).to_contain_text("Beef, ground 85/15, raw")
    detail.get_by_text("How it is computed").click()
    expect(detail).to_contain_text("batch / kcal of the batch x 1000")


def test_standard_and_basis_can_be_switched(signed_in: Page) -> None:
    page = signed_in
    open_case(page, "Bramble")
    page.get_by_role("button", name=re.compile("^Looked at by NRC 2006")).click()
    page.get_by_role("combobox", name="Standard and life stage").click()
    page.get_by_role("option", name="AAFCO 2016, Adult maintenance").click()
    page.get_by_role("combobox", name="Basis").click()
    page.get_by_role("option", name="per day").click()
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name=re.compile("AAFCO 2016.*per day"))).to_be_focused()
    expect(board(page, "Calcium : phosphorus")).to_be_visible()
    expect(page.get_by_role("columnheader", name="/day")).to_be_visible()


def test_two_people_on_one_recipe_choose(signed_in: Page) -> None:
    page = signed_in
    empty_bench(page, "Willow")
    add_line(page, "100 g beef liver raw")
    saved(page)
    other = page.context.new_page()
    other.goto(page.url)
    other.get_by_label("Amount of Beef liver, raw").fill("150 g")
    saved(other)
    page.get_by_label("Amount of Beef liver, raw").fill("120 g")
    # Both texts side by side, in the line; the number beside each takes it.
    row = page.get_by_role("row", name=re.compile("Beef liver, raw"))
    expect(row.get_by_role("alert")).to_contain_text("was changed elsewhere too")
    expect(row.get_by_role("button", name="Take theirs: 150 g")).to_be_visible()
    expect(page.get_by_test_id("save-state")).to_have_text("1 change not saved: see where")
    row.get_by_role("button", name="Keep mine: 120 g").press("1")
    saved(page)
    other.reload()
    expect(other.get_by_label("Amount of Beef liver, raw")).to_have_value("120 g")


def sheet_of(page: Page) -> Page:
    """The kitchen sheet of the recipe on the bench."""
    expect(page.get_by_text("Saved", exact=True)).to_be_visible()
    with page.expect_popup() as opened:
        page.get_by_role("link", name="Sheet", exact=True).click()
    return opened.value


def test_sheet_fits_one_page_and_carries_the_caution(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    open_case(page, "Bramble")
    sheet = sheet_of(page)
    expect(sheet.get_by_role("heading", name="Bramble: Owner's beef and potato")).to_be_visible()
    expect(sheet.get_by_text("Draft, not kept as a version")).to_be_visible()
    # 260 g of beef for two days in two meals a day.
    row = sheet.get_by_role("row", name=re.compile("Beef, ground 80"))
    expect(row).to_contain_text("260")
    expect(row).to_contain_text("130")
    expect(row).to_contain_text("65")
    expect(sheet.get_by_text("attending veterinarian has approved")).to_be_visible()
    expect(sheet.get_by_text("Short:")).to_be_visible()
    assert axe(sheet) == []
    pdf = page.request.get(sheet.url + ".pdf").body()
    pages = pypdf.PdfReader(io.BytesIO(pdf)).pages
    assert len(pages) == 1
    assert "attending veterinarian has approved" in pages[0].extract_text()


def test_sheet_says_what_the_dog_reacts_to(signed_in: Page) -> None:
    page = signed_in
    open_case(page, "Clover")
    expect(page.get_by_role("list", name="Cautions")).to_contain_text("reacts to chicken")
    caution = sheet_of(page).get_by_role("listitem").filter(has_text="The dog reacts")
    expect(caution).to_contain_text("Chicken liver, simmered. The dog reacts")


def test_a_version_is_kept_shared_read_and_taken_back(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    open_case(page, "Bramble")
    page.get_by_role("radio", name="Versions").click()
    page.get_by_label("Name of the version to keep").fill("for Maren")
    page.get_by_role("button", name="Keep").click()
    expect(page.get_by_text(re.compile(r"^Kept as version \d+\.$"))).to_be_visible()
    page.get_by_role("button", name="Share for Maren").click()
    page.get_by_role("button", name="Make a link").click()
    expect(page.get_by_text("Say for whom")).to_be_visible()
    page.get_by_label("For whom").fill("the owner")
    page.get_by_label("Days it opens").fill("7")
    assert axe(page) == []
    with page.expect_response(re.compile(r"/links$")) as made:
        page.get_by_role("button", name="Make a link").click()
    path = made.value.json()["path"]
    expect(page.get_by_role("list", name="Links")).to_contain_text("the owner, open until")
    # The owner opens it on a phone, without an account.
    assert page.context.browser is not None
    phone = page.context.browser.new_context(viewport={"width": 390, "height": 844}).new_page()
    address = page.url.split("/cases/")[0] + path
    phone.goto(address)
    expect(phone.get_by_text(re.compile(r"Version \d+, for Maren"))).to_be_visible()
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390
    assert axe(phone) == []
    page.get_by_role("button", name="Take back the link for the owner").click()
    expect(page.get_by_role("list", name="Links")).to_contain_text("taken back on")
    phone.reload()
    expect(phone.get_by_role("heading", name="This link is closed")).to_be_visible()
    page.keyboard.press("Escape")
    go_to(page, "History")
    expect(page.get_by_text("The link to the sheet was opened")).to_be_visible()
    expect(page.get_by_text("link for the owner", exact=True)).to_be_visible()


def test_a_line_is_dragged_and_put_back(signed_in: Page) -> None:
    page = signed_in
    open_case(page, "Alder")
    amounts = page.locator("[data-line]")
    before = [a.get_attribute("aria-label") for a in amounts.all()]
    first, third = (page.get_by_title("Drag, or Alt").nth(i).bounding_box() for i in (0, 2))
    assert first is not None and third is not None
    page.mouse.move(first["x"] + 5, first["y"] + 8)
    page.mouse.down()
    page.mouse.move(first["x"] + 5, first["y"] + 20, steps=4)
    page.mouse.move(third["x"] + 5, third["y"] + 8, steps=10)
    page.mouse.up()
    moved = [before[1], before[2], before[0]]
    for i, label in enumerate(moved):
        expect(amounts.nth(i)).to_have_attribute("aria-label", label or "")
    page.keyboard.press("Control+z")
    for i, label in enumerate(before):
        expect(amounts.nth(i)).to_have_attribute("aria-label", label or "")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")


def test_the_table_sorts_by_what_is_clicked_and_back(signed_in: Page) -> None:
    page = signed_in
    open_case(page, "Bramble")
    page.get_by_role("radio", name="Table").click()
    table = page.get_by_role("table").first
    names = table.locator("tbody td:first-child")
    worst_first = names.all_inner_texts()
    head = table.get_by_role("columnheader", name="Nutrient")
    head.get_by_role("button").click()
    expect(head).to_have_attribute("aria-sort", "ascending")
    assert names.all_inner_texts() == sorted(worst_first, key=str.lower)
    # Unknown is not small: what has no maximum stands last, whichever way it is sorted.
    most = table.get_by_role("columnheader", name="max", exact=True)
    for order in ("descending", "ascending"):
        most.get_by_role("button").click()
        expect(most).to_have_attribute("aria-sort", order)
        column = table.locator("tbody td:nth-child(5)").all_inner_texts()
        known = [c for c in column if c != "–"]
        assert column == known + ["–"] * (len(column) - len(known)) and known
    most.get_by_role("button").click()
    assert names.all_inner_texts() == worst_first


def test_the_palette_goes_anywhere(signed_in: Page, axe: Callable[[Page], list[str]]) -> None:
    page = signed_in
    page.keyboard.press("Control+k")
    page.get_by_label("Where to go").fill("bram targ")
    expect(page.get_by_role("option")).to_have_count(1)
    assert axe(page) == []
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Bramble")).to_be_visible()
    expect(page.get_by_role("heading", name="Requirement set")).to_be_visible()
    page.keyboard.press("Control+k")
    page.get_by_label("Where to go").fill("bram check")
    page.keyboard.press("Enter")
    expect(page.get_by_role("complementary", name="The way out")).to_be_visible()
    page.keyboard.press("Control+k")
    page.get_by_label("Where to go").fill("nowhere at all")
    expect(page.get_by_text("Nothing is called that.")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)


def test_the_command_line_adds_foods_and_moves_ends(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    new_case(page, "Larch", "16")
    add_line(page, "300 g chicken breast, raw")
    line = page.get_by_label("Where to go")
    first = page.get_by_role("option").first
    page.keyboard.press("Control+k")
    line.fill("white rice cooked 150 g")
    expect(first).to_contain_text("150 g Rice, white")
    assert axe(page) == []
    page.keyboard.press("Enter")
    # Its amount has the focus, as when it was found in the box below.
    amount = page.get_by_label(re.compile("Amount of Rice, white"))
    expect(amount).to_have_value("150 g")
    expect(amount).to_be_focused()
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    page.reload()
    # It was done once.
    expect(amount).to_have_count(1)
    page.keyboard.press("Control+k")
    line.fill("sod")
    expect(first).to_contain_text("Sodium on the wall")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Sodium")).to_be_visible()
    page.keyboard.press("Control+k")
    line.fill("sodium below 1,200")
    expect(page.get_by_role("dialog").get_by_role("alert")).to_contain_text("1200 or 1.200")
    line.fill("sodium below 0.5 g")
    expect(first).to_contain_text("Sodium at most 500 mg per 1000 kcal")
    page.keyboard.press("Enter")
    # A limit is not moved without a reason and a name.
    value = page.get_by_label("New bound of Sodium per 1000 kcal")
    expect(value).to_have_value("500")
    expect(value).to_be_focused()
    page.get_by_label("Who decides on Sodium").fill("Dr Asp")
    page.get_by_label("Reason for Sodium").fill("as the vet asked")
    page.get_by_role("button", name="Set", exact=True).click()
    expect(page.get_by_text("Decided by Dr Asp: as the vet asked")).to_be_visible()


def test_axe_finds_nothing_serious(signed_in: Page, axe: Callable[[Page], list[str]]) -> None:
    page = signed_in
    assert axe(page) == []
    open_case(page, "Clover")
    board(page, "Calcium").click()
    expect(page.get_by_role("complementary", name="Calcium")).to_contain_text("Minimum")
    assert axe(page) == []
    page.get_by_role("button", name="Dark theme").click()
    assert axe(page) == []
    go_to(page, "Energy")
    expect(page.get_by_role("heading", name="Energy and targets")).to_be_visible()
    assert axe(page) == []


def test_saved_is_not_said_while_a_newer_change_waits(signed_in: Page) -> None:
    page = signed_in
    empty_bench(page, "Bracken")
    add_line(page, "100 g beef liver raw")
    saved(page)
    held: list[Route] = []

    def slow(route: Route) -> None:
        if route.request.method == "PATCH" and not held:
            held.append(route)  # the first save is kept on its way
        else:
            route.continue_()

    page.route("**/api/recipes/*", slow)
    amount = page.get_by_label("Amount of Beef liver, raw")
    with page.expect_request(lambda request: request.method == "PATCH"):
        amount.fill("110 g")
    expect(page.get_by_test_id("save-state")).to_have_text("Saving…")
    amount.fill("120 g")
    expect(amount).to_have_value("120 g")
    held[0].continue_()
    # The save of 110 g comes back while 120 g waits; only then that one is sent, against its version.
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.reload()
    expect(amount).to_have_value("120 g")


def test_an_undo_while_the_save_is_on_its_way_is_saved_too(signed_in: Page) -> None:
    page = signed_in
    open_case(page, "Alder")
    line = page.locator("[data-line='0']")
    before = line.input_value()
    held: list[Route] = []

    def hold(route: Route) -> None:
        if route.request.method == "PATCH" and not held:
            held.append(route)
        else:
            route.continue_()

    page.route("**/api/recipes/*", hold)
    with page.expect_request(lambda request: request.method == "PATCH"):
        line.fill("77 g")
    expect(page.get_by_test_id("save-state")).to_have_text("Saving…")
    page.get_by_role("button", name="Undo").click()
    expect(line).to_have_value(before)
    held[0].continue_()
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    page.unroute("**/api/recipes/*")
    page.reload()
    expect(page.locator("[data-line='0']")).to_have_value(before)


def test_what_is_felt_can_be_measured(machine: Any, browser: Browser) -> None:
    """The way of `./wainscot bench browser` through the pages, with few keys; nothing shifts when the first page comes."""
    found = measured(browser, machine.address, keys=2, starts=1)
    assert found["key_to_wall"]["p50_ms"] > 0 and found["empty_repaint"]["p50_ms"] > 0
    assert found["first_page"]["sent_kb"] < 250 and found["first_page"]["layout_shift"] < 0.02
