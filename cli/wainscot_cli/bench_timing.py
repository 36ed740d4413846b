"""Run times: sorted, with a warm-up, and their quantiles."""

import statistics
import time
from collections.abc import Callable


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
