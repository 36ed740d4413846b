"""The desk: what is due of all cases, worked out when they change, of one's own practice alone."""

from datetime import timedelta
from typing import Any

import pytest
from cases.actions import Owner, start_case_for
from desk.models import DeskFeed, DeskItem, StaleCase
from desk.refresh import AT_ONCE
from desk.stale import look_at_reference
from django.test import Client as Browser
from django.utils import timezone
from icalendar import Calendar
from outbox.models import Mail
from releasing import give_address, issue

RICE = "usda:20445"


def on(days: int) -> str:
    return (timezone.localdate() + timedelta(days=days)).isoformat()


def desk(office: Any) -> Any:
    return office.get("desk").json()


def rows(office: Any) -> Any:
    seen = desk(office)
    return [*seen["due"], *seen["coming"]]


def put(office: Any, key: str, **entry: Any) -> None:
    body = {"key": key, "entry": {"date": on(0), **entry}}
    assert office.send("post", f"cases/{office.case.pk}/follow-entries", body).status_code == 201


def test_a_draft_comes_in_a_week(office: Any) -> None:
    seen = desk(office)
    assert seen["due"] == [] and [r["case"] for r in seen["coming"]] == [office.case.pk]
    (thing,) = seen["coming"][0]["things"]
    assert thing["kind"] == "draft" and thing["on"] == on(7) and thing["recipe"] == office.recipe.pk


def test_what_is_put_down_is_on_the_desk_at_once(office: Any) -> None:
    desk(office)
    assert not StaleCase.objects.exists()
    put(office, "seen-today-1", signs=["swelling"])
    assert StaleCase.objects.count() == 1
    (row,) = desk(office)["due"]
    assert row["holder"] == "practice" and row["things"][0]["kind"] == "symptom"
    assert "swells" in row["things"][0]["why"] and row["things"][0]["late_days"] == 0


def test_what_was_done_leaves_the_desk(office: Any) -> None:
    put(office, "seen-today-2", signs=["blood"])
    assert desk(office)["due"]
    path = f"cases/{office.case.pk}/due-done"
    ahead = office.send("post", path, {"kind": "symptom", "on": on(1)})
    assert ahead.status_code == 400 and ahead.json()["error"]["field"] == "on"
    weighed = office.send("post", path, {"kind": "weigh", "on": on(0)})
    assert (
        weighed.status_code == 400 and "done where it is done" in weighed.json()["error"]["message"]
    )
    done = office.send("post", path, {"kind": "symptom", "on": on(0)})
    assert done.status_code == 200 and done.json()["due"] == []


def test_what_is_put_off_comes_again_with_its_reason(office: Any) -> None:
    path = f"cases/{office.case.pk}/due-put-off"
    said = {"kind": "draft", "until": on(10), "reason": "the owner is away"}
    desk(office)
    assert office.send("post", path, said).status_code == 200
    (row,) = desk(office)["coming"]
    thing = row["things"][0]
    assert (thing["on"], thing["shown_on"], thing["put_off"]) == (on(7), on(10), said["reason"])
    for wrong, field in (({"until": on(0)}, "until"), ({"reason": " "}, "reason"), ({"kind": "cook"}, "kind"), ({"kind": "symptom"}, "kind"), ({"until": on(400)}, "until")):  # fmt: skip
        refused = office.send("post", path, {**said, **wrong})
        assert refused.status_code == 400 and refused.json()["error"]["field"] == field, wrong


def test_what_was_said_last_is_taken_back(office: Any) -> None:
    put(office, "seen-today-3", signs=["blood"])
    at = f"cases/{office.case.pk}"
    before = desk(office)
    nothing = office.send("post", f"{at}/due-taken-back", {"kind": "symptom"})
    assert nothing.status_code == 400 and nothing.json()["error"]["field"] == "kind"
    assert (
        office.send("post", f"{at}/due-done", {"kind": "symptom", "on": on(0)}).json()["due"] == []
    )
    back = office.send("post", f"{at}/due-taken-back", {"kind": "symptom"})
    assert back.status_code == 200 and back.json() == before
    later = {"kind": "draft", "until": on(10), "reason": "the owner is away"}
    assert office.send("post", f"{at}/due-put-off", later).json() != before
    # What was said of another thing stays.
    assert (
        office.send("post", f"{at}/due-done", {"kind": "symptom", "on": on(0)}).status_code == 200
    )
    office.send("post", f"{at}/due-taken-back", {"kind": "draft"})
    assert desk(office)["due"] == []
    assert office.send("post", f"{at}/due-taken-back", {"kind": "symptom"}).json() == before


def test_an_archived_case_is_not_due_and_comes_back(office: Any) -> None:
    assert rows(office)
    for away in (True, False):
        done = office.send("post", f"cases/{office.case.pk}/archive", {"archived": away})
        assert done.status_code == 204
        assert bool(rows(office)) is not away


def test_a_case_that_cannot_be_read_is_told_not_left_out(office: Any) -> None:
    office.case.reactions = [{"food": ["no", "name"]}]
    office.case.save()
    StaleCase.objects.get_or_create(case=office.case, practice=office.practice)
    (row,) = rows(office)
    assert row["things"][0]["what"] == "Mend what stands in the case"


def test_a_deleted_case_leaves_nothing(office: Any) -> None:
    assert rows(office)
    assert office.send("delete", f"cases/{office.case.pk}").status_code == 204
    assert rows(office) == [] and not StaleCase.objects.exists() and not DeskItem.objects.exists()


def test_each_practice_has_its_own(office: Any, rival: Any) -> None:
    assert {r["case"] for r in rows(office)} == {office.case.pk}
    assert office.case.pk not in {r["case"] for r in rows(rival)}
    body = {"kind": "symptom", "on": on(0)}
    assert rival.send("post", f"cases/{office.case.pk}/due-done", body).status_code == 404


def test_only_so_many_are_worked_out_at_once(office: Any) -> None:
    for n in range(AT_ONCE + 3):
        start_case_for(
            office.who, Owner(None, f"Owner {n}"), {"dog": {"name": f"Dog {n}", "weight_kg": 9}}
        )
    first = desk(office)
    assert first["behind"] and len(first["coming"]) == AT_ONCE
    second = desk(office)
    assert not second["behind"] and len(second["coming"]) == AT_ONCE + 4


@pytest.mark.django_db
def test_the_desk_asks_the_same_however_many_cases_there_are(
    office: Any, django_assert_max_num_queries: Any
) -> None:
    for n in range(12):
        start_case_for(
            office.who, Owner(None, f"Owner {n}"), {"dog": {"name": f"Dog {n}", "weight_kg": 9}}
        )
    desk(office)
    # The session, its user, its practice; what changed, twice; what is due.
    with django_assert_max_num_queries(8):
        assert len(desk(office)["coming"]) == 13


def fed(office: Any) -> Any:
    """A weight that is late: as much of it as the desk asks for."""
    return DeskItem.objects.create(
        practice=office.practice, case=office.case, kind="weigh", holder="owner", on=on(-5),
        shown_on=on(-5), what="Weigh the dog", why="every 14 days", place="follow",
    )  # fmt: skip


def test_the_owner_is_reminded_once_there_is_an_address(office: Any) -> None:
    desk(office)
    path = f"cases/{office.case.pk}/due-reminded"
    late = office.send("post", path, {"kind": "weigh"})
    assert late.status_code == 400 and late.json()["error"]["message"].endswith("is not due")
    fed(office)
    assert not rows(office)[0]["things"][0]["can_remind"]
    refused = office.send("post", path, {"kind": "weigh"})
    assert refused.status_code == 400 and "no e-mail address" in refused.json()["error"]["message"]
    give_address(office)
    assert [t["can_remind"] for r in rows(office) for t in r["things"]] == [True, False]
    assert (
        office.send("post", f"cases/{office.case.pk}/diary-links", {"days": 9}).status_code == 201
    )
    fed(office)
    assert office.send("post", path, {"kind": "weigh"}).status_code == 200
    mail = Mail.objects.get()
    assert mail.link.startswith("/diary/") and office.case.dog.name in mail.subject
    other = office.send("post", path, {"kind": "draft"})
    assert other.status_code == 400 and "not the owner's" in other.json()["error"]["message"]


def test_a_calendar_reads_the_desk_until_the_address_is_taken_back(office: Any, rival: Any) -> None:
    desk(office)
    fed(office)
    made = office.send("post", "desk-feeds")
    assert made.status_code == 201
    path = made.json()["path"]
    answer = Browser().get(path)
    assert answer.status_code == 200 and answer["Content-Type"].startswith("text/calendar")
    days = {str(e["summary"]): e for e in Calendar.from_ical(answer.content).walk("VEVENT")}
    name = office.case.dog.name
    assert set(days) == {f"{name}: Weigh the dog", f"{name}: Go on with the draft"}
    # What is late stands on today, with since when; what is to come on its day.
    assert days[f"{name}: Weigh the dog"].decoded("dtstart").isoformat() == on(0)
    assert on(-5) in days[f"{name}: Weigh the dog"]["description"]
    assert days[f"{name}: Go on with the draft"].decoded("dtstart").isoformat() == on(7)
    theirs = Browser().get(rival.send("post", "desk-feeds").json()["path"]).content.decode()
    assert name not in theirs
    feed = made.json()["id"]
    assert rival.send("delete", f"desk-feeds/{feed}").status_code == 404
    assert office.send("delete", f"desk-feeds/{feed}").status_code == 200
    assert Browser().get(path).status_code == 410 and office.get("desk-feeds").json() == []


def test_no_other_address_opens_a_desk(office: Any) -> None:
    key = (
        office.send("post", f"cases/{office.case.pk}/diary-links", {}).json()["path"].split("/")[-1]
    )
    assert Browser().get(f"/due/{key}.ics").status_code == 404
    feed = DeskFeed.objects.create(
        practice=office.practice, key="k", by="x", expires=timezone.now() - timedelta(days=1)
    )
    assert Browser().get(feed.path).status_code == 410
    assert Browser().get("/due/k.ics").status_code == 404


def test_a_plan_that_new_data_touch_is_on_the_desk_until_it_was_looked_at(office: Any) -> None:
    """What the practice weighed of a cup changes an amount, and with it what is judged; said to be seen it is gone until it
    is something else."""
    issue(office)

    def due() -> list[Any]:
        things = [t for row in rows(office) for t in row["things"] if t["kind"] == "data"]
        return [(t["why"], t["recipe"]) for t in things]

    assert due() == []
    office.note(RICE, measures={"cup": 20})
    assert StaleCase.objects.get().by_data
    ((why, recipe),) = due()
    assert recipe == office.recipe.pk and ": was " in why
    path = f"cases/{office.case.pk}/due-done"
    assert office.send("post", path, {"kind": "data", "on": on(0)}).status_code == 200
    assert due() == []
    office.note(RICE, measures={"cup": 20.001})
    assert due() == []
    office.note(RICE, measures={"cup": 900})
    ((changed, _),) = due()
    assert changed != why


def test_the_applications_own_data_are_looked_at_once(office: Any) -> None:
    issue(office)
    desk(office)
    assert look_at_reference() is True
    assert [row.by_data for row in StaleCase.objects.all()] == [True]
    desk(office)
    assert look_at_reference() is False
    assert not StaleCase.objects.exists()
