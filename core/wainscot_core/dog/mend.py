"""A record that cannot be read, made readable again: what is wrong is taken out of it, told, and nothing else."""

import json
import re
from collections.abc import Callable, Iterable, Mapping
from copy import deepcopy
from dataclasses import dataclass, replace
from typing import Any

from ..errors import InputError
from .record import CaseRecord

# More faults than this are one: the whole of what they stand in.
MOST_FAULTS = 200
MOST_HELD = 2000
_STEP = re.compile(r"[^.\[\]]+")


@dataclass(frozen=True, kw_only=True)
class Fault:
    """Something that cannot be read. path: where it stands; why: what is wrong with it; held: what stands there, as JSON text,
    the beginning of it."""

    path: str
    why: str
    held: str


Reads = Callable[[Any], object]


def without_faults(
    data: Mapping[str, Any], reads: Reads
) -> tuple[dict[str, Any], tuple[Fault, ...]]:
    """Plain data with everything taken out that `reads` refuses, and what that was: of a list the one element, else the one
    field. Raises InputError where what is left is still refused: something that must be there."""
    found: dict[str, Any] = deepcopy(dict(data))
    faults: list[Fault] = []
    for _ in range(MOST_FAULTS):
        try:
            reads(found)
        except InputError as error:
            again = [f for f in faults if f.path == error.field and not f.path.endswith("]")]
            first = next(iter(again), None)
            if first is not None:
                # It must be there, and nothing is made up in its place.
                raise InputError(first.path, first.why) from None
            path, held = _taken_out(found, [m[0] for m in _STEP.finditer(error.field)])
            if not path:
                raise
            told = json.dumps(held, default=str, ensure_ascii=False)[:MOST_HELD]
            # Which part of it, where it is not the whole.
            deeper = error.field.removeprefix(path).lstrip(".")
            faults.append(Fault(path=path, why=f"{deeper} {error.message}".lstrip(), held=told))
        else:
            return found, tuple(faults)
    reads(found)
    return found, tuple(faults)


def to_ask_again(record: CaseRecord, faults: Iterable[Fault]) -> CaseRecord:
    """A list that lost something is not complete, whatever was said of it before."""
    paths = [f.path for f in faults]

    def whole(path: str) -> bool:
        return not any(re.match(rf"{re.escape(path)}\b", p) for p in paths)

    intake = record.intake
    return replace(
        record,
        intake=replace(
            intake,
            conditions_asked=intake.conditions_asked and whole("conditions"),
            reactions_asked=intake.reactions_asked and whole("reactions"),
            medicines_asked=intake.medicines_asked and whole("intake.medicines"),
        ),
    )


def _taken_out(data: dict[str, Any], steps: list[str]) -> tuple[str, Any]:
    """Take out what stands at a path, or what it stands in where there is nothing at it; "" where nothing can be."""
    place: list[tuple[Any, Any]] = []
    at: Any = data
    for step in steps:
        key = int(step) if isinstance(at, list | tuple) and step.isdecimal() else step
        try:
            deeper = at[key]
        except (LookupError, TypeError):
            break
        place.append((at, key))
        at = deeper
    # Half of an element of a list tells nothing: it goes as a whole.
    listed = next(
        (n for n, (inside, _) in enumerate(place) if isinstance(inside, list | tuple)), None
    )
    if listed is not None:
        place = place[: listed + 1]
    if not place:
        return "", None
    inside, key = place[-1]
    if isinstance(inside, tuple):
        above, name = place[-2]
        above[name] = inside = list(inside)
    held = inside[key]
    del inside[key]
    return _written([k for _, k in place]), held


def _written(steps: list[Any]) -> str:
    text = ""
    for step in steps:
        text += f"[{step}]" if isinstance(step, int) else f".{step}" if text else str(step)
    return text
