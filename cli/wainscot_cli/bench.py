"""Measure speed against the floor, in one run: raw numpy, raw SQLite."""

import json
import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
from wainscot_core import reference
from wainscot_core.adequacy import check
from wainscot_core.analysis import totals
from wainscot_core.standards import requirement_set

from .paths import REFERENCE, ROOT

LINES = 25


def milliseconds(run: Callable[[], object], times: int = 400) -> list[float]:
    """Sorted run times in ms, after a warm-up."""
    for _ in range(min(20, times)):
        run()
    taken = []
    for _ in range(times):
        start = time.perf_counter()
        run()
        taken.append((time.perf_counter() - start) * 1000)
    return sorted(taken)


def quantiles(taken: list[float]) -> dict[str, float]:
    """p50 and p95, ms."""
    return {
        "p50_ms": round(statistics.median(taken), 4),
        "p95_ms": round(taken[int(len(taken) * 0.95)], 4),
    }


def run_bench() -> int:
    """Print one JSON object of measurements."""
    facts = reference.load(REFERENCE)
    library = facts.library
    rows = [library.row(f.id) for f in library.foods if f.plain][:: 229 // LINES][:LINES]
    grams = [50.0 + 3 * i for i in range(LINES)]
    requirements = requirement_set(facts.catalogue, facts.standards["nrc-2006"], "adult")
    filled = np.nan_to_num(library.values)
    index, weights = np.array(rows), np.array(grams) / 100

    floor = milliseconds(lambda: weights @ filled[index])
    sums = milliseconds(lambda: totals(library, rows, grams, 1.0))
    whole = totals(library, rows, grams, 1.0)
    statuses = milliseconds(lambda: check(whole, requirements))
    result = {
        "lines": LINES,
        "nutrients": len(facts.catalogue.nutrients),
        "numpy_rows_and_product": quantiles(floor),
        "analysis_totals": {
            **quantiles(sums),
            "ratio_to_numpy": round(statistics.median(sums) / statistics.median(floor), 2),
        },
        "statuses": quantiles(statuses),
        "server": _server_bench(),
    }
    print(json.dumps(result, indent=1))
    return 0


def _server_bench() -> object:
    """The server's own measurements, in a process with Django and a database of its own."""
    with tempfile.TemporaryDirectory() as data:
        env = {**os.environ, "WAINSCOT_DATA": data, "DJANGO_SETTINGS_MODULE": "config.settings"}
        manage = str(ROOT / "server" / "manage.py")
        for words in (["migrate", "-v", "0"], ["load_reference"]):
            subprocess.run(
                [sys.executable, manage, *words], check=True, env=env, stdout=subprocess.DEVNULL
            )
        done = subprocess.run(
            [sys.executable, manage, "bench_server", "--lines", str(LINES)],
            check=True,
            env=env,
            stdout=subprocess.PIPE,
            cwd=Path(data),
        )
    return json.loads(done.stdout)
