"""Time the desk and the case list of a practice with very many cases through Django's test client."""

import json
from collections.abc import Callable
from datetime import timedelta
from typing import Any

from accounts.models import Practice, User, WorkRole
from cases.finding import found_by
from cases.models import Case, Client, Dog
from django.core.management.base import BaseCommand, CommandParser
from django.test import Client as Browser
from django.utils import timezone
from recipes.management.commands.bench_server import summary, timed
from wainscot_core.desk.due import DueKind, DuePlace, Holder

from desk.models import DeskItem

AT_ONCE = 2000


class Command(BaseCommand):
    help = "Time the desk and the case list with very many cases; prints JSON."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--cases", type=int, default=100_000)

    def handle(self, *args: Any, **options: Any) -> None:
        count = options["cases"]
        practice = Practice.objects.create(name="Many dogs")
        user = User.objects.create_user(
            "many", password=None, practice=practice, role=WorkRole.OWNER
        )
        for first in range(0, count, AT_ONCE):
            self._enter(practice, range(first, min(count, first + AT_ONCE)))
        browser = Browser()
        browser.force_login(user, backend="django.contrib.auth.backends.ModelBackend")

        def look() -> None:
            answer = browser.get("/api/desk")
            assert answer.status_code == 200 and answer.json()["more"]  # noqa: S101

        def found(query: str, some: bool = True) -> Callable[[], None]:
            def ask() -> None:
                answer = browser.get(f"/api/cases?{query}")
                assert answer.status_code == 200 and bool(answer.json()["rows"]) is some  # noqa: S101

            return ask

        # A word that many have, one that none has, and a far page: the worst of a search.
        times = {
            "desk": timed(look, 40),
            "cases": timed(found(""), 20),
            "cases_by_word": timed(found(f"words=dog+{count // 2}"), 20),
            "cases_of_no_such_word": timed(found("words=nobody", some=False), 20),
            "cases_last_page_by_dog": timed(found(f"order=dog&page={count}"), 20),
        }
        self.stdout.write(
            json.dumps({f"with_{count}_cases": {k: summary(t) for k, t in times.items()}})
        )

    def _enter(self, practice: Practice, numbers: range) -> None:
        """Cases that are all late, by days that are spread over a year."""
        today = timezone.localdate()
        clients = Client.objects.bulk_create(
            Client(practice=practice, name=f"Owner {n}", find_text=f"owner {n}") for n in numbers
        )
        dogs = Dog.objects.bulk_create(
            Dog(practice=practice, client=c, name=f"Dog {n}", weight_kg=9)
            for n, c in zip(numbers, clients, strict=True)
        )
        made = [
            Case(practice=practice, dog=dog, conditions=[{"id": "mmvd", "stage": "C"}])
            for dog in dogs
        ]
        for case in made:
            # What saving one by one does.
            case.find_text, case.find_conditions = found_by(case)
        cases = Case.objects.bulk_create(made)
        DeskItem.objects.bulk_create(
            DeskItem(
                practice=practice, case=case, kind=DueKind.WEIGH.value, holder=Holder.OWNER.value,
                on=today - timedelta(days=n % 365), shown_on=today - timedelta(days=n % 365),
                what="Weigh it", why="every 90 days as an adult", place=DuePlace.FOLLOW.value,
            )
            for n, case in zip(numbers, cases, strict=True)
        )  # fmt: skip
