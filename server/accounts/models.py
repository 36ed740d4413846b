"""Practices and the people who work in them."""

from typing import Any, ClassVar, Self

from django.contrib.auth.models import AbstractUser, UserManager
from django.db import models
from wire.holds import one_of, shaped


class Practice(models.Model):
    """A consultant's business: every record belongs to one."""

    name = models.CharField(max_length=120)
    created = models.DateTimeField(auto_now_add=True)
    # New at every change to own foods, labels or measures, so that cached libraries are dropped.
    library_revision = models.CharField(max_length=32, blank=True)
    # How things are written here (core Conventions); {} for the default.
    conventions = models.JSONField(default=dict, blank=True)
    # What stands under its name on what it prints (core Letterhead); {} for nothing.
    letterhead = models.JSONField(default=dict, blank=True)
    # What stands on its invoices (core Invoicing); {} for nothing.
    invoicing = models.JSONField(default=dict, blank=True)
    # Whose clock tells it what day it is (IANA name); "" for the installation's.
    time_zone = models.CharField(max_length=60, blank=True)
    # It has said what stands on its shelf, or that nothing does.
    shelf_asked = models.BooleanField(default=False)

    class Meta:
        constraints = [
            shaped("accounts_practice", "conventions", dict),
            shaped("accounts_practice", "letterhead", dict),
            shaped("accounts_practice", "invoicing", dict),
        ]

    def __str__(self) -> str:
        return self.name


class Users(UserManager["User"]):
    """Users with their practice, which every request asks for."""

    def get_queryset(self) -> models.QuerySet["User"]:
        """All of them."""
        return super().get_queryset().select_related("practice")


class WorkRole(models.TextChoices):
    """What somebody is in a practice."""

    OWNER = "owner"
    CONSULTANT = "consultant"
    ASSISTANT = "assistant"


class User(AbstractUser):
    """Signs in with a username; sees only the records of their practice, and does what their role may. One without a role
    may nothing. Whoever has left is not active, and stays in the records by name."""

    role = models.CharField(max_length=10, choices=WorkRole, blank=True)
    left = models.DateTimeField(null=True)

    practice = models.ForeignKey(
        Practice, on_delete=models.PROTECT, related_name="users", null=True
    )

    objects: ClassVar[Users] = Users()

    class Meta(AbstractUser.Meta):
        constraints = [one_of("accounts_user", "role", WorkRole, blank=True)]


class PracticeQuerySet(models.QuerySet[Any]):
    """The one way to reach records: through the practice they belong to."""

    def for_practice(self, practice: Practice) -> Self:
        """Only this practice's records."""
        return self.filter(practice=practice)


class PracticeRecord(models.Model):
    """A record that belongs to a practice and carries a version for stale-write detection."""

    practice = models.ForeignKey(Practice, on_delete=models.CASCADE, related_name="+")
    version = models.PositiveIntegerField(default=1)
    created = models.DateTimeField(auto_now_add=True)
    updated = models.DateTimeField(auto_now=True)

    objects = PracticeQuerySet.as_manager()

    class Meta:
        abstract = True
