"""Formulation, versions and plans through the endpoints."""

import time
from io import StringIO
from typing import Any

import pytest
from accounts.models import User
from cases.models import Case, ClientFood
from django.core.management import call_command
from django.test import Client as Browser
from jobs.models import Job
from library.facts import reference
from library.practice import library_for
from library.stocking import stock
from shelf import SHELF
from wainscot_core.boundary import read
from wainscot_core.facts.shelf import ShelfItem

HEART = [
    {"food": "usda:05098", "quantity": "140 g"},
    {"food": "usda:20445", "quantity": "3/4 cup"},
    {"food": "usda:01012", "quantity": "1/4 cup"},
    {"food": "usda:11125", "quantity": "1/2 cup"},
    {"food": "usda:02047", "quantity": "1/8 tsp"},
]


@pytest.fixture
def heart(office: Any) -> Any:
    office.case.conditions = [{"id": "mmvd", "name": "Mitral valve disease", "stage": "C"}]
    office.case.multiplier = 1.4
    office.case.save()
    for item in SHELF:
        stock(office.who, read(ShelfItem, item))
    return office


def finished(office: Any, answer: Any, at: str = "formulations") -> dict[str, Any]:
    """The job of an answer once it is done."""
    body = answer.json()
    for _ in range(100):
        if answer.status_code == 200:
            return body
        assert answer.status_code == 202 and body["state"] in {"waiting", "running"}
        time.sleep(0.1)
        answer = office.get(f"{at}/{body['job']}")
        body = answer.json()
    raise AssertionError("the run did not end")


def formulate(office: Any, given: list[dict[str, Any]], **settings: Any) -> dict[str, Any]:
    answer = office.send(
        "post",
        f"recipes/{office.recipe.pk}/formulate",
        {"lines": given, "covers_days": 1, "settings": {"mode": "rebalance", **settings}},
    )
    return finished(office, answer)["result"]


def test_a_proposal_changes_nothing_until_it_is_saved(heart: Any) -> None:
    before = heart.get(f"recipes/{heart.recipe.pk}").json()
    result = formulate(heart, HEART)
    assert result["state"] == "met"
    first = result["alternatives"][0]
    assert first["changes"] == result["changes"]
    assert not any(first["stands"][k] for k in ("short", "over", "unproven"))
    assert first["levels"]["NA"] <= 800
    assert heart.get(f"recipes/{heart.recipe.pk}").json() == before
    # Accepting it all gives the recipe the analysis promised.
    lines = [
        {"food": c["food"], "quantity": c["after"] or c["before"]}
        for c in result["changes"]
        if c["kind"] != "removed"
    ]
    for line in lines:
        original = next((x for x in HEART if x["food"] == line["food"]), None)
        kept = next(c for c in result["changes"] if c["food"] == line["food"])["kind"] == "kept"
        if original and kept:
            line["quantity"] = original["quantity"]
    report = heart.send(
        "post", f"recipes/{heart.recipe.pk}/analysis", {"lines": lines, "covers_days": 1}
    ).json()
    bad = {"short", "over", "unproven"}
    assert not [n["key"] for n in report["nutrients"] if n["status"] in bad]
    found = {n["key"]: n["per_1000_kcal"] for n in report["nutrients"]}
    for key, level in first["levels"].items():
        assert found[key] == pytest.approx(level, rel=1e-6)


def test_what_the_owner_cannot_get_is_not_proposed(heart: Any) -> None:
    first = formulate(heart, HEART)
    added = {c["food"] for c in first["changes"] if c["kind"] == "added"}
    assert "supp:fish-oil" in added
    ClientFood.objects.create(
        practice=heart.practice,
        client=heart.case.dog.client,
        food="supp:fish-oil",
        mark="cannot-get",
    )
    again = formulate(heart, HEART)
    assert "supp:fish-oil" not in {c["food"] for c in again["changes"]}
    choices = heart.get(f"cases/{heart.case.pk}/formulation").json()
    oil = next(a for a in choices["allowed"] if a["food"] == "supp:fish-oil")
    assert oil["why_not"] == "the owner cannot get it"


def test_what_a_medicine_speaks_against_is_not_proposed(heart: Any) -> None:
    heart.case.intake = {"medicines": [{"name": "Spironolactone", "dose": "as prescribed"}]}
    heart.case.save()
    result = formulate(heart, HEART)
    foods = {c["food"] for c in result["changes"]}
    assert not any(f.startswith("supp:potassium-") for f in foods)
    choices = heart.get(f"cases/{heart.case.pk}/formulation").json()["allowed"]
    salt = next(a for a in choices if a["food"] == "supp:potassium-chloride")
    assert salt["why_not"] == "beside Spironolactone: potassium in the blood rises"
    # A line that holds it stays: the vet may have prescribed it.
    given = [*HEART, {"food": "supp:potassium-chloride", "quantity": "0.3 g"}]
    kept = formulate(heart, given, lines=[{"line": 5, "role": "fixed"}])
    assert next(c for c in kept["changes"] if c["line"] == 5)["kind"] == "kept"


def test_fixed_lines_name_the_conflict_and_the_ways_out(heart: Any) -> None:
    result = formulate(heart, HEART, lines=[{"line": i, "role": "fixed"} for i in range(5)])
    assert result["state"] == "impossible" and result["changes"] == []
    (conflict,) = result["conflicts"]
    assert any(m["key"] == "NA" for m in conflict["members"])
    assert any("Salt" in way["text"] for way in conflict["ways_out"])


@pytest.mark.parametrize(
    ("asked", "field"),
    [
        ({"mode": "magic"}, "settings.mode"),
        ({"max_supplements": 400}, "settings.max_supplements"),
        ({"sure_percent": 100}, "settings.sure_percent"),
        ({"lines": [{"line": 0, "tie_to": 0}]}, "settings.lines[0].tie_to"),
        ({"lines": [{"line": 0, "role": "perhaps"}]}, "settings.lines[0].role"),
    ],
)
def test_bad_settings_are_named(heart: Any, asked: dict[str, Any], field: str) -> None:
    answer = heart.send(
        "post",
        f"recipes/{heart.recipe.pk}/formulate",
        {"lines": HEART, "settings": {"mode": "rebalance", **asked}},
    )
    assert answer.status_code == 400
    assert answer.json()["error"]["field"] == field


def test_a_run_can_be_cancelled_and_is_private(heart: Any, rival: Any) -> None:
    answer = heart.send(
        "post",
        f"recipes/{heart.recipe.pk}/formulate",
        {"lines": HEART, "settings": {"mode": "rebalance"}},
    )
    job = answer.json()["job"]
    assert rival.get(f"formulations/{job}").status_code == 404
    assert rival.send("delete", f"formulations/{job}").status_code == 404
    assert heart.send("delete", f"formulations/{job}").status_code == 204
    assert finished(heart, heart.get(f"formulations/{job}"))["state"] == "done"


def test_help_names_foods_that_close_the_gap(heart: Any) -> None:
    found = heart.send(
        "post", f"recipes/{heart.recipe.pk}/help", {"lines": HEART, "key": "CA"}
    ).json()
    minimum = 1000
    assert all(h["value_after"] >= minimum * 0.999999 for h in found if h["closes"] == 1)
    closing = [h["value_after"] for h in found if h["closes"] == 1]
    assert all(h["value_after"] < min(closing) for h in found if h["closes"] < 1)
    assert {"single", "premix"} <= {h["kind"] for h in found}
    refused = heart.send(
        "post", f"recipes/{heart.recipe.pk}/help", {"lines": HEART, "key": "SUGAR"}
    )
    assert refused.status_code == 400


def test_rescale_keeps_the_part_there_is_least_of(office: Any) -> None:
    lines = [
        {"food": "usda:05062", "quantity": "300 g"},
        {"food": "usda:20445", "quantity": "100 g"},
        {"food": "usda:11124", "quantity": "50 g"},
    ]
    body = {"lines": lines, "way": "protein-starch-vegetable"}
    # 50 : 25 : 25 with least of the vegetable: 50 g are a quarter, so 100 g and 50 g of the others.
    found = office.send("post", f"recipes/{office.recipe.pk}/rescale", body).json()
    assert found == [{"line": 0, "quantity": "100 g"}, {"line": 1, "quantity": "50 g"}]
    gauges = office.send("post", f"recipes/{office.recipe.pk}/analysis", body).json()["gauges"]
    assert [round(g["share"], 3) for g in gauges] == [0.667, 0.222, 0.111]
    missing = office.send(
        "post", f"recipes/{office.recipe.pk}/rescale", {"lines": lines[:2], "way": body["way"]}
    )
    assert missing.status_code == 400 and "vegetables" in missing.json()["error"]["message"]


def test_a_substitute_keeps_the_energy(office: Any) -> None:
    lines = [{"food": "usda:05062", "quantity": "200 g"}]
    body = {"lines": lines, "line": 0, "food": "usda:17179"}
    found = office.send("post", f"recipes/{office.recipe.pk}/substitute", body).json()

    def kcal(line: dict[str, str]) -> float:
        body = {"lines": [line], "covers_days": 1}
        return office.send("post", f"recipes/{office.recipe.pk}/analysis", body).json()["recipe"][
            "kcal"
        ]

    ours = kcal({"food": found["food"], "quantity": found["quantity"]})
    # To the gram, the smallest amount on a kitchen scale.
    assert ours == pytest.approx(kcal(lines[0]), abs=2.1)


def test_versions_are_kept_restored_and_branched(office: Any) -> None:
    path = f"recipes/{office.recipe.pk}"
    assert office.send("post", f"{path}/versions", {"name": " "}).status_code == 400
    first = office.send("post", f"{path}/versions", {"name": "As it came"}).json()
    lines = [{"food": "usda:05062", "quantity": "50 g"}]
    assert office.set_recipe(lines, covers_days=2).status_code == 200
    branched = office.send("post", f"versions/{first['id']}/branch", {"name": "With turkey"}).json()
    assert [x["quantity"] for x in branched["lines"]] == ["180 g", "1 cup"]
    restored = office.send("post", f"versions/{first['id']}/restore").json()
    assert [x["quantity"] for x in restored["lines"]] == ["180 g", "1 cup"]
    names = [v["name"] for v in office.get(f"{path}/versions").json()]
    assert names == ["before restoring “As it came”", "As it came"]
    kept = office.get(f"{path}/versions").json()[0]
    assert kept["covers_days"] == 2 and [x["quantity"] for x in kept["lines"]] == ["50 g"]


def test_a_plan_adds_up_over_the_rotation(office: Any) -> None:
    path = f"cases/{office.case.pk}/plan"
    plan = office.get(path).json()
    assert plan["turns"] == [{"recipe": office.recipe.pk, "days": 1}]
    first = office.send("post", f"recipes/{office.recipe.pk}/versions", {"name": "one"}).json()
    other = office.send("post", f"versions/{first['id']}/branch", {"name": "Second"}).json()
    office.set_recipe([{"food": "usda:20445", "quantity": "100 g"}], pk=other["id"])
    treat = {"kind": "treat", "food": "usda:01129", "quantity": "1 large"}
    found = office.set_plan({office.recipe.pk: 3, other["id"]: 1}, [treat]).json()

    def kcal(lines: list[dict[str, str]]) -> float:
        report = office.send(
            "post", f"recipes/{office.recipe.pk}/analysis", {"lines": lines, "covers_days": 1}
        ).json()
        return float(report["recipe"]["kcal"])

    main = kcal(
        [{"food": "usda:05062", "quantity": "180 g"}, {"food": "usda:20445", "quantity": "1 cup"}]
    )
    side = kcal([{"food": "usda:20445", "quantity": "100 g"}])
    egg = kcal([{"food": "usda:01129", "quantity": "1 large"}])
    expected = (3 * main + side) / 4 + egg
    assert found["analysis"]["recipe"]["kcal_per_day"] == pytest.approx(expected, rel=1e-6)
    assert found["extras_share"] == pytest.approx(egg / expected, rel=1e-6)
    assert found["extras_share"] > found["extras_most"]
    assert [d["days"] for d in found["days"]] == [3, 1]
    assert found["days"][1]["kcal_per_day"] == pytest.approx(side + egg, rel=1e-6)
    # What someone else changed meanwhile is told, not overwritten.
    at = f"turns.{other['id']}"
    stale = office.send("patch", path, {"changes": [{"path": at, "value": 5, "was": 2}]})
    assert stale.status_code == 409
    assert stale.json()["collisions"] == [{"path": at, "stored": 1.0, "yours": 5}]
    answer = office.set_plan(items=[{**treat, "quantity": "lots"}])
    assert answer.status_code == 400
    assert answer.json()["error"]["field"] == "items.item-0.quantity"
    assert office.get(path).json()["version"] == found["version"]


def test_a_plan_cannot_hold_another_cases_recipe(office: Any, rival: Any) -> None:
    assert office.set_plan({rival.recipe.pk: 1}).status_code == 400


def test_a_template_keeps_its_proportions_meets_the_energy_and_the_reactions(office: Any) -> None:
    office.case.reactions = [{"food": "chicken"}]
    office.case.save()
    body = {"lines": [], "covers_days": 2, "way": "protein-starch-vegetable"}
    drafted = office.send("post", f"recipes/{office.recipe.pk}/template", body).json()
    assert not any("Chicken" in line["name"] for line in drafted)
    lines = [{"food": x["food"], "quantity": x["quantity"]} for x in drafted]
    report = office.send(
        "post", f"recipes/{office.recipe.pk}/analysis", {**body, "lines": lines}
    ).json()
    assert [round(g["share"], 2) for g in report["gauges"]] == [0.5, 0.25, 0.25]
    assert report["recipe"]["kcal_per_day"] == pytest.approx(
        report["energy"]["target_kcal"], rel=0.01
    )
    # A template is a start: its gaps are shown all the same.
    assert any(n["status"] == "short" for n in report["nutrients"])
    refused = office.send("post", f"recipes/{office.recipe.pk}/template", {"lines": [], "way": "x"})
    assert refused.status_code == 400


@pytest.mark.django_db
@pytest.mark.parametrize("dog", ["Juniper", "Bramble", "Clover"])
def test_the_demo_cases_go_from_flawed_to_met(dog: str) -> None:
    call_command(
        "seed_demo", "--username", "demo", "--password", "demo-password-1", stdout=StringIO()
    )
    user = User.objects.get(username="demo")
    browser = Browser()
    browser.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
    case = Case.objects.get(dog__name=dog)
    recipe = browser.get(f"/api/recipes/{case.recipes.get().pk}").json()
    lines = [{"food": x["food"], "quantity": x["quantity"]} for x in recipe["lines"]]
    body = {
        "lines": lines, "covers_days": recipe["covers_days"],
        "settings": {"mode": "rebalance", "time_limit_s": 30},
    }  # fmt: skip
    path = f"/api/recipes/{recipe['id']}/formulate"
    answer = browser.post(path, body, content_type="application/json")
    while answer.status_code == 202:
        time.sleep(0.2)
        answer = browser.get(f"/api/formulations/{answer.json()['job']}")
    result = answer.json()["result"]
    assert result["state"] == "met"
    first = result["alternatives"][0]
    assert not any(first["stands"][k] for k in ("short", "over", "unproven"))
    foods = [x["food"] for x in first["recipe"]["lines"]]
    assert sum(f.startswith(("supp:", "shelf:")) for f in foods) <= 6
    if dog == "Clover":
        sources = {g for f in foods for g in library_for(case.practice).food(f).allergens}
        groups = reference().source_groups
        assert sources & (groups.protein | groups.carbohydrate) == {"rabbit", "sweet-potato"}


def test_a_bound_is_followed_live_and_nothing_is_saved(office: Any, rival: Any) -> None:
    lines = [
        {"food": "usda:05062", "quantity": "180 g"},
        {"food": "usda:20445", "quantity": "1 cup"},
    ]
    body = {"lines": lines, "covers_days": 1, "settings": {"bounds": {"PROCNT": {"least": 110}}}}
    path = f"recipes/{office.recipe.pk}/live"
    found = office.send("post", path, body).json()
    protein = next(n for n in found["analysis"]["nutrients"] if n["key"] == "PROCNT")
    assert (found["settled"], found["short"]) == (False, [])
    assert protein["per_1000_kcal"] >= 110 - 1e-6
    settled = office.send("post", path, {**body, "settle": True}).json()
    assert settled["settled"] and all(a["after"] for a in settled["amounts"] if a["after_grams"])
    wrong = {**body, "settings": {"bounds": {"PROCNT": {"least": 110, "most": 60}}}}
    refused = office.send("post", path, wrong)
    assert (refused.status_code, refused.json()["error"]["field"]) == (400, "bounds.PROCNT")
    assert rival.send("post", path, body).status_code == 404
    stored = office.get(f"recipes/{office.recipe.pk}").json()
    assert [line["quantity"] for line in stored["lines"]] == ["180 g", "1 cup"]


def test_what_it_eats_of_a_food_stands_beside_its_target(heart: Any) -> None:
    path = f"cases/{heart.case.pk}/eaten"
    found = heart.send("post", path, {"food": "usda:20445", "quantity": "2 cups"}).json()
    assert found["grams"] == pytest.approx(316)
    assert found["off_target"] == pytest.approx(found["kcal"] / found["target_kcal"] - 1)
    for body, field in (
        ({"food": "usda:20445", "quantity": "plenty"}, "quantity"),
        ({"food": "own:none", "quantity": "1 cup"}, "food"),
    ):
        refused = heart.send("post", path, body)
        assert refused.status_code == 400 and refused.json()["error"]["field"] == field


def test_the_recipes_of_a_plan_are_adjusted_together_and_taken_at_once(
    heart: Any, rival: Any
) -> None:
    at, recipe = f"cases/{heart.case.pk}/plan", heart.recipe.pk
    heart.set_recipe(HEART)
    before = heart.set_plan({recipe: 2}).json()
    assert any(n["status"] == "short" for n in before["analysis"]["nutrients"])
    assert heart.get(f"{at}/adjust").json() == {"last": None}
    begun = heart.send("post", f"{at}/adjust", {})
    found = finished(heart, begun, "rounds")
    # A page that is loaded again goes on with it, and nobody else's does.
    assert heart.get(f"{at}/adjust").json() == {"last": found}
    assert rival.get(f"{at}/adjust").status_code == 404
    job, result = {"job": found["job"]}, found["result"]
    assert found["recipes"] == [recipe] and result["holds"] and result["after"] == []
    assert [r["turn"] for r in result["recipes"]] == [0]
    # Looking changes nothing, and a round is no formulation of a recipe.
    assert heart.get(at).json() == before
    assert heart.get(f"formulations/{found['job']}").status_code == 404
    for method, path, body in (
        ("get", f"rounds/{found['job']}", None), ("delete", f"rounds/{found['job']}", None),
        ("post", f"cases/{rival.case.pk}/plan/take", job),
    ):  # fmt: skip
        assert rival.send(method, path, body).status_code == 404
    after = heart.send("post", f"{at}/take", job).json()
    assert not [n["key"] for n in after["analysis"]["nutrients"] if n["status"] == "short"]
    kept = heart.get(f"recipes/{recipe}/versions").json()
    assert kept[0]["name"] == "before the round was adjusted"
    lines = heart.get(f"recipes/{recipe}").json()["lines"]
    assert {x["food"] for x in lines} == {x["food"] for x in result["recipes"][0]["lines"]}
    # It was of what the recipes were then.
    again = heart.send("post", f"{at}/take", job)
    assert again.status_code == 400 and "changed since" in again.json()["error"]["message"]
    assert heart.get(f"{at}/adjust").json() == {"last": None}


def test_a_round_is_adjusted_as_it_is_asked(heart: Any) -> None:
    """With no supplement but those that are in it, or with nothing new at all; what cannot be asked is refused."""
    at, recipe = f"cases/{heart.case.pk}/plan", heart.recipe.pk
    heart.set_recipe(HEART)
    heart.set_plan({recipe: 2})
    held = {line["food"] for line in heart.get(f"recipes/{recipe}").json()["lines"]}

    def foods(**asked: Any) -> set[str]:
        found = finished(heart, heart.send("post", f"{at}/adjust", asked), "rounds")
        assert found["asked"] == {"max_supplements": None, "nothing_new": False} | asked
        return {x["food"] for r in found["result"]["recipes"] for x in r["lines"]}

    assert not foods(nothing_new=True) - held
    few = foods(max_supplements=1)
    assert few - held and len([f for f in few if f.startswith("supp:")]) <= 1
    # A row of before there was anything to ask is one that asked for nothing.
    job = Job.objects.filter(kind="rotation").latest("created")
    Job.objects.filter(pk=job.pk).update(ask={"recipes": [recipe]})
    assert heart.get(f"rounds/{job.pk}").json()["asked"]["max_supplements"] is None
    refused = heart.send("post", f"{at}/adjust", {"max_supplements": 99})
    assert (refused.status_code, refused.json()["error"]["field"]) == (400, "max_supplements")


def test_a_round_of_nothing_is_not_adjusted(heart: Any) -> None:
    heart.set_plan(turns={})
    answer = heart.send("post", f"cases/{heart.case.pk}/plan/adjust", {})
    assert answer.status_code == 400 and answer.json()["error"]["field"] == "turns"
