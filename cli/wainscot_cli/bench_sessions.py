"""Fifty people at once: every one asks for the analysis of a recipe again and again, of the real server over demo data."""

import os
import statistics
import tempfile
import threading
import time
from pathlib import Path

from .bench_timing import quantiles
from .serving import prepare
from .soak import HTTP_PROBLEMS, Caller, Server

SESSIONS = 50
EACH = 6


def sessions_bench(sessions: int = SESSIONS) -> dict[str, object]:
    """Analyses of one session alone, then of many at once, ms; against a session's share of the cores: what one analysis
    takes alone, times the sessions, by the cores."""
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder) / "data"
        prepare(data, demo=True)
        server = Server(data)
        server.start()
        try:
            return _measured(server, sessions)
        finally:
            server.kill()


def _measured(server: Server, sessions: int) -> dict[str, object]:
    callers = [Caller(server.address) for _ in range(sessions)]
    path, body = _question(callers[0])
    unanswered: list[str] = []
    alone = _ask(callers[0], path, body, 30, unanswered)
    if unanswered:
        raise RuntimeError(unanswered[0])
    taken: list[list[float]] = [[] for _ in callers]
    wrong: list[str] = []
    ready = threading.Barrier(sessions)

    def work(n: int) -> None:
        ready.wait()
        taken[n] = _ask(callers[n], path, body, EACH, wrong)

    threads = [threading.Thread(target=work, args=(n,)) for n in range(sessions)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    together = [ms for one in taken for ms in one]
    cores = os.cpu_count() or 1
    share = statistics.median(alone) * sessions / cores
    found = quantiles(together)
    return {
        "sessions": sessions,
        "cores": cores,
        "alone": quantiles(alone),
        "together": found,
        "answered": len(together),
        "errors": wrong[:5],
        "share_ms": round(share, 1),
        "p95_to_share": round(found["p95_ms"] / share, 2),
    }


def _question(caller: Caller) -> tuple[str, object]:
    """An analysis of the first recipe of the demo, as its bench asks for it."""
    row = caller.send("GET", "cases")[1]["rows"][0]
    recipe = caller.send("GET", f"recipes/{row['recipes'][0]['id']}")[1]
    fields = ("food", "quantity", "note", "preparation", "override")
    lines = [{f: line[f] for f in fields} for line in recipe["lines"]]
    return f"recipes/{recipe['id']}/analysis", {
        "lines": lines,
        "covers_days": recipe["covers_days"],
    }


def _ask(caller: Caller, path: str, body: object, times: int, wrong: list[str]) -> list[float]:
    taken = []
    for _ in range(times):
        begun = time.perf_counter()
        try:
            status, said = caller.send("POST", path, body)
        except HTTP_PROBLEMS as problem:
            wrong.append(repr(problem))
            continue
        taken.append((time.perf_counter() - begun) * 1000)
        if status != 200:
            wrong.append(f"{status} {str(said)[:200]}")
    return sorted(taken)
