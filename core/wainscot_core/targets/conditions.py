"""What a condition changes, as data."""

from dataclasses import dataclass
from typing import Any

from ..confidence import Confidence
from ..errors import InputError
from ..facts.places import DogPlace
from .per import Per
from .standards import Sets, Strength


@dataclass(frozen=True)
class ConditionLimit:
    """One bound of a condition: `value` `unit` per mcal, kg, mbw or energy; hard or advised."""

    key: str
    bound: Sets
    value: float
    high: float | None
    unit: str
    per: Per
    stages: tuple[str, ...]
    strength: Strength
    source: str
    confidence: Confidence
    note: str


@dataclass(frozen=True)
class Condition:
    """A condition with its stages, limits and words. shows_at: where on the dog it stands."""

    id: str
    name: str
    stages: dict[str, str]
    limits: tuple[ConditionLimit, ...]
    words: dict[str, str]
    recheck_days: dict[str, int]
    sign_off: dict[str, str]
    max_days: int | None
    source: str
    shows_at: DogPlace
    # The stage of life whose safe limits hold; "" for the life stage's own.
    safe_stage: str = ""
    # Stages that are an elimination trial.
    trial_stages: tuple[str, ...] = ()
    # The life stage a dog with it is in; "" where it says nothing of that.
    life_stage: str = ""

    def limits_at(self, stage: str) -> tuple[ConditionLimit, ...]:
        """Limits that hold at a stage."""
        return tuple(x for x in self.limits if not x.stages or stage in x.stages)


_WORDS = ("do", "keep", "prefer", "avoid", "red_flags", "see_vet_first", "duration")
# What a bound is called in reference/conditions/.
_SETS = {"min": Sets.MIN, "max": Sets.MAX, "target": Sets.RECOMMENDED}
_SIGN_OFF = {True: "yes", False: "no"}


def read_conditions(data: dict[str, Any]) -> dict[str, Condition]:
    """Build from a parsed file of reference/conditions/."""
    out = {}
    for entry in data["conditions"]:
        limits = tuple(
            ConditionLimit(
                x["key"], _SETS[x["bound"]], float(x["value"]), float(x["high"]) if "high" in x else None,
                x["unit"], Per(x["per"]), tuple(str(s) for s in x.get("stages", ())), Strength(x["strength"]),
                x["source"], Confidence(x["confidence"]), x.get("note", ""),
            )
            for x in entry["limits"]
        )  # fmt: skip
        out[entry["id"]] = Condition(
            entry["id"],
            entry["name"],
            {str(k): str(v) for k, v in entry["stages"].items()},
            limits,
            {k: str(entry[k]) for k in _WORDS if k in entry},
            {str(k): int(v) for k, v in entry["recheck_days"].items()},
            {str(k): _SIGN_OFF.get(v, str(v)) for k, v in entry["sign_off"].items()},
            entry.get("max_days"),
            entry["source"],
            DogPlace(entry["shows_at"]),
            entry.get("safe_stage", ""),
            tuple(entry.get("trial_stages", ())),
            entry.get("life_stage", ""),
        )
    return out


def stage_of(condition: Condition, stage: str) -> str:
    """The stage key of a condition. With one stage only, nothing need be said.

    Raises InputError (field "stage") naming the stages.
    """
    wanted = str(stage).strip()
    if not wanted and len(condition.stages) == 1:
        return next(iter(condition.stages))
    for key, words in condition.stages.items():
        if wanted.lower() in {key.lower(), words.lower()}:
            return key
    if len(condition.stages) == 1:
        return next(iter(condition.stages))
    raise InputError(
        "stage",
        f"{condition.name} has no stage {stage!r}; use one of: {', '.join(condition.stages)}",
    )
