"""Upper bounds of what a food without a value may hold, from the spread of the table itself.

A group of foods bounds a nutrient where at least LEAST_ROWS analysed rows of LEAST_FAMILIES families
are left: min(highest, 1.5 x 95th percentile). Where the table has too few, the bound by hand stands
(inputs/bounds_by_hand.csv). Left out are rows that are not ordinary lots of their group.
"""

import csv
import re
from collections import defaultdict
from pathlib import Path

import numpy as np
from wainscot_core.facts.attributes import Attributes, read_attributes
from wainscot_core.facts.bounds import groups_of

from .rules import read_csv

LEAST_ROWS = 20
LEAST_FAMILIES = 5
PERCENTILE = 95
FACTOR = 1.5
_FORTIFIED = re.compile(
    r"(?<![A-Z])(ENR|ENRICHED|FORT|FORTIFIED|ENHANCED|VIT [A-E] ADDED|W/ ADDED|WITH ADDED|ADDED VIT)(?![A-Z])"
)
# Computed from analysed values of the same row, so as good as those.
_BY_DEFINITION = {"CARTBEQ"}
_ONE_SPECIES = {"beef", "pork", "poultry", "lamb-game"}
# Groups that are bounded by nothing else than themselves.
_KINGDOMS = {"animal", "fish", "dairy-egg", "plant", "fat-oil"}


def _ordinary(tag: str, name: str, attributes: Attributes) -> bool:
    """Whether a row says something of an ordinary lot of its group."""
    if _FORTIFIED.search(name):
        return False
    if tag in {"NA", "CLD"} and attributes.added_salt != "none":
        return False
    return not (tag == "SE" and name.startswith("BRAZILNUTS"))


def build(folder: Path) -> int:
    """Write bounds.csv of a composition folder from its tables; count of bounds."""
    foods = {r["id"]: r for r in read_csv(folder / "foods.csv")}
    attributes = {r["id"]: read_attributes(r) for r in read_csv(folder / "attributes.csv")}
    grades = {r["code"]: r["grade"] for r in read_csv(folder / "provenance.csv")}
    codes = {r["id"]: r for r in read_csv(folder / "sources.csv")}
    values = read_csv(folder / "values.csv")
    tags = [t for t in values[0] if t != "id"]
    seen: dict[tuple[str, str], list[tuple[float, str]]] = defaultdict(list)
    for row in values:
        food = foods[row["id"]]
        name = food["source_name"].upper() or food["name"].upper()
        water = float(row["WATER"] or 100)
        groups = groups_of(food["class"], attributes[row["id"]], water)
        for tag in tags:
            code = codes[row["id"]][tag]
            grade = grades.get(code)
            if not row[tag] or grade == "derived":
                continue
            if grade != "analysed" and tag not in _BY_DEFINITION:
                continue
            if _ordinary(tag, name, attributes[row["id"]]):
                for group in groups:
                    seen[tag, group].append((float(row[tag]), name.split(",")[0].split(" ")[0]))
    found: dict[tuple[str, str], list[object]] = {}
    for (tag, group), rows in seen.items():
        amounts = np.array([v for v, _ in rows])
        families = len({f for _, f in rows})
        # One species is one family: the rows of beef are cuts of beef.
        species = group.split(",")[0] in _ONE_SPECIES
        if len(rows) < LEAST_ROWS or (families < LEAST_FAMILIES and not species):
            continue
        p95 = float(np.percentile(amounts, PERCENTILE))
        bound = min(float(amounts.max()), FACTOR * p95)
        found[tag, group] = [
            tag, group, f"{bound:.4g}", "table", len(rows), families, f"{p95:.4g}",
            f"{amounts.max():.4g}", "", "spread of the table's analysed rows",
        ]  # fmt: skip
    for row in read_csv(folder / "inputs" / "bounds_by_hand.csv"):
        key = (row["tag"], row["group"])
        if key not in found or row["group"] in _KINGDOMS or float(row["bound"]) == 0:
            found[key] = [
                *key, row["bound"], "hand", 0, 0, "", "", row["confidence"], row["source"],
            ]  # fmt: skip
    with (folder / "bounds.csv").open("w", newline="", encoding="utf-8") as handle:
        writer = csv.writer(handle, lineterminator="\n")
        writer.writerow(
            [
                "tag",
                "group",
                "bound",
                "rule",
                "rows",
                "families",
                "p95",
                "highest",
                "confidence",
                "source",
            ]
        )
        order = {t: i for i, t in enumerate(tags)}
        writer.writerows(found[k] for k in sorted(found, key=lambda k: (order[k[0]], k[1])))
    return len(found)
