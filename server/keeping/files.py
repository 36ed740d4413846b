"""Files that are written whole or not at all, for their owner only."""

import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO

PRIVATE_FILE = 0o600
PRIVATE_FOLDER = 0o700


@contextmanager
def written_whole(target: Path) -> Iterator[IO[bytes]]:
    """A file that stands at `target` once all of it is on the disk, and not before; 0600."""
    part = target.with_name(f".{target.name}.part")
    part.unlink(missing_ok=True)
    descriptor = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL, PRIVATE_FILE)
    try:
        with os.fdopen(descriptor, "wb") as handle:
            yield handle
            handle.flush()
            os.fsync(handle.fileno())
        part.replace(target)
        sync_folder(target.parent)
    finally:
        part.unlink(missing_ok=True)


def sync_folder(folder: Path) -> None:
    """What was renamed in a folder stays renamed when the power goes."""
    descriptor = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(descriptor)
    finally:
        os.close(descriptor)


def make_private(path: Path) -> None:
    """Take from a file or folder every right that its owner has not; one that is somebody else's stays."""
    mode = path.stat().st_mode & 0o777
    if mode & 0o077:
        path.chmod(mode & PRIVATE_FOLDER)
