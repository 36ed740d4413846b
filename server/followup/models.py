"""What is put down of a dog after its plan was issued."""

from accounts.models import PracticeRecord
from cases.models import Case
from django.db import models
from records.models import Address
from wire.holds import shaped


class PutDown(PracticeRecord):
    """Something that was put down of a day. key: made where it was put down, so that what is sent twice counts once; struck:
    it does not count, and stays on record."""

    key = models.CharField(max_length=40)
    day = models.DateField()
    data = models.JSONField()
    by = models.CharField(max_length=150)
    struck = models.BooleanField(default=False)

    class Meta:
        abstract = True
        ordering = ["-day", "-pk"]

    def __str__(self) -> str:
        return f"{self.day}"


class FollowEntry(PutDown):
    """A day (core followup.entry.DayEntry). plan_kcal: what the plan gave on it, as known when it was put down: what is
    planned anew does not change what was fed before."""

    plan_kcal = models.FloatField(null=True)
    case = models.ForeignKey(Case, on_delete=models.CASCADE, related_name="follow_entries")

    class Meta(PutDown.Meta):
        abstract = False
        constraints = [
            shaped("followup_followentry", "data", dict),
            models.UniqueConstraint(fields=["case", "key"], name="follow_entry_once"),
        ]


class LabResult(PutDown):
    """A laboratory value (core followup.laboratory.LabValue)."""

    case = models.ForeignKey(Case, on_delete=models.CASCADE, related_name="lab_results")

    class Meta(PutDown.Meta):
        abstract = False
        constraints = [
            shaped("followup_labresult", "data", dict),
            models.UniqueConstraint(fields=["case", "key"], name="lab_result_once"),
        ]


class FollowTrial(PracticeRecord):
    """An elimination trial of a case (data: core followup.trial.TrialRecord). open: it has not ended."""

    case = models.ForeignKey(Case, on_delete=models.CASCADE, related_name="trials")
    data = models.JSONField()
    open = models.BooleanField(default=True)

    class Meta:
        ordering = ["-pk"]
        constraints = [
            shaped("followup_followtrial", "data", dict),
            models.UniqueConstraint(
                fields=["case"], condition=models.Q(open=True), name="one_open_trial"
            ),
        ]

    def __str__(self) -> str:
        return f"trial of {self.case}"


class DiaryLink(Address):
    """An address by which the owner puts days of one dog down without an account."""

    SALT = "followup.diary"
    WAY = "/diary/{}"

    case = models.ForeignKey(Case, on_delete=models.CASCADE, related_name="diary_links")

    def __str__(self) -> str:
        return f"diary of {self.case}"
