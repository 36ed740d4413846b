"""Settings of a formulation as the case file and the server take them, and what a case avoids."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from ..casefile import Line, as_list, as_number, as_object
from ..conditions import Condition
from ..errors import InputError
from ..exclusions import Avoidance, Reaction, reaction_groups, trial_of, why_excluded
from ..foods import FoodLibrary
from ..interactions import met_by, not_suggested
from ..reference import Reference
from .candidates import LineRule
from .problem import MacroTarget
from .proposal import Settings

ROLES = ("", "free", "fixed", "excluded")


def read_settings(data: Mapping[str, Any]) -> Settings:
    """The "formulate" section of a case file. Raises InputError naming the field."""
    known = {
        "mode", "goals", "max_supplements", "margin_percent", "school", "allowed", "lines", "macros",
        "time_limit_s",
    }  # fmt: skip
    for key in data:
        if key not in known:
            raise InputError(key, f"is not a setting; use: {', '.join(sorted(known))}")
    rules: dict[int, LineRule] = {}
    for i, entry in enumerate(as_list(data.get("lines", []), "lines")):
        item = as_object(entry, f"lines[{i}]")
        position = item.get("line", i)
        if isinstance(position, bool) or not isinstance(position, int) or position < 0:
            raise InputError(f"lines[{i}].line", "must be the position of a line, from 0")
        rules[position] = _line_rule(item, f"lines[{i}]")
    macros = None
    if data.get("macros") is not None:
        shares = as_object(data["macros"], "macros")
        macros = MacroTarget(
            *(as_number(shares.get(k), f"macros.{k}") for k in ("protein", "fat", "carbohydrate"))
        )
    allowed = data.get("allowed")
    count = data.get("max_supplements")
    return Settings(
        str(data.get("mode", "rebalance")),
        tuple(str(g) for g in as_list(data.get("goals", []), "goals")),
        None if count is None else int(as_number(count, "max_supplements")),
        _optional(data, "margin_percent"),
        str(data.get("school", "none")),
        None if allowed is None else tuple(str(x) for x in as_list(allowed, "allowed")),
        rules,
        macros,
        None,
        _optional(data, "time_limit_s"),
    )


def _optional(data: Mapping[str, Any], key: str) -> float | None:
    return None if data.get(key) is None else as_number(data[key], key)


def _line_rule(item: Mapping[str, Any], field: str) -> LineRule:
    role = str(item.get("role", ""))
    if role not in ROLES:
        raise InputError(f"{field}.role", "must be free, fixed or excluded")
    bounds = []
    for key in ("low_grams", "high_grams"):
        value = None if item.get(key) is None else as_number(item[key], f"{field}.{key}")
        if value is not None and not 0 <= value <= 100_000:
            raise InputError(f"{field}.{key}", "must be from 0 to 100 000 g")
        bounds.append(value)
    to = item.get("tie_to")
    if to is not None and (isinstance(to, bool) or not isinstance(to, int)):
        raise InputError(f"{field}.tie_to", "must be the position of another line")
    ratio = (
        1.0 if item.get("tie_ratio") is None else as_number(item["tie_ratio"], f"{field}.tie_ratio")
    )
    return LineRule(role, bounds[0], bounds[1], to, ratio)


def read_reactions(entries: object) -> tuple[Reaction, ...]:
    """The "reactions" of a case file. Raises InputError naming the field."""
    found = []
    for i, entry in enumerate(as_list(entries, "reactions")):
        item = as_object(entry, f"reactions[{i}]")
        food = item.get("food")
        if not isinstance(food, str) or not food.strip():
            raise InputError(f"reactions[{i}].food", "is missing")
        found.append(Reaction(food, str(item.get("form") or ""), str(item.get("tolerates") or "")))
    return tuple(found)


def avoidance_of(
    reference: Reference,
    library: FoodLibrary,
    lines: Sequence[Line],
    reactions: Sequence[Reaction],
    conditions: Sequence[tuple[Condition, str]],
    marked: Mapping[str, str],
    medicines: Sequence[str] = (),
) -> Avoidance:
    """What keeps foods out of this dog's recipe. A trial is built on the recipe's own main
    protein and carbohydrate among the foods the dog does not react to.
    """
    groups = reaction_groups(reference.allergens, reactions)
    ruled_out = tuple(rule for condition, _ in conditions for rule in condition.rules_out)
    met = met_by(reference.interactions, medicines)
    plain = Avoidance(
        reference.source_groups, groups, reference.hazards, None, ruled_out, reference.traits,
        marked, not_suggested(met, reference.supplements),
    )  # fmt: skip
    if not any(c.id == "food-reaction" and stage == "trial" for c, stage in conditions):
        return plain
    protein, carbohydrate = (library.catalogue.index(k) for k in ("PROCNT", "CHOCDF"))
    # Unknown contents do not speak for a line here: it only ranks what the recipe is built on.
    brought = np.nan_to_num(library.values[:, [protein, carbohydrate]])
    amounts = [
        (
            line.food,
            float(brought[line.row, 0]) * line.amount.grams,
            float(brought[line.row, 1]) * line.amount.grams,
        )
        for line in lines
        if not why_excluded(line.food, plain)
    ]
    return replace(plain, trial=trial_of(plain.groups, amounts))
