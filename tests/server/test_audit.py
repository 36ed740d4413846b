"""The trail of who saw, changed and took out what."""

from typing import Any

import pytest
from accounts.models import Practice, User, WorkRole
from colleagues import member, send
from django.core.cache import cache
from django.test import Client as Browser
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
    for bad in ("kind=nothing", "since=tomorrow", "case=²", "before=x", "case=" + "9" * 40):
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
