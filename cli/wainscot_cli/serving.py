"""Start the application: database, search index, demo data, gunicorn."""

import os
import shutil
import socket
import sqlite3
import subprocess
import sys
from pathlib import Path

from .paths import ROOT, SERVER

DEMO_USER, DEMO_PASSWORD = "demo", "linen-oak-rail"


def _say(text: str) -> None:
    print(text, file=sys.stderr, flush=True)


def _environment(data: Path, demo: bool) -> dict[str, str]:
    extra = {"WAINSCOT_DATA": str(data), "DJANGO_SETTINGS_MODULE": "config.settings"}
    if demo:
        extra["WAINSCOT_DEMO"] = "1"
    return {**os.environ, **extra}


def _manage(data: Path, demo: bool, *words: str) -> None:
    subprocess.run(
        [sys.executable, str(SERVER / "manage.py"), *words],
        check=True,
        env=_environment(data, demo),
        stdout=sys.stderr,
    )


def _check_port(port: int) -> str | None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError as error:
            return f"Port {port} cannot be used ({error.strerror}). Choose another with --port."
    return None


def _check_database(data: Path) -> str | None:
    path = data / "wainscot.sqlite3"
    if not path.exists():
        return None
    try:
        with sqlite3.connect(path) as connection:
            verdict = connection.execute("PRAGMA quick_check").fetchone()[0]
    except sqlite3.DatabaseError as error:
        verdict = str(error)
    if verdict == "ok":
        return None
    return f"The database {path} is damaged ({verdict}). Restore a backup of it and start again."


def prepare(data: Path, demo: bool) -> None:
    """Bring the database and the search index of a data folder up to date."""
    data.mkdir(parents=True, exist_ok=True)
    _manage(data, demo, "migrate", "--verbosity", "0")
    _manage(data, demo, "load_reference")
    _manage(data, demo, "look_at_data")
    if demo:
        _manage(data, demo, "seed_demo", "--username", DEMO_USER, "--password", DEMO_PASSWORD)


def serve(data: Path, port: int, demo: bool = False) -> int:
    """Serve a data folder on 127.0.0.1 until stopped."""
    data = data.resolve()
    problem = _check_port(port) or _check_database(data)
    if problem:
        _say(problem)
        return 1
    prepare(data, demo)
    _say(f"\n  Wainscot is at http://127.0.0.1:{port}/")
    if demo:
        _say(f"  Sign in as {DEMO_USER} with the password {DEMO_PASSWORD}")
    else:
        _say("  The first visit asks for the practice and its first user.")
    _say(f"  Data: {data}   Stop with Ctrl+C\n")
    os.chdir(SERVER)
    os.execve(
        sys.executable,
        [
            sys.executable, "-m", "gunicorn", "--workers", "1", "--threads", "16",
            "--bind", f"127.0.0.1:{port}", "--log-level", "warning", "--no-control-socket", "config.wsgi",
        ],
        _environment(data, demo),
    )  # fmt: skip


def serve_demo(port: int, reset: bool, yes: bool) -> int:
    """Serve the demo data; --reset starts over after asking."""
    data = ROOT / "var" / "demo"
    if reset and data.exists():
        if not yes:
            _say(f"This deletes everything entered in the demo ({data}). Type yes to go on:")
            if sys.stdin.readline().strip().lower() != "yes":
                _say("Nothing was deleted.")
                return 1
        shutil.rmtree(data)
    return serve(data, port, demo=True)
