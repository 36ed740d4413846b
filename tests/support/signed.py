"""Would a nutritionist sign this proposal? A list of what she would look at, as code.

Figures come from the proposal's own analysis and from the library, never from the solver.
"""

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import yaml
from wainscot_core.analysis.adequacy import Status, judge
from wainscot_core.bowl.exclusions import why_excluded, why_ruled_out
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.formats.casefile import read_case
from wainscot_core.formulation.most import most_dose
from wainscot_core.recipe.amounts import find_measure
from wainscot_core.recipe.line import sum_lines
from wainscot_core.recipe.totals import Totals

SALTS = {"supp:sodium-chloride", "supp:iodised-salt"}
# Sodium that comes with as much of it.
SALTY = {"NA": 1.0, "CLD": 393.4 / 606.6}

CASES: list[dict[str, Any]] = yaml.safe_load(
    (Path(__file__).resolve().parents[1] / "fixtures" / "formulation_cases.yaml").read_text()
)


def case_file(case: dict[str, Any]) -> dict[str, Any]:
    """A case of the table as a case file."""
    energy = (
        {"kcal_per_day": case["energy"]}
        if "energy" in case
        else {
            "method": "rer-multiplier",
            "multiplier": 1.4 if case["dog"]["age_months"] > 95 else 1.6,
        }
    )
    lines = []
    for food, amount, *rest in case["lines"]:
        unit = rest[0] if rest else "g"
        line = (
            {"food": food, "grams": amount}
            if unit == "g"
            else {"food": food, "amount": amount, "unit": unit}
        )
        if len(rest) > 1:
            line["preparation"] = rest[1]
        lines.append(line)
    standard, stage = case["under"]
    return {
        "format": "wainscot-case", "version": 1,
        "dog": {"name": "Test", "sex": "male", "neutered": True, "activity": "typical",
                "body_condition": 5, **case["dog"]},
        "energy": energy,
        "targets": {
            "standard": standard, "life_stage": stage,
            "conditions": [{"id": k, "stage": v} for k, v in case.get("has", {}).items()],
            "decisions": [
                {"key": key, "bound": bound, "value": value, "by": "Dr Test", "reason": "agreed"}
                for key, values in case.get("decide", {}).items()
                for bound, value in zip(("min", "max"), values, strict=True)
            ],
        },
        "recipe": {"covers_days": case.get("days", 1), "lines": lines},
    }  # fmt: skip


def dossier_of(facts: Reference, case: dict[str, Any]) -> Dossier:
    """A case of the table as a dossier."""
    return read_case(facts, case_file(case))


def objections(before: Dossier, after: Dossier, called_met: bool) -> list[str]:
    """What a nutritionist would not sign of a proposal; nothing when she would."""
    return [*wrong(before, after, called_met), *misshapen(before, after)]


def wrong(before: Dossier, after: Dossier, called_met: bool) -> Iterator[str]:
    """What no proposal may have, however hard the case is."""
    library = before.library
    sums = sum_lines(library, after.lines, after.days)
    target = before.energy.target_kcal * before.days
    if abs(sums.kcal / target - 1) > 0.02:
        yield f"energy {sums.kcal / target:.1%} of the target"
    for line in after.lines:
        why = why_excluded(line.as_fed, before.avoid) or why_ruled_out(line.as_fed, before.avoid)
        if why:
            yield f"{line.food.name} stays: {why}"
        grams, spoon = line.amount.grams, find_measure(line.food, "tsp")
        if line.food.is_supplement:
            if grams > most_dose(before, line.food, target) * (1 + 1e-6):
                yield f"{line.food.name} {grams:g} g is above its dose"
            if spoon is not None and grams < spoon.grams / 4 - 1e-6:
                yield f"{line.food.name} {grams:g} g cannot be measured"
        elif grams < 1 - 1e-9:
            yield f"{line.food.name} {grams:g} g cannot be measured"
    premixes = sum(
        1 for x in after.lines if x.food.handling is not None and x.food.handling.kind == "premix"
    )
    added = {x.food.id for x in after.lines} - {x.food.id for x in before.lines}
    if premixes > 1 or (premixes and len(added) > 6):
        yield f"{premixes} premixes and {len(added)} added items"
    yield from _liver(sums, after)
    yield from _salt(before, sums, after)
    yield from _fish_oil(before, sums, after)
    if called_met:
        for verdict in judge(sums, before.requirements, before.policy):
            if verdict.status in {Status.SHORT, Status.OVER, Status.ABOVE_SAFE}:
                yield f"{verdict.key} is {verdict.status}, and the proposal says met"


def misshapen(before: Dossier, after: Dossier) -> Iterator[str]:
    """What makes a recipe another one than hers, or one that nobody cooks."""
    sums = sum_lines(before.library, after.lines, after.days)
    weight = float(sum(x.fed_grams for x in after.lines if not x.food.is_supplement)) or 1.0
    catalogue = before.library.catalogue
    limit = before.requirements.limits.get("FAT")
    fat = float(sums.known[catalogue.index("FAT")]) / sums.kcal * 1000
    for line, brought in zip(after.lines, sums.contributions, strict=True):
        of = float(brought[catalogue.index("ENERC")]) / sums.kcal
        part, what = line.fed_grams / weight, line.food.attributes
        needed = limit is not None and limit.minimum is not None and fat <= limit.minimum * 1.1
        if what.group == "fat" and of > 0.10 + 1e-6 and not needed:
            yield f"{line.food.name} is {of:.0%} of the energy"
        starchy = what.species in {"potato", "sweet potato"}
        green = line.food.klass == "vegetable" and not starchy
        if green and part > 0.35 + 1e-6 and not _had(before, line.food.id, 0.35):
            yield f"{line.food.name} is {part:.0%} of the weight"
    yield from _main_foods(before, after)
    yield from _small_changes(before, after)


def _liver(sums: Totals, after: Dossier) -> Iterator[str]:
    weight = sum(x.fed_grams for x in after.lines if not x.food.is_supplement) or 1.0
    mine = [i for i, x in enumerate(after.lines) if x.food.attributes.kind == "organ:liver"]
    energy = after.library.catalogue.index("ENERC")
    of = sum(float(sums.contributions[i, energy]) for i in mine) / sums.kcal
    part = sum(after.lines[i].fed_grams for i in mine) / weight
    if of > 0.08 + 1e-6 or (of > 0.05 and part > 0.10 + 1e-6):
        yield f"liver is {of:.0%} of the energy and {part:.0%} of the weight"


def _salt(before: Dossier, sums: Totals, after: Dossier) -> Iterator[str]:
    """No more sodium of salt than 1.6 times what sodium or chloride asks for: 393 mg of the one come with 607 of the other.
    A quarter spoon may be more than that for a small dog."""
    column, limits = before.library.catalogue.index("NA"), before.requirements.limits
    salts = [i for i, x in enumerate(after.lines) if x.food.id in SALTS]
    grams = sum(after.lines[i].amount.grams for i in salts)
    had = sum(x.amount.grams for x in before.lines if x.food.id in SALTS)
    brought = sum(float(sums.contributions[i, column]) for i in salts) / sums.kcal * 1000
    need = {
        k: max(limits[k].minimum or 0, limits[k].advised_min or 0) for k in SALTY if k in limits
    }
    asked = max((SALTY[k] * value for k, value in need.items()), default=0.0)
    if brought > 1.6 * asked * (1 + 1e-3) and grams > max(had, 1.5) + 1e-6:
        yield f"salt brings {brought:.0f} mg of sodium, {asked:.0f} mg are asked"


def _fish_oil(before: Dossier, sums: Totals, after: Dossier) -> Iterator[str]:
    column = before.library.catalogue.index("EPADHA")
    oils = [(i, x) for i, x in enumerate(after.lines) if x.food.id == "supp:fish-oil"]
    brought = sum(float(sums.contributions[i, column]) for i, _ in oils)
    limit = before.requirements.limits.get("EPADHA")
    asked = max(limit.minimum or 0, limit.advised_min or 0) if limit else 0.0
    # The least that a spoon measures may be more than is asked of a small dog.
    spoonful = sum(x.amount.grams for _, x in oils) <= 4.5 / 4 + 1e-6
    if brought / sums.kcal * 1000 > max(1.6 * asked, 0.5) + 1e-6 and not spoonful:
        yield f"fish oil brings {brought / sums.kcal * 1000:.2g} g, its need asks {asked:.2g}"


def _had(dossier: Dossier, food_id: str, most: float) -> bool:
    foods = [x for x in dossier.lines if not x.food.is_supplement]
    whole = sum(x.fed_grams for x in foods) or 1.0
    return sum(x.fed_grams for x in foods if x.food.id == food_id) / whole > most


def _main_foods(before: Dossier, after: Dossier) -> Iterator[str]:
    """The main protein and starch keep between half and double of their share of the energy; what the
    case rules out is no main food."""
    was, now = _shares(before), _shares(after)
    sums = sum_lines(before.library, before.lines, before.days)
    free = [
        (i, x)
        for i, x in enumerate(before.lines)
        if not why_excluded(x.as_fed, before.avoid) and not why_ruled_out(x.as_fed, before.avoid)
    ]
    for key in ("PROCNT", "CHOCDF") if free else ():
        column = before.library.catalogue.index(key)
        _, main = max(free, key=lambda x: sums.contributions[x[0], column])
        share, left = was[main.food.id], now.get(main.food.id, 0.0)
        # What takes its place is counted with it: another meat for meat, another starch for starch.
        swap = next(
            (s for s in before.reference.formulation.swaps if s.when.holds(main.food.attributes)),
            None,
        )
        new = {x.food.id: x for x in after.lines if x.food.id not in was}
        left += sum(
            now[k]
            for k, x in new.items()
            if swap is not None and swap.when.holds(x.food.attributes)
        )
        if share > 0.1 and not 0.5 - 1e-6 <= left / share <= 2 + 1e-6:
            yield f"{main.food.name} goes from {share:.0%} to {left:.0%} of the energy"


def _shares(dossier: Dossier) -> dict[str, float]:
    """Share of the energy by food."""
    sums = sum_lines(dossier.library, dossier.lines, dossier.days)
    energy = dossier.library.catalogue.index("ENERC")
    found: dict[str, float] = {}
    for line, brought in zip(dossier.lines, sums.contributions, strict=True):
        found[line.food.id] = found.get(line.food.id, 0.0) + float(brought[energy]) / sums.kcal
    return found


def _small_changes(before: Dossier, after: Dossier) -> Iterator[str]:
    now = {x.food.id: x.amount.grams for x in after.lines}
    for line in before.lines:
        grams = line.amount.grams
        after_grams = now.get(line.food.id, 0.0)
        if after_grams and 1e-6 < abs(after_grams - grams) < 0.03 * grams - 1e-9:
            yield f"{line.food.name} {grams:g} to {after_grams:g} g is noise"
