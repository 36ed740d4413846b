"""The words by which a command about a window of nutrients is read (commands.yaml)."""

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from .standards import Bound


class Held(StrEnum):
    """What the figure of a command is held against."""

    MCAL = "mcal"
    DAY = "day"


@dataclass(frozen=True)
class CommandWords:
    """The facts of reference/commands.yaml, as patterns; filler: words that say nothing by themselves."""

    bounds: Mapping[Bound, re.Pattern[str]]
    per: Mapping[Held, re.Pattern[str]]
    filler: re.Pattern[str]

    @classmethod
    def from_data(cls, data: Mapping[str, Any]) -> "CommandWords":
        """Build from the parsed file. Raises KeyError for a side of a window, or a measure, that has no words."""
        return cls(
            {bound: _any_of(data["bounds"][bound.value]) for bound in Bound},
            {held: _any_of(data["per"][held.value]) for held in Held},
            _any_of(data["filler"]),
        )


def _any_of(words: Iterable[str]) -> re.Pattern[str]:
    """Finds one of these, the longest first, as whole words; signs wherever they stand."""
    found = sorted({str(w) for w in words}, key=lambda w: (-len(w), w))
    each = "|".join(_whole(w) for w in found)
    return re.compile(each, re.IGNORECASE)


def _whole(word: str) -> str:
    pattern = r"\s+".join(re.escape(part) for part in word.split())
    before = r"(?<!\w)" if word[0].isalnum() else ""
    after = r"(?!\w)" if word[-1].isalnum() else ""
    return before + pattern + after
