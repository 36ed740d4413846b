"""Script in every text that is typed: nothing of it runs, on any page, paper or drawer, and the page's own rules are not broken."""

import re
from typing import Any

from playwright.sync_api import ConsoleMessage, Page
from steps import enter, post

EVIL = '"><img src=x onerror="window.hurt=1"><script>window.hurt=1</script>{{7*7}}'
SHORT = "<img src=x onerror=window.hurt=1>"


def patch(page: Page, address: str, path: str, changes: dict[str, Any]) -> None:
    """Set fields by path, as they stand now."""
    stored = page.request.get(f"{address}/api/{path}").json()
    rows = []
    for where, value in changes.items():
        was: Any = stored
        for part in where.split("."):
            was = was[part]
        rows.append({"path": where, "value": value, "was": was})
    cookies = page.context.cookies(address)
    token = next(c["value"] for c in cookies if c["name"] == "csrftoken")
    said = page.request.patch(
        f"{address}/api/{path}",
        data={"changes": rows},
        headers={"X-CSRFToken": token, "Referer": address},
    )
    assert said.ok, said.text()


def test_nothing_that_was_typed_runs(page: Page, machine: Any) -> None:
    # On data of its own: other tests look at the first case there is.
    demo = machine.address
    enter(page.request, demo)
    problems: list[str] = []

    def heard(message: ConsoleMessage) -> None:
        if message.type == "error" and "status of 4" not in message.text:
            problems.append(message.text)

    page.on("console", heard)
    page.on("dialog", lambda dialog: (problems.append(dialog.message), dialog.dismiss()))

    made = post(
        page.request, demo, "cases", {"client_name": SHORT, "dog_name": SHORT, "weight_kg": 12}
    )
    assert made.ok, made.text()
    case = made.json()
    at = f"cases/{case['id']}"
    patch(page, demo, at, {"title": EVIL, "notes": EVIL, "dog.breed": SHORT})
    started = post(page.request, demo, f"{at}/recipes", {"name": SHORT})
    assert started.ok, started.text()
    recipe = started.json()["id"]
    line = {"food": "usda:05062", "quantity": "100 g", "note": SHORT}
    patch_line = {"path": "lines.k1", "value": line, "was": None}
    cookies = page.context.cookies(demo)
    token = next(c["value"] for c in cookies if c["name"] == "csrftoken")
    said = page.request.patch(
        f"{demo}/api/recipes/{recipe}", data={"changes": [patch_line]},
        headers={"X-CSRFToken": token, "Referer": demo},
    )  # fmt: skip
    assert said.ok, said.text()
    for path, body in (
        (
            f"{at}/follow-entries",
            {"key": "evil-day-1", "entry": {"date": "2026-01-02", "note": EVIL}},
        ),
        ("own-foods", {"name": SHORT, "ingredients": EVIL, "values": {"ENERC": 100}}),
        (f"recipes/{recipe}/versions", {"name": SHORT}),
        ("invitations", {"email": "evil@example.org", "role": "assistant"}),
    ):
        said = post(page.request, demo, path, body)
        assert said.status < 500, said.text()

    # What an owner sends, from outside.
    sheet = post(page.request, demo, f"{at}/sheet-links", {"days": 3}).json()["path"]
    answers = [{"id": "stool", "words": EVIL}, {"id": "eats", "words": SHORT}]
    said = post(page.request, demo, sheet[1:], {"key": "evil-sheet-1", "answers": answers})
    assert said.status == 201, said.text()

    places = [
        "/",
        sheet,
        "/cases?words=img",
        "/library",
        "/shelf",
        "/outbox",
        "/issued",
        "/people",
        "/audit",
        "/practice",
        "/installation",
    ]
    places += [
        f"/{at}/{step}"
        for step in (
            "intake",
            "energy",
            "targets",
            "plan",
            "checks",
            "follow",
            "kitchen",
            "history",
        )
    ]
    places += [
        f"/{at}/recipes/{recipe}",
        f"/{at}/recipes/{recipe}/bring",
        f"/clients/{case['client']['id']}",
    ]
    places += [
        f"/papers/recipes/{recipe}/sheet", f"/papers/recipes/{recipe}/verdict", f"/papers/recipes/{recipe}/shopping",
        f"/papers/{at}/intake",
    ]  # fmt: skip
    for place in places:
        page.goto(f"{demo}{place}")
        page.wait_for_load_state("networkidle")
        assert page.evaluate("window.hurt") is None, place
        assert page.locator("img[src='x']").count() == 0, place
    # What opens over a page.
    page.goto(f"{demo}/{at}/recipes/{recipe}")
    page.wait_for_load_state("networkidle")
    page.keyboard.press("Control+k")
    page.keyboard.type("img")
    page.wait_for_load_state("networkidle")
    page.keyboard.press("Escape")
    for name in (re.compile("^Versions"), re.compile("^Buy"), re.compile("^Compare")):
        button = page.get_by_role("button", name=name)
        if button.count():
            button.first.click()
            page.wait_for_load_state("networkidle")
            page.keyboard.press("Escape")
    assert page.evaluate("window.hurt") is None
    assert problems == []
