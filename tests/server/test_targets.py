"""Energy methods, conditions, conflicts and decisions through the API."""

import csv
import json

import pytest
from library.facts import reference
from wainscot_core.casefile import read_case


def patch(office, version, **changes):
    return office.send("patch", f"cases/{office.case.pk}", {"version": version, **changes})


COPPER = [{"id": "copper-hepatopathy", "name": "Copper hepatopathy", "stage": "chelation"}]


def test_methods_and_weight_plan(office) -> None:
    saved = patch(
        office, 1, weight_kg=12, body_condition=8, age_months=72, neutered=True, activity="low"
    )
    assert saved.status_code == 200
    found = office.get(f"cases/{office.case.pk}/energy").json()
    assert found["life_stage"] == "adult"
    assert round(found["ideal"]["typical_kg"], 1) == 9.2
    loss = next(e for e in found["estimates"] if e["id"] == "loss-start")
    # RER at 9.23 kg: 70 x 9.23^0.75 = 370.7
    assert loss["kcal"] == pytest.approx(370.7, abs=0.1)
    assert found["plan"]["start_kcal"] >= found["plan"]["floor_kcal"]
    assert found["plan"]["weights_kg"][-1] == pytest.approx(12 / 1.3)


def test_a_puppy_gets_growth_methods(office) -> None:
    patch(office, 1, weight_kg=10, adult_weight_kg=30, age_months=5)
    found = office.get(f"cases/{office.case.pk}/energy").json()
    assert found["life_stage"] == "growth"
    assert {e["id"]: round(e["kcal"]) for e in found["estimates"]}["nrc-growth"] == 1517
    assert found["ideal"] is None


def test_conditions_change_the_wall_and_conflicts_are_decided(office) -> None:
    assert patch(office, 1, conditions=COPPER).status_code == 200
    path = f"cases/{office.case.pk}/targets"
    found = office.get(path).json()
    assert [c["key"] for c in found["conflicts"]] == ["CU"]
    assert found["sign_off"] == ["Copper hepatopathy, with or after chelation"]
    report = office.send(
        "post",
        f"recipes/{office.recipe.pk}/analysis",
        {"lines": [{"food": "usda:13325", "quantity": "50 g"}]},
    ).json()
    copper = next(n for n in report["nutrients"] if n["key"] == "CU")
    assert (copper["max"], copper["status"]) == (1.2, "over")
    no_reason = office.send(
        "post", path, {"key": "CU", "bound": "min", "value": 1.2, "by": "Dr Elm"}
    )
    assert (no_reason.status_code, no_reason.json()["error"]["field"]) == (400, "reason")
    body = {"key": "CU", "bound": "min", "value": 1.2, "by": "Dr Elm", "reason": "chelation"}
    decided = office.send("post", path, body).json()
    assert decided["conflicts"][0]["decided"] == {"by": "Dr Elm", "reason": "chelation"}
    limit = next(x for x in decided["limits"] if x["key"] == "CU")
    assert limit["min"] == 1.2
    assert limit["min_per_day"] == pytest.approx(1.2 * decided["kcal_per_day"] / 1000)
    back = office.send("post", path, {"key": "CU", "bound": "min", "undo": True}).json()
    assert back["conflicts"][0]["decided"] is None


def test_a_stage_that_does_not_exist_is_refused_whole(office) -> None:
    answer = patch(office, 1, conditions=[{"id": "ckd", "name": "Kidney", "stage": "9"}])
    assert answer.json()["error"]["field"] == "targets.conditions[0].stage"
    assert office.get(f"cases/{office.case.pk}").json()["conditions"] == []


def test_export_and_case_file(office) -> None:
    patch(office, 1, conditions=COPPER)
    text = office.browser.get(f"/api/cases/{office.case.pk}/targets/export").content.decode()
    rows = {row["key"]: row for row in csv.DictReader(text.splitlines())}
    assert rows["CU"]["max_per_1000_kcal"] == "1.2"
    assert "Copper hepatopathy" in rows["CU"]["set_by"]
    case_file = office.get(f"cases/{office.case.pk}/file?recipe={office.recipe.pk}").json()
    case = read_case(reference(), json.loads(json.dumps(case_file)))
    assert [c.key for c in case.merged.conflicts] == ["CU"]
    assert case.lines[1].amount.grams == 158


def test_volume_rule(office) -> None:
    """10 kg at a cup per 10 kg: a cup of this recipe."""
    body = {"rule": "a cup a day per 10 kg", "recipe": office.recipe.pk}
    found = office.send("post", f"cases/{office.case.pk}/volume", body).json()
    assert 200 < found["step"]["value"] < 350
    assert found["share_of_target"] == pytest.approx(found["step"]["value"] / 629.8, rel=1e-3)
    bad = office.send("post", f"cases/{office.case.pk}/volume", {**body, "rule": "plenty"})
    assert bad.json()["error"]["field"] == "rule"
