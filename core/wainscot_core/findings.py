"""A finding: something about a case or a recipe that a person must know, and what to do about it."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
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
    AVAILABILITY = "availability"
    PATTERN = "pattern"
    SLIP = "slip"
    BREED = "breed"
    LIMIT = "limit"
    LABEL = "label"
    KITCHEN = "kitchen"


@dataclass(frozen=True, kw_only=True)
class Finding:
    """What was found, why it matters, what to do, and where it points.

    matter: what several foods may share ("Raw meat or offal"), with which `what` begins before a colon; ""
    for what stands alone. food: id of a food of the recipe. nutrient: key of a nutrient or ratio. field: path of a field
    of the case record. named: what a person wrote that it is about (a medicine). Each is "" where
    it does not apply.
    """

    kind: Kind
    level: Level
    what: str
    why: str
    do: str
    matter: str = ""
    source: str = ""
    confidence: Confidence = Confidence.UNSAID
    food: str = ""
    nutrient: str = ""
    field: str = ""
    named: str = ""


def gathered(findings: Iterable[Finding]) -> tuple[Finding, ...]:
    """One finding a matter, for people to read: those of several foods that say the same become one that
    names them all. Where they were found first is where they stand."""
    groups: dict[object, list[Finding]] = {}
    for finding in findings:
        said = replace(finding, what="", food="") if finding.matter else finding
        groups.setdefault(said, []).append(finding)
    return tuple(_together(group) for group in groups.values())


def _together(group: list[Finding]) -> Finding:
    first = group[0]
    if len(group) == 1:
        return first
    named = [f.what.removeprefix(first.matter).removeprefix(": ") for f in group]
    return replace(first, what=f"{first.matter}: {'; '.join(dict.fromkeys(named))}", food="")
