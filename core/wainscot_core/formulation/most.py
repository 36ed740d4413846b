"""The most there may be of a food, of a kind of food, and of what supplements bring."""

from collections.abc import Collection, Sequence
from dataclasses import replace

import numpy as np

from ..dossier.dossier import Dossier
from ..facts.foods import Food
from ..facts.formulation_rules import CapOf
from ..facts.nutrients import Catalogue
from ..targets.safe_limits import added_ceilings
from ..targets.standards import Limit, RequirementSet
from .problem import Candidate, Cap, Contents
from .rows import RESERVE

INFINITY = float("inf")
EPA_DHA, SODIUM, CHLORIDE = "EPADHA", "NA", "CLD"
# The batch may bring less energy than its target, so that what stays weighs more.
KEPT_ROOM = 0.10
# 22.990 and 35.45 of 58.44 g (IUPAC 2021).
SODIUM_MG_PER_G_SALT, CHLORIDE_MG_PER_G_SALT = 393.4, 606.6
# Sodium in a gram of what is mostly salt, mg.
MOSTLY_SALT = 200.0
CARRIERS = ("ENERC", "PROCNT", "FAT", "CHOCDF")


def most_dose(dossier: Dossier, food: Food, kcal: float) -> float:
    """Most of a supplement in a batch, g: what its label allows; pieces a person would give a day, or of a powder
    without a label so much by energy."""
    rules, given = dossier.reference.formulation, food.handling
    by_label = given.most_by_label(kcal, dossier.weight_kg * dossier.days) if given else INFINITY
    if given is not None and given.unit_g is not None:
        pieces = rules.pieces_per_day.get(given.form, rules.defaults["pieces_per_day"])
        return min(pieces * given.unit_g * dossier.days, by_label)
    return by_label if by_label < INFINITY else rules.defaults["powder_most_g"] * kcal / 1000


def caps_of(
    dossier: Dossier, candidates: Sequence[Candidate], contents: Contents
) -> tuple[Cap, ...]:
    """The caps on kinds of food that bear on these candidates. One that the recipe passes already gives
    way: what is the consultant's choice is not made impossible."""
    rules = dossier.reference.formulation
    found = []
    for rule in rules.caps:
        inside = [
            not c.is_supplement and rule.when.holds(c.food.attributes) is True for c in candidates
        ]
        sets = (
            [[j == i for j in range(len(candidates))] for i, m in enumerate(inside) if m]
            if rule.each
            else [inside]
        )
        for members in sets:
            if not any(members):
                continue
            # What the recipe holds already is made less where there is room, not made impossible.
            gives = rule.gives or _share_now(rule.of, members, candidates, contents) > rule.most
            name = candidates[members.index(True)].food.name if rule.each else rule.words
            key = f"{rule.id}:{members.index(True)}" if rule.each else rule.id
            found.append(
                Cap(
                    key, name, rule.source, rule.of, rule.most, tuple(members),
                    gives,
                )
            )  # fmt: skip
    return tuple(found)


def _share_now(
    of: CapOf, members: Sequence[bool], candidates: Sequence[Candidate], contents: Contents
) -> float:
    """The share of the recipe's foods that these are now, of its energy or its weight as fed."""
    grams = np.array(
        [0.0 if c.is_supplement or c.excluded else c.current_grams for c in candidates]
    )
    parts = grams * (contents.kcal if of is CapOf.ENERGY else contents.fed)
    whole = float(parts.sum())
    return float(parts[np.array(members)].sum()) / whole if whole > 0 else 0.0


def useful_most(
    candidates: Sequence[Candidate],
    contents: Contents,
    catalogue: Catalogue,
    requirements: RequirementSet,
    kcal: float,
    apart: Collection[str] = (),
) -> list[Candidate]:
    """Added supplements bounded by use: as much as would meet alone every minimum (and recommended
    or advised value) it brings something of, and not less than can be measured. More of it helps nothing; where a
    ratio counts its nutrient, or a minimum rises, as much as the maximum of that nutrient allows. apart: nutrients for whose
    minimum nothing is added.
    """
    ratios = {
        k for r in catalogue.ratios if r.key in requirements.limits for k in (*r.top, *r.bottom)
    }
    wanted = np.zeros(len(catalogue.nutrients))
    for key, limit in requirements.limits.items():
        if key not in catalogue or key in apart:
            continue
        most = max(limit.minimum or 0.0, limit.recommended or 0.0, limit.advised_min or 0.0)
        if key in ratios or limit.rises:
            most = limit.ceiling or 4 * most
        wanted[catalogue.index(key)] = most
    # What carries the active part is no reason to give more of it.
    wanted[[catalogue.index(k) for k in CARRIERS]] = 0.0
    found = []
    with np.errstate(divide="ignore", invalid="ignore"):
        grams = np.where(contents.low > 0, wanted * kcal / 1000 / contents.low, 0.0).max(axis=1)
    for c, useful in zip(candidates, grams, strict=True):
        if c.line is None and c.is_supplement and useful < c.high_grams:
            least = max(useful, c.least_grams, c.increment.grams)
            whole = np.ceil(least / c.increment.grams - 1e-9) * c.increment.grams
            c = replace(c, high_grams=min(c.high_grams, float(whole)))
        found.append(c)
    return found


def added_most(
    dossier: Dossier, candidates: Sequence[Candidate], contents: Contents, kcal: float
) -> dict[str, float]:
    """What supplements may add at most by tag, in catalogue units per 1000 kcal: safe limits on what is
    added, and of EPA and DHA, and of salt, little more than is asked for, or than the least that can be measured.
    Salt is asked for by sodium and chloride: iodine is no reason for more of it."""
    rules = dossier.reference.formulation
    most = added_ceilings(dossier.targets.safe, dossier.library.catalogue, dossier.targets.facts)
    useful, catalogue, limits = rules.useful, dossier.library.catalogue, dossier.requirements.limits

    def least(key: str, rich: float = 0.0) -> float:
        """The least of it that can be measured of a supplement that holds more than so much in a gram."""
        brought = contents.high[:, catalogue.index(key)]
        found = [
            c.least_grams * float(each) / kcal * 1000 * (1 + RESERVE)
            for c, each in zip(candidates, brought, strict=True)
            if c.least_grams > 0 and c.is_supplement and each > rich
        ]
        return min(found, default=0.0)

    fatty = useful["epa_dha_of_need"] * asked_of(limits.get(EPA_DHA))
    salt = useful["salt_of_need"] * max(
        asked_of(limits.get(SODIUM)),
        asked_of(limits.get(CHLORIDE)) * SODIUM_MG_PER_G_SALT / CHLORIDE_MG_PER_G_SALT,
    )
    most_salt = useful["salt_g_per_mcal"] * SODIUM_MG_PER_G_SALT
    spoon = min(least(SODIUM, MOSTLY_SALT), useful["salt_spoon_g_per_mcal"] * SODIUM_MG_PER_G_SALT)
    own = {
        EPA_DHA: max(fatty, useful["epa_dha_g_per_mcal"], least(EPA_DHA)),
        SODIUM: min(max(salt, spoon), most_salt),
    }
    # What the consultant fixed stays, as long as the safe limits let it; what she gives of a fish oil, or of salt,
    # does not grow beyond its need.
    stays = np.array(
        [(c.current_grams if c.fixed else c.low_grams) if c.dosed else 0.0 for c in candidates]
    )
    given = np.array(
        [
            c.current_grams if c.dosed and not c.is_supplement and not c.excluded else 0.0
            for c in candidates
        ]
    )
    salted = np.array(
        [c.current_grams if c.is_supplement and not c.excluded else 0.0 for c in candidates]
    )
    now = float(contents.kcal @ [0.0 if c.excluded else c.current_grams for c in candidates])
    for key, value in own.items():
        column = catalogue.index(key)
        fixed = float(contents.high[:, column] @ stays) / kcal * 1000 * (1 + 2 * KEPT_ROOM)
        hers = given if key == EPA_DHA else salted
        had = float(contents.high[:, column] @ hers) / now * 1000 if now > 0 else 0.0
        if key == SODIUM:
            had = min(had, most_salt)
        most[key] = min(max(value, fixed, had), most.get(key, INFINITY))
    return most


def asked_of(limit: Limit | None) -> float:
    """The most that is asked of a nutrient, as a minimum or as advice; 0 where nothing is."""
    return max(limit.minimum or 0.0, limit.advised_min or 0.0) if limit else 0.0
