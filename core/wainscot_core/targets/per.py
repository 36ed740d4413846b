"""What a figure is per, and how it becomes one per 1000 kcal of this dog's food."""

from dataclasses import dataclass
from enum import StrEnum

from ..facts.nutrients import Catalogue, EnergyFactors


class Per(StrEnum):
    """What a figure is per: 1000 kcal ME, kg of body weight or kg^0.75 a day, percent of the energy,
    or kg of dry matter."""

    MCAL = "mcal"
    KG = "kg"
    MBW = "mbw"
    ENERGY = "energy"
    DRY = "dm"


PER_WORDS = {
    Per.MCAL: "per 1000 kcal",
    Per.KG: "per kg a day",
    Per.MBW: "per kg^0.75 a day",
    Per.ENERGY: "of energy",
    Per.DRY: "per kg dry matter",
}


@dataclass(frozen=True)
class FeedingFacts:
    """The dog and its energy, as far as limits depend on them. weight_kg as it stands on the scale;
    ideal_weight_kg is the weight that is fed. None: not known. risks: what its breed carries.
    energy_factors: of the ME method its food stands on, None for 4/9/4."""

    weight_kg: float
    ideal_weight_kg: float
    kcal_per_day: float
    age_months: float | None = None
    adult_weight_kg: float | None = None
    risks: frozenset[str] = frozenset()
    energy_factors: EnergyFactors | None = None

    @property
    def intake_kcal_per_kg75(self) -> float:
        """kcal a day per kg^0.75 of the weight that is fed."""
        return float(self.kcal_per_day / self.ideal_weight_kg**0.75)

    def grams_per_1000_kcal(self, catalogue: Catalogue, key: str, percent: float) -> float:
        """g per 1000 kcal of what brings this share of the energy: protein, fat or carbohydrate."""
        factors = (self.energy_factors or catalogue.atwater).kcal_per_g
        return percent / 100 * 1000 / factors["CHOCDF" if key == "CHOAVLDF" else key]

    def per_1000_kcal(self, amount: float, per: Per) -> float:
        """An amount per kg or kg^0.75 a day as one per 1000 kcal; others are returned as they are."""
        if per is Per.KG:
            return amount * self.weight_kg / self.kcal_per_day * 1000
        if per is Per.MBW:
            return amount / self.intake_kcal_per_kg75 * 1000
        return amount
