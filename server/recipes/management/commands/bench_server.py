"""Time the endpoints through Django's test client, and search against raw FTS5."""

import json
import statistics
import time
from collections.abc import Callable
from typing import Any

from accounts.models import Practice, User
from cases.models import Case, Client, Dog
from django.core.management.base import BaseCommand, CommandParser
from django.db import connection
from django.test import Client as Browser
from library.facts import reference
from library.search import search

from recipes.models import Recipe

QUERIES = [
    "chicken breast",
    "beef liver",
    "rice",
    "sweet potato",
    "courgette",
    "egg",
    "salm",
    "brocoli",
]


def timed(run: Callable[[], object], times: int) -> list[float]:
    """Sorted run times in ms."""
    run()
    taken = []
    for _ in range(times):
        start = time.perf_counter()
        run()
        taken.append((time.perf_counter() - start) * 1000)
    return sorted(taken)


def summary(taken: list[float]) -> dict[str, float]:
    """p50 and p95, ms."""
    return {
        "p50_ms": round(statistics.median(taken), 3),
        "p95_ms": round(taken[int(len(taken) * 0.95)], 3),
    }


class Command(BaseCommand):
    help = "Print endpoint and search timings as JSON (on an empty database)."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--lines", type=int, default=25)

    def handle(self, *args: Any, **options: Any) -> None:
        practice = Practice.objects.create(name="Bench")
        user = User.objects.create(username="bench", practice=practice)
        owner = Client.objects.create(practice=practice, name="Owner")
        dog = Dog.objects.create(practice=practice, client=owner, name="Dog", weight_kg=20)
        case = Case.objects.create(practice=practice, dog=dog)
        recipe = Recipe.objects.create(practice=practice, case=case, name="Bench")
        plain = [f.id for f in reference().library.foods if f.plain]
        lines = [
            {"food": food, "quantity": f"{50 + 3 * i} g"}
            for i, food in enumerate(plain[:: len(plain) // options["lines"]][: options["lines"]])
        ]
        browser = Browser()
        browser.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
        body = {"lines": lines, "covers_days": 1}

        def analyse() -> None:
            answer = browser.post(
                f"/api/recipes/{recipe.pk}/analysis", body, content_type="application/json"
            )
            if answer.status_code != 200:
                raise RuntimeError(answer.content)

        ours = timed(lambda: [search(q) for q in QUERIES], 100)
        floor = timed(self._raw_search, 100)
        self.stdout.write(
            json.dumps(
                {
                    "analysis_endpoint": summary(timed(analyse, 150)),
                    "search_per_query": summary([t / len(QUERIES) for t in ours]),
                    "raw_fts5_per_query": summary([t / len(QUERIES) for t in floor]),
                    "search_ratio_to_fts5": round(
                        statistics.median(ours) / statistics.median(floor), 2
                    ),
                }
            )
        )

    def _raw_search(self) -> None:
        with connection.cursor() as cursor:
            for query in QUERIES:
                cursor.execute(
                    "SELECT row FROM food_words WHERE food_words MATCH %s ORDER BY rank LIMIT 12",
                    [" ".join(f'"{word}"*' for word in query.split())],
                )
                cursor.fetchall()
