"""Measure speed against the floor, in one run: raw numpy, raw SQLite."""

import json
import os
import statistics
import subprocess
import sys
import tempfile
from pathlib import Path

import numpy as np
from wainscot_core.analysis.adequacy import judge
from wainscot_core.dossier import reference
from wainscot_core.recipe.totals import totals
from wainscot_core.targets.standards import requirement_set

from .bench_browser import bench_browser
from .bench_formulation import bench_formulation
from .bench_timing import milliseconds, quantiles
from .paths import REFERENCE, ROOT

LINES = 25


def run_bench(browser_only: bool = False) -> int:
    """Print one JSON object of measurements."""
    if browser_only:
        print(json.dumps({"browser": bench_browser()}, indent=1))
        return 0
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
    statuses = milliseconds(lambda: judge(whole, requirements))
    result = {
        "lines": LINES,
        "nutrients": len(facts.catalogue.nutrients),
        "numpy_rows_and_product": quantiles(floor),
        "analysis_totals": {
            **quantiles(sums),
            "ratio_to_numpy": round(statistics.median(sums) / statistics.median(floor), 2),
        },
        "statuses": quantiles(statuses),
        **bench_formulation(facts),
        "server": _server_bench(),
        "browser": bench_browser(),
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
