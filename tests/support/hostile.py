"""Bodies that somebody sends who means harm, or whose program is broken: each place of a good body holds what it should not."""

import copy
import json
import random
from collections.abc import Iterator
from typing import Any

# As the text of JSON, for what json.dumps would not write.
EVIL = (
    "null", "[]", "{}", '""', '"x"', "-1", "0", "true", "1e308", "-1e308", "1e400", "NaN", "-Infinity", "1.5",
    "9" * 400, "9223372036854775808", "2147483648", '"²"', '"١٢"', '"\\ud800"', '"\\u0000"', '"' + "x" * 70_000 + '"',
    '"=cmd|\'/C calc\'!A0"', '"<script>alert(1)</script>"', '"../../etc/passwd"', '"2999-12-31"', '"0000-00-00"',
    '"2026-02-30"', "[" * 400 + "]" * 400, '[{"name":"x"}]', "[{}]", "[null]", '{"__proto__":{"x":1}}', '"1e9"', '"own:bad slug/../"',
)  # fmt: skip
_HOLE = "@@hole@@"


def places(body: Any, at: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Every place of a body, itself among them."""
    yield at
    if isinstance(body, dict):
        for key, value in body.items():
            yield from places(value, (*at, key))
    elif isinstance(body, list):
        for n, value in enumerate(body[:2]):
            yield from places(value, (*at, n))


def _with(body: Any, at: tuple[Any, ...], evil: str) -> str:
    """The text of a body with something evil at one place."""
    if not at:
        return evil
    made = copy.deepcopy(body)
    inner = made
    for step in at[:-1]:
        inner = inner[step]
    inner[at[-1]] = _HOLE
    return json.dumps(made).replace(json.dumps(_HOLE), evil)


def hostile(body: Any, most: int, seed: int) -> list[tuple[str, str]]:
    """So many bodies made of a good one, each with where it is evil; the same ones for a seed. Every place and every evil
    comes before any comes again."""
    rng = random.Random(seed)
    where = list(places(body))
    rng.shuffle(where)
    evils = list(EVIL)
    rng.shuffle(evils)
    made = []
    for n in range(most):
        at = where[n % len(where)]
        evil = evils[(n + n // len(where)) % len(evils)]
        told = f"{'.'.join(map(str, at)) or 'all of it'} = {evil[:40]}"
        made.append((told, _with(body, at, evil)))
    return made
