"""A stew for a dog, as a batch is planned of it."""

from typing import Any

from wainscot_core.batch.eaters import Eater
from wainscot_core.batch.plan import Pot, served
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.facts.handling import Texture
from wainscot_core.formats.casefile import open_case
from wainscot_core.kitchen.handling import handling_of

THIGH, DRY_RICE, OIL, FISH_OIL, EGG = (
    "usda:05096", "usda:20444", "usda:04053", "supp:fish-oil", "usda:01123",
)  # fmt: skip
CALCIUM = "supp:calcium-carbonate"
STEW: list[dict[str, Any]] = [
    {"food": THIGH, "grams": 600, "preparation": "poultry-simmered-kept"},
    {"food": DRY_RICE, "grams": 200, "preparation": "grain-boiled"},
    {"food": OIL, "grams": 12}, {"food": CALCIUM, "grams": 4}, {"food": FISH_OIL, "grams": 8},
]  # fmt: skip


def dossier(
    facts: Reference, lines: Any = None, name: str = "Fen", kcal: float = 500, **more: Any
) -> Dossier:
    return open_case(
        facts,
        {
            "format": "wainscot-case", "version": 1,
            "dog": {"name": name, "weight_kg": 10, "age_months": 48},
            "energy": {"kcal_per_day": kcal},
            "targets": {"standard": "nrc-2006", "life_stage": "adult"},
            "recipe": {"covers_days": 4, "lines": lines or STEW}, **more,
        },
    ).dossier  # fmt: skip


def pot(found: Dossier) -> Pot:
    return Pot(found, handling_of(found, Texture.CHUNKS))


def lead(of: Pot, **more: Any) -> Eater:
    found = of.dossier
    return Eater(
        case=1, name=found.dog_name, dossier=found, own=served(of), recipes_per_day=1 / found.days,
        open_blocks=(), **more,
    )  # fmt: skip
