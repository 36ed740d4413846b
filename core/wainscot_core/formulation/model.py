"""The formulation as arrays: columns, rows and which limit or choice each of them stands for.

Amounts of a candidate are x = z_n x step (+ current amount x z_keep where the recipe's amount is
not a multiple of the step, so that a line may always stay as it is). Every limit row is scaled to
shares of the limit for the batch, so that one number is one whole limit.
"""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..facts.foods import FloatArray
from .problem import Bar, Candidate, Problem
from .rows import RESERVE, Group, GroupKind, Limits, limits_of
from .shape import Weights, cap_coefficients, premixes, shape_terms, weights_of

INFINITY = float("inf")
# Share of the energy target that a recipe must bring to be one at all.
LEAST_FED = 0.5
A_BOWL = Group(GroupKind.ENERGY, "least")
# kcal per gram from which a food can feed a dog.
FEEDS = 0.1
# Caps that are counts: see words.
PREMIX, BESIDE_PREMIX = "premix", "beside-premix"
# How little the amount of an added supplement counts beside its number.
AMOUNT_WEIGHT = 1e-3
# (C,) coefficients per gram of each candidate -> coefficients of columns.
Terms = Callable[[FloatArray], "Pair"]


class Side(StrEnum):
    """The side of a column's bounds."""

    LOWER = "lower"
    UPPER = "upper"


@dataclass(frozen=True)
class Choice:
    """One bound of one column that widens to `relaxed` when the choice is let go.

    Several choices may bear on one column, each on its own side, so that what is let go together
    does not depend on an order.
    """

    column: int
    side: Side
    relaxed: float


Choices = dict[Group, tuple[Choice, ...]]
Columns = NDArray[np.int32]
# Columns and their coefficients.
Pair = tuple[Columns, FloatArray]


@dataclass(frozen=True)
class Row:
    """One linear row: low <= coefficients . z <= high."""

    columns: Columns
    values: FloatArray
    low: float
    high: float
    group: Group | None


@dataclass(frozen=True)
class Matrix:
    """All rows by where each begins, the columns and values of them one after another, and their bounds."""

    starts: np.ndarray
    columns: np.ndarray
    values: FloatArray
    low: FloatArray
    high: FloatArray


@dataclass(frozen=True)
class Model:
    """Arrays of the programme.

    limits: the limits as rows over grams.
    amounts: (C, Z) grams of each candidate = amounts @ z.
    lower, upper, integral: (Z,) column bounds and integrality.
    objectives: goal -> (Z,) coefficients to minimise.
    choices: group -> the bounds that widen when the choice is let go.
    slack: minimum -> column of its shortfall; give: maximum -> column of what it would have to give
        way, 0 unless opened.
    present: position -> column that says whether the item is in the recipe, where that counts; rooms:
        the most grams of it.
    """

    problem: Problem
    limits: Limits
    amounts: FloatArray
    lower: FloatArray
    upper: FloatArray
    integral: np.ndarray
    rows: tuple[Row, ...]
    objectives: dict[str, FloatArray]
    choices: Choices
    slack: dict[Group, int]
    give: dict[Group, int]
    present: dict[int, int]
    rooms: dict[int, float]

    @property
    def width(self) -> int:
        """Number of columns."""
        return len(self.lower)

    @cached_property
    def weights(self) -> Weights:
        """What counts of each candidate in the shape of the recipe."""
        return weights_of(self.problem)

    @cached_property
    def matrix(self) -> Matrix:
        """The rows as arrays."""
        sizes = np.array([len(r.columns) for r in self.rows], dtype=np.int32)
        return Matrix(
            np.concatenate([[0], np.cumsum(sizes)]).astype(np.int32),
            np.concatenate([r.columns for r in self.rows]),
            np.concatenate([r.values for r in self.rows]),
            np.array([r.low for r in self.rows]),
            np.array([r.high for r in self.rows]),
        )

    def groups(self) -> tuple[Group, ...]:
        """Every limit and choice of the model."""
        seen: dict[Group, None] = {}
        for row in self.rows:
            if row.group is not None:
                seen[row.group] = None
        seen.update(dict.fromkeys(self.choices))
        return tuple(seen)


class _Builder:
    def __init__(self) -> None:
        self.lower: list[float] = []
        self.upper: list[float] = []
        self.integral: list[bool] = []
        self.rows: list[Row] = []

    def column(self, lower: float, upper: float, integral: bool = False) -> int:
        self.lower.append(lower)
        self.upper.append(upper)
        self.integral.append(integral)
        return len(self.lower) - 1

    def row(
        self, terms: dict[int, float], low: float, high: float, group: Group | None = None
    ) -> None:
        used = {c: v for c, v in terms.items() if v != 0.0}
        columns = np.fromiter(used, dtype=np.int32, count=len(used))
        values = np.fromiter(used.values(), dtype=np.float64, count=len(used))
        self.rows.append(Row(columns, values, low, high, group))

    def grams_row(
        self,
        terms: Pair,
        low: float,
        high: float,
        group: Group | None = None,
        beside: tuple[int, float] | None = None,
    ) -> None:
        """A row over grams. beside: one more column and its coefficient."""
        columns, values = terms
        if beside is not None:
            column, factor = beside
            columns = np.concatenate([columns, np.array([column], dtype=np.int32)])
            values = np.concatenate([values, np.array([factor])])
        self.rows.append(Row(columns, values, low, high, group))


def tightest(problem: Problem) -> FloatArray:
    """(C,) most grams of each candidate: its own bound, and what the maximums leave room for."""
    if problem.energy_free:
        most_kcal = problem.kcal * (1 + problem.energy_frame)
    else:
        most_kcal = float(
            problem.contents.kcal @ np.array([c.high_grams for c in problem.candidates])
        )
    bound = np.array([c.high_grams for c in problem.candidates])
    with np.errstate(divide="ignore", invalid="ignore"):
        for key, limit in problem.requirements.limits.items():
            if limit.ceiling and key in problem.catalogue:
                per_gram = problem.contents.high[:, problem.catalogue.index(key)]
                room = limit.ceiling * most_kcal / 1000 / per_gram
                bound = np.where(per_gram > 0, np.minimum(bound, room), bound)
        if problem.energy_free:
            room = most_kcal / problem.contents.kcal
            bound = np.where(problem.contents.kcal > 0, np.minimum(bound, room), bound)
    return bound


def build(problem: Problem, limits: Limits | None = None) -> Model:
    """Turn a problem into arrays. limits: its rows, where they are known already."""
    b = _Builder()
    count = len(problem.candidates)
    caps = tightest(problem)
    expression: list[dict[int, float]] = []
    choices: Choices = {}
    for j, c in enumerate(problem.candidates):
        each = float(problem.contents.kcal[j])
        # As much as would feed the dog by itself.
        filling = (1 + problem.energy_frame) * problem.kcal / each if each > FEEDS else 0.0
        terms, released = _amount_columns(b, j, c, float(caps[j]), filling)
        expression.append(terms)
        for group, widened in released.items():
            choices[group] = choices.get(group, ()) + widened

    # No two candidates share a column.
    terms_of = [
        (j, column, factor) for j, x in enumerate(expression) for column, factor in x.items()
    ]
    item = np.array([j for j, _, _ in terms_of], dtype=np.intp)
    columns = np.array([column for _, column, _ in terms_of], dtype=np.int32)
    factors = np.array([factor for _, _, factor in terms_of])

    def grams(coefficients: FloatArray) -> Pair:
        values = coefficients[item] * factors
        used = np.flatnonzero(values)
        return columns[used], values[used]

    slack: dict[Group, int] = {}
    give: dict[Group, int] = {}
    limits = limits or limits_of(problem)
    for limit in limits.held:
        if limit.group.kind is GroupKind.MIN:
            slack[limit.group] = other = b.column(0.0, INFINITY)
        else:
            # Shut unless someone asks how far the maximum would have to give way.
            give[limit.group] = other = b.column(0.0, 0.0)
        b.grams_row(grams(limit.coefficients), 0.0, INFINITY, limit.group, (other, 1.0))

    for key, most_added in problem.added_most.items():
        # A safe limit on what is added is never let go.
        high = problem.contents.high[:, problem.catalogue.index(key)]
        given = np.array([c.dosed for c in problem.candidates])
        room = most_added * (1 - RESERVE) * problem.contents.kcal / 1000.0
        b.grams_row(grams((room - np.where(given, high, 0.0)) / most_added), 0.0, INFINITY)

    objectives = {"minimums": dict.fromkeys(slack.values(), 1.0), "advice": {}}
    for advised in limits.advised:
        missed = b.column(0.0, INFINITY)
        b.grams_row(grams(advised.coefficients), 0.0, INFINITY, beside=(missed, 1.0))
        objectives["advice"][missed] = 1.0
    aimed: dict[int, float] = {}
    for aim in limits.aimed:
        missed = b.column(0.0, INFINITY)
        b.grams_row(grams(aim.coefficients), 0.0, INFINITY, beside=(missed, 1.0))
        aimed[missed] = problem.aim.cost if problem.aim else 0.0
    energy = grams(problem.contents.kcal / problem.kcal)
    if problem.energy_free:
        frame = problem.energy_frame
        b.grams_row(energy, 1 - frame, 1 + frame, Group(GroupKind.ENERGY))
        # Limits per 1000 kcal would all hold for an empty bowl; it is no answer to any question.
        b.grams_row(energy, LEAST_FED, INFINITY, A_BOWL)
    under, over = b.column(0.0, INFINITY), b.column(0.0, INFINITY)
    b.grams_row(energy, 1 - problem.energy_band, INFINITY, beside=(under, 1.0))
    b.grams_row(energy, -INFINITY, 1 + problem.energy_band, beside=(over, -1.0))
    objectives["energy"] = {under: 1.0, over: 1.0}

    present, rooms = _presence(b, problem, expression, caps)
    supplements = [y for j, y in present.items() if problem.candidates[j].is_supplement]
    objectives["near"] = (
        shape_terms(problem, expression, present, b.column, b.row)
        | dict.fromkeys(objectives["advice"], problem.shape.advice)
        | aimed
    )
    for cap in problem.caps:
        if not cap.gives:
            excess = grams(cap_coefficients(problem, cap))
            b.grams_row(excess, -INFINITY, 0.0, Group(GroupKind.CAP, cap.id))
    _one_premix(b, problem, present)
    taken = sum(
        1 for c in problem.candidates if c.is_supplement and c.fixed and c.current_grams > 0
    )
    b.row(
        dict.fromkeys(supplements, 1.0),
        -INFINITY,
        problem.max_supplements - taken,
        Group(GroupKind.SUPPLEMENTS),
    )
    objectives["fewest"] = {
        y: 1.0 for j, y in present.items() if problem.candidates[j].line is None
    } | _least(problem, expression)
    objectives["school"] = {
        y: problem.avoid[problem.candidates[j].kind]
        for j, y in present.items()
        if problem.candidates[j].kind in problem.avoid
    } | _guide(b, problem, grams)
    # What is not asked for brings no rows.
    objectives["macros"] = _macros(b, problem, grams) if "macros" in problem.goals else {}
    priced, prices = grams(problem.prices_per_kg / 1000.0)
    objectives["cost"] = dict(zip(priced.tolist(), prices.tolist(), strict=True))
    wanted = "recommended" in problem.goals
    objectives["recommended"] = _recommended(b, problem, grams) if wanted else {}
    for j, c in enumerate(problem.candidates):
        if c.tie is not None:
            terms = dict(expression[j])
            for column, factor in expression[c.tie.to].items():
                terms[column] = terms.get(column, 0.0) - c.tie.ratio * factor
            half = c.increment.grams / 2
            b.row(terms, -half, half, Group(GroupKind.TIE, candidate=j))

    width = len(b.lower)
    amounts = np.zeros((count, width))
    for j, terms in enumerate(expression):
        for column, factor in terms.items():
            amounts[j, column] = factor

    def dense(terms: dict[int, float]) -> FloatArray:
        vector = np.zeros(width)
        for column, value in terms.items():
            vector[column] = value
        return vector

    return Model(
        problem,
        limits,
        amounts,
        np.array(b.lower),
        np.array(b.upper),
        np.array(b.integral),
        tuple(b.rows),
        {goal: dense(terms) for goal, terms in objectives.items()},
        choices,
        slack,
        give,
        present,
        rooms,
    )


def _amount_columns(
    b: _Builder, j: int, c: Candidate, cap: float, filling: float
) -> tuple[dict[int, float], Choices]:
    """Columns of one candidate's amount, and what letting its choices go would allow."""
    step = c.increment.grams
    room = max(cap, c.current_grams)
    if c.excluded:
        column = b.column(0.0, 0.0)
        return {column: 1.0}, {_kept_out(j, c): (Choice(column, Side.UPPER, room),)}
    if c.fixed:
        column = b.column(c.current_grams, c.current_grams)
        return {column: 1.0}, {
            Group(GroupKind.FIXED, candidate=j): (
                Choice(column, Side.LOWER, 0.0),
                Choice(column, Side.UPPER, room),
            )
        }
    least = np.ceil(c.low_grams / step - 1e-9)
    most = max(np.floor(min(c.high_grams, cap) / step + 1e-9), least)
    most_free = most
    n = b.column(least, most, integral=True)
    terms = {n: step}
    choices: Choices = {}
    if least > 0:
        choices[Group(GroupKind.LEAST, candidate=j)] = (Choice(n, Side.LOWER, 0.0),)
    if c.line is not None and c.high_grams < INFINITY:
        most_free = max(np.floor(max(room, 4 * c.high_grams, filling) / step), most)
        choices[Group(GroupKind.MOST, candidate=j)] = (Choice(n, Side.UPPER, most_free),)
    off_grid = abs(c.current_grams / step - round(c.current_grams / step)) > 1e-6
    if off_grid and c.low_grams <= c.current_grams <= min(c.high_grams, room):
        keep = b.column(0.0, 1.0, integral=True)
        terms[keep] = c.current_grams
        # Kept as it is, or a number of steps: not both.
        free = max(most_free, 1.0)
        b.row({n: 1.0, keep: free}, -INFINITY, free)
        if least > 0:
            # The least is a row here, for it binds only what is not kept.
            b.lower[n] = 0.0
            choices.pop(Group(GroupKind.LEAST, candidate=j))
            b.row({n: 1.0, keep: least}, least, INFINITY, Group(GroupKind.LEAST, candidate=j))
    return terms, choices


def _kept_out(j: int, c: Candidate) -> Group:
    """What keeps a candidate out."""
    if c.bar is Bar.RULED:
        return Group(GroupKind.RULED)
    if c.bar is Bar.OFFER:
        return Group(GroupKind.OFFER)
    return Group(GroupKind.STRENGTH if c.bar else GroupKind.EXCLUDED, candidate=j)


def _presence(
    b: _Builder, problem: Problem, expression: list[dict[int, float]], caps: FloatArray
) -> tuple[dict[int, int], dict[int, float]]:
    """0/1 columns that say whether an item is in the recipe, where that counts, and the most of it."""
    present: dict[int, int] = {}
    rooms: dict[int, float] = {}
    for j, c in enumerate(problem.candidates):
        counted = c.line is None or c.is_supplement
        if not counted or c.fixed or c.excluded:
            continue
        y = b.column(0.0, 1.0, integral=True)
        room = max(min(float(caps[j]), c.high_grams), c.current_grams, c.increment.grams)
        b.row({**expression[j], y: -room}, -INFINITY, 0.0)
        if c.least_grams > c.increment.grams:
            b.row({**expression[j], y: -c.least_grams}, 0.0, INFINITY)
        present[j], rooms[j] = y, room
    return present, rooms


def _one_premix(b: _Builder, problem: Problem, present: dict[int, int]) -> None:
    """At most one all-in-one premix, and few items beside it."""
    free, kept = premixes(problem)
    if not free:
        return
    mine = [present[j] for j in free]
    b.row(dict.fromkeys(mine, 1.0), -INFINITY, max(0.0, 1.0 - kept), Group(GroupKind.CAP, PREMIX))
    added = [y for j, y in present.items() if problem.candidates[j].line is None]
    many = float(max(len(added) - problem.most_items, 0))
    if many:
        # Without a premix the row asks nothing.
        terms = dict.fromkeys(added, 1.0)
        for y in mine:
            terms[y] = terms.get(y, 0.0) + many
        b.row(terms, -INFINITY, problem.most_items + many, Group(GroupKind.CAP, BESIDE_PREMIX))


def _least(problem: Problem, expression: list[dict[int, float]]) -> dict[int, float]:
    """No more of an added supplement than is needed: its amount as a share of the most."""
    weights: dict[int, float] = {}
    for j, c in enumerate(problem.candidates):
        if c.line is None and c.is_supplement and c.high_grams > 0:
            for column, factor in expression[j].items():
                weights[column] = AMOUNT_WEIGHT * factor / c.high_grams
    return weights


def macro_kcal(problem: Problem) -> FloatArray:
    """(3, C) kcal per gram from protein, fat and carbohydrate without fibre, by the factors of the
    food's ME method."""
    catalogue, contents = problem.catalogue, problem.contents
    column = {k: contents.high[:, catalogue.index(k)] for k in ("PROCNT", "FAT", "CHOCDF", "FIBTG")}
    carbohydrate = np.maximum(column["CHOCDF"] - column["FIBTG"], 0.0)
    factors = problem.factors.kcal_per_g
    grams = {"PROCNT": column["PROCNT"], "FAT": column["FAT"], "CHOCDF": carbohydrate}
    return np.array([factors[tag] * grams[tag] for tag in ("PROCNT", "FAT", "CHOCDF")])


def _macros(b: _Builder, problem: Problem, grams: Terms) -> dict[int, float]:
    if problem.macros is None:
        return {}
    parts = macro_kcal(problem)
    whole = parts.sum(axis=0)
    wanted = (problem.macros.protein, problem.macros.fat, problem.macros.carbohydrate)
    weights: dict[int, float] = {}
    for part, share in zip(parts, wanted, strict=True):
        away = b.column(0.0, INFINITY)
        terms = grams((part - share * whole) / problem.kcal)
        b.grams_row(terms, 0.0, INFINITY, beside=(away, 1.0))
        b.grams_row(terms, -INFINITY, 0.0, beside=(away, -1.0))
        weights[away] = 1.0
    return weights


def _guide(b: _Builder, problem: Problem, grams: Terms) -> dict[int, float]:
    """Distance of each part's fed weight from its share of the weight of all parts."""
    if problem.guide is None:
        return {}
    parts = problem.guide.parts
    fed = problem.contents.fed
    inside = np.array([p in problem.guide.shares for p in parts])
    scale = float((fed * inside) @ problem.current) or problem.kcal
    weights: dict[int, float] = {}
    for name, share in problem.guide.shares.items():
        mine = np.array([p == name for p in parts])
        away = b.column(0.0, INFINITY)
        terms = grams((fed * mine - share * fed * inside) / scale)
        b.grams_row(terms, 0.0, INFINITY, beside=(away, 1.0))
        b.grams_row(terms, -INFINITY, 0.0, beside=(away, -1.0))
        weights[away] = 1.0
    return weights


def _recommended(b: _Builder, problem: Problem, grams: Terms) -> dict[int, float]:
    weights: dict[int, float] = {}
    for key, limit in problem.requirements.limits.items():
        wanted = limit.recommended
        if key not in problem.catalogue or not wanted or wanted <= (limit.minimum or 0.0):
            continue
        column = problem.catalogue.index(key)
        coefficients = (
            problem.contents.low[:, column] / wanted - problem.contents.kcal / 1000.0
        ) * (1000.0 / problem.kcal)
        missing = b.column(0.0, INFINITY)
        b.grams_row(grams(coefficients), 0.0, INFINITY, beside=(missing, 1.0))
        weights[missing] = 1.0
    return weights
