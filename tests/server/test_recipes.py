"""Autosave, stale writes, analysis, bad input."""

import pytest
from recipes.models import Recipe

LINES = [{"food": "usda:05062", "quantity": "200 g"}, {"food": "usda:11124", "quantity": "1 cup"}]


def put(office, **changes):
    body = {"version": office.recipe.version, "name": "Draft", "covers_days": 1, "lines": LINES}
    return office.send("put", f"recipes/{office.recipe.pk}", {**body, **changes})


def test_save_and_reload(office) -> None:
    saved = put(office)
    assert saved.status_code == 200
    assert saved.json()["version"] == office.recipe.version + 1
    again = office.get(f"recipes/{office.recipe.pk}").json()
    assert [(line["food"], line["quantity"]) for line in again["lines"]] == [
        ("usda:05062", "200 g"),
        ("usda:11124", "1 cup"),
    ]
    assert again["lines"][1]["name"] == "Carrot, raw"


def test_a_stale_write_gets_409_and_the_stored_version(office) -> None:
    assert put(office).status_code == 200
    stale = put(office, lines=[{"food": "usda:20445", "quantity": "5 g"}])
    assert stale.status_code == 409
    assert stale.json()["error"]["field"] == "version"
    assert [line["quantity"] for line in stale.json()["current"]["lines"]] == ["200 g", "1 cup"]
    assert Recipe.objects.get(pk=office.recipe.pk).lines.count() == 2


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"lines": [LINES[0], {"food": "usda:05062", "quantity": "-5 g"}]}, "lines[1].quantity"),
        ({"lines": [{"food": "usda:05062", "quantity": "5 furlongs"}]}, "lines[0].quantity"),
        ({"lines": [{"food": "usda:05062", "quantity": "999999 kg"}]}, "lines[0].quantity"),
        ({"lines": [{"food": "usda:00000", "quantity": "5 g"}]}, "lines[0].food"),
        ({"lines": [{"food": "usda:05062"}]}, "lines[0].quantity"),
        ({"lines": "none"}, "lines"),
        ({"covers_days": 0}, "covers_days"),
        ({"covers_days": "many"}, "covers_days"),
        ({"name": ""}, "name"),
    ],
)
def test_bad_input_names_the_field_and_keeps_the_recipe(office, changes, field) -> None:
    answer = put(office, **changes)
    assert answer.status_code == 400
    assert answer.json()["error"]["field"] == field
    assert answer.json()["error"]["message"]
    kept = office.get(f"recipes/{office.recipe.pk}").json()
    assert [line["quantity"] for line in kept["lines"]] == ["180 g", "1 cup"]
    assert kept["version"] == office.recipe.version


def test_malformed_json_is_said(office) -> None:
    answer = office.browser.put(
        f"/api/recipes/{office.recipe.pk}", "{", content_type="application/json"
    )
    assert answer.status_code == 400
    assert "not valid JSON" in answer.json()["error"]["message"]


def test_analysis_of_unsaved_lines(office) -> None:
    body = {"lines": [{"food": "usda:05062", "quantity": "1000 g"}], "covers_days": 2}
    report = office.send("post", f"recipes/{office.recipe.pk}/analysis", body).json()
    # 1000 g of chicken breast over two days: 4 x 225.25 g of protein and 9 x 19.34 g of fat.
    assert report["recipe"]["kcal_per_day"] == pytest.approx((901 + 174.06) / 2)
    keys = [n["key"] for n in report["nutrients"]]
    assert report["contributions"][0][keys.index("PROCNT")] == pytest.approx(225.25)
    # RER of 10 kg x 1.6
    assert report["energy"]["target_kcal"] == pytest.approx(629.8, abs=0.1)


def test_a_bad_line_is_reported_and_the_rest_computed(office) -> None:
    body = {"lines": [{"food": "usda:05062", "quantity": "some"}, LINES[1]], "covers_days": 1}
    report = office.send("post", f"recipes/{office.recipe.pk}/analysis", body).json()
    assert [e["line"] for e in report["line_errors"]] == [0]
    assert report["positions"] == [1]
    assert report["recipe"]["grams"] == 128


def test_another_standard_for_a_look(office) -> None:
    body = {"lines": LINES, "standard": "aafco-2016", "life_stage": "growth"}
    report = office.send("post", f"recipes/{office.recipe.pk}/analysis", body).json()
    protein = next(n for n in report["nutrients"] if n["key"] == "PROCNT")
    assert protein["min"] == 56.3
    bad = {**body, "life_stage": "retired"}
    answer = office.send("post", f"recipes/{office.recipe.pk}/analysis", bad)
    assert (answer.status_code, answer.json()["error"]["field"]) == (400, "targets.life_stage")


def test_explain(office) -> None:
    body = {"lines": LINES, "key": "ZN"}
    found = office.send("post", f"recipes/{office.recipe.pk}/explain", body).json()
    assert {line["food"] for line in found["lines"]} == {"usda:05062", "usda:11124"}
    assert found["steps"][-1]["unit"] == "mg/1000 kcal"
    missing = office.send("post", f"recipes/{office.recipe.pk}/explain", {**body, "key": "GOLD"})
    assert missing.status_code == 404


def test_copy_and_delete_a_recipe(office) -> None:
    made = office.send(
        "post", f"cases/{office.case.pk}/recipes", {"name": "Variant", "copy_of": office.recipe.pk}
    )
    assert made.status_code == 201
    assert [line["quantity"] for line in made.json()["lines"]] == ["180 g", "1 cup"]
    assert office.send("delete", f"recipes/{made.json()['id']}").status_code == 204
    assert office.get(f"recipes/{made.json()['id']}").status_code == 404


def test_what_the_dog_reacts_to_is_flagged_on_the_bench(office) -> None:
    office.case.reactions = [{"food": "chicken", "tolerates": "the organ"}]
    office.case.save()
    lines = [
        {"food": "usda:05062", "quantity": "100 g"},
        {"food": "usda:05028", "quantity": "20 g"},
    ]
    body = {"lines": lines, "covers_days": 1}
    flags = office.send("post", f"recipes/{office.recipe.pk}/analysis", body).json()["flags"]
    reactions = [f for f in flags if f["kind"] == "reaction"]
    # The meat is; the liver, which is tolerated, is not.
    assert [f["food"] for f in reactions] == ["usda:05062"]
    assert reactions[0]["level"] == "block" and "reacts to chicken" in reactions[0]["why"]
