"""Start the application: database, search index, demo data, server."""

import os
import shutil
import socket
import subprocess
import sys
from pathlib import Path

from keeping.folder import hold, mark_made, open_folder
from keeping.trouble import FolderError
from wainscot_core.dossier.seal import broken_seal

from .paths import REFERENCE, ROOT, SERVER

HERE = "127.0.0.1"
DEMO_USER, DEMO_PASSWORD = "demo", "linen-oak-rail"


def _say(text: str) -> None:
    print(text, file=sys.stderr, flush=True)


def environment(data: Path, demo: bool) -> dict[str, str]:
    """What the server is told by its environment."""
    extra = {"WAINSCOT_DATA": str(data), "DJANGO_SETTINGS_MODULE": "config.settings"}
    if demo:
        extra["WAINSCOT_DEMO"] = "1"
    return {**os.environ, **extra}


def _manage(data: Path, demo: bool, *words: str) -> None:
    subprocess.run(
        [sys.executable, str(SERVER / "manage.py"), *words],
        check=True,
        env=environment(data, demo),
        stdout=sys.stderr,
    )


def _check_port(bind: str, port: int) -> str | None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((bind, port))
        except OSError as error:
            return f"Port {port} of {bind} cannot be used ({error.strerror}). Choose another with --port."
    return None


def _check_reference() -> str | None:
    broken = broken_seal(REFERENCE)
    if not broken:
        return None
    listed = "".join(f"\n  {what}" for what in broken[:10])
    more = f"\n  and {len(broken) - 10} more" if len(broken) > 10 else ""
    return (
        f"The reference data in {REFERENCE} are not those of this version:{listed}{more}\n"
        "Diets would be judged by figures nobody checked. Install this version anew; whoever changed them on purpose "
        "seals them with ./wainscot generate."
    )


def _check_keep_days() -> str | None:
    said = os.environ["WAINSCOT_BACKUP_KEEP_DAYS"]
    if said == "" or (said.isdecimal() and 0 < int(said) <= 3650):
        return None
    return f"WAINSCOT_BACKUP_KEEP_DAYS is {said!r}: give a number of days from 1 to 3650, or nothing for no backups."


def prepare(data: Path, demo: bool) -> None:
    """Bring the database and the search index of a data folder up to date."""
    # What the database, its index and every file beside it hold is nobody else's on this machine.
    os.umask(0o077)
    data.mkdir(parents=True, exist_ok=True)
    _manage(data, demo, "migrate", "--verbosity", "0")
    mark_made(data)
    _manage(data, demo, "load_reference")
    _manage(data, demo, "look_at_data")
    if demo:
        _manage(data, demo, "seed_demo", "--username", DEMO_USER, "--password", DEMO_PASSWORD)


def serve(data: Path, port: int, demo: bool = False, bind: str = HERE) -> int:
    """Serve a data folder until stopped, to this machine alone unless another address of it is given."""
    data = data.resolve()
    os.environ.setdefault("WAINSCOT_BACKUP_KEEP_DAYS", "14")
    problem = _check_port(bind, port) or _check_reference() or _check_keep_days()
    if problem:
        _say(problem)
        return 1
    try:
        open_folder(data)
        # Held until this process, and what takes its place below, has ended.
        hold(data, f"http://127.0.0.1:{port}")
        prepare(data, demo)
    except FolderError as error:
        _say(error.words)
        return 1
    except subprocess.CalledProcessError as error:
        _say(
            f"The database in {data} could not be brought up to date ({' '.join(error.cmd[2:])}): what went wrong stands "
            "above. Nothing was lost: start again once it is mended, or bring a backup back with ./wainscot restore."
        )
        return 1
    _say(f"\n  Wainscot is at http://127.0.0.1:{port}/")
    if demo:
        _say(f"  Sign in as {DEMO_USER} with the password {DEMO_PASSWORD}")
        _say("  The same password: iris, a consultant, and nell, an assistant")
    else:
        _say("  The first visit asks for the practice and its first user.")
    _say(f"  Data: {data}   Stop with Ctrl+C\n")
    os.chdir(SERVER)
    os.execve(
        sys.executable,
        [sys.executable, "-m", "config.server", str(port), bind],
        environment(data, demo),
    )


def serve_demo(port: int, reset: bool, yes: bool) -> int:
    """Serve the demo data; --reset starts over after asking."""
    data = ROOT / "var" / "demo"
    if reset and data.exists():
        if not yes:
            _say(f"This deletes everything entered in the demo ({data}). Type yes to go on:")
            if sys.stdin.readline().strip().lower() != "yes":
                _say("Nothing was deleted.")
                return 1
        try:
            os.close(hold(data))
        except FolderError as error:
            _say(error.words)
            return 1
        shutil.rmtree(data)
    return serve(data, port, demo=True)
