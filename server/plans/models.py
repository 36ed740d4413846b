"""The plan of a case."""

from accounts.models import PracticeRecord
from cases.models import Case
from django.db import models
from wire.holds import shaped


class Plan(PracticeRecord):
    """What the dog is fed altogether: a rotation of recipes, and daily items beside them."""

    case = models.OneToOneField(Case, on_delete=models.CASCADE, related_name="plan")
    # [{recipe, days}]
    turns = models.JSONField(default=list)
    # [{kind, food, quantity, grams, basis, measures}] a day: as typed, and what it was read as
    items = models.JSONField(default=list)
    # The first day it is fed, and over how many days the old food gives way; 0 for at once.
    begins = models.DateField(null=True, blank=True)
    change_days = models.PositiveSmallIntegerField(default=7)

    class Meta:
        constraints = [
            shaped("diets_plan", "turns", list),
            shaped("diets_plan", "items", list),
        ]
        # The table is older than the app.
        db_table = "diets_plan"

    def __str__(self) -> str:
        return f"plan of {self.case}"
