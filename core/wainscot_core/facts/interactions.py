"""Medicines and food: what may meet, why, and what to do. The vet and pharmacist decide."""

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from ..confidence import Confidence
from ..findings import GRAVEST_FIRST, Level
from .attribute_rule import AttributeRule, read_rule
from .foods import Food

_AMOUNT = re.compile(r"([A-Z0-9]+)([<>])(\d+(?:\.\d+)?)")


@dataclass(frozen=True)
class Amount:
    """More, or less, than so much of a nutrient per 1000 kcal, in the unit of the catalogue."""

    key: str
    more: bool
    bound: float

    def met(self, per_1000_kcal: float) -> bool:
        """Whether there is so much, or so little."""
        return per_1000_kcal > self.bound if self.more else per_1000_kcal < self.bound


@dataclass(frozen=True)
class Interaction:
    """A published interaction of a medicine or class with a food or nutrient.

    action: block (do not), warn (watch), note (know). rules_out: ids of supplements that are not
    suggested beside the medicine; the vet may still have prescribed one. meets: the foods as fed that it is about;
    amount: so much or so little of a nutrient that it is about. check: how grave it is in the checks of a recipe where
    it is about none of these, but about the medicine itself; None for its action.
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
    meets: AttributeRule | None = None
    amount: Amount | None = None
    check: Level | None = None

    @property
    def about_recipes(self) -> bool:
        """Whether what is in the bowl decides if it is met."""
        return bool(self.rules_out or self.meets or self.amount)

    def about(self, food: Food) -> bool:
        """Whether it is about a food as it is fed."""
        if self.rules_out is not None and self.rules_out.match(food.id):
            return True
        return self.meets is not None and self.meets.holds(food.attributes) is True


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
            read_rule(r["meets"]) if r["meets"] else None, _amount(r["amount"]),
            Level(r["check"]) if r["check"] else None,
        )
        for r in rows
    )  # fmt: skip


def _amount(text: str) -> Amount | None:
    """ "FAT>40", "NA<500"."""
    if not text:
        return None
    found = _AMOUNT.fullmatch(text)
    if found is None:
        raise ValueError(f"cannot read the amount {text!r}")
    return Amount(found[1], found[2] == ">", float(found[3]))


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
                found.setdefault(food_id, f"beside {m.named}: {m.interaction.effect}")
    return found
