"""Backups that the application makes by itself."""

import sqlite3
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from config import timetable
from keeping.backup import read_manifest
from keeping.folder import DATABASE
from keeping.trouble import FolderError

NOW = datetime(2026, 3, 1, 12, tzinfo=UTC)
DAY = timedelta(days=1)


@pytest.fixture
def folder(tmp_path: Path, settings: Any, monkeypatch: pytest.MonkeyPatch) -> Path:
    db = sqlite3.connect(tmp_path / DATABASE)
    db.execute("CREATE TABLE dogs (name TEXT)")
    db.commit()
    db.close()
    settings.DATA_DIR = tmp_path
    monkeypatch.delenv("WAINSCOT_BACKUP_DIR", raising=False)
    return tmp_path


def test_one_a_day_kept_so_long(folder: Path) -> None:
    made = [timetable.back_up(NOW + n * DAY, 3 * DAY) for n in range(6)]
    assert all(made) and read_manifest(made[-1]).rows == {"dogs": 0}
    assert timetable.back_up(NOW + 5.5 * DAY, 3 * DAY) is None
    assert sorted((folder / "backups").iterdir()) == made[2:]


def test_none_is_taken_away_for_one_that_could_not_be_made(folder: Path) -> None:
    first = timetable.back_up(NOW, DAY)
    second = timetable.back_up(NOW + DAY, 9 * DAY)
    (folder / DATABASE).write_bytes(b"\xa5" * 9000)
    with pytest.raises(FolderError):
        timetable.back_up(NOW + 9 * DAY, DAY)
    assert sorted((folder / "backups").iterdir()) == [first, second]


def test_another_disk(folder: Path, tmp_path_factory: Any, monkeypatch: Any) -> None:
    elsewhere = tmp_path_factory.mktemp("disk")
    monkeypatch.setenv("WAINSCOT_BACKUP_DIR", str(elsewhere))
    assert timetable.back_up(NOW, DAY).parent == elsewhere


def test_no_days_no_backups(monkeypatch: Any) -> None:
    monkeypatch.delenv("WAINSCOT_BACKUP_KEEP_DAYS", raising=False)
    assert timetable.start() is None
