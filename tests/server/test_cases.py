"""Cases: start, change, refuse."""

import pytest


def test_start_a_case(office) -> None:
    body = {"client_name": "Ola Berg", "dog_name": "Pine", "weight_kg": 12.5}
    made = office.send("post", "cases", body)
    assert made.status_code == 201
    case = made.json()
    assert (case["dog"]["name"], case["dog"]["client"]["name"]) == ("Pine", "Ola Berg")
    assert len(case["recipes"]) == 1
    assert case["id"] in [c["id"] for c in office.get("cases").json()]


@pytest.mark.parametrize("weight", [0, -1, 200, "heavy", None])
def test_impossible_weights(office, weight) -> None:
    body = {"client_name": "Ola", "dog_name": "Pine", "weight_kg": weight}
    answer = office.send("post", "cases", body)
    assert answer.status_code == 400
    assert answer.json()["error"]["field"] == "weight_kg"


def test_change_energy_and_targets(office) -> None:
    path = f"cases/{office.case.pk}"
    body = {"version": 1, "weight_kg": 20, "multiplier": 1.8, "standard": "aafco-2016"}
    saved = office.send("patch", path, body)
    assert saved.status_code == 200
    assert saved.json()["version"] == 2
    report = office.send(
        "post",
        f"recipes/{office.recipe.pk}/analysis",
        {"lines": [{"food": "usda:05062", "quantity": "100 g"}]},
    ).json()
    # 1.8 x 70 x 20^0.75 = 1192
    assert report["energy"]["target_kcal"] == pytest.approx(1192, abs=0.5)
    assert report["requirements"].startswith("AAFCO 2016")


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"weight_kg": 200}, "weight_kg"),
        ({"multiplier": 99}, "energy.multiplier"),
        ({"energy_method": "kcal_per_day", "kcal_per_day": 9}, "energy.kcal_per_day"),
        ({"standard": "home"}, "targets.standard"),
        ({"life_stage": "retired"}, "targets.life_stage"),
        ({"body_condition": 12}, "body_condition"),
    ],
)
def test_bad_changes_are_refused_whole(office, change, field) -> None:
    path = f"cases/{office.case.pk}"
    answer = office.send("patch", path, {"version": 1, "notes": "new", **change})
    assert answer.status_code == 400
    assert answer.json()["error"]["field"] == field
    case = office.get(path).json()
    assert (case["notes"], case["version"], case["dog"]["weight_kg"]) == ("", 1, 10)


def test_stale_change_of_a_case(office) -> None:
    path = f"cases/{office.case.pk}"
    assert office.send("patch", path, {"version": 1, "notes": "first"}).status_code == 200
    stale = office.send("patch", path, {"version": 1, "notes": "second"})
    assert stale.status_code == 409
    assert stale.json()["current"]["notes"] == "first"
