"""Plans, versions and templates at their edges."""

from datetime import timedelta
from typing import Any

import pytest
from django.db import connection
from django.utils import timezone
from plans.models import Plan
from recipes.actions import MOST_VERSIONS
from recipes.models import RecipeVersion
from records.models import Snapshot

CHICKEN, RICE = "usda:05062", "usda:20445"


def test_a_plan_of_nothing_is_empty_not_wrong(office) -> None:
    answer = office.set_plan(turns={})
    assert answer.status_code == 200
    plan = answer.json()
    assert plan["empty"] is True and plan["analysis"] is None and plan["days"] == []


def test_a_plan_of_bought_food_alone_adds_up(office) -> None:
    item = {"kind": "bought", "food": RICE, "quantity": "200 g"}
    plan = office.set_plan(turns={}, items=[item]).json()
    assert plan["empty"] is False and plan["round_days"] == 1
    assert plan["analysis"]["recipe"]["grams"] == pytest.approx(200)
    # Bought food is the diet, not a treat.
    assert plan["extras_share"] == 0


def test_a_recipe_that_covers_days_counts_a_day_each(office) -> None:
    lines = [{"food": CHICKEN, "quantity": "300 g"}]
    office.set_recipe(lines, name="Three days", covers_days=3)
    plan = office.set_plan({office.recipe.pk: 6}).json()
    # 300 g for three days, fed six days: 100 g a day.
    assert plan["round_days"] == 6
    assert plan["analysis"]["recipe"]["grams_per_day"] == pytest.approx(100)
    assert plan["days"][0]["kcal_per_day"] == pytest.approx(
        plan["analysis"]["recipe"]["kcal_per_day"]
    )


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"turns": {10**6: 1}}, f"turns.{10**6}"),
        ({"turns": {"soup": 1}}, "turns.soup"),
        ({"turns": {1: 90}}, "turns.1"),
        ({"items": [{"kind": "gift", "food": RICE, "quantity": "1 g"}]}, "items.item-0.kind"),
        (
            {"items": [{"kind": "treat", "food": "usda:00000", "quantity": "1 g"}]},
            "items.item-0.food",
        ),
        ({"items": [{"kind": "treat", "food": RICE, "quantity": "-1 g"}]}, "items.item-0.quantity"),
        ({"items": [{"kind": "treat", "food": RICE, "quantity": "1 g", "x": 1}]}, "items.item-0.x"),
        ({"items": [{"kind": "treat", "food": RICE, "quantity": "1 g"}] * 41}, "items"),
    ],
)
def test_a_bad_plan_names_its_field_and_keeps_the_old(office, change, field) -> None:
    before = office.get(f"cases/{office.case.pk}/plan").json()
    answer = office.set_plan(**change)
    assert answer.status_code == 400
    assert answer.json()["error"]["field"] == field
    assert office.get(f"cases/{office.case.pk}/plan").json() == before


def test_a_plan_has_a_first_day_and_a_change_over(office) -> None:
    at = f"cases/{office.case.pk}/plan"
    day = timezone.localdate() + timedelta(days=3)
    office.set_recipe([{"food": CHICKEN, "quantity": "300 g"}])
    plan = office.set_plan({office.recipe.pk: 1}).json()
    assert (plan["begins"], plan["change_days"]) == (None, 7)
    # Nobody said when: from today on, and nothing gives way.
    assert [d["new"] for d in plan["bowls"]["days"]] == [1] * 14
    assert plan["bowls"]["days"][0]["on"] == timezone.localdate().isoformat()
    changes = [
        {"path": "begins", "value": day.isoformat(), "was": None},
        {"path": "change_days", "value": 10, "was": 7},
    ]
    plan = office.send("patch", at, {"changes": changes}).json()
    assert [d["new"] for d in plan["bowls"]["days"]] == [0.25] * 3 + [0.5] * 3 + [0.75] * 3 + [
        1
    ] * 5
    assert plan["bowls"]["days"][0]["on"] == day.isoformat()
    assert office.get(at).json()["bowls"] == plan["bowls"]


@pytest.mark.parametrize(
    ("path", "value"), [("change_days", 8), ("change_days", -7), ("begins", "some day")]
)
def test_a_change_over_that_cannot_be_is_refused(office, path, value) -> None:
    at = f"cases/{office.case.pk}/plan"
    before = office.get(at).json()
    answer = office.send(
        "patch", at, {"changes": [{"path": path, "value": value, "was": before[path]}]}
    )
    assert answer.status_code == 400
    assert answer.json()["error"]["field"] == path
    assert office.get(at).json() == before


def test_a_plan_with_a_change_over_that_is_none_says_so(office) -> None:
    """A row that somebody wrote by hand."""
    office.set_plan(
        {office.recipe.pk: 1}, items=[{"kind": "bought", "food": RICE, "quantity": "200 g"}]
    )
    Plan.objects.filter(case=office.case).update(change_days=9, begins=timezone.localdate())
    plan = office.get(f"cases/{office.case.pk}/plan").json()
    assert "choose one of" in plan["problem"]
    assert plan["bowls"] is None and plan["change_days"] == 9


def test_treats_beside_a_good_day_show_the_day(office) -> None:
    treat = {"kind": "treat", "food": "usda:01009", "quantity": "100 g"}
    plan = office.set_plan(items=[treat]).json()
    sodium = {n["key"]: n["per_day"] for n in plan["analysis"]["nutrients"]}["NA"]
    alone = office.set_plan(items=[]).json()
    assert sodium > {n["key"]: n["per_day"] for n in alone["analysis"]["nutrients"]}["NA"] + 500


def test_versions_have_an_end_that_is_said(office) -> None:
    RecipeVersion.objects.bulk_create(
        RecipeVersion(
            practice=office.practice, recipe=office.recipe, number=i, name=str(i), covers_days=1,
            lines=[],
        )
        for i in range(1, MOST_VERSIONS + 1)
    )  # fmt: skip
    answer = office.send("post", f"recipes/{office.recipe.pk}/versions", {"name": "one more"})
    assert answer.status_code == 400 and "delete some" in answer.json()["error"]["message"]


def test_a_version_is_renamed_and_deleted_but_never_edited(office) -> None:
    made = office.send("post", f"recipes/{office.recipe.pk}/versions", {"name": "a"}).json()
    path = f"versions/{made['id']}"
    # What it holds cannot be sent at all.
    refused = office.send("patch", path, {"name": "b", "lines": [], "covers_days": 9})
    assert refused.status_code == 400 and refused.json()["error"]["field"] == "lines"
    renamed = office.send("patch", path, {"name": "b"}).json()
    assert renamed["name"] == "b"
    assert renamed["lines"] == made["lines"] and renamed["covers_days"] == made["covers_days"]
    assert office.send("delete", path).status_code == 204
    assert office.get(f"recipes/{office.recipe.pk}/versions").json() == []


def test_a_stopped_case_is_not_restored(office) -> None:
    made = office.send("post", f"recipes/{office.recipe.pk}/versions", {"name": "a"}).json()
    office.case.intake = {"red_flags": {"present": "collapse"}}
    office.case.save()
    answer = office.send("post", f"versions/{made['id']}/restore")
    assert answer.status_code == 400 and "red flag" in answer.json()["error"]["message"]
    # Nothing was kept or changed half way.
    assert len(office.get(f"recipes/{office.recipe.pk}/versions").json()) == 1


def test_a_stopped_case_takes_no_plan_and_no_copy(office) -> None:
    before = office.get(f"cases/{office.case.pk}/plan").json()
    office.case.intake = {"red_flags": {"present": "collapse"}}
    office.case.save()
    refused = office.set_plan(items=[])
    assert refused.status_code == 400 and "red flag" in refused.json()["error"]["message"]
    copied = office.send(
        "post",
        f"cases/{office.case.pk}/recipes",
        {"name": "Copy", "copy_of": office.recipe.pk},
    )
    assert copied.status_code == 400 and "red flag" in copied.json()["error"]["message"]
    assert office.get(f"cases/{office.case.pk}/plan").json()["version"] == before["version"]


def test_a_template_follows_its_way_or_the_foods_that_are_named(office) -> None:
    def begun(**more) -> Any:
        return office.send("post", f"recipes/{office.recipe.pk}/template", {"lines": [], **more})

    assert begun(way="no-such-way").json()["error"]["field"] == "way"
    halves = begun(way_shares={"meat": 50, "starch": 50}).json()
    grams = [float(row["quantity"].removesuffix(" g")) for row in halves]
    assert len(grams) == 2 and grams[0] == pytest.approx(grams[1], rel=0.05)
    named = begun(foods=[CHICKEN, "usda:20445"]).json()
    assert [row["food"] for row in named] == [CHICKEN, "usda:20445"]


def test_unreadable_lines_stop_a_formulation_before_it_starts(office) -> None:
    body = {"lines": [{"food": CHICKEN, "quantity": "some"}]}
    for path, more in (
        ("formulate", {"settings": {"mode": "rebalance"}}), ("help", {"key": "CA"}),
        ("explain", {"key": "CA"}), ("rescale", {"way": "equal-parts"}),
    ):  # fmt: skip
        answer = office.send("post", f"recipes/{office.recipe.pk}/{path}", {**body, **more})
        assert answer.status_code == 400
        assert answer.json()["error"]["field"] == "lines[0].quantity"


@pytest.mark.parametrize(
    ("change", "field"),
    [({"line": 7}, "line"), ({"food": "usda:00000"}, "food"), ({"food": "usda:02047"}, "food")],
)
def test_a_substitute_that_cannot_be_is_refused(office, change, field) -> None:
    # Salt brings no energy to keep.
    lines = [{"food": CHICKEN, "quantity": "100 g"}]
    body = {"lines": lines, "line": 0, "food": RICE, **change}
    answer = office.send("post", f"recipes/{office.recipe.pk}/substitute", body)
    assert answer.status_code == 400 and answer.json()["error"]["field"] == field


def test_a_substitute_may_keep_the_protein(office) -> None:
    lines = [{"food": CHICKEN, "quantity": "200 g"}]
    body = {"lines": lines, "line": 0, "food": "usda:15016", "keep": "protein"}
    found = office.send("post", f"recipes/{office.recipe.pk}/substitute", body).json()

    def protein(line: dict[str, str]) -> float:
        report = office.send(
            "post", f"recipes/{office.recipe.pk}/analysis", {"lines": [line], "covers_days": 1}
        ).json()
        return next(n["total"] for n in report["nutrients"] if n["key"] == "PROCNT")

    ours = protein({"food": found["food"], "quantity": found["quantity"]})
    assert ours == pytest.approx(protein(lines[0]), abs=0.25)


def test_choices_name_what_speaks_against_each(office) -> None:
    office.case.conditions = [{"id": "copper-hepatopathy", "name": "Copper", "stage": ""}]
    office.case.reactions = [{"food": "fish"}]
    office.case.save()
    allowed = {
        a["food"]: a for a in office.get(f"cases/{office.case.pk}/formulation").json()["allowed"]
    }
    assert "copper" in allowed["usda:13326"]["why_not"]
    assert "fish" in allowed["supp:fish-oil"]["why_not"]
    assert "pack" in allowed["supp:kelp-powder"]["why_not"]
    assert allowed["supp:calcium-carbonate"]["why_not"] == ""


def test_a_day_whose_ratio_is_off_is_not_balanced(office) -> None:
    """Meat and rice without bone: calcium to phosphorus far under 1 : 1, and it is named."""
    assert office.change(standard="aafco-2016").status_code == 200
    plan = office.get(f"cases/{office.case.pk}/plan").json()
    ratio = next(r for r in plan["analysis"]["ratios"] if r["status"] == "short")
    assert ratio["key"] in {bad["key"] for bad in plan["days"][0]["bad"]}


def test_versions_stand_in_their_order_with_their_walls(office, rival) -> None:
    """300 g of chicken, then 250 g with 50 g of rice."""
    first = [{"food": "usda:05096", "quantity": "300 g"}]
    second = [
        {"food": "usda:05096", "quantity": "250 g"}, {"food": "usda:20445", "quantity": "50 g"},
    ]  # fmt: skip
    for name, lines in (("Chicken", first), ("With rice", second)):
        office.set_recipe(lines, name="Draft", covers_days=1)
        made = office.send("post", f"recipes/{office.recipe.pk}/versions", {"name": name})
        assert made.status_code == 201
    steps = office.get(f"recipes/{office.recipe.pk}/timeline").json()
    assert [s["since"] for s in steps] == [None, steps[0]["number"]]
    changed = {x["food"]: (x["before_g"], x["after_g"]) for x in steps[1]["lines"]}
    assert changed == {"usda:05096": (300, 250), "usda:20445": (None, 50)}
    assert len(steps[0]["wall"]["keys"]) == len(steps[0]["wall"]["boards"]["filled"])
    assert rival.get(f"recipes/{office.recipe.pk}/timeline").status_code == 404


def test_a_version_without_its_figures_stands_in_the_list_without_a_wall(office) -> None:
    office.set_recipe([{"food": CHICKEN, "quantity": "300 g"}], name="Draft", covers_days=1)
    for name in ("one", "two"):
        office.send("post", f"recipes/{office.recipe.pk}/versions", {"name": name})
    RecipeVersion.objects.filter(recipe=office.recipe, name="one").update(snapshot=None)
    steps = office.get(f"recipes/{office.recipe.pk}/timeline").json()
    assert [(s["since"], s["lines"]) for s in steps] == [(None, [])]
    assert len(office.get(f"recipes/{office.recipe.pk}/versions").json()) == 2
    # Nor has one whose figures are not what they were.
    connection.cursor().execute("DROP TRIGGER records_snapshot_no_update")
    Snapshot.objects.update(digest="0" * 64)
    assert office.get(f"recipes/{office.recipe.pk}/timeline").json() == []
