"""Time the desk of a practice with very many cases through Django's test client."""

import json
from datetime import timedelta
from typing import Any

from accounts.models import Practice, User
from cases.models import Case, Client, Dog
from django.core.management.base import BaseCommand, CommandParser
from django.test import Client as Browser
from django.utils import timezone
from recipes.management.commands.bench_server import summary, timed
from wainscot_core.desk.due import DueKind, DuePlace, Holder

from desk.models import DeskItem

AT_ONCE = 2000


class Command(BaseCommand):
    help = "Time the desk with very many cases; prints JSON."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--cases", type=int, default=100_000)

    def handle(self, *args: Any, **options: Any) -> None:
        count = options["cases"]
        practice = Practice.objects.create(name="Many dogs")
        user = User.objects.create_user("many", password=None, practice=practice)
        for first in range(0, count, AT_ONCE):
            self._enter(practice, range(first, min(count, first + AT_ONCE)))
        browser = Browser()
        browser.force_login(user, backend="django.contrib.auth.backends.ModelBackend")

        def look() -> None:
            answer = browser.get("/api/desk")
            assert answer.status_code == 200 and answer.json()["more"]  # noqa: S101

        self.stdout.write(json.dumps({f"with_{count}_cases": summary(timed(look, 40))}))

    def _enter(self, practice: Practice, numbers: range) -> None:
        """Cases that are all late, by days that are spread over a year."""
        today = timezone.localdate()
        clients = Client.objects.bulk_create(
            Client(practice=practice, name=f"Owner {n}") for n in numbers
        )
        dogs = Dog.objects.bulk_create(
            Dog(practice=practice, client=c, name=f"Dog {n}", weight_kg=9)
            for n, c in zip(numbers, clients, strict=True)
        )
        cases = Case.objects.bulk_create(
            Case(practice=practice, dog=dog, conditions=[{"id": "mmvd", "stage": "C"}])
            for dog in dogs
        )
        DeskItem.objects.bulk_create(
            DeskItem(
                practice=practice, case=case, kind=DueKind.WEIGH.value, holder=Holder.OWNER.value,
                on=today - timedelta(days=n % 365), shown_on=today - timedelta(days=n % 365),
                what="Weigh it", why="every 90 days as an adult", place=DuePlace.FOLLOW.value,
            )
            for n, case in zip(numbers, cases, strict=True)
        )  # fmt: skip
