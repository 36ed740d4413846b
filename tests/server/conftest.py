from dataclasses import dataclass
from typing import Any

import pytest
from accounts.models import Practice, User
from accounts.scoping import Actor
from cases.models import Case, Client, Dog
from django.test import Client as Browser
from library.search import refresh_index
from recipes.actions import save_recipe
from recipes.models import Recipe
from wainscot_core.recipe.line import LineText


@pytest.fixture(scope="session")
def django_db_setup(django_db_setup: None, django_db_blocker: Any) -> None:
    with django_db_blocker.unblock():
        refresh_index()


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


def make_office(name: str) -> Office:
    practice = Practice.objects.create(name=name)
    user = User(username=name, practice=practice)
    user.set_password("a-long-password-1")
    user.save()
    owner = Client.objects.create(practice=practice, name=f"{name} owner")
    dog = Dog.objects.create(practice=practice, client=owner, name=f"{name} dog", weight_kg=10)
    case = Case.objects.create(practice=practice, dog=dog)
    recipe = Recipe.objects.create(practice=practice, case=case, name="Draft")
    recipe = save_recipe(
        Actor(practice, name),
        recipe,
        1,
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
