"""A backup of a practice at work, brought back elsewhere: every row, and every figure to the last digit."""

import sqlite3
from collections.abc import Callable
from pathlib import Path
from typing import Any

from keeping.backup import PASSING
from keeping.folder import DATABASE, check_database
from playwright.sync_api import APIRequestContext, Page
from steps import enter, post
from wainscot_cli import backing_up


def rows_of(data: Path) -> dict[str, list[tuple[object, ...]]]:
    """Every row of every table, but of who is signed in."""
    db = sqlite3.connect(data / DATABASE)
    names = db.execute("SELECT name FROM sqlite_master WHERE type='table' ORDER BY name").fetchall()
    found = {}
    for (name,) in names:
        if name not in PASSING:
            found[name] = db.execute(f'SELECT * FROM "{name}"').fetchall()  # noqa: S608
    db.close()
    return found


def analyses(request: APIRequestContext, address: str) -> list[bytes]:
    """What every recipe of the practice comes to, as it is sent."""
    found = []
    for row in request.get(f"{address}/api/cases").json()["rows"]:
        for recipe in request.get(f"{address}/api/cases/{row['id']}").json()["recipes"]:
            stored = request.get(f"{address}/api/recipes/{recipe['id']}").json()
            asked = {
                "lines": [
                    {k: line[k] for k in ("food", "quantity", "note", "preparation", "override")}
                    for line in stored["lines"]
                ],
                "covers_days": stored["covers_days"],
            }
            said = post(request, address, f"recipes/{recipe['id']}/analysis", asked)
            assert said.ok, said.text()
            found.append(said.body())
    return found


def test_a_practice_comes_back_from_its_backup(
    machine: Any, page: Page, tmp_path: Path, served: Callable[[Path], str]
) -> None:
    request = page.request
    enter(request, machine.address)
    before = analyses(request, machine.address)
    assert len(before) >= 10
    backup = tmp_path / "backups" / "by-hand.zip"
    assert backing_up.backup(machine.data, backup) == 0
    kept = rows_of(machine.data)
    machine.off()
    elsewhere = tmp_path / "elsewhere"
    assert backing_up.restore(elsewhere, backup, yes=False) == 0
    check_database(elsewhere / DATABASE)
    assert rows_of(elsewhere) == kept
    assert sum(map(len, kept.values())) > 2000
    address = served(elsewhere)
    assert request.get(f"{address}/api/cases").status == 403
    enter(request, address)
    assert analyses(request, address) == before


def test_nothing_is_written_over_without_a_word(
    machine: Any, tmp_path: Path, monkeypatch, capsys
) -> None:
    backup = tmp_path / "b.zip"
    assert backing_up.backup(machine.data, backup) == 0
    machine.off()
    monkeypatch.setattr("sys.stdin", (tmp_path / "no").open("w+"))
    assert backing_up.restore(machine.data, backup, yes=False) == 1
    assert "Nothing was changed" in capsys.readouterr().err
    assert backing_up.restore(machine.data, backup, yes=True) == 0
    assert "What was there before lies in" in capsys.readouterr().out
