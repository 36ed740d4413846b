"""Time the first pages of practices with few and with very many cases and foods through Django's test client."""

import json
import os
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path
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
# Lines of one file of foods.
MOST_LINES = 5000


def _practice(name: str) -> tuple[Practice, Browser]:
    """A practice of its own, and a browser of its owner."""
    practice = Practice.objects.create(name=name)
    user = User.objects.create_user(name, password=None, practice=practice, role=WorkRole.OWNER)
    browser = Browser()
    browser.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
    return practice, browser


def _got(browser: Browser, path: str) -> Callable[[], None]:
    def ask() -> None:
        answer = browser.get(f"/api/{path}")
        assert answer.status_code == 200, answer.content[:400]  # noqa: S101

    return ask


def _memory_mb() -> int:
    """What this process holds now, MB."""
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * os.sysconf("SC_PAGE_SIZE") // 2**20


class Command(BaseCommand):
    help = (
        "Time first pages with few and with very many cases, and with many own foods; prints JSON."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--cases", type=int, nargs="+", default=[100, 10_000, 100_000])
        parser.add_argument("--foods", type=int, default=30_000)

    def handle(self, *args: Any, **options: Any) -> None:
        found = {f"with_{count}_cases": self._with_cases(count) for count in options["cases"]}
        count = options["foods"]
        found |= {f"with_{n}_own_foods": self._with_foods(n) for n in dict.fromkeys((100, count))}
        self.stdout.write(json.dumps(found))

    def _with_cases(self, count: int) -> dict[str, Any]:
        practice, browser = _practice(f"Of {count} dogs")
        for first in range(0, count, AT_ONCE):
            self._enter(practice, range(first, min(count, first + AT_ONCE)))

        def look() -> None:
            answer = browser.get("/api/desk")
            assert answer.status_code == 200  # noqa: S101

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
            "audit": timed(_got(browser, "audit"), 20),
            "outbox": timed(_got(browser, "outbox"), 20),
            "issued": timed(_got(browser, "issued"), 20),
        }
        return {**{k: summary(t) for k, t in times.items()}, "memory_mb": _memory_mb()}

    def _with_foods(self, count: int) -> dict[str, Any]:
        """A practice that brought in so many foods of its own."""
        _, browser = _practice(f"Of {count} foods")
        table = "slug,name,ENERC,PROCNT,FAT\n" + "".join(
            f"own-{n},Bench food {n},{100 + n % 300},{n % 30},{n % 20}\n" for n in range(count)
        )
        for first in range(1, count + 1, MOST_LINES):
            lines = table.splitlines()[first : first + MOST_LINES]
            text = "\n".join([table.splitlines()[0], *lines])
            answer = browser.post(
                "/api/own-foods/import",
                {"text": text, "accept": True},
                content_type="application/json",
            )
            assert answer.status_code == 200, answer.content[:400]  # noqa: S101
        times = {
            "search": timed(_got(browser, "foods?q=bench+food"), 20),
            "search_of_a_reference_food": timed(_got(browser, "foods?q=chicken+breast"), 20),
            "own_foods": timed(_got(browser, "own-foods"), 20),
        }
        return {**{k: summary(t) for k, t in times.items()}, "memory_mb": _memory_mb()}

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
