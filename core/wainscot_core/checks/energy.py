"""Energy of the recipe beside the dog's target."""

from collections.abc import Iterator

from ..dossier.dossier import Dossier
from ..findings import Finding, Kind, Level
from ..recipe.totals import Totals


def energy_off_target(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """No energy at all, or further from the target than the frame a formulation keeps to."""
    if sums.kcal <= 0:
        yield Finding(
            kind=Kind.ENERGY,
            level=Level.WARN,
            what="No energy",
            why="the foods of this recipe bring no energy",
            do="Add a food that does.",
        )
        return
    target = dossier.energy.target_kcal
    kcal_per_day = sums.kcal / sums.days
    gap = kcal_per_day / target - 1
    if abs(gap) > dossier.reference.formulation.defaults["energy_frame"]:
        yield Finding(
            kind=Kind.ENERGY,
            level=Level.WARN,
            what=f"{abs(gap):.0%} {'above' if gap > 0 else 'below'} the energy target",
            why=f"{kcal_per_day:.0f} kcal a day against {target:.0f}",
            do="Scale the recipe or change the days it covers.",
        )
