"""Laboratory values: their units, usual ranges and what a change of them means for the diet."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any


@dataclass(frozen=True, kw_only=True)
class LabTest:
    """A test. unit: in which it is compared; other: units it is also told in, each with what `unit` is multiplied by;
    low, high: a usual range, in `unit`, an example only; change: share from which a difference says something, None where
    none is known; fasting: it is taken fasted; two: a plan waits for two readings; called: how reports name it; named_unit: the
    one unit that a name of it is told in."""

    id: str
    name: str
    unit: str
    other: Mapping[str, float]
    low: float | None
    high: float | None
    change: float | None
    fasting: bool
    two: bool
    means: str
    called: tuple[str, ...] = ()
    named_unit: Mapping[str, str] = field(default_factory=dict)

    @property
    def units(self) -> tuple[str, ...]:
        """All units it is told in, the one in which it is compared first."""
        return (self.unit, *self.other)

    def compared(self, value: float, unit: str) -> float:
        """A value as it is compared. Raises KeyError for a unit it is not told in."""
        return value if unit == self.unit else value / self.other[unit]


@dataclass(frozen=True, kw_only=True)
class LaboratoryRules:
    """The facts of reference/followup/laboratory.yaml."""

    tests: Mapping[str, LabTest]
    source: str


def read_laboratory(data: Mapping[str, Any]) -> LaboratoryRules:
    """Build from the parsed reference/followup/laboratory.yaml."""
    tests = {}
    for row in data["tests"]:
        low, high = row["usual"]
        tests[row["id"]] = LabTest(
            id=row["id"], name=row["name"], unit=row["unit"],
            other={u: float(x) for u, x in row.get("other", {}).items()},
            low=None if low is None else float(low), high=None if high is None else float(high),
            change=row.get("change"), fasting=row.get("fasting", False), two=row.get("two", True),
            means=row["means"], called=tuple(row["called"]), named_unit=row.get("named_unit", {}),
        )  # fmt: skip
    return LaboratoryRules(tests=tests, source=data["source"])
