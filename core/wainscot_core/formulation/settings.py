"""Settings of a formulation as the case file and the server take them."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Annotated, Any, Literal

from pydantic import Field

from ..boundary import Name40, Name80, Number, Text40, Text80, Whole, read, unknown_fields
from ..errors import InputError
from .bounds import OwnBound
from .candidates import LineRule
from .problem import MacroTarget
from .question import Settings

Grams = Annotated[Number, Field(ge=0, le=100_000)]
Position = Annotated[Whole, Field(ge=0)]


@dataclass(frozen=True, kw_only=True)
class LineRuleIn:
    """What the consultant says of a line: role, bounds in g, a tie to another line.

    line: its position from 0; without it, the position of this entry.
    """

    line: Position | None = None
    role: Literal["", "free", "fixed", "excluded"] = ""
    low_grams: Grams | None = None
    high_grams: Grams | None = None
    tie_to: Whole | None = None
    tie_ratio: Number | None = None


@dataclass(frozen=True, kw_only=True)
class MacroShares:
    """Wanted shares of energy, together 1."""

    protein: Number
    fat: Number
    carbohydrate: Number


@dataclass(frozen=True, kw_only=True)
class FormulateSettings:
    """How to adjust; what is left out follows the mode (reference/formulation.yaml). match_food: the id of a food whose
    split of energy is matched instead of `macros`. bounds: on nutrients and ratios by key, tighter than the targets.
    sure_percent: of batches, in which one more answer is to hold; steps: with the answers between the nearest and the
    fewest supplements."""

    mode: Text40 = "rebalance"
    goals: tuple[Text40, ...] = ()
    max_supplements: Whole | None = None
    margin_percent: Number | None = None
    school: Text40 = "none"
    allowed: Annotated[tuple[Name80, ...], Field(max_length=2000)] | None = None
    lines: tuple[LineRuleIn, ...] = ()
    macros: MacroShares | None = None
    match_food: Text80 = ""
    bounds: dict[Name40, OwnBound] = field(default_factory=dict)
    time_limit_s: Number | None = None
    sure_percent: Number | None = None
    steps: bool = False


def read_settings(data: Mapping[str, Any]) -> Settings:
    """The "formulate" section of a case file. Raises InputError naming the field."""
    for path in unknown_fields(FormulateSettings, data):
        known = sorted(FormulateSettings.__dataclass_fields__)
        raise InputError(path, f"is not a setting; use: {', '.join(known)}")
    return settings_of(read(FormulateSettings, data))


def settings_of(asked: FormulateSettings) -> Settings:
    """Settings as the formulation takes them."""
    rules = {
        i if rule.line is None else rule.line: LineRule(
            rule.role,
            rule.low_grams,
            rule.high_grams,
            rule.tie_to,
            1.0 if rule.tie_ratio is None else rule.tie_ratio,
        )
        for i, rule in enumerate(asked.lines)
    }
    m = asked.macros
    return Settings(
        mode=asked.mode,
        goals=asked.goals,
        max_supplements=asked.max_supplements,
        margin_percent=asked.margin_percent,
        school=asked.school,
        allowed=asked.allowed,
        line_rules=rules,
        macros=None if m is None else MacroTarget(m.protein, m.fat, m.carbohydrate),
        match_food=asked.match_food,
        bounds=asked.bounds,
        time_limit_s=asked.time_limit_s,
        sure=None if asked.sure_percent is None else asked.sure_percent / 100,
        steps=asked.steps,
    )
