"""Backups: one file that holds an installation, with what it needs to be trusted when it is brought back.

A backup is a ZIP with the database as it was at one moment (SQLite's online backup, which holds nobody up), the key that
addresses are signed with, and `manifest.json`: format, version, the database's changes by application, rows of every
table, and the SHA-256 of each file. docs/formats/backup.md describes it.
"""

import ast
import hashlib
import json
import os
import sqlite3
import tempfile
import zipfile
from collections.abc import Mapping
from dataclasses import asdict, dataclass, replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import IO, Any

from .archives import DamagedArchiveError, archive
from .files import PRIVATE_FOLDER, make_private, sync_folder, written_whole
from .folder import DATABASE, connected, hold, mark_made
from .secret import KEY_FILE
from .trouble import FolderError, TroubleKind, trouble_of

FORMAT = "wainscot-backup"
FORMAT_VERSION = 1
MANIFEST = "manifest.json"
# Who is signed in belongs to the moment, not to the records.
PASSING = ("django_session",)
CHUNK = 1 << 20


@dataclass(frozen=True)
class Kept:
    """A file of a backup."""

    bytes: int
    sha256: str


@dataclass(frozen=True)
class Manifest:
    """What a backup says of itself. changes: of the database, the last one by application; rows: of every table."""

    version: str
    made: str
    changes: Mapping[str, str]
    rows: Mapping[str, int]
    files: Mapping[str, Kept]
    format: str = FORMAT
    format_version: int = FORMAT_VERSION


@dataclass(frozen=True)
class Restored:
    """What was brought back. older: changes the database goes through at the next start; aside: where what was there
    before lies now, None when nothing was."""

    manifest: Manifest
    older: tuple[str, ...]
    aside: Path | None


def make_backup(folder: Path, target: Path, version: str) -> Manifest:
    """Write the backup of a data folder to `target`. The folder may be served meanwhile. Raises FolderError; what stood at
    `target` stays until the new one is whole."""
    if not (folder / DATABASE).exists():
        raise FolderError(TroubleKind.MISSING, f"There is no database in {folder} to back up.")
    if target.is_dir():
        target /= f"{stem(datetime.now(UTC))}.zip"
    try:
        target.parent.mkdir(parents=True, exist_ok=True, mode=PRIVATE_FOLDER)
        with tempfile.TemporaryDirectory(dir=target.parent, prefix=".backup-") as place:
            copy = Path(place) / DATABASE
            _copy(folder / DATABASE, copy)
            manifest = replace(
                _told(copy, version), files={DATABASE: _kept(copy), **_key_of(folder)}
            )
            with (
                written_whole(target) as handle,
                zipfile.ZipFile(handle, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as pack,
            ):
                pack.writestr(MANIFEST, json.dumps(asdict(manifest), indent=1))
                pack.write(copy, DATABASE)
                if KEY_FILE in manifest.files:
                    pack.write(folder / KEY_FILE, KEY_FILE)
    except (OSError, sqlite3.Error) as error:
        trouble = trouble_of(error, target)
        raise FolderError(trouble.kind, trouble.words) from error
    return manifest


def stem(at: datetime) -> str:
    """What a backup of a moment is called."""
    return f"wainscot-{at:%Y-%m-%dT%H%M%SZ}"


def _copy(database: Path, copy: Path) -> None:
    with connected(database, read_only=True) as source:
        into = sqlite3.connect(copy)
        try:
            source.backup(into, pages=2000)
            into.execute("PRAGMA journal_mode=DELETE")
            for table in PASSING:
                if _has(into, table):
                    into.execute(f"DELETE FROM {table}")  # noqa: S608
            into.commit()
            said = into.execute("PRAGMA integrity_check").fetchone()[0]
        finally:
            into.close()
    if said != "ok":
        raise FolderError(
            TroubleKind.DAMAGED, f"The database {database} is damaged ({said}): no backup was made."
        )


def _has(connection: sqlite3.Connection, table: str) -> bool:
    found = connection.execute("SELECT 1 FROM sqlite_master WHERE type='table' AND name=?", [table])
    return found.fetchone() is not None


def _told(copy: Path, version: str) -> Manifest:
    with connected(copy, read_only=True) as connection:
        tables = [
            name
            for (name,) in connection.execute(
                "SELECT name FROM sqlite_master WHERE type='table' AND name NOT LIKE 'sqlite_%' ORDER BY name"
            )
        ]
        rows = {
            t: connection.execute(f'SELECT count(*) FROM "{t}"').fetchone()[0]  # noqa: S608
            for t in tables
        }
        changes = dict(
            connection.execute("SELECT app, max(name) FROM django_migrations GROUP BY app ORDER BY app")
        ) if "django_migrations" in rows else {}  # fmt: skip
    made = datetime.now(UTC).isoformat(timespec="seconds")
    return Manifest(version, made, changes, rows, {})


def _key_of(folder: Path) -> dict[str, Kept]:
    return {KEY_FILE: _kept(folder / KEY_FILE)} if (folder / KEY_FILE).exists() else {}


def _kept(path: Path) -> Kept:
    with path.open("rb") as handle:
        return Kept(path.stat().st_size, _sha256(handle))


def _sha256(handle: IO[bytes]) -> str:
    found = hashlib.sha256()
    while chunk := handle.read(CHUNK):
        found.update(chunk)
    return found.hexdigest()


def read_manifest(backup: Path) -> Manifest:
    """What a backup says of itself. Raises FolderError for a file that is none."""
    try:
        with archive(backup) as pack:
            return _manifest(json.loads(pack.read(MANIFEST)))
    except FileNotFoundError as error:
        raise FolderError(TroubleKind.MISSING, f"There is no file {backup}.") from error
    except (DamagedArchiveError, KeyError, ValueError, TypeError, AttributeError) as error:
        raise FolderError(
            TroubleKind.DAMAGED, f"{backup} is no backup of Wainscot, or it was cut short."
        ) from error
    except OSError as error:
        trouble = trouble_of(error, backup)
        raise FolderError(trouble.kind, trouble.words) from error


def _manifest(said: Any) -> Manifest:
    if said["format"] != FORMAT:
        raise ValueError(said["format"])
    if int(said["format_version"]) > FORMAT_VERSION:
        raise FolderError(
            TroubleKind.UNKNOWN,
            f"This backup is written in a newer way (format {said['format_version']}, made by Wainscot "
            f"{said['version']}). Bring it back with that version or a newer one.",
        )
    return Manifest(
        str(said["version"]), str(said["made"]),
        {str(k): str(v) for k, v in said["changes"].items()},
        {str(k): int(v) for k, v in said["rows"].items()},
        {str(k): Kept(int(v["bytes"]), str(v["sha256"])) for k, v in said["files"].items()},
    )  # fmt: skip


def known_changes(server: Path) -> dict[str, tuple[str, ...]]:
    """The changes of the database that this version knows, in their order, by application of its own."""
    return {
        _label(place.parent): tuple(sorted(p.stem for p in place.glob("[0-9]*.py")))
        for place in sorted(server.glob("*/migrations"))
    }


def _label(app: Path) -> str:
    """What a database calls an application: its folder, unless its configuration says otherwise."""
    config = app / "apps.py"
    if config.exists():
        for node in ast.walk(ast.parse(config.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Assign) and ast.unparse(node.targets[0]) == "label":
                return str(ast.literal_eval(node.value))
    return app.name


def ahead(manifest: Manifest, known: Mapping[str, tuple[str, ...]]) -> tuple[str, ...]:
    """Changes that a backup has been through and this version does not know."""
    return tuple(
        f"{app} {last}" for app, last in manifest.changes.items() if app in known and last not in known[app]
    )  # fmt: skip


def behind(manifest: Manifest, known: Mapping[str, tuple[str, ...]]) -> tuple[str, ...]:
    """Changes that this version makes to the database of a backup when it is next started."""
    return tuple(
        f"{app} {name}"
        for app, names in known.items()
        for name in names
        if app not in manifest.changes or name > manifest.changes[app]
    )


def restore_backup(
    backup: Path, folder: Path, known: Mapping[str, tuple[str, ...]], now: datetime
) -> Restored:
    """Put the installation of a backup into a folder. What is there already is moved aside within the folder, never deleted.
    Raises FolderError, with the folder as it was, for a backup that is damaged or was made by a newer version, and for a
    folder that is being served."""
    manifest = read_manifest(backup)
    newer = ahead(manifest, known)
    if newer:
        raise FolderError(
            TroubleKind.UNKNOWN,
            f"This backup was made by a newer Wainscot ({manifest.version}): its database has changes that this version "
            f"does not know ({', '.join(newer)}). Install that version or a newer one and restore there.",
        )
    try:
        folder.mkdir(parents=True, exist_ok=True, mode=PRIVATE_FOLDER)
        make_private(folder)
        held = hold(folder)
        try:
            with tempfile.TemporaryDirectory(dir=folder, prefix=".restore-") as place:
                _unpack(backup, manifest, Path(place))
                aside = _move_aside(folder, now)
                for name in manifest.files:
                    (Path(place) / name).replace(folder / name)
                sync_folder(folder)
            mark_made(folder)
        finally:
            os.close(held)
    except (OSError, sqlite3.Error) as error:
        trouble = trouble_of(error, folder)
        raise FolderError(trouble.kind, trouble.words) from error
    return Restored(manifest, behind(manifest, known), aside)


def _unpack(backup: Path, manifest: Manifest, place: Path) -> None:
    if DATABASE not in manifest.files or not set(manifest.files) <= {DATABASE, KEY_FILE}:
        raise FolderError(TroubleKind.DAMAGED, f"{backup} does not hold what a backup holds.")
    try:
        with archive(backup) as pack:
            for name, kept in manifest.files.items():
                with pack.open(name) as packed, written_whole(place / name) as handle:
                    while chunk := packed.read(CHUNK):
                        handle.write(chunk)
                if _kept(place / name) != kept:
                    raise FolderError(
                        TroubleKind.DAMAGED,
                        f"{backup} is damaged: {name} is not what was put into it. Take an older backup.",
                    )
    except (DamagedArchiveError, KeyError, ValueError) as error:
        raise FolderError(
            TroubleKind.DAMAGED, f"{backup} is damaged ({error}). Take an older backup."
        ) from error
    told = _told(place / DATABASE, manifest.version)
    if told.rows != dict(manifest.rows):
        raise FolderError(
            TroubleKind.DAMAGED, f"{backup} does not hold the rows it says. Take an older backup."
        )


def _move_aside(folder: Path, now: datetime) -> Path | None:
    there = [
        folder / name
        for name in (DATABASE, f"{DATABASE}-wal", f"{DATABASE}-shm", KEY_FILE)
        if (folder / name).exists()
    ]
    if not there:
        return None
    aside = folder / f"before-restore-{now:%Y-%m-%dT%H%M%SZ}"
    aside.mkdir(mode=PRIVATE_FOLDER)
    for path in there:
        path.replace(aside / path.name)
    return aside


@dataclass(frozen=True)
class Standing:
    """A backup that stands in a folder."""

    path: Path
    at: datetime
    bytes: int


def standing(place: Path) -> tuple[Standing, ...]:
    """The backups that were made by themselves, newest first, by the moment in their name."""
    found = []
    for path in place.glob("wainscot-*Z.zip"):
        try:
            at = datetime.strptime(path.stem, "wainscot-%Y-%m-%dT%H%M%SZ").replace(tzinfo=UTC)
        except ValueError:
            continue
        found.append(Standing(path, at, path.stat().st_size))
    return tuple(sorted(found, key=lambda s: s.at, reverse=True))


def is_due(place: Path, now: datetime, every: timedelta) -> bool:
    """Whether the next one is to be made. One that claims to be of tomorrow, made before the clock was set back, does not
    count: it would stop all others."""
    newest = next((s.at for s in standing(place) if s.at <= now), None)
    return newest is None or now - newest >= every


def outdated(place: Path, now: datetime, keep: timedelta) -> tuple[Standing, ...]:
    """Those that are older than they are kept; never the newest, however old it is."""
    return tuple(s for s in standing(place)[1:] if now - s.at > keep)
