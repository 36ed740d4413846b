"""The records of a practice, from a file, as one more practice: for whoever keeps this installation."""

from pathlib import Path
from typing import Any

from accounts.models import WorkRole
from accounts.scoping import Actor
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.core.validators import validate_email
from django.db import transaction
from events.log import log
from events.models import EventKind
from people.actions import invite
from people.management.commands.practices import KEEPER, here
from wainscot_core.errors import InputError

from handover.bringing import bring_in


class Command(BaseCommand):
    help = "Make a practice of a file of records, and invite its owner."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--owner", metavar="EMAIL", required=True)
        parser.add_argument("--name", default="")
        parser.add_argument("--address", default=here())

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            validate_email(options["owner"])
        except ValidationError:
            raise CommandError("Give the e-mail address of its owner with --owner.") from None

        def tell(table: str, rows: int) -> None:
            if rows:
                self.stdout.write(f"  {rows} {table}")

        try:
            brought = bring_in(options["file"], options["name"], tell)
        except InputError as error:
            raise CommandError(f"{error.field}: {error.message}. Nothing was kept.") from None
        practice = brought.practice
        with transaction.atomic():
            who = Actor(practice, KEEPER)
            log(
                who, EventKind.PRACTICE_BROUGHT, None, None, rows=sum(brought.rows.values()),
                made=brought.made, version=brought.version,
            )  # fmt: skip
            made = invite(who, options["owner"], WorkRole.OWNER)
        self.stdout.write(
            f"{practice.name} is there, with all that was written {brought.made} by Wainscot {brought.version}.\n"
            f"Its owner joins at {options['address'].rstrip('/')}{made.path}\n"
            "The address opens once, for seven days: give it to nobody else. Addresses that were given to owners, vets and "
            "calendars open only where they were given: give new ones."
        )
