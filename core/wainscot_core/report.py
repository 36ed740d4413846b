"""The result of an analysis as plain data: the one shape the commands and the server return."""

import math
from collections.abc import Sequence
from dataclasses import asdict, replace
from typing import Any

import numpy as np

from .adequacy import (
    BREAKS,
    Finding,
    RatioFinding,
    against,
    check,
    check_ratios,
    urgency,
)
from .analysis import Totals
from .dossier import Dossier
from .energy import Energy
from .exclusions import Avoidance, why_excluded
from .feeding import gauges
from .foods import FloatArray, Food, FoodLibrary
from .hazards import FoodHazard, cautions
from .household import household
from .insight import amino_pattern, macros, without_each
from .line import Line, sum_lines
from .requirements import MergedSet
from .standards import Limit


def clean(value: float | None) -> float | None:
    """A JSON number of at most nine significant figures; None for undefined."""
    if value is None or not math.isfinite(value):
        return None
    return float(f"{value:.9g}")


def energy_report(energy: Energy) -> dict[str, Any]:
    """RER, target and steps."""
    return {
        "rer_kcal": clean(energy.rer_kcal),
        "target_kcal": clean(energy.target_kcal),
        "steps": [step.as_dict() for step in energy.steps],
    }


def limit_origins(limit: Limit | None) -> list[dict[str, Any]]:
    """The origins of a limit as plain data."""
    return [
        {
            "which": o.which, "value": clean(o.value), "unit": o.unit, "source": o.source,
            "citation": o.citation, "confidence": o.confidence, "checked": o.checked,
            "printed": o.printed, "note": o.note,
        }
        for o in (limit.origins if limit else ())
    ]  # fmt: skip


def lines_report(library: FoodLibrary, lines: Sequence[Line], sums: Totals) -> list[dict[str, Any]]:
    """Each line with its grams, household measure and energy."""
    column = library.catalogue.index("ENERC")
    out = []
    for i, line in enumerate(lines):
        kitchen = household(line.food, line.amount.grams)
        kcal = float(sums.contributions[i, column])
        out.append(
            {
                "food": line.food.id,
                "name": line.food.name,
                "grams": clean(line.amount.grams),
                "kcal": clean(kcal),
                "basis": line.amount.basis,
                "preparation": line.prepared.method.id if line.prepared else None,
                "preparation_label": line.prepared.method.label if line.prepared else None,
                "fed_grams": clean(line.fed_grams),
                "household": kitchen.text if kitchen else None,
                "household_error": clean(kitchen.error) if kitchen else None,
            }
        )
    return out


def nutrient_report(
    library: FoodLibrary, sums: Totals, finding: Finding, column: int, metabolic_kg: float | None
) -> dict[str, Any]:
    """One nutrient: amounts on every basis, bounds, status, what is known.

    `metabolic_kg` is the dog's kg^0.75, None when no dog is meant.
    """
    nutrient = library.catalogue.nutrients[column]
    limit = finding.limit
    known = float(sums.known[column])
    estimated = float(sums.estimated[column])
    dry = sums.dry_matter_grams
    return {
        "key": nutrient.key,
        "name": nutrient.name,
        "short": nutrient.short,
        "unit": nutrient.unit,
        "group": nutrient.group,
        "decimals": nutrient.decimals,
        "board": nutrient.board,
        "total": clean(known),
        "per_day": clean(known / sums.days),
        "per_1000_kcal": clean(finding.value),
        "per_100g_dry_matter": clean(known / dry * 100) if dry > 0 else None,
        "per_100g_as_fed": clean(known / sums.total_grams * 100) if sums.total_grams > 0 else None,
        "per_kg75": clean(known / sums.days / metabolic_kg) if metabolic_kg else None,
        "min": clean(limit.minimum) if limit else None,
        "recommended": clean(limit.recommended) if limit else None,
        "max": clean(limit.maximum) if limit else None,
        "safe_limit": clean(limit.safe) if limit else None,
        "status": finding.status,
        "breaks": finding.status in BREAKS,
        "against": clean(against(finding.status, limit)),
        "urgency": clean(urgency(finding.value, finding.status, limit)),
        "why": finding.why,
        "maximum_unproven": finding.maximum_unproven,
        "known_share": clean(float(sums.known_share[column])),
        "estimated_share": clean(estimated / known if known > 0 else 0.0),
        "unknown_lines": finding.unknown_lines,
        "origin": limit_origins(limit),
    }  # fmt: skip


def nutrient_sources(
    library: FoodLibrary, lines: Sequence[Line], sums: Totals, column: int
) -> list[dict[str, Any]]:
    """What every line brings of one nutrient, amount None when unknown."""
    known = float(sums.known[column])
    out = []
    for i, line in enumerate(lines):
        amount = float(sums.contributions[i, column])
        missing = math.isnan(amount)
        out.append(
            {
                "line": i,
                "food": line.food.id,
                "name": line.food.name,
                "amount": clean(amount),
                "share": None if missing else clean(amount / known if known > 0 else 0.0),
                "grade": library.provenance[int(library.codes[line.row, column])].grade,
            }
        )
    return out


def contribution_matrix(sums: Totals) -> list[list[float | None]]:
    """(lines, nutrients) amounts to six significant figures, None where unknown."""
    return [[None if math.isnan(v) else v for v in row] for row in _rounded(sums.contributions)]


def _rounded(values: FloatArray) -> list[list[float]]:
    with np.errstate(divide="ignore", invalid="ignore"):
        digits = 5 - np.floor(np.log10(np.abs(values)))
    scale = 10.0 ** np.where(np.isfinite(digits), digits, 0.0)
    rounded: list[list[float]] = (np.round(values * scale) / scale).tolist()
    return rounded


def ratio_report(finding: RatioFinding) -> dict[str, Any]:
    """One ratio with its window."""
    limit = finding.limit
    return {
        "key": finding.ratio.key,
        "name": finding.ratio.name,
        "short": finding.ratio.short,
        "value": clean(finding.value),
        "min": clean(limit.minimum) if limit else None,
        "max": clean(limit.maximum) if limit else None,
        "safe_limit": clean(limit.safe) if limit else None,
        "status": finding.status,
        "breaks": finding.status in BREAKS,
        "against": clean(against(finding.status, limit)),
        "urgency": clean(urgency(finding.value, finding.status, limit)),
        "unknown_lines": finding.unknown_lines,
        "origin": limit_origins(limit),
        "window_min": clean(finding.ratio.window_min),
        "window_max": clean(finding.ratio.window_max),
        "window_source": finding.ratio.window_source,
        "formula": f"({' + '.join(finding.ratio.top)}) / ({' + '.join(finding.ratio.bottom)})",
    }


def _as_fed(line: Line) -> Food:
    """The food as it reaches the bowl: a raw food that is cooked is not raw."""
    return replace(line.food, form="cooked") if line.prepared else line.food


def caution_flags(
    hazards: Sequence[FoodHazard], lines: Sequence[Line], energy: Energy, sums: Totals
) -> list[dict[str, Any]]:
    """What the reader must be told: hazards of foods, energy away from the target, no energy."""
    flags: list[dict[str, Any]] = [
        {
            "kind": "hazard",
            "severity": c.hazard.action,
            "food": c.food_id,
            "title": f"{c.hazard.name}: {c.food_name}",
            "why": c.hazard.hazard,
            "do": c.hazard.do,
            "source": c.hazard.source,
        }
        for c in cautions(hazards, {line.food.id: _as_fed(line) for line in lines}.values())
    ]
    if sums.kcal <= 0:
        flags.append(
            _flag(
                "energy",
                "No energy",
                "the foods of this recipe bring no energy",
                "Add a food that does.",
            )
        )
    else:
        gap = sums.kcal / sums.days / energy.target_kcal - 1
        if abs(gap) > 0.1:
            flags.append(
                _flag(
                    "energy",
                    f"{abs(gap):.0%} {'above' if gap > 0 else 'below'} the energy target",
                    f"{sums.kcal / sums.days:.0f} kcal a day against {energy.target_kcal:.0f}",
                    "Scale the recipe or change the days it covers.",
                )
            )
    return flags


def _flag(kind: str, title: str, why: str, do: str) -> dict[str, Any]:
    return {"kind": kind, "severity": "warn", "food": None, "title": title, "why": why, "do": do, "source": ""}  # fmt: skip


def macros_report(sums: Totals) -> dict[str, Any] | None:
    """The energy split and density of a recipe, None when it has no energy."""
    found = macros(sums)
    if found is None:
        return None
    return {
        "protein": clean(found.protein), "fat": clean(found.fat),
        "carbohydrate": clean(found.carbohydrate), "kcal_per_gram": clean(found.kcal_per_gram),
        "moisture": clean(found.moisture), "fibre_dry_matter": clean(found.fibre_dry_matter),
        "fibre_known": found.fibre_known,
        "source": "Atwater 4, 9, 4 kcal/g; carbohydrate by difference less fibre",
    }  # fmt: skip


def exclusion_flags(lines: Sequence[Line], avoid: Avoidance) -> list[dict[str, Any]]:
    """Foods in the recipe that this dog must not get: reactions, and what a trial leaves out.

    Hazards and sourcing have flags and marks of their own.
    """
    found = []
    for food in {line.food.id: line.food for line in lines}.values():
        why = why_excluded(food, replace(avoid, hazards=(), marked={}))
        if why:
            found.append(
                {
                    "kind": "reaction", "severity": "block", "food": food.id, "title": food.name,
                    "why": why, "do": "Take it out, broth and traces included.",
                    "source": avoid.groups.source,
                }
            )  # fmt: skip
    return found


def analyse(dossier: Dossier) -> dict[str, Any]:
    """The analysis of a dossier's recipe as plain data; `contributions` is lines x nutrients."""
    library, lines, days = dossier.library, dossier.lines, dossier.days
    energy, requirements = dossier.energy, dossier.requirements
    sums = sum_lines(library, lines, days)
    findings = check(sums, requirements, dossier.policy)
    kcal = sums.kcal
    return {
        "energy": energy_report(energy),
        "requirements": requirements.name,
        "policy": dossier.policy,
        "second": second_report(dossier, sums),
        "second_name": dossier.second.name if dossier.second else "",
        "gauges": gauges_report(dossier),
        "way_caution": dossier.way.caution if dossier.way else "",
        "cost": cost_report(dossier),
        "marks": marks_report(dossier),
        "recipe": {
            "grams": clean(sums.total_grams),
            "grams_per_day": clean(sums.total_grams / days),
            "dry_matter_grams": clean(sums.dry_matter_grams),
            "kcal": clean(kcal),
            "kcal_per_gram": clean(kcal / sums.total_grams) if sums.total_grams > 0 else None,
            "kcal_per_day": clean(kcal / days),
            "covers_days": clean(days),
            "lines": lines_report(library, lines, sums),
        },
        "nutrients": [
            nutrient_report(library, sums, finding, i, dossier.metabolic_kg)
            for i, finding in enumerate(findings)
        ],
        "macros": macros_report(sums),
        "amino_pattern": [
            {
                "key": a.key,
                "name": library.catalogue.get(a.key).name,
                "per_lysine": clean(a.per_lysine),
                "wanted": clean(a.wanted),
                "of_minimum": clean(a.of_minimum),
            }
            for a in amino_pattern(findings)
        ],
        "without": [
            {"line": w.line, "lost": list(w.lost), "mended": list(w.mended)}
            for w in without_each(sums, requirements, findings)
        ],
        "contributions": contribution_matrix(sums),
        "ratios": [ratio_report(r) for r in check_ratios(sums, requirements)],
        "flags": [
            *exclusion_flags(lines, dossier.avoid),
            *reading_flags(lines),
            *caution_flags(dossier.reference.hazards, lines, energy, sums),
        ],
    }


def reading_flags(lines: Sequence[Line]) -> list[dict[str, Any]]:
    """Lines whose text can no longer be read and that stand by what they were read as."""
    return [
        _flag("reading", line.food.name, line.stale, "Give its amount anew, in grams to be sure.")
        for line in lines
        if line.stale
    ]


def second_report(dossier: Dossier, sums: Totals) -> dict[str, Any]:
    """Another requirement set's limits and verdicts beside the first, per 1000 kcal."""
    if dossier.second is None:
        return {}
    return {
        f.key: {
            "min": clean(f.limit.minimum), "max": clean(f.limit.maximum), "status": f.status,
        }
        for f in check(sums, dossier.second, dossier.policy)
        if f.limit is not None
    }  # fmt: skip


def gauges_report(dossier: Dossier) -> list[dict[str, Any]]:
    """The proportions of the way of feeding, when one is watched."""
    if dossier.way is None:
        return []
    lines = dossier.lines
    found = gauges(
        dossier.reference.feeding, dossier.way, [x.food for x in lines],
        [x.fed_grams for x in lines],
    )  # fmt: skip
    return [asdict(g) for g in found]


def cost_report(dossier: Dossier) -> dict[str, Any]:
    """Cost of a batch and a day by prices per kg; a line without a price is counted, not free."""
    prices = dossier.prices
    costs = [
        None if line.food.id not in prices else prices[line.food.id] * line.amount.grams / 1000
        for line in dossier.lines
    ]
    total = sum(c for c in costs if c is not None)
    return {
        "lines": [None if c is None else round(c, 3) for c in costs],
        "batch": round(total, 2),
        "per_day": round(total / dossier.days, 2),
        "unpriced": sum(c is None for c in costs),
    }


def marks_report(dossier: Dossier) -> list[dict[str, str]]:
    """Foods of the recipe that cannot be had or used."""
    used = {line.food.id for line in dossier.lines}
    return [{"food": m.food, "mark": m.mark.value} for m in dossier.marks if m.food in used]


def merged_report(merged: MergedSet) -> dict[str, Any]:
    """Conflicts in words with their options, what must be signed off, what goes under the standard."""
    return {
        "conflicts": [
            {
                "key": c.key,
                "name": c.name,
                "kind": c.kind,
                "words": c.words,
                "floor": clean(c.floor.value),
                "ceiling": clean(c.ceiling.value),
                "unit": c.floor.unit,
                "options": [
                    {
                        "id": o.id,
                        "text": o.text,
                        "bound": o.bound,
                        "value": clean(o.value),
                        "whose": o.whose,
                    }
                    for o in c.options
                ],
                "decided": {"by": c.decided.by, "reason": c.decided.reason} if c.decided else None,
            }
            for c in merged.conflicts
        ],
        "sign_off": list(merged.sign_off),
        "under_standard": list(merged.under_standard),
    }


def case_report(dossier: Dossier) -> dict[str, Any]:
    """The analysis of a case file, with every nutrient's sources (docs/formats/analysis.schema.json)."""
    report = analyse(dossier)
    sums = sum_lines(dossier.library, dossier.lines, dossier.days)
    for key in ("contributions", "second", "second_name", "gauges", "way_caution", "marks"):
        del report[key]
    if not dossier.prices:
        del report["cost"]
    report.update(merged_report(dossier.targets))
    for i, nutrient in enumerate(report["nutrients"]):
        nutrient["sources"] = nutrient_sources(dossier.library, dossier.lines, sums, i)
    return report
