"""Units: mass, kitchen weights and volumes, international units. The one place of each factor."""

# Grams in a unit that amounts of nutrients are given in.
MASS_G = {"g": 1.0, "mg": 1e-3, "ug": 1e-6, "kg": 1e3}

# Grams in a unit that a person weighs with (international avoirdupois pound, exact).
WEIGHT_G = {"g": 1.0, "kg": 1000.0, "mg": 0.001, "oz": 28.349523125, "lb": 453.59237}

_TSP_ML = 4.92892159
# Millilitres in a unit of volume: US customary measures, the ones the household weights of the
# Standard Reference use. Kitchen usage: a dash is 1/8 and a pinch 1/16 of a teaspoon.
VOLUME_ML = {
    "ml": 1.0,
    "l": 1000.0,
    "cup": 236.5882365,
    "tbsp": 14.78676478,
    "tsp": _TSP_ML,
    "fl oz": 29.5735295625,
    "dash": _TSP_ML / 8,
    "pinch": _TSP_ML / 16,
}

# Amount and unit per international unit. Sources: vitamin A 0.300 ug retinol and vitamin D
# 0.025 ug cholecalciferol (WHO definitions); vitamin E 1/1.49 mg RRR-alpha-tocopherol (USP).
_PER_IU = {
    "VITA": ("ug", 0.3),
    "RETOL": ("ug", 0.3),
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
