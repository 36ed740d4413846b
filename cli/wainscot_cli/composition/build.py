"""Build reference/composition/ from the public tables. Repeatable: same input, same bytes.

Order for a value: the Foundation Foods analysis of the same food > newest Standard Reference row of the
same NDB number > older row if not 0 > a twin differing only in salt or grade (never sodium) > the same food analysed
for the newest release > a survey food in the same state (never sodium) > patterns and
published side tables > unknown. A missing value is never written as 0.
"""

import csv
import re
import statistics
import sys
from collections import Counter
from collections.abc import Iterator
from pathlib import Path

import yaml
from wainscot_core.facts.soundness import PROXIMATES

from . import attributes, bounds, cooking, derived, names, rules, samples, sources
from .rules import Food, Register

NEVER_BORROWED = {"NA", "CLD"}
# What flour and rice are enriched with where the survey foods are from.
ENRICHED = {"FOL", "FE", "THIA", "RIBF", "NIA"}
SAME_FOOD = "same food"
WEAK_JOINS = {"R4", "R5", "R6"}
SR = "USDA National Nutrient Database for Standard Reference"


def build(packages: Path, inputs: Path, catalogue: Path, out: Path) -> dict[str, object]:
    """Write foods.csv, derived.csv, values.csv, sources.csv, provenance.csv and measures.csv; return counts."""
    a, b = sources.read_a(packages), sources.read_b(packages)
    register = Register()
    register.add(
        "A",
        "analysed",
        "USDA Standard Reference Legacy row of this food",
        SR + " Legacy (2018)",
        "high",
    )
    register.add(
        "B",
        "analysed",
        "USDA Standard Reference row of this food",
        SR + ", release of about 2008",
        "high",
    )
    joins = _best_joins(rules.read_csv(inputs / "joins.csv"), a["sr_legacy"], b)
    plain = {r["ndb"]: r for r in rules.read_csv(inputs / "plain_names.csv")}
    borrows: dict[str, list[dict[str, str]]] = {}
    for entry in rules.read_csv(inputs / "borrows.csv"):
        borrows.setdefault(entry["ndb"], []).append(entry)

    corrections: dict[str, list[dict[str, str]]] = {}
    for entry in rules.read_csv(inputs / "corrections.csv"):
        corrections.setdefault(entry["ndb"], []).append(entry)

    foods = []
    for ndb in sorted(set(b) | set(plain)):
        row = b.get(ndb)
        if ndb not in plain and (row is None or not names.is_whole_food(ndb, row.name)):
            continue
        klass = names.food_class(ndb)
        if klass is None:
            continue
        legacy = plain.get(ndb, {}).get("sr_legacy_name") or joins.get(ndb, "")
        name = (
            plain[ndb]["name"]
            if ndb in plain
            else legacy or names.plain_name(row.name if row else "")
        )
        source_name = row.name if row else legacy
        food = Food(ndb, name, source_name, klass, names.form_of(name + " " + source_name), {}, {})
        newest = a["sr_legacy"].get(legacy)
        donor = a["foundation"].get(_analysed_anew(borrows.get(ndb, [])))
        samples.take(food, list(_samples(donor, newest, row, register)), register)
        if donor:
            samples.energy_of_new_fat(food, newest or row, register)
        if row:
            _take_older(food, row, newest, register)
        foods.append(food)
    _fill_missing_proximates(foods, register)
    for food in foods:
        _borrow(food, plain.get(food.ndb, {}).get("sr_legacy_twin", ""), borrows, a, register)
        _balance(food, register)
        _correct(food, corrections.get(food.ndb, []), register)
    _fill_by_rules(foods, inputs, register)
    foods += derived.make({f.ndb: f for f in foods}, inputs, register)
    return _write(foods, register, b, plain, inputs, catalogue, out)


def _analysed_anew(borrows: list[dict[str, str]]) -> str:
    """Name of the Foundation Foods row of the very food, "" when there is none."""
    return next((b["donor"] for b in borrows if b["rule"] == SAME_FOOD), "")


def _samples(
    donor: sources.SourceRow | None,
    newest: sources.SourceRow | None,
    older: sources.SourceRow | None,
    register: Register,
) -> Iterator[samples.Sample]:
    if donor:
        code = register.add(
            f"F:{donor.name}",
            "analysed",
            f"Foundation Foods analysis '{donor.name}'",
            "USDA FoodData Central, Foundation Foods",
            "high",
        )
        yield samples.Sample(code, donor.values, samples.Zeros.TRACE)
    if newest:
        yield samples.Sample("A", newest.values, samples.Zeros.NONE)
    if older:
        yield samples.Sample("B", older.values, samples.Zeros.HOLE)


def _best_joins(
    rows: list[dict[str, str]],
    legacy: dict[str, sources.SourceRow],
    b: dict[str, sources.SourceRow],
) -> dict[str, str]:
    """NDB number -> legacy name; weak joins must agree on protein and fat."""
    out = {}
    for row in rows:
        newer, older = legacy.get(row["sr_legacy_name"]), b.get(row["ndb"])
        if newer is None or older is None:
            continue
        if row["rule"] in WEAK_JOINS and any(
            abs(newer.values.get(t, 0) - older.values[t]) > max(1.5, 0.2 * older.values[t])
            for t in ("PROCNT", "FAT")
        ):
            continue
        out[row["ndb"]] = row["sr_legacy_name"]
    return out


def _take_older(
    food: Food, row: sources.SourceRow, newest: sources.SourceRow | None, register: Register
) -> None:
    if newest and "VITA_RAE" in newest.values and food.codes.get("RETOL") == "B":
        revised = newest.values["VITA_RAE"]
        if food.klass in rules.ANIMAL and abs(revised - row.values["VITA_RAE"]) > 0.05 * max(
            revised, 1
        ):
            code = register.add(
                "r:retinol-revised",
                "borrowed",
                "Retinol set to the revised retinol activity of the newer row (animal food)",
                SR + " Legacy (2018)",
                "medium",
            )
            food.values["RETOL"], food.codes["RETOL"] = revised, code
    for tag, value in row.values.items():
        if tag.startswith("_") or value != 0 or tag in food.values:
            continue
        reason = rules.zero_reason(food, tag)
        if reason:
            code = register.add(
                f"z:{_slug(reason)}", "analysed", f"True zero: {reason}", SR, "high"
            )
            food.put(tag, 0.0, code)


def _correct(food: Food, entries: list[dict[str, str]], register: Register) -> None:
    """Printed values that cannot be: replaced with a reason, or taken out as holes."""
    for entry in entries:
        tag = entry["tag"]
        food.values.pop(tag, None)
        food.codes.pop(tag, None)
        if entry["value"]:
            code = register.add(
                f"co:{food.ndb}:{tag}", "pattern", f"Corrected: {entry['why']}", entry["source"],
                entry["confidence"],
            )  # fmt: skip
            food.put(tag, float(entry["value"]), code)


def _slug(text: str) -> str:
    return re.sub(r"[^a-z0-9]+", "-", text.lower())[:48].strip("-")


def _fill_missing_proximates(foods: list[Food], register: Register) -> None:
    """Rows only the newer table has lack water and ash: class median ash, water by difference."""
    by_class: dict[tuple[str, str], list[float]] = {}
    for food in foods:
        if food.codes.get("ASH") == "B":
            by_class.setdefault((food.klass, food.form), []).append(food.values["ASH"])
    for food in foods:
        if "WATER" in food.values or not {"PROCNT", "FAT", "CHOCDF"} <= set(food.values):
            continue
        ash = statistics.median(by_class.get((food.klass, food.form)) or [1.0])
        code = register.add(
            "r:ash-median", "pattern", "Ash as the median of its class and form", SR, "low"
        )
        food.put("ASH", round(ash, 2), code)
        water = 100 - sum(food.values[t] for t in ("PROCNT", "FAT", "CHOCDF")) - food.values["ASH"]
        food.put("WATER", round(max(0.0, water), 2), _difference(register))


def _difference(register: Register) -> str:
    return register.add(
        "r:water-difference",
        "pattern",
        "Water as 100 - protein - fat - carbohydrate - ash",
        "mass balance",
        "medium",
    )


def _borrow(
    food: Food,
    twin: str,
    borrows: dict[str, list[dict[str, str]]],
    a: dict[str, dict[str, sources.SourceRow]],
    register: Register,
) -> None:
    if twin and twin in a["sr_legacy"]:
        code = register.add(
            f"tw:{twin}",
            "borrowed",
            f"Borrowed from '{twin}', which differs only in salt or grade",
            SR + " Legacy (2018)",
            "medium",
        )
        for tag, value in a["sr_legacy"][twin].values.items():
            if tag not in NEVER_BORROWED:
                food.put(tag, value, code)
    for row in borrows.get(food.ndb, []):
        if row["rule"] == SAME_FOOD:
            continue
        donor = a[row["kind"]].get(row["donor"])
        if donor is None:
            sys.exit(f"borrows.csv: no {row['kind']} food named {row['donor']!r}")
        foundation = row["kind"] == "foundation"
        factor = 1.0
        if row["rule"] == "cooked to raw by protein":
            factor = food.values.get("PROCNT", 0) / donor.values["PROCNT"]
        label = "Foundation Foods" if foundation else "FNDDS survey food"
        code = register.add(
            f"{'fd' if foundation else 'sv'}:{row['donor']}{'' if factor == 1 else ':protein'}",
            "borrowed",
            f"Borrowed from {label} '{row['donor']}' ({row['rule']})",
            f"USDA FoodData Central, {label}",
            "medium" if factor == 1 else "low",
        )
        for tag, value in donor.values.items():
            if (tag in NEVER_BORROWED) or (tag in PROXIMATES) or tag in {"ENERC", "SUGAR"}:
                continue
            if not foundation and (value == 0 or tag in {"F20D5N3", "F22D6N3", "FASAT"}):
                continue
            if not foundation and tag in ENRICHED and "unenriched" in food.name:
                continue
            food.put(tag, float(f"{value * factor:.5g}"), code)


def _balance(food: Food, register: Register) -> None:
    """Where releases disagree so that the parts miss 100 g by over 3 g, take water by difference; and where
    carbohydrate is of the newest analysis, which took it by difference from a water of its own."""
    if not set(PROXIMATES) <= set(food.values):
        return
    total = sum(food.values[t] for t in PROXIMATES)
    anew = food.codes["CHOCDF"].startswith("F:") and food.codes["WATER"] == "B"
    if 97 <= total <= 103 and not anew:
        return
    water = food.values["WATER"] + 100 - total
    if food.codes["WATER"] == "B" and water >= 0:
        food.values["WATER"], food.codes["WATER"] = round(water, 2), _difference(register)


def _fill_by_rules(foods: list[Food], inputs: Path, register: Register) -> None:
    patterns = {r["pattern"]: r for r in rules.read_csv(inputs / "amino_acid_patterns.csv")}
    shares = {r["item"]: r for r in rules.read_csv(inputs / "fatty_acid_shares.csv")}
    side = {(r["tag"], r["item"]): r for r in rules.read_csv(inputs / "iodine_taurine.csv")}
    for food in foods:
        rules.fill_fatty_acids(food, shares, register)
        rules.fill_amino_acids(food, patterns, register)
        rules.fill_iodine_taurine(food, side, register)
        rules.fill_minor(food, register)
        samples.close_fats(food, register)


def _write(
    foods: list[Food],
    register: Register,
    b: dict[str, sources.SourceRow],
    plain: dict[str, dict[str, str]],
    inputs: Path,
    catalogue: Path,
    out: Path,
) -> dict[str, object]:
    entries = yaml.safe_load(catalogue.read_text())["nutrients"]
    tags = [e["key"] for e in entries if "derived" not in e]
    used = sorted({f.codes[t] for f in foods for t in tags if t in f.values})
    # Two rows of numbers, so that a derived food leaves the codes of the tables as they are.
    made = [code for code in used if code.startswith(rules.DERIVED)]
    taken = [code for code in used if code not in set(made)]
    short = {code: f"s{i}" if code not in {"A", "B"} else code for i, code in enumerate(taken)}
    short |= {code: f"d{i}" for i, code in enumerate(made)}

    def table(name: str, header: list[str], rows: list[list[object]]) -> None:
        with (out / name).open("w", newline="", encoding="utf-8") as handle:
            writer = csv.writer(handle, lineterminator="\n")
            writer.writerow(header)
            writer.writerows(rows)

    table("foods.csv", ["id", "name", "class", "form", "plain", "allergens", "source_name"], [
        [f.id, f.name, f.klass, f.form, int(f.ndb in plain or f.table == "der"), _allergens(f), f.source_name]
        for f in foods
    ])  # fmt: skip
    table("derived.csv", ["id", "like", "bone_share", "bone_protein_g"], [
        [f.id, f.like, f.bone_share or "", f.bone_protein_g or ""] for f in foods if f.table == "der"
    ])  # fmt: skip
    table("values.csv", ["id", *tags], [
        [f.id, *(f"{f.values[t]:.6g}" if t in f.values else "" for t in tags)] for f in foods
    ])  # fmt: skip
    table("sources.csv", ["id", *tags], [
        [f.id, *(short[f.codes[t]] if t in f.values else "" for t in tags)] for f in foods
    ])  # fmt: skip
    table("provenance.csv", ["code", "grade", "text", "citation", "confidence", "spread"], [
        [short[c], e.grade, e.text, e.citation, e.confidence, rules.spread_of(e)]
        for c, e in ((c, register.entries[c]) for c in used)
    ])  # fmt: skip
    table(
        "measures.csv",
        ["id", "measure", "grams", "source", "confidence"],
        _measures(foods, b, inputs),
    )
    attributes.build(out)
    bounds.build(out)
    cooking.build(out)
    grades = Counter(
        register.entries[f.codes[t]].grade for f in foods for t in tags if t in f.values
    )
    grades["unknown"] = len(foods) * len(tags) - sum(grades.values())
    return {
        "foods": len(foods),
        "nutrients": len(tags),
        "values_by_grade": dict(sorted(grades.items())),
    }


def _allergens(food: Food) -> str:
    if food.allergens:
        return food.allergens
    words = f"{food.name} {food.source_name}" if food.klass == "fat-oil" else food.name
    return " ".join(names.allergens_of(words, food.klass))


def _measures(
    foods: list[Food], b: dict[str, sources.SourceRow], inputs: Path
) -> list[list[object]]:
    """Household weights of a food: the side table for named foods, its pieces, the table's own two."""
    rows: list[list[object]] = []
    side = rules.read_csv(inputs / "household_measures.csv")
    pieces = rules.read_csv(inputs / "piece_measures.csv")
    mapped = {r["ndb"]: r["item"] for r in rules.read_csv(inputs / "measure_items.csv")}
    for food in foods:
        have = set()
        for row in side:
            if row["item"] == mapped.get(food.ndb):
                measure = re.sub(r"^each ?", "each ", row["measure"]).strip()
                have.add(measure)
                rows.append([food.id, measure, row["grams"], row["source"], row["confidence"]])
        for row in pieces:
            if row["ndb"] == food.ndb and row["measure"] not in have:
                have.add(row["measure"])
                rows.append(
                    [food.id, *(row[c] for c in ("measure", "grams", "source", "confidence"))]
                )
        for text, grams in b[food.ndb].measures if food.ndb in b else ():
            match = re.fullmatch(r"([\d.]+) (.+)", text)
            if not match or float(match[1]) == 0:
                continue
            measure = re.sub(r"\s*,\s*", ", ", match[2])
            if measure not in have:
                have.add(measure)
                each = float(f"{grams / float(match[1]):.5g}")
                rows.append([food.id, measure, each, SR + " household weights", "high"])
    for row in rules.read_csv(inputs / "derived_measures.csv"):
        rows.append([row[c] for c in ("id", "measure", "grams", "source", "confidence")])
    return rows
