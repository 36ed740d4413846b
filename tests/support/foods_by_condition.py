"""The table of what every condition says of every plain food, as kept and read over in
tests/fixtures/foods_by_condition.csv. `python -m tests.support.foods_by_condition` writes it anew: read
the difference cell by cell before keeping it."""

import csv
from pathlib import Path

from wainscot_core.dossier import reference
from wainscot_core.dossier.reference import Reference
from wainscot_core.targets.food_rules import Verdict, on_food, rules_for

ROOT = Path(__file__).resolve().parents[2]
KEPT = ROOT / "tests" / "fixtures" / "foods_by_condition.csv"
LETTERS = {
    Verdict.NEVER: "never", Verdict.AVOID: "avoid", Verdict.LIMIT: "limit", Verdict.PREFER: "prefer",
    Verdict.ALLOW: "",
}  # fmt: skip


def columns(facts: Reference) -> dict[str, tuple[str, str]]:
    """Condition and stage by the head of their column; stages with the same rules share the first's."""
    found: dict[str, tuple[str, str]] = {}
    seen = set()
    for condition in facts.conditions.values():
        for stage in list(condition.stages) or [""]:
            mine = [r for r in rules_for(facts.food_rules, [(condition.id, stage)])
                    if r.condition == condition.id]  # fmt: skip
            key = tuple((r.condition, r.rule.text, r.verdict, r.strength) for r in mine)
            if mine and key not in seen:
                seen.add(key)
                found[f"{condition.id} {stage}".strip()] = (condition.id, stage)
    return found


def table(facts: Reference) -> list[list[str]]:
    """Rows of the table with its head: food, name, one verdict a column; ? for one that is open."""
    heads = columns(facts)
    rows = [["food", "name", *heads]]
    for food in sorted(facts.library.foods, key=lambda f: f.id):
        if food.is_supplement or not food.attributes.reviewed:
            continue
        cells = []
        for head in heads.values():
            rules = [r for r in rules_for(facts.food_rules, [head]) if r.condition == head[0]]
            said = on_food(rules, food.attributes)
            word = LETTERS[said.rule.verdict] if said.rule else ""
            cells.append(f"{word}?" if said.open else word)
        rows.append([food.id, food.name, *cells])
    return rows


def kept() -> list[list[str]]:
    """The table as it was read over."""
    with KEPT.open(encoding="utf-8", newline="") as f:
        return list(csv.reader(f))


if __name__ == "__main__":
    with KEPT.open("w", encoding="utf-8", newline="") as f:
        csv.writer(f, lineterminator="\n").writerows(table(reference.load(ROOT / "reference")))
