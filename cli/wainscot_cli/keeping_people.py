"""Practices and people, for whoever keeps an installation."""

import subprocess
import sys
from collections.abc import Mapping
from pathlib import Path

from keeping.folder import DATABASE

from .backing_up import data_folder
from .paths import SERVER
from .serving import environment


def practices(given: Path | None, options: Mapping[str, str | None]) -> int:
    """List the practices, or make one."""
    return _manage(given, "practices", *_words(options))


def take_out(given: Path | None, file: Path, options: Mapping[str, str | None]) -> int:
    """All records of a practice as a file."""
    return _manage(given, "take_out", *_words(options), "--", str(file.resolve()))


def bring_in(given: Path | None, file: Path, options: Mapping[str, str | None]) -> int:
    """A practice of such a file."""
    return _manage(given, "bring_in", *_words(options), "--", str(file.resolve()))


def _words(options: Mapping[str, str | None]) -> list[str]:
    return [word for name, value in options.items() if value for word in (f"--{name}", value)]


def let_in(given: Path | None, username: str, without_code: bool, address: str | None) -> int:
    """A link by which somebody sets a new password."""
    words = [
        *(["--without-code"] if without_code else []),
        *(["--address", address] if address else []),
    ]
    return _manage(given, "let_in", *words, "--", username)


def _manage(given: Path | None, *words: str) -> int:
    folder = data_folder(given)
    if isinstance(folder, Path) and not (folder / DATABASE).exists():
        folder = f"There is no installation in {folder}."
    if isinstance(folder, str):
        print(folder, file=sys.stderr)
        return 1
    command = [sys.executable, str(SERVER / "manage.py"), *words]
    return subprocess.run(command, env=environment(folder, False), check=False).returncode
