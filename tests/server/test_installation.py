"""How the installation is: for a machine that asks, for the owner, and in the logs."""

import json
import logging
import sqlite3
from pathlib import Path
from typing import Any

import pytest
from config import api_installation, logs
from django.db import OperationalError
from django.test import Client as Browser
from keeping.folder import DATABASE
from pythonjsonlogger.json import JsonFormatter
from wainscot_core.version import VERSION


@pytest.fixture
def folder(tmp_path: Path, settings: Any, monkeypatch: pytest.MonkeyPatch) -> Path:
    db = sqlite3.connect(tmp_path / DATABASE)
    db.execute("CREATE TABLE dogs (name TEXT)")
    db.commit()
    db.close()
    settings.DATA_DIR = tmp_path
    monkeypatch.delenv("WAINSCOT_BACKUP_DIR", raising=False)
    monkeypatch.setenv("WAINSCOT_BACKUP_KEEP_DAYS", "14")
    return tmp_path


@pytest.mark.django_db
def test_it_says_that_it_is_well_and_nothing_else(folder: Path) -> None:
    answer = Browser().get("/healthz")
    assert answer.status_code == 200
    assert answer.json() == {
        "status": "ok",
        "version": VERSION,
        "database": "current",
        "disk": "ok",
    }


@pytest.mark.django_db
def test_it_says_when_its_database_is_behind(folder: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    known = api_installation.known_changes
    monkeypatch.setattr(
        "config.api_installation.known_changes", lambda at: {**known(at), "cases": ("9999_next",)}
    )
    answer = Browser().get("/healthz")
    assert (answer.status_code, answer.json()["database"]) == (503, "behind")


@pytest.mark.django_db
def test_it_says_when_its_database_does_not_answer(
    folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def gone() -> None:
        raise OperationalError("unable to open database file")

    monkeypatch.setattr("config.api_installation.missing_changes", gone)
    answer = Browser().get("/healthz")
    assert (answer.status_code, answer.json()["status"]) == (503, "down")


def test_an_owner_sees_backups_disk_and_failures(office: Any, folder: Path) -> None:
    before = office.get("installation").json()
    assert before["late"] and before["backups"] == [] and before["failures"] == []
    (folder / logs.FAILURES).write_text(
        '{"timestamp": "2026-01-02T10:00:00+00:00", "failure": "ZeroDivisionError", "route": "api/cases", "request": "ab"}\n{"cut'
    )
    after = office.send("post", "installation/backup").json()
    assert not after["late"] and len(after["backups"]) == 1 and after["backups"][0]["bytes"] > 100
    (failure,) = after["failures"]
    assert (failure["kind"], failure["where"], failure["request"]) == (
        "ZeroDivisionError",
        "api/cases",
        "ab",
    )


def lines_of(capture: logging.Handler) -> list[dict[str, Any]]:
    return [json.loads(line) for line in capture.lines]  # type: ignore[attr-defined]


class Capture(logging.Handler):
    """What would be written, line by line."""

    def __init__(self) -> None:
        super().__init__()
        self.lines: list[str] = []
        self.addFilter(logs.OfRequest())
        self.setFormatter(JsonFormatter("%(levelname)s %(name)s %(message)s", timestamp=True))

    def emit(self, record: logging.LogRecord) -> None:
        self.lines.append(self.format(record))


@pytest.fixture
def written() -> Any:
    capture = Capture()
    loggers = [logging.getLogger(n) for n in ("", "wainscot.requests")]
    levels = [found.level for found in loggers]
    loggers[0].addHandler(capture)
    loggers[1].setLevel(logging.INFO)
    yield capture
    loggers[0].removeHandler(capture)
    for found, level in zip(loggers, levels, strict=True):
        found.setLevel(level)


def test_a_request_is_a_line_with_its_id_and_no_name(office: Any, written: Capture) -> None:
    office.change(dog__name="Secretdog", notes="Heart failure of Secretdog")
    answer = office.get(f"cases/{office.case.pk}")
    last = lines_of(written)[-1]
    assert last["request"] == answer["X-Request-ID"] and len(last["request"]) == 16
    assert (last["method"], last["status"], last["route"]) == ("GET", 200, "api/cases/<int:pk>")
    assert last["user"] == int(office.browser.session["_auth_user_id"]) and last["ms"] > 0
    assert "Secretdog" not in "".join(written.lines) and "larch" not in "".join(written.lines)


def test_a_failure_is_a_line_with_its_place_and_nothing_of_the_record(
    office: Any, written: Capture, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*args: Any, **kwargs: Any) -> None:
        raise ZeroDivisionError("Secretdog weighs nothing")

    monkeypatch.setattr("cases.api.start_case_for", broken)
    body = {"client_name": "Secretowner", "dog_name": "Secretdog", "weight_kg": 9}
    answer = office.send("post", "cases", body)
    assert answer.status_code == 500
    failed = next(x for x in lines_of(written) if x.get("failure"))
    assert (failed["failure"], failed["request"]) == ("ZeroDivisionError", answer["X-Request-ID"])
    assert any("broken" in place for place in failed["place"])
    assert "Secret" not in "".join(written.lines)


@pytest.mark.django_db
@pytest.mark.parametrize(
    ("given", "kept"), [("0123456789abcdef", True), ("x\nforged line", False), ("A" * 500, False)]
)
def test_the_id_of_a_proxy_is_kept_and_no_other(given: str, kept: bool) -> None:
    answer = Browser().get("/api/session", headers={"X-Request-ID": given})
    assert (answer["X-Request-ID"] == given) is kept
