"""What a food is, as attributes: what rules of conditions, hazards and cooking go by.

Nothing decides by words of a name. An attribute that is not known is "unknown" (or "" where it does
not apply), and an unknown attribute never clears a food.
"""

from collections.abc import Mapping
from dataclasses import dataclass, fields

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


@dataclass(frozen=True)
class Attributes:
    """kind: muscle, organ:liver, fish:oily, pulse, fat:plant and the like. species: what it is of.
    skin, bone: yes, no, part, na. added_salt: none, added, possible. state: raw, cooked, dry, ready.
    pulse: no, pulse, fresh-seed, fresh-pod, soy, peanut. The rest are levels (see LEVELS) or yes and no.
    reviewed: read over by hand, not set by a rule.
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
    reviewed: bool = False

    @property
    def group(self) -> str:
        """The part of the kind before the colon: organ of organ:liver."""
        return self.kind.partition(":")[0]


NOTHING_KNOWN = Attributes()


def read_attributes(row: Mapping[str, str]) -> Attributes:
    """Attributes from a row of composition/attributes.csv. ValueError for a level that is none."""
    given = {f.name: row.get(f.name, "") for f in fields(Attributes) if f.name != "reviewed"}
    for name, levels in LEVELS.items():
        if given[name] not in (*levels, UNKNOWN, ""):
            raise ValueError(f"{row.get('id')}: {given[name]!r} is no level of {name}")
    return Attributes(**given, reviewed=row.get("reviewed") == "1")
