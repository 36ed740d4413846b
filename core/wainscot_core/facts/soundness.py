"""How sure the food table is: what must be true of every food, held to the whole table.

Each check says how many foods it looked at and names those that break it.
"""

import itertools
from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .attributes import FLESH
from .bounds import POLYUNSATURATED
from .foods import FloatArray, Food, FoodLibrary, known_values

PROXIMATES = ("WATER", "PROCNT", "FAT", "CHOCDF", "ASH")
ESSENTIAL = ("ARG", "HIS", "ILE", "LEU", "LYS", "MET", "PHE", "THR", "TRP", "VAL")
SATURATION = ("FASAT", "FAMS", "FAPU")
# Sums of parts may exceed the whole by this share beside the rounding.
_OVER = 1.02
# Carotene of flesh, ug retinol activity, and what activity and its parts may miss by.
_CAROTENE_UG, _CAROTENE_SHARE, _ACTIVITY_UG, _ACTIVITY_SHARE = 2, 0.1, 1, 0.02


@dataclass(frozen=True)
class Spot:
    """A figure of a source table that must come out. within: share it may miss by."""

    food: str
    tag: str
    value: float
    within: float


@dataclass(frozen=True)
class HowChecked:
    """A kind of number, and how it was checked."""

    what: str
    how: str


@dataclass(frozen=True)
class SoundnessRules:
    """What is held true of every food (reference/soundness.yaml), figures that must come out, and pairs of
    raw and cooked foods that differ more than they should, with the reason."""

    data: Mapping[str, Any]
    spots: tuple[Spot, ...]
    pairs_explained: frozenset[tuple[str, str, str]]
    kinds: tuple[HowChecked, ...]
    recalled: str
    not_done: tuple[str, ...]

    @classmethod
    def from_data(
        cls,
        data: Mapping[str, Any],
        spots: Sequence[Mapping[str, str]],
        pairs: Sequence[Mapping[str, str]],
    ) -> "SoundnessRules":
        """Build from the parsed soundness.yaml, spot_values.csv and pairs_explained.csv."""
        return cls(
            data,
            tuple(
                Spot(
                    s["food"],
                    s["tag"],
                    float(s["value"]),
                    0.001 if "derived" in s["source"] else 0.0,
                )
                for s in spots
            ),
            frozenset((p["raw"], p["cooked"], p["tag"]) for p in pairs),
            tuple(HowChecked(k["what"], k["how"]) for k in data["kinds"]),
            str(data["recalled"]).strip(),
            tuple(data["not_done"]),
        )


@dataclass(frozen=True, kw_only=True)
class Check:
    """A check over the table: looked_at foods (or pairs, or figures), failures in words, and how many
    break it with a listed reason."""

    id: str
    name: str
    looked_at: int
    failures: tuple[str, ...]
    explained: int = 0


@dataclass(frozen=True, kw_only=True)
class Soundness:
    """The result of every check, and what the table holds: foods, derived ones among them, and values
    by grade."""

    foods: int
    plain_foods: int
    derived_foods: int
    nutrients: int
    values_by_grade: Mapping[str, int]
    checks: tuple[Check, ...]

    @property
    def failures(self) -> tuple[str, ...]:
        """Everything that breaks a check."""
        return tuple(f for check in self.checks for f in check.failures)


def soundness(library: FoodLibrary, rules: SoundnessRules) -> Soundness:
    """Hold a food table, with the energy its sources give, to every check."""
    stored = [i for i, n in enumerate(library.catalogue.nutrients) if not n.parts]
    grades = Counter(library.provenance[int(c)].grade for c in library.codes[:, stored].ravel())
    return Soundness(
        foods=len(library.foods),
        plain_foods=sum(f.plain for f in library.foods),
        derived_foods=sum(f.derived for f in library.foods),
        nutrients=len(stored),
        values_by_grade=dict(sorted(grades.items())),
        checks=tuple(check(library, rules) for check in CHECKS),
    )


def _column(library: FoodLibrary, key: str) -> FloatArray:
    column: FloatArray = library.values[:, library.catalogue.index(key)]
    return column


def _named(
    library: FoodLibrary, rows: NDArray[np.bool_], what: str, detail: FloatArray
) -> list[str]:
    return [
        f"{library.foods[i].id} {library.foods[i].name}: {what} ({detail[i]:.4g})"
        for i in np.flatnonzero(rows)
    ]


def _spots(library: FoodLibrary, rules: SoundnessRules) -> Check:
    failures = []
    for spot in rules.spots:
        got = float(_column(library, spot.tag)[library.row(spot.food)])
        if not abs(got - spot.value) <= max(spot.within * spot.value, 1e-9):
            failures.append(f"{spot.food} {spot.tag}: {got} instead of {spot.value:g}")
    return Check(
        id="spots", name="Figures of the source tables come out",
        looked_at=len(rules.spots), failures=tuple(failures),
    )  # fmt: skip


def _mass_balance(library: FoodLibrary, rules: SoundnessRules) -> Check:
    total = np.sum([_column(library, key) for key in PROXIMATES], axis=0)
    known = ~np.isnan(total)
    off = known & ~(np.abs(total - 100) <= rules.data["mass_balance_g"])
    what = "water + protein + fat + carbohydrate + ash"
    return Check(
        id="mass", name="Water, protein, fat, carbohydrate and ash make 100 g",
        looked_at=int(known.sum()), failures=tuple(_named(library, off, what, total)),
    )  # fmt: skip


def _parts(
    check_id: str, name: str, parts: tuple[str, ...], whole: str, what: str
) -> "Callable[[FoodLibrary, SoundnessRules], Check]":
    """A check that parts are not more than the whole they are part of."""

    def check(library: FoodLibrary, rules: SoundnessRules) -> Check:
        columns = np.array([_column(library, key) for key in parts])
        total = np.nansum(columns, axis=0)
        known = ~np.isnan(columns).all(axis=0) & ~np.isnan(_column(library, whole))
        over = known & (total > _column(library, whole) * _OVER + rules.data["rounding_g"])
        return Check(
            id=check_id, name=name, looked_at=int(known.sum()),
            failures=tuple(_named(library, over, what, total)),
        )  # fmt: skip

    return check


def _amino_ranges(library: FoodLibrary, rules: SoundnessRules) -> Check:
    data = rules.data["amino"]
    protein = _column(library, "PROCNT")
    groups = np.array([_protein_of(f) for f in library.foods])
    looked, failures = 0, []
    for group, ranges in data["ranges"].items():
        rows = (groups == group) & (protein >= data["protein_from_g"])
        looked += int((rows & ~np.isnan(_column(library, "LYS"))).sum())
        for tag, (least, most) in ranges.items():
            with np.errstate(divide="ignore", invalid="ignore"):
                share = _column(library, tag) / protein * 100
            # Small proteins are printed with few figures.
            slack = 0.5 / np.maximum(protein, 1)
            off = rows & ~np.isnan(share) & ((share < least - slack) | (share > most + slack))
            failures += _named(library, off, f"{tag} of its protein is not that of {group}", share)
    return Check(
        id="amino-ranges", name="Each amino acid per g of protein is that of its class",
        looked_at=looked, failures=tuple(failures),
    )  # fmt: skip


def _protein_of(food: Food) -> str:
    """What a food's protein is of, "" where no range is kept."""
    kind, group = food.attributes.kind, food.attributes.group
    if food.is_supplement or food.derived:
        return ""
    if kind == "skin":
        return "skin"
    if food.klass in FLESH and food.klass != "fish":
        return "flesh" if kind == "muscle" or group == "organ" else ""
    if food.klass == "dairy-egg":
        return "egg" if group == "egg" else "dairy"
    return food.klass


def _retinol(library: FoodLibrary, rules: SoundnessRules) -> Check:
    """Vitamin A activity is retinol + carotene / 12 (IOM 2001), in flesh nearly all of it retinol."""
    activity, retinol, carotene = (_column(library, k) for k in ("VITA_RAE", "RETOL", "CARTBEQ"))
    parts = retinol + carotene / 12
    known = ~np.isnan(activity - parts)
    off = np.abs(activity - parts) > _ACTIVITY_UG + _ACTIVITY_SHARE * activity
    plants = set(rules.data["flesh_with_plants"])
    flesh = np.array([f.klass in FLESH and f.id not in plants for f in library.foods])
    in_flesh = flesh & (carotene / 12 > _CAROTENE_UG + _CAROTENE_SHARE * activity)
    what = "vitamin A activity is not retinol + carotene / 12"
    return Check(
        id="vitamin-a", name="Vitamin A activity is retinol + carotene / 12, in flesh retinol",
        looked_at=int(known.sum()),
        failures=(
            *_named(library, off, what, activity - parts),
            *_named(library, in_flesh, "carotene in flesh", carotene),
        ),
    )  # fmt: skip


def _zeros(library: FoodLibrary, rules: SoundnessRules) -> Check:
    protein = _column(library, "PROCNT") >= rules.data["protein_from_g"]
    own = np.array([not f.is_supplement for f in library.foods])
    flesh = np.array([f.klass in FLESH for f in library.foods])
    failures = []
    for keys, rows in (
        (rules.data["never_zero"], protein & own),
        (rules.data["never_zero_in_flesh"], flesh & protein),
    ):
        for key in keys:
            column = _column(library, key)
            failures += _named(library, rows & (column == 0), f"{key} is 0", column)
    return Check(
        id="zeros", name="No zero of what every cell holds",
        looked_at=int((protein & own).sum()), failures=tuple(failures),
    )  # fmt: skip


def _pairs(library: FoodLibrary, rules: SoundnessRules) -> Check:
    """Cooked flesh holds per g of protein about what the raw one holds; what differs more is explained."""
    by_family: dict[tuple[str, str], list[int]] = {}
    for row, food in enumerate(library.foods):
        if food.klass in FLESH:
            by_family.setdefault((food.klass, food.family), []).append(row)
    protein, failures, met, looked = _column(library, "PROCNT"), [], set(), 0
    for rows in by_family.values():
        for raw, cooked in itertools.permutations(rows, 2):
            if (library.foods[raw].form, library.foods[cooked].form) != ("raw", "cooked"):
                continue
            looked += 1
            for key, (least, most) in rules.data["cooked_per_raw"].items():
                column = _column(library, key)
                with np.errstate(divide="ignore", invalid="ignore"):
                    kept = (column[cooked] / protein[cooked]) / (column[raw] / protein[raw])
                if least <= kept <= most or np.isnan(kept):
                    continue
                pair = (library.foods[raw].id[5:], library.foods[cooked].id[5:], key)
                met.add(pair)
                if pair not in rules.pairs_explained:
                    failures.append(
                        f"{library.foods[cooked].id} {library.foods[cooked].name}: {key} per g protein is "
                        f"{kept:.2g} of the raw food's ({library.foods[raw].id})"
                    )
    unneeded = sorted(rules.pairs_explained - met)
    failures += [f"pairs_explained.csv: {pair} needs no explaining" for pair in unneeded]
    return Check(
        id="pairs", name="Cooked flesh keeps per g of protein what the raw one holds",
        looked_at=looked, failures=tuple(failures), explained=len(met & rules.pairs_explained),
    )  # fmt: skip


def _drained(library: FoodLibrary, rules: SoundnessRules) -> Check:
    """What is drained after cooking or from its can has lost fat and water, not gained them."""
    data = rules.data["drained"]
    protein, fat, water = (_column(library, k) for k in ("PROCNT", "FAT", "WATER"))
    raw_of: dict[tuple[str, str], list[int]] = {}
    for row, food in enumerate(library.foods):
        if food.klass in FLESH and food.form == "raw":
            raw_of.setdefault((food.klass, food.family), []).append(row)
    looked, failures = 0, []
    for row, food in enumerate(library.foods):
        if food.klass not in FLESH or data["words"] not in food.attributes.processing:
            continue
        looked += 1
        if water[row] > data["water_g"]:
            failures.append(f"{food.id} {food.name}: drained, with {water[row]:.4g} g of water")
        for raw in raw_of.get((food.klass, food.family), ()):
            kept = (fat[row] / protein[row]) / (fat[raw] / protein[raw])
            if kept > data["fat_per_raw"]:
                failures.append(
                    f"{food.id} {food.name}: drained, with {kept:.2g} of the raw food's fat per g protein"
                )
    return Check(
        id="drained", name="What is drained has lost fat and water, not gained them",
        looked_at=looked, failures=tuple(failures),
    )  # fmt: skip


def salted_by_figure(
    data: Mapping[str, Any], food_id: str, klass: str, kind: str, values: Mapping[str, float]
) -> bool:
    """Whether a food holds more sodium than one of its class does by itself. `data`: the parsed
    soundness.yaml; `values` per 100 g by tag."""
    most, when = data["unsalted_na_mg"].get(klass), data["salted_when"]
    sodium, water = values.get("NA"), values.get("WATER")
    if most is None or sodium is None or kind in when["by_itself"] or food_id in when["foods"]:
        return False
    fresh = water is not None and water >= when["fresh_water_g"]
    return sodium > most and (fresh or klass not in when["fresh"])


def _salt(library: FoodLibrary, rules: SoundnessRules) -> Check:
    """A food that no salt was added to holds no more sodium than its class does by itself."""
    looked, failures = 0, []
    for food, row in zip(library.foods, library.values, strict=True):
        if food.is_supplement or food.with_bone or food.attributes.added_salt != "none":
            continue
        looked += 1
        values = known_values(library.catalogue, row)
        if salted_by_figure(rules.data, food.id, food.klass, food.attributes.kind, values):
            failures.append(
                f"{food.id} {food.name}: {values['NA']:.4g} mg of sodium, and no salt added"
            )
    return Check(
        id="salt", name="What no salt was added to holds no more sodium than its class",
        looked_at=looked, failures=tuple(failures),
    )  # fmt: skip


def _states(library: FoodLibrary, rules: SoundnessRules) -> Check:
    """What is listed raw is not taken for cooked, nor the other way round."""
    looked, failures = 0, []
    for food in library.foods:
        if food.is_supplement or food.form not in {"raw", "cooked"} or food.klass == "legume":
            continue  # tofu is set curd, whatever its row is called
        looked += 1
        if (food.form == "cooked") is not (food.attributes.state == "cooked"):
            failures.append(
                f"{food.id} {food.name}: listed {food.form}, taken for {food.attributes.state}"
            )
    return Check(
        id="states", name="What is listed raw is not taken for cooked, nor the other way round",
        looked_at=looked, failures=tuple(failures),
    )  # fmt: skip


def _plausible(library: FoodLibrary, rules: SoundnessRules) -> Check:
    most_of, beyond = rules.data["plausible"], rules.data["beyond"]
    failures, explained = [], 0
    for nutrient in library.catalogue.nutrients:
        column = _column(library, nutrient.key)
        failures += _named(library, column < 0, f"{nutrient.key} below 0", column)
        if nutrient.key not in most_of:
            continue
        named = np.array([nutrient.key in beyond.get(f.id, {}) for f in library.foods])
        high = column > most_of[nutrient.key]
        explained += int((high & named).sum())
        failures += _named(library, high & ~named, f"{nutrient.key} beyond any food", column)
    return Check(
        id="plausible", name="No amount below nothing or beyond any food",
        looked_at=len(library.foods), failures=tuple(failures), explained=explained,
    )  # fmt: skip


def _energy(library: FoodLibrary, rules: SoundnessRules) -> Check:
    data = rules.data["energy"]
    protein, fat, carbohydrate = (_column(library, k) for k in ("PROCNT", "FAT", "CHOCDF"))
    atwater = 4 * protein + 9 * fat + 4 * carbohydrate
    energy = _column(library, "ENERC")
    known = ~np.isnan(energy - atwater)
    off = known & (np.abs(energy - atwater) > np.maximum(data["share"] * atwater, data["kcal"]))
    explained = np.array(
        [f.klass in data["own_factors"] or f.id in data["explained"] for f in library.foods]
    )
    what = "energy more than 15 % from Atwater"
    return Check(
        id="energy", name="The energy a table gives is within 15 % of 4/9/4",
        looked_at=int(known.sum()),
        failures=tuple(_named(library, off & ~explained, what, energy - atwater)),
        explained=int((off & explained).sum()),
    )  # fmt: skip


CHECKS: tuple[Callable[[FoodLibrary, SoundnessRules], Check], ...] = (
    _spots,
    _mass_balance,
    _parts(
        "amino", "Essential amino acids are no more than the protein", ESSENTIAL, "PROCNT",
        "essential amino acids above protein",
    ),
    _amino_ranges,
    _parts(
        "fatty", "Single fatty acids are no more than the fat", POLYUNSATURATED, "FAT",
        "fatty acids above fat",
    ),
    _parts(
        "fatty-poly", "Polyunsaturated acids are no more than the polyunsaturated fat",
        POLYUNSATURATED, "FAPU", "single acids above polyunsaturated fat",
    ),
    _parts(
        "saturation", "Saturated and unsaturated fat are no more than the fat", SATURATION, "FAT",
        "saturated and unsaturated fat above fat",
    ),
    _parts(
        "fibre", "Fibre is no more than the carbohydrate", ("FIBTG",), "CHOCDF",
        "fibre above carbohydrate",
    ),
    _retinol,
    _zeros,
    _pairs,
    _drained,
    _salt,
    _states,
    _plausible,
    _energy,
)  # fmt: skip
