"""Which food can be cooked how, with its row of yields and the fat it keeps, and which rows are one food in
several forms: read from names once, here; the result is committed, and nothing looks at a name afterwards.
"""

import csv
import re
from collections.abc import Iterator, Mapping, Sequence
from pathlib import Path
from typing import Any

import yaml

from .rules import read_csv

_FORM_WORDS = re.compile(
    r",?\s*\b(raw|cooked|boiled|roasted|braised|simmered|stewed|baked|broiled|steamed|canned|drained"
    r"|dried|dry|uncooked|hard-boiled|with water|no salt|in skin|without skin|pan-browned|crumbles|patty)\b"
)


def family_of(name: str) -> str:
    """A food's name without the words of its form: rows of one family are one food in several forms."""
    return re.sub(r"\s+", " ", _FORM_WORDS.sub("", name.lower())).strip(" ,")


def build(folder: Path) -> int:
    """Write cooking.csv and families.csv of a composition folder from its foods; count of uses."""
    rules = yaml.safe_load((folder / "inputs" / "cooking_rules.yaml").read_text(encoding="utf-8"))
    foods = read_csv(folder / "foods.csv")
    boned = {r["id"] for r in read_csv(folder / "derived.csv") if r["bone_share"]}
    uses = [
        [food["id"], method, *_use(rule, food)]
        for food in foods
        if food["id"] not in boned
        for method, rule in rules.items()
        if any(_fits(entry, food) for entry in rule["for"])
    ]
    header = ["id", "method", "item", "how", "fat_kept_pct", "fat_cooked_g"]
    _write(folder / "cooking.csv", header, uses)
    families = [[f["id"], family_of(f["name"])] for f in foods]
    _write(folder / "families.csv", ["id", "family"], families)
    return len(uses)


def _write(path: Path, header: Sequence[str], rows: Sequence[Sequence[object]]) -> None:
    with path.open("w", newline="", encoding="utf-8") as handle:
        writer = csv.writer(handle, lineterminator="\n")
        writer.writerow(header)
        writer.writerows(rows)


def _fits(entry: Mapping[str, str], food: Mapping[str, str]) -> bool:
    return (
        food["class"] in entry["class"].split()
        and food["form"] in entry["form"].split()
        and re.search(entry.get("name", ""), food["name"], re.I) is not None
        and not (entry.get("not") and re.search(entry["not"], food["name"], re.I))
    )


def _use(rule: Mapping[str, Any], food: Mapping[str, str]) -> Iterator[object]:
    name = food["name"]
    yields = rule.get("yields", ())
    yield from next(((item, how) for p, item, how in yields if re.search(p, name, re.I)), ("", ""))
    for column in ("fat_kept_pct", "fat_per_100g_cooked"):
        yield next((v for p, v in rule.get(column, ()) if re.search(p, name)), "")
