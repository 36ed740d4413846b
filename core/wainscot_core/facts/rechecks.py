"""When a dog is looked at again, and what reopens its plan: reference/followup/rechecks.yaml."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True, kw_only=True)
class LabTrigger:
    """A laboratory value of a condition that opens the plan again, in the unit in which its test is compared: under low, over
    high, or up or down by a share of the one before. stages: () for all."""

    condition: str
    stages: tuple[str, ...]
    test: str
    low: float | None
    high: float | None
    rise: float | None
    fall: float | None

    def crossed(self, value: float, before: float | None = None) -> bool:
        """Whether a value opens the plan. before: the reading before it, None where there is none."""
        if (self.low is not None and value < self.low) or (
            self.high is not None and value > self.high
        ):
            return True
        if before is None or before <= 0:
            return False
        change = value / before - 1
        return (self.rise is not None and change >= self.rise) or (
            self.fall is not None and change <= -self.fall
        )


@dataclass(frozen=True, kw_only=True)
class WeightRule:
    """From which share of weight lost, or gained (None: never), the plan of a condition is opened."""

    condition: str
    loss: float
    gain: float | None


@dataclass(frozen=True, kw_only=True)
class SignRules:
    """What is put down day by day and opens a plan: eaten under so many percent on so many days; times vomited in a week; the
    mean of stool in a week, of so many days put down, by condition; grades of muscle; points of body condition; weight
    off its path, a share; weight by condition."""

    appetite_under: float
    appetite_days: int
    vomiting_in_week: int
    stool_over: float
    stool_least: int
    stool_conditions: frozenset[str]
    muscle_grades: int
    condition_points: int
    weight_off: float
    weight: tuple[WeightRule, ...]
    source: str


@dataclass(frozen=True, kw_only=True)
class RecheckRules:
    """The facts of reference/followup/rechecks.yaml: days between weighings and between visits to the vet, by stage of life
    or aim; plan_days: after which a plan is looked through again; changed_days: something left out for longer opens it."""

    weigh: Mapping[str, int]
    weigh_source: str
    vet: Mapping[str, int]
    vet_source: str
    after_change_days: int
    plan_days: int
    changed_days: int
    laboratory: tuple[LabTrigger, ...]
    signs: SignRules
    source: str


def read_rechecks(data: Mapping[str, Any]) -> RecheckRules:
    """Build from the parsed reference/followup/rechecks.yaml."""
    weigh, vet = dict(data["weigh"]), dict(data["vet"])
    return RecheckRules(
        weigh_source=weigh.pop("source"), vet_source=vet.pop("source"),
        weigh={k: int(v) for k, v in weigh.items()}, vet={k: int(v) for k, v in vet.items()},
        after_change_days=int(data["after_change_days"]), plan_days=int(data["plan_days"]),
        changed_days=int(data["changed_days"]), signs=_signs(data["signs"]),
        laboratory=tuple(
            LabTrigger(
                condition=x["condition"], stages=tuple(map(str, x.get("stages", ()))), test=x["test"],
                low=x.get("low"), high=x.get("high"), rise=x.get("rise"), fall=x.get("fall"),
            )
            for x in data["laboratory"]
        ),
        source=data["source"],
    )  # fmt: skip


def _signs(data: Mapping[str, Any]) -> SignRules:
    eaten, stool = data["appetite"], data["stool"]
    return SignRules(
        appetite_under=float(eaten["under"]), appetite_days=int(eaten["days"]),
        vomiting_in_week=int(data["vomiting_in_week"]), stool_over=float(stool["over"]),
        stool_least=int(stool["least"]), stool_conditions=frozenset(stool["conditions"]),
        muscle_grades=int(data["muscle_grades"]), condition_points=int(data["condition_points"]),
        weight_off=float(data["weight_off"]),
        weight=tuple(
            WeightRule(condition=x["condition"], loss=float(x["loss"]), gain=x.get("gain"))
            for x in data["weight"]
        ),
        source=data["source"],
    )  # fmt: skip
