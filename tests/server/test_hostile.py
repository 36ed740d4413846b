"""Hundreds of bodies that mean harm: each is refused in words or taken, none is an error of ours, and whatever was taken
leaves every page of the practice readable."""

import json
import sqlite3
from pathlib import Path
from typing import Any

import pytest
import yaml
from django.db import OperationalError
from hostile import hostile

ROOT = Path(__file__).resolve().parents[2]
GOOD_CASE = {"client_name": "y", "dog_name": "x", "weight_kg": 9}


def readable(office: Any) -> None:
    """Every page over every case of the practice is there."""
    rows = office.get("cases")
    assert rows.status_code == 200, rows.content[:300]
    for path in (
        "desk",
        "clients",
        "outbox",
        "issued",
        "own-foods",
        "shelf",
        "standards",
        "practice",
        "library",
    ):
        answer = office.get(path)
        assert answer.status_code == 200, (path, answer.content[:300])
    for row in rows.json()["rows"]:
        case = office.get(f"cases/{row['id']}")
        assert case.status_code == 200, case.content[:300]
        for part in (
            "intake",
            "energy",
            "targets",
            "plan",
            "steps",
            "events",
            "follow",
            "kitchen",
            "formulation",
        ):
            answer = office.get(f"cases/{row['id']}/{part}")
            assert answer.status_code == 200, (part, answer.content[:300])
        for recipe in case.json()["recipes"]:
            stored = office.get(f"recipes/{recipe['id']}")
            assert stored.status_code == 200, stored.content[:300]
            lines = [
                {k: x[k] for k in ("food", "quantity", "note", "preparation", "override")}
                for x in stored.json()["lines"]
            ]
            asked = {"lines": lines, "covers_days": stored.json()["covers_days"]}
            answer = office.send("post", f"recipes/{recipe['id']}/analysis", asked)
            assert answer.status_code in (200, 400), answer.content[:300]
            for part in (
                f"recipes/{recipe['id']}/checks",
                f"cases/{row['id']}/file?recipe={recipe['id']}",
            ):
                assert office.get(part).status_code in (200, 400), part


def attack(office: Any, method: str, path: str, good: Any, most: int, seed: int = 1) -> int:
    """Send them all; how many were taken."""
    taken = 0
    for told, text in hostile(good, most, seed):
        send = getattr(office.browser, method)
        answer = send(f"/api/{path}", text, content_type="application/json")
        words = answer.content[:300]
        assert answer.status_code < 500, (method, path, told, words)
        if answer.status_code < 300:
            taken += 1
        else:
            assert answer.json()["error"]["message"], (told, words)
    return taken


@pytest.fixture
def whole(office: Any) -> dict[str, Any]:
    """A case file with something in every part."""
    office.change(
        dog__breed="Beagle", dog__weight_kg=14.2, title="Kidneys", notes="x", dog__age_months=90,
        dog__sex="female", dog__body_condition=6,
    )  # fmt: skip
    row = {
        "name": "Plain mix", "class": "own", "form": "cooked", "per_100_g": {"ENERC": 150, "PROCNT": 20, "FAT": 6}
    }  # fmt: skip
    file = json.loads(
        office.browser.get(f"/api/cases/{office.case.pk}/file?recipe={office.recipe.pk}").content
    )
    file["foods"] = [{"id": "own:plain-mix", **row}]
    file["diagnoses"] = [
        {"id": "pancreatitis", "name": "Pancreatitis", "stage": "mild", "by": "Dr Example"}
    ]
    file["reactions"] = [{"food": "beef", "certainty": "suspected"}]
    file["cannot_use"] = {"usda:05062": "x"}
    file["prices_per_kg"] = {"usda:20445": 2.5}
    return file


def test_a_case_file(office: Any, whole: dict[str, Any]) -> None:
    good = office.send("post", "cases/file", whole)
    assert good.status_code == 201, good.content
    taken = attack(office, "post", "cases/file", whole, 260)
    assert 10 < taken < 200
    readable(office)


def test_changes_of_a_case(office: Any) -> None:
    stored = office.get(f"cases/{office.case.pk}").json()
    for n, (path, value) in enumerate(
        (
            ("dog.weight_kg", 12), ("dog.adult_weight_kg", 12), ("dog.born", "2020-01-01"), ("dog.age_months", 30),
            ("dog.sex", "female"), ("dog.body_condition", 5), ("dog.litter_size", 3), ("title", "x"),
            ("meals_per_day", 2), ("notes", "y"),
        )
    ):  # fmt: skip
        was: Any = stored
        for part in path.split("."):
            was = was.get(part) if isinstance(was, dict) else None
        good = {"changes": [{"path": path, "value": value, "was": was}]}
        attack(office, "patch", f"cases/{office.case.pk}", good, 45, seed=n)
    readable(office)


@pytest.mark.parametrize(
    ("method", "path", "good"),
    [
        ("post", "cases", GOOD_CASE),
        ("patch", "recipes/{recipe}", {"changes": [{"path": "lines.k1", "value": {"food": "usda:05062", "quantity": "10 g"}, "was": None}]}),
        ("patch", "recipes/{recipe}", {"changes": [{"path": "covers_days", "value": 2, "was": 1}]}),
        ("post", "recipes/{recipe}/analysis", {"lines": [{"food": "usda:05062", "quantity": "10 g"}], "covers_days": 1}),
        ("post", "recipes/{recipe}/bring", {"text": "1 egg"}),
        ("post", "recipes/{recipe}/live", {"lines": [{"food": "usda:05062", "quantity": "10 g"}], "covers_days": 1, "settings": {"mode": "rebalance"}}),
        ("post", "own-foods", {"name": "x", "per_100_g": {"PROCNT": 20, "FAT": 5, "ENERC": 130}}),
        ("post", "own-foods/import", {"text": "slug,name,ENERC\na,b,1", "preview": True}),
        ("post", "shelf", {"kind": "supplement", "name": "x", "unit_g": 1}),
        ("post", "cases/{case}/follow-entries", {"key": "day-keyed-1", "entry": {"date": "2026-01-02", "weight_kg": 9, "note": "x", "kcal": 300}}),
        ("post", "cases/{case}/lab-values", {"key": "lab-keyed-1", "value": {"date": "2026-01-02", "test": "potassium", "value": 4.2}}),
        ("post", "cases/{case}/trials", {"plan": {"started": "2026-01-02", "diet": ["rabbit"]}}),
        ("patch", "cases/{case}/plan", {"changes": [{"path": "turns.1", "value": 2, "was": 1}]}),
        ("patch", "practice", {"changes": [{"path": "name", "value": "x", "was": "larch"}]}),
        ("patch", "foods/usda:05062", {"changes": [{"path": "shop", "value": "x", "was": ""}]}),
        ("post", "recipes/{recipe}/batch-plan", {"ask": {"amount": 7}, "draft": True}),
        ("post", "session/sign-in", {"username": "x", "password": "y", "code": ""}),
        ("post", "invitations", {"email": "a@example.org", "role": "owner"}),
        ("post", "account/password", {"old": "x", "password": "y"}),
    ],
)  # fmt: skip
def test_bodies_of_other_addresses(office: Any, method: str, path: str, good: Any) -> None:
    at = path.format(case=office.case.pk, recipe=office.recipe.pk)
    attack(office, method, at, good, 35)
    readable(office)


@pytest.mark.parametrize(
    "text", ["", "{", "[1,", "nul", "\x00", '{"a":1}{"b":2}', '"x"', "\ufeff{}", "{'a':1}"]
)
def test_what_is_no_json(office: Any, text: str) -> None:
    answer = office.browser.post("/api/cases/file", text, content_type="application/json")
    assert answer.status_code == 400 and answer.json()["error"]["message"]


def test_what_is_no_text(office: Any) -> None:
    answer = office.browser.post(
        "/api/cases/file", b"\xff\xfe\x00", content_type="application/json"
    )
    assert answer.status_code == 400 and answer.json()["error"]["message"]


@pytest.mark.parametrize(
    "query",
    [
        "case=²",
        "q=%00",
        "q=" + "x" * 5000,
        "case=" + "9" * 400,
        "page=-1",
        "page=" + "9" * 30,
        "before=x",
        "before=" + "9" * 30,
        "limit=nan",
        "recipe=" + "9" * 60,
        "way=meat:nan",
        "order=x",
        "condition=%ff",
    ],
)
def test_queries_that_mean_harm(office: Any, query: str) -> None:
    case = office.case.pk
    for path in (
        "cases",
        "foods",
        "library",
        "issued",
        "clients",
        "audit",
        f"cases/{case}/events",
        f"cases/{case}/file",
        "own-foods/export",
    ):
        answer = office.browser.get(f"/api/{path}?{query}")
        assert answer.status_code < 500, (path, query, answer.content[:200])


def test_more_than_is_taken_at_once(office: Any) -> None:
    for path, body in (
        ("cases/file", {"x": "y" * 8_000_000}),
        ("own-foods/import", {"text": "y" * 8_000_000, "preview": True}),
    ):
        answer = office.send("post", path, body)
        assert answer.status_code == 413 and "8 MB" in answer.json()["error"]["message"]
    just = office.send("post", "own-foods/import", {"text": "y" * 4_000_000, "preview": True})
    assert just.status_code < 500 and just.status_code != 413


def test_every_text_of_a_request_has_an_end() -> None:
    """What has no limit is not looked at by the boundary at all: a lone surrogate in it once broke the database."""
    schema = yaml.safe_load((ROOT / "docs" / "formats" / "openapi.yaml").read_text())
    found: list[str] = []

    def walk(node: Any, at: str) -> None:
        if isinstance(node, dict):
            if node.get("type") == "string" and not {
                "maxLength",
                "enum",
                "format",
                "pattern",
                "const",
            } & set(node):
                found.append(at)
            for key, value in node.items():
                walk(value, f"{at}.{key}")
        elif isinstance(node, list):
            for n, value in enumerate(node):
                walk(value, f"{at}.{n}")

    asked = {n: c for n, c in schema["components"]["schemas"].items() if n.endswith("Request")}
    assert len(asked) > 60
    for name, component in asked.items():
        walk(component, name)
    assert found == []


def raised(code: int) -> Any:
    def do(*args: Any, **kwargs: Any) -> None:
        beneath = sqlite3.OperationalError("as SQLite says it")
        beneath.sqlite_errorcode = code
        raise OperationalError("as SQLite says it") from beneath

    return do


@pytest.mark.parametrize(
    ("code", "status", "words"),
    [
        (sqlite3.SQLITE_BUSY, 503, "tried again"),
        (sqlite3.SQLITE_FULL, 503, "disk of this installation is full"),
        (sqlite3.SQLITE_READONLY, 503, "only be read"),
        (sqlite3.SQLITE_CORRUPT, 500, "on our side"),
    ],
)
def test_a_database_that_cannot_be_written_is_said_for_what_it_is(
    office: Any, monkeypatch: pytest.MonkeyPatch, code: int, status: int, words: str
) -> None:
    monkeypatch.setattr("cases.api.start_case_for", raised(code))
    answer = office.send("post", "cases", GOOD_CASE)
    assert (answer.status_code, words in answer.json()["error"]["message"]) == (status, True)
    assert ("Retry-After" in answer) == (status == 503)


def test_a_session_that_cannot_be_read_is_said_too(
    office: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("people.middleware.keep_seat", raised(sqlite3.SQLITE_BUSY))
    office.browser.raise_request_exception = False
    answer = office.get("cases")
    assert answer.status_code == 503 and answer["Retry-After"] == "2"
    assert "tried again" in answer.json()["error"]["message"]
