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
from wainscot_core.dossier.reference import Reference
from wainscot_core.recipe.totals import totals
from wainscot_core.targets.standards import requirement_set
from wainscot_core.transcribe.described import Described
from wainscot_core.transcribe.reading import transcribe

from .bench_browser import bench_browser
from .bench_formulation import bench_formulation
from .bench_robust import bench_robust
from .bench_sessions import sessions_bench
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
        "transcribe": _transcribe_bench(facts),
        **bench_formulation(facts),
        "robust": bench_robust(facts),
        "server": _server_bench(),
        "sessions": sessions_bench(),
        "browser": bench_browser(),
    }
    print(json.dumps(result, indent=1))
    return 0


# Twenty lines as people write them.
RECIPE = """2 lbs ground turkey (93/7)
1 large sweet potato, peeled and cubed
1 1/2 cups brown rice (uncooked)
1 cup frozen peas
2-3 carrots, shredded
half a tin of chickpeas, drained
a handful of spinach
1 tbsp olive oil or coconut oil
500g beef mince, 5% fat
3 large eggs
1 x 145 g tin tuna in spring water
100 g low-fat cottage cheese
2 tsp eggshell powder
1/4 tsp kelp powder (optional)
10 mg zinc
salt to taste
1 cup carrots and green beans
1 small courgette, grated
1 lb 4 oz ox liver
a glug of salmon oil"""


def _transcribe_bench(facts: Reference) -> object:
    """Twenty lines read, against the bare search for the food of each."""
    matcher = facts.matcher
    read = transcribe(matcher, RECIPE)
    sought = [Described(food=tuple(line.text.split())) for line in read.lines]
    whole = milliseconds(lambda: transcribe(matcher, RECIPE), 40)
    bare = milliseconds(lambda: [matcher.find(of) for of in sought], 40)
    return {
        "lines": len(RECIPE.splitlines()),
        "whole": quantiles(whole),
        "bare_searches": quantiles(bare),
        "ratio_to_searches": round(statistics.median(whole) / statistics.median(bare), 2),
    }


def _server_bench() -> object:
    """The server's own measurements, in a process with Django and a database of its own."""
    with tempfile.TemporaryDirectory() as data:
        env = {**os.environ, "WAINSCOT_DATA": data, "DJANGO_SETTINGS_MODULE": "config.settings"}
        manage = str(ROOT / "server" / "manage.py")
        for words in (["migrate", "-v", "0"], ["load_reference"]):
            subprocess.run(
                [sys.executable, manage, *words], check=True, env=env, stdout=subprocess.DEVNULL
            )
        found = {}
        for words in (["bench_server", "--lines", str(LINES)], ["bench_desk"]):
            done = subprocess.run(
                [sys.executable, manage, *words], check=True, env=env, stdout=subprocess.PIPE,
                cwd=Path(data),
            )  # fmt: skip
            found[words[0]] = json.loads(done.stdout)
    return {**found["bench_server"], "desk": found["bench_desk"]}
