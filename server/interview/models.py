"""The owner's own sheet: the address she fills it in by, and what she sent."""

from accounts.models import PracticeRecord
from cases.models import Case
from django.db import models
from records.models import Address
from wire.holds import shaped


class SheetLink(Address):
    """An address by which the owner fills in the sheet of one dog without an account."""

    SALT = "interview.sheet"
    WAY = "/sheet/{}"

    case = models.ForeignKey(Case, on_delete=models.CASCADE, related_name="sheet_links")

    def __str__(self) -> str:
        return f"sheet of {self.case}"


class SentSheet(PracticeRecord):
    """A sheet as it was sent. key: made where it was typed, so that what is sent twice counts once; answers: core
    dog.told.OwnersAnswer; settled: of each that was looked at, what came of it (Settled), by its id."""

    case = models.ForeignKey(Case, on_delete=models.CASCADE, related_name="sheets")
    key = models.CharField(max_length=40)
    answers = models.JSONField()
    settled = models.JSONField(default=dict)

    class Meta:
        ordering = ["pk"]
        constraints = [
            shaped("interview_sentsheet", "answers", list),
            shaped("interview_sentsheet", "settled", dict),
            models.UniqueConstraint(fields=["case", "key"], name="sent_sheet_once"),
        ]

    def __str__(self) -> str:
        return f"sheet of {self.case}, {self.created:%Y-%m-%d}"
