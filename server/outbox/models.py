"""Mail that was sent, as its receivers would have it."""

from accounts.models import PracticeRecord
from django.db import models


class Mail(PracticeRecord):
    """A message to somebody outside. link: the address on this server that it asks to open; case: whose it is;
    personal: it lets somebody of the practice in, and is shown to owners alone."""

    to_name = models.CharField(max_length=120)
    to_address = models.EmailField()
    subject = models.CharField(max_length=200)
    text = models.TextField()
    link = models.CharField(max_length=300, blank=True)
    personal = models.BooleanField(default=False)
    case = models.PositiveBigIntegerField(null=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.subject} to {self.to_name}"
