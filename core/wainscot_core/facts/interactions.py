"""Medicines and food: what may meet, why, and what to do. The vet and pharmacist decide."""

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from ..confidence import Confidence
from ..findings import GRAVEST_FIRST, Level


@dataclass(frozen=True)
class Interaction:
    """A published interaction of a medicine or class with a food or nutrient.

    action: block (do not), warn (watch), note (know). rules_out: ids of supplements that are not
    suggested beside the medicine; the vet may still have prescribed one.
    """

    medicine: str
    pattern: re.Pattern[str]
    food_or_nutrient: str
    effect: str
    action: Level
    do: str
    why: str
    source: str
    confidence: Confidence
    rules_out: re.Pattern[str] | None = None


@dataclass(frozen=True)
class Met:
    """An interaction met by a recorded medicine, `named` as it was written."""

    named: str
    interaction: Interaction


def read_interactions(rows: Iterable[Mapping[str, str]]) -> tuple[Interaction, ...]:
    """Build from the rows of reference/hazards/interactions.csv."""
    return tuple(
        Interaction(
            r["medicine"], re.compile(r["pattern"], re.I), r["food_or_nutrient"], r["effect"],
            Level(r["action"]), r["do"], r["why"], r["source"], Confidence(r["confidence"]),
            re.compile(r["rules_out"]) if r["rules_out"] else None,
        )
        for r in rows
    )  # fmt: skip


def met_by(interactions: Sequence[Interaction], medicines: Iterable[str]) -> tuple[Met, ...]:
    """Every interaction of the recorded medicines, the gravest first."""
    found = [
        Met(named, item)
        for named in medicines
        for item in interactions
        if item.pattern.search(named)
    ]
    return tuple(sorted(found, key=lambda m: GRAVEST_FIRST.index(m.interaction.action)))


def not_suggested(met: Sequence[Met], food_ids: Iterable[str]) -> dict[str, str]:
    """Supplements that the recorded medicines speak against, with the reason."""
    found: dict[str, str] = {}
    for food_id in food_ids:
        for m in met:
            rule = m.interaction.rules_out
            if rule is not None and rule.match(food_id):
                found.setdefault(food_id, f"beside {m.named}: {m.interaction.do}")
    return found
