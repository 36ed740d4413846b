"""The owner's own sheet, through the API: nothing of the record goes out with it, and nothing it says counts before somebody
looked at it."""

from datetime import timedelta
from typing import Any

from desk.models import DeskItem
from desk.refresh import refresh
from django.test import Client as Browser
from django.utils import timezone
from events.models import Event
from interview.models import SentSheet, SheetLink
from outbox.models import Mail


def give(office: Any, **more: Any) -> Any:
    return office.send("post", f"cases/{office.case.pk}/sheet-links", more)


def send(path: str, key: str = "sheet-keyed-1", **answers: Any) -> Any:
    said = [{"id": name.replace("_", "-"), **answer} for name, answer in answers.items()]
    return Browser(enforce_csrf_checks=True).post(
        f"/api{path}", {"key": key, "answers": said}, content_type="application/json"
    )


def sheets(office: Any) -> Any:
    return office.get(f"cases/{office.case.pk}/sheets").json()


def intake(office: Any) -> Any:
    return office.get(f"cases/{office.case.pk}/intake").json()


def marks(office: Any, place: str) -> list[tuple[str, str]]:
    at = [s for s in intake(office)["stations"] if s["place"] == place]
    return [(x["mark"], x["words"]) for s in at for x in s["lines"]]


def test_an_owner_reads_questions_and_nothing_of_the_record(office: Any) -> None:
    office.change(dog__breed="Secret Hound", notes="not for the owner")
    path = give(office).json()["path"]
    page = Browser().get(f"/api{path}")
    assert set(page.json()) == {"dog", "practice", "owner", "sent", "questions", "conventions"}
    assert b"Secret" not in page.content and b"not for the owner" not in page.content
    assert page.json()["sent"] is None
    by_id = {q["id"]: q for q in page.json()["questions"]}
    assert by_id["medicines"]["chosen"] == ["none"] and not by_id["medicines"]["plain"]
    assert by_id["weak"]["chosen"] == ["yes", "no"] and by_id["weak"]["plain"]
    # Sent, and still nothing of it comes back by the address.
    answer = send(path, stool={"words": "soft since Sunday"})
    assert answer.status_code == 201 and answer.json()["sent"] is not None
    assert b"soft since" not in answer.content


def test_what_she_writes_waits_at_its_place_and_counts_for_nothing(office: Any) -> None:
    before = office.get(f"cases/{office.case.pk}").json()
    path = give(office).json()["path"]
    sent = send(
        path, stool={"words": "soft since Sunday"}, age={"words": "9 years"}, weak={"chosen": "yes"}
    )
    assert sent.status_code == 201, sent.json()
    after = office.get(f"cases/{office.case.pk}").json()
    assert after["dog"] == before["dog"] and after["intake"] == before["intake"]
    assert ("told", "stools: soft since Sunday") in marks(office, "gut")
    pieces = {p["id"]: p for p in sheets(office)[0]["pieces"]}
    assert pieces["age"]["changes"] == [
        {"path": "dog.age_months", "value": "9 years", "was": before["dog"]["age_months"]}
    ]
    assert pieces["weak"]["says"] == "yes" and pieces["weak"]["settled"] == ""


def test_what_was_taken_is_in_the_record_and_waits_no_more(office: Any) -> None:
    path = give(office).json()["path"]
    send(
        path, stool={"words": "soft"}, vet={"words": "Dr Lind"}, more={"words": "afraid of thunder"}
    )
    sheet = sheets(office)[0]
    piece = next(p for p in sheet["pieces"] if p["id"] == "stool")
    # Taking it is a change of the case like any other, with what it was when it was looked at.
    changed = office.send("patch", f"cases/{office.case.pk}", {"changes": piece["changes"]})
    assert changed.status_code == 200, changed.json()
    settled = {"settled": {"stool": "taken", "more": "left"}}
    told = office.send("post", f"sheets/{sheet['id']}/settle", settled)
    assert told.status_code == 200
    assert {p["id"]: p["settled"] for p in told.json()[0]["pieces"]} == {
        "stool": "taken", "vet": "", "more": "left"
    }  # fmt: skip
    assert ("known", "stools: soft") in marks(office, "gut")
    assert not [m for m in marks(office, "gut") if m[0] == "told"]
    event = Event.objects.get(kind="sheet.settled")
    assert event.data["what"] == "stools, what else she says"
    # It waits again where it was a slip.
    again = office.send("post", f"sheets/{sheet['id']}/settle", {"settled": {"more": ""}})
    assert {p["id"]: p["settled"] for p in again.json()[0]["pieces"]}["more"] == ""
    refused = office.send("post", f"sheets/{sheet['id']}/settle", {"settled": {"age": "taken"}})
    assert refused.status_code == 400 and SentSheet.objects.get().settled == {"stool": "taken"}


def test_a_sheet_sent_twice_is_kept_once_and_a_wrong_one_not_at_all(office: Any) -> None:
    path = give(office).json()["path"]
    assert send(path, stool={"words": "soft"}).status_code == 201
    assert send(path, stool={"words": "soft"}).status_code == 201
    assert SentSheet.objects.count() == 1
    for wrong in (
        {},
        {"stool": {"words": "   "}},
        {"made_up": {"words": "x"}},
        {"age": {"chosen": "yes"}},
        {"stool": {"words": "x" * 1001}},
    ):
        assert send(path, "sheet-keyed-2", **wrong).status_code == 400, wrong
    assert SentSheet.objects.count() == 1
    assert send(path, "sheet-keyed-2", stool={"words": "firm again"}).status_code == 201
    assert len(sheets(office)) == 2


def test_an_address_is_sent_taken_back_and_runs_out(office: Any, rival: Any) -> None:
    assert give(office, days=0).status_code == 400 and give(office, days=61).status_code == 400
    assert give(office, send=True).status_code == 400
    client = office.case.dog.client
    client.email = "owner@example.org"
    client.save()
    made = give(office, send=True)
    assert made.status_code == 201
    path = made.json()["path"]
    mail = Mail.objects.latest("pk")
    assert mail.link == path and office.case.dog.name in mail.subject
    assert Browser().get(f"/api/diary/{path.rpartition('/')[2]}").status_code == 404
    assert rival.send("delete", f"sheet-links/{made.json()['id']}").status_code == 404
    assert office.send("delete", f"sheet-links/{made.json()['id']}").status_code == 200
    shut = send(path, stool={"words": "soft"})
    assert shut.status_code == 400 and "was taken back" in shut.json()["error"]["message"]
    other = give(office).json()["path"]
    SheetLink.objects.update(revoked=None, expires=timezone.now() - timedelta(minutes=1))
    assert "has run out" in Browser().get(f"/api{other}").json()["error"]["message"]
    assert SentSheet.objects.count() == 0


def test_another_practice_sees_no_sheet(office: Any, rival: Any) -> None:
    send(give(office).json()["path"], stool={"words": "soft"})
    pk = SentSheet.objects.get().pk
    assert rival.browser.get(f"/api/cases/{office.case.pk}/sheets").status_code == 404
    refused = rival.send("post", f"sheets/{pk}/settle", {"settled": {"stool": "left"}})
    assert refused.status_code == 404 and SentSheet.objects.get().settled == {}
    assert "told" not in {x["mark"] for s in intake(rival)["stations"] for x in s["lines"]}


def due(office: Any) -> list[tuple[str, str, str]]:
    office.case.refresh_from_db()
    refresh(office.case)
    items = DeskItem.objects.filter(case=office.case, kind="sheet")
    return [(x.holder, x.what, x.why) for x in items]


def test_the_desk_says_who_holds_the_sheet(office: Any) -> None:
    assert due(office) == []
    path = give(office).json()["path"]
    asked = due(office)
    assert [x[:2] for x in asked] == [("owner", f"Fill the sheet about {office.case.dog.name} in")]
    client = office.case.dog.client
    client.email = "owner@example.org"
    client.save()
    reminded = office.send("post", f"cases/{office.case.pk}/due-reminded", {"kind": "sheet"})
    assert reminded.status_code == 200 and Mail.objects.latest("pk").link == path
    send(path, stool={"words": "soft"}, age={"words": "9 years"})
    assert due(office) == [
        ("practice", "Look through the owner’s sheet", "2 answers wait: none of it counts before")
    ]
    sheet = sheets(office)[0]["id"]
    office.send("post", f"sheets/{sheet}/settle", {"settled": {"stool": "left"}})
    assert due(office)[0][2].startswith("1 answer waits")
    office.send("post", f"sheets/{sheet}/settle", {"settled": {"age": "taken"}})
    # She has answered: nothing is asked of her again by the same address.
    assert due(office) == []
