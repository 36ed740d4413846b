"""The trail of who saw, changed and took out what."""

from datetime import datetime
from typing import Any
from unittest.mock import patch

import pytest
from accounts.models import Practice, User, WorkRole
from colleagues import member, send
from django.core.cache import cache
from django.test import Client as Browser
from events.log import log
from events.models import Event, EventKind


@pytest.fixture(autouse=True)
def _no_tries_before() -> None:
    cache.clear()


def test_who_looked_at_a_case_and_what_went_out_is_told(office: Any) -> None:
    _, iris = member(office, "iris", WorkRole.CONSULTANT)
    case = office.case.pk
    for _ in range(3):
        iris.get(f"/api/cases/{case}")
    iris.get(f"/papers/recipes/{office.recipe.pk}/sheet.pdf")
    iris.get(f"/api/cases/{case}/file?recipe={office.recipe.pk}")
    told = office.get("audit?by=iris").json()["events"]
    kinds = [e["kind"] for e in told]
    assert kinds == ["record.given-out", "record.given-out", "case.seen", "person.signed-in"]
    assert "sheet" in told[1]["what"] and ".json" in told[0]["what"]
    history = office.get(f"cases/{case}/events").json()["events"]
    assert not {"case.seen", "record.given-out"} & {e["kind"] for e in history}


def test_the_trail_is_asked_by_person_kind_case_and_day(office: Any) -> None:
    office.change(dog__weight_kg=11)
    _, iris = member(office, "iris", WorkRole.CONSULTANT)
    iris.get(f"/api/cases/{office.case.pk}")
    ask = lambda q: [e["kind"] for e in office.get(f"audit?{q}").json()["events"]]  # noqa: E731
    assert ask("kind=case.changed") == ["case.changed"]
    assert set(ask("kind=person")) == {"person.signed-in"}
    assert ask(f"case={office.case.pk}&by=iris") == ["case.seen"]
    assert office.get("audit?kind=case.seen&by=iris").json()["events"][0]["dog"] == "larch dog"
    assert ask("until=2020-01-01") == [] and ask("since=2999-01-01") == []
    for bad in (
        "kind=nothing",
        "since=tomorrow",
        "case=²",
        "before=x",
        "before=99999999",
        "case=" + "9" * 40,
    ):
        assert office.get(f"audit?{bad}").status_code == 400, bad


def test_the_trail_is_for_owners_and_of_one_practice(office: Any, rival: Any) -> None:
    _, iris = member(office, "iris", WorkRole.CONSULTANT)
    assert iris.get("/api/audit").status_code == 403
    rival.get(f"cases/{rival.case.pk}")
    assert {e["by"] for e in rival.get("audit").json()["events"]} == {"alder"}


def test_the_trail_goes_out_as_a_table_no_spreadsheet_runs(office: Any) -> None:
    office.change(title="=HYPERLINK(1)")
    User.objects.create(username="=cmd", practice=office.practice, role=WorkRole.ASSISTANT)
    Event.objects.create(practice=office.practice, by="=cmd", kind=EventKind.PLAN_SAVED, data={})
    out = b"".join(office.browser.get("/api/audit/export").streaming_content).decode()
    assert out.startswith("at,by,kind,case,what\n") and ",'=cmd," in out and "\n=" not in out


def test_the_last_hundred_first_and_the_rest_by_page(office: Any) -> None:
    Event.objects.bulk_create(
        Event(practice=office.practice, by="larch", kind=EventKind.CASE_SEEN, case=n, data={})
        for n in range(150)
    )
    first = office.get("audit").json()
    assert len(first["events"]) == 100
    rest = office.get(f"audit?before={first['next']}").json()
    assert rest["next"] is None
    ids = [e["id"] for e in (*first["events"], *rest["events"])]
    assert ids == sorted(ids, reverse=True) and len(set(ids)) == len(ids) >= 150


def test_records_are_kept_in_no_cache(office: Any) -> None:
    for path in (
        f"/api/cases/{office.case.pk}",
        f"/papers/recipes/{office.recipe.pk}/sheet",
        "/api/session",
    ):
        assert "no-store" in office.browser.get(path)["Cache-Control"], path


def test_a_first_user_is_an_owner(db: None) -> None:
    form = {"practice": "New", "username": "ida", "password": "oak-linen-rail-7"}
    assert send(Browser(), "post", "setup", form).json()["role"] == "owner"
    assert Practice.objects.count() == 1


def test_an_event_that_cannot_be_read_hides_none_of_the_others(office: Any) -> None:
    """One of a newer version, or one that was spoilt: it is told as what it is, in every list it stands in."""
    for kind, data in (
        ("recipe.made-later", {}), ("recipe.saved", {}), ("recipe.saved", [1]), ("case.changed", {"changes": 3}),
    ):  # fmt: skip
        Event.objects.create(
            practice=office.practice,
            by="ash",
            kind=kind,
            case=office.case.pk,
            subject=len(str(data)),
            data=data,
        )
    log(office.who, EventKind.CASE_STARTED, office.case.pk, None, dog="Fen")
    for path in ("audit", f"cases/{office.case.pk}/events"):
        told = [e["what"] for e in office.get(path).json()["events"]]
        assert told[0] == "Started the case of Fen"
        assert sum("cannot be read" in what for what in told) == 4, path
    rows = b"".join(office.get("audit/export").streaming_content).decode()
    assert rows.count("cannot be read") == 4 and "Fen" in rows


def test_days_and_kinds_are_kept_to(office: Any) -> None:
    made = {}
    for n, (kind, day) in enumerate(
        (kind, day)
        for day in ("2026-03-01", "2026-03-02", "2026-03-03")
        for kind in ("case.started", "recipe.saved", "recipe.archived")
    ):
        at = datetime.fromisoformat(f"{day}T{'00:00' if n % 2 else '23:59'}:59+00:00")
        with patch("django.utils.timezone.now", return_value=at):
            event = Event.objects.create(practice=office.practice, by="ash", kind=kind, subject=n)
        made[event.pk] = (kind, day, at)
    # By their time, those of one moment by their number.
    every = sorted(made, key=lambda k: (made[k][2], k), reverse=True)

    def found(**asked: str) -> list[int]:
        answer = office.browser.get("/api/audit", {"by": "ash", **asked})
        return [e["id"] for e in answer.json()["events"]]

    assert found() == every
    assert found(since="2026-03-02", until="2026-03-02") == [
        k for k in every if made[k][1] == "2026-03-02"
    ]
    assert found(kind="recipe", until="2026-03-01") == [
        k for k in every if made[k][0].startswith("recipe") and made[k][1] == "2026-03-01"
    ]
    assert found(kind="recipe", before=str(every[3])) == [
        k for k in every[4:] if made[k][0].startswith("recipe")
    ]
