"""Ways of feeding: proportions by fed weight as soft guides, with gauges and rescaling.

A guide never changes a verdict: nutrient adequacy is computed whatever the proportions are.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from ..errors import InputError
from ..facts.attribute_rule import AttributeRule, read_rule
from ..facts.foods import Food

# The part that bone counts as.
BONE = "bone"


@dataclass(frozen=True)
class PartRule:
    """What a food counts as: by a rule on what it is, or by class."""

    id: str
    label: str
    classes: frozenset[str]
    when: AttributeRule | None = None

    def fits(self, food: Food) -> bool:
        """True when a food is of this part."""
        if self.when is not None and self.when.holds(food.attributes) is True:
            return True
        return food.klass in self.classes


@dataclass(frozen=True)
class Way:
    """A way of feeding. shares: parts joined by "+" -> wanted share of the weight, together 1.

    least: groups whose share is a least one, not an exact one.
    seed: foods a template starts with by group, in order of choice; seed_shares: a group's share in
    the template where it differs (bone as a powder).
    """

    id: str
    name: str
    shares: Mapping[str, float]
    least: frozenset[str]
    caution: str
    seed: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    seed_shares: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class FeedingRules:
    """All parts and ways."""

    parts: tuple[PartRule, ...]
    ways: Mapping[str, Way]
    off_by: float
    off_below_least: float

    @classmethod
    def from_data(cls, data: dict[str, Any]) -> "FeedingRules":
        """Build from reference/feeding_ways.yaml."""
        parts = tuple(
            PartRule(
                key, p["label"], frozenset(p.get("class", ())),
                read_rule(p["when"]) if "when" in p else None,
            )
            for key, p in data["parts"].items()
        )  # fmt: skip
        ways = {}
        for w in data["ways"]:
            ways[w["id"]] = Way(
                w["id"], w["name"], _normal(w["shares"]), frozenset(w.get("least", ())), w["caution"],
                {k: tuple(v) for k, v in w.get("seed", {}).items()},
                {k: float(v) for k, v in w.get("seed_shares", {}).items()},
            )  # fmt: skip
        off = data["tolerance"]
        return cls(parts, ways, float(off["by"]), float(off["below_least"]))

    def part_of(self, food: Food) -> str | None:
        """The part a food counts as; None for what fits no rule, and for supplements that stand for
        no food."""
        if food.handling is not None:
            return food.handling.part or None
        return next((p.id for p in self.parts if p.fits(food)), None)

    def label(self, group: str) -> str:
        """A group of parts in words."""
        names = {p.id: p.label for p in self.parts}
        return " + ".join(names.get(x, x) for x in group.split("+"))


def _normal(shares: Mapping[str, float]) -> dict[str, float]:
    whole = sum(float(v) for v in shares.values())
    return {k: float(v) / whole for k, v in shares.items()}


def own_way(rules: FeedingRules, shares: Mapping[str, float]) -> Way:
    """A practice's own proportions. Raises InputError for parts or shares that make no sense."""
    known = {p.id for p in rules.parts}
    if not shares or any(set(k.split("+")) - known for k in shares):
        raise InputError("way_shares", f"name parts of: {', '.join(sorted(known))}")
    if any(not 0 < v < float("inf") for v in shares.values()):
        raise InputError("way_shares", "every part needs a share above 0")
    return Way("own", "Own proportions", _normal(shares), frozenset(), "")


def way_of(rules: FeedingRules, way_id: str) -> Way | None:
    """A way by id, None for ""; InputError names the ways there are."""
    if not way_id:
        return None
    if way_id not in rules.ways:
        raise InputError("way", f"use one of {', '.join(rules.ways)}")
    return rules.ways[way_id]


@dataclass(frozen=True)
class Gauge:
    """A group's share of the weight of all groups beside the wanted one. grams as fed. off: further
    from it than a guide allows."""

    group: str
    label: str
    wanted: float
    grams: float
    share: float
    at_least: bool
    off: bool


def groups_of(rules: FeedingRules, way: Way, foods: Sequence[Food]) -> tuple[str | None, ...]:
    """The way's group of every food; None for what the way does not count."""
    found = []
    for food in foods:
        part = rules.part_of(food)
        found.append(next((g for g in way.shares if part in g.split("+")), None))
    return tuple(found)


def gauges(
    rules: FeedingRules, way: Way, foods: Sequence[Food], fed_grams: Sequence[float]
) -> tuple[Gauge, ...]:
    """Every group's share by fed weight. What is eaten with its bone counts as bone by its bone's share."""
    groups = groups_of(rules, way, foods)
    bone = next((g for g in way.shares if BONE in g.split("+")), None)
    sums = dict.fromkeys(way.shares, 0.0)
    for food, group, grams in zip(foods, groups, fed_grams, strict=True):
        own_bone = food.bone_share if bone is not None else 0.0
        if group is not None:
            sums[group] += grams * (1 - own_bone)
        if bone is not None:
            sums[bone] += grams * own_bone
    whole = sum(sums.values())
    found = []
    for group, grams in sums.items():
        share = grams / whole if whole > 0 else 0.0
        wanted, least = way.shares[group], group in way.least
        off = (
            share < wanted - rules.off_below_least if least else abs(share - wanted) > rules.off_by
        )
        found.append(Gauge(group, rules.label(group), wanted, grams, share, least, off))
    return tuple(found)


def rescaled(
    rules: FeedingRules, way: Way, foods: Sequence[Food], fed_grams: Sequence[float]
) -> tuple[float, ...]:
    """Factor for every line so that the proportions hold without needing more of any part.

    The part there is least of for its share stays; the others shrink to it. Lines the way does
    not count keep their amounts. Raises InputError when a part is missing.
    """
    found = gauges(rules, way, foods, fed_grams)
    missing = [g.label for g in found if g.grams <= 0]
    if missing:
        raise InputError("way", f"the recipe holds no {', no '.join(missing)}; add it first")
    unit = min(g.grams / g.wanted for g in found)
    factor = {g.group: unit * g.wanted / g.grams for g in found}
    return tuple(1.0 if group is None else factor[group] for group in groups_of(rules, way, foods))
