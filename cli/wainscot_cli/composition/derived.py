"""Foods that dogs are fed and the tables lack, made from what is known: marked as derived, each value
with a range, and unknown where nothing is known.

- with bone: soft rows of the table x (1 - bone share) + bone as trimmed x bone share. What no figure of
  bone is known for comes from the soft part alone.
- proxy: another food of the table, with figures of its own where those differ.
- published figures: typical figures of a few sources.
Amino acids may follow the pattern of a food of the table, per g of protein.
"""

import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

from wainscot_core.facts.soundness import PROXIMATES

from .rules import AMINO, DERIVED, Food, Register, read_csv

# A range is told in steps of so many percent either way.
_STEP_PCT = 5
# By how much a proxy's value and an amino acid by a pattern may be off.
_PROXY_PCT, _PATTERN_PCT = 25, 30


@dataclass(frozen=True)
class Range:
    """A value per 100 g with the least and most it may be."""

    value: float
    low: float
    high: float

    @classmethod
    def about(cls, value: float, off_pct: float) -> "Range":
        """A value that may be off by so many percent either way."""
        return cls(value, value * (1 - off_pct / 100), value * (1 + off_pct / 100))

    @property
    def off_pct(self) -> int:
        """By how many percent it may be off, either way, rounded up to a step."""
        if self.value <= 0:
            return 0
        share = max(self.high - self.value, self.value - self.low) / self.value
        return math.ceil(round(share * 100, 6) / _STEP_PCT) * _STEP_PCT


NONE = Range(0.0, 0.0, 0.0)


@dataclass(frozen=True)
class Bone:
    """Bone as trimmed: its name and what is known of 100 g."""

    name: str
    values: Mapping[str, Range]

    def of(self, tag: str) -> Range:
        """What it brings of a nutrient; nothing where nothing is known, energy from protein and fat."""
        if tag == "ENERC":
            protein, fat = self.values["PROCNT"], self.values["FAT"]
            return Range(
                4 * protein.value + 9 * fat.value,
                4 * protein.low + 9 * fat.low,
                4 * protein.high + 9 * fat.high,
            )
        return self.values.get(tag, NONE)


@dataclass(frozen=True)
class Soft:
    """Rows of the table, mixed by weight."""

    parts: Sequence[tuple[Food, float]]

    @property
    def name(self) -> str:
        """The rows in words."""
        return " and ".join(f"'{food.name}'" for food, _ in self.parts)

    def values(self) -> dict[str, float]:
        """What is known of every one of them, mixed."""
        tags = [t for t in self.parts[0][0].values if all(t in f.values for f, _ in self.parts)]
        return {t: sum(f.values[t] * share for f, share in self.parts) for t in tags}


@dataclass(frozen=True)
class _Maker:
    """One derived food while it is made. said: its sources and what must be known of it."""

    food: Food
    register: Register
    source: str
    said: str
    confidence: str

    def put(self, tag: str, found: Range, kind: str, words: str) -> None:
        """Set a value that is still unknown. kind tells its text from the food's others."""
        if tag in self.food.values:
            return
        code = self.register.add(
            f"{DERIVED}{self.food.ndb}:{kind}:{found.off_pct}", "derived",
            f"Derived: {words}. {self.said}".strip(), self.source, self.confidence,
        )  # fmt: skip
        self.food.put(tag, round(found.value, 6), code)

    def with_bone(self, soft: Soft, bone: Bone, share: Range) -> None:
        """Soft part and bone by weight; the range is that of both."""
        words = (
            f"{1 - share.value:.0%} {soft.name} and {share.value:.0%} ({share.low:.0%} to "
            f"{share.high:.0%}) {bone.name[0].lower()}{bone.name[1:]}"
        )
        for tag, flesh in soft.values().items():
            # A gland left on the neck holds what nobody analysed.
            if tag == "ID" and "gland" in self.food.like:
                continue
            part = bone.of(tag)
            ends = [
                (1 - s) * flesh + s * b
                for s, b in itertools.product((share.low, share.high), (part.low, part.high))
            ]
            whole = (1 - share.value) * flesh + share.value * part.value
            known = tag == "ENERC" or tag in bone.values
            told = words if known else f"{words}, of which no figure is known"
            self.put(tag, Range(whole, min(ends), max(ends)), "bone" if known else "soft", told)

    def amino_acids(self, donor: Food) -> None:
        """The pattern of another food for its protein."""
        protein = self.food.values["PROCNT"]
        for tag in AMINO:
            if tag in donor.values:
                value = donor.values[tag] / donor.values["PROCNT"] * protein
                words = f"amino acids per g of protein as of '{donor.name}'"
                self.put(tag, Range.about(value, _PATTERN_PCT), "amino", words)


def make(table: Mapping[str, Food], inputs: Path, register: Register) -> list[Food]:
    """Every derived food of derived_foods.csv. `table`: foods by NDB number. KeyError for a part that is
    not there."""
    bones = _bones(inputs)
    own: dict[str, dict[str, Range]] = {}
    for row in read_csv(inputs / "derived_values.csv"):
        own.setdefault(row["id"], {})[row["tag"]] = _range(row)
    foods = []
    for row in read_csv(inputs / "derived_foods.csv"):
        food = Food(
            row["id"].removeprefix(DERIVED), row["name"], "", row["class"], row["form"], {}, {},
            table=DERIVED.rstrip(":"), allergens=row["allergens"], like=row["like"],
        )  # fmt: skip
        said = "; ".join(x for x in (row["source"], row["note"]) if x)
        maker = _Maker(food, register, row["source"], said, row["confidence"])
        soft = _soft(table, row["soft"])
        for tag, found in _closed(own.get(row["id"], {})).items():
            maker.put(tag, found, "own", "typical figure")
        if row["bone"]:
            bone = bones[row["bone"]]
            share = Range(*(float(row[c]) / 100 for c in ("bone_pct", "bone_low", "bone_high")))
            food.bone_share = share.value
            food.bone_protein_g = round(share.value * bone.values["PROCNT"].value, 3)
            maker.with_bone(soft, bone, share)
        elif soft.parts:
            for tag, value in soft.values().items():
                maker.put(tag, Range.about(value, _PROXY_PCT), "as", f"as {soft.name}")
        if row["amino_pattern"]:
            maker.amino_acids(_row(table, row["amino_pattern"]))
        if row["rest"] == "none":
            for tag in dict.fromkeys(t for other in table.values() for t in other.values):
                maker.put(tag, NONE, "rest", "it holds none worth counting")
        foods.append(food)
    return foods


def _bones(inputs: Path) -> dict[str, Bone]:
    rows = read_csv(inputs / "bones.csv")
    return {
        kind: Bone(same[0]["name"], {r["tag"]: _range(r) for r in same})
        for kind, same in (
            (kind, list(group)) for kind, group in itertools.groupby(rows, lambda r: r["bone"])
        )
    }


def _soft(table: Mapping[str, Food], text: str) -> Soft:
    """Rows as they are written: "usda:05053 x 0.5 + usda:05088 x 0.5"."""
    parts = [part.split(" x ") for part in text.split(" + ") if part]
    return Soft([(_row(table, food), float(share)) for food, share in parts])


def _row(table: Mapping[str, Food], food_id: str) -> Food:
    return table[food_id.removeprefix("usda:")]


def _range(row: Mapping[str, str]) -> Range:
    return Range(float(row["value"]), float(row["low"]), float(row["high"]))


def _closed(values: dict[str, Range]) -> dict[str, Range]:
    """Typical figures with carbohydrate by difference, as tables take it, where that is in its range
    and no less than its fibre."""
    if not set(PROXIMATES) <= set(values):
        return values
    carbohydrate = values["CHOCDF"]
    left = 100 - sum(values[t].value for t in PROXIMATES if t != "CHOCDF")
    fibre = values["FIBTG"].value if "FIBTG" in values else 0.0
    if not max(fibre, carbohydrate.low) <= left <= carbohydrate.high:
        return values
    return {**values, "CHOCDF": Range(round(left, 3), carbohydrate.low, carbohydrate.high)}
