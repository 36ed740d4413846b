"""The most that a food without a value may hold, by its class: an upper bound for what is unknown.

The bounds come from the spread of the table itself (composition/bounds.csv, built with it) and from
what cannot be otherwise: fatty acids are part of the fat, amino acids of the protein. Where nothing
bounds a value, infinity does, and the verdict stays open.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from .attributes import Attributes
from .nutrients import Catalogue

if TYPE_CHECKING:
    from .foods import Food

FloatArray = NDArray[np.float64]

# Under so much water a food counts as dry, g per 100 g.
FRESH_WATER_G = 50.0
# No food at all holds more of an amino acid per g of protein, by tag (measured: the highest share of
# the table, and a margin).
AMINO_SHARE = {
    "ARG": 0.18, "HIS": 0.075, "ILE": 0.065, "LEU": 0.14, "LYS": 0.10, "MET": 0.038, "CYS": 0.028,
    "PHE": 0.08, "TYR": 0.056, "THR": 0.055, "TRP": 0.027, "VAL": 0.085,
}  # fmt: skip
POLYUNSATURATED = ("F18D2N6", "F18D3N3", "F20D4N6", "F20D5N3", "F22D6N3")
_KINGDOM = {
    "beef": "animal", "pork": "animal", "lamb-game": "animal", "poultry": "animal", "fish": "fish",
    "dairy-egg": "dairy-egg", "grain": "plant", "legume": "plant", "vegetable": "plant",
    "fruit": "plant", "nut-seed": "plant", "herb-spice": "plant", "fat-oil": "fat-oil",
}  # fmt: skip
_PART = {
    "organ:liver": "liver", "organ:kidney": "kidney", "skin": "fat tissue", "fat:animal": "fat tissue",
    "bone": "bone", "fish:oily": "oily fish", "fish:lean": "lean fish", "fish:roe": "roe",
    "shellfish:mollusc": "mollusc", "shellfish:crustacean": "crustacean", "egg:whole": "whole egg",
    "egg:yolk": "egg yolk", "egg:white": "egg white", "dairy:milk": "milk", "dairy:fermented": "milk",
    "dairy:cream": "cream", "dairy:butter": "cream", "dairy:aged-cheese": "cheese",
    "dairy:fresh-cheese": "cheese", "grain:bran": "bran", "leafy": "leaf", "brassica": "leaf",
    "herb": "leaf", "root": "root", "fungus": "fungus", "seaweed": "seaweed", "alga": "alga",
    "fat:plant": "plant oil", "fat:fish": "fish oil", "fat:fish-liver": "fish-liver oil",
    "fat:spread": "spread", "yeast": "yeast",
}  # fmt: skip


def groups_of(klass: str, attributes: Attributes, water: float) -> tuple[str, ...]:
    """The groups a food belongs to, the narrowest first: part and water, part, class and water, class,
    kingdom. Empty for what has no class of its own (a practice's own food)."""
    if klass not in _KINGDOM:
        return ()
    wet = "dry" if water < FRESH_WATER_G else "fresh"
    part = _PART.get(attributes.kind, "")
    if not part and attributes.group == "organ":
        part = "organ"
    named = part or klass
    found = [f"{named}, {wet}", named]
    if part in {"liver", "kidney"}:
        found += [f"organ, {wet}", "organ"]
    if part in {"yeast", "fish-liver oil"}:
        return tuple(found)  # what is like no other is bounded by nothing else
    if part in {"liver", "kidney", "organ", "bone"}:
        return (*found, "animal")
    if part in {"seaweed", "alga"}:
        return (*found, "herb-spice, dry", "plant")
    found += [f"{klass}, {wet}", klass, _KINGDOM[klass]]
    return tuple(dict.fromkeys(found))


@dataclass(frozen=True)
class ClassBounds:
    """Upper bounds per 100 g: by tag, the bound of each group that has one."""

    by_tag: Mapping[str, Mapping[str, float]] = field(default_factory=dict)

    @classmethod
    def from_rows(cls, rows: Iterable[Mapping[str, str]]) -> "ClassBounds":
        """Build from the rows of composition/bounds.csv."""
        found: dict[str, dict[str, float]] = {}
        for r in rows:
            found.setdefault(r["tag"], {})[r["group"]] = float(r["bound"])
        return cls(found)

    def of_groups(self, tags: Sequence[str], groups: Sequence[str]) -> FloatArray:
        """(tags,) bound of the narrowest group that has one; infinity where none has."""
        return np.array(
            [
                next((b[g] for g in groups if g in b), np.inf)
                for b in (self.by_tag.get(t, {}) for t in tags)
            ]
        )

    def upper(
        self, catalogue: Catalogue, foods: Sequence["Food"], values: FloatArray
    ) -> FloatArray:
        """(foods, nutrients) the most each value may be, whether it is known or not."""
        tags = catalogue.keys
        water = np.nan_to_num(values[:, catalogue.index("WATER")], nan=100.0)
        by_groups: dict[tuple[str, ...], FloatArray] = {}
        rows = []
        for food, wet in zip(foods, water, strict=True):
            groups = food.bound_groups(float(wet))
            if groups not in by_groups:
                by_groups[groups] = self.of_groups(tags, groups)
            rows.append(by_groups[groups])
        upper = np.array(rows).reshape(values.shape)
        _physical(catalogue, values, upper)
        return upper


NO_BOUNDS = ClassBounds()


def _physical(catalogue: Catalogue, values: FloatArray, upper: FloatArray) -> None:
    """Cut bounds down by what cannot be otherwise, in place; derived columns from their parts."""

    def known(tag: str) -> FloatArray:
        column: FloatArray = values[:, catalogue.index(tag)]
        return column

    protein, fat, pufa = known("PROCNT"), known("FAT"), known("FAPU")
    with np.errstate(invalid="ignore"):
        for tag, share in AMINO_SHARE.items():
            column = catalogue.index(tag)
            upper[:, column] = np.fmin(upper[:, column], share * protein)
        poly = [catalogue.index(t) for t in POLYUNSATURATED]
        others = np.nansum(values[:, poly], axis=1)
        room = np.maximum(pufa * 1.02 + 0.05 - others, 0.0)
        for column in poly:
            upper[:, column] = np.fmin(np.fmin(upper[:, column], room), fat)
        whole = {"FASAT": fat, "FAMS": fat, "FAPU": fat}
        whole |= dict.fromkeys(("STARCH", "SUGAR", "FIBTG"), known("CHOCDF"))
        for tag, most in whole.items():
            column = catalogue.index(tag)
            upper[:, column] = np.fmin(upper[:, column], most)
    for column, nutrient in enumerate(catalogue.nutrients):
        if nutrient.parts:
            parts = [catalogue.index(p) for p in nutrient.parts]
            total = np.zeros(len(values))
            for part, weight in zip(parts, nutrient.weights, strict=True):
                of_part = values[:, part]
                # What is taken away may be nothing.
                most = upper[:, part] if weight > 0 else np.zeros(len(values))
                total += weight * np.where(np.isnan(of_part), most, of_part)
            upper[:, column] = np.maximum(total, 0.0)
