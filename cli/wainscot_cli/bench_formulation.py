"""Formulation against HiGHS alone on the same model, and help from the whole library."""

import statistics
import sys
import time
from typing import Any

import highspy
import numpy as np
from wainscot_core.dossier.reference import Reference
from wainscot_core.formats.casefile import read_case
from wainscot_core.formulation.alternatives import alternatives_of
from wainscot_core.formulation.formulate import formulate
from wainscot_core.formulation.helpful import for_nutrient
from wainscot_core.formulation.model import Model, build
from wainscot_core.formulation.passes import solve
from wainscot_core.formulation.question import Settings, check_settings, problem_of
from wainscot_core.formulation.solution import HELD

from .bench_timing import milliseconds, quantiles

# Recipes of each kind of case.
RECIPES = 4
# What a consultant sees in a week: conditions by kind of case, weight of the dog in kg, times RER.
KINDS: dict[str, tuple[list[dict[str, str]], float, float]] = {
    "plain": ([], 18.0, 1.6),
    "heart": ([{"id": "mmvd", "stage": "C"}], 8.2, 1.4),
    "kidney": ([{"id": "ckd", "stage": "2"}], 12.0, 1.4),
    "pancreatitis": ([{"id": "pancreatitis", "stage": "recurrent"}], 9.0, 1.4),
    "overweight": ([{"id": "overweight"}], 30.0, 1.0),
    "joints": ([{"id": "osteoarthritis"}], 25.0, 1.5),
}


def case_file(kind: str, number: int) -> dict[str, Any]:
    """A case of a kind whose amounts differ from one number to the next."""
    conditions, weight_kg, multiplier = KINDS[kind]
    more = 1 + 0.03 * (number % 7 - 3)
    size = weight_kg**0.75 * multiplier / (8.2**0.75 * 1.4)
    lines = [
        {"food": "usda:05098", "grams": round(140 * more * size)},
        {"food": "usda:20445", "grams": round((119 - number) * size)},
        {"food": "usda:01012", "grams": round(56 * size)},
        {"food": "usda:11125", "grams": round((78 + 2 * number) * size)},
        {"food": "usda:11053", "grams": round(31 * size)},
        {"food": "usda:04053", "amount": 1, "unit": "tsp"},
        {"food": "usda:02047", "amount": 0.125, "unit": "tsp"},
    ]
    return {
        "format": "wainscot-case", "version": 1, "dog": {"name": "bench", "weight_kg": weight_kg},
        "energy": {"method": "rer-multiplier", "multiplier": multiplier},
        "targets": {"standard": "nrc-2006", "conditions": conditions},
        "recipe": {"covers_days": 1, "lines": lines},
    }  # fmt: skip


def highs_alone(model: Model) -> float:
    """Seconds of HiGHS for the same passes, the model handed over and nothing else done."""
    goals = [g for g in model.problem.goals if np.any(model.objectives[g])]
    goals += ["near"]
    highs = highspy.Highs()
    for option, value in (
        ("output_flag", False), ("threads", 1), ("mip_rel_gap", model.problem.gap),
        ("mip_abs_gap", 1e-9), ("mip_max_nodes", model.problem.nodes), ("primal_feasibility_tolerance", 1e-8),
        ("dual_feasibility_tolerance", 1e-8), ("mip_feasibility_tolerance", 1e-8),
    ):  # fmt: skip
        highs.setOptionValue(option, value)
    infinity = highspy.kHighsInf
    for low, high in zip(model.lower, model.upper, strict=True):
        highs.addVar(float(low), min(float(high), infinity))
    for i in np.flatnonzero(model.integral):
        highs.changeColIntegrality(int(i), highspy.HighsVarType.kInteger)
    for row in model.rows:
        columns = np.array(row.columns, dtype=np.int32)
        highs.addRow(row.low, row.high, len(columns), columns, np.array(row.values))
    columns = np.arange(model.width, dtype=np.int32)
    start = time.perf_counter()
    for goal in goals:
        objective = model.objectives[goal]
        highs.changeColsCost(len(columns), columns, objective)
        highs.run()
        value = float(objective @ np.array(highs.getSolution().col_value))
        used = np.flatnonzero(objective).astype(np.int32)
        allowed = max(HELD, model.problem.give.get(goal, 0.0) * abs(value))
        highs.addRow(-infinity, value + allowed, len(used), used, objective[used])
    return time.perf_counter() - start


def bench_formulation(facts: Reference) -> dict[str, Any]:
    """p50 and p95 of a whole formulation with and without its alternatives, of its passes, and of HiGHS alone; of
    help for a nutrient."""
    whole, every, passes, alone = [], [], [], []
    met = 0
    helping: list[float] = []
    by_kind: dict[str, list[float]] = {}
    asked = [(kind, number) for number in range(RECIPES) for kind in KINDS]
    for i, (kind, number) in enumerate(asked):
        print(f"formulation {i + 1} of {len(asked)}", file=sys.stderr, flush=True)
        dossier = read_case(facts, case_file(kind, number))
        settings = Settings(time_limit_s=30)
        start = time.perf_counter()
        found = formulate(dossier, settings)
        whole.append((time.perf_counter() - start) * 1000)
        alternatives_of(dossier, settings, found)
        every.append((time.perf_counter() - start) * 1000)
        by_kind.setdefault(kind, []).append(every[-1])
        met += found.state == "met"
        model = build(problem_of(dossier, check_settings(facts, settings)))
        start = time.perf_counter()
        solve(model)
        passes.append((time.perf_counter() - start) * 1000)
        alone.append(highs_alone(model) * 1000)
        if i == 0:
            helping = milliseconds(lambda d=dossier: for_nutrient(d, "ZN"), 10)  # type: ignore[misc]
    return {
        "formulation": {
            "candidates": len(model.problem.candidates), "columns": model.width,
            "rows": len(model.rows), "recipes": len(asked), "met": met,
            "whole": quantiles(sorted(whole)), "with_alternatives": quantiles(sorted(every)),
            "with_alternatives_by_kind_ms": {
                kind: round(statistics.median(times)) for kind, times in by_kind.items()
            },
            "passes": quantiles(sorted(passes)),
            "highs_alone": quantiles(sorted(alone)),
            "ratio_to_highs": round(statistics.median(passes) / statistics.median(alone), 2),
        },
        "help_from_the_library": {"foods": len(facts.library.foods), **quantiles(helping)},
    }  # fmt: skip
