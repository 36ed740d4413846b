"""The words by which a table of foods is headed (library/table_words.yaml)."""

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property
from typing import Any

from .label_words import LabelWords, by_word
from .nutrients import Catalogue

_PLAIN_SHORTS = frozenset({"amino", "minerals"})


class TableBasis(StrEnum):
    """What the figures of a table are for."""

    PER_100_G = "per-100-g"
    PER_KG = "per-kg"
    DRY_MATTER = "dry-matter"


@dataclass(frozen=True)
class Asked:
    """A name that can be several figures."""

    tag: str
    why: str
    crude: bool


@dataclass(frozen=True)
class TableWords:
    """The facts of library/table_words.yaml, by what is written in small letters."""

    fields: Mapping[str, str]
    names: Mapping[str, str]
    asked: Mapping[str, Asked]
    units: Mapping[str, str]
    bases: Mapping[str, TableBasis]
    as_fed: frozenset[str]
    unknown: frozenset[str]
    trace: frozenset[str]
    bound: re.Pattern[str]

    @classmethod
    def from_data(
        cls, data: Mapping[str, Any], labels: LabelWords, catalogue: Catalogue
    ) -> "TableWords":
        """Build from the parsed file. Raises ValueError for a tag that cannot be given."""
        stored = {n.key: n for n in catalogue.nutrients if not n.parts}
        for tag in (*data["nutrients"], *(a["tag"] for a in data["asked"])):
            if tag not in stored:
                raise ValueError(f"{tag} is not a nutrient that a table can give")
        names = {word: tag for word, tag in labels.names.items() if tag in stored}
        # Of other groups a short name can be something else elsewhere: AA, Chol, Carb.
        names |= {n.short.lower(): n.key for n in stored.values() if n.group in _PLAIN_SHORTS}
        names |= {n.name.lower(): n.key for n in stored.values()}
        names |= by_word(data["nutrients"])
        names |= {n.key.lower(): n.key for n in stored.values()}
        asked = {
            word: Asked(a["tag"], a["why"], bool(a.get("crude")))
            for a in data["asked"] for word in a["names"]
        }  # fmt: skip
        return cls(
            by_word(data["fields"]), names, asked, by_word(data["units"]),
            {w: TableBasis(b) for w, b in by_word(data["bases"]).items()},
            frozenset(data["as_fed"]), frozenset(data["unknown"]), frozenset(data["trace"]),
            re.compile(data["bound"]),
        )  # fmt: skip

    @cached_property
    def per(self) -> re.Pattern[str]:
        """Finds what a figure is for: "/100 g", "per kg", "(dm)"."""
        words = _any_of(self.bases)
        return re.compile(
            rf"(?:\bper\b|/|\bon\b|\bof\b|[\s(\[,;_])\s*(?P<per>{words})\s*[)\]]?\s*$"
        )

    @cached_property
    def fed(self) -> re.Pattern[str]:
        """Finds that a figure is for food as it is fed."""
        return re.compile(rf"[\s(\[,;/_]*\b(?:{_any_of(self.as_fed)})\b\s*[)\]]?\s*$")

    @cached_property
    def in_unit(self) -> re.Pattern[str]:
        """Finds the unit at the end of a heading."""
        return re.compile(
            rf"(?:^|[\s(\[,;:_/]|(?<=\w)(?=%))\s*(?P<unit>{_any_of(self.units)})\s*[)\]]?\s*$"
        )

    def said_nothing(self, cell: str) -> bool:
        """Whether a cell says that there is no figure."""
        return not cell.strip() or cell.strip().lower() in self.unknown

    def no_figure(self, cell: str) -> bool:
        """Whether a cell holds a bound or a trace, which is no figure."""
        return self.bound.search(cell) is not None or cell.strip().lower() in self.trace


def _any_of(words: Iterable[str]) -> str:
    return "|".join(re.escape(w) for w in sorted(words, key=lambda w: (-len(w), w)))
