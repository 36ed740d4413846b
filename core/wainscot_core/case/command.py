"""A command about a window of nutrients as it is typed ("sodium below 600 mg", "at least 60 g protein a day"), read into
the end it would move. Nothing is guessed: what is not wholly understood is said, and not taken."""

import math
import re
from dataclasses import dataclass

from ..dossier.reference import Reference
from ..errors import InputError
from ..figures import rounded
from ..recipe.numbers import parse_number_and_unit
from ..recipe.typed import split_typed
from ..targets.command_words import Held
from ..targets.standards import Bound
from ..units import convert
from .targets_view import MergedLimit, Targets

# What is shown of the windows whose name begins like the text.
MOST_SHOWN = 4
# Nothing is cut: a longer text is refused.
MOST_LETTERS = 200
# A figure as people write it, a range too (which is refused), with the word behind it.
_NUMBER = r"\d+(?:[.,]\d+)*(?:[  ]\d{3}(?!\d))*(?:[  ]\d+/\d+|/\d+)?(?:e[+-]?\d+)?"
_FIGURE = re.compile(rf"[-–]?{_NUMBER}(?:[  ]?[-–][  ]?{_NUMBER})?[  ]*[^\W\d]*", re.IGNORECASE)
# Stands where words were taken out, so that what stood apart does not run together.
_GAP = "\n"
_TO_ONE = re.compile(r"(?<=\d)\s*:\s*1(?![\d.,:])")
_SHARE = re.compile(r"%")


@dataclass(frozen=True, kw_only=True)
class LimitAsked:
    """An end of a window that is asked to be moved. value: per 1000 kcal in the unit of the window, or the ratio itself;
    typed: the figure as it was read, with its unit and what it was held against; now: where the end is, None for
    nowhere."""

    key: str
    name: str
    bound: Bound
    value: float
    unit: str
    typed: str
    now: float | None


@dataclass(frozen=True, kw_only=True)
class WindowNamed:
    """A window whose name begins like the text."""

    key: str
    name: str


@dataclass(frozen=True, kw_only=True)
class CommandRead:
    """What a text asks for. limit: an end to move, None where it asks for none; windows: those that are called so;
    problem: why what looks like an end cannot be taken, "" otherwise; adds: it holds an amount of something, so that a
    food is meant."""

    limit: LimitAsked | None
    windows: tuple[WindowNamed, ...]
    problem: str
    adds: bool


def read_command(reference: Reference, targets: Targets, text: str) -> CommandRead:
    """Read a text against the windows of a case. Never raises: what cannot be taken is in `problem`."""
    if len(text) > MOST_LETTERS:
        why = f"is longer than {MOST_LETTERS} letters"
        return CommandRead(limit=None, windows=(), problem=why, adds=False)
    plain = " ".join(text.split())
    try:
        limit, problem = _limit(reference, targets, plain), ""
    except InputError as error:
        limit, problem = None, error.message
    typed = split_typed(plain)
    return CommandRead(
        limit=limit, windows=_windows(targets, plain), problem=problem,
        adds=limit is None and not problem and bool(typed.number and typed.food),
    )  # fmt: skip


def _limit(reference: Reference, targets: Targets, text: str) -> LimitAsked | None:
    """The end a text asks to move; None for a text without a side of a window, or without a figure. Raises InputError."""
    words = reference.command_words
    sides = {b for b, pattern in words.bounds.items() if pattern.search(text)}
    if not sides or not re.search(r"\d", text):
        return None
    # "not over" has "over" in it, and "max" is one side: the longest words of a side are taken out first.
    bound, rest = _side(reference, text)
    held = Held.MCAL
    for measure, pattern in words.per.items():
        rest, found = pattern.subn(_GAP, rest, count=1)
        if found:
            held = measure
            break
    rest = _TO_ONE.sub("", rest)
    share = _SHARE.search(rest) is not None
    rest = _SHARE.sub(" ", rest)
    figures = [m for m in _FIGURE.finditer(rest) if not _in_a_name(rest, m)]
    if len(figures) != 1:
        raise InputError("text", _SAY)
    typed = figures[0][0].strip()
    rest = rest[: figures[0].start()] + _GAP + rest[figures[0].end() :]
    key, leftover = _named(reference, targets, words.filler.sub(" ", rest))
    if key is None:
        # The unit may have taken the first word of the name with it: "at least 60 protein".
        number = re.match(_NUMBER, typed)
        word = typed[number.end() :] if number else ""
        if number and word:
            key, leftover = _named(reference, targets, words.filler.sub(" ", f"{word} {leftover}"))
            typed = number[0].strip()
    if key is None:
        unread = " ".join(leftover.split())
        raise InputError("text", f"“{unread}” names no window of these targets" if unread else _SAY)
    limit = next(x for x in targets.limits if x.key == key)
    if not float(re.sub(r"[^1-9]", "", typed) or 0) or typed.startswith(("-", "–")):
        raise InputError("text", "give a figure above zero")
    amount, unit_word = parse_number_and_unit(typed)
    value = _in_window(
        reference, limit, amount, unit_word, share, held, targets.kcal_per_day, bound
    )
    return LimitAsked(
        key=key, name=limit.name, bound=bound, value=value, unit=limit.unit,
        typed=typed + (" %" if share else "") + (" a day" if held is Held.DAY else ""),
        now=limit.min if bound is Bound.MIN else limit.max,
    )  # fmt: skip


_SAY = "say a nutrient, a side and one figure: “sodium below 600 mg”"


def _side(reference: Reference, text: str) -> tuple[Bound, str]:
    """The side a text speaks of, and the text without its words. Raises InputError for both sides at once."""
    found: list[tuple[int, Bound, str]] = []
    for bound, pattern in reference.command_words.bounds.items():
        rest, count = pattern.subn(_GAP, text, count=1)
        if count:
            match = pattern.search(text)
            found.append((len(match[0]) if match else 0, bound, rest))
    found.sort(key=lambda f: -f[0])
    _, bound, rest = found[0]
    if any(p.search(rest) for p in reference.command_words.bounds.values()):
        raise InputError("text", "says two sides: move one end at a time")
    return bound, rest


def _in_a_name(text: str, found: re.Match[str]) -> bool:
    """Whether figures belong to a name: B12, D3, n-3."""
    before = text[found.start() - 1 : found.start()]
    return bool(before) and (before.isalpha() or before == "-")


def _plain(name: str) -> str:
    return re.sub(r"\s*([:+])\s*", r"\1", " ".join(name.lower().split()))


def _called(reference: Reference, targets: Targets) -> dict[str, str]:
    """Keys of windows by what they are called."""
    known = {x.key for x in targets.limits}
    found = {_plain(w): k for w, k in reference.label_words.names.items() if k in known}
    shorts = {r.key: r.short for r in reference.catalogue.ratios}
    for limit in targets.limits:
        for name in (
            shorts.get(limit.key, ""),
            limit.name,
            limit.short,
            re.sub(r"\s*\(.*\)", "", limit.name),
        ):
            if name:
                found[_plain(name)] = limit.key
                found[_plain(name.replace(":", " to "))] = limit.key
    return found


def _named(reference: Reference, targets: Targets, rest: str) -> tuple[str | None, str]:
    """The key of the window that the rest of a text names, all of it; None and the rest where there is none."""
    return _called(reference, targets).get(_plain(rest)), rest


def _in_window(
    reference: Reference, limit: MergedLimit, number: float, unit_word: str, share: bool, held: Held, kcal: float, bound: Bound,
) -> float:  # fmt: skip
    """A figure as the window has it. Raises InputError for a unit that does not fit it."""
    if limit.unit == "ratio":
        if unit_word or held is Held.DAY or share != reference.catalogue.is_share(limit.key):
            raise InputError("text", f"{limit.name} is a ratio: give it as a figure alone")
        return number / 100 if share else number
    unit = reference.label_words.units.get(unit_word.lower(), "") if unit_word else limit.unit
    if share or not unit:
        wrong = "%" if share else unit_word
        raise InputError("text", f"{limit.name} is held in {limit.unit}, not in {wrong}")
    try:
        amount = convert(limit.key, number, unit, limit.unit)
    except ValueError:
        raise InputError(
            "text", f"{limit.name} is held in {limit.unit}, not in {unit_word}"
        ) from None
    if held is Held.MCAL:
        return rounded(amount)
    return _four_figures(amount / kcal * 1000, bound)


def _four_figures(value: float, bound: Bound) -> float:
    """What is worked out, as it is written: never looser than it was asked for."""
    size = 10.0 ** (math.floor(math.log10(value)) - 3)
    steps = value / size
    whole = math.ceil(steps - 1e-9) if bound is Bound.MIN else math.floor(steps + 1e-9)
    return float(f"{whole * size:.6g}")


def _windows(targets: Targets, text: str) -> tuple[WindowNamed, ...]:
    typed = _plain(text)
    if not typed:
        return ()
    begins = [
        x for x in targets.limits if _plain(x.name).startswith(typed) or _plain(x.short) == typed
    ]
    return tuple(WindowNamed(key=x.key, name=x.name) for x in begins[:MOST_SHOWN])
