"""Content of a nutrient in a pure substance, from its formula and atomic weights."""

import re
from collections import Counter
from collections.abc import Mapping

_TOKEN = re.compile(r"([A-Z][a-z]?)(\d*)|(\()|(\))(\d*)")


def parse_formula(formula: str) -> Counter[str]:
    """Atoms of a formula such as Ca3(C6H5O7)2.4H2O. Raises ValueError when it cannot be read."""
    total: Counter[str] = Counter()
    for part in formula.split("."):
        match = re.fullmatch(r"(\d*)(.+)", part)
        if match is None:
            raise ValueError(f"cannot read the formula {formula!r}")
        times = int(match[1] or 1)
        for atom, count in _group(match[2], formula).items():
            total[atom] += times * count
    return total


def _group(text: str, formula: str) -> Counter[str]:
    stack: list[Counter[str]] = [Counter()]
    position = 0
    while position < len(text):
        match = _TOKEN.match(text, position)
        if match is None:
            raise ValueError(f"cannot read the formula {formula!r} at {text[position:]!r}")
        position = match.end()
        if match[1]:
            stack[-1][match[1]] += int(match[2] or 1)
        elif match[3]:
            stack.append(Counter())
        else:
            if len(stack) == 1:
                raise ValueError(f"unbalanced brackets in the formula {formula!r}")
            inner = stack.pop()
            for atom, count in inner.items():
                stack[-1][atom] += count * int(match[5] or 1)
    if len(stack) != 1:
        raise ValueError(f"unbalanced brackets in the formula {formula!r}")
    return stack[0]


def molar_mass(formula: str, weights: Mapping[str, float]) -> float:
    """Molar mass, g/mol. Raises KeyError for an element without a weight."""
    return sum(weights[atom] * count for atom, count in parse_formula(formula).items())


def mass_share(formula: str, part: str, weights: Mapping[str, float]) -> float:
    """Mass share, 0 to 1, of an element (all its atoms) or of one fragment in a substance.

    Raises ValueError when the substance does not hold the part.
    """
    whole, piece = parse_formula(formula), parse_formula(part)
    if any(whole[atom] < count for atom, count in piece.items()):
        raise ValueError(f"{formula} does not hold {part}")
    if len(piece) == 1:
        element = next(iter(piece))
        mass = weights[element] * whole[element]
    else:
        mass = molar_mass(part, weights)
    return mass / molar_mass(formula, weights)
