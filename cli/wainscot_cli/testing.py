"""Lint, types, tests; and the files that are generated."""

import json
import os
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Sequence
from pathlib import Path

from wainscot_core.analysis.analyse import CaseAnalysis
from wainscot_core.boundary import schema_of
from wainscot_core.dossier.seal import SEAL, sealed, sums
from wainscot_core.followup.log import WeightLog
from wainscot_core.followup.trend import Trend
from wainscot_core.formulation.case_file import CaseFormulation
from wainscot_core.snapshot.snapshot import Snapshot
from wainscot_core.transcribe.reading import RecipeRead

from .licences import SHIPPED, document
from .paths import REFERENCE, ROOT, SERVER, WEB

BIN = Path(sys.executable).parent
OPENAPI = ROOT / "docs" / "formats" / "openapi.yaml"
TYPES = WEB / "src" / "api" / "schema.d.ts"
FORMATS = (
    ("analysis", CaseAnalysis, "What ./wainscot analyse prints"),
    ("formulation", CaseFormulation, "What ./wainscot formulate prints"),
    ("read-recipe", RecipeRead, "What ./wainscot read-recipe prints"),
    ("weight-log", WeightLog, "What ./wainscot trend reads"),
    ("trend", Trend, "What ./wainscot trend prints"),
    ("snapshot", Snapshot, "A case, or a recipe in it, kept whole"),
)
CHROMIUM = Path("/usr/bin/chromium")
SUITES = ("core", "server", "browser")
PARTS = {"lint", "web", *SUITES}
# Seed of hashes and of generated examples. The core runs under two: an answer that depends on
# either is a fault, and one seed alone has hidden such faults before.
SEEDS = {"core": (1, 5), "server": (1,), "browser": (1,)}


def _run(title: str, *words: str, cwd: Path = ROOT, env: dict[str, str] | None = None) -> bool:
    print(f"\n== {title}", flush=True)
    done = subprocess.run(words, cwd=cwd, env={**os.environ, **(env or {})}, check=False)
    if done.returncode:
        print(f"== {title}: FAILED", flush=True)
    return done.returncode == 0


def run_tests(only: Sequence[str]) -> int:
    """Run everything, or the named parts; 0 when all passed."""
    wanted = set(only) or PARTS
    unknown = wanted - PARTS
    if unknown:
        print(
            f"no such part: {', '.join(sorted(unknown))}; use {', '.join(sorted(PARTS))}",
            file=sys.stderr,
        )
        return 2
    passed = True
    if "lint" in wanted:
        passed &= all(
            [
                _run("ruff", str(BIN / "ruff"), "check", "."),
                _run("ruff format", str(BIN / "ruff"), "format", "--check", "."),
                _run("mypy", str(BIN / "mypy")),
                _run("layers", str(BIN / "lint-imports")),
                _run("biome", "npx", "biome", "check", ".", cwd=WEB),
                _run("typescript", "npx", "tsc", "--noEmit", "-p", ".", cwd=WEB),
                _generated_is_current(),
            ]
        )
    if "web" in wanted:
        passed &= _run("web unit tests", "npx", "vitest", "run", cwd=WEB)
    suites = [s for s in SUITES if s in wanted]
    if "browser" in suites and not _chromium_ready():
        return 1
    for suite in suites:
        for seed in SEEDS[suite]:
            passed &= _run_suite(suite, seed)
    return 0 if passed else 1


def _run_suite(suite: str, seed: int) -> bool:
    """One suite in parallel; the browser alone, for it measures what a person would see."""
    at_once = str(min(os.cpu_count() or 1, 8))
    # Tests of one group share what was costly to make.
    workers = () if suite == "browser" else ("-n", at_once, "--dist", "loadgroup")
    which = () if seed == SEEDS[suite][0] else ("-m", "not once")
    with tempfile.TemporaryDirectory() as data:
        return _run(
            f"{suite} tests, PYTHONHASHSEED={seed} and --hypothesis-seed={seed}",
            str(BIN / "pytest"), f"tests/{suite}", *workers, *which, f"--hypothesis-seed={seed}",
            env={"WAINSCOT_DATA": data, "PYTHONHASHSEED": str(seed)},
        )  # fmt: skip


def _chromium_ready() -> bool:
    if CHROMIUM.exists():
        return True
    if shutil.which("apt-get") and os.geteuid() == 0:
        print("installing Debian's chromium for the browser tests", flush=True)
        subprocess.run(["apt-get", "update", "-qq"], check=False)
        subprocess.run(["apt-get", "install", "-y", "-qq", "chromium"], check=False)
    if CHROMIUM.exists():
        return True
    print(
        "Browser tests need /usr/bin/chromium (Debian: apt-get install chromium).", file=sys.stderr
    )
    return False


def _write_schema(target: Path) -> None:
    with tempfile.TemporaryDirectory() as data:
        subprocess.run(
            [sys.executable, str(SERVER / "manage.py"), "spectacular", "--validate", "--fail-on-warn", "--file", str(target)],
            check=True,
            env={**os.environ, "WAINSCOT_DATA": data, "DJANGO_SETTINGS_MODULE": "config.settings"},
        )  # fmt: skip


def _write_formats(folder: Path) -> None:
    """The schemas of what goes out, from the very types that go out."""
    for name, kind, title in FORMATS:
        schema = schema_of(kind, f"wainscot-{name}", title)
        (folder / f"{name}.schema.json").write_text(json.dumps(schema, indent=1) + "\n")


def _write_types(schema: Path, target: Path) -> None:
    subprocess.run(
        [
            "npx",
            "openapi-typescript",
            str(schema),
            "-o",
            str(target),
            "--default-non-nullable=false",
        ],
        check=True,
        cwd=WEB,
        stdout=subprocess.DEVNULL,
    )


def _generated_is_current() -> bool:
    print("\n== generated files", flush=True)
    with tempfile.TemporaryDirectory() as folder:
        schema, types = Path(folder) / "openapi.yaml", Path(folder) / "schema.d.ts"
        _write_schema(schema)
        _write_types(schema, types)
        _write_formats(Path(folder))
        formats = [f"{name}.schema.json" for name, _, _ in FORMATS]
        stale = [
            committed
            for made, committed in (
                (schema, OPENAPI),
                (types, TYPES),
                *((Path(folder) / f, OPENAPI.parent / f) for f in formats),
            )
            if made.read_text() != committed.read_text()
        ]
    if (REFERENCE / SEAL).read_text() != sealed(sums(REFERENCE)):
        stale.append(REFERENCE / SEAL)
    if not SHIPPED.exists() or SHIPPED.read_text() != document():
        stale.append(SHIPPED)
    for path in stale:
        print(f"{path.relative_to(ROOT)} is stale: run ./wainscot generate")
    return not stale


def generate() -> int:
    """Write the published schemas, the TypeScript types, the licences and the seal of the reference data anew."""
    (REFERENCE / SEAL).write_text(sealed(sums(REFERENCE)))
    _write_formats(OPENAPI.parent)
    _write_schema(OPENAPI)
    _write_types(OPENAPI, TYPES)
    SHIPPED.write_text(document())
    return 0


def lock() -> int:
    """Lock Python and front-end packages anew, without download addresses."""
    subprocess.run([sys.executable, "-m", "pip", "install", "-q", "uv"], check=True)
    for name in ("runtime", "dev"):
        subprocess.run(
            [
                str(BIN / "uv"), "pip", "compile", "-q", "--generate-hashes", "--no-emit-index-url",
                "--no-emit-find-links", "--no-header", f"requirements/{name}.in",
                "-o", f"requirements/{name}.txt",
            ],
            check=True,
            cwd=ROOT,
        )  # fmt: skip
    subprocess.run(["npm", "install", "--package-lock-only"], check=True, cwd=WEB)
    path = WEB / "package-lock.json"
    packages = json.loads(path.read_text())
    for entry in packages["packages"].values():
        entry.pop("resolved", None)
    path.write_text(json.dumps(packages, indent=2) + "\n")
    return 0
