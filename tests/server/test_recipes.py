"""Autosave, stale writes, analysis, bad input."""

import pytest
from library.facts import reference
from recipes.actions import MOST_AUTOMATIC
from wainscot_core.formats.brought import bring

LINE_FIELDS = ("food", "quantity", "note", "preparation", "override")
LINES = [{"food": "usda:05062", "quantity": "200 g"}, {"food": "usda:11124", "quantity": "1 cup"}]


def change(office, *changes, **more):
    """Set fields of the recipe: (path, was, value)."""
    told = [{"path": path, "was": was, "value": value} for path, was, value in changes]
    return office.send("patch", f"recipes/{office.recipe.pk}", {"changes": told, **more})


def stored(office):
    """The recipe as it is stored, and the keys of its lines."""
    recipe = office.get(f"recipes/{office.recipe.pk}").json()
    return recipe, [line["key"] for line in recipe["lines"]]


def row(**fields):
    return {"note": "", "preparation": "", "override": "", **fields}


def quantities(office):
    return [line["quantity"] for line in stored(office)[0]["lines"]]


def test_save_and_reload(office) -> None:
    saved = office.set_recipe(LINES)
    assert saved.status_code == 200
    assert saved.json()["version"] == office.recipe.version + 1
    again = office.get(f"recipes/{office.recipe.pk}").json()
    assert [(line["food"], line["quantity"]) for line in again["lines"]] == [
        ("usda:05062", "200 g"),
        ("usda:11124", "1 cup"),
    ]
    assert again["lines"][1]["name"] == "Carrot, raw"


def test_two_people_change_other_lines_and_both_stay(office) -> None:
    recipe, (first, second) = stored(office)
    assert change(office, (f"lines.{first}.quantity", "180 g", "200 g")).status_code == 200
    both = change(
        office,
        (f"lines.{second}.quantity", "1 cup", "2 cups"),
        ("lines.new", None, row(food="usda:11124", quantity="50 g")),
    )
    assert both.status_code == 200
    assert quantities(office) == ["200 g", "2 cups", "50 g"]
    assert both.json()["version"] == recipe["version"] + 2


def test_the_same_amount_changed_twice_is_told_not_overwritten(office) -> None:
    _, (first, second) = stored(office)
    assert change(office, (f"lines.{first}.quantity", "180 g", "200 g")).status_code == 200
    stale = change(
        office,
        (f"lines.{first}.quantity", "180 g", "210 g"),
        (f"lines.{second}.quantity", "1 cup", "2 cups"),
    )
    assert stale.status_code == 409
    assert stale.json()["collisions"] == [
        {"path": f"lines.{first}.quantity", "stored": "200 g", "yours": "210 g"}
    ]
    # Nothing of the request was written; sent again without what collides the rest is.
    assert quantities(office) == ["200 g", "1 cup"]


def test_a_request_that_comes_twice_changes_nothing_more(office) -> None:
    _, (first, second) = stored(office)
    asked = [
        (f"lines.{first}.quantity", "180 g", "200 g"),
        (f"lines.{second}", row(food="usda:20445", quantity="1 cup"), None),
        ("lines.new", None, row(food="usda:11124", quantity="50 g")),
        ("order", [first, second], ["new", first]),
    ]
    for _ in range(2):
        assert change(office, *asked).status_code == 200
        assert quantities(office) == ["50 g", "200 g"]


def test_a_line_changed_here_and_taken_away_there_is_told(office) -> None:
    _, (first, _) = stored(office)
    whole = row(food="usda:05062", quantity="180 g")
    assert change(office, (f"lines.{first}", whole, None)).status_code == 200
    stale = change(office, (f"lines.{first}.quantity", "180 g", "210 g"))
    assert stale.status_code == 409
    assert stale.json()["collisions"][0]["stored"] is None


def test_lines_that_were_not_touched_are_left_alone(office) -> None:
    """One line that can no longer be read does not stop the others from being saved."""
    _, (first, second) = stored(office)
    office.recipe.lines.filter(key=first).update(food="own:gone")
    assert change(office, (f"lines.{second}.quantity", "1 cup", "2 cups")).status_code == 200
    assert quantities(office) == ["180 g", "2 cups"]


def test_what_the_recipe_was_is_kept_before_it_is_replaced(office) -> None:
    _, (first, _) = stored(office)
    path = f"recipes/{office.recipe.pk}/versions"
    asked = (f"lines.{first}.quantity", "180 g", "200 g")
    for _ in range(2):
        assert change(office, asked, keep_as="before the proposal").status_code == 200
        [kept] = office.get(path).json()
        assert kept["automatic"] and kept["name"] == "before the proposal"
        assert [line["quantity"] for line in kept["lines"]] == ["180 g", "1 cup"]


def test_versions_kept_by_themselves_make_room_for_each_other(office) -> None:
    _, (first, _) = stored(office)
    path = f"recipes/{office.recipe.pk}/versions"
    mine = office.send("post", path, {"name": "mine"}).json()
    was = "180 g"
    for i in range(MOST_AUTOMATIC + 2):
        now = f"{i + 1} g"
        change(office, (f"lines.{first}.quantity", was, now), keep_as="before")
        was = now
    versions = office.get(path).json()
    assert len(versions) == MOST_AUTOMATIC + 1
    assert versions[-1]["id"] == mine["id"]
    assert versions[0]["lines"][0]["quantity"] == f"{MOST_AUTOMATIC + 1} g"


@pytest.mark.parametrize(
    ("path", "value", "field"),
    [
        ("lines.FIRST.quantity", "-5 g", None),
        ("lines.FIRST.quantity", "5 furlongs", None),
        ("lines.FIRST.quantity", "999999 kg", None),
        ("lines.FIRST.colour", "red", None),
        ("lines.new", row(food="usda:00000", quantity="5 g"), "lines.new.food"),
        ("lines.new", {"food": "usda:05062"}, "lines.new.quantity"),
        ("lines.new", row(food="usda:05062", quantity="1 g", colour="red"), "lines.new.colour"),
        ("lines.new.quantity", "5 g", "lines.new.quantity"),
        ("lines", "none", "lines"),
        ("covers_days", 0, None),
        ("covers_days", "many", None),
        ("name", "", None),
        ("case", 5, None),
    ],
)
def test_bad_input_names_the_field_and_keeps_the_recipe(office, path, value, field) -> None:
    recipe, (first, _) = stored(office)
    at = path.replace("FIRST", first)
    was = {"name": "Draft", "covers_days": 1, "lines.FIRST.quantity": "180 g"}.get(path)
    if path == "lines":
        was = {x["key"]: {k: x[k] for k in LINE_FIELDS} for x in recipe["lines"]}
    answer = change(office, (at, was, value))
    assert answer.status_code == 400, answer.json()
    assert answer.json()["error"]["field"] == (field or at)
    assert answer.json()["error"]["message"]
    assert stored(office)[0] == recipe


def test_malformed_json_is_said(office) -> None:
    answer = office.browser.patch(
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


@pytest.mark.parametrize("form", ["text", "csv", "json-ld"])
def test_a_recipe_goes_out_and_can_be_brought_in(office, form: str) -> None:
    sent = office.get(f"recipes/{office.recipe.pk}/export?form={form}")
    assert sent.status_code == 200 and "attachment" in sent["Content-Disposition"]
    lines = [x for x in bring(reference(), sent.content).lines if x.food is not None]
    assert [(x.food, x.grams) for x in lines] == [("usda:05062", 180), ("usda:20445", 158)]
    refused = office.get(f"recipes/{office.recipe.pk}/export?form=pdf")
    assert refused.status_code == 400 and refused.json()["error"]["field"] == "form"


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
    # The meat is blocked; of the liver, which is tolerated, it is asked who said so.
    told = [(f["food"], f["level"]) for f in reactions]
    assert told == [("usda:05062", "block"), ("usda:05028", "decide")]
    assert reactions[0]["level"] == "block" and "reacts to chicken" in reactions[0]["why"]


def test_a_recipe_is_put_away_and_taken_back_whole(office) -> None:
    before, _ = stored(office)
    path = f"recipes/{office.recipe.pk}/archive"

    def refs():
        return office.get(f"cases/{office.case.pk}").json()["recipes"]

    assert [r["archived"] for r in refs()] == [False]
    assert office.send("post", path, {"archived": True}).status_code == 204
    assert [r["archived"] for r in refs()] == [True]
    assert office.send("post", path, {"archived": False}).status_code == 204
    after, _ = stored(office)
    assert refs()[0]["archived"] is False and after["lines"] == before["lines"]


def test_a_recipe_is_renamed_like_any_field(office) -> None:
    assert change(office, ("name", "Draft", "With turkey")).status_code == 200
    assert office.get(f"cases/{office.case.pk}").json()["recipes"][0]["name"] == "With turkey"
    assert change(office, ("name", "Draft", "With duck")).status_code == 409


def test_a_recipe_is_kept_before_an_import_changes_its_foods(office) -> None:
    """What the recipe was with the foods as they were can be looked at afterwards."""
    food = office.send("post", "own-foods", {"name": "Stew", "values": {"ENERC": 100}}).json()
    assert office.set_recipe([{"food": "own:stew", "quantity": "200 g"}]).status_code == 200
    table = office.browser.get("/api/own-foods/export").content.decode()
    path = f"recipes/{office.recipe.pk}/versions"
    changed = table.replace(",100", ",150")
    assert changed != table
    assert office.send("post", "own-foods/import", {"text": changed}).status_code == 200
    assert office.get(path).json() == []
    taken = office.send("post", "own-foods/import", {"text": changed, "accept": True})
    assert taken.json()["imported"] == 1
    [kept] = office.get(path).json()
    assert kept["name"] == "before foods were imported" and kept["automatic"]
    snapshot = office.get(f"versions/{kept['id']}/snapshot").json()
    assert snapshot["recipe"]["analysis"]["recipe"]["kcal"] == pytest.approx(200)
    assert office.get(f"own-foods/{food['id']}").json()["values"]["ENERC"] == 150
    now = office.get(f"recipes/{office.recipe.pk}/analysis").json()
    assert now["recipe"]["kcal"] == pytest.approx(300)
