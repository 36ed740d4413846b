"""What is put down of a dog after its plan was issued, through the API."""

from datetime import timedelta
from typing import Any

import pytest
from django.test import Client as Browser
from django.utils import timezone
from events.models import Event
from followup.models import DiaryLink, FollowEntry, LabResult
from outbox.models import Mail
from releasing import issue


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


def diary(office: Any, **more: Any) -> Any:
    return office.send("post", f"cases/{office.case.pk}/diary-links", more)


def test_the_owner_puts_days_down_by_a_signed_address(office: Any, rival: Any) -> None:
    assert diary(office, days=0).status_code == 400
    refused = diary(office, send=True)
    assert refused.status_code == 400 and "e-mail" in refused.json()["error"]["message"]
    client = office.case.dog.client
    client.email = "owner@example.org"
    client.save()
    made = diary(office, send=True)
    assert made.status_code == 201, made.json()
    path = made.json()["path"]
    assert Mail.objects.latest("pk").link == path
    stranger = Browser(enforce_csrf_checks=True)
    page = stranger.get(f"/api{path}")
    # Nothing of the case but the name of the dog and the days.
    assert set(page.json()) == {"dog", "practice", "flags", "days", "conventions"}
    body = {"key": "owner-day-1", "entry": {"date": on(0), "weight_kg": "20.1 kg", "stool": 3}}
    sent = stranger.post(f"/api{path}", body, content_type="application/json")
    assert sent.status_code == 201 and sent.json()["days"][0]["weight_kg"] == 20.1
    assert seen(office)["entries"][0]["by"] == "the owner, by a link"
    # What a vet must say is not the owner's to say; a day to come is none.
    for wrong in ({"fluid": True, "weight_kg": 20}, {"date": "2999-01-01", "note": "x"}):
        bad = {"key": "owner-day-2", "entry": {"date": on(0), **wrong}}
        assert stranger.post(f"/api{path}", bad, content_type="application/json").status_code == 400
    assert FollowEntry.objects.count() == 1
    # Taken back by its own practice alone; then it opens nothing.
    assert rival.send("delete", f"diary-links/{made.json()['id']}").status_code == 404
    assert office.send("delete", f"diary-links/{made.json()['id']}").status_code == 200
    kinds = [e.kind for e in Event.objects.filter(kind__startswith="diary.").order_by("pk")]
    assert kinds == ["diary.given", "diary.closed"]
    shut = stranger.get(f"/api{path}")
    assert shut.status_code == 400 and "was taken back" in shut.json()["error"]["message"]
    assert stranger.get("/api/diary/made-up:xyz").status_code == 404


def test_a_diary_address_runs_out_and_opens_nothing_else(office: Any) -> None:
    path = diary(office).json()["path"]
    token = path.rpartition("/")[2]
    assert Browser().get(f"/api/cook/{token}").status_code == 404
    DiaryLink.objects.update(expires=timezone.now() - timedelta(minutes=1))
    assert "has run out" in Browser().get(f"/api{path}").json()["error"]["message"]
    assert not office.get(f"cases/{office.case.pk}/diary-links").json()[0]["open"]


def test_a_laboratory_value_is_kept_and_told_against_its_range(office: Any, rival: Any) -> None:
    value = {"date": on(3), "test": "potassium", "value": 5.9, "low": 3.6, "high": 5.6}
    path = f"cases/{office.case.pk}/lab-values"
    for _ in range(2):
        done = office.send("post", path, {"key": "lab-of-ours-1", "value": value})
        assert done.status_code == 201, done.json()
    (series,), (row,) = done.json()["series"], done.json()["labs"]
    assert series["outside"] and series["points"][0]["stand"] == "over"
    assert rival.send("post", path, {"key": "lab-of-theirs", "value": value}).status_code == 404
    strike = {"struck": True, "version": row["version"]}
    assert rival.send("post", f"lab-values/{row['id']}/struck", strike).status_code == 404
    struck = office.send("post", f"lab-values/{row['id']}/struck", strike).json()
    assert struck["series"] == [] and struck["labs"][0]["struck"]
    wrong = office.send("post", path, {"key": "lab-of-ours-2", "value": {**value, "unit": "mg/dL"}})
    assert wrong.status_code == 400 and wrong.json()["error"]["field"] == "unit"


def test_the_tests_that_can_be_put_down_are_listed(office: Any) -> None:
    found = {t["id"]: t for t in office.get("lab-tests").json()}
    assert found["creatinine"]["units"] == ["umol/L", "mg/dL"] and found["triglycerides"]["fasting"]


def new_version(office: Any) -> Any:
    answer = office.get(f"cases/{office.case.pk}/reformulate")
    assert answer.status_code == 200, answer.content
    return answer.json()


def test_what_the_follow_up_shows_is_taken_into_the_case_and_its_recipe_goes_on(
    office: Any,
) -> None:
    """Ten weeks of too much: the weight and the proposed kcal are new; both are taken, then neither is."""
    weigh_weekly(office, 20.0, 0.2)
    held = {k: seen(office)["trend"][k] for k in ("kcal_hold", "low", "high", "proposal")}
    proposed = held["proposal"]["kcal"]
    before = new_version(office)
    assert before["issued"] is None and before["recipe"] == office.recipe.pk
    assert {x["news"]: x["now"] for x in before["learned"]} == {
        "weight": pytest.approx(21.8, abs=0.15), "kcal": proposed,
    }  # fmt: skip
    path = f"cases/{office.case.pk}/reformulate"
    after = office.send("post", path, {"take": [x["id"] for x in before["learned"]]})
    assert after.status_code == 200, after.content
    assert after.json()["learned"] == []
    # Nothing of what was fed before is thought of otherwise: the same holds it, and the same is proposed.
    assert {k: seen(office)["trend"][k] for k in held} == held
    case = office.get(f"cases/{office.case.pk}").json()
    assert case["dog"]["weight_kg"] == pytest.approx(21.8, abs=0.15)
    assert (case["energy_method"], case["kcal_per_day"]) == ("kcal_per_day", proposed)
    assert "Learnt from its weights" in case["energy_reason"]
    again = office.send("post", path, {"take": [before["learned"][1]["id"]]})
    assert again.status_code == 400 and again.json()["error"]["field"] == "take"
    assert "not new any more" in again.json()["error"]["message"]


def test_no_amount_is_taken_past_a_red_flag(office: Any) -> None:
    weigh_weekly(office, 20.0, 0.2)
    wanted = next(x["id"] for x in new_version(office)["learned"] if x["news"] == "kcal")
    assert put(office, "blood-today", signs=["blood"]).status_code == 201
    assert "kcal" not in {x["news"] for x in new_version(office)["learned"]}
    refused = office.send("post", f"cases/{office.case.pk}/reformulate", {"take": [wanted]})
    assert refused.status_code == 400


def test_a_new_version_is_of_what_is_fed_and_says_what_changed(office: Any) -> None:
    issue(office)
    assert new_version(office)["issued"]["changed"] is None
    office.change(dog__weight_kg=22.5)
    found = new_version(office)
    assert found["issued"]["number"] == 1 and found["recipe"] == office.recipe.pk
    (words,) = found["issued"]["changed"]["dog"]
    assert words == f"weight: {office.case.dog.weight_kg:g} kg, now 22.5 kg"
    assert found["on_its_way"] == ""


def test_a_day_is_of_the_plan_that_was_fed_on_it(office: Any) -> None:
    """Before the plan was issued by the case as it was; then by the version that was issued, whatever the case says since."""
    before = seen(office)["plan_kcal"]
    issue(office)
    office.change(energy_method="kcal_per_day", kcal_per_day=before * 2)
    assert put(office, "day-of-plan", weight_kg=20, left_percent=0).status_code == 201
    assert (
        put(office, "day-before-plan", date=on(3), weight_kg=20, left_percent=0).status_code == 201
    )
    fed = {e["entry"]["date"]: e["fed_kcal"] for e in seen(office)["entries"]}
    assert fed == {on(0): pytest.approx(before), on(3): pytest.approx(before * 2)}
    assert seen(office)["plan_kcal"] == pytest.approx(before * 2)


def test_what_is_really_fed_stands_beside_the_plan_that_was_issued(office: Any, rival: Any) -> None:
    """Of the issued version, not of what lies on the bench; nothing of it is written."""
    issue(office)
    path = f"cases/{office.case.pk}/drift"
    plan = office.get(path).json()
    assert plan["number"] == 1 and len(plan["lines"]) == office.recipe.lines.count()
    office.recipe.lines.all().delete()
    before = Event.objects.count()
    found = office.send("post", path, {"items": [{"how": "left-out", "line": 0}]})
    assert found.status_code == 200, found.content
    said = found.json()
    assert said["kcal_fed"] < said["kcal_planned"] and said["effects"][0]["what"].endswith(
        "left out"
    )
    assert office.case.dog.client.name in said["message"]
    assert Event.objects.count() == before
    wrong = office.send("post", path, {"items": [{"how": "left-out", "line": 99}]})
    assert wrong.status_code == 400 and wrong.json()["error"]["field"] == "items[0].line"
    assert rival.get(path).status_code == 404


def test_versions_that_were_signed_and_issued_stand_on_the_axis(office: Any) -> None:
    assert seen(office)["marks"] == []
    issue(office)
    marks = seen(office)["marks"]
    assert [m["kind"] for m in marks] == ["signed", "issued"]
    assert "signed by Dr Example" in marks[0]["words"] and {m["date"] for m in marks} == {on(0)}


def test_a_pasted_report_is_read_and_nothing_is_kept(office: Any) -> None:
    def report(text: str, date: str) -> Any:
        return office.send("post", "lab-report", {"text": text, "date": date})

    told = report("Creatinine 142 µmol/L 44-159\nALT pending", "2 March 2026").json()
    assert told["read"][0]["value"] | {"note": ""} == {
        "date": "2026-03-02", "test": "creatinine", "value": 142, "unit": "umol/L", "low": 44,
        "high": 159, "fasted": None, "laboratory": "", "note": "",
    }  # fmt: skip
    assert told["unread"][0]["text"] == "ALT pending"
    assert LabResult.objects.count() == 0
    # What was read can be put down as it is.
    body = {"key": "report-of-march-1", "value": told["read"][0]["value"]}
    kept = office.send("post", f"cases/{office.case.pk}/lab-values", body)
    assert kept.status_code == 201 and kept.json()["series"][0]["points"][0]["stand"] == "within"
    for text, day, field in (
        ("ALT 88 U/L", "02/03/2026", "date"), ("ALT 88 U/L", "", "date"),
        ("ALT 88 U/L", "2999-01-02", "date"), ("  ", "2026-03-02", "text"),
    ):  # fmt: skip
        refused = report(text, day)
        assert refused.status_code == 400 and refused.json()["error"]["field"] == field, (
            refused.json()
        )
