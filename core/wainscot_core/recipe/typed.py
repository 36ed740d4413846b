"""What is typed into the box that adds a food: an amount and the food, apart again."""

import re
from dataclasses import dataclass, replace

from .amounts import counted, measures

# The longest amount that is looked for behind a food: "1 lb 4 1/2 oz".
MOST_BEHIND = 6
_FOOD = "food"


@dataclass(frozen=True)
class Typed:
    """What stands in the box that adds a food: the number as typed, the words beside it that
    measure, and the words of the food to look for."""

    number: str
    measure: str
    food: str


def split_typed(text: str) -> Typed:
    """Split "1/2 can pumpkin", or "pumpkin 1/2 can", into number, measure and food. Text without a number is all food,
    and so is one with a bare figure behind it, which may belong to the name."""
    plain = text.strip()
    tokens = plain.split()
    last = _last_figure(tokens)
    if last < 0:
        return _amount_behind(tokens) or Typed("", "", plain)
    rest = tokens[last + 1 :]
    # "400g" is a figure and its unit in one.
    glued = _GLUED.fullmatch(tokens[last])
    figures = tokens[: last + 1]
    if glued and measures(glued["unit"]):
        figures, rest = [*tokens[:last], glued["figure"]], [glued["unit"], *rest]
    taken = 0
    for i, token in enumerate(rest):
        if i == 0 and counted(" ".join(rest[:2])) == "fl oz":
            taken = 2
        elif i < taken:
            continue
        elif token.lower() in _HOW_FULL or measures(token.strip("().,")):
            taken = i + 1
        else:
            break
    # "2 slices" alone names no food: then every word is looked for.
    food = " ".join(rest[taken:])
    number = " ".join(figures)
    if not food:
        return Typed(number, "", " ".join(rest)) if rest else Typed("", "", plain)
    return Typed(number, " ".join(rest[:taken]), food)


def _amount_behind(tokens: list[str]) -> Typed | None:
    """The amount that a text ends with, a figure with a measure: "turkey 200 g", "rice, 1 1/2 cups"."""
    for start in range(max(1, len(tokens) - MOST_BEHIND), len(tokens)):
        behind = tokens[start:]
        if _last_figure(behind) < 0:
            continue
        # Read as if a food stood behind it: all before that must be the amount.
        typed = split_typed(" ".join([*behind, _FOOD]))
        if typed.measure and typed.food == _FOOD:
            return replace(typed, food=" ".join(tokens[:start]).rstrip(" ,:;-–"))
    return None


def _last_figure(tokens: list[str]) -> int:
    """The place of the last token of the figures an amount begins with; -1 where it begins with none."""
    found = -1
    for i, token in enumerate(tokens):
        word = token.lower().strip("(")
        if _is_ratio(word) or word.endswith("%"):
            return found
        if _FIGURE.match(word) or word in _NUMBER_WORDS:
            found = i
        elif word in _ABOUT_WORDS and found < 0:
            continue
        elif word in _BETWEEN or measures(word.strip("().,")):
            # "1 cup + 2 tbsp", "1 lb 4 oz": only if a figure follows at once.
            after = tokens[i + 1].lower().strip("(") if i + 1 < len(tokens) else ""
            joins = word in _BETWEEN and after in _NUMBER_WORDS
            if found < 0 or not (_FIGURE.match(after) or joins or after in _BETWEEN):
                return found
        else:
            return found
    return found


def _is_ratio(number: str) -> bool:
    """True for "90/10" beef: lean to fat, no amount."""
    over, _, under = number.partition("/")
    return under.strip().isdigit() and over.strip().isdigit() and int(over) > 2 * int(under)


def typed_amount(typed: Typed) -> str:
    """The amount to write beside a food that was found by what was typed: "3 large", "3 eggs".

    A number without a measure counts the food's pieces where it has any; with a food that has
    none it stays as it was typed and has to be asked.
    """
    if not typed.number:
        return ""
    if typed.measure:
        return f"{typed.number} {typed.measure}"
    return f"{typed.number} {typed.food}"


_FIGURE = re.compile(r"[~≈]?(?:\d|[.,]\d|[¼-¾⅐-⅞])")
_GLUED = re.compile(r"(?P<figure>[~≈]?\d[\d.,/¼-¾⅐-⅞-]*)(?P<unit>[A-Za-z]+)")
_NUMBER_WORDS = frozenset(
    {"a", "an", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten",
     "eleven", "twelve", "half", "quarter", "quarters", "third", "thirds", "dozen", "couple"}
)  # fmt: skip
_ABOUT_WORDS = frozenset({"about", "approx", "approx.", "approximately", "around", "roughly", "circa", "ca", "ca."})  # fmt: skip
_BETWEEN = frozenset({"+", "plus", "and", "&", "x", "×", "of", "to", "or", "-", "–"})
_HOW_FULL = frozenset({"heaped", "heaping", "rounded", "generous", "scant", "packed", "level"})
