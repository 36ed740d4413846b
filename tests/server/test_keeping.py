"""A data folder and its backups, tried on real files and real errors of the system."""

import errno
import json
import os
import sqlite3
import zipfile
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from django.apps import apps
from keeping.backup import (
    MANIFEST,
    ahead,
    behind,
    is_due,
    known_changes,
    make_backup,
    outdated,
    read_manifest,
    restore_backup,
    stem,
)
from keeping.files import written_whole
from keeping.folder import (
    DATABASE,
    LOCK,
    MARKER,
    hold,
    mark_made,
    open_folder,
    read_marker,
    served_at,
)
from keeping.secret import KEY_FILE, read_or_make_secret
from keeping.trouble import FolderError, TroubleKind, trouble_of

NOW = datetime(2026, 3, 1, 12, tzinfo=UTC)
KNOWN = {"cases": ("0001_initial", "0002_weights", "0003_plans")}
ROOT = Path(__file__).resolve().parents[2]


def fill(folder: Path, dogs: int = 3, change: str = "0003_plans") -> None:
    """A database of an installation, in the mode it is served in."""
    with sqlite3.connect(folder / DATABASE) as db:
        db.execute("PRAGMA journal_mode=WAL")
        db.execute("CREATE TABLE django_migrations (app TEXT, name TEXT)")
        db.execute("INSERT INTO django_migrations VALUES ('cases', ?)", [change])
        db.execute("CREATE TABLE dogs (name TEXT, weight_kg REAL)")
        db.executemany(
            "INSERT INTO dogs VALUES (?, ?)", [(f"dog {i}", 0.1 + i / 7) for i in range(dogs)]
        )
        db.execute("CREATE TABLE django_session (session_key TEXT)")
        db.execute("INSERT INTO django_session VALUES ('who is in')")
    db.close()


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    made = tmp_path / "data"
    open_folder(made)
    fill(made)
    mark_made(made)
    return made


def dogs_in(folder: Path) -> list[tuple[str, float]]:
    db = sqlite3.connect(folder / DATABASE)
    found = db.execute("SELECT * FROM dogs ORDER BY name").fetchall()
    db.close()
    return found


def refused(action, *args) -> FolderError:
    with pytest.raises(FolderError) as caught:
        action(*args)
    return caught.value


# What is wrong


@pytest.mark.parametrize(
    ("number", "kind"),
    [
        (errno.ENOSPC, TroubleKind.FULL),
        (errno.EDQUOT, TroubleKind.FULL),
        (errno.EROFS, TroubleKind.READ_ONLY),
        (errno.EACCES, TroubleKind.FORBIDDEN),
        (errno.ENOENT, TroubleKind.MISSING),
        (errno.EIO, TroubleKind.UNKNOWN),
    ],
)
def test_an_error_of_the_system_is_called_by_its_name(number, kind, tmp_path) -> None:
    found = trouble_of(OSError(number, os.strerror(number)), tmp_path)
    assert found.kind is kind
    assert str(tmp_path) in found.words and os.strerror(number) in found.words


def sqlite_error(folder: Path, case: str) -> sqlite3.Error:
    """A real error of SQLite, brought about on purpose."""
    path = folder / DATABASE
    if case == "damaged":
        with path.open("r+b") as handle:
            handle.seek(4096)
            handle.write(b"\xa5" * 4096)
    if case == "not one":
        path.write_bytes(b"\xa5" * 8192)
    db = sqlite3.connect(
        f"{path.as_uri()}?mode={'ro' if case == 'read-only' else 'rw'}", uri=True, timeout=0
    )
    other = sqlite3.connect(path)
    try:
        if case == "full":
            db.execute("PRAGMA max_page_count=1")
            db.execute("PRAGMA max_page_count")
        if case == "locked":
            other.execute("BEGIN IMMEDIATE")
        rows = [("x" * 3000, 1.0)] * 300
        db.executemany("INSERT INTO dogs VALUES (?, ?)", rows)
    except sqlite3.Error as error:
        return error
    finally:
        db.close()
        other.close()
    raise AssertionError("nothing went wrong")


@pytest.mark.parametrize(
    ("case", "kind"),
    [
        ("full", TroubleKind.FULL),
        ("locked", TroubleKind.LOCKED),
        ("read-only", TroubleKind.READ_ONLY),
        ("not one", TroubleKind.DAMAGED),
    ],
)
def test_an_error_of_sqlite_is_called_by_its_name(case, kind, folder) -> None:
    found = trouble_of(sqlite_error(folder, case), folder / DATABASE)
    assert found.kind is kind
    assert ("damaged" in found.words.lower().replace("nothing is damaged", "")) == (
        kind is TroubleKind.DAMAGED
    )


def test_the_error_beneath_that_of_the_framework_is_looked_at(tmp_path) -> None:
    try:
        try:
            raise OSError(errno.ENOSPC, "No space left on device")
        except OSError as beneath:
            raise RuntimeError("unable to write") from beneath
    except RuntimeError as error:
        assert trouble_of(error, tmp_path).kind is TroubleKind.FULL


def test_a_database_that_cannot_be_opened_is_asked_why(tmp_path) -> None:
    with pytest.raises(sqlite3.Error) as caught:
        sqlite3.connect(f"{(tmp_path / 'gone' / DATABASE).as_uri()}?mode=rw", uri=True)
    found = trouble_of(caught.value, tmp_path / "gone" / DATABASE)
    assert found.kind is TroubleKind.MISSING


# The folder


def test_a_new_folder_is_private_and_becomes_an_installation(tmp_path) -> None:
    new = tmp_path / "data"
    open_folder(new)
    assert read_marker(new).made is None
    fill(new)
    mark_made(new)
    assert read_marker(new).made is not None
    open_folder(new)
    assert new.stat().st_mode & 0o777 == 0o700
    assert {p.stat().st_mode & 0o777 for p in new.iterdir()} == {0o600}


def test_rights_that_others_had_are_taken(folder) -> None:
    folder.chmod(0o755)
    (folder / DATABASE).chmod(0o644)
    open_folder(folder)
    assert (folder.stat().st_mode & 0o777, (folder / DATABASE).stat().st_mode & 0o777) == (
        0o700,
        0o600,
    )


@pytest.mark.parametrize("left", ["missing", "empty"])
def test_an_installation_without_its_database_is_never_a_new_one(left, folder) -> None:
    (folder / DATABASE).unlink()
    if left == "empty":
        (folder / DATABASE).touch()
    error = refused(open_folder, folder)
    assert error.kind is TroubleKind.MISSING
    assert left in error.words and "restore" in error.words


def test_an_older_installation_without_a_marker_is_known_by_its_key(folder) -> None:
    (folder / MARKER).unlink()
    open_folder(folder)
    assert read_marker(folder).made is not None
    (folder / MARKER).unlink()
    (folder / DATABASE).unlink()
    assert refused(open_folder, folder).kind is TroubleKind.MISSING


def test_a_start_that_was_cut_off_before_the_database_stood_is_taken_up(tmp_path) -> None:
    open_folder(tmp_path / "data")
    (tmp_path / "data" / DATABASE).touch()
    open_folder(tmp_path / "data")


def test_a_damaged_database_is_called_damaged(folder) -> None:
    with (folder / DATABASE).open("r+b") as handle:
        handle.write(b"no database at all")
    error = refused(open_folder, folder)
    assert error.kind is TroubleKind.DAMAGED and "restore" in error.words


def test_a_page_that_was_written_over_is_found(folder) -> None:
    with sqlite3.connect(folder / DATABASE) as db:
        db.executemany("INSERT INTO dogs VALUES (?, 1)", [("x" * 900,)] * 200)
    db.close()
    size = (folder / DATABASE).stat().st_size
    with (folder / DATABASE).open("r+b") as handle:
        handle.seek(size // 2 // 4096 * 4096)
        handle.write(b"\xff" * 4096)
    assert refused(open_folder, folder).kind is TroubleKind.DAMAGED


def test_a_key_that_was_cut_short_is_not_made_anew(folder) -> None:
    key = read_or_make_secret(folder)
    assert read_or_make_secret(folder) == key and len(key) > 60
    (folder / KEY_FILE).write_text("")
    assert "signs in again" in refused(open_folder, folder).words
    assert (folder / KEY_FILE).read_text() == ""


def test_one_server_at_a_time(folder) -> None:
    held = hold(folder)
    error = refused(hold, folder)
    assert error.kind is TroubleKind.LOCKED and str(os.getpid()) in error.words
    assert os.get_inheritable(held)
    os.close(held)
    os.close(hold(folder))
    assert (folder / LOCK).exists()


def test_a_folder_knows_where_it_is_served(folder) -> None:
    """Links that the commands print lead there, whichever port that is, also after something else held the folder."""
    assert served_at(folder) == ""
    os.close(hold(folder, "http://127.0.0.1:9191"))
    os.close(hold(folder))
    assert served_at(folder) == "http://127.0.0.1:9191"


def test_a_file_is_written_whole_or_not_at_all(tmp_path) -> None:
    target = tmp_path / "file"
    target.write_text("before")
    with pytest.raises(ZeroDivisionError), written_whole(target) as handle:
        handle.write(b"half")
        raise ZeroDivisionError
    assert target.read_text() == "before"
    assert [p.name for p in tmp_path.iterdir()] == ["file"]


# Backups


def test_a_backup_holds_what_was_there_but_who_is_signed_in(folder, tmp_path) -> None:
    before = dogs_in(folder)
    writer = sqlite3.connect(folder / DATABASE)
    writer.execute("BEGIN IMMEDIATE")
    writer.execute("INSERT INTO dogs VALUES ('not yet', 1)")
    made = make_backup(folder, tmp_path / "b.zip", "0.1.0")
    writer.rollback()
    writer.close()
    assert made.rows == {"dogs": 3, "django_migrations": 1, "django_session": 0}
    assert made.changes == {"cases": "0003_plans"}
    assert (tmp_path / "b.zip").stat().st_mode & 0o777 == 0o600
    done = restore_backup(tmp_path / "b.zip", tmp_path / "other", KNOWN, NOW)
    assert dogs_in(tmp_path / "other") == before
    assert (tmp_path / "other" / KEY_FILE).read_text() == (folder / KEY_FILE).read_text()
    assert (done.older, done.aside) == ((), None)
    open_folder(tmp_path / "other")


def test_what_was_there_is_moved_aside(folder, tmp_path) -> None:
    make_backup(folder, tmp_path / "b.zip", "0.1.0")
    with sqlite3.connect(folder / DATABASE) as db:
        db.execute("INSERT INTO dogs VALUES ('later', 2)")
    db.close()
    done = restore_backup(tmp_path / "b.zip", folder, KNOWN, NOW)
    assert ("later", 2.0) not in dogs_in(folder)
    assert ("later", 2.0) in dogs_in(done.aside)


def test_a_folder_that_is_served_is_not_restored_into(folder, tmp_path) -> None:
    make_backup(folder, tmp_path / "b.zip", "0.1.0")
    held = hold(folder)
    assert (
        refused(restore_backup, tmp_path / "b.zip", folder, KNOWN, NOW).kind is TroubleKind.LOCKED
    )
    os.close(held)


def rewritten(backup: Path, **files: bytes) -> None:
    """A backup with other contents, as a ZIP that is sound by itself."""
    with zipfile.ZipFile(backup) as pack:
        held = {n: pack.read(n) for n in pack.namelist()}
    with zipfile.ZipFile(backup, "w") as pack:
        for name, content in {**held, **files}.items():
            pack.writestr(name, content)


def test_a_damaged_backup_leaves_the_folder_as_it_is(folder, tmp_path) -> None:
    backup = tmp_path / "b.zip"
    make_backup(folder, backup, "0.1.0")
    whole = backup.read_bytes()
    before = {p.name: p.read_bytes() for p in folder.iterdir() if p.name != LOCK}
    for broken in (
        whole[: len(whole) // 2],
        whole[:200] + bytes([whole[200] ^ 1]) + whole[201:],
        b"",
        b"PK but no archive",
    ):
        backup.write_bytes(broken)
        assert refused(restore_backup, backup, folder, KNOWN, NOW).kind is TroubleKind.DAMAGED
    backup.write_bytes(whole)
    rewritten(backup, **{KEY_FILE: b"a key that somebody else put there, long enough to be one"})
    assert "not what was put into it" in refused(restore_backup, backup, folder, KNOWN, NOW).words
    rewritten(backup, **{MANIFEST: b"[]"})
    assert refused(restore_backup, backup, folder, KNOWN, NOW).kind is TroubleKind.DAMAGED
    assert {p.name: p.read_bytes() for p in folder.iterdir() if p.name != LOCK} == before


def test_a_backup_cannot_write_outside_its_folder(folder, tmp_path) -> None:
    backup = tmp_path / "b.zip"
    make_backup(folder, backup, "0.1.0")
    said = json.loads(zipfile.ZipFile(backup).read(MANIFEST))
    said["files"]["../elsewhere"] = said["files"][KEY_FILE]
    rewritten(backup, **{MANIFEST: json.dumps(said).encode(), "../elsewhere": b"x"})
    refused(restore_backup, backup, tmp_path / "other", KNOWN, NOW)
    assert not (tmp_path / "elsewhere").exists()


def test_a_newer_backup_is_refused_and_an_older_one_says_what_happens(folder, tmp_path) -> None:
    make_backup(folder, tmp_path / "b.zip", "0.3.0")
    manifest = read_manifest(tmp_path / "b.zip")
    older = {"cases": KNOWN["cases"][:2]}
    assert ahead(manifest, older) == ("cases 0003_plans",)
    error = refused(restore_backup, tmp_path / "b.zip", tmp_path / "other", older, NOW)
    assert "0.3.0" in error.words and not (tmp_path / "other").exists()
    newer = {"cases": (*KNOWN["cases"], "0004_more"), "desk": ("0001_initial",)}
    assert behind(manifest, newer) == ("cases 0004_more", "desk 0001_initial")
    assert restore_backup(tmp_path / "b.zip", tmp_path / "other", newer, NOW).older == (
        "cases 0004_more",
        "desk 0001_initial",
    )


def test_a_format_that_is_not_known_yet_is_refused(folder, tmp_path) -> None:
    make_backup(folder, tmp_path / "b.zip", "9.0")
    said = json.loads(zipfile.ZipFile(tmp_path / "b.zip").read(MANIFEST))
    rewritten(tmp_path / "b.zip", **{MANIFEST: json.dumps({**said, "format_version": 2}).encode()})
    assert "9.0" in refused(read_manifest, tmp_path / "b.zip").words


def test_the_changes_of_this_version_are_those_in_its_folders() -> None:
    known = known_changes(ROOT / "server")
    assert known["cases"][0] == "0001_initial" and len(known["cases"]) >= 8
    labels = {
        c.label for c in apps.get_app_configs() if Path(c.path).is_relative_to(ROOT / "server")
    }
    assert set(known) == {label for label in labels if label not in {"wire", "keeping", "handover"}}


def test_no_database_is_no_backup(tmp_path) -> None:
    assert refused(make_backup, tmp_path, tmp_path / "b.zip", "1").kind is TroubleKind.MISSING
    assert not (tmp_path / "b.zip").exists()


def test_a_damaged_database_makes_no_backup_and_takes_none_away(folder, tmp_path) -> None:
    target = tmp_path / "b.zip"
    make_backup(folder, target, "1")
    good = target.read_bytes()
    (folder / DATABASE).write_bytes(b"\xa5" * 9000)
    refused(make_backup, folder, target, "1")
    assert target.read_bytes() == good
    assert [p.name for p in tmp_path.iterdir() if p.name.startswith(".")] == []


# By themselves


def stand(place: Path, *days_ago: float) -> None:
    for days in days_ago:
        (place / f"{stem(NOW - timedelta(days=days))}.zip").write_bytes(b"x")


def test_a_backup_is_due_a_day_after_the_last_one(tmp_path) -> None:
    every = timedelta(days=1)
    assert is_due(tmp_path, NOW, every)
    stand(tmp_path, 0.9)
    assert not is_due(tmp_path, NOW, every)
    assert is_due(tmp_path, NOW + timedelta(hours=3), every)


def test_a_clock_that_was_set_back_stops_no_backup(tmp_path) -> None:
    stand(tmp_path, -3, 2)
    assert is_due(tmp_path, NOW, timedelta(days=1))


def test_old_ones_go_and_the_last_one_stays(tmp_path) -> None:
    stand(tmp_path, 30, 20, 15)
    (tmp_path / "wainscot-by-hand.zip").write_bytes(b"x")
    gone = outdated(tmp_path, NOW, timedelta(days=14))
    assert [s.path.name for s in gone] == [f"{stem(NOW - timedelta(days=d))}.zip" for d in (20, 30)]
