"""Begin a job, look how far it is, cancel it. All writes to a job's row are here."""

from collections.abc import Callable
from datetime import timedelta
from typing import Any

from accounts.scoping import Actor, find_own
from django.db import transaction
from django.utils import timezone
from wainscot_core.errors import InputError
from wire.errors import TooManyError

from . import runs
from .models import Job, RunState

KEEP_DAYS = 7
# An older run is of a page that nobody remembers.
RESUME_HOURS = 1
CHANGED = InputError(
    "", "The case changed while this ran and the program was restarted: start it again."
)
FULL = "Your practice has as many of these waiting as are taken at once: let one end, or stop one."

# What makes a job's work again from its row, and the basis it would stand on now.
Again = Callable[[Job], tuple[str, runs.Work]]


@transaction.atomic
def begin(who: Actor, kind: str, subject: int, ask: Any, basis: str, work: runs.Work) -> Job:
    """Write a job down and let it run. `ask`: what it can be run again from, as plain data. Raises TooManyError when as many
    of this practice wait as may."""
    if not runs.room(who.practice.pk):
        raise TooManyError(FULL)
    stale = timezone.now() - timedelta(days=KEEP_DAYS)
    Job.objects.for_practice(who.practice).filter(created__lt=stale).delete()
    job = Job.objects.create(
        practice=who.practice, kind=kind, subject=subject, by=who.name, ask=ask, basis=basis
    )
    runs.start(job.pk, who.practice.pk, work)
    return job


def look(job: Job, again: Again, wait_seconds: float) -> Job:
    """The job as it stands after waiting at most so long for its end; its row says so too.

    A job whose process is gone is run again, unless what it was asked of has changed since. The wait
    holds no transaction: others write meanwhile.
    """
    run = runs.find(job.pk)
    if run is None:
        # Someone else may have written down its end since the row was read.
        job.refresh_from_db()
    if job.over:
        return job
    if run is None and job.cancel_asked:
        return _close(job, RunState.CANCELLED)
    if run is None:
        basis, work = again(job)
        if basis != job.basis:
            return _close(job, RunState.FAILED, error=CHANGED)
        run = runs.start(job.pk, job.practice_id, work)
    run.finished.wait(wait_seconds)
    job.done, job.of, job.label = run.done, run.of, run.label
    if not run.finished.is_set():
        job.state = RunState.RUNNING if run.running else RunState.WAITING
        job.save(update_fields=["state", "done", "of", "label", "updated"])
        return job
    state = RunState.FAILED if run.error else RunState.DONE
    closed = _close(job, state, run.result or "", run.error)
    runs.forget(job.pk)
    return closed


def last(who: Actor, kind: str, subject: int, again: Again) -> Job | None:
    """The user's last job of a kind and subject as it stands, so that a page that was reloaded goes on; None where there is
    none that was not put away or failed."""
    job = (
        Job.objects.for_practice(who.practice)
        .filter(
            kind=kind, subject=subject, by=who.name,
            created__gte=timezone.now() - timedelta(hours=RESUME_HOURS),
        )
        .first()
    )  # fmt: skip
    if job is None or job.cancel_asked or job.state == RunState.FAILED:
        return None
    seen = look(job, again, 0)
    return None if seen.error else seen


def _close(job: Job, state: RunState, result: str = "", error: InputError | None = None) -> Job:
    job.state, job.result, job.finished = state, result, timezone.now()
    job.error = {"field": error.field, "message": error.message} if error else None
    job.save(
        update_fields=[
            "state", "done", "of", "label", "result", "error", "finished", "updated",
        ]
    )  # fmt: skip
    return job


@transaction.atomic
def cancel(job: Job) -> None:
    """Ask a job to end with what it has. One that is over stays as it is; nobody waits for it."""
    locked = find_own(Job, job.practice, lock=True, pk=job.pk)
    run = runs.find(locked.pk)
    if run is not None:
        runs.stop(run)
    locked.cancel_asked = True
    locked.save(update_fields=["cancel_asked", "updated"])
