"""What was read of the database stays good while nothing in it changes: the same records are asked for at
every key, and to ask for them costs more than to compute."""

import threading
from collections.abc import Callable, Hashable
from sqlite3 import Connection
from typing import TypeVar, cast

from django.db import connection

T = TypeVar("T")

# Of how many things the last reading is kept, by thread.
MOST_KEPT = 8

State = tuple[int, int, int]


class _Kept(threading.local):
    """What one thread has read, by key, with the state of the database it read it in."""

    def __init__(self) -> None:
        self.by_key: dict[Hashable, tuple[State, object]] = {}


_kept = _Kept()


def state_of(raw: Connection) -> State:
    """Another one whenever anything was written: by this connection (SQLite counts its rows), or by any
    other (SQLite's data_version, which is of one connection)."""
    (version,) = raw.execute("PRAGMA data_version").fetchone()
    return id(raw), version, raw.total_changes


def while_unchanged(key: Hashable, read: Callable[[], T]) -> T:
    """What `read` answers, or what it answered last under this key in this thread when nothing was
    written since. The state is taken first: what is written meanwhile makes the next one read again."""
    connection.ensure_connection()
    state = state_of(connection.connection)
    kept = _kept.by_key
    if key in kept and kept[key][0] == state:
        return cast("T", kept[key][1])
    kept.pop(key, None)
    found = read()
    while len(kept) >= MOST_KEPT:
        del kept[next(iter(kept))]
    kept[key] = state, found
    return found
