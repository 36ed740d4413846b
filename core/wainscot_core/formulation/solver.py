"""The one place that knows HiGHS."""

import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

import highspy
import numpy as np

from ..facts.foods import FloatArray
from .model import INFINITY, Model, Side
from .rows import Group

# Feasibility tolerance; limits are held with a reserve ten times as large (model.RESERVE).
TOLERANCE = 1e-8

Cancelled = Callable[[], bool]


@dataclass(frozen=True)
class Outcome:
    """What a run of the solver found. `columns` is None when it found nothing.

    state: optimal, infeasible, time-limit or cancelled. gap: relative distance to the best bound.
    row_dual, column_dual: only for a programme without integers.
    """

    state: str
    columns: FloatArray | None
    value: float
    gap: float
    row_dual: FloatArray | None = None
    column_dual: FloatArray | None = None


@dataclass(frozen=True)
class Bounds:
    """Bounds of every column (Z,) and of every row of the model."""

    lower: FloatArray
    upper: FloatArray
    row_low: FloatArray
    row_high: FloatArray


def bounds_of(
    model: Model,
    released: frozenset[Group] = frozenset(),
    opened: Mapping[int, tuple[float, float]] | None = None,
    elastic: bool = True,
) -> Bounds:
    """All bounds as a function of what is let go, and of nothing else.

    `released` groups do not bind. `opened` columns have bounds of their own. Without `elastic`
    every minimum is hard.
    """
    lower, upper = model.lower.copy(), model.upper.copy()
    if not elastic:
        upper[list(model.slack.values())] = 0.0
    for group, choices in model.choices.items():
        if group not in released:
            continue
        for choice in choices:
            if choice.side is Side.LOWER:
                lower[choice.column] = min(lower[choice.column], choice.relaxed)
            else:
                upper[choice.column] = max(upper[choice.column], choice.relaxed)
    for column, (low, high) in (opened or {}).items():
        lower[column], upper[column] = low, high
    row_low, row_high = model.matrix.low.copy(), model.matrix.high.copy()
    if released:
        loose = np.array([row.group in released for row in model.rows], dtype=bool)
        row_low[loose], row_high[loose] = -INFINITY, INFINITY
    return Bounds(lower, upper, row_low, row_high)


# Of all rules of presolve, probing was seen to cut the best answer off (HiGHS 1.14): every other rule alone
# left it in. Its bit in HiGHS's list of rules.
WITHOUT_PROBING = 1 << 15


class Solver:
    """A programme loaded into HiGHS, solved for one objective after another."""

    def __init__(
        self,
        model: Model,
        *,
        relaxed: bool = False,
        elastic: bool = True,
        released: frozenset[Group] = frozenset(),
        opened: Mapping[int, tuple[float, float]] | None = None,
        cancelled: Cancelled | None = None,
        nodes: int | None = None,
        local: bool = True,
    ) -> None:
        """`relaxed` drops integrality; `local`: amounts are also looked for between known ones and the continuous
        ones, which takes as long as hundreds of nodes; see bounds_of for the rest."""
        self.model = model
        self.relaxed = relaxed
        self._elastic = elastic
        self._opened = dict(opened or {})
        self._highs = highspy.Highs()
        for option, value in (
            ("output_flag", False),
            ("threads", 1),
            ("primal_feasibility_tolerance", TOLERANCE),
            ("dual_feasibility_tolerance", TOLERANCE),
            ("mip_feasibility_tolerance", TOLERANCE),
            ("mip_abs_gap", 1e-9),
            ("mip_rel_gap", model.problem.gap),
            ("presolve_rule_off", WITHOUT_PROBING),
            # The same answer on a busy machine: effort is counted in nodes.
            ("mip_max_nodes", model.problem.nodes if nodes is None else nodes),
            ("mip_heuristic_effort", 0.0),
            ("mip_detect_symmetry", False),
            ("mip_allow_restart", False),
            # What is searched is small and its root is tight: what these find costs more than its nodes do.
            ("mip_pscost_minreliable", 1),
            ("mip_allow_cut_separation_at_nodes", False),
            ("mip_heuristic_run_feasibility_jump", False),
            ("mip_heuristic_run_root_reduced_cost", False),
            ("mip_heuristic_run_rens", False),
            ("mip_heuristic_run_rins", local),
        ):
            self._highs.setOptionValue(option, value)
        self._load(bounds_of(model, released, self._opened, elastic))
        if cancelled is not None:
            self._listen(cancelled)

    def _load(self, bounds: Bounds) -> None:
        model, matrix = self.model, self.model.matrix
        kinds = np.zeros(model.width, np.int32) if self.relaxed else model.integral.astype(np.int32)
        # As arrays: set one by one they take thirty times as long.
        self._highs.passModel(
            model.width, len(model.rows), len(matrix.values), int(highspy.MatrixFormat.kRowwise),
            int(highspy.ObjSense.kMinimize), 0.0, np.zeros(model.width), bounds.lower, bounds.upper,
            bounds.row_low, bounds.row_high, matrix.starts[:-1], matrix.columns, matrix.values, kinds,
        )  # fmt: skip

    def _listen(self, cancelled: Cancelled) -> None:
        def interrupt(event: Any) -> None:
            event.interrupt(cancelled())

        self._highs.cbMipInterrupt.subscribe(interrupt)

    def minimise(
        self,
        objective: FloatArray,
        seconds: float,
        start: FloatArray | None = None,
        presolve: bool = True,
    ) -> Outcome:
        """Minimise one objective within a time; `start` is a solution to begin from, with the columns that were added
        after the model's own."""
        highs = self._highs
        highs.setOptionValue("presolve", "choose" if presolve and not self.relaxed else "off")
        columns = np.arange(self.model.width, dtype=np.int32)
        highs.changeColsCost(len(columns), columns, objective)
        highs.setOptionValue("time_limit", max(seconds, 0.01))
        if start is not None and not self.relaxed:
            solution = highspy.HighsSolution()
            solution.col_value = list(start)
            highs.setSolution(solution)
        highs.run()
        return self._outcome(objective)

    def _outcome(self, objective: FloatArray) -> Outcome:
        highs, statuses = self._highs, highspy.HighsModelStatus
        status, info = highs.getModelStatus(), highs.getInfo()
        states = {
            statuses.kOptimal: "optimal",
            statuses.kInfeasible: "infeasible",
            statuses.kUnboundedOrInfeasible: "infeasible",
            statuses.kTimeLimit: "time-limit",
            statuses.kInterrupt: "cancelled",
            statuses.kSolutionLimit: "effort",
        }
        state = states.get(status, "time-limit")
        if state == "infeasible" or info.primal_solution_status != 2:
            return Outcome(state, None, np.nan, np.inf)
        solution = highs.getSolution()
        columns = np.array(solution.col_value)[: self.model.width]
        if self.relaxed:
            return Outcome(
                state, columns, float(objective @ columns), 0.0,
                np.array(solution.row_dual), np.array(solution.col_dual)[: self.model.width],
            )  # fmt: skip
        whole = self.model.integral
        columns[whole] = np.round(columns[whole])
        return Outcome(state, columns, float(objective @ columns), float(info.mip_gap))

    def hold(self, objective: FloatArray, most: float) -> None:
        """Keep an objective at or below a value from now on."""
        used = np.flatnonzero(objective).astype(np.int32)
        if len(used):
            self._highs.addRow(-highspy.kHighsInf, most, len(used), used, objective[used])

    def soft_row(self, most: float, cost: float) -> int:
        """A row without coefficients, at or below a value unless each unit more is paid for. A relaxed
        programme is answered without the column that pays."""
        row = int(self._highs.getNumRow())
        self._highs.addRow(-highspy.kHighsInf, most, 0, np.array([], np.int32), np.array([]))
        self._highs.addCol(
            cost, 0.0, highspy.kHighsInf, 1, np.array([row], np.int32), np.array([-1.0])
        )
        return row

    def coefficient(self, row: int, column: int, value: float) -> None:
        """Change one coefficient of a row."""
        self._highs.changeCoeff(row, column, value)

    def gap(self, relative: float) -> None:
        """At which relative gap to the best bound an answer counts as the best from now on."""
        self._highs.setOptionValue("mip_rel_gap", relative)

    def bound(self, column: int, most: float, least: float | None = None) -> None:
        """Keep a column at or below a value from now on, and at or above another where one is given."""
        least = float(self.model.lower[column]) if least is None else least
        self._highs.changeColBounds(column, least, most)

    def apply(self, released: frozenset[Group]) -> None:
        """Let these limits and choices go, and hold all others."""
        bounds = bounds_of(self.model, released, self._opened, self._elastic)
        columns = np.arange(self.model.width, dtype=np.int32)
        rows = np.arange(len(self.model.rows), dtype=np.int32)
        self._highs.changeColsBounds(len(columns), columns, bounds.lower, bounds.upper)
        self._highs.changeRowsBounds(len(rows), rows, bounds.row_low, bounds.row_high)


def clock() -> float:
    """Seconds of a clock that only runs forward."""
    return time.monotonic()
