from dataclasses import dataclass
from typing import Any

import pytest
from accounts.models import Practice, User, WorkRole
from accounts.scoping import Actor
from cases.models import Case, Client, Dog
from django.test import Client as Browser
from jobs import runs
from library.search import refresh_index
from recipes.actions import fill_recipe
from recipes.models import Recipe
from wainscot_core.recipe.line import LineText


@pytest.fixture(scope="session")
def django_db_setup(django_db_setup: None, django_db_blocker: Any) -> None:
    with django_db_blocker.unblock():
        refresh_index()


@pytest.fixture(scope="session", autouse=True)
def _jobs_find_the_facts() -> None:
    runs.preload(["recipes.preload"])


@pytest.fixture(autouse=True)
def _fast_passwords(settings: Any) -> None:
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]


@dataclass
class Office:
    """A practice with one case, and a browser signed in to it."""

    practice: Practice
    case: Case
    recipe: Recipe
    browser: Browser

    @property
    def who(self) -> Actor:
        """The user who works here."""
        return Actor(self.practice, self.practice.name)

    def get(self, path: str) -> Any:
        return self.browser.get(f"/api/{path}")

    def send(self, method: str, path: str, body: Any = None) -> Any:
        return getattr(self.browser, method)(f"/api/{path}", body, content_type="application/json")

    def change(self, **fields: Any) -> Any:
        """Set fields of the case by path ("dog__weight_kg" is dog.weight_kg), as they stand now."""
        stored = self.get(f"cases/{self.case.pk}").json()
        changes = []
        for name, value in fields.items():
            was: Any = stored
            path = name.replace("__", ".")
            for part in path.split("."):
                was = was[part]
            changes.append({"path": path, "value": value, "was": was})
        return self.send("patch", f"cases/{self.case.pk}", {"changes": changes})

    def set_recipe(
        self, lines: list[Any], pk: int | None = None, name: str = "Draft", covers_days: Any = 1
    ) -> Any:
        """Make a recipe hold these lines alone, field by field; they are called line-0, line-1 ..."""
        path = f"recipes/{pk or self.recipe.pk}"
        stored = self.get(path).json()
        before = {x["key"]: {k: x[k] for k in LINE_FIELDS} for x in stored["lines"]}
        changes = [
            {"path": "name", "value": name, "was": stored["name"]},
            {"path": "covers_days", "value": covers_days, "was": stored["covers_days"]},
            *row_changes("lines", before, lines, "line"),
        ]
        return self.send("patch", path, {"changes": changes})

    def note(self, food: str, **fields: Any) -> Any:
        """Say something of a food in this practice; a dict sets each of its rows."""
        stored = self.get(f"foods/{food}").json()["practice"] or {}
        changes = []
        for name, value in fields.items():
            was = stored.get(name)
            if isinstance(value, dict):
                rows = was or {}
                changes += [
                    {"path": f"{name}.{k}", "value": value.get(k), "was": rows.get(k)}
                    for k in {**rows, **value}
                ]
            else:
                blank = {"shop": "", "season": "", "unavailable": False}.get(name)
                changes.append({"path": name, "value": value, "was": blank if was is None else was})
        return self.send("patch", f"foods/{food}", {"changes": changes})

    def set_plan(self, turns: dict[Any, Any] | None = None, items: Any = None) -> Any:
        """Make the plan hold these days of recipes and these items (item-0, item-1 ...) alone."""
        path = f"cases/{self.case.pk}/plan"
        stored = self.get(path).json()
        days = {str(t["recipe"]): t["days"] for t in stored["turns"]}
        wanted = days if turns is None else {str(k): v for k, v in turns.items()}
        changes = [
            {"path": f"turns.{k}", "value": wanted.get(k), "was": days.get(k)}
            for k in {**days, **wanted}
        ]
        before = {
            x["key"]: {k: x[k] for k in ("kind", "food", "quantity")} for x in stored["items"]
        }
        if items is not None:
            changes += row_changes("items", before, items, "item")
        return self.send("patch", path, {"changes": changes})


LINE_FIELDS = ("food", "quantity", "note", "preparation", "override")


def row_changes(
    table: str, before: dict[str, Any], rows: list[Any], word: str
) -> list[dict[str, Any]]:
    """Changes that leave these rows alone in a table."""
    wanted = {f"{word}-{i}": row for i, row in enumerate(rows)}
    return [
        {"path": f"{table}.{k}", "value": wanted.get(k), "was": before.get(k)}
        for k in {**before, **wanted}
    ]


def make_office(name: str) -> Office:
    practice = Practice.objects.create(name=name)
    user = User(username=name, practice=practice, role=WorkRole.OWNER)
    user.set_password("a-long-password-1")
    user.save()
    owner = Client.objects.create(practice=practice, name=f"{name} owner")
    dog = Dog.objects.create(practice=practice, client=owner, name=f"{name} dog", weight_kg=10)
    case = Case.objects.create(practice=practice, dog=dog)
    recipe = Recipe.objects.create(practice=practice, case=case, name="Draft")
    recipe = fill_recipe(
        Actor(practice, name),
        recipe,
        "Draft",
        1,
        [LineText("usda:05062", "180 g"), LineText("usda:20445", "1 cup")],
    )
    browser = Browser()
    browser.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
    return Office(practice, case, recipe, browser)


@pytest.fixture
def office(db: None) -> Office:
    return make_office("larch")


@pytest.fixture
def rival(db: None) -> Office:
    return make_office("alder")
