"""Which foods must not be in a dog's recipe, and why: reactions, trials, hazards, sourcing."""

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from ..facts.allergens import AllergenWords
from ..facts.foods import Food
from ..facts.hazards import Hazards
from ..targets.food_rules import FoodRule, OnFood, on_food, on_supplement
from ..targets.food_rules import Verdict as RuleVerdict
from .forms import Forms


@dataclass(frozen=True)
class SourceGroups:
    """Source groups by what they bring, and sets that cross-react."""

    protein: frozenset[str]
    carbohydrate: frozenset[str]
    cross: tuple[frozenset[str], ...]
    neutral_classes: frozenset[str]
    source: str
    forms: Forms

    @classmethod
    def from_data(cls, data: dict[str, Any]) -> "SourceGroups":
        """Build from reference/library/source_groups.yaml."""
        return cls(
            frozenset(data["protein"]),
            frozenset(data["carbohydrate"]),
            tuple(frozenset(x) for x in data["cross"]),
            frozenset(data["neutral_classes"]),
            data["source"],
            Forms.from_data(data["forms"]),
        )

    def crossing(self, groups: Iterable[str]) -> frozenset[str]:
        """Groups that may cross-react with these, these not included."""
        wanted = set(groups)
        found: set[str] = set()
        for related in self.cross:
            if related & wanted:
                found |= related
        return frozenset(found - wanted)


@dataclass(frozen=True)
class Reaction:
    """A reaction to a food: the words as recorded; `form` and `tolerates` narrow it. said: who found that out, and when,
    "" where nobody is named."""

    food: str
    form: str = ""
    tolerates: str = ""
    said: str = ""


@dataclass(frozen=True)
class Trial:
    """An elimination trial: the one protein and the one carbohydrate source it allows."""

    protein: str | None
    carbohydrate: str | None


@dataclass(frozen=True)
class Avoidance:
    """Everything that keeps a food out of a recipe.

    reactions: by source group. marked: food id -> why it cannot be had or used. not_suggested: food
    id -> why it is not proposed, though a line that holds it stays (medicines). ordered: food id -> that it has to be
    ordered first.
    """

    groups: SourceGroups
    reactions: Mapping[str, Reaction]
    hazards: Hazards | None = None
    trial: Trial | None = None
    food_rules: tuple[FoodRule, ...] = ()
    marked: Mapping[str, str] = field(default_factory=dict)
    not_suggested: Mapping[str, str] = field(default_factory=dict)
    ordered: Mapping[str, str] = field(default_factory=dict)


def reaction_groups(words: AllergenWords, reactions: Sequence[Reaction]) -> dict[str, Reaction]:
    """Source groups named by recorded reactions; a name that is no known group stands for itself."""
    found: dict[str, Reaction] = {}
    for reaction in reactions:
        groups = words.found_in(reaction.food) or {reaction.food.strip().lower(): ""}
        for group in groups:
            # Of two that name one food the one that leaves nothing counts.
            if group not in found or not (reaction.form or reaction.tolerates):
                found[group] = reaction
    return found


def trial_of(groups: SourceGroups, lines: Sequence[tuple[Food, float, float]]) -> Trial:
    """The protein and the carbohydrate source a trial recipe is built on.

    `lines`: food, what it brings of protein and of carbohydrate in one unit; those the dog reacts to left
    out by the caller.
    """

    def largest(wanted: frozenset[str], which: int) -> str | None:
        sums: dict[str, float] = {}
        for food, *amounts in lines:
            for group in set(food.allergens) & wanted:
                sums[group] = sums.get(group, 0.0) + amounts[which]
        return max(sums, key=lambda g: sums[g], default=None)

    return Trial(largest(groups.protein, 0), largest(groups.carbohydrate, 1))


def why_ruled_out(food: Food, avoid: Avoidance) -> str:
    """Why a condition never has a food, or avoids it where that is hard; "" when none does, or where what
    is not known of it decides."""
    rule = said_of(food, avoid).kept_out
    return "" if rule is None or rule is said_of(food, avoid).open else rule.why


def why_unfit(food: Food, avoid: Avoidance) -> str:
    """Why a food is not suggested: it is dangerous, ruled out by a condition, or cannot be had; "" when it may be. What
    speaks of the dog is said before what speaks of the shop."""
    why = why_dangerous(food, avoid) or avoid.not_suggested.get(food.id, "")
    if why:
        return why
    said = said_of(food, avoid)
    rule = said.kept_out
    if rule is None:
        return avoid.marked.get(food.id, "")
    return f"not known whether: {rule.why}" if rule is said.open else rule.why


def advised_against(food: Food, avoid: Avoidance) -> str:
    """Why a condition would rather not see a food that may be used, with the source; "" when nothing advises so."""
    rule = said_of(food, avoid).rule
    return rule.why if rule is not None and rule.verdict is RuleVerdict.AVOID else ""


def rather_not(food: Food, avoid: Avoidance) -> str:
    """Why a food that may be used is the second choice: a condition, or that it has to be ordered; "" when nothing is
    against it."""
    return advised_against(food, avoid) or avoid.ordered.get(food.id, "")


def said_of(food: Food, avoid: Avoidance) -> OnFood:
    """What the conditions say of a food; of a supplement only by what it is made of."""
    if food.is_supplement:
        return on_supplement(avoid.food_rules, food.allergens)
    return on_food(avoid.food_rules, food.attributes)


def _names(food: Food, group: str) -> bool:
    """Whether a food is what a reaction names, where no source group is marked on it: by its species,
    or by the whole word in its name."""
    if food.attributes.species in {group, f"{group}s", f"{group}es"}:
        return True
    return re.search(rf"\b{re.escape(group)}(es|s)?\b", food.name, re.I) is not None


def _lifted(reaction: Reaction, food: Food, forms: Forms) -> bool:
    """Whether a reaction leaves this form of its food: it is tolerated, or another part of the animal than the one reacted
    to. What is not known for certain is not left."""
    of = food.attributes
    if forms.holds(reaction.tolerates, reaction.food, of) is True:
        return True
    part = forms.is_part(reaction.form, reaction.food)
    return part and forms.holds(reaction.form, reaction.food, of) is False


def let_in(food: Food, avoid: Avoidance) -> Reaction | None:
    """The reaction that a food of its kind is let in beside, as an exception; None where none speaks of it."""
    found = (avoid.reactions.get(group) for group in food.allergens)
    return next((r for r in found if r is not None and _lifted(r, food, avoid.groups.forms)), None)


def _reacts(reaction: Reaction, forms: Forms) -> str:
    why = f"the dog reacts to {reaction.food}"
    if forms.understood(reaction.tolerates, reaction.food):
        return why
    return f"{why}; of what it tolerates “{reaction.tolerates}” is not understood and lifts nothing"


def why_excluded(food: Food, avoid: Avoidance) -> str:
    """Why a food must not be in the recipe; "" when nothing is against it."""
    return why_dangerous(food, avoid) or avoid.marked.get(food.id, "")


def why_dangerous(food: Food, avoid: Avoidance) -> str:
    """The same, whether it can be had or not."""
    for group in food.allergens:
        reaction = avoid.reactions.get(group)
        if reaction is not None and not _lifted(reaction, food, avoid.groups.forms):
            return _reacts(reaction, avoid.groups.forms)
    named = next((r for g, r in avoid.reactions.items() if _names(food, g)), None)
    if named is not None and not food.allergens:
        return f"the dog reacts to {named.food}"
    hazard = avoid.hazards.blocking(food) if avoid.hazards else None
    if hazard is not None:
        return f"{hazard.name}: {hazard.hazard}"
    if food.handling is not None and food.handling.block:
        return food.handling.block
    if avoid.trial is not None:
        return _outside_trial(food, avoid, avoid.trial)
    return ""


def _outside_trial(food: Food, avoid: Avoidance, trial: Trial) -> str:
    groups = avoid.groups
    mine = set(food.allergens)
    strange = sorted(
        (mine & (groups.protein | groups.carbohydrate)) - {trial.protein, trial.carbohydrate}
    )
    if strange:
        crossing = set(strange) & groups.crossing(avoid.reactions)
        if crossing:
            return f"{sorted(crossing)[0]} may cross-react with what the dog reacts to"
        return (
            f"an elimination trial holds one protein and one carbohydrate; this brings {strange[0]}"
        )
    if food.is_supplement or food.klass in groups.neutral_classes or mine:
        return ""
    return "an elimination trial holds one protein and one carbohydrate and nothing else"
