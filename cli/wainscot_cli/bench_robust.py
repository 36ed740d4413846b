"""How long ten thousand batches take, against the normals and exponentials they are made of."""

import statistics
from typing import Any

import numpy as np
from wainscot_core.dossier.reference import Reference
from wainscot_core.formats.casefile import dossier_of, read_case_file
from wainscot_core.robust.simulate import BATCHES, Runs, simulate
from wainscot_core.robust.uncertain import uncertain
from wainscot_core.robust.without import carrying

from .bench_timing import milliseconds, quantiles

LINES = 25
TIMES = 20


def bench_robust(facts: Reference) -> dict[str, Any]:
    """25 lines, every nutrient, a week's batch; `ratio_to_numpy`: against bare numpy drawing as many."""
    library = facts.library
    foods = [f.id for f in library.foods if f.plain][:: 229 // LINES][:LINES]
    dossier = dossier_of(
        facts,
        read_case_file(
            {
                "format": "wainscot-case", "version": 1,
                "dog": {"name": "Bench", "weight_kg": 20, "age_months": 60},
                "energy": {"method": "rer-multiplier", "multiplier": 1.6},
                "targets": {"standard": "nrc-2006", "life_stage": "adult"},
                "recipe": {"covers_days": 7, "lines": [{"food": f, "grams": 50} for f in foods]},
            }
        ),
    )  # fmt: skip
    of, width = uncertain(dossier), len(facts.catalogue.nutrients)
    stream = np.random.Generator(np.random.SFC64(1))

    def bare() -> None:
        drawn = stream.standard_normal((BATCHES, LINES, width), dtype=np.float32)
        np.exp(drawn, out=drawn)

    floor = milliseconds(bare, TIMES)
    whole = milliseconds(lambda: simulate(of, range(width), Runs.of(7)), TIMES)
    return {
        "numpy_normals_and_exp": quantiles(floor),
        "ten_thousand_batches": {
            **quantiles(whole),
            "ratio_to_numpy": round(statistics.median(whole) / statistics.median(floor), 2),
        },
        "without_each_line": quantiles(milliseconds(lambda: carrying(dossier), TIMES)),
    }
