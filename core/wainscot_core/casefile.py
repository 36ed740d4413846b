"""The case file: read it, say exactly what is wrong with it, compute it.

Format: docs/formats/case.schema.json. Food ids: usda:<5 digits>, supp:<slug>, own:<slug>.
"""

import json
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from . import amounts
from .adequacy import POLICIES
from .amounts import Amount
from .analysis import Totals, totals
from .conditions import Condition, stage_of
from .energy import Energy, by_multiplier, by_own_figure, check_weight
from .errors import InputError
from .foods import Food, FoodLibrary, Provenance
from .forms import Prepared, prepare
from .nutrients import convert
from .reference import Reference
from .requirements import Decision, FeedingFacts, MergedSet, check_decision, merge
from .standards import RequirementSet, Standard

MAX_LINES = 200


@dataclass(frozen=True)
class Line:
    """An ingredient and its weight."""

    food: Food
    row: int
    amount: Amount
    prepared: Prepared | None = None

    @property
    def fed_grams(self) -> float:
        """Weight as fed, g: after cooking where the line is weighed raw."""
        return self.amount.grams * (self.prepared.yield_share if self.prepared else 1.0)


@dataclass(frozen=True)
class Case:
    """A case ready to compute."""

    dog_name: str
    weight_kg: float
    energy: Energy
    merged: MergedSet
    library: FoodLibrary
    lines: tuple[Line, ...]
    days: float
    policy: str
    conditions: tuple[tuple[Condition, str], ...] = ()

    @property
    def requirements(self) -> RequirementSet:
        """The merged requirement set."""
        return self.merged.requirements

    def with_lines(self, lines: tuple[Line, ...]) -> "Case":
        """The same case with another recipe."""
        return replace(self, lines=lines)


def sum_lines(library: FoodLibrary, lines: Sequence[Line], days: float) -> Totals:
    """Totals of resolved lines."""
    rows, grams = [line.row for line in lines], [line.amount.grams for line in lines]
    if not any(line.prepared for line in lines):
        return totals(library, rows, grams, days)
    plain = np.ones(len(library.catalogue.nutrients))
    retention = np.array([line.prepared.retention if line.prepared else plain for line in lines])
    return totals(library, rows, grams, days, [line.fed_grams for line in lines], retention)


def parse_json(text: str) -> dict[str, Any]:
    """JSON text to an object; InputError says where it breaks."""
    try:
        data = json.loads(text, parse_constant=_no_constant)
    except json.JSONDecodeError as error:
        raise InputError(
            "", f"not valid JSON: {error.msg} at line {error.lineno}, column {error.colno}"
        ) from None
    except ValueError as error:
        raise InputError("", str(error)) from None
    return as_object(data, "")


def _no_constant(name: str) -> float:
    raise ValueError(f"not valid JSON: {name} is not a number")


def as_object(value: object, field: str) -> dict[str, Any]:
    """A JSON object; InputError otherwise."""
    if not isinstance(value, dict):
        raise InputError(field, "must be a JSON object")
    return value


def as_number(value: object, field: str) -> float:
    """A finite number; InputError otherwise."""
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        raise InputError(field, "must be a number")
    return float(value)


def as_section(data: dict[str, Any], key: str) -> dict[str, Any]:
    if key not in data:
        raise InputError(key, "is missing")
    return as_object(data[key], key)


def read_case(reference: Reference, data: dict[str, Any]) -> Case:
    """Check a case file and resolve every line. Raises InputError naming the field."""
    if data.get("format") != "wainscot-case":
        raise InputError("format", 'must be "wainscot-case"')
    if data.get("version") != 1:
        raise InputError("version", "must be 1")
    dog = as_section(data, "dog")
    if "weight_kg" not in dog:
        raise InputError("dog.weight_kg", "is missing")
    weight = check_weight(
        reference.energy, as_number(dog["weight_kg"], "dog.weight_kg"), "dog.weight_kg"
    )
    energy = read_energy(reference, weight, as_section(data, "energy"))
    ideal = dog.get("ideal_weight_kg")
    facts = FeedingFacts(
        weight,
        weight
        if ideal is None
        else check_weight(
            reference.energy, as_number(ideal, "dog.ideal_weight_kg"), "dog.ideal_weight_kg"
        ),
        energy.target_kcal,
    )
    merged = read_targets(reference, as_section(data, "targets"), facts)
    recipe = as_section(data, "recipe")
    days = as_number(recipe.get("covers_days", 1), "recipe.covers_days")
    if not 0 < days <= 366:
        raise InputError("recipe.covers_days", "must be above 0 and at most 366")
    library = with_own_foods(reference.library, data.get("foods", []))
    lines = read_lines(reference, library, recipe.get("lines"))
    policy = data.get("data_policy", "graded")
    if policy not in POLICIES:
        raise InputError("data_policy", f"must be one of: {', '.join(POLICIES)}")
    name = dog.get("name", "")
    if not isinstance(name, str):
        raise InputError("dog.name", "must be text")
    conditions = read_case_conditions(reference, as_section(data, "targets"))
    return Case(name, weight, energy, merged, library, lines, days, policy, tuple(conditions))


def read_energy(reference: Reference, weight_kg: float, data: dict[str, Any]) -> Energy:
    """The energy section: {"kcal_per_day": x} or {"method": "rer-multiplier", "multiplier": x}."""
    try:
        if data.get("kcal_per_day") is not None:
            return by_own_figure(
                reference.energy, weight_kg, as_number(data["kcal_per_day"], "kcal_per_day")
            )
        method = data.get("method", "rer-multiplier")
        if method != "rer-multiplier":
            raise InputError(
                "method", f"unknown method {method!r}; use rer-multiplier or kcal_per_day"
            )
        return by_multiplier(
            reference.energy, weight_kg, as_number(data.get("multiplier", 1.0), "multiplier")
        )
    except InputError as error:
        raise error.under("energy") from None


def read_targets(
    reference: Reference,
    data: dict[str, Any],
    facts: FeedingFacts,
    standards: Mapping[str, Standard] | None = None,
) -> MergedSet:
    """The targets section: standard, life stage, conditions with stage, decisions."""
    known = reference.standards if standards is None else standards
    standard_id = str(data.get("standard"))
    if standard_id not in known:
        raise InputError(
            "targets.standard",
            f"unknown standard {standard_id!r}; use one of: {', '.join(known)}",
        )
    conditions = read_case_conditions(reference, data)
    decisions = []
    for i, entry in enumerate(as_list(data.get("decisions", []), "targets.decisions")):
        field = f"targets.decisions[{i}]"
        item = as_object(entry, field)
        value = item.get("value")
        decision = Decision(
            str(item.get("key", "")),
            str(item.get("bound", "")),
            None if value is None else as_number(value, f"{field}.value"),
            str(item.get("by", "")),
            str(item.get("reason", "")),
        )
        try:
            decisions.append(check_decision(reference.catalogue, decision))
        except InputError as error:
            raise error.under(field) from None
    try:
        return merge(
            reference.catalogue,
            known[standard_id],
            str(data.get("life_stage", "adult")),
            conditions,
            facts,
            decisions,
            hold_per_kg75=below_maintenance(reference, str(data.get("life_stage", "adult")), facts)
            or any(c.id == "overweight" for c, _ in conditions),
        )
    except InputError as error:
        raise error.under("targets") from None


def below_maintenance(reference: Reference, life_stage: str, facts: FeedingFacts) -> bool:
    """True when an adult is fed less than the lowest published maintenance per kg^0.75."""
    least = float(reference.weight["lowest_maintenance"]["kcal_per_kg75"])
    fed = facts.kcal_per_day / facts.ideal_weight_kg**0.75
    return life_stage.startswith("adult") and fed < least


def read_case_conditions(
    reference: Reference, data: Mapping[str, Any]
) -> list[tuple[Condition, str]]:
    """The conditions of a targets section with their stages. Raises InputError naming the field."""
    conditions = []
    for i, entry in enumerate(as_list(data.get("conditions", []), "targets.conditions")):
        field = f"targets.conditions[{i}]"
        item = as_object(entry, field)
        condition = reference.conditions.get(str(item.get("id")))
        if condition is None:
            raise InputError(
                f"{field}.id",
                f"unknown condition {item.get('id')!r}; use one of: {', '.join(reference.conditions)}",
            )
        try:
            conditions.append((condition, stage_of(condition, str(item.get("stage") or ""))))
        except InputError as error:
            raise error.under(field) from None
    return conditions


def as_list(value: object, field: str) -> list[Any]:
    """A JSON list; InputError otherwise."""
    if not isinstance(value, list):
        raise InputError(field, "must be a list")
    return value


def with_own_foods(library: FoodLibrary, entries: object) -> FoodLibrary:
    """The library and the case file's own foods: {"id", "name", "per_100_g": {tag: value}}.

    A value may be {"value": x, "unit": "mg"}; a bare number is in the catalogue's unit.
    """
    if not isinstance(entries, list):
        raise InputError("foods", "must be a list")
    foods: list[Food] = []
    values: list[dict[str, float]] = []
    provenance: list[Provenance] = []
    for i, entry in enumerate(entries):
        field = f"foods[{i}]"
        item = as_object(entry, field)
        food_id = item.get("id")
        if not isinstance(food_id, str) or not food_id.startswith("own:"):
            raise InputError(f"{field}.id", 'must be text that starts with "own:"')
        if food_id in library or any(f.id == food_id for f in foods):
            raise InputError(f"{field}.id", f"{food_id} is given twice")
        row = {}
        for key, raw in as_object(item.get("per_100_g", {}), f"{field}.per_100_g").items():
            where = f"{field}.per_100_g.{key}"
            if key not in library.catalogue:
                raise InputError(where, "is not a nutrient key of the catalogue")
            unit = library.catalogue.get(key).unit
            if isinstance(raw, dict):
                try:
                    value = convert(
                        key, as_number(raw.get("value"), where), str(raw.get("unit")), unit
                    )
                except ValueError as error:
                    raise InputError(where, str(error)) from None
            else:
                value = as_number(raw, where)
            if value < 0:
                raise InputError(where, "cannot be below 0")
            row[key] = value
        if "ENERC" not in row:
            raise InputError(f"{field}.per_100_g.ENERC", "is missing: give kcal per 100 g")
        foods.append(
            Food(food_id, str(item.get("name", food_id)), "own", str(item.get("form", "plain")))
        )
        values.append(row)
        provenance.append(
            Provenance(
                food_id,
                "label",
                f"Own food {item.get('name', food_id)}",
                "entered by the practice",
                "",
            )
        )
    return library.extended(foods, values, provenance) if foods else library


def read_lines(reference: Reference, library: FoodLibrary, entries: object) -> tuple[Line, ...]:
    """The recipe's lines, each with grams or with amount and unit, and how it is prepared."""
    if not isinstance(entries, list) or not entries:
        raise InputError("recipe.lines", "must be a list with at least one ingredient")
    if len(entries) > MAX_LINES:
        raise InputError("recipe.lines", f"has {len(entries)} lines; at most {MAX_LINES}")
    lines = []
    for i, entry in enumerate(entries):
        field = f"recipe.lines[{i}]"
        item = as_object(entry, field)
        food_id = item.get("food")
        if not isinstance(food_id, str) or food_id not in library:
            raise InputError(f"{field}.food", f"no food {food_id!r} in the library")
        food = library.food(food_id)
        if "grams" in item:
            count, unit, named = as_number(item["grams"], f"{field}.grams"), "g", "grams"
        elif "amount" in item:
            count, named = as_number(item["amount"], f"{field}.amount"), "amount"
            unit = item.get("unit", "g")
            if not isinstance(unit, str):
                raise InputError(f"{field}.unit", "must be text")
        else:
            raise InputError(f"{field}.grams", "is missing: give grams, or amount and unit")
        try:
            amount = amounts.resolve(food, count, unit)
        except InputError as error:
            raise InputError(
                f"{field}.{named if error.field == 'amount' else 'unit'}", error.message
            ) from None
        row, prepared = library.row(food_id), None
        if item.get("preparation"):
            try:
                prepared = prepare(reference.methods, library, row, str(item["preparation"]))
            except InputError as error:
                raise InputError(f"{field}.preparation", error.message) from None
        lines.append(Line(food, row, amount, prepared))
    return tuple(lines)
