"""Bounds that the consultant sets for one formulation: on a nutrient or a ratio, beside the targets of the case.

They only make a target tighter. What a standard, a condition or the vet team asks stays: another target is decided
among the targets, with a reason.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from ..boundary import Number
from ..confidence import Confidence
from ..dossier.dossier import Dossier
from ..errors import InputError
from ..facts.nutrients import Catalogue
from ..targets.standards import Limit, Origin, Sets, Strength

SOURCE = "your bound"


@dataclass(frozen=True, kw_only=True)
class OwnBound:
    """At least and at most so much of a nutrient, catalogue unit per 1000 kcal; of a ratio the ratio itself."""

    least: Number | None = None
    most: Number | None = None


def bounded(dossier: Dossier, bounds: Mapping[str, OwnBound]) -> Dossier:
    """The dossier with these bounds beside its targets. Raises InputError (bounds.KEY) for a bound that cannot be."""
    if not bounds:
        return dossier
    catalogue, targets = dossier.library.catalogue, dossier.targets
    limits = dict(targets.requirements.limits)
    for key, bound in bounds.items():
        unit = _unit_of(catalogue, key)
        limit = limits.get(key) or Limit(key, unit, None, None, None)
        limits[key] = _tightened(catalogue, limit, bound)
    requirements = replace(targets.requirements, limits=limits)
    return replace(dossier, targets=replace(targets, requirements=requirements))


def _unit_of(catalogue: Catalogue, key: str) -> str:
    if key in catalogue:
        return catalogue.get(key).unit
    if any(r.key == key for r in catalogue.ratios):
        return ""
    raise InputError(f"bounds.{key}", "is not a nutrient or a ratio of the catalogue")


def _tightened(catalogue: Catalogue, limit: Limit, bound: OwnBound) -> Limit:
    at = f"bounds.{limit.key}"
    if any(x is not None and x < 0 for x in (bound.least, bound.most)):
        raise InputError(at, "cannot be below 0")
    least = max((x for x in (limit.minimum, bound.least) if x is not None), default=None)
    most = min((x for x in (limit.maximum, bound.most) if x is not None), default=None)
    ceiling = min((x for x in (most, limit.safe) if x is not None), default=None)
    if least is not None and ceiling is not None and least > ceiling:
        name = catalogue.name_of(limit.key)
        raise InputError(
            at, f"{name} cannot be at least {least:g} and at most {ceiling:g} {limit.unit}".rstrip()
        )
    origins = list(limit.origins)
    for which, mine, before in ((Sets.MIN, least, limit.minimum), (Sets.MAX, most, limit.maximum)):
        if mine is not None and mine != before:
            origins = [
                _own(which, mine, limit.unit),
                *(
                    replace(o, overridden_by=SOURCE)
                    if o.which is which and not o.overridden_by
                    else o
                    for o in origins
                ),
            ]
    return replace(limit, minimum=least, maximum=most, origins=tuple(origins))


def _own(which: Sets, value: float, unit: str) -> Origin:
    printed = f"{value:g} {unit} per 1000 kcal" if unit else f"{value:g}"
    return Origin(
        which=which, value=value, unit=unit, source=SOURCE, citation="set for this formulation",
        confidence=Confidence.HIGH, checked=True, printed=printed, strength=Strength.OWN,
    )  # fmt: skip
