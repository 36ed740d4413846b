"""A round as a process computes it: it knows the facts and its dossier, and no database."""

from dataclasses import dataclass

from library.facts import reference
from wainscot_core.boundary import adapter
from wainscot_core.dossier.carry import packed, unpacked
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.formulation.question import Settings
from wainscot_core.formulation.rotation import rotation
from wainscot_core.formulation.rotation_words import RotationResult, rotation_result
from wainscot_core.formulation.solution import Progress
from wainscot_core.formulation.solver import Cancelled
from wainscot_core.recipe.plan import Daily, Turn


@dataclass(frozen=True)
class RotationWork:
    """Adjust the recipes of a round. dossier: of the case; seconds: it is ended after so long."""

    dossier: Dossier
    settings: Settings
    turns: tuple[Turn, ...]
    daily: tuple[Daily, ...]
    seconds: float

    def __call__(self, progress: Progress, stopped: Cancelled) -> str:
        """The result as JSON text. Raises InputError."""
        found = rotation(self.dossier, self.settings, self.turns, self.daily, progress, stopped)
        told = rotation_result(self.dossier, self.turns, found)
        return adapter(RotationResult).dump_json(told).decode()

    def __reduce__(self) -> tuple[object, ...]:
        parts = (self.dossier, self.settings, self.turns, self.daily)
        return _carried, (packed(parts, reference()), self.seconds)


def _carried(sent: bytes, seconds: float) -> RotationWork:
    dossier, settings, turns, daily = unpacked(sent, reference())
    return RotationWork(dossier, settings, turns, daily, seconds)
