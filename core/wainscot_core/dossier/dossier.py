"""The dossier: one frozen input for every analysis of a recipe.

Whoever asks (a command, the bench, a plan, a document) fills one in, in full; nothing is read
later and nothing is left to be filled with placeholders.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date

import numpy as np

from ..bowl.exclusions import Avoidance, Reaction, reaction_groups, trial_of, why_excluded
from ..bowl.marks import FoodMark, Mark
from ..dog.energy import Energy, by_multiplier, by_own_figure, check_weight
from ..dog.record import (
    DecisionRecord,
    Diagnosed,
    DogRecord,
    EnergyBy,
    ReactionRecord,
    TargetsRecord,
)
from ..errors import InputError
from ..facts.foods import FoodLibrary
from ..facts.interactions import met_by, not_suggested
from ..facts.me_methods import MeMethod
from ..facts.policy import Policy
from ..recipe.line import Line
from ..recipe.proportions import Way
from ..targets.conditions import Condition, stage_of
from ..targets.food_rules import rules_for
from ..targets.per import FeedingFacts
from ..targets.requirements import MergedSet, check_decision, merge
from ..targets.standards import Decision, RequirementSet, Standard
from ..units import Measures
from .reference import Reference

MOST_DAYS = 366


@dataclass(frozen=True, kw_only=True)
class Fed:
    """What is known of a recipe that is fed already. days: for how long it has been; most_days: for how long it was to
    be, None where nothing was said; made_for: the stages of life whose safe limits it was made for, as the standard
    names them (adult, growth-early...), empty where nobody knows."""

    days: int = 0
    most_days: int | None = None
    made_for: frozenset[str] = frozenset()


@dataclass(frozen=True, kw_only=True)
class Dossier:
    """Everything an analysis of a recipe looks at.

    weight_kg: the dog's body weight. breed: as it was entered, "" where it was not. vulnerable_home: somebody lives there who must keep away from raw
    meat, None where nobody asked. days: what the batch feeds, in so many meals a day. avoid: what keeps foods out of
    this dog's bowl. medicines: what it is given, as it was written. prices: per kg by food, where known. way: proportions that are watched beside
    the targets. second: another requirement set to compare with. as_of: the day it is asked. measures: whose cups and spoons weights are told in.
    eaten: what the dog eats now, as it was written. fine_scale: the owner can weigh tenths of a gram. fed: how it is fed already.
    """

    reference: Reference
    library: FoodLibrary
    dog_name: str
    weight_kg: float
    energy: Energy
    targets: MergedSet
    lines: tuple[Line, ...]
    days: float
    policy: Policy
    meals_per_day: int = 2
    conditions: tuple[tuple[Condition, str], ...] = ()
    avoid: Avoidance
    medicines: tuple[str, ...] = ()
    prices: Mapping[str, float] = field(default_factory=dict)
    marks: tuple[FoodMark, ...] = ()
    way: Way | None = None
    second: RequirementSet | None = None
    as_of: date | None = None
    measures: Measures = Measures.US
    eaten: tuple[str, ...] = ()
    fine_scale: bool = False
    breed: str = ""
    vulnerable_home: bool | None = None
    fed: Fed = field(default_factory=Fed)

    @property
    def requirements(self) -> RequirementSet:
        """The merged requirement set."""
        return self.targets.requirements

    @property
    def metabolic_kg(self) -> float:
        """kg^0.75 of the body weight."""
        return float(self.weight_kg**0.75)

    def with_lines(self, lines: Sequence[Line], days: float | None = None) -> "Dossier":
        """The same dossier with another recipe."""
        return replace(self, lines=tuple(lines), days=self.days if days is None else days)

    def built_on(self, lines: Sequence[Line]) -> "Dossier":
        """The same dossier with a recipe that a trial, if there is one, is built on."""
        trial = self.avoid.trial is not None
        avoid = on_trial(self.avoid, self.library, lines) if trial else self.avoid
        return replace(self, lines=tuple(lines), avoid=avoid)


def check_days(days: float, field_name: str = "covers_days") -> float:
    """The days a batch covers; InputError when they make no sense."""
    if not 0 < days <= MOST_DAYS:
        raise InputError(field_name, f"must be above 0 and at most {MOST_DAYS} days")
    return days


def energy_of(
    reference: Reference,
    dog: DogRecord,
    by: EnergyBy,
    multiplier: float | None,
    kcal_per_day: float | None,
) -> Energy:
    """The energy target by the chosen method. Raises InputError (field "energy...")."""
    weight = check_weight(reference.energy, dog.weight_kg, "dog.weight_kg")
    try:
        if by is EnergyBy.OWN_FIGURE:
            if kcal_per_day is None:
                raise InputError("kcal_per_day", "is missing")
            return by_own_figure(reference.energy, weight, kcal_per_day)
        if multiplier is None:
            raise InputError("multiplier", "is missing")
        return by_multiplier(reference.energy, weight, multiplier)
    except InputError as error:
        raise error.under("energy") from None


def feeding_facts(
    reference: Reference, dog: DogRecord, energy: Energy, me: MeMethod
) -> FeedingFacts:
    """What limits depend on beside the nutrient; without an ideal weight the dog is at it."""
    ideal = dog.ideal_weight_kg
    if ideal is not None:
        check_weight(reference.energy, ideal, "dog.ideal_weight_kg")
    return FeedingFacts(
        dog.weight_kg, dog.weight_kg if ideal is None else ideal, energy.target_kcal,
        dog.age_months, dog.adult_weight_kg, reference.breeds.risks(dog.breed),
        reference.me.methods[me].factors,
    )  # fmt: skip


def conditions_of(
    reference: Reference, diagnosed: Sequence[Diagnosed]
) -> tuple[tuple[Condition, str], ...]:
    """The conditions with their stages. Raises InputError (field targets.conditions[i])."""
    found = []
    for i, entry in enumerate(diagnosed):
        at = f"targets.conditions[{i}]"
        condition = reference.conditions.get(entry.id)
        if condition is None:
            raise InputError(
                f"{at}.id",
                f"unknown condition {entry.id!r}; use one of: {', '.join(reference.conditions)}",
            )
        try:
            found.append((condition, stage_of(condition, entry.stage)))
        except InputError as error:
            raise error.under(at) from None
    return tuple(found)


def decisions_of(reference: Reference, recorded: Sequence[DecisionRecord]) -> list[Decision]:
    """The recorded decisions. Raises InputError (field targets.decisions[i])."""
    found = []
    for i, entry in enumerate(recorded):
        decision = Decision(
            key=entry.key, bound=entry.bound, value=entry.value, by=entry.by, reason=entry.reason
        )
        try:
            found.append(check_decision(reference.catalogue, decision))
        except InputError as error:
            raise error.under(f"targets.decisions[{i}]") from None
    return found


def merged_targets(
    reference: Reference,
    targets: TargetsRecord,
    facts: FeedingFacts,
    standards: Mapping[str, Standard] | None = None,
) -> MergedSet:
    """Standard, life stage, conditions and decisions as one requirement set.

    `standards` are those to choose from, the published ones by default.
    Raises InputError (field "targets...").
    """
    known = reference.standards if standards is None else standards
    if targets.standard not in known:
        raise InputError(
            "targets.standard",
            f"unknown standard {targets.standard!r}; use one of: {', '.join(known)}",
        )
    conditions = conditions_of(reference, targets.conditions)
    decisions = decisions_of(reference, targets.decisions)
    try:
        return merge(
            reference.catalogue, known[targets.standard], targets.life_stage, conditions, facts,
            decisions, rules=reference.basis, basis=targets.basis,
            safety=reference.safety,
        )  # fmt: skip
    except InputError as error:
        raise error.under("targets") from None


def avoidance_of(
    reference: Reference,
    library: FoodLibrary,
    lines: Sequence[Line],
    reactions: Sequence[ReactionRecord],
    conditions: Sequence[tuple[Condition, str]],
    marks: Sequence[FoodMark] = (),
    medicines: Sequence[str] = (),
) -> Avoidance:
    """What keeps foods out of this dog's recipe. A trial is built on the recipe's own main
    protein and carbohydrate among the foods the dog does not react to.
    """
    recorded = [Reaction(r.food, r.form, r.tolerates, r.tolerates_said) for r in reactions]
    marked: dict[str, str] = {}
    ordered: dict[str, str] = {}
    for mark in marks:
        if mark.mark.keeps_out:
            marked.setdefault(mark.food, mark.why)
        elif mark.mark is Mark.SPECIAL_ORDER:
            ordered.setdefault(mark.food, mark.why)
    plain = Avoidance(
        reference.source_groups,
        reaction_groups(reference.allergens, recorded),
        reference.hazards,
        None,
        rules_for(reference.food_rules, [(c.id, stage) for c, stage in conditions]),
        marked,
        not_suggested(met_by(reference.interactions, medicines), library.supplements),
        ordered,
    )
    if not any(stage in condition.trial_stages for condition, stage in conditions):
        return plain
    return on_trial(plain, library, lines)


def on_trial(plain: Avoidance, library: FoodLibrary, lines: Sequence[Line]) -> Avoidance:
    """What keeps foods out of a trial that is built on these lines."""
    plain = replace(plain, trial=None)
    protein, carbohydrate = (library.catalogue.index(k) for k in ("PROCNT", "CHOCDF"))
    # Unknown contents do not speak for a line here: it only ranks what the recipe is built on.
    brought = np.nan_to_num(library.values[:, [protein, carbohydrate]])
    built_on = [
        (
            line.food,
            float(brought[line.row, 0]) * line.amount.grams,
            float(brought[line.row, 1]) * line.amount.grams,
        )
        for line in lines
        if not why_excluded(line.as_fed, plain)
    ]
    return replace(plain, trial=trial_of(plain.groups, built_on))
