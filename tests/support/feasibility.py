"""Whether a formulation's limits can hold together, decided by another solver's front door.

The bounds are worked out here from the model's own description, not by the code under test.
"""

from collections.abc import Collection

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp
from wainscot_core.formulation.model import Model, Side
from wainscot_core.formulation.rows import Group


def possible(model: Model, released: Collection[Group] = ()) -> bool:
    """True when all limits and choices but those let go can hold, minimums included."""
    lower, upper = model.lower.copy(), model.upper.copy()
    upper[list(model.slack.values())] = 0.0
    for group in released:
        for choice in model.choices.get(group, ()):
            if choice.side is Side.LOWER:
                lower[choice.column] = choice.relaxed
            else:
                upper[choice.column] = choice.relaxed
    rows = [row for row in model.rows if row.group not in released or row.group is None]
    matrix = np.zeros((len(rows), model.width))
    for i, row in enumerate(rows):
        matrix[i, list(row.columns)] = row.values
    found = milp(
        np.zeros(model.width),
        constraints=LinearConstraint(matrix, [r.low for r in rows], [r.high for r in rows]),
        bounds=Bounds(lower, upper),
        integrality=np.asarray(model.integral, dtype=int),
        options={"presolve": False},
    )
    assert found.status in {0, 2}, found.message
    return bool(found.success)
