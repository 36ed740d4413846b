"""A clock that jumps by a day while people work, to either side: nothing is lost, nobody is thrown out by mistake."""

import time
from datetime import timedelta
from typing import Any

import pytest
from accounts.models import User
from django.test import Client as Browser
from django.utils import timezone
from recipes.models import Line

CHICKEN = "usda:05062"


@pytest.fixture
def jump(monkeypatch: pytest.MonkeyPatch) -> Any:
    """Set the clock so many days off."""
    now, seconds = timezone.now, time.time

    def by(days: int) -> None:
        monkeypatch.setattr(timezone, "now", lambda: now() + timedelta(days=days))
        monkeypatch.setattr(time, "time", lambda: seconds() + days * 86_400)

    return by


def lines(office: Any) -> list[str]:
    return [x["quantity"] for x in office.get(f"recipes/{office.recipe.pk}").json()["lines"]]


def work(office: Any, grams: int) -> None:
    """Some of everything that bears a moment or a day."""
    case = f"cases/{office.case.pk}"
    assert office.set_recipe([{"food": CHICKEN, "quantity": f"{grams} g"}]).status_code == 200
    kept = office.send("post", f"recipes/{office.recipe.pk}/versions", {"name": f"with {grams}"})
    assert kept.status_code == 201, kept.content
    entry = {"date": timezone.localdate().isoformat(), "weight_kg": 20}
    put = office.send("post", f"{case}/follow-entries", {"key": f"day-{grams}-x", "entry": entry})
    assert put.status_code == 201, put.content
    assert lines(office) == [f"{grams} g"]


@pytest.mark.parametrize("first", [-1, 1])
def test_what_was_put_down_stays_in_its_order(office: Any, jump: Any, first: int) -> None:
    user = User.objects.get(pk=office.browser.session["_auth_user_id"])
    work(office, 100)
    jump(first)
    if first > 0:
        # A day later nobody is signed in any more, and what was typed is asked for again.
        assert office.get("desk").status_code == 403
        office.browser.force_login(user)
    work(office, 110)
    jump(0)
    if office.get("desk").status_code == 403:
        office.browser.force_login(user)
    work(office, 120)
    for path in (
        "desk",
        f"cases/{office.case.pk}/follow",
        "audit",
        "account",
        "installation",
        "cases",
    ):
        assert office.get(path).status_code == 200, path
    versions = office.get(f"recipes/{office.recipe.pk}/versions").json()
    assert [v["name"] for v in versions if not v["automatic"]] == [
        "with 120",
        "with 110",
        "with 100",
    ]
    entries = office.get(f"cases/{office.case.pk}/follow").json()["entries"]
    assert len(entries) == 3
    # The trail stands in the order things were done, whatever their moments say.
    told = [e["what"] for e in office.get(f"cases/{office.case.pk}/events").json()["events"]]
    kept = [what for what in told if "with 1" in what]
    assert kept == sorted(kept, reverse=True) and len(kept) == 3
    assert Line.objects.filter(recipe=office.recipe).count() == 1


def test_a_clock_set_back_keeps_nobody_in_longer(office: Any, jump: Any, settings: Any) -> None:
    assert office.get("desk").status_code == 200
    jump(-1)
    assert office.get("desk").status_code == 200
    settings.IDLE_SECONDS = 3600
    jump(0)
    # From the moment it was set back a day has gone by.
    assert office.get("desk").status_code == 403
    assert Browser().get("/api/desk").status_code == 403
