"""Signing in, first start, energy, another's case."""

import gzip
import re
import urllib.request
from collections.abc import Callable

from playwright.sync_api import Page, expect
from steps import PATIENCE, go_in, go_to, new_case, open_dog


def test_wrong_password_is_said(page: Page, demo: str) -> None:
    page.goto(demo)
    page.get_by_label("Name").fill("demo")
    page.get_by_label("Password").fill("wrong")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("alert")).to_contain_text("do not belong together")


def test_first_start_asks_for_practice_and_user(
    page: Page, fresh: str, axe: Callable[[Page], list[str]]
) -> None:
    page.goto(fresh)
    page.get_by_label("Practice").fill("New Practice")
    page.get_by_label("Your name for signing in").fill("ida")
    page.get_by_label("Password").fill("short")
    page.get_by_role("button", name="Start").click()
    expect(page.get_by_role("alert")).to_contain_text("too short")
    page.get_by_label("Password").fill("oak-linen-rail-7")
    page.get_by_role("button", name="Start").click()
    # What a practice sets up first, each a peg on the rail; nothing has to be.
    beginning = page.get_by_role("region", name="Before the first dog")
    expect(page.get_by_text("New Practice")).to_be_visible()
    beginning.get_by_role("link", name="Say what stands there").click()
    expect(page.get_by_text("What stands on your shelf?")).to_be_visible()
    go_in(page, "Cases")
    page.get_by_role("link", name="say what stands on your shelf").click()
    page.get_by_role("button", name="Nothing for now").press("Enter")
    expect(beginning.get_by_role("heading", name=re.compile("^Your shelf ?, done"))).to_be_visible()
    beginning.get_by_role("link", name="Write it").click()
    page.get_by_label("Address", exact=True).fill("4 Hazel Yard")
    page.get_by_label("Telephone").fill("012 3456")
    page.get_by_label("Web address").focus()
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    assert axe(page) == []
    go_in(page, "Desk")
    expect(beginning).to_contain_text("4 Hazel Yard · 012 3456")
    assert axe(page) == []
    # A dog to try: her bowl is on the bench, and she is no beginning any more.
    beginning.get_by_role("button", name="Try Pebble").click()
    expect(page.get_by_label("Amount of Chicken thigh, meat only, roasted")).to_have_value("140 g")
    # She is taken through by the hand; the guide is left, and taken up again where she is.
    guide = page.get_by_role("region", name="Guide")
    expect(guide).to_contain_text("Build the recipe.")
    expect(guide).to_contain_text("Still to do here: ")
    guide.get_by_role("link", name=re.compile("^Set the energy, ")).click()
    expect(guide).to_contain_text("Set the energy. The line through all published methods")
    assert axe(page) == []
    guide.get_by_role("button", name="Leave the guide").click()
    expect(guide).to_have_count(0)
    again = page.get_by_role("button", name="Guide me")
    expect(again).to_be_focused()
    again.press("Enter")
    expect(guide).to_contain_text("Set the energy.")
    expect(guide).to_be_focused()
    go_in(page, "Desk")
    expect(beginning).to_have_count(0)
    expect(page.get_by_role("link", name="say what stands on your shelf")).to_have_count(0)


def test_energy_is_changed_and_the_bench_follows(signed_in: Page) -> None:
    page = signed_in
    open_dog(page, "Clover")
    go_to(page, "Energy")
    page.get_by_label("Body weight, kg").fill("200")
    page.keyboard.press("Tab")
    expect(page.get_by_role("alert")).to_contain_text("not a body weight of a dog")
    page.get_by_label("Body weight, kg").fill("29")
    page.get_by_label("Multiplier of RER").fill("1.4")
    page.keyboard.press("Tab")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    page.get_by_role("link", name="Rabbit and sweet potato").first.click()
    # 1.4 x 70 x 29^0.75 = 1225
    expect(page.get_by_test_id("energy")).to_contain_text("of 1225 kcal/day")


def test_the_line_of_the_energy_scale_is_moved_by_keys_and_dragged(signed_in: Page) -> None:
    page = signed_in
    new_case(page, "Scale", "16", bench=False)
    go_to(page, "Energy")
    page.get_by_label("Multiplier of RER").fill("1.25")
    page.keyboard.press("Tab")
    line = page.get_by_role("slider", name="Energy target")
    # 16^0.75 = 8; 70 x 8 x 1.25 = 700 kcal, 87.5 for each.
    expect(line).to_have_attribute("aria-valuetext", "700 kcal a day, 88 kcal per kg^0.75")
    # Each key goes on from the one before it, whether or not that is stored by then.
    line.press("PageUp")
    line.press("PageUp")
    line.press("ArrowLeft")
    expect(line).to_have_attribute("aria-valuetext", "795 kcal a day, 99 kcal per kg^0.75")
    expect(page.get_by_label("kcal a day")).to_have_value("795")
    expect(page.get_by_label("Why this figure")).to_have_value("set by hand on the scale")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    expect(line).to_have_attribute("aria-valuenow", "795")
    page.get_by_role("button", name="Undo", exact=False).first.click()
    expect(line).to_have_attribute("aria-valuenow", "800")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    box = line.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 30, y, steps=3)
    # What it would be is written at the line; the box follows when it is let go.
    expect(line).not_to_have_attribute("aria-valuenow", "800")
    expect(page.get_by_label("kcal a day")).to_have_value("800")
    there = int(line.get_attribute("aria-valuenow") or 0)
    page.mouse.up()
    assert there > 800
    expect(page.get_by_label("kcal a day")).to_have_value(str(there))
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")


def test_what_is_open_is_asked_one_by_one(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    page.get_by_role("button", name="New case").click()
    page.get_by_label("In one line").fill("Sedge, 8 y FS, 9 kg, BCS 5, MMVD B2, owner Ola Krag")
    page.get_by_label("In one line").press("Enter")
    expect(page.get_by_role("button", name="Create")).to_be_focused()
    page.keyboard.press("Enter")
    ask = page.get_by_role("region", name="Ask next")
    # Of a dog with a failing heart muscle and medicines come first, each with what hangs on it.
    expect(ask).to_contain_text("How much muscle is lost")
    expect(ask).to_contain_text("protein must not be cut")
    assert axe(page) == []
    ask.get_by_role("button").first.press("2")
    expect(page.get_by_role("combobox", name="Muscle condition")).to_contain_text("mild")
    expect(ask).to_contain_text("Which medicines and supplements are given?")
    # The keys go on; what has to be written is written in its place.
    expect(ask.get_by_role("button").first).to_be_focused()
    page.keyboard.press("e")
    expect(page.get_by_label("Medicines and supplements, Name, row 1")).to_be_focused()
    page.keyboard.type("pimobendan")
    ask.get_by_role("button").first.press("1")
    expect(ask).to_contain_text("Who is the attending vet?")
    page.keyboard.press("l")
    expect(ask).to_contain_text("What does the dog eat now")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    page.reload()
    expect(page.get_by_label("Medicines and supplements, Name, row 1")).to_have_value("pimobendan")
    expect(ask).to_contain_text("Who is the attending vet?")


def test_the_dog_is_the_index_of_what_is_known_and_open(
    signed_in: Page, axe: Callable[[Page], list[str]]
) -> None:
    page = signed_in
    new_case(page, "Saxifrage", "11", bench=False)
    around = page.get_by_role("region", name="What is known of the dog")
    ask = page.get_by_role("region", name="Ask next")
    # What is open is asked below, and a key answers it; then it stands at the dog.
    around.get_by_role("button", name=re.compile(r"^vomiting ?, open")).click()
    expect(ask).to_contain_text("Does the dog vomit")
    expect(ask.get_by_role("button").first).to_be_focused()
    page.keyboard.press("1")
    expect(
        around.get_by_role("button", name=re.compile(r"^vomiting: never ?, known"))
    ).to_be_visible()
    expect(page.get_by_label("Vomiting", exact=True)).to_have_value("never")
    # What is known is gone to.
    around.get_by_role("button", name=re.compile(r"^11\.0 kg ?, known")).click()
    expect(page.get_by_label("Weight, kg", exact=True)).to_be_focused()
    # One Tab stop: arrows go from line to line.
    around.get_by_role("button").first.focus()
    page.keyboard.press("End")
    page.keyboard.press("Enter")
    expect(ask).to_contain_text("under 5, over 65, pregnant")
    page.keyboard.press("1")
    expect(
        around.get_by_role("button", name=re.compile(r"^nobody weak at home ?, known"))
    ).to_be_visible()
    # The drawn dog is as full as its condition.
    before = around.locator("[data-view=above] path").first.get_attribute("d")
    page.get_by_label("8 of 9").check(force=True)
    expect(around.locator("[data-view=above] path").first).not_to_have_attribute("d", before or "")
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")
    assert axe(page) == []


def test_an_unknown_case_says_so(signed_in: Page, demo: str) -> None:
    signed_in.goto(f"{demo}/cases/99999")
    expect(signed_in.get_by_role("alert")).to_be_visible()


def test_the_first_page_is_small_as_it_is_sent(demo: str) -> None:
    """Every script and style the first page names, as the server sends it to a browser."""

    def sent(path: str) -> bytes:
        asked = urllib.request.Request(demo + path, headers={"Accept-Encoding": "gzip"})  # noqa: S310
        with urllib.request.urlopen(asked, timeout=PATIENCE / 1000) as answer:  # noqa: S310
            found = bytes(answer.read())
            # What is tiny is sent as it is.
            assert len(found) < 1000 or answer.headers["Content-Encoding"] == "gzip", path
            return found

    page = sent("/")
    page = gzip.decompress(page) if page[:2] == b"\x1f\x8b" else page
    named = re.findall(r'(?:src|href)="(/assets/[^"]+)"', page.decode())
    assert len(named) > 3
    assert sum(len(sent(path)) for path in named) < 250_000
