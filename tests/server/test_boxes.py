"""Boxes, labels and the calendar of a batch, as the practice and an owner get them."""

import io
from datetime import date, timedelta
from typing import Any

import pypdfium2
import pytest
import zxingcpp
from cooking import all_entries, keep, link, put
from django.test import Client as Browser
from django.utils import timezone
from icalendar import Calendar
from kitchen.models import Batch
from pypdf import PdfReader
from releasing import issue

SHEETS = {"a4-65": 65, "a4-21": 21, "a4-8": 8, "letter-30": 30, "letter-10": 10}


def boxes(office: Any, batch: Any, **more: str) -> Any:
    answer = office.browser.get(f"/api/batches/{batch['id']}/boxes", more)
    assert answer.status_code == 200, answer.content
    return answer.json()


def say(office: Any, batch: Any, start: date, gone: Any = (), version: int | None = None) -> Any:
    known = boxes(office, batch)["version"] if version is None else version
    body = {"feed_from": start.isoformat(), "gone": list(gone), "version": known}
    return office.send("post", f"batches/{batch['id']}/boxes", body)


def labels(office: Any, batch: Any, **more: Any) -> Any:
    return office.browser.get(f"/papers/batches/{batch['id']}/labels.pdf", more)


def issued_batch(office: Any, amount: int = 14) -> Any:
    issue(office)
    return keep(office, draft=False, amount=amount).json()


def test_every_meal_is_a_box(office: Any) -> None:
    batch = keep(office, amount=14).json()
    found = boxes(office, batch)
    assert len(found["boxes"]) == 28 and not found["said"]
    grams = sum(b["grams"] for b in found["boxes"])
    assert grams == pytest.approx(batch["plan"]["finished"]["grams"], abs=1)
    today = timezone.localdate()
    later = boxes(office, batch, **{"from": (today + timedelta(days=3)).isoformat()})
    assert later["boxes"][0]["eat_on"] == (today + timedelta(days=3)).isoformat()
    bad = office.browser.get(f"/api/batches/{batch['id']}/boxes", {"from": "soon"})
    assert bad.status_code == 400 and bad.json()["error"]["field"] == "feed_from"


def freezer(office: Any) -> Any:
    return office.get(f"cases/{office.case.pk}/freezer").json()


def test_what_is_left_is_told(office: Any) -> None:
    batch = keep(office, amount=5).json()
    today = timezone.localdate()
    assert say(office, batch, today - timedelta(days=1)).status_code == 400
    before = freezer(office)
    assert before["freezer"]["boxes"] == [] and before["batches"][0]["feed_from"] is None
    said = say(office, batch, today, gone=(3, 10))
    assert said.status_code == 200, said.json()
    found = freezer(office)
    # Ten meals, two gone: five are left of six in the fridge, three frozen; within the week it runs out.
    kept = found["freezer"]["boxes"]
    assert [b["number"] for b in kept] == [1, 2, 4, 5, 6, 7, 8, 9]
    assert sum(b["frozen"] for b in kept) == 3
    assert found["freezer"]["dogs"][0]["soon"] and found["freezer"]["dogs"][0]["meals"] == 8
    assert say(office, batch, today, gone=(11,)).status_code == 400
    assert say(office, batch, today, version=1).status_code == 409


def test_batches_of_a_household_are_one_stock(office: Any) -> None:
    """Two batches; the second is fed from when the first runs out. One that was thrown away is no stock."""
    today = timezone.localdate()
    one, two, bad = (keep(office, amount=4).json() for _ in range(3))
    assert say(office, one, today).status_code == 200
    assert say(office, two, today + timedelta(days=3)).status_code == 200
    assert say(office, bad, today).status_code == 200
    gone = {"reason": "left out overnight", "version": boxes(office, bad)["version"]}
    assert office.send("post", f"batches/{bad['id']}/thrown", gone).status_code == 200
    found = freezer(office)["freezer"]
    assert {b["batch"] for b in found["boxes"]} == {one["id"], two["id"]}
    assert len(found["boxes"]) == 16
    assert found["dogs"][0]["runs_out"] == (today + timedelta(days=7)).isoformat()


def test_the_owner_keeps_the_stock_too(office: Any, rival: Any) -> None:
    today = timezone.localdate()
    batch = issued_batch(office, amount=5)
    address = f"/api{link(office, batch).json()['path']}/boxes"
    stranger = Browser(enforce_csrf_checks=True)
    version = stranger.get(address).json()["batches"][0]["version"]
    body = {
        "batch": batch["id"],
        "boxes": {"feed_from": today.isoformat(), "gone": [10], "version": version},
    }
    found = stranger.post(address, body, content_type="application/json")
    assert found.status_code == 200, found.json()
    assert len(found.json()["freezer"]["boxes"]) == 9
    assert len(freezer(office)["freezer"]["boxes"]) == 9
    # The same once more is older than what is there; a batch of somebody else's is none of this household.
    assert stranger.post(address, body, content_type="application/json").status_code == 409
    issue(rival)
    other = {**body, "batch": keep(rival, draft=False).json()["id"]}
    refused = stranger.post(address, other, content_type="application/json")
    assert refused.status_code == 400 and refused.json()["error"]["field"] == "batch"
    events = Calendar.from_ical(stranger.get(f"{address[4:]}.ics").content).walk("VEVENT")
    assert any("Take out tonight" in str(e["SUMMARY"]) for e in events)
    assert stranger.get("/cook/nothing/boxes.ics").status_code == 404


@pytest.mark.parametrize("sheet", SHEETS)
def test_labels_of_every_size(office: Any, sheet: str) -> None:
    """Each box has a label; the pages are as many as they need with two places used up."""
    batch = issued_batch(office)
    put(office, batch, all_entries(batch))
    answer = labels(office, batch, sheet=sheet, first=2)
    assert answer.status_code == 200 and answer["Content-Type"] == "application/pdf"
    pages = PdfReader(io.BytesIO(answer.content)).pages
    assert len(pages) == -(-30 // SHEETS[sheet])
    text = "\n".join(page.extract_text() for page in pages)
    name = office.case.dog.name
    short = batch["code"].partition("-")[2]
    for n in (1, 28):
        assert f"{short}-{n}" in text
    assert text.count(name) >= 28
    if sheet in ("a4-8", "letter-10"):
        assert "In it:" in text and f"For {name} only" in text and "Thawed: 2 days" in text


def test_the_code_on_a_label_leads_to_its_batch(office: Any) -> None:
    """Drawn as a printer would, and read as a phone would: to our page, to the owner's once there is one."""
    batch = issued_batch(office, amount=2)
    assert read_codes(labels(office, batch).content) == {
        f"http://testserver/cook/batch/{batch['id']}"
    }
    path = link(office, batch).json()["path"]
    for sheet in SHEETS:
        found = read_codes(labels(office, batch, sheet=sheet).content)
        assert found == {f"http://testserver{path}"}


def read_codes(pdf: bytes) -> set[str]:
    page = pypdfium2.PdfDocument(pdf)[0]
    # 300 dots an inch.
    image = page.render(scale=300 / 72, grayscale=True).to_numpy()
    found = zxingcpp.read_barcodes(image)
    assert len(found) == 4
    return {code.text for code in found}


def test_a_label_says_what_is_not_known(office: Any) -> None:
    batch = issued_batch(office, amount=2)
    assert "NOT KNOWN WHETHER IT HOLDS" in words(labels(office, batch, sheet="a4-8"))
    assert "ASK FIRST" in words(labels(office, batch, sheet="a4-65"))
    put(office, batch, all_entries(batch))
    assert "NOT KNOWN" not in words(labels(office, batch, sheet="a4-8"))
    draft = keep(office).json()
    assert "DRAFT: NOT APPROVED" in words(labels(office, draft, sheet="a4-8"))


def words(answer: Any) -> str:
    text = PdfReader(io.BytesIO(answer.content)).pages[0].extract_text()
    return " ".join(str(text).split())


@pytest.mark.parametrize(
    "asked", [{"sheet": "a4-9"}, {"first": "65", "sheet": "a4-65"}, {"first": "x"}]
)
def test_a_sheet_that_is_none_is_told(office: Any, asked: Any) -> None:
    batch = keep(office).json()
    answer = labels(office, batch, **asked)
    assert answer.status_code == 400 and b"cannot be made" in answer.content


def test_nothing_is_labelled_that_was_thrown_away(office: Any) -> None:
    batch = keep(office).json()
    reason = {"reason": "left out overnight", "version": 1}
    assert office.send("post", f"batches/{batch['id']}/thrown", reason).status_code == 200
    assert labels(office, batch).status_code == 400


def test_the_calendar_of_a_household(office: Any) -> None:
    """Fed from today for 14 days, a day's boxes gone: ten evenings on which something is taken out, when to cook again, two
    last days."""
    batch = keep(office, amount=14).json()
    today = timezone.localdate()
    assert say(office, batch, today, gone=(7, 8)).status_code == 200
    answer = office.browser.get(f"/papers/cases/{office.case.pk}/freezer.ics")
    events = Calendar.from_ical(answer.content).walk("VEVENT")
    out = [e for e in events if "Take out" in str(e["SUMMARY"])]
    assert [e["DTSTART"].dt for e in out] == [today + timedelta(days=n) for n in range(2, 12)]
    again = next(e for e in events if "cook again" in str(e["SUMMARY"]))
    assert again["DTSTART"].dt == today + timedelta(days=12 - 6)
    last = sorted(e["DTSTART"].dt for e in events if "Last day" in str(e["SUMMARY"]))
    assert last == [today + timedelta(days=3), today + timedelta(days=56)]
    assert len({str(e["UID"]) for e in events}) == len(events)


def test_boxes_are_the_practices_own(office: Any, rival: Any) -> None:
    batch = keep(office).json()
    assert rival.get(f"batches/{batch['id']}/boxes").status_code == 404
    assert labels(rival, batch).status_code == 404
    assert rival.browser.get(f"/papers/cases/{office.case.pk}/freezer.ics").status_code == 404
    assert Batch.objects.get().feed_from is None
