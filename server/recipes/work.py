"""A formulation as a process computes it: it knows the facts and its dossier, and no database."""

from dataclasses import dataclass

from library.facts import reference
from wainscot_core.boundary import adapter
from wainscot_core.dossier.carry import packed, unpacked
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.errors import InputError
from wainscot_core.formulation.answer import answer_of
from wainscot_core.formulation.question import Settings
from wainscot_core.formulation.solution import Progress
from wainscot_core.formulation.solver import Cancelled
from wainscot_core.formulation.words import ProposalResult


@dataclass(frozen=True)
class FormulationWork:
    """Adjust the lines of a dossier. seconds: it is ended after so long."""

    dossier: Dossier
    settings: Settings
    seconds: float

    def __call__(self, progress: Progress, stopped: Cancelled) -> str:
        """The proposal as JSON text. Raises InputError."""
        try:
            found = answer_of(self.dossier, self.settings, progress, stopped)
        except InputError as error:
            raise (error if error.field.startswith("recipe") else error.under("settings")) from None
        return adapter(ProposalResult).dump_json(found.told).decode()

    def __reduce__(self) -> tuple[object, ...]:
        return _carried, (packed(self.dossier, reference()), self.settings, self.seconds)


def _carried(sent: bytes, settings: Settings, seconds: float) -> FormulationWork:
    return FormulationWork(unpacked(sent, reference()), settings, seconds)
