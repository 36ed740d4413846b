"""Cases: start, change, refuse."""

import pytest
from cases.models import Case


def test_start_a_case(office) -> None:
    body = {"client_name": "Ola Berg", "dog_name": "Pine", "weight_kg": 12.5}
    made = office.send("post", "cases", body)
    assert made.status_code == 201
    case = made.json()
    assert (case["dog"]["name"], case["client"]["name"]) == ("Pine", "Ola Berg")
    assert len(case["recipes"]) == 1
    assert case["id"] in [c["id"] for c in office.get("cases").json()["rows"]]


def test_a_case_is_opened_with_what_its_first_line_tells(office) -> None:
    line = "Pine, 9 y, MMVD, furosemide 10 mg, chicken allergy, limps"
    read = office.send("post", "cases/first-line", {"text": line}).json()
    chips = {chip["kind"]: chip for chip in read["chips"]}
    assert [n["text"] for n in read["not_taken"]] == ["limps"]
    body = {
        "client_name": "Ola Berg", "dog_name": "Pine", "weight_kg": 12.5, "line": line,
        "left_out": [chips["reaction"]["id"]], "stages": {chips["diagnosis"]["id"]: "B2"},
    }  # fmt: skip
    case = office.send("post", "cases", body).json()
    assert case["dog"]["age_months"] == 108
    assert [(c["id"], c["stage"]) for c in case["conditions"]] == [("mmvd", "B2")]
    assert [m["name"] for m in case["intake"]["medicines"]] == ["furosemide"]
    assert case["reactions"] == []
    assert "limps" in case["notes"]


def test_a_stage_there_is_not_is_refused_and_nothing_is_written(office) -> None:
    body = {
        "client_name": "Ola Berg", "dog_name": "Pine", "weight_kg": 12.5, "line": "Pine, MMVD",
        "stages": {"diagnosis:mmvd": "E"},
    }  # fmt: skip
    before = len(office.get("cases").json()["rows"])
    answer = office.send("post", "cases", body)
    assert answer.status_code == 400
    assert "has no stage" in answer.json()["error"]["message"]
    assert len(office.get("cases").json()["rows"]) == before


def test_a_line_that_is_none_is_refused(office) -> None:
    answer = office.send("post", "cases/first-line", {"text": "x" * 401})
    assert answer.status_code == 400
    assert answer.json()["error"]["field"] == "text"


@pytest.mark.parametrize("weight", [0, -1, 200, "heavy", None])
def test_impossible_weights(office, weight) -> None:
    body = {"client_name": "Ola", "dog_name": "Pine", "weight_kg": weight}
    answer = office.send("post", "cases", body)
    assert answer.status_code == 400
    assert answer.json()["error"]["field"] in {"weight_kg", "dog.weight_kg"}


def test_change_energy_and_targets(office) -> None:
    saved = office.change(dog__weight_kg=20, multiplier=1.8, standard="aafco-2016")
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


def test_energy_of_food_is_the_case_s_own(office) -> None:
    """100 g of lentils: 4 x 9.02 + 9 x 0.38 + 4 x (20.13 - 7.9); the table says 116."""
    body = {"lines": [{"food": "usda:16070", "quantity": "100 g"}]}

    def kcal() -> float:
        path = f"recipes/{office.recipe.pk}/analysis"
        return office.send("post", path, body).json()["recipe"]["kcal"]

    assert kcal() == pytest.approx(88.42)
    assert office.change(me_method="table").status_code == 200
    assert kcal() == pytest.approx(116)
    choices = office.get(f"cases/{office.case.pk}/energy").json()["food"]["methods"]
    assert [m["id"] for m in choices if m["is_default"]] == ["4-9-4"]
    refused = office.change(me_method="guess")
    assert refused.status_code == 400 and refused.json()["error"]["field"] == "me_method"


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"dog__weight_kg": 200}, "dog.weight_kg"),
        ({"multiplier": 99}, "energy.multiplier"),
        ({"energy_method": "kcal_per_day", "kcal_per_day": 9}, "energy.kcal_per_day"),
        ({"standard": "home"}, "targets.standard"),
        ({"life_stage": "retired"}, "targets.life_stage"),
        ({"dog__body_condition": 12}, "dog.body_condition"),
    ],
)
def test_bad_changes_are_refused_whole(office, change, field) -> None:
    path = f"cases/{office.case.pk}"
    answer = office.change(notes="new", **change)
    assert answer.status_code == 400
    assert answer.json()["error"]["field"] == field
    case = office.get(path).json()
    assert (case["notes"], case["version"], case["dog"]["weight_kg"]) == ("", 1, 10)


def test_changes_of_different_fields_both_hold(office) -> None:
    path = f"cases/{office.case.pk}"
    first = {"path": "intake.owner.cook", "value": "raw only", "was": ""}
    second = {"path": "intake.owner.store", "value": "chest freezer", "was": ""}
    assert office.send("patch", path, {"changes": [first]}).status_code == 200
    # Made against the state before the first: it still says what the field stood at.
    saved = office.send("patch", path, {"changes": [second]})
    assert saved.status_code == 200
    assert saved.json()["intake"]["owner"] == {
        "source": "", "cook": "raw only", "store": "chest freezer", "spend": "", "costs_now": None, "fine_scale": False,
    }  # fmt: skip


def test_a_field_someone_else_changed_is_told_and_not_overwritten(office) -> None:
    path = f"cases/{office.case.pk}"
    assert office.change(notes="first").status_code == 200
    late = {"changes": [
        {"path": "title", "value": "mine", "was": ""},
        {"path": "notes", "value": "second", "was": ""},
    ]}  # fmt: skip
    answer = office.send("patch", path, late)
    assert answer.status_code == 409
    assert answer.json()["collisions"] == [{"path": "notes", "stored": "first", "yours": "second"}]
    case = office.get(path).json()
    assert (case["notes"], case["title"]) == ("first", "")


@pytest.mark.parametrize(
    ("field", "typed", "stored"),
    [
        ("dog__age_months", "9 years", 108),
        ("dog__age_months", "2 years 3 months", 27),
        ("dog__weight_kg", "9 lb", 4.08233133),
        ("dog__ideal_weight_kg", "8,5", 8.5),
        ("dog__body_condition", "7", 7),
        ("dog__age_months", "", None),
    ],
)
def test_figures_are_read_as_people_write_them(office, field, typed, stored) -> None:
    saved = office.change(**{field: typed})
    assert saved.status_code == 200, saved.json()
    assert saved.json()["dog"][field.removeprefix("dog__")] == pytest.approx(stored)


def test_fractions_of_what_is_eaten_are_read(office) -> None:
    diet = [{"name": "Dry food", "amount": "2 1/3", "unit": "cup", "kcal_per_unit": "370"}]
    saved = office.change(intake__current_diet=diet).json()["intake"]["current_diet"]
    assert saved[0]["amount"] == pytest.approx(7 / 3)
    assert saved[0]["kcal_per_unit"] == 370
    refused = office.change(intake__current_diet=[{**diet[0], "amount": "some"}])
    assert refused.json()["error"]["field"] == "intake.current_diet[0].amount"


@pytest.mark.parametrize(
    ("field", "value"),
    [("dog__age_months", "nine"), ("dog__weight_kg", "9 stone"), ("dog__weight_kg", None)],
)
def test_figures_that_cannot_be_read_are_refused_and_nothing_changes(office, field, value) -> None:
    before = office.get(f"cases/{office.case.pk}").json()
    answer = office.change(**{field: value})
    assert answer.status_code == 400
    assert answer.json()["error"]["field"] == field.replace("__", ".")
    assert office.get(f"cases/{office.case.pk}").json() == before


def test_a_case_is_put_away_taken_back_and_deleted(office, rival) -> None:
    path = f"cases/{office.case.pk}"
    assert office.send("post", f"{path}/archive", {"archived": True}).status_code == 204
    assert office.get(path).json()["archived"] is True
    assert office.get("cases").json()["rows"] == []
    assert [c["archived"] for c in office.get("cases?archived=true").json()["rows"]] == [True]
    assert office.send("post", f"{path}/archive", {"archived": False}).status_code == 204
    assert office.get("cases").json()["rows"][0]["archived"] is False
    assert office.send("delete", path).status_code == 204
    assert office.get(path).status_code == 404
    assert office.get("cases").json()["rows"] == []
    assert len(rival.get("cases").json()["rows"]) == 1


def test_a_list_survives_a_row_that_cannot_be_read(office) -> None:
    broken = office.case
    type(broken).objects.filter(pk=broken.pk).update(conditions=[{"name": "no id"}])
    made = office.send(
        "post", "cases", {"client_name": "Ola", "dog_name": "Pine", "weight_kg": "12 kg"}
    )
    assert made.status_code == 201
    rows = {c["id"]: c for c in office.get("cases").json()["rows"]}
    assert "conditions[0].id" in rows[broken.pk]["problem"]
    assert rows[made.json()["id"]]["problem"] == ""
    opened = office.get(f"cases/{broken.pk}")
    assert opened.status_code == 400
    # And it can be mended or deleted, not only looked at.
    mend = {"path": "conditions", "value": [], "was": [{"name": "no id"}]}
    assert office.send("patch", f"cases/{broken.pk}", {"changes": [mend]}).status_code == 200
    assert office.get(f"cases/{broken.pk}").status_code == 200


def test_the_first_case_of_a_practice_is_guided_until_it_is_left(office, rival) -> None:
    Case.objects.filter(practice=office.practice).delete()
    body = {"client_name": "Ada Rook", "dog_name": "Quill", "weight_kg": 9}
    first = office.send("post", "cases", body).json()
    guide = office.get(f"cases/{first['id']}/steps").json()["guide"]
    assert guide["stops"][guide["at"]]["kind"] == "intake"
    assert guide["stops"][guide["at"]]["what"].startswith("Answer what the foot")
    second = office.send(
        "post", "cases", {**body, "dog_name": "Thrift", "client_name": "Bo Rook"}
    ).json()
    assert office.get(f"cases/{second['id']}/steps").json()["guide"] is None
    path = f"cases/{first['id']}/guide"
    assert office.send("post", path, {"guided": False}).status_code == 204
    assert office.get(f"cases/{first['id']}/steps").json()["guide"] is None
    office.send("post", path, {"guided": True})
    assert office.get(f"cases/{first['id']}/steps").json()["guide"] is not None
    assert rival.send("post", path, {"guided": False}).status_code == 404
