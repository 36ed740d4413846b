"""The one place that knows HiGHS."""

import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

import highspy
import numpy as np

from ..foods import FloatArray
from .model import Group, Model

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


class Solver:
    """A programme loaded into HiGHS, solved for one objective after another."""

    def __init__(
        self,
        model: Model,
        *,
        relaxed: bool = False,
        elastic: bool = True,
        cancelled: Cancelled | None = None,
    ) -> None:
        """`relaxed` drops integrality; without `elastic` every minimum is hard."""
        self.model = model
        self.relaxed = relaxed
        self._highs = highspy.Highs()
        for option, value in (
            ("output_flag", False),
            ("threads", 1),
            ("primal_feasibility_tolerance", TOLERANCE),
            ("dual_feasibility_tolerance", TOLERANCE),
            ("mip_feasibility_tolerance", TOLERANCE),
            ("mip_abs_gap", 1e-9),
            ("mip_rel_gap", model.problem.gap),
        ):
            self._highs.setOptionValue(option, value)
        self._load(elastic)
        if cancelled is not None:
            self._listen(cancelled)

    def _load(self, elastic: bool) -> None:
        model = self.model
        lp = highspy.HighsLp()
        lp.num_col_, lp.num_row_ = model.width, len(model.rows)
        lp.col_cost_ = np.zeros(model.width)
        lp.col_lower_ = model.lower
        upper = model.upper.copy()
        if not elastic:
            upper[list(model.slack.values())] = 0.0
        lp.col_upper_ = upper
        lp.row_lower_ = np.array([r.low for r in model.rows])
        lp.row_upper_ = np.array([r.high for r in model.rows])
        starts = np.cumsum([0, *(len(r.columns) for r in model.rows)])
        lp.a_matrix_.format_ = highspy.MatrixFormat.kRowwise
        lp.a_matrix_.start_ = starts
        lp.a_matrix_.index_ = np.array([c for r in model.rows for c in r.columns], dtype=np.int32)
        lp.a_matrix_.value_ = np.array([v for r in model.rows for v in r.values])
        if not self.relaxed:
            kinds = (highspy.HighsVarType.kContinuous, highspy.HighsVarType.kInteger)
            lp.integrality_ = [kinds[int(i)] for i in model.integral]
        self._highs.passModel(lp)

    def _listen(self, cancelled: Cancelled) -> None:
        def interrupt(event: Any) -> None:
            event.interrupt(cancelled())

        self._highs.cbMipInterrupt.subscribe(interrupt)

    def minimise(
        self, objective: FloatArray, seconds: float, start: FloatArray | None = None
    ) -> Outcome:
        """Minimise one objective within a time; `start` is a solution to begin from."""
        highs = self._highs
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
        }
        state = states.get(status, "time-limit")
        if state == "infeasible" or info.primal_solution_status != 2:
            return Outcome(state, None, np.nan, np.inf)
        solution = highs.getSolution()
        columns = np.array(solution.col_value)
        if self.relaxed:
            return Outcome(
                state, columns, float(objective @ columns), 0.0,
                np.array(solution.row_dual), np.array(solution.col_dual),
            )  # fmt: skip
        whole = self.model.integral
        columns[whole] = np.round(columns[whole])
        return Outcome(state, columns, float(objective @ columns), float(info.mip_gap))

    def hold(self, objective: FloatArray, most: float) -> None:
        """Keep an objective at or below a value from now on."""
        used = np.flatnonzero(objective).astype(np.int32)
        if len(used):
            self._highs.addRow(-highspy.kHighsInf, most, len(used), used, objective[used])

    def release(self, groups: Iterable[Group]) -> None:
        """Let limits and choices go."""
        wanted = set(groups)
        for i, row in enumerate(self.model.rows):
            if row.group in wanted:
                self._highs.changeRowBounds(i, -highspy.kHighsInf, highspy.kHighsInf)
        for group in wanted:
            for column, lower, upper in self.model.choices.get(group, ()):
                self._highs.changeColBounds(column, lower, upper)

    def restore(self, groups: Iterable[Group]) -> None:
        """Take limits and choices up again."""
        wanted = set(groups)
        for i, row in enumerate(self.model.rows):
            if row.group in wanted:
                self._highs.changeRowBounds(i, row.low, row.high)
        for group in wanted:
            for column, _, _ in self.model.choices.get(group, ()):
                self._highs.changeColBounds(
                    column, self.model.lower[column], self.model.upper[column]
                )

    def with_column(
        self, objective: FloatArray, entries: dict[int, float], most: float
    ) -> tuple[float, float]:
        """Minimise with one more column (0 to `most`) in the rows given: its value, the objective."""
        rows = np.array(list(entries), dtype=np.int32)
        self._highs.addCol(0.0, 0.0, most, len(rows), rows, np.array(list(entries.values())))
        width = self.model.width + 1
        costs = np.append(objective, 0.0)
        self._highs.changeColsCost(width, np.arange(width, dtype=np.int32), costs)
        self._highs.run()
        columns = np.array(self._highs.getSolution().col_value)
        if self._highs.getInfo().primal_solution_status != 2:
            return 0.0, float("inf")
        return float(columns[-1]), float(costs @ columns)

    def bound(self, column: int, lower: float, upper: float) -> None:
        """Set the bounds of a column."""
        self._highs.changeColBounds(column, lower, upper)


def clock() -> float:
    """Seconds of a clock that only runs forward."""
    return time.monotonic()
