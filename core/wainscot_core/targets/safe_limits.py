"""Safe upper limits beside every standard: what harms, whatever the standard prints or leaves out.

A standard that prints no maximum does not say that none exists. These stand above its maximums and
above a condition's, are never loosened by a choice of standard, and have a status of their own.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum

from ..confidence import Confidence
from ..facts.nutrients import Catalogue
from ..units import convert
from .standards import Origin, Sets, Strength


class SafeStage(StrEnum):
    """The stages of life that safe limits tell apart."""

    ADULT = "adult"
    GROWTH_EARLY = "growth-early"
    GROWTH_LATE = "growth-late"
    GROWTH_LARGE = "growth-large"
    REPRODUCTION = "gestation-lactation"


class Basis(StrEnum):
    """What a safe limit is a share of: 1000 kcal ME, kg^0.75 a day, or kg a day."""

    MCAL = "mcal"
    MBW = "mbw"
    KG = "kg"


_WORDS = {Basis.MCAL: "per 1000 kcal", Basis.MBW: "per kg^0.75 a day", Basis.KG: "per kg a day"}


@dataclass(frozen=True)
class SafeLimit:
    """One safe upper limit: `value` `unit` of a nutrient or ratio, where it comes from, what it
    guards against."""

    key: str
    stage: SafeStage
    value: float
    unit: str
    basis: Basis
    kind: str
    source: str
    confidence: Confidence
    effect: str
    note: str


def read_safe_limits(rows: Iterable[Mapping[str, str]]) -> tuple[SafeLimit, ...]:
    """Build from the rows of reference/safe_limits.csv. ValueError for a stage or basis unknown."""
    return tuple(
        SafeLimit(
            r["key"], SafeStage(r["stage"]), float(r["value"]), r["unit"], Basis(r["basis"]),
            r["kind"], r["source"], Confidence(r["confidence"]), r["effect"], r["note"],
        )
        for r in rows
    )  # fmt: skip


def safe_origins(
    limits: Iterable[SafeLimit],
    stage: SafeStage,
    catalogue: Catalogue,
    weight_kg: float,
    metabolic_kg: float,
    kcal_per_day: float,
) -> dict[str, list[Origin]]:
    """The safe limits of a stage of life for this dog, as origins per 1000 kcal, by key.

    `metabolic_kg` is kg^0.75 of the weight that is fed.
    """
    per_1000 = {
        Basis.MCAL: 1.0,
        Basis.MBW: metabolic_kg / kcal_per_day * 1000,
        Basis.KG: weight_kg / kcal_per_day * 1000,
    }
    found: dict[str, list[Origin]] = {}
    for limit in limits:
        if limit.stage is not stage:
            continue
        ratio = limit.unit == "ratio"
        unit = "ratio" if ratio else catalogue.get(limit.key).unit
        amount = limit.value if ratio else convert(limit.key, limit.value, limit.unit, unit)
        printed = (
            f"{limit.value:g} : 1"
            if ratio
            else f"{limit.value:g} {limit.unit} {_WORDS[limit.basis]}"
        )
        found.setdefault(limit.key, []).append(
            Origin(
                which=Sets.SAFE,
                value=amount * (1.0 if ratio else per_1000[limit.basis]),
                unit=unit,
                source=f"Safe upper limit, {limit.kind}",
                citation=limit.source,
                confidence=limit.confidence,
                checked=False,
                printed=printed,
                strength=Strength.SAFE_LIMIT,
                note="; ".join(x for x in (limit.effect, limit.note) if x),
            )
        )
    return found
