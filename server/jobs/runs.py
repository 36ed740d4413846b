"""The threads that compute. They touch no database: what they find is written by the requests that
look at them (actions.py), and is lost with the process; the job's row is not."""

import atexit
import logging
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from uuid import UUID

from wainscot_core.errors import InputError

logger = logging.getLogger(__name__)

# A run that nobody looks at for so long is forgotten; its row stays and can run again.
KEEP_SECONDS = 900.0
AT_ONCE = 2
# How long a process that ends waits for what it is computing.
END_SECONDS = 25.0


@dataclass
class Run:
    """A job as this process computes it. result: JSON text."""

    running: bool = False
    done: int = 0
    of: int = 0
    label: str = ""
    result: str | None = None
    error: InputError | None = None
    cancelled: threading.Event = field(default_factory=threading.Event)
    finished: threading.Event = field(default_factory=threading.Event)
    seen: float = field(default_factory=time.monotonic)

    def progress(self, done: int, of: int, label: str) -> None:
        """Called by the work before each of its parts."""
        self.done, self.of, self.label = done, of, label


Work = Callable[[Run], str]

_runs: dict[UUID, Run] = {}
_lock = threading.Lock()
_slots = threading.Semaphore(AT_ONCE)


def start(job: UUID, work: Work) -> Run:
    """The run of a job: the one that is going on, or a new one in a thread of its own."""
    with _lock:
        now = time.monotonic()
        for old in [k for k, r in _runs.items() if now - r.seen > KEEP_SECONDS]:
            _runs.pop(old).cancelled.set()
        run = _runs.get(job)
        if run is not None:
            return run
        run = _runs[job] = Run()
    threading.Thread(target=_do, args=(run, work), daemon=True).start()
    return run


def find(job: UUID) -> Run | None:
    """The run of a job in this process, None when there is none."""
    with _lock:
        run = _runs.get(job)
        if run is not None:
            run.seen = time.monotonic()
        return run


def forget(job: UUID) -> None:
    """Drop a run whose end is written down."""
    with _lock:
        _runs.pop(job, None)


def stop_all(within_s: float = END_SECONDS) -> bool:
    """Cancel every run and wait for it; whether all have ended. A process must not end under a solver
    that is still at work: its threads would be torn down and the process would abort."""
    with _lock:
        runs = list(_runs.values())
    for run in runs:
        run.cancelled.set()
    until = time.monotonic() + within_s
    for run in runs:
        run.finished.wait(max(0.0, until - time.monotonic()))
    return all(run.finished.is_set() for run in runs)


atexit.register(stop_all)


def _do(run: Run, work: Work) -> None:
    with _slots:
        run.running = True
        try:
            if run.cancelled.is_set():
                raise InputError("", "it was stopped before it began")
            run.result = work(run)
        except InputError as error:
            run.error = error
        except Exception:
            logger.exception("a job failed")
            run.error = InputError("", "This failed on our side; nothing was changed. Try again.")
        finally:
            run.finished.set()
