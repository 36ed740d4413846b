"""What is wrong with a data folder, in words that say what to do. A full disk is not a damaged database."""

import errno
import os
import shutil
import sqlite3
from dataclasses import dataclass
from enum import StrEnum
from pathlib import Path


class TroubleKind(StrEnum):
    """What can be wrong."""

    FULL = "full"
    READ_ONLY = "read-only"
    FORBIDDEN = "forbidden"
    LOCKED = "locked"
    MISSING = "missing"
    DAMAGED = "damaged"
    UNKNOWN = "unknown"


@dataclass(frozen=True)
class Trouble:
    """What is wrong, and words for it."""

    kind: TroubleKind
    words: str


class FolderError(Exception):
    """A data folder or a backup that cannot be used; nothing in it was changed."""

    def __init__(self, kind: TroubleKind, words: str) -> None:
        super().__init__(words)
        self.kind = kind
        self.words = words


# Below this SQLite's own files no longer fit beside the database.
SCARCE_BYTES = 1_000_000

_BY_ERRNO = {
    errno.ENOSPC: TroubleKind.FULL,
    errno.EDQUOT: TroubleKind.FULL,
    errno.EFBIG: TroubleKind.FULL,
    errno.EROFS: TroubleKind.READ_ONLY,
    errno.EACCES: TroubleKind.FORBIDDEN,
    errno.EPERM: TroubleKind.FORBIDDEN,
    errno.ENOENT: TroubleKind.MISSING,
    errno.ENOTDIR: TroubleKind.MISSING,
}
# Primary result codes (SQLite, Result and Error Codes); extended ones carry them in their low byte.
_BY_CODE = {
    sqlite3.SQLITE_FULL: TroubleKind.FULL,
    sqlite3.SQLITE_READONLY: TroubleKind.READ_ONLY,
    sqlite3.SQLITE_PERM: TroubleKind.FORBIDDEN,
    sqlite3.SQLITE_AUTH: TroubleKind.FORBIDDEN,
    sqlite3.SQLITE_BUSY: TroubleKind.LOCKED,
    sqlite3.SQLITE_LOCKED: TroubleKind.LOCKED,
    sqlite3.SQLITE_CORRUPT: TroubleKind.DAMAGED,
    sqlite3.SQLITE_NOTADB: TroubleKind.DAMAGED,
}
# What these say depends on the disk: a file that cannot be opened or written is no damage by itself.
_ASK_THE_DISK = {sqlite3.SQLITE_IOERR, sqlite3.SQLITE_CANTOPEN}


def words_for(kind: TroubleKind, path: Path, said: str) -> str:
    """What a person at the machine should know and do."""
    return {
        TroubleKind.FULL: f"The disk that holds {path} is full ({said}). Nothing is damaged: make room and start again.",
        TroubleKind.READ_ONLY: f"{path} can only be read ({said}). Nothing is damaged: mount it for writing, or copy the folder where it can be written, and start again.",
        TroubleKind.FORBIDDEN: f"This user may not write to {path} ({said}). Nothing is damaged: start as the user who owns the folder, or give it to this one.",
        TroubleKind.LOCKED: f"Another program holds {path} ({said}). Nothing is damaged: end it, or wait until it is done, and start again.",
        TroubleKind.MISSING: f"{path} is not there ({said}). If a disk is not mounted, mount it; if the file is gone, bring it back with ./wainscot restore.",
        TroubleKind.DAMAGED: f"The database {path} is damaged ({said}). Keep the file as it is, bring back the last good backup with ./wainscot restore, and start again.",
        TroubleKind.UNKNOWN: f"{path} cannot be used ({said}). Whether it is damaged is not known: keep a copy of the folder before anything is tried.",
    }[kind]


def trouble_of(error: BaseException, path: Path) -> Trouble:
    """What an error of the system or of SQLite means for a file. Django's database errors carry SQLite's as their cause."""
    cause: BaseException | None = error
    while cause is not None and not isinstance(cause, OSError | sqlite3.Error):
        cause = cause.__cause__
    kind = TroubleKind.UNKNOWN if cause is None else _kind_of(cause, path)
    return Trouble(kind, words_for(kind, path, str(cause or error)))


def _kind_of(error: OSError | sqlite3.Error, path: Path) -> TroubleKind:
    if isinstance(error, OSError):
        return _BY_ERRNO.get(error.errno or 0, TroubleKind.UNKNOWN)
    code = getattr(error, "sqlite_errorcode", 0) & 0xFF
    if code in _ASK_THE_DISK:
        return _what_the_disk_says(path)
    return _BY_CODE.get(code, TroubleKind.UNKNOWN)


def _what_the_disk_says(path: Path) -> TroubleKind:
    """Why a file cannot be read or written, by trying beside it."""
    try:
        if not path.parent.is_dir() or not path.exists():
            return TroubleKind.MISSING
        if shutil.disk_usage(path.parent).free < SCARCE_BYTES:
            return TroubleKind.FULL
        # As long as the longest file that may have failed to grow: a quota or a limit of files shows there alone.
        log = path.with_name(f"{path.name}-wal")
        longest = max(path.stat().st_size, log.stat().st_size if log.exists() else 0)
        try_writing(path.parent, longest + SCARCE_BYTES)
        with path.open("r+b"):
            return TroubleKind.UNKNOWN
    except OSError as error:
        return _BY_ERRNO.get(error.errno or 0, TroubleKind.UNKNOWN)


def try_writing(folder: Path, size_bytes: int = SCARCE_BYTES) -> None:
    """Take so much room in a folder and give it back. Raises OSError with what stands in the way."""
    probe = folder / ".writable"
    try:
        with probe.open("wb") as handle:
            os.posix_fallocate(handle.fileno(), 0, size_bytes)
    finally:
        probe.unlink(missing_ok=True)
