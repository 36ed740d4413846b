"""What a food is, as attributes: kind, species, skin, bone, salt, state, and classes of what it holds.

Plain foods were read one by one (inputs/attribute_foods.csv). The others take what the rules of
inputs/attribute_rules.csv say of their row's name: the first rule that sets an attribute wins. That
is done here, once, and its result is committed and read over: nothing looks at a name afterwards.
"""

import csv
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

import yaml
from wainscot_core.facts.attributes import FLESH, computed_levels
from wainscot_core.facts.soundness import salted_by_figure

from .rules import read_csv

COLUMNS = (
    "kind", "species", "skin", "bone", "added_salt", "processing", "state", "pulse", "oxalate",
    "purine", "copper", "thiaminase", "goitrogen", "histamine", "lactose", "gluten", "phytate", "fat",
    "fat_type", "sodium", "potassium", "fibre", "sugar", "reviewed",
)  # fmt: skip
COOKED = {
    "boiled, drained", "boiled", "simmered", "braised", "stewed", "broiled", "pan-fried", "roasted", "baked",
    "steamed", "cooked", "canned", "canned, drained", "canned in oil, drained", "pasteurised", "smoked",
}  # fmt: skip
BLADE = re.compile(r"ARM ?& ?BLD")
_FAT_TYPES = {
    "beef": "animal:ruminant",
    "pork": "animal:pork",
    "poultry": "animal:poultry",
    "fish": "animal:fish-n3",
}


@dataclass(frozen=True)
class Rule:
    """One rule: classes it is for, words of the row's name, and what it sets."""

    classes: frozenset[str]
    words: re.Pattern[str] | None
    unless: re.Pattern[str] | None
    sets: Mapping[str, str]

    def fits(self, klass: str, name: str) -> bool:
        """Whether it speaks of a row."""
        if "any" not in self.classes and klass not in self.classes:
            return False
        if self.words is not None and not self.words.search(name):
            return False
        return self.unless is None or not self.unless.search(name)


def _words(text: str) -> re.Pattern[str] | None:
    if not text:
        return None
    parts = [p if ".*" in p or "[" in p else re.escape(p) for p in text.split("|")]
    joined = "|".join(re.sub(r"^\\ |\\ $", "", p) for p in parts)
    return re.compile(rf"(?<![A-Z])(?:{joined})(?![A-Z])")


def read_rules(rows: Sequence[Mapping[str, str]]) -> tuple[Rule, ...]:
    """The rules in their order."""
    return tuple(
        Rule(
            frozenset(r["classes"].split()),
            _words(r["words"]),
            _words(r["unless"]),
            {c: r[c] for c in COLUMNS if r.get(c)},
        )
        for r in rows
    )


def by_rules(rules: Sequence[Rule], klass: str, name: str) -> dict[str, str]:
    """What the rules say of a row of the Standard Reference."""
    found: dict[str, str] = {}
    for rule in rules:
        if rule.fits(klass, name):
            for column, value in rule.sets.items():
                found.setdefault(column, value)
    return found


def species_of(rows: Sequence[Mapping[str, str]], klass: str, name: str) -> str:
    """The species of a row: the first entry of species_words.csv that its name, or a part of it,
    begins with; else the first part of the name itself."""
    parts = [name, *(p.strip() for p in name.split(","))]
    for row in rows:
        if row["classes"] != klass:
            continue
        if any(re.match(rf"{re.escape(row['word'])}(?![A-Z])", part) for part in parts):
            return row["species"]
    return re.sub(r"\(.*", "", parts[1]).strip().lower()


def _state(found: Mapping[str, str], klass: str, form: str) -> str:
    if klass == "fat-oil" or (klass == "dairy-egg" and form == "plain"):
        return "ready"
    if found.get("processing") in COOKED or form in {"cooked", "canned"}:
        return "cooked"
    if klass in {"grain", "legume", "nut-seed"} and found.get("kind") != "soy":
        return "dry"
    if form == "raw":
        return "raw"
    return "dry" if form == "dried" else "ready" if klass in {"herb-spice", "other"} else "raw"


def build(folder: Path) -> int:
    """Write attributes.csv of a composition folder from its tables and inputs; count of foods."""
    inputs = folder / "inputs"
    reviewed = {r["id"]: r for r in read_csv(inputs / "attribute_foods.csv")}
    rules = read_rules(read_csv(inputs / "attribute_rules.csv"))
    species = read_csv(inputs / "species_words.csv")
    values = {
        r["id"]: {k: float(v) for k, v in r.items() if k != "id" and v}
        for r in read_csv(folder / "values.csv")
    }
    foods = read_csv(folder / "foods.csv")
    held_to = yaml.safe_load((folder.parent / "soundness.yaml").read_text(encoding="utf-8"))
    with (folder / "attributes.csv").open("w", newline="", encoding="utf-8") as handle:
        writer = csv.writer(handle, lineterminator="\n")
        writer.writerow(["id", *COLUMNS])
        for food in foods:
            # BLD is boiled but for the shoulder, arm and blade.
            klass, name = food["class"], BLADE.sub("ARM AND BLADE", food["source_name"].upper())
            own = reviewed.get(food["id"])
            if own:
                found = {c: own[c] for c in COLUMNS if own.get(c)}
            else:
                found = by_rules(rules, klass, name)
                found["species"] = species_of(species, klass, name)
                if klass in {*FLESH, "dairy-egg"}:
                    found.setdefault("fat_type", _fat_type(found, klass))
                found["state"] = _state(found, klass, food["form"])
                kind, held = found.get("kind", ""), values[food["id"]]
                if found.get("added_salt") == "none" and salted_by_figure(
                    held_to, food["id"], klass, kind, held
                ):
                    found["added_salt"] = "added"
            # A class by arithmetic stands but for what the rules know better (a liver's copper).
            for column, value in computed_levels(klass, values[food["id"]]).items():
                found.setdefault(column, value)
            found["reviewed"] = "1" if own else "0"
            writer.writerow([food["id"], *(found.get(c, "") for c in COLUMNS)])
    return len(foods)


def _fat_type(found: Mapping[str, str], klass: str) -> str:
    if klass == "lamb-game":
        return (
            "animal:ruminant"
            if found.get("species") not in {"rabbit", "hare", "squirrel"}
            else "animal:rabbit"
        )
    if klass == "dairy-egg":
        return "animal:egg" if found.get("kind", "").startswith("egg") else "animal:milk"
    return _FAT_TYPES[klass]
