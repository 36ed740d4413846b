"""Work for the processes that jobs run in: what is waited for are files, for nothing else is shared with them."""

import os
import signal
import time
from dataclasses import dataclass
from pathlib import Path
from uuid import uuid4

from wainscot_core.errors import InputError

LOOK_SECONDS = 0.01


def wait_for(folder: Path, pattern: str, count: int = 1) -> None:
    """Until so many files are there; the test's own time-out ends it."""
    for _ in range(6000):
        if len(list(folder.glob(pattern))) >= count:
            return
        time.sleep(LOOK_SECONDS)
    raise AssertionError(f"{count} of {pattern} did not come")


def wait_gone(pid: int) -> None:
    """Until no process of that number is at work any more."""
    for _ in range(6000):
        try:
            if Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0] == "Z":
                return
        except FileNotFoundError:
            return
        time.sleep(LOOK_SECONDS)
    raise AssertionError(f"process {pid} goes on")


@dataclass(frozen=True)
class Chore:
    """Says something and is done."""

    says: str = ""
    seconds: float = 60.0

    def __call__(self, progress: object, stopped: object) -> str:
        return self.says


@dataclass(frozen=True)
class Hold:
    """Begins, tells how far it is, and goes on until a file "go" is there or it is stopped."""

    folder: Path
    seconds: float = 60.0

    def __call__(self, progress, stopped) -> str:  # type: ignore[no-untyped-def]
        progress(1, 3, "energy")
        (self.folder / f"began-{uuid4()}").touch()
        while not (self.folder / "go").exists():
            if stopped():
                return "stopped"
            time.sleep(LOOK_SECONDS)
        return "went on"


@dataclass(frozen=True)
class Hang:
    """Looks at nothing any more, as a solver that has lost its way."""

    folder: Path
    seconds: float = 60.0

    def __call__(self, progress: object, stopped: object) -> str:
        (self.folder / f"hangs-{os.getpid()}").touch()
        while True:
            time.sleep(LOOK_SECONDS)


@dataclass(frozen=True)
class Die:
    """Takes its process with it, as a fault in a library in C."""

    seconds: float = 60.0

    def __call__(self, progress: object, stopped: object) -> str:
        os.kill(os.getpid(), signal.SIGKILL)
        return ""


@dataclass(frozen=True)
class Refuse:
    """Raises: what can be mended, or what cannot."""

    error: type[Exception] = InputError
    seconds: float = 60.0

    def __call__(self, progress: object, stopped: object) -> str:
        raise self.error(*(("mode", "is wrong") if self.error is InputError else ()))


@dataclass(frozen=True)
class Whence:
    """Says which process it is born of, and how many threads that one has."""

    seconds: float = 60.0

    def __call__(self, progress: object, stopped: object) -> str:
        parent = os.getppid()
        return f"{parent} {len(list(Path(f'/proc/{parent}/task').iterdir()))}"
