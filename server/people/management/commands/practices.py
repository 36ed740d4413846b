"""The practices of this installation, and one more: for whoever keeps it."""

from argparse import ArgumentTypeError
from typing import Any

from accounts.models import Practice, User, WorkRole
from accounts.scoping import Actor
from django.conf import settings
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.core.validators import validate_email
from django.db import transaction
from keeping.folder import served_at
from wainscot_core.conventions import Region

from people.actions import invite
from people.setting_up import new_practice

KEEPER = "whoever keeps this installation"


def _name(text: str) -> str:
    if not 1 <= len(text.strip()) <= 120:
        raise ArgumentTypeError("a practice has a name of at most 120 characters")
    return text.strip()


def here() -> str:
    """The address of this installation, as it is served or was last."""
    return served_at(settings.DATA_DIR) or "http://127.0.0.1:8080"


class Command(BaseCommand):
    help = "List the practices, or make one and invite its first owner."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--add", type=_name, metavar="NAME")
        parser.add_argument("--owner", metavar="EMAIL")
        parser.add_argument(
            "--region", choices=[r.value for r in Region], default=Region.EUROPE.value
        )
        parser.add_argument("--address", default=here())

    def handle(self, *args: Any, **options: Any) -> None:
        if options["add"]:
            self._add(options)
            return
        for practice in Practice.objects.order_by("pk"):
            people = User.objects.filter(practice=practice, is_active=True)
            owners = ", ".join(
                people.filter(role=WorkRole.OWNER).values_list("username", flat=True)
            )
            self.stdout.write(
                f"{practice.pk}\t{practice.name}\t{people.count()} people\towned by {owners or 'nobody yet'}"
            )

    @transaction.atomic
    def _add(self, options: dict[str, Any]) -> None:
        try:
            validate_email(options["owner"] or "")
        except ValidationError:
            raise CommandError("Give the e-mail address of its owner with --owner.") from None
        if Practice.objects.filter(name__iexact=options["add"]).exists():
            raise CommandError(f"There is a practice called {options['add']} already.")
        practice = new_practice(options["add"], Region(options["region"]))
        made = invite(Actor(practice, KEEPER), options["owner"], WorkRole.OWNER)
        self.stdout.write(
            f"{practice.name} is there. Its owner joins at {options['address'].rstrip('/')}{made.path}\n"
            "The address opens once, for seven days: give it to nobody else."
        )
