"""A finding: something about a case or a recipe that a person must know, and what to do about it."""

from dataclasses import dataclass
from enum import StrEnum

from .confidence import Confidence


class Level(StrEnum):
    """How grave a finding is.

    block: the plan cannot go out like this. decide: someone must decide, and say why. warn: watch
    it. note: know it.
    """

    BLOCK = "block"
    DECIDE = "decide"
    WARN = "warn"
    NOTE = "note"


GRAVEST_FIRST = tuple(Level)


class Kind(StrEnum):
    """What a finding is about."""

    HAZARD = "hazard"
    REACTION = "reaction"
    READING = "reading"
    ENERGY = "energy"
    MEDICINE = "medicine"
    EXTRAS = "extras"
    MISSING = "missing"
    CONFLICT = "conflict"
    SAFETY = "safety"
    CONDITION = "condition"


@dataclass(frozen=True, kw_only=True)
class Finding:
    """What was found, why it matters, what to do, and where it points.

    food: id of a food of the recipe. nutrient: key of a nutrient or ratio. field: path of a field
    of the case record. named: what a person wrote that it is about (a medicine). Each is "" where
    it does not apply.
    """

    kind: Kind
    level: Level
    what: str
    why: str
    do: str
    source: str = ""
    confidence: Confidence = Confidence.UNSAID
    food: str = ""
    nutrient: str = ""
    field: str = ""
    named: str = ""
