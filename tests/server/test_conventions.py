"""How things are written, by practice and by client: stored, answered, and what it changes."""

from typing import Any

import pytest
from accounts.models import Practice
from plans.models import Plan
from recipes.models import Line

pytestmark = pytest.mark.django_db

RICE = "usda:20045"
METRIC_BY_US = 250 / 236.5882365


def patch(office: Any, path: str, **fields: Any) -> Any:
    """Set fields that stood at `was`: {path with dots: (was, value)}."""
    changes = [{"path": p, "was": was, "value": value} for p, (was, value) in fields["of"].items()]
    return office.send("patch", path, {"changes": changes})


def write(office: Any, **of: tuple[Any, Any]) -> Any:
    return patch(office, "practice", of={f"conventions.{k}": v for k, v in of.items()})


def test_a_practice_says_how_it_writes_and_every_page_is_told(office: Any) -> None:
    before = office.get("session").json()["conventions"]
    assert (before["body"], before["dates"]) == ("kg", "day-first")
    done = write(office, body=("kg", "lb"), spelling=("british", "american"))
    assert done.status_code == 200
    for said in (
        done.json()["conventions"],
        office.get("session").json()["conventions"],
        office.get(f"cases/{office.case.pk}").json()["conventions"],
    ):
        assert said["body"] == "lb" and said["words"]["fibre"] == "fiber"


def test_a_value_there_is_not_is_refused_and_a_collision_told(office: Any) -> None:
    wrong = write(office, body=("kg", "stone"))
    assert wrong.status_code == 400 and wrong.json()["error"]["field"] == "conventions.body"
    assert write(office, body=("lb", "kg")).status_code == 200  # asked for what stands there
    write(office, food=("g", "oz"))
    late = write(office, food=("lb", "g"))
    assert late.status_code == 409


def test_a_client_has_her_own_and_goes_back_to_the_practice(office: Any) -> None:
    client = office.case.dog.client_id
    path = f"clients/{client}"
    patch(office, path, of={"conventions.body": (None, "lb")})
    assert office.get(f"cases/{office.case.pk}").json()["conventions"]["body"] == "lb"
    assert office.get("session").json()["conventions"]["body"] == "kg"
    page = office.get(path).json()
    assert (page["written"]["body"], page["practice"]["body"]) == ("lb", "kg")
    patch(office, path, of={"conventions.body": ("lb", None)})
    assert office.get(f"cases/{office.case.pk}").json()["conventions"]["body"] == "kg"


def test_a_client_page_has_all_her_dogs_and_nobody_elses(office: Any, rival: Any) -> None:
    made = office.send(
        "post", "cases",
        {"dog_name": "Second", "client_id": office.case.dog.client_id, "weight_kg": "18 lb"},
    )  # fmt: skip
    assert made.status_code == 201, made.json()
    page = office.get(f"clients/{office.case.dog.client_id}").json()
    assert {c["dog"] for c in page["cases"]} == {"Second", office.case.dog.name}
    assert office.get(f"clients/{rival.case.dog.client_id}").status_code == 404
    assert (
        patch(office, f"clients/{rival.case.dog.client_id}", of={"name": ("x", "y")}).status_code
        == 404
    )
    assert [c["name"] for c in office.get("clients").json()] == [office.case.dog.client.name]


def test_how_a_client_is_reached_is_checked(office: Any) -> None:
    path = f"clients/{office.case.dog.client_id}"
    assert patch(office, path, of={"email": ("", "maren@example.org")}).status_code == 200
    wrong = patch(office, path, of={"email": ("maren@example.org", "not one")})
    assert wrong.status_code == 400 and wrong.json()["error"]["field"] == "email"
    assert patch(office, path, of={"name": (office.case.dog.client.name, " ")}).status_code == 400


def test_two_owners_of_one_name_are_two_clients_only_if_it_is_said(office: Any) -> None:
    name = office.case.dog.client.name
    asked = {"dog_name": "Twin", "client_name": name, "weight_kg": 9}
    refused = office.send("post", "cases", asked)
    assert refused.status_code == 400 and refused.json()["error"]["field"] == "client_name"
    made = office.send("post", "cases", {**asked, "another": True})
    assert made.json()["client"]["id"] != office.case.dog.client_id
    same = office.send(
        "post", "cases",
        {"dog_name": "Twin", "client_id": office.case.dog.client_id, "weight_kg": 9},
    )  # fmt: skip
    assert same.json()["client"]["id"] == office.case.dog.client_id


def test_a_case_that_cannot_be_leaves_no_client_behind(office: Any) -> None:
    asked = {"dog_name": "Giant", "client_name": "Nobody Yet", "weight_kg": 900}
    assert office.send("post", "cases", asked).status_code == 400
    assert "Nobody Yet" not in [c["name"] for c in office.get("clients").json()]


def test_a_client_of_another_practice_cannot_be_given_a_dog(office: Any, rival: Any) -> None:
    asked = {"dog_name": "X", "client_id": rival.case.dog.client_id, "weight_kg": 9}
    assert office.send("post", "cases", asked).status_code == 404


def test_a_line_keeps_the_cup_it_was_written_with(office: Any) -> None:
    office.set_recipe([{"food": RICE, "quantity": "1 cup"}])
    us = Line.objects.get(recipe=office.recipe).grams
    write(office, measures=("us", "metric"))
    # What stands there is read as it was, also when something else of it changes.
    path = f"recipes/{office.recipe.pk}"
    asked = {"lines": [{"food": RICE, "quantity": "1 cup"}]}
    read = office.send("post", f"{path}/analysis", asked).json()["recipe"]["lines"][0]
    assert (read["grams"], read["other_cup"]) == (us, "1 US cup")
    patch(office, path, of={"lines.line-0.note": ("", "warm")})
    assert Line.objects.get(recipe=office.recipe).grams == us
    # What is typed now is a metric cup.
    patch(office, path, of={"lines.line-0.quantity": ("1 cup", "2 cups")})
    line = Line.objects.get(recipe=office.recipe)
    assert (line.measures, line.grams) == ("metric", pytest.approx(2 * us * METRIC_BY_US))
    patch(office, path, of={"lines.line-0.quantity": ("2 cups", "1 US cup")})
    assert Line.objects.get(recipe=office.recipe).grams == pytest.approx(us)


def test_a_version_and_a_copy_keep_the_cup_too(office: Any) -> None:
    write(office, measures=("us", "metric"))
    office.set_recipe([{"food": RICE, "quantity": "1 cup"}])
    metric = Line.objects.get(recipe=office.recipe).grams
    kept = office.send("post", f"recipes/{office.recipe.pk}/versions", {"name": "One"}).json()
    write(office, measures=("metric", "us"))
    copy = office.send(
        "post", f"cases/{office.case.pk}/recipes", {"name": "Copy", "copy_of": office.recipe.pk}
    ).json()
    assert Line.objects.get(recipe=copy["id"]).grams == metric
    office.set_recipe([{"food": RICE, "quantity": "2 cups"}])
    office.send("post", f"versions/{kept['id']}/restore")
    assert Line.objects.get(recipe=office.recipe).grams == metric


def test_a_daily_item_keeps_its_cup(office: Any) -> None:
    office.set_recipe([{"food": "usda:05062", "quantity": "100 g"}])
    one = office.set_plan(items=[{"kind": "topper", "food": RICE, "quantity": "1 cup"}]).json()
    us = Plan.objects.get(case=office.case).items[0]["grams"]
    write(office, measures=("us", "metric"))
    office.set_plan(items=[{"kind": "topper", "food": RICE, "quantity": "2 cups"}])
    now = Plan.objects.get(case=office.case).items[0]
    assert now["grams"] == pytest.approx(2 * us * METRIC_BY_US)
    again = office.get(f"cases/{office.case.pk}/plan").json()
    assert again["items"][0]["kcal"] == pytest.approx(2 * one["items"][0]["kcal"] * METRIC_BY_US)


def test_a_number_alone_is_asked_where_food_is_weighed_in_ounces(office: Any) -> None:
    office.set_recipe([{"food": "usda:05062", "quantity": "180"}])
    write(office, food=("g", "oz"))
    path = f"recipes/{office.recipe.pk}"
    asked = {"lines": [{"food": "usda:05062", "quantity": "180"}, {"food": RICE, "quantity": "30"}]}
    found = office.send("post", f"{path}/analysis", asked).json()
    errors = found["line_errors"]
    # What was stored before stays what it was.
    assert [e["line"] for e in errors] == [1]
    assert not [f for f in found["flags"] if "was read as" in f["what"] + f["why"]]
    assert [r["text"] for r in errors[0]["readings"]] == ["30 g", "30 oz"]


def test_a_case_file_takes_its_conventions_along(office: Any) -> None:
    write(office, measures=("us", "metric"), body=("kg", "lb"))
    data = office.get(f"cases/{office.case.pk}/file?recipe={office.recipe.pk}").json()
    assert (data["conventions"]["measures"], data["conventions"]["body"]) == ("metric", "lb")
    data["recipe"]["lines"] = [{"food": RICE, "amount": 1, "unit": "cup"}]
    made = office.send("post", "cases/file", data).json()
    line = Line.objects.get(recipe=made["recipes"][0]["id"])
    assert line.measures == "metric"
    assert line.grams == pytest.approx(158 * METRIC_BY_US)


def test_a_case_file_that_names_no_condition_shows_its_name(office: Any) -> None:
    data = office.get(f"cases/{office.case.pk}/file?recipe={office.recipe.pk}").json()
    data.pop("diagnoses", None)
    data["targets"]["conditions"] = [{"id": "ckd", "stage": "2"}]
    made = office.send("post", "cases/file", data).json()
    names = {c["id"]: c["name"] for c in office.get("conditions").json()}
    assert [(c["name"], c["stage"]) for c in made["conditions"]] == [(names["ckd"], "2")]


def test_a_weight_stands_as_it_was_told_beside_what_it_was_read_as(office: Any) -> None:
    told = office.change(dog__weight_kg="18 lb").json()
    assert told["dog"]["weight_kg"] == pytest.approx(8.16466266)
    assert told["intake"]["typed"] == {"weight_kg": "18 lb"}
    plain = office.change(dog__weight_kg="8.5").json()
    assert plain["intake"]["typed"] == {}
    assert office.change(dog__age_months="9").status_code == 400
    assert office.change(dog__age_months="9 years").json()["intake"]["typed"] == {
        "age_months": "9 years"
    }


def test_days_are_read_as_people_write_them(office: Any) -> None:
    assert office.change(dog__birth_date="3 Dec 2020").json()["dog"]["birth_date"] == "2020-12-03"
    unsure = office.change(dog__birth_date="03/04/2020")
    assert unsure.status_code == 400 and "4 March" not in unsure.json()["error"]["message"][:5]
    assert unsure.json()["error"]["field"] == "dog.birth_date"
    weights = office.change(intake__weights=[{"on": "Nov 2, 2026", "kg": "18 lb"}]).json()
    assert weights["intake"]["weights"][0]["on"] == "2026-11-02"


def test_a_new_installation_writes_as_its_region_does(client: Any) -> None:
    form = {"practice": "Larch Lane", "username": "ines", "password": "quiet-larch-lane-7",
            "region": "united-states"}  # fmt: skip
    made = client.post("/api/setup", form, content_type="application/json")
    assert made.status_code == 200, made.json()
    said = made.json()["conventions"]
    assert (said["body"], said["temperature"], said["dates"]) == ("lb", "F", "month-first")
    assert Practice.objects.get().conventions["currency"] == "USD"
