"""How often an amount is given: "a day", "twice daily", "with each meal", "every other day", "3 times a week"."""

from collections.abc import Sequence
from dataclasses import dataclass

from .tokens import Token

_ADVERBS = {"daily": "day", "nightly": "day", "weekly": "week", "monthly": "month"}
_PARTS_OF_DAY = frozenset(
    {"morning", "evening", "night", "noon", "midday", "lunch", "lunchtime", "bedtime", "breakfast",
     "dinner", "supper", "teatime", "am", "pm"}
)  # fmt: skip
_SPANS = {
    **dict.fromkeys(sorted(_PARTS_OF_DAY), "day"),
    "day": "day", "meal": "meal", "feed": "meal", "feeding": "meal", "week": "week",
    "month": "month", "weekend": "week", "monday": "week", "tuesday": "week", "wednesday": "week",
    "thursday": "week", "friday": "week", "saturday": "week", "sunday": "week",
}  # fmt: skip
_WEEKDAYS = frozenset(w for w, span in _SPANS.items() if w.endswith("day") and span == "week")
# As it stands on prescriptions.
_WRITTEN = {"sid": 1.0, "od": 1.0, "qd": 1.0, "bid": 2.0, "bd": 2.0, "tid": 3.0, "tds": 3.0, "qid": 4.0, "eod": 0.5,
            "qod": 0.5}  # fmt: skip
_TIMES = {"once": 1.0, "twice": 2.0, "thrice": 3.0}
_NUMBERS = {"two": 2.0, "three": 3.0, "four": 4.0, "five": 5.0, "six": 6.0, "seven": 7.0}
_OF_ONE = frozenset({"a", "an", "per", "each", "every"})
_BEFORE = frozenset({"with", "at", "in", "to", "on", "for"})
_SECOND = frozenset({"other", "second", "alternate"})
_DAYS_IN = {"day": 1.0, "week": 7.0, "month": 30.0}


@dataclass(frozen=True)
class Often:
    """So many times in a day, a meal, a week or a month."""

    per: str
    times: float = 1.0


def often_at(tokens: Sequence[Token], i: int) -> tuple[int, Often] | None:
    """How often is told from a token on, and the token behind it; None where it is not."""
    at, times = _times_at(tokens, i)
    told = at > i
    word = _word(tokens, at)
    if word in _WRITTEN and not told:
        return at + 1, Often("day", _WRITTEN[word])
    if word in _ADVERBS:
        return at + 1, Often(_ADVERBS[word], times)
    if word in _PARTS_OF_DAY:
        # "Morning and evening", "am and pm"; one alone is no more than a word.
        more, end = _and_spans(tokens, at + 1)
        if more:
            return end, Often("day", times * (1 + more))
    if word in {"in", "at"} and _word(tokens, at + 1) == "the":
        return _whole_day(tokens, at + 2, times)
    if word == "at" and _word(tokens, at + 1) in _PARTS_OF_DAY:
        return _whole_day(tokens, at + 1, times)
    if word == "on" and _word(tokens, at + 1) == "alternate" and _word(tokens, at + 2) in _DAYS_IN:
        return at + 3, Often(_SPANS[_word(tokens, at + 2)], times / 2)
    if word == "on" and _word(tokens, at + 1) in _WEEKDAYS:
        return at + 2, Often("week", times)
    if not told and word in _BEFORE and _word(tokens, at + 1) in {"each", "every"}:
        at += 1
        word = _word(tokens, at)
    stroke = at < len(tokens) and tokens[at].mark == "/"
    if word not in _OF_ONE and not stroke:
        return None
    every = word in {"every", "each"}
    at += 1
    if every and _word(tokens, at) in _SECOND and _word(tokens, at + 1) in _DAYS_IN:
        return at + 2, Often(_SPANS[_word(tokens, at + 1)], times / 2)
    number = _number(tokens, at) if every else None
    if number and _word(tokens, at + 1) in _DAYS_IN:
        return at + 2, Often(_SPANS[_word(tokens, at + 1)], times / number)
    span = _SPANS.get(_word(tokens, at))
    if span is None:
        return None
    more, end = _and_spans(tokens, at + 1)
    return end, Often(span, times + more if more else times)


def without_often(tokens: Sequence[Token]) -> tuple[list[Token], Often | None]:
    """Tokens without the first that tells how often, and what it tells."""
    for i in range(len(tokens)):
        found = often_at(tokens, i)
        # "A day" at the beginning is an amount of days.
        if found is not None and (i > 0 or _word(tokens, 0) not in {"a", "an"}):
            return [*tokens[:i], *tokens[found[0] :]], found[1]
    return list(tokens), None


def heading_often(tokens: Sequence[Token]) -> Often | None:
    """How often what stands under a heading is given that names a part of the day alone: "Breakfast:"."""
    words = [t.word for t in tokens if t.word and t.word not in {"meal", "feed", "for"}]
    return Often("day") if len(words) == 1 and words[0] in _PARTS_OF_DAY | {"tea"} else None


def days_in(per: str) -> float | None:
    """The days that something is told for; None for a meal."""
    return _DAYS_IN.get(per)


def _whole_day(tokens: Sequence[Token], i: int, times: float) -> tuple[int, Often] | None:
    """ "In the morning", "at breakfast and dinner"."""
    if _word(tokens, i) not in _PARTS_OF_DAY:
        return None
    more, end = _and_spans(tokens, i + 1)
    return end, Often("day", times * (1 + more))


def _and_spans(tokens: Sequence[Token], i: int) -> tuple[int, int]:
    """How many more parts of a day follow with "and", and the token behind: "morning and evening"."""
    more = 0
    while _word(tokens, i) in {"and", "&"} or (i < len(tokens) and tokens[i].mark in {"/", ","}):
        at = i + 1
        while (
            _word(tokens, at) in _BEFORE
            or _word(tokens, at) in _OF_ONE
            or _word(tokens, at) == "the"
        ):
            at += 1
        if _word(tokens, at) not in _PARTS_OF_DAY:
            break
        more, i = more + 1, at + 1
    return more, i


def _times_at(tokens: Sequence[Token], i: int) -> tuple[int, float]:
    word = _word(tokens, i)
    if word in _TIMES:
        return i + 1, _TIMES[word]
    number = _number(tokens, i)
    if number and _word(tokens, i + 1) in {"time", "x"}:
        return i + 2, number
    return i, 1.0


def _number(tokens: Sequence[Token], i: int) -> float | None:
    if i >= len(tokens):
        return None
    return tokens[i].value or _NUMBERS.get(tokens[i].word)


def _word(tokens: Sequence[Token], i: int) -> str:
    return tokens[i].word if 0 <= i < len(tokens) else ""
