"""The words of the trade and of this program, each with one meaning."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Term:
    """A word. says: what it means, in plain words; more: what to keep in mind; source: "" for this program's
    own word; also: what else it is looked for under."""

    id: str
    group: str
    term: str
    says: str
    more: str = ""
    source: str = ""
    also: tuple[str, ...] = ()


@dataclass(frozen=True)
class Group:
    """Words that belong together."""

    id: str
    label: str


@dataclass(frozen=True)
class Glossary:
    """All words, by group."""

    groups: tuple[Group, ...]
    terms: tuple[Term, ...]

    @classmethod
    def from_data(cls, data: Mapping[str, Any]) -> "Glossary":
        """Build from the parsed reference/glossary.yaml. Raises ValueError for a word that is there twice or in no
        group, KeyError or TypeError for what is missing."""
        groups = tuple(Group(id, label) for id, label in data["groups"].items())
        terms = tuple(Term(**{**row, "also": tuple(row.get("also", ()))}) for row in data["terms"])
        known = {group.id for group in groups}
        for term in terms:
            if term.group not in known:
                raise ValueError(f"glossary: {term.id} is in no group ({term.group!r})")
        for name in ("id", "term"):
            said = [getattr(term, name) for term in terms]
            twice = {word for word in said if said.count(word) > 1}
            if twice:
                raise ValueError(f"glossary: there twice: {', '.join(sorted(twice))}")
        return cls(groups, terms)
