"""Backups by hand: make one, bring one back."""

import os
import sys
from datetime import UTC, datetime
from pathlib import Path

from keeping.backup import (
    Restored,
    known_changes,
    make_backup,
    read_manifest,
    restore_backup,
    stem,
)
from keeping.folder import DATABASE, MARKER
from keeping.trouble import FolderError
from wainscot_core.version import VERSION

from .paths import ROOT, SERVER


def data_folder(given: Path | None) -> Path | str:
    """The data folder that is meant: the one given, that of WAINSCOT_DATA, or the only one under var/; else words."""
    if given is not None:
        return given.resolve()
    if "WAINSCOT_DATA" in os.environ:
        return Path(os.environ["WAINSCOT_DATA"]).resolve()
    there = [p for p in sorted((ROOT / "var").glob("*")) if _is_installation(p)]
    if len(there) == 1:
        return there[0]
    which = f"There are several ({', '.join(map(str, there))})" if there else "There is none here"
    return f"Which data folder is meant? {which}: give it with --data."


def _is_installation(folder: Path) -> bool:
    return (folder / DATABASE).exists() or (folder / MARKER).exists()


def backup(given: Path | None, target: Path | None) -> int:
    """Write a backup; the application may be running meanwhile."""
    folder = data_folder(given)
    if isinstance(folder, str):
        return _refuse(folder)
    target = target or Path(f"{stem(datetime.now(UTC))}.zip")
    if target.is_dir():
        target = target / f"{stem(datetime.now(UTC))}.zip"
    try:
        made = make_backup(folder, target.resolve(), VERSION)
    except FolderError as error:
        return _refuse(error.words)
    rows = sum(made.rows.values())
    print(
        f"{target}: {target.stat().st_size:,} bytes, {rows:,} rows of {len(made.rows)} tables, Wainscot {made.version}."
    )
    print(
        "It holds the records of clients and the key of this installation: keep it where only you can read it."
    )
    return 0


def restore(given: Path | None, source: Path, yes: bool) -> int:
    """Bring a backup back, after asking when something is there."""
    folder = data_folder(given)
    if isinstance(folder, str):
        return _refuse(folder)
    try:
        manifest = read_manifest(source)
        if _is_installation(folder) and not yes:
            print(
                f"{folder} holds an installation. It is moved aside, and that of {manifest.made} takes its place: "
                "what was written since is in neither. Type yes to go on:",
                file=sys.stderr,
            )
            if sys.stdin.readline().strip().lower() != "yes":
                return _refuse("Nothing was changed.")
        done = restore_backup(source, folder, known_changes(SERVER), datetime.now(UTC))
    except FolderError as error:
        return _refuse(error.words)
    for line in _said(done, folder):
        print(line)
    return 0


def _said(done: Restored, folder: Path) -> list[str]:
    rows = sum(done.manifest.rows.values())
    lines = [
        f"{folder} is as it was on {done.manifest.made}: {rows:,} rows of {len(done.manifest.rows)} tables, every file and "
        "every table as it was put in."
    ]
    if done.manifest.version != VERSION:
        lines.append(f"It was made by Wainscot {done.manifest.version}; this is {VERSION}.")
    if done.older:
        lines.append(
            f"Its database is older: {len(done.older)} changes are made to it at the next start ({', '.join(done.older)})."
        )
    if done.aside:
        lines.append(f"What was there before lies in {done.aside}.")
    lines.append("Everybody signs in again.")
    return lines


def _refuse(words: str) -> int:
    print(words, file=sys.stderr)
    return 1
