"""What computes: a process for each job, so that a solver that hangs or dies takes nothing with it. Processes touch no
database: what they find is written by the requests that look at them (actions.py), and is lost with them; the row is not."""

import atexit
import logging
import multiprocessing
import os
import resource
import signal
import threading
import time
from collections.abc import Callable
from concurrent.futures import CancelledError, TimeoutError
from dataclasses import dataclass, field
from multiprocessing.connection import Connection
from typing import Protocol
from uuid import UUID

from pebble import ProcessExpired, concurrent
from wainscot_core.errors import InputError

from .fair import FairQueue

logger = logging.getLogger(__name__)

# A run that nobody looks at for so long is forgotten; its row stays and can run again.
KEEP_SECONDS = 900.0
AT_ONCE = max(2, os.cpu_count() or 1)
# So many of them for one practice, so that another finds a place.
EACH = max(1, AT_ONCE // 2)
# So many more of one practice may wait.
MOST_WAITING = 6
# What was asked to stop and does not is ended after so long.
STOP_SECONDS = 5.0
# How long a process that ends waits for what it is computing.
END_SECONDS = 6.0
_LOOK_SECONDS = 0.1
# Requests come first.
_NICE = 5

# A job is born of a process that has read the facts already (preload) and has one thread: a copy of the server itself
# would hold locks of threads that it does not have.
_context = multiprocessing.get_context("forkserver")

STOPPED = InputError("", "It was stopped, and had found nothing yet.")

Progress = Callable[[int, int, str], None]
Stopped = Callable[[], bool]


class Work(Protocol):
    """What a process can be given: it is pickled. seconds: how long it may take at most."""

    @property
    def seconds(self) -> float: ...

    def __call__(self, progress: Progress, stopped: Stopped) -> str:
        """Compute, as JSON text. Raises InputError."""


@dataclass(eq=False)
class Run:
    """A job as it is computed. result: JSON text; stopped: it is to end with what there is."""

    practice: int
    work: Work
    running: bool = False
    done: int = 0
    of: int = 0
    label: str = ""
    result: str | None = None
    error: InputError | None = None
    stopped: threading.Event = field(default_factory=threading.Event)
    finished: threading.Event = field(default_factory=threading.Event)
    seen: float = field(default_factory=time.monotonic)


_runs: dict[UUID, Run] = {}
# Those that have a place, also where nobody asks for them any more.
_going: set[Run] = set()
_queue: FairQueue[Run] = FairQueue(AT_ONCE, EACH)
_lock = threading.Lock()


def preload(modules: list[str]) -> None:
    """Name what is read once for all jobs, and begin with it; nothing waits for it but the first job."""
    _context.set_forkserver_preload(modules)
    first = _context.Process(target=_nothing, daemon=True)
    threading.Thread(target=first.start, daemon=True).start()


def _nothing() -> None:
    """What wakes the process that others are born of."""


def start(job: UUID, practice: int, work: Work) -> Run:
    """The run of a job: the one that is going on, or a new one in its practice's line."""
    with _lock:
        now = time.monotonic()
        for old in [k for k, r in _runs.items() if now - r.seen > KEEP_SECONDS]:
            _stop(_runs.pop(old))
        run = _runs.get(job)
        if run is not None:
            return run
        run = _runs[job] = Run(practice, work)
        _queue.put(practice, run)
    _begin_next()
    return run


def room(practice: int) -> bool:
    """Whether a practice may ask for one more."""
    with _lock:
        return _queue.waiting(practice) < MOST_WAITING


def find(job: UUID) -> Run | None:
    """The run of a job of this server, None when there is none."""
    with _lock:
        run = _runs.get(job)
        if run is not None:
            run.seen = time.monotonic()
        return run


def stop(run: Run) -> None:
    """Let a run end with what it has; one that only stood in line has nothing, and stands there no more."""
    with _lock:
        _stop(run)


def _stop(run: Run) -> None:
    run.stopped.set()
    if _queue.drop(run.practice, run):
        run.error = STOPPED
        run.finished.set()


def forget(job: UUID) -> None:
    """Drop a run whose end is written down."""
    with _lock:
        _runs.pop(job, None)


def stop_all(within_s: float = END_SECONDS) -> bool:
    """Stop every run and wait for it; whether all have ended."""
    with _lock:
        runs = [*_runs.values(), *_going]
        for run in runs:
            _stop(run)
    until = time.monotonic() + within_s
    for run in runs:
        run.finished.wait(max(0.0, until - time.monotonic()))
    return all(run.finished.is_set() for run in runs)


atexit.register(stop_all)


def _begin_next() -> None:
    with _lock:
        while (taken := _queue.take()) is not None:
            _, run = taken
            run.running = True
            _going.add(run)
            threading.Thread(target=_see_through, args=(run,), daemon=True).start()


def _see_through(run: Run) -> None:
    """One run from its beginning to its end, whatever end that is."""
    try:
        run.result = _computed(run)
    except InputError as error:
        run.error = error
    except CancelledError:
        run.error = STOPPED
    except TimeoutError:
        logger.error("a job took more than %s s and was ended", run.work.seconds)
        run.error = InputError(
            "", "This found no end and was stopped; nothing was changed. Ask for less at once, or try again."
        )  # fmt: skip
    except ProcessExpired as error:
        logger.error("the process of a job ended with %s", error.exitcode)
        run.error = InputError("", "This failed on our side; nothing was changed. Try again.")
    except Exception:
        logger.exception("a job failed")
        run.error = InputError("", "This failed on our side; nothing was changed. Try again.")
    finally:
        with _lock:
            _queue.done(run.practice)
            _going.discard(run)
        run.finished.set()
        _begin_next()


def _computed(run: Run) -> str:
    """What the work of a run comes to, in a process of its own that is ended when it does not end by itself."""
    ours, theirs = _context.Pipe()
    with ours:
        # The package takes the context by this name; its types say another one, which it passes over.
        process = concurrent.process(timeout=run.work.seconds, context=_context)  # type: ignore[call-overload]
        future = process(_compute)(run.work, theirs)
        theirs.close()
        told: float | None = None
        while not future.done():
            try:
                if ours.poll(_LOOK_SECONDS):
                    run.done, run.of, run.label = ours.recv()
            except (EOFError, OSError):
                # It has ended: the answer comes by itself.
                break
            now = time.monotonic()
            if told is None and run.stopped.is_set():
                told = now
                ours.send("stop")
            elif told is not None and now - told > STOP_SECONDS:
                future.cancel()
        result: str = future.result()
        return result


def _compute(work: Work, wire: Connection) -> str:
    """In the process of a job. Whoever began it being gone counts as stopped; one that hangs then ends by its limit."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    os.nice(_NICE)
    limit = int(work.seconds * (os.cpu_count() or 1)) + 10
    resource.setrlimit(resource.RLIMIT_CPU, (limit, limit))

    def progress(done: int, of: int, label: str) -> None:
        wire.send((done, of, label))

    return work(progress, wire.poll)
