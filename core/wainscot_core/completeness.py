"""How complete a food's values are, by nutrient group."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from .adequacy import Policy
from .errors import InputError
from .foods import FoodLibrary
from .line import LineText
from .record import CaseRecord

GROUPS = ("energy", "amino", "fats", "minerals", "vitamins")


@dataclass(frozen=True)
class Completeness:
    """Share of a group's board nutrients with a value, and with an analysed one, 0 to 1."""

    group: str
    known: float
    firm: float


def completeness(library: FoodLibrary, row: int) -> tuple[Completeness, ...]:
    """Completeness of one food by group, over the nutrients that standards set."""
    out = []
    for group in GROUPS:
        columns = [
            i for i, n in enumerate(library.catalogue.nutrients) if n.group == group and n.board
        ]
        known = ~np.isnan(library.values[row, columns])
        firm = known & library.firm[row, columns]
        out.append(Completeness(group, float(known.mean()), float(firm.mean())))
    return tuple(out)


def incomplete_groups(record: CaseRecord, library: FoodLibrary, food_id: str) -> tuple[str, ...]:
    """The case's strict groups in which a food lacks an analysed value; () outside strict."""
    if record.data_policy is not Policy.STRICT or food_id not in library:
        return ()
    found = completeness(library, library.row(food_id))
    return tuple(c.group for c in found if c.group in record.strict_groups and c.firm < 1)


def check_strict(record: CaseRecord, library: FoodLibrary, lines: Sequence[LineText]) -> None:
    """Under strict an incomplete food needs an override with a reason. Raises InputError."""
    for i, line in enumerate(lines):
        groups = incomplete_groups(record, library, line.food)
        if groups and not line.override.strip():
            raise InputError(
                f"lines[{i}].override",
                f"{library.food(line.food).name} is not fully analysed for {', '.join(groups)}; "
                "give a reason to use it all the same",
            )
