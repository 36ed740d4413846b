"""Clients, their dogs, and the cases a consultant works on."""

from typing import Any

from accounts.models import PracticeRecord
from django.db import models
from django.utils import timezone
from wire.holds import between, one_of, shaped

from .finding import folded, found_by


class Client(PracticeRecord):
    """The owner of one or more dogs."""

    name = models.CharField(max_length=120)
    email = models.EmailField(blank=True)
    phone = models.CharField(max_length=40, blank=True)
    notes = models.TextField(blank=True)
    # What the client wants written otherwise than the practice does (core OwnConventions).
    conventions = models.JSONField(default=dict, blank=True)
    find_text = models.TextField(default="", blank=True)

    def save(self, *args: Any, **kwargs: Any) -> None:
        """Write the client, with what she is found by."""
        self.find_text = folded(self.name)
        super().save(*args, **kwargs)

    class Meta:
        constraints = [
            shaped("cases_client", "conventions", dict),
        ]
        indexes = [models.Index(fields=["practice", "find_text"], name="client_by_name")]

    def __str__(self) -> str:
        return self.name


class DogSex(models.TextChoices):
    """As it was entered."""

    FEMALE = "female"
    MALE = "male"
    UNKNOWN = "unknown"


class Dog(PracticeRecord):
    """A client's dog, as it is today."""

    client = models.ForeignKey(Client, on_delete=models.CASCADE, related_name="dogs")
    name = models.CharField(max_length=80)
    breed = models.CharField(max_length=120, blank=True)
    sex = models.CharField(max_length=8, choices=DogSex, default=DogSex.UNKNOWN)
    neutered = models.BooleanField(null=True)
    # Either is given; with a birth date the age follows from it and today.
    birth_date = models.DateField(null=True, blank=True)
    age_months = models.PositiveSmallIntegerField(null=True, blank=True)
    weight_kg = models.FloatField()
    ideal_weight_kg = models.FloatField(null=True, blank=True)
    body_condition = models.PositiveSmallIntegerField(null=True, blank=True)
    activity = models.CharField(max_length=40, blank=True, default="typical")
    adult_weight_kg = models.FloatField(null=True, blank=True)
    litter_size = models.PositiveSmallIntegerField(null=True, blank=True)
    lactation_week = models.PositiveSmallIntegerField(null=True, blank=True)
    gestation_week = models.PositiveSmallIntegerField(null=True, blank=True)

    @property
    def age(self) -> int | None:
        """Age today in whole months: from the birth date when there is one."""
        born = self.birth_date
        if born is None:
            return self.age_months
        today = timezone.localdate()
        months = (today.year - born.year) * 12 + today.month - born.month - (today.day < born.day)
        return max(months, 0)

    class Meta:
        constraints = [
            one_of("cases_dog", "sex", DogSex),
            between("cases_dog", "ideal_weight_kg", 0, 1000, null=True),
            between("cases_dog", "adult_weight_kg", 0, 1000, null=True),
            models.CheckConstraint(
                condition=models.Q(weight_kg__gt=0, weight_kg__lte=1000), name="dog_weight_can_be"
            ),
            models.CheckConstraint(
                condition=models.Q(body_condition__isnull=True)
                | models.Q(body_condition__gte=1, body_condition__lte=9),
                name="dog_condition_can_be",
            ),
        ]

    def __str__(self) -> str:
        return self.name


class ClientMark(models.TextChoices):
    """What can be said of a food."""

    CAN_GET = "can-get"
    SPECIAL_ORDER = "special-order"
    CANNOT_GET = "cannot-get"
    WILL_NOT_USE = "will-not-use"


class ClientFood(PracticeRecord):
    """What a client said of a food: she can get it, has to order it, cannot get it or will not use it."""

    client = models.ForeignKey(Client, on_delete=models.CASCADE, related_name="food_marks")
    food = models.CharField(max_length=80)
    mark = models.CharField(max_length=16, choices=ClientMark)
    # How long before it must be ordered; null where that is not known or not asked.
    days = models.PositiveSmallIntegerField(null=True, blank=True)

    class Meta:
        constraints = [
            one_of("cases_clientfood", "mark", ClientMark),
            models.UniqueConstraint(fields=["client", "food"], name="client_food_once"),
        ]

    def __str__(self) -> str:
        return f"{self.client}: {self.mark} {self.food}"


class Case(PracticeRecord):
    """One dog's work: energy, targets, diagnoses, reactions."""

    dog = models.ForeignKey(Dog, on_delete=models.CASCADE, related_name="cases")
    title = models.CharField(max_length=160, blank=True)
    conditions = models.JSONField(default=list, blank=True)
    reactions = models.JSONField(default=list, blank=True)
    # What was asked at intake beside the dog's own facts; see api IntakeSerializer.
    intake = models.JSONField(default=dict, blank=True)
    energy_reason = models.CharField(max_length=300, blank=True)
    # What was decided about limits: [{key, bound, value, by, reason}].
    decisions = models.JSONField(default=list, blank=True)
    energy_method = models.CharField(max_length=40, default="rer-multiplier")
    multiplier = models.FloatField(null=True, blank=True, default=1.6)
    kcal_per_day = models.FloatField(null=True, blank=True)
    standard = models.CharField(max_length=40, default="nrc-2006")
    life_stage = models.CharField(max_length=40, default="adult")
    # On what minimums are held: stricter, per-1000-kcal or per-kg75.
    basis = models.CharField(max_length=16, default="stricter")
    # How the energy of every food and label is found (core MeMethod).
    me_method = models.CharField(max_length=16, default="4-9-4")
    data_policy = models.CharField(max_length=12, default="graded")
    # Groups whose values a food must have before the strict policy lets it in.
    strict_groups = models.JSONField(default=list, blank=True)
    meals_per_day = models.PositiveSmallIntegerField(default=2)
    notes = models.TextField(blank=True)
    archived = models.BooleanField(default=False)
    # Whoever works at it is led from step to step.
    guided = models.BooleanField(default=False)
    # What it is found by (see finding): kept beside it, so that a search reads nothing but an index.
    find_text = models.TextField(default="", blank=True)
    find_conditions = models.TextField(default="", blank=True)

    def save(self, *args: Any, **kwargs: Any) -> None:
        """Write the case, with what it is found by."""
        self.find_text, self.find_conditions = found_by(self)
        super().save(*args, **kwargs)

    class Meta:
        ordering = ["-updated"]
        indexes = [
            models.Index(
                fields=["practice", "archived", "-updated", "find_text", "find_conditions"],
                name="case_by_change",
            ),
            models.Index(
                fields=["practice", "archived", "find_text", "find_conditions"], name="case_by_dog"
            ),
        ]
        constraints = [
            shaped("cases_case", "conditions", list),
            shaped("cases_case", "reactions", list),
            shaped("cases_case", "intake", dict),
            shaped("cases_case", "decisions", list),
            shaped("cases_case", "strict_groups", list),
            between("cases_case", "multiplier", 0, 1000, null=True),
            between("cases_case", "kcal_per_day", 0, 1000000, null=True),
            models.CheckConstraint(
                condition=models.Q(meals_per_day__gte=1, meals_per_day__lte=12),
                name="case_meals_can_be",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.dog}: {self.title}"
