"""What cannot be read hides nothing else, is shown, and can be set aside; and the database refuses most of it."""

import json
import os
import sqlite3
import subprocess
import sys
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest
from cases.models import Case
from django.apps import apps
from django.db import IntegrityError, connection, models, transaction
from events.models import Event, EventKind
from library.actions import touch
from library.models import OwnFood, PracticeFood, PracticeStandard, ShelfEntry
from plans.models import Plan

ROOT = Path(__file__).resolve().parents[2]
# Written once and never again, by code alone; the database guards them in its own way.
ONCE = {"events_event", "kitchen_batchentry", "library_ownfoodrevision", "jobs_job"}


ROOMS = {
    "accounts", "library", "cases", "records", "recipes", "plans", "release", "kitchen", "followup", "people", "jobs",
}  # fmt: skip


def put(table: str, column: str, value: Any, pk: int) -> None:
    """Past the application, as a tool of somebody else would."""
    with connection.cursor() as cursor:
        cursor.execute(f'UPDATE {table} SET "{column}" = %s WHERE id = %s', [value, pk])  # noqa: S608


def ours() -> list[type[models.Model]]:
    return [m for m in apps.get_models() if m.__module__.split(".")[0] in ROOMS]


def test_every_column_of_json_has_a_shape_that_the_database_holds() -> None:
    """A new one is not forgotten."""
    for model in ours():
        table, rules = model._meta.db_table, {c.name for c in model._meta.constraints}
        for field in model._meta.concrete_fields:
            if isinstance(field, models.JSONField) and table not in ONCE:
                assert f"{table}_{field.column}_can_be" in rules


def test_every_column_of_words_is_held_by_the_database_too() -> None:
    """A word that is none of them would open something nobody meant, or fail where it is read."""
    walked = 0
    for model in ours():
        table, rules = model._meta.db_table, {c.name for c in model._meta.constraints}
        for field in model._meta.local_concrete_fields:
            if field.choices:
                assert f"{table}_{field.column}_can_be" in rules, field
                walked += 1
    assert walked >= 7


@pytest.mark.parametrize(
    ("column", "values"),
    [
        ("conditions", ['{"a": 1}', '"x"', "null", "3", "[1"]),
        ("intake", ["[]", "null"]), ("multiplier", [0, -1, 1e300]), ("meals_per_day", [0, 99]),
    ],
)  # fmt: skip
def test_the_database_refuses_what_a_case_cannot_hold(
    office: Any, column: str, values: list[Any]
) -> None:
    for value in values:
        with pytest.raises(Exception, match=r"CHECK|malformed") as refused, transaction.atomic():
            put("cases_case", column, value, office.case.pk)
        assert refused.type.__name__ in {"IntegrityError", "OperationalError"}


def test_the_database_refuses_weights_no_dog_has_and_words_that_are_none(office: Any) -> None:
    dog = office.case.dog
    line = office.recipe.lines.first()
    for table, column, value, pk in (
        ("cases_dog", "adult_weight_kg", 1e308, dog.pk), ("cases_dog", "ideal_weight_kg", -5, dog.pk),
        ("cases_dog", "sex", "zzz", dog.pk), ("accounts_user", "role", "king", office.practice.users.get().pk), ("diets_line", "measures", "imperial", line.pk),
        ("diets_line", "grams", -1, line.pk), ("diets_recipe", "covers_days", 0, office.recipe.pk),
    ):  # fmt: skip
        with pytest.raises(IntegrityError), transaction.atomic():
            put(table, column, value, pk)


# A case


def spoil(office: Any) -> None:
    put(
        "cases_case",
        "conditions",
        '[{"name": "x"}, {"id": "ckd", "name": "Kidney"}]',
        office.case.pk,
    )
    intake = {
        "medicines": [{"name": "pimobendan"}, {}],
        "conditions_asked": True,
        "reactions_asked": True,
    }
    put("cases_case", "intake", json.dumps(intake), office.case.pk)
    Plan.objects.create(
        practice=office.practice, case=office.case, turns=[{"recipe": office.recipe.pk, "days": 2}, {"x": 1}],
        items=["?"],
    )  # fmt: skip


def test_a_case_that_cannot_be_read_is_listed_told_of_and_mended(office: Any) -> None:
    spoil(office)
    (row,) = office.get("cases").json()["rows"]
    assert "conditions" in row["problem"] and row["dog"] == "larch dog"
    assert office.get(f"cases/{office.case.pk}").status_code == 400
    told = office.get(f"cases/{office.case.pk}/faults").json()["faults"]
    assert [(f["path"], json.loads(f["held"])) for f in told] == [
        ("conditions[0]", {"name": "x"}), ("intake.medicines[1]", {}),
        ("plan.turns[1]", {"x": 1}), ("plan.items[0]", "?"),
    ]  # fmt: skip
    assert office.send("delete", f"cases/{office.case.pk}/faults").json()["faults"] == told
    case = office.get(f"cases/{office.case.pk}").json()
    assert [c["id"] for c in case["conditions"]] == ["ckd"]
    assert [m["name"] for m in case["intake"]["medicines"]] == ["pimobendan"]
    # A list that lost something is to be asked for again.
    assert (case["intake"]["conditions_asked"], case["intake"]["reactions_asked"]) == (False, True)
    plan = office.get(f"cases/{office.case.pk}/plan").json()
    assert [t["days"] for t in plan["turns"]] == [2.0] and plan["items"] == []
    assert office.get(f"cases/{office.case.pk}/faults").json()["faults"] == []
    kept = Event.objects.filter(case=office.case.pk, kind=EventKind.SET_ASIDE).order_by("pk")
    assert [(e.data["field"], e.data["held"]) for e in kept] == [
        (f["path"], f["held"]) for f in told
    ]
    # Once more there is nothing to do, and nothing is put down.
    assert office.send("delete", f"cases/{office.case.pk}/faults").json()["faults"] == []
    assert kept.count() == 4


def test_what_must_be_there_is_asked_for_and_not_made_up(office: Any) -> None:
    put("cases_dog", "name", "x" * 500, office.case.dog.pk)
    said = office.send("delete", f"cases/{office.case.pk}/faults")
    assert said.status_code == 400 and said.json()["error"]["field"] == "dog.name"
    assert Case.objects.get(pk=office.case.pk).dog.name == "x" * 500
    assert not Event.objects.filter(kind=EventKind.SET_ASIDE).exists()


def test_no_page_of_a_spoilt_case_or_plan_fails_on_our_side(office: Any) -> None:
    spoil(office)
    at = f"cases/{office.case.pk}"
    for path in (
        at, f"{at}/intake", f"{at}/energy", f"{at}/targets", f"{at}/plan", f"{at}/steps", f"{at}/shopping", f"{at}/drift",
        f"{at}/events", f"recipes/{office.recipe.pk}/analysis", f"recipes/{office.recipe.pk}/checks", "desk", "cases",
    ):  # fmt: skip
        assert office.get(path).status_code in (200, 400), path


# The library of a practice

FOOD = "usda:05062"


def spoilt_library(office: Any) -> dict[str, int]:
    food = OwnFood.objects.create(
        practice=office.practice, slug="stew", name="Stew", values={"ENERC": "x"}
    )
    note = PracticeFood.objects.create(practice=office.practice, food=FOOD, measures={"cup": ["?"]})
    shelf = ShelfEntry.objects.create(
        practice=office.practice, slug="shelf:oil", item={"name": "Oil"}
    )
    standard = PracticeStandard.objects.create(
        practice=office.practice, slug="own-x", name="Own", base="nrc-2006", stages={"adult": {"CA": 3}}
    )  # fmt: skip
    touch(office.practice)
    return {"food": food.pk, "note": note.pk, "shelf": shelf.pk, "standard": standard.pk}


def test_one_spoilt_row_of_the_library_takes_no_list_down(office: Any) -> None:
    spoilt_library(office)
    for path in (
        "foods?q=rice",
        "library",
        "own-foods",
        "shelf",
        "standards",
        f"foods/{FOOD}",
        "practice",
    ):
        assert office.get(path).status_code == 200, path


def test_nothing_is_computed_with_a_food_of_which_something_cannot_be_read(office: Any) -> None:
    """A note that is passed over would change a verdict without a word."""
    analysis = f"recipes/{office.recipe.pk}/analysis"
    assert office.get(analysis).status_code == 200
    ids = spoilt_library(office)
    said = office.get(analysis)
    assert said.status_code == 400 and "cannot be read" in said.json()["error"]["message"]
    assert office.send("delete", f"spoilt/{ids['note']}/note").status_code == 204
    assert office.get(analysis).status_code == 200


def test_what_is_spoilt_is_shown_to_owners_and_set_aside_into_the_trail(
    office: Any, rival: Any
) -> None:
    ids = spoilt_library(office)
    rows = office.get("spoilt").json()["rows"]
    assert {r["kind"]: r["id"] for r in rows} == ids and all(r["why"] for r in rows)
    assert rival.get("spoilt").json()["rows"] == []
    for kind, pk in ids.items():
        assert rival.send("delete", f"spoilt/{pk}/{kind}").status_code == 404
        assert office.send("delete", f"spoilt/{pk}/{kind}").status_code == 204
    assert office.get("spoilt").json()["rows"] == []
    held = [e.data["held"] for e in Event.objects.filter(kind=EventKind.SET_ASIDE)]
    assert len(held) == 4 and any('{"cup": ["?"]}' in h for h in held)
    food = OwnFood.objects.get(pk=ids["food"])
    assert (food.values, food.revision) == ({}, 2)
    assert office.send("delete", f"spoilt/{ids['food']}/food").status_code == 400
    assert office.send("delete", f"spoilt/{ids['food']}/nothing").status_code == 404


# A database that is older than the rules


def test_an_older_database_keeps_what_it_must_not_hold_any_more(tmp_path: Path) -> None:
    """It starts, the row is there to be mended, and the trail has what stood there."""

    def manage(*words: str) -> None:
        subprocess.run(
            [sys.executable, str(ROOT / "server" / "manage.py"), *words, "-v0"], check=True,
            env={**os.environ, "WAINSCOT_DATA": str(tmp_path), "DJANGO_SETTINGS_MODULE": "config.settings"},
        )  # fmt: skip

    manage("migrate")
    for older in (
        ("people", "0001"),
        ("jobs", "0001"),
        ("release", "0001"),
        ("records", "0003"),
        ("accounts", "0006"),
    ):
        manage("migrate", *older)
    manage("migrate", "plans", "0001")
    manage("migrate", "kitchen", "0001")
    manage("migrate", "followup", "0003")
    manage("migrate", "diets", "0011")
    manage("migrate", "cases", "0008")
    now = "2026-01-02 03:04:05"
    with closing(sqlite3.connect(tmp_path / "wainscot.sqlite3")) as database:
        database.execute(
            "INSERT INTO accounts_practice (id, name, created, library_revision, conventions, shelf_asked) "
            "VALUES (1, 'Elm', ?, '', '{}', 0)", [now],
        )  # fmt: skip
        database.execute(
            "INSERT INTO cases_client (id, version, created, updated, practice_id, name, email, phone, notes, conventions, "
            "find_text) VALUES (1, 1, ?, ?, 1, 'Ash', '', '', '', '[]', '')", [now, now],
        )  # fmt: skip
        database.execute(
            "INSERT INTO cases_dog (id, version, created, updated, practice_id, client_id, name, breed, sex, weight_kg, "
            "adult_weight_kg, activity) VALUES (1, 1, ?, ?, 1, 1, 'Fen', '', 'zzz', 10, 1e300, 'typical')", [now, now],
        )  # fmt: skip
        database.execute(
            "INSERT INTO cases_case (id, version, created, updated, practice_id, dog_id, title, conditions, reactions, intake, "
            "energy_reason, decisions, energy_method, standard, life_stage, basis, me_method, data_policy, strict_groups, "
            "meals_per_day, notes, archived, find_text, find_conditions) VALUES (1, 1, ?, ?, 1, 1, '', '{\"heart\": 1}', '[]', "
            "'{}', '', '[]', 'rer-multiplier', 'nrc-2006', 'adult', 'stricter', '4-9-4', 'graded', '[]', 2, '', 0, '', '')",
            [now, now],
        )  # fmt: skip
        # An invitation to what nobody knows, which is open.
        database.execute(
            "INSERT INTO people_invitation (id, version, created, updated, practice_id, key, by, expires, email, role) "
            "VALUES (1, 1, ?, ?, 1, 'k', 'x', '2999-01-01', 'x@example.org', 'king')", [now, now],
        )  # fmt: skip
        database.commit()
    manage("migrate")
    with closing(sqlite3.connect(tmp_path / "wainscot.sqlite3")) as database:
        (conditions,) = database.execute("SELECT conditions FROM cases_case").fetchone()
        assert json.loads(conditions) == ['{"heart": 1}']
        assert database.execute("SELECT sex, adult_weight_kg FROM cases_dog").fetchone() == (
            "unknown",
            None,
        )
        asked = database.execute("SELECT role, revoked IS NULL FROM people_invitation").fetchone()
        assert asked == ("assistant", 0)
        told = database.execute("SELECT practice_id, kind, data FROM events_event").fetchall()
        assert {(p, k) for p, k, _ in told} == {(1, "record.set-aside")}
        held = {(d["table"], d["field"]): d["held"] for d in (json.loads(x[2]) for x in told)}
        assert held == {
            ("people_invitation", "role"): "king", ("cases_client", "conventions"): "[]", ("cases_dog", "sex"): "zzz",
            ("cases_dog", "adult_weight_kg"): "1.0e+300", ("cases_case", "conditions"): '{"heart": 1}',
        }  # fmt: skip
