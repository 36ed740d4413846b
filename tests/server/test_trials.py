"""An elimination trial of a case, through the API."""

from datetime import date, timedelta
from typing import Any

import pytest
from cases.models import Case
from django.utils import timezone
from followup.models import FollowEntry, FollowTrial

DAYS = 130


def on(day: int) -> str:
    """The date of a day of a trial that began 130 days ago."""
    return (timezone.localdate() - timedelta(days=DAYS - day)).isoformat()


def logged(office: Any, first: int, last: int, **entry: Any) -> None:
    FollowEntry.objects.bulk_create(
        FollowEntry(
            practice=office.practice, case=office.case, key=f"day-{n:05d}", by="me", day=on(n),
            data={"date": on(n), **entry},
        )
        for n in range(first, last + 1)
    )  # fmt: skip


def begin(office: Any, **plan: Any) -> Any:
    body = {"plan": {"started": on(0), "diet": ["rabbit", "potato"], **plan}}
    return office.send("post", f"cases/{office.case.pk}/trials", body)


def trial(office: Any) -> Any:
    return office.get(f"cases/{office.case.pk}/follow").json()["trials"][0]


def move(office: Any, kind: str, day: int, **more: Any) -> Any:
    now = trial(office)
    body = {"move": {"kind": kind, "date": on(day), **more}, "version": now["version"]}
    return office.send("post", f"trials/{now['id']}/moves", body)


def reacted(office: Any) -> None:
    """Itch of 6, response in 56 days, old diet flares, beef flares and clears."""
    logged(office, 0, 9, itch=6)
    logged(office, 10, 68, itch=2)
    logged(office, 69, 70, itch=6)
    logged(office, 71, 83, itch=2)
    logged(office, 84, 85, itch=6)
    logged(office, 86, 130, itch=2)
    assert begin(office).status_code == 201
    for kind, day, more in (
        ("feed", 10, {}), ("read", 66, {}), ("provoke", 67, {}), ("flare", 70, {}), ("clear", 78, {}),
        ("item", 80, {"food": "beef"}), ("flare", 85, {}), ("clear", 93, {}),
    ):  # fmt: skip
        done = move(office, kind, day, **more)
        assert done.status_code == 200, (kind, done.json())


def test_a_trial_from_baseline_to_the_case(office: Any) -> None:
    reacted(office)
    found = trial(office)
    assert found["now"]["phase"] == "ready" and found["now"]["confirmed"]
    assert [(v["food"], v["verdict"]) for v in found["now"]["verdicts"]] == [("beef", "reacts")]
    assert found["unwritten"] == ["beef"] and found["now"]["passed"] == ["rabbit", "potato"]
    body = {"food": "Beef", "version": found["version"]}
    done = office.send("post", f"trials/{found['id']}/verdicts", body)
    assert done.status_code == 200, done.json()
    assert done.json()["trials"][0]["unwritten"] == []
    reactions = Case.objects.get(pk=office.case.pk).reactions
    assert [(r["food"], r["certainty"]) for r in reactions] == [("beef", "proven")]
    again = office.send("post", f"trials/{found['id']}/verdicts", body)
    assert again.status_code == 400 and "changes nothing" in again.json()["error"]["message"]


def test_a_suspicion_of_what_is_tolerated_is_dropped_and_a_proof_is_not(office: Any) -> None:
    suspected = {"food": "egg", "certainty": "suspected"}
    office.change(reactions=[suspected, {"food": "beef", "certainty": "proven"}])
    reacted(office)
    assert trial(office)["unwritten"] == []
    for kind, day, more in (("item", 100, {"food": "Egg"}), ("pass", 114, {"full": True})):
        assert move(office, kind, day, **more).status_code == 200
    found = trial(office)
    assert found["unwritten"] == ["Egg"]
    body = {"food": "Egg", "version": found["version"]}
    assert office.send("post", f"trials/{found['id']}/verdicts", body).status_code == 200
    assert [r["food"] for r in Case.objects.get(pk=office.case.pk).reactions] == ["beef"]


def test_what_is_refused_says_why_and_keeps_nothing(office: Any) -> None:
    reacted(office)
    before = trial(office)
    assert move(office, "item", 95, food="egg").status_code == 200
    refused = move(office, "item", 96, food="milk")
    assert refused.status_code == 400
    assert refused.json()["error"]["message"].startswith("egg is still being tried")
    why = {o["kind"]: o["why"] for o in trial(office)["now"]["options"]}
    assert "one challenge at a time" in why["item"] and why["flare"] == ""
    assert len(trial(office)["made"]) == len(before["made"]) + 1
    ahead = move(office, "stop", DAYS + 1, note="x")
    assert ahead.status_code == 400 and ahead.json()["error"]["field"] == "date"


def test_the_last_step_is_taken_back_and_a_stale_one_refused(office: Any) -> None:
    reacted(office)
    found = trial(office)
    body = {"version": found["version"]}
    done = office.send("post", f"trials/{found['id']}/taken-back", body)
    assert done.json()["trials"][0]["now"]["phase"] == "washout"
    assert office.send("post", f"trials/{found['id']}/taken-back", body).status_code == 409


def test_one_trial_runs_at_a_time(office: Any) -> None:
    assert begin(office).status_code == 201
    assert "is running" in begin(office).json()["error"]["message"]
    assert move(office, "stop", 3, note="the owner moved").status_code == 200
    assert begin(office).status_code == 201
    # The one before goes on only when nothing else runs.
    old = FollowTrial.objects.order_by("pk").first()
    assert old is not None
    body = {"version": old.version}
    refused = office.send("post", f"trials/{old.pk}/taken-back", body)
    assert refused.status_code == 400 and "is running" in refused.json()["error"]["message"]


@pytest.mark.parametrize(
    ("plan", "field"),
    [
        ({"started": "2999-01-01"}, "started"), ({"diet": []}, "plan.diet"),
        ({"severe": ["Rabbit"]}, "diet"), ({"kind": "ears"}, "plan.kind"),
    ],
)  # fmt: skip
def test_a_plan_that_cannot_be_is_refused(office: Any, plan: Any, field: str) -> None:
    done = begin(office, **plan)
    assert done.status_code == 400 and done.json()["error"]["field"] == field, done.json()
    assert FollowTrial.objects.count() == 0


def test_a_red_flag_of_today_holds_every_proposal(office: Any) -> None:
    body = {"key": "swollen-1", "entry": {"date": date.today().isoformat(), "weight_kg": 20, "signs": ["swelling"]}}  # fmt: skip
    found = office.send("post", f"cases/{office.case.pk}/follow-entries", body).json()
    assert "swells" in found["flags"][0]
    assert found["trend"]["proposal"] is None and "swells" in found["trend"]["not_proposed"]


def test_what_comes_next_goes_into_a_calendar(office: Any) -> None:
    reacted(office)
    assert move(office, "item", 95, food="egg").status_code == 200
    text = office.browser.get(f"/papers/cases/{office.case.pk}/trial.ics").content.decode()
    assert f"DTSTART;VALUE=DATE:{on(109).replace('-', '')}" in text and "egg" in text


def test_a_trial_is_the_practices_own(office: Any, rival: Any) -> None:
    assert begin(office).status_code == 201
    found = trial(office)
    stop = {"move": {"kind": "stop", "date": on(2), "note": "x"}, "version": found["version"]}
    assert rival.send("post", f"trials/{found['id']}/moves", stop).status_code == 404
    assert rival.send("post", f"cases/{office.case.pk}/trials", {"plan": {"started": on(0), "diet": ["x"]}}).status_code == 404  # fmt: skip
    assert rival.browser.get(f"/papers/cases/{office.case.pk}/trial.ics").status_code == 404
