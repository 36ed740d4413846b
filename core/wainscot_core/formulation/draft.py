"""A first draft where there is no recipe yet: after a way of feeding, or of the foods that were named.

A draft is a recipe to stay near, in the proportions by weight that its way of feeding asks for and scaled to the
dog's energy; what it lacks is found afterwards. A trial is built on one protein and one starch, which are chosen
first: nothing is drafted before.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..bowl.exclusions import advised_against, why_unfit
from ..dossier.dossier import Dossier
from ..errors import InputError
from ..facts.foods import FloatArray, Food
from ..figures import listed
from ..recipe.amount import Amount
from ..recipe.line import Line
from ..recipe.proportions import Way, groups_of
from .adjust import Suggestion, suggestion
from .candidates import amount_text, increment_of
from .problem import Increment

# The proportions of a draft when no way of feeding was chosen.
USUAL_WAY = "protein-starch-vegetable"
# What belongs to no part of the way (an oil): its share of the weight, each; and the most of organs.
BESIDE, ORGANS = 0.015, 0.05
ORGAN = "organ"
# Parts that a trial's starch, or its protein, can be.
STARCHY = frozenset({"starch"})
ANIMAL = frozenset({"meat", "egg-dairy"})
# So much protein or carbohydrate in 100 g, and of its energy, makes a food its source (Atwater: 4 kcal per g).
MAIN_G, MAIN_SHARE, KCAL_PER_G = 7.0, 0.2, 4.0
COOKED = "cooked"
# From so many foods that may be used some are chosen; fewer are all meant.
LISTED = 8
# Foods shown for each source of a trial.
SHOWN = 3


@dataclass(frozen=True, kw_only=True)
class TrialFood:
    """A plain food that a trial can be built on."""

    food: str
    name: str


@dataclass(frozen=True, kw_only=True)
class TrialSource:
    """A protein or a starch that a trial can be built on. eaten: where the diet history names it, or "".
    crosses: what the dog reacts to that it may cross-react with, or "". starchy: a pulse or a grain."""

    group: str
    starchy: bool
    eaten: str
    crosses: str
    foods: tuple[TrialFood, ...]


@dataclass(frozen=True, kw_only=True)
class TrialSources:
    """What a trial can be built on; what the dog never ate, as far as is known, comes first."""

    proteins: tuple[TrialSource, ...]
    starches: tuple[TrialSource, ...]


def draft_of(dossier: Dossier, foods: Sequence[str] = ()) -> tuple[tuple[Food, float], ...]:
    """Foods and grams for the dossier's days. foods: the ids to choose from; () for those that its way of feeding
    begins with.

    Raises InputError (recipe.lines) where nothing can be begun with.
    """
    picked = _listed(dossier, foods) if foods else _seeded(dossier)
    if not picked:
        raise InputError(
            "recipe.lines", "none of the foods may be fed to this dog; add one yourself"
        )
    shares = _shares(dossier, picked)
    column = dossier.library.catalogue.index("ENERC")
    rows = [dossier.library.row(food.id) for food in picked]
    per_gram = np.nan_to_num(dossier.library.values[rows, column]) / 100
    whole = float(per_gram @ shares)
    if whole <= 0:
        raise InputError("recipe.lines", "the foods bring no energy; add one that does")
    kcal = dossier.energy.target_kcal * dossier.days
    return tuple(
        (food, share * kcal / whole) for food, share in zip(picked, shares.tolist(), strict=True)
    )


def drafted(dossier: Dossier, foods: Sequence[str] = ()) -> Dossier:
    """The dossier with a draft as its recipe. Raises InputError (recipe.lines)."""
    rules = dossier.reference.formulation
    lines = []
    for food, grams in draft_of(dossier, foods):
        step = increment_of(rules, food, batch_grams=grams)
        amount = whole_amount(step, grams)
        lines.append(Line(food, dossier.library.row(food.id), amount, None))
    return dossier.built_on(lines)


def whole_amount(step: Increment, grams: float) -> Amount:
    """The amount that can be measured nearest to a weight, one step at least."""
    whole = max(round(grams / step.grams), 1) * step.grams
    return Amount(whole / step.grams * step.count, step.unit, whole, amount_text(step, whole))


def first_draft(dossier: Dossier, foods: Sequence[str] = ()) -> tuple[Suggestion, ...]:
    """A draft as suggestions for the bench. Raises InputError (recipe.lines)."""
    return tuple(suggestion(dossier, food, grams) for food, grams in draft_of(dossier, foods))


def trial_sources(dossier: Dossier) -> TrialSources | None:
    """What a trial can be built on; None where none is asked for."""
    if dossier.avoid.trial is None:
        return None
    groups = dossier.avoid.groups
    return TrialSources(
        proteins=tuple(_sources(dossier, groups.protein, "PROCNT", STARCHY | ANIMAL)),
        starches=tuple(_sources(dossier, groups.carbohydrate, "CHOCDF", STARCHY)),
    )


def _sources(
    dossier: Dossier, wanted: frozenset[str], tag: str, parts: frozenset[str]
) -> list[TrialSource]:
    """Each group with plain foods of it; the dog reacts to none of them."""
    named = {
        g: words for words in dossier.eaten for g in dossier.reference.allergens.found_in(words)
    }
    # Another recipe of the same dog may already be on trial.
    untried = dossier.built_on(())
    reactions = dossier.avoid.reactions
    staples = dossier.reference.formulation.staples
    column = dossier.library.catalogue.index(tag)
    kcal = dossier.library.values[:, dossier.library.catalogue.index("ENERC")]
    found = []
    for group in wanted - set(reactions):
        fit = [
            (food.id not in staples, food.attributes.state != COOKED, food.id, food)
            for row, food in enumerate(dossier.library.foods)
            if food.allergens == (group,)
            and food.proposable
            and _part(dossier, food) in parts
            and dossier.library.values[row, column] >= MAIN_G
            and dossier.library.values[row, column] * KCAL_PER_G >= MAIN_SHARE * kcal[row]
            and not _against(untried, food)
        ]
        if fit:
            crossed = dossier.avoid.groups.crossing((group,)) & set(reactions)
            found.append(
                TrialSource(
                    group=group,
                    starchy=all(_part(dossier, f) in STARCHY for *_, f in fit),
                    eaten=named.get(group, ""),
                    crosses=", ".join(sorted({reactions[g].food for g in crossed})),
                    foods=tuple(TrialFood(food=f.id, name=f.name) for *_, f in sorted(fit)[:SHOWN]),
                )
            )
    return sorted(found, key=lambda s: (bool(s.eaten), bool(s.crosses), s.starchy, s.group))


def _part(dossier: Dossier, food: Food) -> str:
    """What a food counts as; a pulse or a grain only when it is cooked."""
    part = dossier.reference.feeding.part_of(food) or ""
    return "" if part in STARCHY and food.attributes.state != COOKED else part


def _against(dossier: Dossier, food: Food) -> str:
    """Why a food is not drafted, whatever a trial that is not chosen yet would say."""
    open_trial = replace(dossier.avoid, trial=None) if not dossier.lines else dossier.avoid
    return why_unfit(food, open_trial) or advised_against(food, open_trial)


def _listed(dossier: Dossier, foods: Sequence[str]) -> list[Food]:
    """The foods that were named; of many, one or two for each part of the way."""
    library = dossier.library
    known = [library.food(f) for f in dict.fromkeys(foods) if f in library]
    fit = [f for f in known if not f.is_supplement and not _against(dossier, f)]
    if len(fit) <= LISTED:
        return fit
    first = [f for f in _seeds(dossier) if f in fit]
    return _one_each(dossier, [*first, *fit])


def _seeded(dossier: Dossier) -> list[Food]:
    """What a draft begins with when nothing is named: the way's own foods, or plain ones in their place."""
    if dossier.avoid.trial is not None:
        raise InputError("recipe.lines", _choose_first(dossier))
    library = dossier.library
    staples = [library.food(f) for f in dossier.reference.formulation.staples]
    plain = sorted((f for f in library.foods if f.proposable), key=lambda f: f.id)
    return _one_each(dossier, (*_seeds(dossier), *staples, *plain))


def _choose_first(dossier: Dossier) -> str:
    sources = trial_sources(dossier)
    told = ""
    if sources is not None:
        for kind, of in (("Proteins", sources.proteins), ("Starches", sources.starches)):
            never = [s.foods[0].name for s in of if not s.eaten and not s.crosses][:SHOWN]
            told += f" {kind} it never ate, as far as is known: {listed(never)}." if never else ""
    return (
        "a trial is built on one protein and one starch: name them first, as lines or as what may be"
        f" used.{told}"
    )


def _seeds(dossier: Dossier) -> list[Food]:
    library = dossier.library
    ids = (f for choices in _way(dossier).seed.values() for f in choices)
    return [library.food(f) for f in ids if f in library]


def _way(dossier: Dossier) -> Way:
    if dossier.way is not None and dossier.way.seed:
        return dossier.way
    usual = dossier.reference.feeding.ways[USUAL_WAY]
    return usual if dossier.way is None else replace(dossier.way, seed=usual.seed)


def _one_each(dossier: Dossier, foods: Iterable[Food]) -> list[Food]:
    """The first food of each part of the way that the dog may have."""
    way = _way(dossier)
    found: dict[str, Food] = {}
    for food in foods:
        (group,) = groups_of(dossier.reference.feeding, way, [food])
        if group is not None and group not in found and not _against(dossier, food):
            found[group] = food
        if len(found) == len(way.shares):
            break
    return list(found.values())


def _shares(dossier: Dossier, foods: Sequence[Food]) -> FloatArray:
    """(F,) the share of the weight of each food: its part's, shared among the foods of it."""
    way, rules = _way(dossier), dossier.reference.feeding
    groups = groups_of(rules, way, foods)
    organ = [rules.part_of(f) == ORGAN for f in foods]
    asked = {g: way.seed_shares.get(g, share) for g, share in way.shares.items()}
    starch = next((g for g in way.shares if g in groups and STARCHY & set(g.split("+"))), None)
    if starch is not None:
        # The place of vegetables that are not there is not the meat's.
        asked[starch] += sum(share for g, share in asked.items() if g not in groups)
    shares = []
    for group, is_organ in zip(groups, organ, strict=True):
        if group is None:
            shares.append(BESIDE)
            continue
        whole = asked[group]
        like = [o for g, o in zip(groups, organ, strict=True) if g == group]
        meats, organs = like.count(False), like.count(True)
        if is_organ and meats:
            shares.append(min(ORGANS, whole) / organs)
        else:
            left = whole - (min(ORGANS, whole) if organs and meats else 0.0)
            shares.append(left / (meats or organs))
    return np.array(shares)
