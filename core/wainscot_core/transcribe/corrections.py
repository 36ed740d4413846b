"""What somebody who tells a recipe takes back ("two tins, no wait, one tin"), or says again ("the same of peas")."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from .quantities import Found
from .tokens import Token
from .words import Words

_SO_MUCH = frozenset({"amount", "quantity", "weight", "again"})
_ENDS = frozenset({",", ";", "."})


@dataclass(frozen=True)
class Corrected:
    """The tokens that count, in the order in which they are to be read, and those that were taken back."""

    tokens: tuple[Token, ...]
    dropped: tuple[Token, ...] = ()


def corrected(
    words: Words,
    tokens: Sequence[Token],
    amount_at: Callable[[Sequence[Token], int], Found | None],
    names_food: Callable[[Sequence[Token]], bool],
) -> Corrected:
    """A sentence with its first correction made. An amount behind it takes the place of the one before; with a food of
    its own ("two carrots, sorry, two parsnips") it takes the place of amount and food."""
    whole = Corrected(tuple(tokens))
    at = next((i for i, t in enumerate(tokens) if t.word in words.corrections), 0)
    before = _last_amount(tokens[:at], amount_at)
    after = at
    while after < len(tokens) and (tokens[after].word in words.corrections or tokens[after].mark):
        after += 1
    instead = amount_at(tokens, after) if at and after < len(tokens) else None
    if before is None or instead is None:
        return whole
    end = next((i for i in range(instead.end, len(tokens)) if tokens[i].mark in _ENDS), len(tokens))
    if names_food(tokens[instead.end : end]):
        taken_back = tuple(tokens[before.start : after])
        return Corrected((*tokens[: before.start], *tokens[after:]), taken_back)
    unit: list[Token] = []
    if instead.quantity.unit is None and before.quantity.unit is not None:
        # "Two cups, no wait, three of rice"
        spoken = tokens[before.start : before.end]
        unit = [t for t in spoken if words.units.get(t.word) is before.quantity.unit][:1]
    named = list(tokens[before.end : at])
    while named and named[-1].mark:
        named.pop()
    figure = tokens[after : instead.end]
    kept = (*tokens[: before.start], *figure, *unit, *named, *tokens[instead.end :])
    return Corrected(kept, tuple(tokens[before.start : before.end]))


def repeated(
    tokens: Sequence[Token], amount_at: Callable[[Sequence[Token], int], Found | None]
) -> tuple[Token, ...]:
    """A sentence with the amount before in the place of "the same of": "50 g of carrot and the same of peas"."""
    for i, token in enumerate(tokens[:-2]):
        end = i + 1 + (tokens[i + 1].word in _SO_MUCH)
        if token.word != "same" or end >= len(tokens) or tokens[end].word != "of":
            continue
        begin = i - 1 if i and tokens[i - 1].word == "the" else i
        last = _last_amount(tokens[:begin], amount_at)
        if last is None:
            return tuple(tokens)
        place = (tokens[begin].start, tokens[end].end)
        again = [replace(t, start=place[0], end=place[1]) for t in tokens[last.start : last.end]]
        return (*tokens[:begin], *again, *tokens[end + 1 :])
    return tuple(tokens)


def _last_amount(
    tokens: Sequence[Token], amount_at: Callable[[Sequence[Token], int], Found | None]
) -> Found | None:
    last, i = None, 0
    while i < len(tokens):
        found = amount_at(tokens, i)
        last = found or last
        i = found.end if found is not None else i + 1
    return last
