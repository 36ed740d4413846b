"""Let somebody in who has no way in any more: for whoever keeps the installation."""

from typing import Any

from accounts.models import User
from accounts.scoping import Actor
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import transaction

from people.actions import give_reset, remove_second_factor

from .practices import KEEPER, here


class Command(BaseCommand):
    help = "Make an address by which somebody sets a new password."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("username")
        parser.add_argument(
            "--without-code", action="store_true", help="also take the authenticator away"
        )
        parser.add_argument("--address", default=here())

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        user = User.objects.filter(username=options["username"], is_active=True).first()
        if user is None or user.practice is None:
            raise CommandError(f"Nobody signs in as {options['username']}.")
        made = give_reset(Actor(user.practice, KEEPER), user)
        if options["without_code"]:
            remove_second_factor(user)
        self.stdout.write(
            f"{user.username} of {user.practice} sets a new password at {options['address'].rstrip('/')}{made.path}\n"
            "The address opens once, within an hour: be sure whom you give it to."
        )
