"""The installation's secret key: made once, kept beside the data, readable by its owner only."""

import secrets
from pathlib import Path

from .files import written_whole
from .trouble import FolderError, TroubleKind

KEY_FILE = "secret.key"
SHORTEST = 40


def read_or_make_secret(folder: Path) -> str:
    """The key of this data folder, made on first use. Raises FolderError for one that is cut short: sessions and
    addresses that were given out are signed with it, so that another is not made in its place."""
    path = folder / KEY_FILE
    if not path.exists():
        with written_whole(path) as handle:
            handle.write(secrets.token_urlsafe(50).encode())
    key = path.read_text(encoding="utf-8").strip()
    if len(key) < SHORTEST:
        raise FolderError(
            TroubleKind.DAMAGED,
            f"The key {path} is empty or cut short. Bring it back with ./wainscot restore. Or delete it: "
            "a new one is made, everybody signs in again, and the addresses given to owners and vets no longer open.",
        )
    return key
