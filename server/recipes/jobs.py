"""Formulations that run in the background, with progress and cancel.

They live in the process that started them (there is one; see docs/architecture.md) and are
forgotten after a while: a proposal that nobody accepted leaves nothing behind.
"""

import logging
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Generic, TypeVar
from uuid import uuid4

from django.db import close_old_connections
from wainscot_core.errors import InputError

R = TypeVar("R")

logger = logging.getLogger(__name__)

KEEP_SECONDS = 900.0
AT_ONCE = 2


@dataclass
class Job(Generic[R]):
    """One run. state: waiting, running, done, failed."""

    practice_id: int
    id: str = field(default_factory=lambda: uuid4().hex)
    state: str = "waiting"
    done: int = 0
    of: int = 0
    label: str = ""
    result: R | None = None
    error: InputError | None = None
    cancelled: threading.Event = field(default_factory=threading.Event)
    finished: threading.Event = field(default_factory=threading.Event)
    started: float = field(default_factory=time.monotonic)

    def progress(self, done: int, of: int, label: str) -> None:
        """Called by the solver before each goal."""
        self.done, self.of, self.label = done, of, label


Work = Callable[[Job[R]], R]

_jobs: dict[str, Job[Any]] = {}
_lock = threading.Lock()
_slots = threading.Semaphore(AT_ONCE)


def start(practice_id: int, work: Work[R]) -> Job[R]:
    """Run some work in a thread of its own; its result or error is the job's."""
    job: Job[R] = Job(practice_id)
    with _lock:
        for old in [j for j in _jobs.values() if time.monotonic() - j.started > KEEP_SECONDS]:
            old.cancelled.set()
            del _jobs[old.id]
        _jobs[job.id] = job
    threading.Thread(target=_run, args=(job, work), daemon=True).start()
    return job


def _run(job: Job[R], work: Work[R]) -> None:
    with _slots:
        job.state = "running"
        try:
            job.result = work(job)
            job.state = "done"
        except InputError as error:
            job.error, job.state = error, "failed"
        except Exception:
            logger.exception("formulation failed")
            job.error = InputError(
                "", "The formulation failed on our side; the recipe was not changed. Try again."
            )
            job.state = "failed"
        finally:
            job.finished.set()
            close_old_connections()


def find(practice_id: int, job_id: str) -> Job[Any] | None:
    """A job of this practice, or None."""
    with _lock:
        job = _jobs.get(job_id)
    return job if job is not None and job.practice_id == practice_id else None
