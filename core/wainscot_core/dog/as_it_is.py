"""For how long a recipe may be fed as it is."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from ..confidence import Confidence
from ..figures import listed
from .life_stage import Stage


@dataclass(frozen=True)
class AsItIsRules:
    """The conventions of as_it_is.yaml. soon: keys of nutrients and ratios that are missed within weeks."""

    soon: frozenset[str]
    soon_days: int
    later_days: int
    never: frozenset[Stage]
    sources: Mapping[str, tuple[str, Confidence]]

    @classmethod
    def from_data(cls, data: Mapping[str, Any]) -> "AsItIsRules":
        """Build from the parsed file."""
        parts = ("soon", "later", "never")
        return cls(
            frozenset(data["soon"]["keys"]),
            int(data["soon"]["days"]),
            int(data["later"]["days"]),
            frozenset(Stage(x) for x in data["never"]["stages"]),
            {p: (data[p]["source"], Confidence(data[p]["confidence"])) for p in parts},
        )


class Span(StrEnum):
    """not: not at all; days: for a time; on: nothing speaks against it."""

    NOT = "not"
    DAYS = "days"
    ON = "on"


@dataclass(frozen=True)
class AsItIs:
    """For how long a recipe may be fed as it is, and why. days: at most so many, None for the other two. source: what
    says so, "" where the figures say it themselves."""

    span: Span
    days: int | None
    why: str
    source: str = ""


@dataclass(frozen=True)
class Lacks:
    """What a recipe has against it, in names to be read. unsafe: what must not be fed; off: by key, what is short, over
    or not proven."""

    unsafe: Sequence[str]
    off: Mapping[str, str]


def as_it_is(rules: AsItIsRules, stage: Stage | None, ill: Collection[str], lacks: Lacks) -> AsItIs:
    """The answer for a dog in this stage of life (None where that is not known) with these illnesses. Whatever is
    doubtful counts as missing."""
    if lacks.unsafe:
        return AsItIs(Span.NOT, None, f"unsafe: {listed(lacks.unsafe)}")
    if not lacks.off:
        return AsItIs(Span.ON, None, "every limit is met")
    names = listed(list(lacks.off.values()))
    never, _ = rules.sources["never"]
    if stage is None:
        why = f"its age is not known: a growing dog needs every bowl complete, and {names} are not right or not known"
        return AsItIs(Span.NOT, None, why, never)
    if stage in rules.never:
        why = (
            f"in {stage.value} every bowl must be complete, and {names} are not right or not known"
        )
        return AsItIs(Span.NOT, None, why, never)
    if ill:
        why = f"a dog with {listed(list(ill))} needs its diet complete, and {names} are not right or not known"
        return AsItIs(Span.NOT, None, why, never)
    soon = [name for key, name in lacks.off.items() if key in rules.soon]
    if soon:
        source, _ = rules.sources["soon"]
        why = f"not right or not known, and missed within weeks: {listed(soon)}"
        return AsItIs(Span.DAYS, rules.soon_days, why, source)
    source, _ = rules.sources["later"]
    return AsItIs(
        Span.DAYS,
        rules.later_days,
        f"not right or not known, and missed within months: {names}",
        source,
    )
