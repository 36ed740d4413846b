"""Units: mass, kitchen weights and volumes, international units. The one place of each factor."""

from collections.abc import Mapping
from enum import StrEnum

# Grams in a unit that amounts of nutrients are given in.
MASS_G = {"g": 1.0, "mg": 1e-3, "ug": 1e-6, "kg": 1e3}

# Grams in a unit that a person weighs with (international avoirdupois pound, exact).
WEIGHT_G = {"g": 1.0, "kg": 1000.0, "mg": 0.001, "oz": 28.349523125, "lb": 453.59237}


class Measures(StrEnum):
    """Whose cups and spoons: they hold differently."""

    US = "us"
    METRIC = "metric"
    AUSTRALIAN = "australian"


def _spoons(cup: float, tbsp: float, tsp: float, fl_oz: float) -> dict[str, float]:
    # Kitchen usage: a dash is 1/8 and a pinch 1/16 of a teaspoon.
    return {
        "cup": cup, "tbsp": tbsp, "tsp": tsp, "fl oz": fl_oz, "dash": tsp / 8, "pinch": tsp / 16,
    }  # fmt: skip


# Millilitres in a kitchen measure. US customary (NIST Handbook 44, appendix C), the ones the household
# weights of the Standard Reference use; metric ones as sold in Europe, Canada and New Zealand; the
# Australian tablespoon holds 20 ml. Outside the US a fluid ounce is the imperial one.
_IMPERIAL_FL_OZ = 28.4130625
MEASURE_ML: Mapping[Measures, Mapping[str, float]] = {
    Measures.US: _spoons(236.5882365, 14.78676478, 4.92892159, 29.5735295625),
    Measures.METRIC: _spoons(250.0, 15.0, 5.0, _IMPERIAL_FL_OZ),
    Measures.AUSTRALIAN: _spoons(250.0, 20.0, 5.0, _IMPERIAL_FL_OZ),
}
# Millilitres in a unit of volume, cups and spoons being US ones.
VOLUME_ML = {"ml": 1.0, "l": 1000.0, **MEASURE_ML[Measures.US]}


def volume_ml(unit: str, measures: Measures) -> float:
    """Millilitres in a unit of volume as these measures hold. Raises KeyError for any other unit."""
    return MEASURE_ML[measures].get(unit) or VOLUME_ML[unit]


# Amount and unit per international unit. Sources: vitamin A 0.300 ug retinol and vitamin D
# 0.025 ug cholecalciferol, beta-carotene 0.6 ug (WHO definitions); vitamin E 1/1.49 mg RRR-alpha-tocopherol (USP).
_PER_IU = {
    "VITA": ("ug", 0.3),
    "RETOL": ("ug", 0.3),
    "CARTBEQ": ("ug", 0.6),
    "VITD": ("ug", 0.025),
    "TOCPHA": ("mg", 1 / 1.49),
}


def convert(key: str, value: float, from_unit: str, to_unit: str) -> float:
    """Convert an amount of nutrient `key` between units (g, mg, ug, IU where defined).

    Raises ValueError for a pair of units that has no factor for this nutrient.
    """
    if from_unit == to_unit:
        return value
    if from_unit == "IU":
        if key not in _PER_IU:
            raise ValueError(f"{key} has no international unit")
        unit, factor = _PER_IU[key]
        return convert(key, value * factor, unit, to_unit)
    if to_unit == "IU":
        unit, factor = _PER_IU[key]
        return convert(key, value, from_unit, unit) / factor
    if from_unit not in MASS_G or to_unit not in MASS_G:
        raise ValueError(f"no conversion from {from_unit} to {to_unit} for {key}")
    return value * MASS_G[from_unit] / MASS_G[to_unit]
