"""What a planned batch answers; these dataclasses are the wire."""

from dataclasses import dataclass

from ..analysis.adequacy import Status
from ..facts.handling import Place
from ..findings import Finding
from .ask import ScaleBy
from .eaters import EaterResult
from .finished import Finished
from .portions import Portions, Storage, Volume
from .size import Packs
from .weighing import Tool


@dataclass(frozen=True, kw_only=True)
class BatchLine:
    """A line of the batch. position: in the recipe; exact_g: by the recipe; grams: as it is weighed; fed_g: what
    it comes to in the finished food; vessels: g into each,
    empty where it is weighed once for all (once); pieces: how many are counted, None for what is weighed; off: half a step
    of the scale as a share of the smallest weighing; pack: None where it comes in none."""

    position: int
    food: str
    name: str
    place: Place
    supplement: bool
    step: str
    tool: Tool
    step_g: float
    exact_g: float
    grams: float
    fed_g: float
    once: bool
    vessels: tuple[float, ...]
    off: float
    pieces: float | None
    piece: str
    kcal: float
    pack: Packs | None


@dataclass(frozen=True, kw_only=True)
class BatchVessel:
    """A vessel of the batch. share: of the batch; food_g: finished food in it; start_g: what goes in raw, with its water;
    holds_g: mixed food that it takes."""

    vessel: str
    name: str
    share: float
    food_g: float
    start_g: float
    holds_g: float
    water_g: float


@dataclass(frozen=True, kw_only=True)
class Moved:
    """A verdict that changes because amounts were rounded. before, after: per 1000 kcal (a ratio: its value), None where
    undefined."""

    key: str
    name: str
    unit: str
    status_before: Status
    status_after: Status
    before: float | None
    after: float | None


@dataclass(frozen=True, kw_only=True)
class BatchPlan:
    """A planned batch: how much of what in which vessel, for whom, what it weighs when it is done and where it is kept.

    days: that it feeds all its dogs; times: the recipe as it is written; off_by: by how much it is more or less than what
    was asked, for whole packs; cost: at the prices noted, unpriced: lines without one.
    """

    by: ScaleBy
    days: float
    asked_days: float
    times: float
    lines: tuple[BatchLine, ...]
    vessels: tuple[BatchVessel, ...]
    finished: Finished
    eaters: tuple[EaterResult, ...]
    portions: tuple[Portions, ...]
    volumes: tuple[Volume, ...]
    storage: Storage
    cost_per_day: float
    cost: float
    unpriced: int
    moved: tuple[Moved, ...]
    findings: tuple[Finding, ...]
    source: str


def vessels_of(plan: BatchPlan) -> list[tuple[int | None, str]]:
    """The vessels of a batch as they are told apart: position and name, (None, "") for the only one."""
    if len(plan.vessels) < 2:
        return [(None, "")]
    return [(i, f"{chr(65 + i)}, {v.name}") for i, v in enumerate(plan.vessels)]
