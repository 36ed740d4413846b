"""A line of a recipe: as it was typed, and as it was read. The one place where text becomes grams."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..conventions import FoodUnit, Kitchen
from ..errors import InputError
from ..facts.foods import Food, FoodLibrary
from ..facts.preparations import Method, Prepared, prepare
from ..figures import rounded
from ..units import Measures
from . import amounts
from .amount import Amount, written
from .totals import Totals, totals

MAX_LINES = 200


@dataclass(frozen=True)
class LineText:
    """A line as it was typed, the one shape of it at every door.

    food: id in the library. quantity: the amount as typed. preparation: id of a cooking method, ""
    for fed as weighed. override: why an incomplete food is let in under the strict policy.
    grams, basis: what the quantity was read as when it was stored; None and "" when it never was.
    measures: whose cups and spoons were meant when it was typed; they stay the line's own.
    """

    food: str
    quantity: str
    note: str = ""
    preparation: str = ""
    override: str = ""
    grams: float | None = None
    basis: str = ""
    measures: Measures = Measures.US


@dataclass(frozen=True)
class Line:
    """An ingredient and its weight. stale: why the stored reading stands in for the text, or ""."""

    food: Food
    row: int
    amount: Amount
    prepared: Prepared | None = None
    text: LineText | None = None
    stale: str = ""

    @property
    def as_fed(self) -> Food:
        """The food as it reaches the bowl: a raw food that is cooked is not raw."""
        if self.prepared is None:
            return self.food
        cooked = replace(self.food.attributes, state="cooked")
        return replace(self.food, form="cooked", attributes=cooked)

    @property
    def fed_grams(self) -> float:
        """Weight as fed, g: after cooking where the line is weighed raw."""
        return self.amount.grams * (self.prepared.yield_share if self.prepared else 1.0)


@dataclass(frozen=True)
class Reading:
    """One way an amount can be read."""

    text: str
    grams: float


@dataclass(frozen=True)
class LineError:
    """A line that cannot be computed, why, and how else its amount may be read."""

    line: int
    field: str
    message: str
    readings: tuple[Reading, ...] = ()


def read_line(
    methods: Sequence[Method], library: FoodLibrary, text: LineText, weigh: FoodUnit = FoodUnit.G
) -> Line:
    """Food, grams and preparation of a line. weigh: what food is weighed in where it was typed.

    A text that can no longer be read, though it was when it was stored, keeps the grams it was
    read as and says so. Raises InputError (field food, amount, unit or preparation).
    """
    if text.food not in library:
        raise InputError("food", f"no food {text.food!r} in the library; search for another")
    row = library.row(text.food)
    food = library.foods[row]
    stale = ""
    try:
        # What was stored was understood then: a number alone is not asked about again.
        meant = weigh if text.grams is None else FoodUnit.G
        amount = amounts.parse(food, text.quantity, Kitchen(text.measures, meant))
    except InputError as error:
        if text.grams is None or error.field != "unit":
            raise
        amount = Amount(text.grams, "g", text.grams, text.basis or "as it was read when stored")
        stale = (
            f"{text.quantity} was read as {text.grams:.4g} g when it was stored; {error.message}"
        )
    prepared = prepare(methods, library, row, text.preparation) if text.preparation else None
    return Line(food, row, amount, prepared, text, stale)


def read_lines(
    methods: Sequence[Method],
    library: FoodLibrary,
    texts: Sequence[LineText],
    weigh: FoodUnit = FoodUnit.G,
) -> tuple[dict[int, Line], list[LineError]]:
    """Readable lines by position, and the errors of the others: for what is still being typed."""
    good: dict[int, Line] = {}
    errors: list[LineError] = []
    for i, text in enumerate(texts):
        try:
            good[i] = read_line(methods, library, text, weigh)
        except InputError as error:
            readings = error.candidates if isinstance(error, amounts.UnsureError) else ()
            told = tuple(Reading(written(a, text.measures), rounded(a.grams)) for a in readings)
            errors.append(LineError(i, error.field, error.message, told))
    return good, errors


def read_all(
    methods: Sequence[Method],
    library: FoodLibrary,
    texts: Sequence[LineText],
    weigh: FoodUnit = FoodUnit.G,
) -> tuple[Line, ...]:
    """Every line, for what is stored or asked as a whole.

    Raises InputError (field lines[i].quantity, .food or .preparation) for the first that cannot
    be read: a recipe is never computed without one of its lines.
    """
    if len(texts) > MAX_LINES:
        raise InputError("lines", f"has {len(texts)} lines; at most {MAX_LINES}")
    good, errors = read_lines(methods, library, texts, weigh)
    for error in errors:
        field = error.field if error.field in {"food", "preparation"} else "quantity"
        raise InputError(f"lines[{error.line}].{field}", error.message)
    return tuple(good.values())


def stored(line: Line) -> LineText:
    """The text of a line with what it was read as, to be stored with it."""
    text = line.text or LineText(line.food.id, written(line.amount))
    return replace(text, grams=line.amount.grams, basis=line.amount.basis)


def sum_lines(library: FoodLibrary, lines: Sequence[Line], days: float) -> Totals:
    """Totals of lines that feed `days` days."""
    rows, grams = [line.row for line in lines], [line.amount.grams for line in lines]
    if not any(line.prepared for line in lines):
        return totals(library, rows, grams, days)
    plain = np.ones(len(library.catalogue.nutrients))
    retention = np.array([line.prepared.retention if line.prepared else plain for line in lines])
    return totals(library, rows, grams, days, [line.fed_grams for line in lines], retention)
