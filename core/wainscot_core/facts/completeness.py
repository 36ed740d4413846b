"""How complete a food's values are, by nutrient group."""

from dataclasses import dataclass

import numpy as np

from .foods import FoodLibrary

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
