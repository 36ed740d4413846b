"""Rules on what a food is: "kind=muscle & added_salt=none | skin=yes", read once and asked of foods.

& binds before |. A term is name=value, name!=value, name in (a,b), name>=level, name<=level, or a
figure per 1000 kcal (fat_g_mcal<=30). A value may end in * (organ:*). The answer is yes, no, or not
known: an attribute that is not known clears nothing.
"""

import re
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

from .attributes import LEVELS, NUMBERS, UNKNOWN, Attributes

_TERM = re.compile(r"\s*([a-z0-9_]+)\s*(>=|<=|!=|=|in)\s*(.+?)\s*", re.S)


class Compare(StrEnum):
    """How a term compares."""

    IN = "in"
    NOT = "!="
    LEAST = ">="
    MOST = "<="


@dataclass(frozen=True)
class Term:
    """One comparison of one attribute."""

    name: str
    compare: Compare
    values: tuple[str, ...]

    def holds(self, of: Attributes) -> bool | None:
        """Whether it holds; None when the attribute is not known."""
        if self.name in NUMBERS:
            figure: float | None = getattr(of, self.name)
            if figure is None:
                return None
            bound = float(self.values[0])
            return figure >= bound if self.compare is Compare.LEAST else figure <= bound
        value: str = getattr(of, self.name)
        if value == UNKNOWN:
            return None
        if self.compare in {Compare.IN, Compare.NOT}:
            found = any(
                value.startswith(v[:-1]) if v.endswith("*") else value == v for v in self.values
            )
            return found is (self.compare is Compare.IN)
        levels = LEVELS[self.name]
        if value not in levels:
            return False
        at, bound_at = levels.index(value), levels.index(self.values[0])
        return at >= bound_at if self.compare is Compare.LEAST else at <= bound_at


@dataclass(frozen=True, eq=False)
class AttributeRule:
    """Terms that all hold, in any of several groups. text: as it is written. Each is its own, so that its
    answers can be kept."""

    text: str
    any_of: tuple[tuple[Term, ...], ...]

    @property
    def reads(self) -> frozenset[str]:
        """The attributes that it asks for."""
        return frozenset(term.name for group in self.any_of for term in group)

    def holds(self, of: Attributes) -> bool | None:
        """Yes, no, or None where what is not known decides."""
        return _answer(self, of)


# Every line of every recipe is asked by some two hundred rules at each keystroke.
@lru_cache(maxsize=200_000)
def _answer(rule: AttributeRule, of: Attributes) -> bool | None:
    answers = [_all([t.holds(of) for t in terms]) for terms in rule.any_of]
    if True in answers:
        return True
    return None if None in answers else False


def _all(answers: list[bool | None]) -> bool | None:
    if False in answers:
        return False
    return None if None in answers else True


def read_rule(text: str) -> AttributeRule:
    """A rule from its text. Raises ValueError for what cannot be read or is no attribute or level."""
    groups = tuple(
        tuple(_term(part, text) for part in group.split("&")) for group in text.split("|")
    )
    return AttributeRule(text, groups)


def _term(part: str, whole: str) -> Term:
    match = _TERM.fullmatch(part)
    if match is None:
        raise ValueError(f"cannot read {part.strip()!r} of {whole!r}")
    name, compare, value = match.groups()
    if name not in Attributes.__dataclass_fields__:
        raise ValueError(f"{name!r} of {whole!r} is no attribute")
    if compare == "in":
        if not (value.startswith("(") and value.endswith(")")):
            raise ValueError(f"{whole!r}: list the values in brackets")
        return Term(name, Compare.IN, tuple(v.strip() for v in value[1:-1].split(",")))
    if compare in {">=", "<="}:
        if name in NUMBERS:
            float(value)
        elif value not in LEVELS.get(name, ()):
            raise ValueError(f"{value!r} of {whole!r} is no level of {name}")
        return Term(name, Compare(compare), (value,))
    return Term(name, Compare.IN if compare == "=" else Compare.NOT, (value,))
