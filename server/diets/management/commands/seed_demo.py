"""Enter the made-up demo practice, once."""

from pathlib import Path
from typing import Any

import yaml
from accounts.models import Practice, User
from cases.models import Case, Client, Dog
from cases.records import checked, fill
from django.core.management.base import BaseCommand, CommandParser
from django.db import transaction
from library.practice import note_food, stock
from wainscot_core.boundary import read
from wainscot_core.line import LineText
from wainscot_core.record import ShelfItem

from diets.models import Plan, Recipe
from diets.services import save_recipe


class Command(BaseCommand):
    help = "Enter the demo practice unless a practice exists."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--username", required=True)
        parser.add_argument("--password", required=True)

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        if Practice.objects.exists():
            self.stdout.write("demo data is there already")
            return
        data = yaml.safe_load((Path(__file__).parent / "demo.yaml").read_text(encoding="utf-8"))
        practice = Practice.objects.create(name=data["practice"])
        user = User(username=options["username"], practice=practice)
        user.set_password(options["password"])
        user.save()
        for item in data["shelf"]:
            stock(practice, read(ShelfItem, item))
        for noted in data["foods"]:
            note_food(practice, noted.pop("food"), noted)
        for entry in reversed(data["cases"]):
            self._case(practice, entry)
        self.stdout.write(f"demo data entered: {len(data['cases'])} cases")

    def _case(self, practice: Practice, entry: dict[str, Any]) -> None:
        client = Client.objects.create(practice=practice, **entry.pop("client"))
        recipes, plan = entry.pop("recipes"), entry.pop("plan", None)
        case = Case(practice=practice, dog=Dog(practice=practice, client=client))
        fill(case, checked(entry))
        case.dog.save()
        case.dog_id = case.dog.pk
        case.save()
        for recipe in recipes:
            record = Recipe.objects.create(practice=practice, case=case, name=recipe["name"])
            lines = [LineText(food, quantity) for food, quantity in recipe["lines"]]
            save_recipe(record, record.version, recipe["name"], recipe["covers_days"], lines)
        if plan is not None:
            turns = [{"recipe": r.pk, "days": 1} for r in case.recipes.all()]
            Plan.objects.create(practice=practice, case=case, turns=turns, items=plan["items"])
