"""Batches: one cooking of a recipe each."""

from accounts.models import PracticeRecord
from django.db import models
from recipes.models import Recipe, RecipeVersion
from records.models import Address
from wire.holds import between, shaped


class Batch(PracticeRecord):
    """A batch as it was planned, and what it weighed when it was done.

    code: the day and a letter, one of its kind in the practice. release_version: the issued version that is cooked, None
    for a draft. lines: what the recipe's lines were read as. ask, plan: what was asked and what came of it (core
    batch). finished: what it weighed, {} before. cooked: the verdict on it as it was cooked, made with every entry on the
    facts of that day, {} where it could not be. feed_from: the day on which its first box is fed, None while nobody said; gone: numbers of
    boxes that are not there any more, beside those that are eaten. thrown: why it was thrown away, "" while it is not.
    """

    recipe = models.ForeignKey(Recipe, on_delete=models.RESTRICT, related_name="batches")
    release_version = models.ForeignKey(
        RecipeVersion, on_delete=models.RESTRICT, related_name="batches", null=True
    )
    code = models.CharField(max_length=16)
    cook_on = models.DateField()
    covers_days = models.FloatField()
    lines = models.JSONField()
    ask = models.JSONField()
    plan = models.JSONField()
    finished = models.JSONField(default=dict, blank=True)
    cooked = models.JSONField(default=dict, blank=True)
    feed_from = models.DateField(null=True)
    gone = models.JSONField(default=list, blank=True)
    thrown = models.CharField(max_length=300, blank=True)
    by = models.CharField(max_length=150)

    class Meta:
        ordering = ["-pk"]
        constraints = [
            shaped("kitchen_batch", "lines", list),
            shaped("kitchen_batch", "ask", dict),
            shaped("kitchen_batch", "plan", dict),
            shaped("kitchen_batch", "finished", dict),
            shaped("kitchen_batch", "cooked", dict),
            shaped("kitchen_batch", "gone", list),
            between("kitchen_batch", "covers_days", 0, 1000),
            models.UniqueConstraint(fields=["practice", "code"], name="batch_code_once"),
        ]

    def __str__(self) -> str:
        return f"batch {self.code}"


class BatchEntry(models.Model):
    """Something that was put down while a batch was cooked (core batch.record); the database refuses to change one.

    key: made where it was put down, so that what is sent twice counts once.
    """

    batch = models.ForeignKey(Batch, on_delete=models.CASCADE, related_name="entries")
    key = models.CharField(max_length=40)
    at = models.DateTimeField(auto_now_add=True)
    by = models.CharField(max_length=150)
    data = models.JSONField()

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(fields=["batch", "key"], name="batch_entry_once"),
        ]

    def __str__(self) -> str:
        return self.key


class CookLink(Address):
    """An address by which the owner cooks one batch without an account."""

    SALT = "kitchen.cook"
    WAY = "/cook/{}"

    batch = models.ForeignKey(Batch, on_delete=models.CASCADE, related_name="cook_links")

    def __str__(self) -> str:
        return f"to cook {self.batch}"

    @property
    def is_open(self) -> bool:
        """As of every address, and while the batch may be fed."""
        return super().is_open and not self.batch.thrown

    @property
    def shut(self) -> str:
        """What must not be fed is told before all else."""
        thrown = self.batch.thrown
        return f"This batch is not to be fed: {thrown}" if thrown else super().shut
