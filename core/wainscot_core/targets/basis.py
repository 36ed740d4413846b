"""How a standard's figures per 1000 kcal move with what a dog eats.

One continuous rule for every standard: a minimum is the highest at the lowest intake, passes through
every printed column, and has no step anywhere. Maximums do not move (reference/basis.yaml).
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import pairwise
from typing import Any

from ..facts.nutrients import Catalogue
from ..figures import plainly
from ..units import convert
from .standards import (
    ChosenStages,
    LifeStage,
    Limit,
    Origin,
    RequirementSet,
    Rise,
    Sets,
    Standard,
    Strength,
    requirement_set,
)


class Basis(StrEnum):
    """What a minimum is held on: per 1000 kcal, per kg^0.75 a day, or the one that asks more."""

    STRICTER = "stricter"
    PER_1000_KCAL = "per-1000-kcal"
    PER_KG75 = "per-kg75"


@dataclass(frozen=True)
class BasisRules:
    """The rule of reference/basis.yaml. least_intake in kcal per kg^0.75. shut, room: of a window, as shares of its
    ceiling: under the one there is none, the other is left where one end gives way."""

    default: Basis
    names: Mapping[Basis, str]
    words: Mapping[Basis, str]
    unscaled: Mapping[str, str]
    least_intake: float
    least_why: str
    poisons: tuple[str, ...]
    poison_intake: float
    narrow: float
    shut: float
    room: float
    maximums: str
    sources: tuple[str, ...]

    @classmethod
    def from_data(cls, data: Mapping[str, Any]) -> "BasisRules":
        """Build from the parsed file."""
        modes = {Basis(k): v for k, v in data["modes"].items()}
        return cls(
            Basis(data["default"]),
            {k: v["name"] for k, v in modes.items()},
            {k: v["words"] for k, v in modes.items()},
            dict(data["unscaled"]),
            float(data["least_intake"]["value"]),
            data["least_intake"]["why"],
            tuple(data["poisons"]["keys"]),
            float(data["poisons"]["reference_kcal_per_kg75"]),
            float(data["narrow"]),
            float(data["window"]["shut"]),
            float(data["window"]["room"]),
            data["maximums"].strip(),
            tuple(x["text"] for x in data["sources"]),
        )


@dataclass(frozen=True, kw_only=True)
class BasisUsed:
    """On what the minimums of a case are held: the choice, what the dog eats in kcal per kg^0.75 of the
    weight that is fed, the lowest and highest factor on a printed minimum, and all of it in words."""

    basis: Basis
    name: str
    intake_kcal_per_kg75: float
    least_factor: float
    most_factor: float
    words: str


Column = tuple[float, float]


def minimum_at(
    columns: Sequence[Column], intake: float, basis: Basis, scaled: bool, falls: bool
) -> float:
    """A minimum per 1000 kcal for a dog that eats `intake` kcal per kg^0.75 a day.

    columns: (intake, printed minimum), the highest intake first. Between two columns the amount is
    interpolated in 1 / intake, in which the same amount per kg^0.75 is a straight line. scaled: the
    need follows the weight, not the energy. falls: above the highest column the amount per kg^0.75 is
    kept, where only that basis is asked for.
    """
    (top_intake, top), (low_intake, low) = columns[0], columns[-1]
    if intake >= top_intake:
        keeps = basis is Basis.PER_KG75 and scaled and falls
        return top * top_intake / intake if keeps else top
    if intake <= low_intake:
        keeps = basis is not Basis.PER_1000_KCAL and scaled
        return low * low_intake / intake if keeps else low
    for (above, more), (below, less) in pairwise(columns):
        if below <= intake <= above:
            share = (1 / intake - 1 / above) / (1 / below - 1 / above)
            return more + (less - more) * share
    raise ValueError("columns must fall from the highest intake to the lowest")


def required(
    catalogue: Catalogue,
    standard: Standard,
    chosen: ChosenStages,
    intake: float,
    basis: Basis,
    rules: BasisRules,
) -> RequirementSet:
    """The standard's limits for a dog that eats `intake` kcal per kg^0.75 a day, with their origins.

    Of several stages the strictest of each bound holds.
    """
    sets = [_of_stage(catalogue, standard, s, intake, basis, rules) for s in chosen.stages]
    name = f"{standard.name}, {chosen.name}"
    limits: dict[str, Limit] = {}
    for found in sets:
        for key, limit in found.items():
            limits[key] = limit if key not in limits else _stricter(limits[key], limit)
    for rise in standard.rises:
        if rise.key not in limits or rise.other not in catalogue:
            continue
        limit, other = limits[rise.key], limits.get(rise.other)
        per_unit = rise.per_unit * _units(catalogue, rise.key, rise.unit)
        above = (other.minimum or 0.0) if rise.above_minimum and other else 0.0
        base = (limit.minimum or 0.0) if rise.above_minimum else 0.0
        added = Rise(
            other=rise.other, per_unit=per_unit, base=base, above=above, strength=rise.strength,
            words=rise.words, source=rise.source, confidence=rise.confidence,
        )  # fmt: skip
        limits[rise.key] = replace(limit, rises=(*limit.rises, added))
    return RequirementSet(name, limits)


def _units(catalogue: Catalogue, key: str, unit: str) -> float:
    return convert(key, 1.0, unit, catalogue.get(key).unit)


def _of_stage(
    catalogue: Catalogue,
    standard: Standard,
    stage: LifeStage,
    intake: float,
    basis: Basis,
    rules: BasisRules,
) -> dict[str, Limit]:
    columns = [standard.life_stages[i] for i in stage.between] or [stage]
    sets = [requirement_set(catalogue, standard, c.id).limits for c in columns]
    if columns[0].intake_kcal_per_kg75 is None:
        return sets[0]
    intakes = [c.intake_kcal_per_kg75 or 0.0 for c in columns]
    eaten = max(intake, rules.least_intake)
    per_kg75 = {x.key: x for x in columns[0].limits if x.per_kg75 is not None}
    moved = {}
    for key, limit in sets[0].items():
        printed = [limits[key] for limits in sets]
        scaled = limit.unit != "ratio" and key not in rules.unscaled
        found = _moved(printed, intakes, eaten, basis, scaled, standard.per_kg75_column)
        if key in per_kg75:
            row = per_kg75[key]
            amount = (row.per_kg75 or 0.0) * _units(catalogue, key, row.unit)
            found = _by_its_own_column(found, amount, f"{row.per_kg75:g} {row.unit}", eaten, basis)
        moved[key] = found
    return moved


def _moved(
    printed: Sequence[Limit],
    intakes: Sequence[float],
    eaten: float,
    basis: Basis,
    scaled: bool,
    falls: bool,
) -> Limit:
    limit = printed[0]
    lows = [x.minimum if x.minimum is not None else x.advised_min for x in printed]
    known = [x for x in lows if x is not None]
    if len(known) < len(lows):
        return limit
    low = minimum_at(list(zip(intakes, known, strict=True)), eaten, basis, scaled, falls)
    factor = low / known[0] if known[0] else 1.0
    origins = []
    for origin in limit.origins:
        if origin.which is Sets.MIN:
            origin = _told(origin, printed, intakes, low, factor, eaten)
        origins.append(origin)
    return replace(
        limit,
        minimum=None if limit.minimum is None else low,
        advised_min=None if limit.advised_min is None else low,
        recommended=None if limit.recommended is None else limit.recommended * factor,
        origins=tuple(origins),
    )


def _told(
    origin: Origin,
    printed: Sequence[Limit],
    intakes: Sequence[float],
    low: float,
    factor: float,
    eaten: float,
) -> Origin:
    """A moved minimum says from what, by how much and why."""
    texts = [o.printed for x in printed for o in x.origins if o.which is Sets.MIN]
    if len(texts) > 1:
        texts = [f"{t} at {i:g}" for t, i in zip(texts, intakes, strict=True)]
        told = f"{', '.join(texts)} kcal per kg^0.75"
    else:
        told = texts[0]
    if abs(factor - 1) < 1e-9:
        return replace(origin, printed=told)
    assumed = " and ".join(f"{i:.0f}" for i in intakes)
    note = (
        f"x {factor:.2f}: the dog is fed {eaten:.0f} kcal per kg^0.75 and the standard's figures "
        f"assume {assumed}, so the minimum is held per kg^0.75"
    )
    return replace(
        origin, value=low, moved=factor, printed=f"{told} ({plainly(low, 4)} held per kg^0.75)",
        note="; ".join(x for x in (origin.note, note) if x),
    )  # fmt: skip


def _by_its_own_column(
    limit: Limit, per_kg75: float, printed: str, eaten: float, basis: Basis
) -> Limit:
    """A minimum whose column per kg^0.75 does not agree with the one per 1000 kcal: it binds where only
    that basis is asked for, and is advice beside the other."""
    if basis is Basis.PER_1000_KCAL:
        return limit
    value = per_kg75 * 1000 / eaten
    first = next(o for o in limit.origins if o.which is Sets.MIN)
    binds = basis is Basis.PER_KG75
    own = replace(
        first, value=value, printed=f"{printed} per kg^0.75 a day", moved=1.0,
        strength=first.strength if binds else Strength.ADVISED,
    )  # fmt: skip
    if binds:
        origins = tuple(own if o is first else o for o in limit.origins)
        recommended = None if limit.recommended is None else value
        return replace(limit, minimum=value, recommended=recommended, origins=origins)
    return replace(limit, advised_min=value, origins=(*limit.origins, own))


def _stricter(one: Limit, other: Limit) -> Limit:
    """The higher of each minimum and the lower of each maximum, with the origins of both."""

    def high(a: float | None, b: float | None) -> float | None:
        return max((x for x in (a, b) if x is not None), default=None)

    def low(a: float | None, b: float | None) -> float | None:
        return min((x for x in (a, b) if x is not None), default=None)

    return replace(
        one,
        minimum=high(one.minimum, other.minimum),
        recommended=high(one.recommended, other.recommended),
        maximum=low(one.maximum, other.maximum),
        advised_min=high(one.advised_min, other.advised_min),
        advised_max=low(one.advised_max, other.advised_max),
        origins=(*one.origins, *other.origins),
    )


def basis_used(
    rules: BasisRules,
    standard: Standard,
    chosen: ChosenStages,
    intake: float,
    basis: Basis,
    limits: Mapping[str, Limit],
) -> BasisUsed:
    """On what the minimums are held, in words that stand by themselves."""
    factors = [
        o.moved for x in limits.values() for o in x.origins if o.which is Sets.MIN and o.value
    ]
    most, least = max(factors, default=1.0), min(factors, default=1.0)
    reference = sorted(
        {
            i
            for s in chosen.stages
            for c in ([standard.life_stages[b] for b in s.between] or [s])
            if (i := c.intake_kcal_per_kg75) is not None
        }
    )
    said = [f"{rules.names[basis]}{' (the default)' if basis is rules.default else ''}."]
    fed = f"The dog is fed {intake:.0f} kcal per kg^0.75"
    if not reference:
        said.append(
            f"{fed}; {standard.name} gives {chosen.name.lower()} per 1000 kcal only and assumes no "
            "intake, so nothing is raised."
        )
    else:
        assumed = " and ".join(f"{i:.0f}" for i in reference)
        said.append(f"{fed}; {standard.name} assumes {assumed}.")
        if most > 1.0005:
            said.append(
                f"Minimums are raised up to x {most:.2f}, but for fat and ratios; maximums stay."
            )
        elif least < 0.9995:
            said.append(f"Minimums are lowered down to x {least:.2f}; maximums stay.")
        else:
            said.append("The printed minimums hold.")
        if basis is Basis.PER_1000_KCAL and intake < reference[0] * 0.9995:
            said.append(
                f"Held per kg^0.75 they would be x {reference[0] / max(intake, rules.least_intake):.2f}."
            )
        if intake < rules.least_intake:
            said.append(f"Under {rules.least_intake:g} kcal they are not raised further.")
    return BasisUsed(
        basis=basis, name=rules.names[basis], intake_kcal_per_kg75=intake, least_factor=least,
        most_factor=most, words=" ".join(said),
    )  # fmt: skip
