"""What is typed into the box that adds a food: an amount and the food, apart again."""

import re
from dataclasses import dataclass

from .amounts import counted, measures


@dataclass(frozen=True)
class Typed:
    """What stands in the box that adds a food: the number as typed, the words beside it that
    measure, and the words of the food to look for."""

    number: str
    measure: str
    food: str


def split_typed(text: str) -> Typed:
    """Split "1/2 can pumpkin" into number, measure and food. Text without a number is all food."""
    plain = text.strip()
    match = _LEADING.match(plain)
    if match is None or _is_ratio(match["number"]):
        return Typed("", "", plain)
    number, rest = match["number"].strip(), match["rest"].strip()
    taken = 0
    tokens = rest.split()
    for i in range(len(tokens)):
        if i == 0 and counted(" ".join(tokens[:2])) == "fl oz":
            taken = 2
        elif i < taken:
            continue
        elif measures(tokens[i]):
            taken = i + 1
        else:
            break
    # "2 slices" alone names no food: then every word is looked for.
    food = " ".join(tokens[taken:]) or rest
    return Typed(number, " ".join(tokens[:taken]) if tokens[taken:] else "", food)


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


_LEADING = re.compile(
    r"(?P<number>\d+\s+\d+\s*[/⁄]\s*\d+|\d+\s*[/⁄]\s*\d+|\d*[.,]?\d+\s*[¼-¾⅐-⅞]?|[¼-¾⅐-⅞]"
    r"|half(?:\s+an?)?(?=\s)|an?(?=\s)|one(?=\s))\s*(?P<rest>[^\d\s/.,%].*)",
    re.I,
)
