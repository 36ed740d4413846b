"""A data folder: whose it is, whether its database is there and sound, and that one server at a time has it."""

import fcntl
import json
import os
import sqlite3
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from uuid import uuid4

from .files import PRIVATE_FILE, PRIVATE_FOLDER, make_private, written_whole
from .secret import KEY_FILE, read_or_make_secret
from .trouble import FolderError, TroubleKind, trouble_of, try_writing

DATABASE = "wainscot.sqlite3"
MARKER = "installation.json"
LOCK = "serve.lock"
BACKUPS = "backups"


@dataclass(frozen=True)
class Installation:
    """What stands in the marker. made: when its database stood for the first time, None while it is being made."""

    id: str
    made: str | None


def open_folder(folder: Path) -> None:
    """Make a folder ready to be served, or say why it is not: writable, private, and with the database that belongs to it.

    A folder that was an installation and has no database is refused: it would start anew and belong to whoever comes
    first. Raises FolderError.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True, mode=PRIVATE_FOLDER)
        try_writing(folder)
        for path in (folder, *(p for p in folder.iterdir() if p.is_file())):
            make_private(path)
        _hold_to_marker(folder)
    except OSError as error:
        trouble = trouble_of(error, folder)
        raise FolderError(trouble.kind, trouble.words) from error
    check_database(folder / DATABASE)
    read_or_make_secret(folder)


def _hold_to_marker(folder: Path) -> None:
    database = folder / DATABASE
    there = database.exists() and database.stat().st_size > 0
    marker = read_marker(folder)
    if marker is None and not there and ((folder / KEY_FILE).exists() or database.exists()):
        raise _gone(database)
    if marker is None:
        _write_marker(folder, Installation(str(uuid4()), _now() if there else None))
    elif marker.made is not None and not there:
        raise _gone(database)


def mark_made(folder: Path) -> None:
    """The database stands: from now on a folder without it is not a new one."""
    marker = read_marker(folder)
    if marker is None or marker.made is None:
        _write_marker(folder, Installation(marker.id if marker else str(uuid4()), _now()))


def read_marker(folder: Path) -> Installation | None:
    """The marker of an installation, None where there is none. Raises FolderError for one that cannot be read."""
    path = folder / MARKER
    if not path.exists():
        return None
    try:
        said = json.loads(path.read_text(encoding="utf-8"))
        return Installation(str(said["id"]), said["made"] and str(said["made"]))
    except (ValueError, KeyError, TypeError):
        raise FolderError(
            TroubleKind.DAMAGED,
            f"{path} cannot be read. If {folder / DATABASE} is the database of this practice, delete {path.name} and start "
            "again; if not, bring a backup back with ./wainscot restore.",
        ) from None


def _write_marker(folder: Path, marker: Installation) -> None:
    with written_whole(folder / MARKER) as handle:
        handle.write(json.dumps({"id": marker.id, "made": marker.made}).encode())


def _now() -> str:
    return datetime.now(UTC).isoformat(timespec="seconds")


def _gone(database: Path) -> FolderError:
    what = "is empty" if database.exists() else "is missing"
    return FolderError(
        TroubleKind.MISSING,
        f"This folder held an installation, and its database {database} {what}. It is not started as a new one. "
        "If a disk is not mounted, mount it; else bring a backup back with ./wainscot restore. "
        "To begin anew on purpose, give another folder with --data.",
    )


def check_database(database: Path) -> None:
    """Hold a database to SQLite's quick check. Raises FolderError with what is wrong; one that is not there is right."""
    if not database.exists() or database.stat().st_size == 0:
        return
    try:
        with connected(database, read_only=False) as connection:
            said = connection.execute("PRAGMA quick_check").fetchone()[0]
    except sqlite3.Error as error:
        trouble = trouble_of(error, database)
        raise FolderError(trouble.kind, trouble.words) from error
    if said != "ok":
        trouble = trouble_of(_corrupt(str(said)), database)
        raise FolderError(trouble.kind, trouble.words)


def _corrupt(said: str) -> sqlite3.DatabaseError:
    error = sqlite3.DatabaseError(said)
    error.sqlite_errorcode = sqlite3.SQLITE_CORRUPT
    return error


class connected:  # noqa: N801
    """A connection that is closed at the end, which sqlite3's own context does not do."""

    def __init__(self, database: Path, read_only: bool) -> None:
        mode = "ro" if read_only else "rw"
        self._connection = sqlite3.connect(
            f"{database.resolve().as_uri()}?mode={mode}", uri=True, timeout=10
        )

    def __enter__(self) -> sqlite3.Connection:
        return self._connection

    def __exit__(self, *_: object) -> None:
        self._connection.close()


def hold(folder: Path, address: str = "") -> int:
    """Take a folder for one server: a descriptor that must stay open as long as it is served, and passes to the program
    that takes this one's place. address: where it is served, for links. Raises FolderError when another has it."""
    path = folder / LOCK
    descriptor = os.open(path, os.O_RDWR | os.O_CREAT, PRIVATE_FILE)
    try:
        fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        holder = os.read(descriptor, 20).decode(errors="replace").partition("\n")[0]
        os.close(descriptor)
        raise FolderError(
            TroubleKind.LOCKED,
            f"Another Wainscot works on {folder}{f' (process {holder})' if holder else ''}. End it first: two at once would "
            "not know of each other.",
        ) from None
    # Who only works on it for a while leaves it where it was.
    address = address or served_at(folder)
    os.ftruncate(descriptor, 0)
    os.pwrite(descriptor, f"{os.getpid()}\n{address}\n".encode(), 0)
    os.set_inheritable(descriptor, True)
    return descriptor


def served_at(folder: Path) -> str:
    """Where a folder is served, or was last; "" when it never was."""
    try:
        return (folder / LOCK).read_text(encoding="utf-8").splitlines()[1]
    except (OSError, IndexError):
        return ""
