"""The plug is pulled while people work: what was acknowledged is there afterwards. Longer: ./wainscot soak."""

import os
import resource
import shutil
import sqlite3
import subprocess
import sys
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest
from keeping.folder import DATABASE, check_database
from wainscot_cli.soak import Caller, Server, soak

ROOT = Path(__file__).resolve().parents[2]
SERVER, CORE = ROOT / "server", ROOT / "core"


@pytest.fixture
def data(tmp_path: Path, demo_data: Path) -> Path:
    return Path(shutil.copytree(demo_data, tmp_path / "data"))


def test_nothing_acknowledged_is_lost(data: Path) -> None:
    done = soak(data, kills=4, seed=3)
    assert (done.kills, done.lost, done.refused) == (4, [], [])
    assert done.acknowledged >= 12


def put_down(caller: Caller, case: int, key: str) -> tuple[int, Any]:
    entry = {"date": "2026-01-02", "note": key + " x" * 140}
    return caller.send("POST", f"cases/{case}/follow-entries", {"key": key, "entry": entry})


def test_a_full_disk_is_said_and_loses_nothing(data: Path) -> None:
    """No file of the server may grow past what the records take already, as on a disk without room."""
    room = (data / DATABASE).stat().st_size + 200_000

    def no_room() -> None:
        resource.setrlimit(resource.RLIMIT_FSIZE, (room, room))

    server = Server(data)
    server.start(no_room)
    kept: list[str] = []
    try:
        caller = Caller(server.address)
        case = caller.send("GET", "cases")[1]["rows"][0]["id"]
        status, said = 201, None
        for n in range(2000):
            status, said = put_down(caller, case, f"full-disk-{n:05d}")
            if status != 201:
                break
            kept.append(f"full-disk-{n:05d}")
        assert status == 503, said
        assert "disk of this installation is full" in said["error"]["message"]
        assert len(kept) > 3
    finally:
        server.kill()
    check_database(data / DATABASE)
    server.start()
    try:
        caller = Caller(server.address)
        text = str(caller.send("GET", f"cases/{case}/follow")[1])
        assert [key for key in kept if key not in text] == []
        assert put_down(caller, case, "there-is-room-again")[0] == 201
    finally:
        server.kill()


def test_a_change_of_the_database_that_is_killed_is_taken_up_again(data: Path) -> None:
    """An older database is killed in the middle of every change that is made to it; nothing of it is lost or done twice."""
    environment = {**os.environ, "WAINSCOT_DATA": str(data), "PYTHONPATH": f"{SERVER}:{CORE}",
                   "DJANGO_SETTINGS_MODULE": "config.settings"}  # fmt: skip
    command = [sys.executable, str(ROOT / "tests" / "support" / "killed_changes.py")]
    # What an older database has no column for is not in it: the same way without a kill is what it is held against.
    subprocess.run([*command, "whole"], env=environment, check=True, capture_output=True)
    new = everything(data / DATABASE)
    done = subprocess.run(command, env=environment, check=True, capture_output=True)
    assert int(done.stdout) >= 5
    check_database(data / DATABASE)
    assert everything(data / DATABASE) == new


def everything(database: Path) -> dict[str, list[tuple[Any, ...]]]:
    """Every row of every table, and how each table is made; not when which change was made.

    The index of words is checked against its table, not compared: its pages lie otherwise where it was built anew.
    """
    with closing(sqlite3.connect(database)) as connection:
        connection.execute(
            "INSERT INTO cases_words(cases_words, rank) VALUES ('integrity-check', 1)"
        )
        made = connection.execute("SELECT name, sql FROM sqlite_master ORDER BY name").fetchall()
        names = [n for n, sql in made if (sql or "").startswith("CREATE TABLE")]
        rows = {
            name: sorted(connection.execute(f'SELECT * FROM "{name}"').fetchall(), key=repr)  # noqa: S608
            for name in names
            if name not in ("django_migrations", "sqlite_sequence")
            and not name.startswith("cases_words_")
        }
        changes = connection.execute("SELECT app, name FROM django_migrations").fetchall()
        return {**rows, "made": made, "changes": sorted(changes)}
