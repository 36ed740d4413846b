"""Which life stage a dog is in, and the tags by which energy methods are chosen."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from ..targets.conditions import Condition
from .record import Activity, DogRecord


class Stage(StrEnum):
    """The stages of life that energy methods tell apart."""

    GROWTH = "growth"
    GESTATION = "gestation"
    LACTATION = "lactation"
    WORKING = "working"
    SENIOR = "senior"
    ADULT = "adult"


@dataclass(frozen=True)
class LifeStageRules:
    """The conventions of energy/life_stages.yaml. Ages in months, weights in kg."""

    large_over_kg: float
    growth_until: Mapping[str, int]
    senior_from: Mapping[str, int]
    tags: Mapping[str, Mapping[str, float]]
    breeds: Mapping[str, str]
    plan_ideal_condition: tuple[int, int]
    plan_from_share: float

    @classmethod
    def from_data(cls, data: Mapping[str, Any]) -> "LifeStageRules":
        """Build from the parsed file."""
        low, high = data["weight_plan"]["ideal_condition"]
        return cls(
            float(data["large_over_kg"]),
            data["growth_until_months"],
            data["senior_from_months"],
            data["tags"],
            data["breeds"],
            (low, high),
            float(data["weight_plan"]["from_share"]),
        )

    def size_of(self, dog: DogRecord) -> str:
        """small or large, by expected adult weight or else present weight."""
        return "large" if (dog.adult_weight_kg or dog.weight_kg) > self.large_over_kg else "small"


def growing(rules: LifeStageRules, dog: DogRecord) -> bool:
    """True for a dog under the age at which its size is grown."""
    return dog.age_months is not None and dog.age_months < rules.growth_until[rules.size_of(dog)]


def life_stage_of(
    rules: LifeStageRules, dog: DogRecord, conditions: Iterable[Condition] = ()
) -> Stage:
    """The life stage from the dog's facts and from what its conditions say of it."""
    said = {c.life_stage for c in conditions if c.life_stage}
    if Stage.GESTATION in said or dog.gestation_week:
        return Stage.GESTATION
    if Stage.LACTATION in said or dog.lactation_week:
        return Stage.LACTATION
    if growing(rules, dog):
        return Stage.GROWTH
    if dog.activity is Activity.WORKING or Stage.WORKING in said:
        return Stage.WORKING
    if dog.age_months is not None and dog.age_months >= rules.senior_from[rules.size_of(dog)]:
        return Stage.SENIOR
    return Stage.ADULT


def energy_tags(rules: LifeStageRules, dog: DogRecord, stage: Stage) -> frozenset[str]:
    """What the energy methods of energy/methods.yaml ask for (their `for`)."""
    tags: set[str] = {stage}
    years = None if dog.age_months is None else dog.age_months / 12
    if stage in {Stage.ADULT, Stage.SENIOR}:
        tags |= {"adult", dog.activity}
        if dog.neutered is not None:
            tags.add("neutered" if dog.neutered else "intact")
        if years is not None and years <= rules.tags["mid"]["to_years"]:
            tags.add("young" if years < rules.tags["young"]["under_years"] else "mid")
    if stage is Stage.GROWTH:
        early = (dog.age_months or 0) < rules.tags["growth_early"]["under_months"]
        tags.add("growth-early" if early else "growth-late")
    elif dog.body_condition is not None:
        if dog.body_condition > rules.tags["overweight"]["above_condition"]:
            tags.add("overweight")
        if dog.body_condition < rules.tags["thin"]["below_condition"]:
            tags.add("thin")
    breed = dog.breed.lower()
    of_breed = {tag for word, tag in rules.breeds.items() if word in breed}
    if of_breed:
        tags |= {"breed", *of_breed}
    return frozenset(tags)
