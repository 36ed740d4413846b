"""Foods of the recipe that a condition never has, avoids or limits."""

from collections.abc import Iterator

import numpy as np

from ..bowl.exclusions import said_of
from ..dossier.dossier import Dossier
from ..facts.foods import Food
from ..findings import Finding, Kind, Level
from ..recipe.totals import Totals
from ..targets.food_rules import ANY, CapOf, FoodRule, Verdict
from ..targets.standards import Strength

_LEVELS = {
    (Verdict.NEVER, True): Level.BLOCK,
    (Verdict.NEVER, False): Level.DECIDE,
    (Verdict.AVOID, True): Level.DECIDE,
    (Verdict.AVOID, False): Level.WARN,
}
_DO = {
    Verdict.NEVER: "Take it out, or let the attending vet decide.",
    Verdict.AVOID: "Choose another food, or keep it with a reason.",
}


def foods_conditions_speak_against(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """One finding a food for the gravest rule it meets, and for a rule that what is not known keeps
    open."""
    told: set[Finding] = set()
    for line in dossier.lines:
        # The same food may stand in the recipe raw and cooked: each line is asked as it is fed.
        for finding in _on_line(dossier, line.as_fed):
            if finding not in told:
                told.add(finding)
                yield finding
    yield from _caps(dossier, sums)


def _on_line(dossier: Dossier, food: Food) -> Iterator[Finding]:
    said = said_of(food, dossier.avoid)
    # What harms any dog is told as a hazard.
    if said.rule is not None and said.rule.verdict in _DO and said.rule.condition != ANY:
        yield _finding(dossier, food, said.rule)
    if said.open is not None:
        yield _unknown(dossier, food, said.open)


def _name(dossier: Dossier, rule: FoodRule) -> str:
    condition = dossier.reference.conditions.get(rule.condition)
    return condition.name if condition else "Any dog"


def _finding(dossier: Dossier, food: Food, rule: FoodRule) -> Finding:
    matter = f"{_name(dossier, rule)}, {rule.verdict}"
    return Finding(
        kind=Kind.CONDITION,
        level=_LEVELS[rule.verdict, rule.strength is Strength.HARD],
        matter=matter,
        what=f"{matter}: {food.name}",
        why=rule.reason,
        do=_DO[rule.verdict],
        source=rule.source,
        confidence=rule.confidence,
        food=food.id,
    )


def _unknown(dossier: Dossier, food: Food, rule: FoodRule) -> Finding:
    matter = f"{_name(dossier, rule)}, not known"
    return Finding(
        kind=Kind.CONDITION,
        level=_LEVELS[Verdict.AVOID, rule.verdict is Verdict.NEVER],
        matter=matter,
        what=f"{matter}: {food.name}",
        why=f"what it is is not recorded well enough to clear it of: {rule.reason}",
        do="Look at the food itself and its label before it is fed.",
        source=rule.source,
        confidence=rule.confidence,
        food=food.id,
    )


def _caps(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Limits on the share of foods that a rule names, all of them together."""
    for rule in dossier.avoid.food_rules:
        if rule.verdict is not Verdict.LIMIT or rule.cap is None or rule.cap_of is None:
            continue
        weights = _weights(sums, rule.cap_of)
        fits = np.array(
            [
                not line.food.is_supplement and rule.rule.holds(line.as_fed.attributes) is True
                for line in dossier.lines
            ],
            dtype=bool,
        )
        whole = float(weights.sum())
        share = float(weights[fits].sum()) / whole if whole > 0 else 0.0
        if share > rule.cap * (1 + 1e-9):
            names = ", ".join(
                dict.fromkeys(x.food.name for x, f in zip(dossier.lines, fits, strict=True) if f)
            )
            yield Finding(
                kind=Kind.CONDITION,
                level=Level.WARN,
                what=f"{_name(dossier, rule)}: {share:.0%} of the {rule.cap_of} is {names}",
                why=f"{rule.reason}: {rule.limit}",
                do="Give less of it.",
                source=rule.source,
                confidence=rule.confidence,
            )


def _weights(sums: Totals, of: CapOf) -> np.ndarray:
    """(L,) what each line brings of what a cap is a share of, g."""
    if of is CapOf.WEIGHT:
        return sums.fed_grams
    key = "PROCNT" if of is CapOf.PROTEIN else "WATER"
    brought: np.ndarray = np.nan_to_num(sums.contributions[:, sums.catalogue.index(key)])
    return brought if of is CapOf.PROTEIN else sums.fed_grams - brought
