"""From the old food to the new: the schedules there are, and what is done when it does not go well."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Schedule:
    """Shares of the new food, one a day."""

    name: str
    shares: tuple[float, ...]
    source: str


@dataclass(frozen=True)
class ChangeRules:
    """The facts of reference/kitchen/change_over.yaml."""

    schedules: Mapping[int, Schedule]
    slow_for: str
    hold: str
    stop: str
    ill: str


def read_change_rules(data: Mapping[str, Any]) -> ChangeRules:
    """Build from the parsed reference/kitchen/change_over.yaml. ValueError for days that leave a gap or shares that
    fall."""
    found = {}
    for entry in data["schedules"]:
        shares: list[float] = []
        for first, last, share in entry["steps"]:
            if first != len(shares) + 1 or last < first or (shares and share < shares[-1]):
                raise ValueError(f"change-over of {entry['days']} days: step {first}-{last}")
            shares += [float(share)] * (last - first + 1)
        if len(shares) != entry["days"] or shares[-1] != 1:
            raise ValueError(f"change-over of {entry['days']} days does not end there")
        found[int(entry["days"])] = Schedule(entry["name"], tuple(shares), entry["source"])
    return ChangeRules(found, data["slow_for"], data["hold"], data["stop"], data["ill"])
