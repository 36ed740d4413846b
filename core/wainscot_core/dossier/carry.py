"""Send a dossier to another process of this program, without the facts that it has already.

Of 30 MB a few stay: whatever belongs to the reference data goes as its name and is found again at the other end. Both ends
must have read the same folder, and trust each other: this is no format for files.
"""

import pickle
from collections.abc import Iterator
from dataclasses import fields, is_dataclass
from io import BytesIO
from typing import Any

from ..errors import InputError
from .reference import Reference

# Where the parts of the facts begin to be small: what is deeper goes along with what holds it.
_DEPTH = 2


def packed(thing: object, facts: Reference) -> bytes:
    """A thing as bytes for a process that has the same facts."""
    into = BytesIO()
    into.write(facts.fingerprint.encode())
    _Pickler(into, facts).dump(thing)
    return into.getvalue()


def unpacked(sent: bytes, facts: Reference) -> Any:
    """What `packed` was given. Raises InputError when the sender had other facts."""
    mark = facts.fingerprint.encode()
    if not sent.startswith(mark):
        raise InputError("", "the reference data were changed while this ran: start it again")
    return _Unpickler(BytesIO(sent[len(mark) :]), facts).load()


def _parts(facts: Reference) -> Iterator[tuple[str, object]]:
    """What goes as its name: the facts, what they are made of, and every food."""
    yield from _under("", facts, _DEPTH)
    for row, food in enumerate(facts.library.foods):
        yield f"food {row}", food


def _under(path: str, thing: object, depth: int) -> Iterator[tuple[str, object]]:
    yield path, thing
    if depth == 0 or not is_dataclass(thing):
        return
    for one in fields(thing):
        part = getattr(thing, one.name)
        if is_dataclass(part) or (isinstance(part, dict | tuple) and part):
            yield from _under(f"{path}.{one.name}", part, depth - 1)


class _Pickler(pickle.Pickler):
    def __init__(self, into: BytesIO, facts: Reference) -> None:
        super().__init__(into, protocol=pickle.HIGHEST_PROTOCOL)
        # The first name wins, so that both ends speak of one place where a thing stands in two.
        self._names: dict[int, str] = {}
        for name, part in _parts(facts):
            self._names.setdefault(id(part), name)

    def persistent_id(self, obj: object) -> str | None:
        return self._names.get(id(obj))


class _Unpickler(pickle.Unpickler):
    def __init__(self, of: BytesIO, facts: Reference) -> None:
        super().__init__(of)
        self._facts = dict(_parts(facts))

    def persistent_load(self, pid: str) -> object:
        return self._facts[pid]
