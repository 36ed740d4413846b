"""A line keeps all it says through every door: copies, versions, plans, documents, case files."""

import json
import subprocess
import sys
from dataclasses import fields
from pathlib import Path
from typing import Any

import pytest
from library.actions import touch
from library.models import OwnFood, PracticeFood
from plans.models import Plan
from recipes.lines import texts_of
from recipes.models import Line, Recipe
from wainscot_core.recipe.line import LineText

ROOT = Path(__file__).resolve().parents[2]
HEART, CHICKEN, RICE = "usda:05027", "usda:05062", "usda:20445"
WHOLE = [
    {"food": "usda:05096", "quantity": "300 g", "note": "skin off",
     "preparation": "poultry-simmered-discarded", "override": "well known"},
    {"food": RICE, "quantity": "1 cup", "note": "", "preparation": "", "override": ""},
]  # fmt: skip


def save(office: Any, lines: list[dict[str, str]]) -> dict[str, Any]:
    answer = office.set_recipe(lines)
    assert answer.status_code == 200, answer.json()
    found: dict[str, Any] = answer.json()
    return found


def figures(report: dict[str, Any]) -> Any:
    """What an analysis says, apart from the price of it."""
    return [
        {n["key"]: (n["total"], n["status"]) for n in report["nutrients"]},
        [
            (x["food"], x["grams"], x["fed_grams"], x["preparation"])
            for x in report["recipe"]["lines"]
        ],
        [(f["kind"], f["what"]) for f in report["flags"]],
    ]


def typed(office: Any, lines: list[dict[str, str]]) -> dict[str, Any]:
    body = {"lines": lines, "covers_days": 1}
    found: dict[str, Any] = office.send("post", f"recipes/{office.recipe.pk}/analysis", body).json()
    return found


def test_what_is_stored_is_computed_as_what_is_typed(office) -> None:
    save(office, WHOLE)
    stored = office.get(f"recipes/{office.recipe.pk}/analysis").json()
    assert figures(stored) == figures(typed(office, WHOLE))
    cooked = stored["recipe"]["lines"][0]
    # 300 g raw thigh simmered keep 72 % of their weight.
    assert cooked["fed_grams"] == pytest.approx(216)
    assert cooked["preparation_label"]
    assert not [f for f in stored["flags"] if "raw" in f["what"].lower()]


def test_a_copy_says_and_computes_the_same(office) -> None:
    save(office, WHOLE)
    made = office.send(
        "post", f"cases/{office.case.pk}/recipes", {"name": "Copy", "copy_of": office.recipe.pk}
    )
    assert made.status_code == 201
    copied = Recipe.objects.get(pk=made.json()["id"])
    assert texts_of(copied) == texts_of(Recipe.objects.get(pk=office.recipe.pk))
    a = office.get(f"recipes/{office.recipe.pk}/analysis").json()
    b = office.get(f"recipes/{copied.pk}/analysis").json()
    assert figures(a) == figures(b)


def test_a_copy_meets_the_same_refusals_as_saving_by_hand(office) -> None:
    save(office, [{"food": CHICKEN, "quantity": "100 g"}])
    office.change(intake__red_flags__present="collapse")
    body = {"name": "Copy", "copy_of": office.recipe.pk}
    refused = office.send("post", f"cases/{office.case.pk}/recipes", body)
    assert refused.status_code == 400
    assert Recipe.objects.filter(case=office.case).count() == 1


def test_every_field_of_a_line_is_stored_kept_and_restored(office) -> None:
    save(office, WHOLE)
    before = texts_of(Recipe.objects.get(pk=office.recipe.pk))
    kept = office.send("post", f"recipes/{office.recipe.pk}/versions", {"name": "one"}).json()
    save(office, [{"food": CHICKEN, "quantity": "10 g"}])
    assert office.send("post", f"versions/{kept['id']}/restore").status_code == 200
    assert texts_of(Recipe.objects.get(pk=office.recipe.pk)) == before
    # A new field of a line must be a column too, or it falls off here.
    columns = {f.name for f in Line._meta.get_fields()}
    assert {f.name for f in fields(LineText)} <= columns


@pytest.fixture
def cup_taken_back(office: Any) -> Any:
    """A stored line in a measure the practice has taken back since."""
    assert office.note(HEART, measures={"cup": 145}).status_code == 200
    save(office, [{"food": CHICKEN, "quantity": "100 g"}, {"food": HEART, "quantity": "1 cup"}])
    assert office.note(HEART, measures={}).status_code == 200
    return office


def test_a_stored_amount_that_can_no_longer_be_read_still_counts(cup_taken_back) -> None:
    office = cup_taken_back
    report = office.get(f"recipes/{office.recipe.pk}/analysis").json()
    assert [x["grams"] for x in report["recipe"]["lines"]] == [100, 145]
    said = next(f for f in report["flags"] if f["kind"] == "reading")
    assert "145 g" in said["why"]
    Plan.objects.create(
        practice=office.practice, case=office.case, turns=[{"recipe": office.recipe.pk, "days": 1}]
    )
    plan = office.get(f"cases/{office.case.pk}/plan").json()
    assert plan["analysis"]["recipe"]["kcal_per_day"] == report["recipe"]["kcal_per_day"]
    file = office.get(f"cases/{office.case.pk}/file?recipe={office.recipe.pk}").json()
    assert [x["grams"] for x in file["recipe"]["lines"]] == [100, 145]
    # On the bench it still counts as long as it stands as it was; a new text must be readable.
    lines = [{"food": CHICKEN, "quantity": "100 g"}, {"food": HEART, "quantity": "1 cup"}]
    assert typed(office, lines)["recipe"]["lines"][1]["grams"] == 145
    lines[1]["quantity"] = "2 cups"
    assert typed(office, lines)["line_errors"][0]["line"] == 1
    # Saving the rest of the recipe does not lose it either.
    assert save(
        office, [{"food": CHICKEN, "quantity": "120 g"}, {"food": HEART, "quantity": "1 cup"}]
    )


def test_a_food_that_is_gone_stops_what_would_leave_it_out(office) -> None:
    own = OwnFood.objects.create(
        practice=office.practice, slug="stew", name="Stew", values={"ENERC": 100}
    )
    touch(office.practice)
    save(
        office, [{"food": CHICKEN, "quantity": "100 g"}, {"food": "own:stew", "quantity": "400 g"}]
    )
    own.delete()
    office.practice.refresh_from_db()
    touch(office.practice)
    Plan.objects.create(
        practice=office.practice, case=office.case, turns=[{"recipe": office.recipe.pk, "days": 1}]
    )
    plan = office.get(f"cases/{office.case.pk}/plan")
    assert plan.status_code == 200
    assert plan.json()["analysis"] is None and "own:stew" in plan.json()["problem"]
    for path in (
        f"recipes/{office.recipe.pk}/analysis",
        f"cases/{office.case.pk}/file?recipe={office.recipe.pk}",
    ):
        answer = office.get(path)
        assert answer.status_code == 400
        assert answer.json()["error"]["field"] == "lines[1].food"


def test_three_eggs_are_asked_about_and_never_three_grams(office) -> None:
    found = typed(office, [{"food": "usda:01123", "quantity": "3 eggs"}])
    (error,) = found["line_errors"]
    readings = {r["text"]: r["grams"] for r in error["readings"]}
    assert readings["3 large"] == 150 and readings["3 medium"] == 132
    chosen = typed(office, [{"food": "usda:01123", "quantity": "3 large"}])
    assert chosen["recipe"]["grams"] == 150


def test_what_is_typed_to_find_a_food_goes_with_it(office) -> None:
    eggs = office.get("foods?q=3 large eggs").json()
    whole = next(f for f in eggs if f["id"] == "usda:01123")
    assert whole["quantity"] == "3 large"
    pumpkin = office.get("foods?q=1/2 can pumpkin").json()
    assert pumpkin[0]["name"].startswith("Pumpkin") and pumpkin[0]["quantity"] == "1/2 can"


def test_a_supplement_starts_with_the_least_that_can_be_given(office) -> None:
    starts = {f["id"]: f["quantity"] for f in office.get("foods?q=vitamin e").json()}
    assert starts["supp:vitamin-e-capsule-100"] == "1 capsule"
    starts = {f["id"]: f["quantity"] for f in office.get("foods?q=eggshell").json()}
    assert starts["supp:eggshell-powder"] == "1/4 tsp"


def test_a_search_names_every_food_once(office) -> None:
    from library.facts import reference

    names = [f.name for f in reference().library.foods if f.is_supplement]
    for text in [*names, "taurine", "calcium carbonate", "bone meal", "eggs", "3 eggs", "fish oil"]:
        found = [f["id"] for f in office.get(f"foods?q={text}").json()]
        assert len(found) == len(set(found)), text


def test_a_new_practice_is_offered_nothing_made_up(office) -> None:
    from library.facts import reference

    assert not [f.name for f in reference().library.foods if "made up" in f.name]
    assert not [
        f.id for f in reference().library.foods if f.handling and f.handling.kind == "premix"
    ]
    choices = office.get(f"cases/{office.case.pk}/formulation").json()["allowed"]
    assert not [c["name"] for c in choices if "made up" in c["name"] or "premix" in c["name"]]


def test_a_case_file_survives_the_way_out_and_in(office, rival) -> None:
    save(office, [{"food": CHICKEN, "quantity": "1234.5678 g", "note": "diced"}, *WHOLE])
    file = office.get(f"cases/{office.case.pk}/file?recipe={office.recipe.pk}").json()
    made = rival.send("post", "cases/file", file)
    assert made.status_code == 201, made.json()
    copied = Recipe.objects.get(pk=made.json()["recipes"][0]["id"])
    texts = texts_of(copied)
    assert texts[0].grams == 1234.5678 and texts[0].note == "diced"
    assert texts[1].preparation == WHOLE[0]["preparation"]
    a = office.get(f"recipes/{office.recipe.pk}/analysis").json()
    b = rival.get(f"recipes/{copied.pk}/analysis").json()
    assert figures(a) == figures(b)
    # And the commands read what the application wrote.
    done = subprocess.run(
        [sys.executable, "-m", "wainscot_cli", "analyse", "-"], input=json.dumps(file), text=True,
        capture_output=True, check=False,
        env={"PYTHONPATH": f"{ROOT}/core:{ROOT}/cli", "PATH": "/usr/bin:/bin"},
    )  # fmt: skip
    assert done.returncode == 0
    assert json.loads(done.stdout)["warnings"] == []


KELP = "supp:kelp-powder"


def test_a_case_file_takes_along_what_the_practice_knows_of_its_foods(office, rival) -> None:
    """Another practice computes the same from it: strength, own measure, price, class, what is not to be had."""
    OwnFood.objects.create(
        practice=office.case.practice, slug="stew", name="Stew", klass="beef",
        values={"ENERC": 150, "PROCNT": 15, "FAT": 8, "WATER": 70, "CHOCDF": 5, "FIBTG": 1},
        origin={"by": "case file", "fibre_kind": "crude"},
    )  # fmt: skip
    assert office.change(me_method="nrc-predictive").status_code == 200
    touch(office.case.practice)
    noted = office.note(KELP, strengths={"ID": 600}, measures={"scoop": 0.5})
    assert noted.status_code == 200
    assert office.note(CHICKEN, price=9.5, price_grams=1000).status_code == 200
    mark = {"foods": ["usda:13325"], "mark": "will-not-use"}
    assert office.send("post", f"cases/{office.case.pk}/client-foods", mark).status_code == 200
    save(office, [
        {"food": CHICKEN, "quantity": "200 g"}, {"food": KELP, "quantity": "2 scoop"},
        {"food": "own:stew", "quantity": "100 g"},
    ])  # fmt: skip
    file = office.get(f"cases/{office.case.pk}/file?recipe={office.recipe.pk}").json()
    assert file["known"] == {KELP: {"strengths": {"ID": 600}, "measures": {"scoop": 0.5}}}
    assert file["prices_per_kg"] == {CHICKEN: 9.5}
    assert (file["foods"][0]["food_class"], file["foods"][0]["fibre"]) == ("beef", "crude")
    assert file["me_method"] == "nrc-predictive"
    made = rival.send("post", "cases/file", file)
    assert made.status_code == 201, made.json()
    copied = Recipe.objects.get(pk=made.json()["recipes"][0]["id"])
    a = office.get(f"recipes/{office.recipe.pk}/analysis").json()
    b = rival.get(f"recipes/{copied.pk}/analysis").json()
    assert figures(a) == figures(b) and a["cost"] == b["cost"]
    again = rival.get(f"cases/{made.json()['id']}/file?recipe={copied.pk}").json()
    assert again == file
    # What the other practice knew already stays as it was.
    rival.note(KELP, strengths={"ID": 50})
    rival.send("post", "cases/file", file)
    assert PracticeFood.objects.get(practice=rival.case.practice, food=KELP).strengths == {"ID": 50}


FILE = {
    "format": "wainscot-case", "version": 1, "dog": {"name": "Pine", "weight_kg": 10},
    "energy": {"multiplier": 1.6}, "targets": {"standard": "nrc-2006"},
    "recipe": {"lines": [{"food": CHICKEN, "grams": 100}]},
}  # fmt: skip


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"diagnoses": [{"name": "x"}]}, "diagnoses[0].id"),
        ({"diagnoses": [{"id": "nothing known"}]}, "conditions[0].id"),
        ({"diagnoses": 5}, "diagnoses"),
        ({"intake": {"medicines": [{}]}}, "intake.medicines[0].name"),
        ({"intake": {"weights": [{"on": "2026-01-01", "kg": 1e9}]}}, "intake.weights[0].kg"),
        ({"intake": []}, "intake"),
        ({"reactions": [{"food": "x", "form": 5}]}, "reactions[0].form"),
        ({"reactions": [{}]}, "reactions[0].food"),
        ({"dog": {"name": "P", "weight_kg": 10, "adult_weight_kg": 1e300}}, "dog.adult_weight_kg"),
        ({"dog": {"name": "P", "weight_kg": 10, "body_condition": 99}}, "dog.body_condition"),
        ({"dog": {"name": "P", "weight_kg": 10, "sex": "zzz"}}, "dog.sex"),
        ({"dog": {"name": "P", "weight_kg": 10, "birth_date": "2999-01-01"}}, "dog.birth_date"),
        ({"dog": {"name": "P", "weight_kg": 10, "age_months": 1.5}}, "dog.age_months"),
        ({"dog": {"name": "P", "weight_kg": 10, "litter_size": 99999}}, "dog.litter_size"),
        ({"dog": {"name": "", "weight_kg": 10}}, "dog.name"),
        ({"dog": {"name": "\ud800", "weight_kg": 10}}, "dog.name"),
        ({"meals_per_day": 0}, "meals_per_day"),
        ({"foods": [{"id": "own:bad slug/../", "per_100_g": {"ENERC": 1}}]}, "foods[0].id"),
        ({"foods": [{"id": "own:x", "per_100_g": {"ENERC": 1e308}}]}, "foods[0].per_100_g.ENERC"),
        ({"foods": [{"id": "own:x", "per_100_g": {"ENERC": 400, "PROCNT": 500}}]},
         "foods[0].per_100_g.PROCNT"),
        ({"recipe": {"lines": [{"food": CHICKEN, "grams": 1, "note": 7}]}}, "recipe.lines[0].note"),
        ({"targets": {"standard": "nrc-2006", "decisions": [{"key": "CA"}]}},
         "targets.decisions[0].bound"),
    ],
)  # fmt: skip
def test_a_malformed_case_file_is_refused_whole(office, change, field) -> None:
    before = office.get("cases").json()
    answer = office.send("post", "cases/file", {**FILE, **change})
    assert answer.status_code == 400, answer.json()
    assert answer.json()["error"]["field"] == field
    assert office.get("cases").json() == before


@pytest.mark.parametrize(
    "body", ['{"a":' * 3000, "[1]", '"x"', '{"dog": ' + "[" * 2000 + "]" * 2000 + "}"]
)
def test_json_of_any_shape_is_refused_in_words(office, body) -> None:
    answer = office.browser.post("/api/cases/file", body, content_type="application/json")
    assert answer.status_code == 400
    assert answer.json()["error"]["message"]


def test_deeply_nested_json_is_refused_by_the_command() -> None:
    done = subprocess.run(
        [sys.executable, "-m", "wainscot_cli", "analyse", "-"], input="[" * 200_000, text=True,
        capture_output=True, check=False,
        env={"PYTHONPATH": f"{ROOT}/core:{ROOT}/cli", "PATH": "/usr/bin:/bin"},
    )  # fmt: skip
    assert done.returncode == 2 and "Traceback" not in done.stderr
    assert json.loads(done.stdout)["error"]["message"]
