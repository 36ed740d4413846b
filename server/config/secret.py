"""The installation's secret key: made once, kept beside the data, readable by its owner only."""

import os
import secrets
from pathlib import Path


def read_or_make_secret(data_dir: Path) -> str:
    """The key of this data folder, made on first use."""
    path = data_dir / "secret.key"
    if not path.exists():
        descriptor = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        with os.fdopen(descriptor, "w") as handle:
            handle.write(secrets.token_urlsafe(50))
    return path.read_text().strip()
