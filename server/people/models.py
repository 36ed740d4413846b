"""Ways in: invitations, new passwords, and the browsers somebody is signed in with."""

from accounts.models import User, WorkRole
from django.db import models
from records.models import Address
from wire.holds import one_of


class Invitation(Address):
    """An address by which somebody joins a practice, once."""

    SALT = "people.invitation"
    WAY = "/invitation/{}"

    email = models.EmailField()
    role = models.CharField(max_length=10, choices=WorkRole)
    accepted = models.DateTimeField(null=True)

    class Meta(Address.Meta):
        constraints = [one_of("people_invitation", "role", WorkRole)]

    def __str__(self) -> str:
        return f"{self.email} as {self.role}"

    @property
    def is_open(self) -> bool:
        """Nobody has joined by it yet."""
        return self.accepted is None and super().is_open

    @property
    def shut(self) -> str:
        """Why it opens nothing any more."""
        used = "This invitation was used already: sign in with the name that was chosen then."
        return used if self.accepted else super().shut


class Reset(Address):
    """An address by which somebody sets a new password, once."""

    SALT = "people.reset"
    WAY = "/reset/{}"

    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="+")
    used = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"new password of {self.user}"

    @property
    def is_open(self) -> bool:
        """It was not used yet, and who it is for works here."""
        return self.used is None and self.user.is_active and super().is_open

    @property
    def shut(self) -> str:
        """Why it opens nothing any more."""
        return "This link was used or has run out. Ask for a new one at “Forgot the password?”."


class Seat(models.Model):
    """A browser that somebody is signed in with. It goes with its session."""

    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="seats")
    session_key = models.CharField(max_length=40, unique=True)
    began = models.DateTimeField()
    seen = models.DateTimeField()
    address = models.GenericIPAddressField(null=True)
    agent = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["-seen"]

    def __str__(self) -> str:
        return f"{self.user} since {self.began:%Y-%m-%d}"
