"""Work that takes a while, as a row: what was asked, how far it is, what came of it."""

from uuid import uuid4

from accounts.models import PracticeRecord
from django.db import models
from wire.holds import one_of


class RunState(models.TextChoices):
    """How far it is."""

    WAITING = "waiting"
    RUNNING = "running"
    DONE = "done"
    FAILED = "failed"
    CANCELLED = "cancelled"


class Job(PracticeRecord):
    """A run of some work. subject: number of the record it is about; ask: what was asked, so that it
    can be run again; basis: fingerprint of what it was asked of.

    The row outlives the process that computes: a run whose process died is run again from `ask`
    by whoever looks at it next, if its basis still holds.
    """

    id = models.UUIDField(primary_key=True, default=uuid4, editable=False)
    kind = models.CharField(max_length=20)
    subject = models.PositiveBigIntegerField()
    by = models.CharField(max_length=150)
    ask = models.JSONField()
    basis = models.CharField(max_length=64)
    state = models.CharField(max_length=10, choices=RunState, default=RunState.WAITING)
    done = models.PositiveSmallIntegerField(default=0)
    of = models.PositiveSmallIntegerField(default=0)
    label = models.CharField(max_length=60, blank=True)
    cancel_asked = models.BooleanField(default=False)
    # The result as JSON text, "" until it is there.
    result = models.TextField(blank=True)
    # {"field", "message"} of a run that failed.
    error = models.JSONField(null=True)
    finished = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-created"]
        indexes = [models.Index(fields=["practice", "subject", "-created"], name="job_of_subject")]
        constraints = [one_of("jobs_job", "state", RunState)]

    def __str__(self) -> str:
        return f"{self.kind} {self.state}"

    @property
    def over(self) -> bool:
        """Nothing more will come of it."""
        return self.state not in (RunState.WAITING, RunState.RUNNING)
