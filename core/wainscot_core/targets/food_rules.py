"""What conditions say of foods: never, avoid, limit, prefer, by rules on attributes."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum

from ..confidence import Confidence
from ..facts.attribute_rule import AttributeRule, read_rule
from ..facts.attributes import Attributes
from .standards import Strength

# The condition of rules that hold for every dog.
ANY = "any"


class Verdict(StrEnum):
    """What a rule says of a food it fits. allow: a look-alike that is fine, in words only."""

    NEVER = "never"
    AVOID = "avoid"
    LIMIT = "limit"
    PREFER = "prefer"
    ALLOW = "allow"


# never beats avoid beats limit beats prefer.
GRAVEST_FIRST = (Verdict.NEVER, Verdict.AVOID, Verdict.LIMIT, Verdict.PREFER)


class CapOf(StrEnum):
    """What a cap is a share of."""

    WEIGHT = "weight"
    DRY_MATTER = "dry matter"
    PROTEIN = "protein"


@dataclass(frozen=True)
class FoodRule:
    """One rule of a condition. stages: empty for all. made_of: source groups, of which a supplement falls under the rule
    too. limit: its cap in words; cap: the same as a share of cap_of, None where another limit of the targets holds it."""

    condition: str
    stages: tuple[str, ...]
    rule: AttributeRule
    verdict: Verdict
    limit: str
    cap: float | None
    cap_of: CapOf | None
    strength: Strength
    reason: str
    source: str
    confidence: Confidence
    made_of: frozenset[str]

    @property
    def why(self) -> str:
        """The reason with its source."""
        return f"{self.reason} ({self.source})" if self.source else self.reason


@dataclass(frozen=True)
class OnFood:
    """What the rules say of one food: the gravest rule that fits, and a never or avoid that what is not
    known keeps open."""

    rule: FoodRule | None
    open: FoodRule | None

    @property
    def kept_out(self) -> FoodRule | None:
        """The rule that keeps a food from being proposed: never, or avoid where it is hard."""
        for rule in (self.rule, self.open):
            if rule is None:
                continue
            if rule.verdict is Verdict.NEVER or (
                rule.verdict is Verdict.AVOID and rule.strength is Strength.HARD
            ):
                return rule
        return None


def on_food(rules: Iterable[FoodRule], of: Attributes) -> OnFood:
    """What rules say of a food."""
    gravest: FoodRule | None = None
    undecided: FoodRule | None = None
    for rule in rules:
        if rule.verdict is Verdict.ALLOW:
            continue
        answer = rule.rule.holds(of)
        if answer and (gravest is None or _grave(rule) < _grave(gravest)):
            gravest = rule
        careful = rule.verdict in {Verdict.NEVER, Verdict.AVOID}
        if answer is None and careful and (undecided is None or _grave(rule) < _grave(undecided)):
            undecided = rule
    if undecided is not None and gravest is not None and _grave(gravest) <= _grave(undecided):
        undecided = None
    return OnFood(gravest, undecided)


def on_supplement(rules: Iterable[FoodRule], groups: Iterable[str]) -> OnFood:
    """What rules say of a supplement, which is judged by its contents and only here by what it is made of."""
    mine = frozenset(groups)
    fits = [r for r in rules if r.made_of & mine]
    return OnFood(min(fits, key=_grave, default=None), None)


def _grave(rule: FoodRule) -> tuple[int, bool]:
    return GRAVEST_FIRST.index(rule.verdict), rule.strength is not Strength.HARD


def read_food_rules(rows: Iterable[Mapping[str, str]]) -> tuple[FoodRule, ...]:
    """Build from the rows of conditions/food_rules.csv. ValueError for what cannot be read."""
    return tuple(
        FoodRule(
            r["condition"], () if r["stages"] == "all" else tuple(r["stages"].split()), read_rule(r["rule"]),
            Verdict(r["verdict"]), r["limit"], float(r["cap"]) if r["cap"] else None,
            CapOf(r["cap_of"]) if r["cap_of"] else None, Strength(r["strength"]), r["reason"], r["source"],
            Confidence(r["confidence"]), frozenset((r["made_of"] or "").split()),
        )
        for r in rows
    )  # fmt: skip


def rules_for(
    rules: Iterable[FoodRule], conditions: Iterable[tuple[str, str]]
) -> tuple[FoodRule, ...]:
    """The rules of conditions at their stages, and those that hold for every dog."""
    stages = dict(conditions)
    return tuple(
        r
        for r in rules
        if r.condition == ANY
        or (r.condition in stages and (not r.stages or stages[r.condition] in r.stages))
    )
