"""What happened, when and by whom: written once, never changed, never taken out."""

from accounts.models import Practice, PracticeQuerySet
from django.db import models


class EventKind(models.TextChoices):
    """What can happen. The part before the point is what it happens to."""

    CASE_STARTED = "case.started"
    CASE_IMPORTED = "case.imported"
    CASE_CHANGED = "case.changed"
    CASE_ARCHIVED = "case.archived"
    CASE_TAKEN_BACK = "case.taken-back"
    CASE_DELETED = "case.deleted"
    # Something that could not be read was taken out of where it stood (also by wire.holds).
    SET_ASIDE = "record.set-aside"
    LIMIT_DECIDED = "limit.decided"
    LIMIT_UNDECIDED = "limit.undecided"
    CLIENT_CHANGED = "client.changed"
    CLIENT_ERASED = "client.erased"
    PRACTICE_CHANGED = "practice.changed"
    PRACTICE_BROUGHT = "practice.brought-in"
    FOOD_MARKED = "food.marked"
    FOOD_NOTED = "food.noted"
    FOOD_ADDED = "food.added"
    FOOD_CHANGED = "food.changed"
    FOODS_IMPORTED = "food.imported"
    SHELF_STOCKED = "shelf.stocked"
    SHELF_TAKEN_OFF = "shelf.taken-off"
    STANDARD_COPIED = "standard.copied"
    STANDARD_CHANGED = "standard.changed"
    VALUE_CHECKED = "standard.value-checked"
    VALUE_UNCHECKED = "standard.value-unchecked"
    RECIPE_STARTED = "recipe.started"
    RECIPE_COPIED = "recipe.copied"
    RECIPE_BROUGHT_IN = "recipe.brought-in"
    RECIPE_SAVED = "recipe.saved"
    RECIPE_DELETED = "recipe.deleted"
    RECIPE_ARCHIVED = "recipe.archived"
    RECIPE_TAKEN_BACK = "recipe.taken-back"
    VERSION_KEPT = "version.kept"
    VERSION_RENAMED = "version.renamed"
    VERSION_DELETED = "version.deleted"
    VERSION_RESTORED = "version.restored"
    VERSION_BRANCHED = "version.branched"
    RECIPE_KEPT = "kept-recipe.kept"
    KEPT_RENAMED = "kept-recipe.renamed"
    KEPT_DROPPED = "kept-recipe.dropped"
    TEXT_KEPT = "text.kept"
    TEXT_DROPPED = "text.dropped"
    MEETING_MADE = "appointment.made"
    MEETING_MOVED = "appointment.moved"
    MEETING_OFF = "appointment.called-off"
    MEETING_ON = "appointment.holds-again"
    INVOICE_GIVEN = "invoice.given-out"
    INVOICE_PAID = "invoice.paid"
    INVOICE_UNPAID = "invoice.not-paid"
    INVOICE_VOID = "invoice.void"
    FORMULATION_STARTED = "formulation.started"
    ROUND_STARTED = "round.started"
    PLAN_SAVED = "plan.saved"
    LINK_MADE = "link.made"
    LINK_OPENED = "link.opened"
    LINK_REVOKED = "link.revoked"
    CONCERN_DECIDED = "concern.decided"
    CONCERN_REOPENED = "concern.taken-back"
    RELEASE_MOVED = "release.moved"
    VET_ASKED = "vet.asked"
    VET_OPENED = "vet.opened"
    VET_ANSWERED = "vet.answered"
    BATCH_PLANNED = "batch.planned"
    BATCH_WEIGHED = "batch.weighed"
    BATCH_THROWN = "batch.thrown"
    BATCH_STOCKED = "batch.stocked"
    DAY_PUT_DOWN = "day.put-down"
    DAY_STRUCK = "day.struck"
    DAY_COUNTS = "day.counts"
    LAB_PUT_DOWN = "lab.put-down"
    LAB_STRUCK = "lab.struck"
    LAB_COUNTS = "lab.counts"
    TRIAL_STARTED = "trial.started"
    TRIAL_MOVED = "trial.moved"
    TRIAL_MOVE_UNDONE = "trial.move-undone"
    DUE_DONE = "due.done"
    DUE_PUT_OFF = "due.put-off"
    DUE_TAKEN_BACK = "due.taken-back"
    DUE_REMINDED = "due.reminded"
    FEED_GIVEN = "feed.given"
    FEED_CLOSED = "feed.closed"
    REFORMULATED = "plan.reformulated"
    DIARY_GIVEN = "diary.given"
    DIARY_CLOSED = "diary.closed"
    SHEET_GIVEN = "sheet.given"
    SHEET_CLOSED = "sheet.closed"
    SHEET_SENT = "sheet.sent"
    SHEET_SETTLED = "sheet.settled"
    BACKED_UP = "installation.backed-up"
    CASE_SEEN = "case.seen"
    GIVEN_OUT = "record.given-out"
    SIGNED_IN = "person.signed-in"
    SIGN_IN_REFUSED = "person.refused"
    SIGNED_OUT = "person.signed-out"
    SESSIONS_ENDED = "person.sessions-ended"
    PERSON_INVITED = "person.invited"
    INVITATION_TAKEN_BACK = "person.invitation-taken-back"
    PERSON_JOINED = "person.joined"
    PERSON_CHANGED = "person.role-changed"
    PERSON_LEFT = "person.left"
    PERSON_BACK = "person.back"
    PASSWORD_CHANGED = "person.password-changed"  # noqa: S105
    RESET_ASKED = "person.reset-asked"
    PASSWORD_RESET = "person.password-reset"  # noqa: S105
    EMAIL_CHANGED = "person.email-changed"
    SECOND_FACTOR_ON = "person.second-factor-on"
    SECOND_FACTOR_OFF = "person.second-factor-off"


# What changes nothing in a case: who looked at it, and what left as a document or a file.
LOOKS = frozenset({EventKind.CASE_SEEN, EventKind.GIVEN_OUT})


class Event(models.Model):
    """Something that was done. case, subject: numbers of records, which may be gone by now.

    The database refuses to change or delete a row (migration 0001). Erasing a client leaves the row and empties it of
    what tells of her (handover.erasing).
    """

    practice = models.ForeignKey(Practice, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    by = models.CharField(max_length=150)
    # A EventKind; without choices, so that a new kind is no change of the table.
    kind = models.CharField(max_length=40)
    case = models.PositiveBigIntegerField(null=True)
    subject = models.PositiveBigIntegerField(null=True)
    data = models.JSONField(default=dict)

    objects = PracticeQuerySet.as_manager()

    class Meta:
        ordering = ["-pk"]
        indexes = [
            models.Index(fields=["practice", "case", "-id"], name="event_of_case"),
            models.Index(fields=["practice", "by", "at"], name="event_by_person"),
            models.Index(fields=["practice", "kind", "at"], name="event_by_kind"),
            models.Index(fields=["practice", "at"], name="event_by_time"),
        ]

    def __str__(self) -> str:
        return f"{self.kind} by {self.by}"
