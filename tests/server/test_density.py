"""The library beside a recipe, over HTTP."""

import pytest

THIGH = "usda:05096"


def gaps(office, more=""):
    return office.get(f"recipes/{office.recipe.pk}/gaps{more}")


def test_foods_beside_the_gaps_of_a_stored_recipe(office) -> None:
    found = gaps(office).json()
    assert found["dog"] and 0 < len(found["gaps"]) <= 8
    assert {f["food"] for f in found["foods"]} >= {THIGH}
    assert all(len(f["times"]) == len(found["gaps"]) for f in found["foods"])
    plain = len(found["foods"])
    every = gaps(office, "?all=true").json()
    assert len(every["foods"]) > 5 * plain
    # What the analysis says is short is what is told here.
    recipe = office.get(f"recipes/{office.recipe.pk}").json()
    lines = [{"food": x["food"], "quantity": x["quantity"]} for x in recipe["lines"]]
    assert lines
    body = {"lines": lines, "covers_days": recipe["covers_days"]}
    analysis = office.send("post", f"recipes/{office.recipe.pk}/analysis", body).json()
    statuses = {n["key"]: n["status"] for n in analysis["nutrients"]}
    for gap in found["gaps"]:
        assert gap["status"] == statuses[gap["key"]]


def test_an_own_food_stands_there_in_its_practice_only(office, rival) -> None:
    made = office.send(
        "post", "own-foods", {"name": "Dense paste", "values": {"ENERC": 100, "ZN": 50}}
    )
    food = made.json()["food_id"]
    assert food in {f["food"] for f in gaps(office).json()["foods"]}
    assert food not in {f["food"] for f in gaps(rival).json()["foods"]}
    beside = office.get(f"recipes/{office.recipe.pk}/density?food={food}").json()
    zinc = next(i for i, y in enumerate(beside["yards"]) if y["key"] == "ZN")
    assert beside["foods"][0]["amounts"][zinc]["value"] == pytest.approx(500)
    iron = next(i for i, y in enumerate(beside["yards"]) if y["key"] == "FE")
    assert beside["foods"][0]["amounts"][iron] == {
        "key": "FE", "value": None, "times": None, "over": False,
    }  # fmt: skip
    assert rival.get(f"recipes/{rival.recipe.pk}/density?food={food}").status_code == 404


def test_a_recipe_of_another_practice_is_not_there(office, rival) -> None:
    for what in ("gaps", f"density?food={THIGH}"):
        assert rival.get(f"recipes/{office.recipe.pk}/{what}").status_code == 404


@pytest.mark.parametrize(
    ("query", "status"),
    [
        ("", 400), (f"?food={THIGH}", 200), ("?food=usda:none", 404),
        ("?food=" + "&food=".join(["usda:05096", "usda:02047", "usda:01123", "usda:20045", "usda:15167"]), 400),
    ],
)  # fmt: skip
def test_how_many_foods_are_held_beside_each_other(office, query, status) -> None:
    assert office.get(f"recipes/{office.recipe.pk}/density{query}").status_code == status
