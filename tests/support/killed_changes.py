"""Change an older database as a start does, killed in the middle of each change but the first; prints how often. Every attempt is a
process of its own, born of one that has Django loaded. "whole": not killed at all."""

import os
import signal
import sys

import django
from django.core.management import call_command
from django.db import connection
from django.db.migrations.loader import MigrationLoader


def to_older() -> None:
    """Back to before the columns were held to what they may hold."""
    # Others came after them: an application goes back to before its own, whatever follows.
    held = sorted(k for k in MigrationLoader(connection).graph.nodes if k[1].endswith("_holds"))
    for app, name in held:
        call_command("migrate", app, f"{int(name[:4]) - 1:04d}", verbosity=0)
    connection.close()


def attempt() -> bool:
    """One start; whether it came to its end."""
    reads, writes = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(reads)
        with os.fdopen(writes, "w", buffering=1) as out:
            out.reconfigure(write_through=True)  # type: ignore[attr-defined]
            call_command("migrate", stdout=out)
        os._exit(0)
    os.close(writes)
    said = b""
    # The first is let through, so that there is an end; the second is killed in its middle.
    while said.count(b"Applying") < 2:
        letter = os.read(reads, 1)
        if not letter:
            break
        said += letter
    os.close(reads)
    if said.count(b"Applying") == 2:
        os.kill(child, signal.SIGKILL)
    return os.waitpid(child, 0)[1] == 0


if __name__ == "__main__":
    django.setup()
    to_older()
    killed = 0
    if sys.argv[1:] == ["whole"]:
        call_command("migrate", verbosity=0)
    else:
        while not attempt():
            killed += 1
    sys.stdout.write(str(killed))
