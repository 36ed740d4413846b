"""What a practice adds to the library, and what the search index was built from."""

from accounts.models import PracticeRecord
from django.db import models
from django.utils import timezone
from wire.holds import between, shaped


class IndexState(models.Model):
    """Fingerprint of the reference data that the search index holds."""

    fingerprint = models.CharField(max_length=64)

    def __str__(self) -> str:
        return self.fingerprint


class OwnFood(PracticeRecord):
    """A food the practice entered: values per 100 g as fed by tag; what is left out is unknown."""

    slug = models.SlugField(max_length=60)
    name = models.CharField(max_length=160)
    klass = models.CharField(max_length=40, default="own")
    form = models.CharField(max_length=20, default="plain")
    ingredients = models.TextField(blank=True)
    values = models.JSONField(default=dict)
    # How it was entered: {"by": "values"} or {"by": "label", ...the label's figures}.
    origin = models.JSONField(default=dict)
    revision = models.PositiveIntegerField(default=1)
    retired = models.BooleanField(default=False)

    class Meta:
        ordering = ["name"]
        indexes = [models.Index(fields=["practice", "name", "id"], name="own_food_by_name")]
        constraints = [
            shaped("library_ownfood", "values", dict),
            shaped("library_ownfood", "origin", dict),
            models.UniqueConstraint(fields=["practice", "slug"], name="own_food_slug_once"),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def food_id(self) -> str:
        """The id lines use."""
        return f"own:{self.slug}"


class ShelfEntry(PracticeRecord):
    """A supplement the practice stocks, by its label; `item` is the core's ShelfItem, `label` the ShelfLabel it was
    read from, null where it came by its values. retired: taken off the shelf; recipes may still hold it."""

    slug = models.CharField(max_length=70)
    item = models.JSONField()
    label = models.JSONField(null=True)
    retired = models.BooleanField(default=False)

    class Meta:
        ordering = ["slug"]
        constraints = [
            shaped("library_shelfentry", "item", dict),
            shaped("library_shelfentry", "label", dict, null=True),
            models.UniqueConstraint(fields=["practice", "slug"], name="shelf_slug_once"),
        ]

    def __str__(self) -> str:
        return self.slug


class OwnFoodRevision(models.Model):
    """What an own food was before an edit."""

    food = models.ForeignKey(OwnFood, on_delete=models.CASCADE, related_name="revisions")
    revision = models.PositiveIntegerField()
    snapshot = models.JSONField()
    replaced = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-revision"]

    def __str__(self) -> str:
        return f"{self.food} r{self.revision}"


class PracticeStandard(PracticeRecord):
    """A practice's own copy of a published standard, limits by life stage as printed."""

    slug = models.SlugField(max_length=60)
    name = models.CharField(max_length=120)
    base = models.CharField(max_length=40)
    # {stage: {key: {unit, min, base, max, confidence, note}}}
    stages = models.JSONField(default=dict)

    class Meta:
        constraints = [
            shaped("library_practicestandard", "stages", dict),
            models.UniqueConstraint(fields=["practice", "slug"], name="own_standard_slug_once"),
        ]

    def __str__(self) -> str:
        return self.name


class StandardCheck(PracticeRecord):
    """A printed value that someone compared with the publication. read: the figures were read off it, as
    read_min, read_base and read_max, None where nothing is printed; without it was only ticked."""

    standard = models.CharField(max_length=60)
    stage = models.CharField(max_length=60)
    key = models.CharField(max_length=20)
    by = models.CharField(max_length=120)
    on = models.DateField(default=timezone.localdate)
    read = models.BooleanField(default=False)
    read_min = models.FloatField(null=True, blank=True)
    read_base = models.FloatField(null=True, blank=True)
    read_max = models.FloatField(null=True, blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["practice", "standard", "stage", "key"], name="standard_check_once"
            )
        ]

    def __str__(self) -> str:
        return f"{self.standard} {self.stage} {self.key}"


class PracticeFood(PracticeRecord):
    """What a practice knows of a library food: price, shop, season, measures, label strengths."""

    food = models.CharField(max_length=80)
    price = models.DecimalField(max_digits=9, decimal_places=2, null=True)
    price_grams = models.FloatField(null=True)
    price_date = models.DateField(null=True)
    shop = models.CharField(max_length=160, blank=True)
    season = models.CharField(max_length=80, blank=True)
    unavailable = models.BooleanField(default=False)
    # {"tsp": 2.1}: one level measure weighs so many grams here.
    measures = models.JSONField(default=dict)
    # {"ID": 650}: strength read from the pack, in the unit the supplement asks for.
    strengths = models.JSONField(default=dict)

    class Meta:
        constraints = [
            shaped("library_practicefood", "measures", dict),
            shaped("library_practicefood", "strengths", dict),
            between("library_practicefood", "price", 0, 1000000, null=True, open_below=False),
            between("library_practicefood", "price_grams", 0, 1000000000, null=True),
            models.UniqueConstraint(fields=["practice", "food"], name="practice_food_once"),
        ]

    def __str__(self) -> str:
        return self.food

    def price_per_kg(self) -> float | None:
        """Price of a kilogram, or None when it is not known."""
        if self.price is None or not self.price_grams:
            return None
        return float(self.price) / self.price_grams * 1000
