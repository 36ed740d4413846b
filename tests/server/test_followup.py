"""What is put down of a dog after its plan was issued, through the API."""

from datetime import timedelta
from typing import Any

import pytest
from django.utils import timezone
from events.models import Event
from followup.models import FollowEntry


def on(days_ago: int) -> str:
    return (timezone.localdate() - timedelta(days=days_ago)).isoformat()


def put(office: Any, key: str, **entry: Any) -> Any:
    body = {"key": key, "entry": {"date": on(0), **entry}}
    return office.send("post", f"cases/{office.case.pk}/follow-entries", body)


def seen(office: Any) -> Any:
    return office.get(f"cases/{office.case.pk}/follow").json()


def weigh_weekly(office: Any, first: float, a_week: float, weeks: int = 9) -> None:
    office.change(dog__weight_kg=first, dog__age_months=60)
    for i in range(weeks + 1):
        done = put(
            office, f"weighed-{i:03d}", date=on(7 * (weeks - i)),
            weight_kg=round(first + i * a_week, 2),
        )  # fmt: skip
        assert done.status_code == 201, done.json()


def test_nothing_is_said_before_a_weight(office: Any) -> None:
    found = seen(office)
    assert found["entries"] == [] and found["trend"] is None and "no weight" in found["why"]
    assert put(office, "noted-day-1", note="bright, eats well").status_code == 201
    assert seen(office)["trend"] is None and seen(office)["entries"][0]["by"]


def test_weights_say_what_holds_them(office: Any) -> None:
    """0.2 kg a week at 20 kg on what the plan gives: 0.2 / 7 x 7263 = 208 kcal a day of it are too much; a tenth less is
    proposed."""
    weigh_weekly(office, 20.0, 0.2)
    plan, found = seen(office)["plan_kcal"], seen(office)["trend"]
    assert found["learnt"] and found["kcal_hold"] == pytest.approx(plan - 208, rel=0.06)
    assert found["low"] < plan - 208 < found["high"] and len(found["weights"]) == 10
    assert found["proposal"]["instead_of"] == pytest.approx(plan)
    assert found["proposal"]["kcal"] == pytest.approx(0.9 * plan, abs=2.5)


def test_a_weight_is_read_with_its_unit(office: Any) -> None:
    assert put(office, "in-pounds-1", weight_kg="44 lb").status_code == 201
    assert seen(office)["entries"][0]["entry"]["weight_kg"] == pytest.approx(19.958, abs=0.001)


def test_what_is_sent_twice_is_kept_once(office: Any) -> None:
    for _ in range(2):
        assert put(office, "the-same-one", weight_kg=20).status_code == 201
    assert FollowEntry.objects.count() == 1
    assert Event.objects.filter(kind="day.put-down").count() == 1


@pytest.mark.parametrize(
    ("entry", "field"),
    [
        ({}, "entry"), ({"weight_kg": 900}, "weight_kg"), ({"date": "2999-01-01", "note": "x"}, "date"),
        ({"stool": 8}, "entry.stool"), ({"itch": 11}, "entry.itch"), ({"kcal_fed": -5}, "kcal_fed"),
        ({"left_percent": 120}, "entry.left_percent"), ({"weight": 20}, "entry.weight"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_refused_by_name(office: Any, entry: Any, field: str) -> None:
    done = put(office, "refused-one", **entry)
    assert done.status_code == 400, done.json()
    assert done.json()["error"]["field"] in (field, "") and done.json()["error"]["message"]
    assert FollowEntry.objects.count() == 0


def test_what_does_not_count_stays_on_record(office: Any) -> None:
    put(office, "weighed-right", date=on(8), weight_kg=20)
    put(office, "weighed-wrong", date=on(1), weight_kg=28)
    wrong = seen(office)["entries"][0]
    body = {"struck": True, "version": wrong["version"]}
    done = office.send("post", f"follow-entries/{wrong['id']}/struck", body)
    assert done.status_code == 200 and done.json()["entries"][0]["struck"]
    assert len(done.json()["trend"]["weights"]) == 1
    assert office.send("post", f"follow-entries/{wrong['id']}/struck", body).status_code == 409
    again = {"struck": False, "version": wrong["version"] + 1}
    done = office.send("post", f"follow-entries/{wrong['id']}/struck", again)
    assert len(done.json()["trend"]["weights"]) == 2


def test_left_in_the_bowl_and_treats_are_counted(office: Any) -> None:
    """The plan less a quarter that was left, and 50 kcal of treats."""
    put(office, "weighed-first", date=on(20), weight_kg=20)
    for i in range(19):
        put(office, f"eaten-{i:04d}", date=on(i + 1), left_percent=25, extra_kcal=50)
    found = seen(office)
    assert found["trend"]["fed_kcal"] == pytest.approx(0.75 * found["plan_kcal"] + 50, rel=1e-6)


def test_what_was_put_down_is_the_practices_own(office: Any, rival: Any) -> None:
    put(office, "ours-alone-1", weight_kg=20)
    row = seen(office)["entries"][0]
    assert rival.get(f"cases/{office.case.pk}/follow").status_code == 404
    body = {"key": "theirs-in-ours", "entry": {"date": on(0), "note": "x"}}
    assert rival.send("post", f"cases/{office.case.pk}/follow-entries", body).status_code == 404
    strike = {"struck": True, "version": row["version"]}
    assert rival.send("post", f"follow-entries/{row['id']}/struck", strike).status_code == 404
