"""When a dog is looked at again, and what reopens its plan: reference/followup/rechecks.yaml."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True, kw_only=True)
class LabTrigger:
    """A laboratory value of a condition that opens the plan again, in the unit in which its test is compared. stages: ()
    for all."""

    condition: str
    stages: tuple[str, ...]
    test: str
    low: float | None
    high: float | None

    def crossed(self, value: float) -> bool:
        """Whether a value lies outside."""
        return (self.low is not None and value < self.low) or (
            self.high is not None and value > self.high
        )


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
    weight_off: float
    laboratory: tuple[LabTrigger, ...]
    source: str


def read_rechecks(data: Mapping[str, Any]) -> RecheckRules:
    """Build from the parsed reference/followup/rechecks.yaml."""
    weigh, vet = dict(data["weigh"]), dict(data["vet"])
    return RecheckRules(
        weigh_source=weigh.pop("source"), vet_source=vet.pop("source"),
        weigh={k: int(v) for k, v in weigh.items()}, vet={k: int(v) for k, v in vet.items()},
        after_change_days=int(data["after_change_days"]), plan_days=int(data["plan_days"]),
        changed_days=int(data["changed_days"]), weight_off=float(data["weight_off"]),
        laboratory=tuple(
            LabTrigger(
                condition=x["condition"], stages=tuple(map(str, x.get("stages", ()))), test=x["test"],
                low=x.get("low"), high=x.get("high"),
            )
            for x in data["laboratory"]
        ),
        source=data["source"],
    )  # fmt: skip
