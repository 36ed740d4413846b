"""What keeps a nutrient from being used: figures of reference/hazards/availability.yaml and patterns.yaml."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from .attribute_rule import AttributeRule, read_rule
from .attributes import Attributes


@dataclass(frozen=True)
class Phytate:
    """g of phytate per 100 g of dry matter in foods that a rule fits: usual, least, most."""

    when: AttributeRule
    usual: float
    low: float
    high: float


@dataclass(frozen=True)
class TaurineSigns:
    """What speaks for less taurine in the blood: a dog of so many kg when grown, sulphur amino acids under so many g per
    1000 kcal, fibre over a share of the dry matter, taurine under so many mg per 1000 kcal. signs: so many together are
    told."""

    adult_kg: float
    saa_g_mcal: float
    fibre_dry_share: float
    taurine_mg_mcal: float
    signs: int
    source: str


@dataclass(frozen=True)
class AvailabilityRules:
    """phytate_g, zinc_g: of a mole. middling, poor: moles of phytate to one of zinc. calcium: g per 1000 kcal, beside
    phytate and at all. zinc_to_copper: least, most and far too much, by weight. iron_to_copper, iron_mg_mcal: the most
    of iron. pulse_share, rice_share: the most of the dry matter that is told nothing of; liver_share: of the weight;
    leaf_share: of the calcium. one_recipe_days: for so long one recipe is fed alone without a word. d2, plant_a: vitamin D of mushrooms and vitamin A of
    carotene."""

    phytate: tuple[Phytate, ...]
    phytate_source: str
    phytate_g: float
    zinc_g: float
    middling: float
    poor: float
    zinc_source: str
    calcium_with_phytate: float
    calcium_any: float
    calcium_source: str
    zinc_to_copper: tuple[float, float, float]
    copper_source: str
    iron_to_copper: float
    iron_mg_mcal: float
    iron_source: str
    pulse_share: float
    pulse_source: str
    heaped: float
    twice: float
    slip_source: str
    liver_share: float
    liver_source: str
    rice_share: float
    rice_source: str
    plant_omega_3_g_mcal: float
    plant_omega_3_source: str
    leaf_share: float
    leaf_source: str
    one_recipe_days: int
    one_recipe_source: str
    d2_share: float
    d2_counts: float
    d2_source: str
    plant_a_retinol_share: float
    plant_a_fat_g_mcal: float
    plant_a_source: str
    taurine: TaurineSigns

    def phytate_of(self, of: Attributes) -> Phytate | None:
        """What a food holds of it; None for what holds none worth counting."""
        return next((p for p in self.phytate if p.when.holds(of) is True), None)


def read_availability(data: Mapping[str, Any], patterns: Mapping[str, Any]) -> AvailabilityRules:
    """Build from the two parsed files. ValueError for a rule that cannot be read."""
    scale, calcium = data["phytate_to_zinc"], data["calcium_over_zinc"]
    copper, iron = data["zinc_to_copper"], data["iron"]
    return AvailabilityRules(
        tuple(Phytate(read_rule(p["when"]), *(float(g) for g in p["g"])) for p in data["phytate"]),
        data["phytate_source"], scale["molar_g"]["phytate"], scale["molar_g"]["zinc"],
        scale["middling"], scale["poor"], scale["source"],
        calcium["with_phytate"], calcium["any"], calcium["source"],
        (copper["least"], copper["most"], copper["far"]), copper["source"],
        iron["most_to_copper"], iron["most_mg_mcal"], iron["source"],
        patterns["pulses"]["most"], patterns["pulses"]["source"],
        patterns["slips"]["heaped"], patterns["slips"]["twice"], patterns["slips"]["source"],
        patterns["liver"]["most"], patterns["liver"]["source"], patterns["rice"]["most"],
        patterns["rice"]["source"], patterns["plant_omega_3"]["least_g_mcal"],
        patterns["plant_omega_3"]["source"], patterns["leaves"]["most"], patterns["leaves"]["source"],
        patterns["one_recipe"]["most_days"], patterns["one_recipe"]["source"],
        data["vitamin_d2"]["share"], data["vitamin_d2"]["counts"], data["vitamin_d2"]["source"],
        data["plant_vitamin_a"]["retinol_share"], data["plant_vitamin_a"]["fat_g_mcal"],
        data["plant_vitamin_a"]["source"], TaurineSigns(**data["taurine"]),
    )  # fmt: skip
