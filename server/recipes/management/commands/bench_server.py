"""Time the endpoints through Django's test client, and search against raw FTS5."""

import gc
import json
import statistics
import time
from collections.abc import Callable
from typing import Any

from accounts.models import Practice, User, WorkRole
from accounts.scoping import Actor
from cases.models import Case, Client, Dog
from django.core.management.base import BaseCommand, CommandParser
from django.db import connection
from django.test import Client as Browser
from django.utils import timezone
from library.facts import reference
from library.search import search
from wainscot_core.recipe.line import LineText

from recipes.actions import fill_recipe
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
    """Sorted run times in ms, with what is held since the start frozen, as config.wsgi does."""
    run()
    gc.collect()
    gc.freeze()
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


# A stew as it is cooked in a household: food, g, how it is cooked.
STEW = (
    ("usda:05096", 600, "poultry-simmered-kept"), ("usda:20444", 200, "grain-boiled"),
    ("usda:11124", 150, ""), ("usda:11052", 120, ""), ("usda:04053", 12, ""),
    ("supp:calcium-carbonate", 4, ""), ("supp:fish-oil", 8, ""),
)  # fmt: skip
BATCHES = 30


def kitchen_bench(browser: Browser, case: Case, recipe: Recipe) -> dict[str, object]:
    """A batch over two pots planned, weighed, and looked at among many; the analysis of its recipe is the floor."""
    said = [LineText(food, f"{grams} g", preparation=how) for food, grams, how in STEW]
    fill_recipe(Actor(case.practice, "bench"), recipe, "Bench", 4, said)
    ask = {"amount": 14, "fine_g": 0.01, "vessels": [{"vessel": "pot-24"}, {"vessel": "pot-20"}]}
    today = timezone.localdate().isoformat()

    def send(path: str, body: object) -> Any:
        answer = browser.post(f"/api/{path}", body, content_type="application/json")
        if answer.status_code >= 400:
            raise RuntimeError(answer.content)
        return answer.json()

    def look(path: str) -> Callable[[], object]:
        return lambda: browser.get(f"/api/{path}").content

    lines = [
        {"food": food, "quantity": f"{grams} g", "preparation": how} for food, grams, how in STEW
    ]
    floor = timed(
        lambda: send(f"recipes/{recipe.pk}/analysis", {"lines": lines, "covers_days": 4}), 60
    )
    planned = timed(
        lambda: send(f"recipes/{recipe.pk}/batch-plan", {"ask": ask, "draft": True}), 40
    )
    kept = [
        send(f"recipes/{recipe.pk}/batches", {"ask": ask, "draft": True, "cook_on": today})
        for _ in range(BATCHES)
    ]
    for batch in kept[:8]:
        send(f"batches/{batch['id']}/boxes", {"feed_from": today, "version": batch["version"]})
    first, line = kept[0]["id"], kept[0]["plan"]["lines"][0]
    count = iter(range(10_000))

    def weigh() -> object:
        entry = {
            "key": f"weighed-{next(count)}",
            "kind": "weighed",
            "line": line["position"],
            "vessel": 0,
            "grams": 900,
        }
        return send(f"batches/{first}/entries", {"entries": [entry]})

    return {
        "analysis_of_the_recipe": summary(floor),
        "plan": summary(planned),
        "plan_ratio_to_analysis": round(statistics.median(planned) / statistics.median(floor), 2),
        "put_a_weight_down": summary(timed(weigh, 40)),
        f"page_with_{BATCHES}_batches": summary(timed(look(f"cases/{case.pk}/kitchen"), 20)),
        "freezer_of_8_batches": summary(timed(look(f"cases/{case.pk}/freezer"), 20)),
    }


class Command(BaseCommand):
    help = "Print endpoint and search timings as JSON (on an empty database)."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--lines", type=int, default=25)

    def handle(self, *args: Any, **options: Any) -> None:
        practice = Practice.objects.create(name="Bench")
        user = User.objects.create(username="bench", practice=practice, role=WorkRole.OWNER)
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
                    "kitchen": kitchen_bench(browser, case, recipe),
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
