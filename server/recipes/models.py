"""Recipes and their lines."""

from uuid import uuid4

from accounts.models import PracticeRecord
from cases.models import Case
from django.db import models
from records.models import Snapshot
from wainscot_core.units import Measures
from wire.holds import between, one_of, shaped


class Recipe(PracticeRecord):
    """What is cooked: lines that together feed the dog for `covers_days`."""

    case = models.ForeignKey(Case, on_delete=models.CASCADE, related_name="recipes")
    name = models.CharField(max_length=160)
    covers_days = models.FloatField(default=1)
    # Put away: kept whole, out of the way.
    archived = models.BooleanField(default=False)
    # The tone each food is drawn in, for the life of the recipe (core recipe.tones).
    tones = models.JSONField(default=dict, blank=True)

    class Meta:
        constraints = [
            between("diets_recipe", "covers_days", 0, 1000),
            shaped("diets_recipe", "tones", dict),
        ]
        ordering = ["created"]

    def __str__(self) -> str:
        return self.name


def new_key() -> str:
    """A key for a line, by which it is known however it moves or changes."""
    return uuid4().hex[:12]


class Line(models.Model):
    """An ingredient and its amount as the consultant wrote it."""

    key = models.CharField(max_length=40, default=new_key)
    recipe = models.ForeignKey(Recipe, on_delete=models.CASCADE, related_name="lines")
    position = models.PositiveSmallIntegerField()
    food = models.CharField(max_length=80)
    quantity = models.CharField(max_length=60)
    note = models.CharField(max_length=200, blank=True)
    preparation = models.CharField(max_length=40, blank=True)
    # Why an incomplete food was let in under the strict policy.
    override = models.CharField(max_length=200, blank=True)
    # What the quantity was read as when it was stored; None only for lines older than this field.
    grams = models.FloatField(null=True)
    basis = models.CharField(max_length=200, blank=True)
    # Whose cups and spoons were meant (core Measures).
    measures = models.CharField(max_length=12, default="us")

    class Meta:
        ordering = ["position"]
        constraints = [
            one_of("diets_line", "measures", Measures),
            between("diets_line", "grams", 0, 1000000000, null=True, open_below=False),
            models.UniqueConstraint(fields=["recipe", "position"], name="line_position_once"),
            models.UniqueConstraint(fields=["recipe", "key"], name="line_key_once"),
        ]

    def __str__(self) -> str:
        return f"{self.quantity} {self.food}"


class Brought(PracticeRecord):
    """What a recipe was brought in from, as it was sent; never edited."""

    recipe = models.ForeignKey(Recipe, on_delete=models.CASCADE, related_name="brought")
    text = models.TextField()
    # How many lines it gave; what of it was left out and why; what the owner was asked.
    taken = models.PositiveSmallIntegerField()
    left_out = models.JSONField()
    asked = models.JSONField()
    by = models.CharField(max_length=150, blank=True)

    class Meta:
        constraints = [
            shaped("diets_brought", "left_out", list),
            shaped("diets_brought", "asked", list),
        ]
        ordering = ["-created", "-pk"]

    def __str__(self) -> str:
        return f"{self.recipe}: {self.taken} lines"


class RecipeVersion(PracticeRecord):
    """A recipe as it was when someone kept it; never edited."""

    recipe = models.ForeignKey(Recipe, on_delete=models.CASCADE, related_name="versions")
    number = models.PositiveSmallIntegerField()
    name = models.CharField(max_length=120)
    covers_days = models.FloatField()
    # Line texts with what they were read as, in order; see recipes.lines.
    lines = models.JSONField()
    # What was computed of it then; None where it could not be, or was kept before there were any.
    snapshot = models.ForeignKey(
        Snapshot, on_delete=models.RESTRICT, related_name="versions", null=True
    )
    by = models.CharField(max_length=150, blank=True)
    # Kept by itself, before something replaced the recipe.
    automatic = models.BooleanField(default=False)
    # Put forward to be signed: it stays on record.
    held = models.BooleanField(default=False)
    # Why it is not to be fed any more, in words; "" while it may be.
    closed = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ["-number"]
        constraints = [
            between("diets_recipeversion", "covers_days", 0, 1000),
            shaped("diets_recipeversion", "lines", list),
            models.UniqueConstraint(fields=["recipe", "number"], name="recipe_version_once"),
        ]

    def __str__(self) -> str:
        return f"{self.recipe} v{self.number}: {self.name}"


class KeptRecipe(PracticeRecord):
    """A recipe that a practice keeps to begin others with: of no dog. lines: texts with what they were read as, in order; see
    recipes.lines; by: who kept it."""

    name = models.CharField(max_length=120)
    covers_days = models.FloatField()
    lines = models.JSONField()
    tones = models.JSONField(default=dict, blank=True)
    by = models.CharField(max_length=150)

    class Meta:
        ordering = ["name", "pk"]
        constraints = [
            between("diets_keptrecipe", "covers_days", 0, 1000),
            shaped("diets_keptrecipe", "lines", list),
            shaped("diets_keptrecipe", "tones", dict),
            models.UniqueConstraint(fields=["practice", "name"], name="kept_recipe_name_once"),
        ]

    def __str__(self) -> str:
        return self.name
