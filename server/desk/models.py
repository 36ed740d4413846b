"""What is due of every case, worked out beforehand, so that the first page asks for no more than it shows."""

from accounts.models import PracticeRecord
from cases.models import Case
from django.db import models
from records.models import Address


class DeskItem(PracticeRecord):
    """Something that is due of a case (core desk.due.Due), made anew when the case changes. shown_on: its day, or the later
    one to which it was put off."""

    case = models.ForeignKey(Case, on_delete=models.CASCADE, related_name="desk_items")
    kind = models.CharField(max_length=16)
    holder = models.CharField(max_length=10)
    on = models.DateField()
    shown_on = models.DateField()
    what = models.CharField(max_length=200)
    why = models.CharField(max_length=500)
    place = models.CharField(max_length=10)
    recipe = models.PositiveBigIntegerField(null=True)
    put_off = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ["shown_on", "pk"]
        indexes = [models.Index(fields=["practice", "shown_on", "id"], name="desk_by_day")]

    def __str__(self) -> str:
        return f"{self.on}: {self.what}"


class DeskNote(PracticeRecord):
    """What somebody said of a kind of thing that is due of a case: that it was done on a day, or is put off to another, and
    why."""

    case = models.ForeignKey(Case, on_delete=models.CASCADE, related_name="desk_notes")
    kind = models.CharField(max_length=16)
    done_on = models.DateField(null=True)
    off_until = models.DateField(null=True)
    reason = models.CharField(max_length=300, blank=True)
    # Why each of them was due when it was said to be done, a line each.
    why = models.TextField(blank=True)
    by = models.CharField(max_length=150)

    class Meta:
        ordering = ["pk"]
        indexes = [models.Index(fields=["case", "kind"], name="desk_note_of_case")]

    def __str__(self) -> str:
        return f"{self.kind} of {self.case}"


class DeskFeed(Address):
    """An address by which a calendar reads what is due of a practice."""

    SALT = "desk.feed"
    WAY = "/due/{}.ics"

    def __str__(self) -> str:
        return f"calendar of {self.practice}"


class StaleCase(models.Model):
    """A case of which something was written since what is due of it was worked out. by_data: only what the practice, or the
    application, knows of foods and limits changed."""

    by_data = models.BooleanField(default=False)
    case = models.OneToOneField(Case, on_delete=models.CASCADE, related_name="+")
    practice = models.ForeignKey("accounts.Practice", on_delete=models.CASCADE, related_name="+")

    def __str__(self) -> str:
        return f"{self.case}"


class SeenData(models.Model):
    """The reference data, and the rules, by which plans that are out were looked through last."""

    fingerprint = models.CharField(max_length=64, unique=True)

    def __str__(self) -> str:
        return self.fingerprint[:12]
