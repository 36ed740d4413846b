"""What a food is, as attributes: what rules of conditions, hazards and cooking go by.

Nothing decides by words of a name. An attribute that is not known is "unknown" (or "" where it does
not apply), and an unknown attribute never clears a food.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields, replace
from functools import cached_property
from typing import Any

UNKNOWN = "unknown"

# Levels of the attributes that have an order, the lowest first.
LEVELS: Mapping[str, tuple[str, ...]] = {
    "oxalate": ("low", "medium", "high"),
    "purine": ("very-low", "low", "moderate", "high", "very-high"),
    "copper": ("low", "medium", "high", "very-high"),
    "lactose": ("none", "low", "medium", "high"),
    "phytate": ("none", "low", "medium", "high"),
    "fat": ("trace", "low", "medium", "high", "very-high", "pure"),
    "sodium": ("low", "medium", "high"),
    "potassium": ("low", "medium", "high"),
    "fibre": ("none", "low", "medium", "high", "very-high"),
    "sugar": ("low", "medium", "high"),
}

# Attributes that are figures of the food itself, None where they are not known.
NUMBERS = ("fat_g_mcal", "phosphorus_mg_mcal")


@dataclass(frozen=True)
class Attributes:
    """kind: muscle, organ:liver, fish:oily, pulse, fat:plant and the like. species: what it is of.
    skin, bone: yes, no, part, na. added_salt: none, added, possible. state: raw, cooked, dry, ready.
    pulse: no, pulse, fresh-seed, fresh-pod, soy, peanut. The rest are levels (see LEVELS) or yes and no.
    fat_g_mcal, phosphorus_mg_mcal: per 1000 kcal, of its own values. reviewed: read over by hand, not
    set by a rule.
    """

    kind: str = UNKNOWN
    species: str = UNKNOWN
    skin: str = UNKNOWN
    bone: str = UNKNOWN
    added_salt: str = UNKNOWN
    processing: str = UNKNOWN
    state: str = UNKNOWN
    pulse: str = UNKNOWN
    oxalate: str = UNKNOWN
    purine: str = UNKNOWN
    copper: str = UNKNOWN
    thiaminase: str = UNKNOWN
    goitrogen: str = UNKNOWN
    histamine: str = UNKNOWN
    lactose: str = UNKNOWN
    gluten: str = UNKNOWN
    phytate: str = UNKNOWN
    fat: str = UNKNOWN
    fat_type: str = UNKNOWN
    sodium: str = UNKNOWN
    potassium: str = UNKNOWN
    fibre: str = UNKNOWN
    sugar: str = UNKNOWN
    fat_g_mcal: float | None = None
    phosphorus_mg_mcal: float | None = None
    reviewed: bool = False

    def __hash__(self) -> int:
        return self._hash

    @cached_property
    def _hash(self) -> int:
        return hash(tuple(getattr(self, f.name) for f in fields(self)))

    @property
    def group(self) -> str:
        """The part of the kind before the colon: organ of organ:liver."""
        return self.kind.partition(":")[0]


NOTHING_KNOWN = Attributes()


def read_attributes(row: Mapping[str, str]) -> Attributes:
    """Attributes from a row of composition/attributes.csv. ValueError for a level that is none."""
    words = [f.name for f in fields(Attributes) if f.type is str]
    given: dict[str, Any] = {name: row.get(name, "") for name in words}
    for name, levels in LEVELS.items():
        if given[name] not in (*levels, UNKNOWN, ""):
            raise ValueError(f"{row.get('id')}: {given[name]!r} is no level of {name}")
    return Attributes(**given, reviewed=row.get("reviewed") == "1")


FLESH = frozenset({"poultry", "beef", "pork", "lamb-game", "fish"})
# Levels by arithmetic on a row: (under this amount, level) in steps, then the level of the rest.
_PER_100_G = {
    "fat": ("FAT", ((1, "trace"), (5, "low"), (12, "medium"), (30, "high"), (90, "very-high")), "pure"),
    "sodium": ("NA", ((140, "low"), (400, "medium")), "high"),
    "potassium": ("K", ((200, "low"), (350, "medium")), "high"),
    "fibre": ("FIBTG", ((2, "low"), (5, "medium"), (12, "high")), "very-high"),
    "sugar": ("SUGAR", ((5, "low"), (15, "medium")), "high"),
}  # fmt: skip
# Copper per 1000 kcal, and per 100 g of what is thinner than THIN_KCAL.
_COPPER_MCAL = ((1.2, "low"), (3, "medium"), (8, "high"))
_COPPER_100G = ((0.08, "low"), (0.2, "medium"), (0.6, "high"))
THIN_KCAL = 60


def _level(value: float | None, steps: Sequence[tuple[float, str]], top: str) -> str:
    if value is None:
        return UNKNOWN
    return next((word for bound, word in steps if value < bound), top)


def computed_levels(klass: str, values: Mapping[str, float]) -> dict[str, str]:
    """Attributes that are arithmetic on a food's own values per 100 g. Conventions: sodium as in human
    food labelling; copper beside the 1.2 mg per 1000 kcal of copper disease."""
    found = {
        name: _level(values.get(tag), steps, top) for name, (tag, steps, top) in _PER_100_G.items()
    }
    if klass in FLESH or klass == "dairy-egg":
        found["fibre"] = "none"
    if klass in FLESH:
        found["sugar"] = "low"
    kcal, copper = values.get("ENERC"), values.get("CU")
    if copper is not None and kcal is not None and kcal >= THIN_KCAL:
        found["copper"] = _level(copper / kcal * 1000, _COPPER_MCAL, "very-high")
    else:
        found["copper"] = _level(copper, _COPPER_100G, "very-high")
    return found


def with_figures(of: Attributes, klass: str, values: Mapping[str, float]) -> Attributes:
    """Attributes with the figures of a food's values, and levels by arithmetic where none was set."""
    kcal = values.get("ENERC")
    fat, phosphorus = values.get("FAT"), values.get("P")
    levels: dict[str, Any] = {
        name: level
        for name, level in computed_levels(klass, values).items()
        if getattr(of, name) == UNKNOWN
    }
    if not kcal:
        return replace(of, **levels)
    return replace(
        of,
        **levels,
        fat_g_mcal=None if fat is None else fat / kcal * 1000,
        phosphorus_mg_mcal=None if phosphorus is None else phosphorus / kcal * 1000,
    )
