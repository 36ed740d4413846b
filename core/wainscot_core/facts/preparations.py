"""Weighed in one form, fed in another: weight yield and nutrient retention by method.

Retention is true retention: the share of what was in the raw weight that is left. A nutrient
without a published factor is counted whole, and the step says so.
"""

import statistics
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..confidence import Confidence
from ..errors import InputError
from ..trace import Quantity, Step
from .food_energy import after_cooking
from .foods import FloatArray, Food, FoodLibrary

_SOLIDS = ("PROCNT", "FAT", "CHOCDF", "ASH")


@dataclass(frozen=True)
class Rendering:
    """How much of its fat flesh keeps when drippings or broth are thrown away and no cooked row of the
    same food tells: by class, steps of (fat of the raw food under this, g per 100 g; share kept)."""

    by_class: Mapping[str, tuple[tuple[float, float], ...]]
    source: str

    def kept(self, klass: str, raw_fat_g: float) -> float:
        """Share of the fat that is left."""
        steps = self.by_class.get(klass, self.by_class[""])
        return next((share for under, share in steps if raw_fat_g < under), steps[-1][1])


@dataclass(frozen=True)
class Use:
    """A method on one food: share of its weight that is left, with the source, and what fat it keeps:
    a share of its own, or g in 100 g cooked; None where no figure of its own is known. low, high: how far the share that
    is left may be off, None where nobody said."""

    yield_share: float
    source: str
    fat_kept: float | None = None
    fat_cooked: float | None = None
    low: float | None = None
    high: float | None = None


NO_YIELD = Use(1.0, "no yield published")


@dataclass(frozen=True)
class Method:
    """A way to cook: what is retained, and on which foods of the table by id. own, own_classes: the use on
    raw foods of a practice's own, by class. rendering: where fat runs off and is not fed. how: the ways of cooking
    that it stands for; step: what a cook is told."""

    id: str
    label: str
    retained: dict[str, float]
    source: str
    liquid_kept: bool
    fat_source: str
    rendering: Rendering | None
    uses: Mapping[str, Use]
    own: Use = NO_YIELD
    own_classes: frozenset[str] = frozenset()
    how: tuple[str, ...] = ()
    step: str = ""

    def use_on(self, food: Food) -> Use | None:
        """Its use on a food as it is weighed; None where it cannot be used. Bone is never cooked."""
        if food.with_bone:
            return None
        if not food.family and food.klass in self.own_classes and food.form == "raw":
            return self.own
        return self.uses.get(food.id)


@dataclass(frozen=True)
class Prepared:
    """A method applied to a food: share of weight left (yield_low and yield_high: how far it may be off), (N,)
    retention, and the trace."""

    method: Method
    yield_share: float
    retention: FloatArray
    steps: tuple[Step, ...]
    yield_low: float = 1.0
    yield_high: float = 1.0


def read_methods(
    data: dict[str, Any],
    retention_rows: Sequence[Mapping[str, str]],
    yield_rows: Sequence[Mapping[str, str]],
    cooking_rows: Sequence[Mapping[str, str]],
) -> tuple[Method, ...]:
    """Build from methods.yaml, retention.csv, yields.csv and the table's cooking.csv. KeyError for a row
    that is not there."""
    factors: dict[tuple[str, str], dict[str, float]] = {}
    sources: dict[tuple[str, str], str] = {}
    for row in retention_rows:
        key = (row["group"], row["method"])
        factors.setdefault(key, {})[row["tag"]] = float(row["retained_pct"]) / 100
        sources[key] = row["source"]
    yields = {(r["item"], r["method"]): _left(r) for r in yield_rows}
    uses: dict[str, dict[str, Use]] = {}
    for row in cooking_rows:
        uses.setdefault(row["method"], {})[row["id"]] = _use(row, yields)
    steps = dict(data["rendering"])
    source = str(steps.pop("source"))
    rendering = Rendering(
        {k: tuple((float(g), pct / 100) for g, pct in v) for k, v in steps.items()}, source
    )
    methods = []
    for entry in data["methods"]:
        key = (entry["retention"][0], entry["retention"][1])
        retained = {**factors[key], **{t: v / 100 for t, v in entry.get("extra", {}).items()}}
        own = entry.get("own", {})
        methods.append(
            Method(
                entry["id"],
                entry["label"],
                retained,
                sources[key],
                entry.get("liquid") == "kept",
                entry.get("fat_source", ""),
                rendering if entry.get("fat") == "runs off" else None,
                uses.get(entry["id"], {}),
                yields[tuple(own["yield"])] if "yield" in own else NO_YIELD,
                frozenset(own.get("class", "").split()),
                tuple(entry["how"]),
                entry["step"],
            )
        )
    return tuple(methods)


def _left(row: Mapping[str, str]) -> Use:
    share, low, high = (float(row[name]) / 100 for name in ("yield_pct", "low", "high"))
    return Use(share, row["source"], low=low, high=high)


def _use(row: Mapping[str, str], yields: Mapping[tuple[str, str], Use]) -> Use:
    known = yields[(row["item"], row["how"])] if row["item"] else NO_YIELD
    return replace(
        known,
        fat_kept=float(row["fat_kept_pct"]) / 100 if row["fat_kept_pct"] else None,
        fat_cooked=float(row["fat_cooked_g"]) if row["fat_cooked_g"] else None,
    )


def methods_for(methods: Sequence[Method], food: Food) -> tuple[Method, ...]:
    """The ways this food can be prepared from the form it is listed in; none with bone in it."""
    return tuple(m for m in methods if m.use_on(food) is not None)


def prepare(methods: Sequence[Method], library: FoodLibrary, row: int, method_id: str) -> Prepared:
    """Apply a method to a food. Raises InputError naming the methods that would do."""
    food = library.foods[row]
    possible = {m.id: m for m in methods_for(methods, food)}
    if method_id not in possible:
        none = (
            "none: bone is never cooked, it splinters; choose the meat without it"
            if food.with_bone
            else "none: choose a raw form of the food"
        )
        known = ", ".join(possible) or none
        raise InputError("preparation", f"{food.name} cannot be {method_id!r}; use one of: {known}")
    method = possible[method_id]
    use = method.use_on(food) or NO_YIELD
    catalogue = library.catalogue
    share, source = 1.0, "everything is fed"
    low = high = share
    if not method.liquid_kept:
        share, source = use.yield_share, use.source
        low = share if use.low is None else use.low
        high = share if use.high is None else use.high
    retention = np.ones(len(catalogue.nutrients))
    for tag, left in method.retained.items():
        retention[catalogue.index(tag)] = left
    fat, fat_source = _fat_left(method, use, library, row)
    if fat is not None:
        for tag in (
            "FAT",
            "FASAT",
            "FAMS",
            "FAPU",
            "F18D2N6",
            "F18D3N3",
            "F20D4N6",
            "F20D5N3",
            "F22D6N3",
        ):
            retention[catalogue.index(tag)] = fat
        # The lost fat takes its energy with it.
        kcal = float(library.values[row, catalogue.index("ENERC")])
        retention[catalogue.index("ENERC")] = after_cooking(
            library, row, retention, kcal, library.me
        )
    _derive(catalogue, library.values[row], retention)
    _set_water(library, row, retention, share)
    steps: tuple[Step, ...] = (
        Step("Weight after cooking", "raw weight x yield", (Quantity("yield", share, "", source),), share, "g/g", source, Confidence.MEDIUM),
        Step(
            "Retention", "raw amount x share retained",
            tuple(Quantity(catalogue.get(t).name, v, "", method.source) for t, v in method.retained.items()),
            1.0, "", f"{method.source}; nutrients without a factor are counted whole", Confidence.LOW,
        ),
    )  # fmt: skip
    if fat is not None:
        steps += (
            Step("Fat kept", "raw fat x share kept", (Quantity("share kept", fat, "", fat_source),), fat, "g/g", fat_source, Confidence.LOW),
        )  # fmt: skip
    return Prepared(method, share, retention, steps, low, high)


def _fat_left(method: Method, use: Use, library: FoodLibrary, row: int) -> tuple[float | None, str]:
    """Share of the fat that is left and where that is from; None where none runs off or fat is unknown."""
    raw = float(library.values[row, library.catalogue.index("FAT")])
    if use.fat_cooked is not None and raw > 0:
        return min(1.0, use.fat_cooked * use.yield_share / raw), method.fat_source
    linked = _fat_of_cooked_rows(library, row) if method.rendering and raw > 0 else []
    if linked:
        names = "; ".join(name for name, _ in linked)
        kept = min(1.0, statistics.median(share for _, share in linked))
        return kept, f"fat per g protein of {names}, USDA Standard Reference"
    if use.fat_kept is not None:
        return use.fat_kept, method.fat_source
    if method.rendering is None or not raw > 0:
        return None, ""
    return method.rendering.kept(library.foods[row].klass, raw), method.rendering.source


def _fat_of_cooked_rows(library: FoodLibrary, row: int) -> list[tuple[str, float]]:
    """Fat per g protein of every cooked row of the same food, as a share of the raw food's."""
    fat, protein = (library.values[:, library.catalogue.index(k)] for k in ("FAT", "PROCNT"))
    food = library.foods[row]
    found = []
    for other_row in library.rows_by_form.get((food.klass, "cooked"), ()):
        other = library.foods[other_row]
        if not same_food(food, other):
            continue
        kept = (fat[other_row] / protein[other_row]) / (fat[row] / protein[row])
        if np.isfinite(kept):
            found.append((other.name, float(kept)))
    return found


def _derive(catalogue: Any, values: FloatArray, retention: FloatArray) -> None:
    """Retention of a derived column is that of its parts, by what they bring."""
    for i, nutrient in enumerate(catalogue.nutrients):
        if not nutrient.parts:
            continue
        parts = [catalogue.index(p) for p in nutrient.parts]
        amounts = np.array([values[p] * w for p, w in zip(parts, nutrient.weights, strict=True)])
        whole = amounts.sum()
        if np.isfinite(whole) and whole > 0:
            retention[i] = float((amounts * retention[parts]).sum() / whole)


def _set_water(library: FoodLibrary, row: int, retention: FloatArray, share: float) -> None:
    """Water is what is left of the cooked weight beside the solids."""
    catalogue = library.catalogue
    solids = sum(
        float(np.nan_to_num(library.values[row, catalogue.index(k)]))
        * retention[catalogue.index(k)]
        for k in _SOLIDS
    )
    water = float(np.nan_to_num(library.values[row, catalogue.index("WATER")]))
    if water > 0:
        retention[catalogue.index("WATER")] = max(0.0, 100 * share - solids) / water


@dataclass(frozen=True)
class MethodChoice:
    """A way of preparing a food, to choose from."""

    id: str
    label: str


def method_choices(methods: Sequence[Method], food: Food) -> tuple[MethodChoice, ...]:
    """The ways a food can be prepared from the form it is listed in."""
    return tuple(MethodChoice(m.id, m.label) for m in methods_for(methods, food))


@dataclass(frozen=True)
class LinkedForm:
    """Another form of the same food, and its weight per weight of the first by protein."""

    food: Food
    weight_share: float | None


def same_food(food: Food, other: Food) -> bool:
    """Whether two rows are one food in several forms."""
    return food.family != "" and (food.klass, food.family) == (other.klass, other.family)


def forms_of(library: FoodLibrary, row: int) -> tuple[LinkedForm, ...]:
    """Plain foods of the same family in another form.

    The weight share is protein per 100 g of this form over that of the other: protein is what
    cooking moves least. None when either is unknown.
    """
    food = library.foods[row]
    column = library.catalogue.index("PROCNT")
    own = library.values[row, column]
    linked = []
    for other_row, other in enumerate(library.foods):
        if other_row == row or not other.plain or not same_food(food, other):
            continue
        theirs = library.values[other_row, column]
        share = float(own / theirs) if theirs > 0 and own > 0 else None
        linked.append(LinkedForm(other, share))
    return tuple(linked)
