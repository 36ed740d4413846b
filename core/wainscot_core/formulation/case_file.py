"""Formulate a case file: what the command prints."""

from collections.abc import Sequence
from dataclasses import dataclass

from ..analysis.analyse import CaseAnalysis, analyse_case
from ..dossier.dossier import Dossier
from ..dossier.reference import Reference
from ..errors import InputError
from ..formats.casefile import Opened
from ..targets.requirements import LimitConflict
from .alternatives import alternatives_of
from .helpful import HelpFor, for_all
from .impasse_words import FormulationImpasse
from .proposal import Proposal, State, formulate
from .settings import read_settings
from .words import FormulationResult, proposal_result


def goal_names(reference: Reference) -> dict[str, str]:
    """Names of the goals by id."""
    return {key: name for key, (name, _) in reference.formulation.goals.items()}


def helps_of(dossier: Dossier, proposal: Proposal) -> Sequence[HelpFor]:
    """What would help the proposal where minimums stay short, of what it was not allowed."""
    if proposal.state is not State.SHORT:
        return ()
    allowed = [c.food.id for c in proposal.model.problem.candidates]
    return for_all(dossier.with_lines(proposal.lines), allowed)


@dataclass(frozen=True, kw_only=True)
class CaseFormulation(CaseAnalysis, FormulationResult):
    """What `./wainscot formulate` prints: the analysis of the adjusted recipe (of the recipe as it
    was when nothing is proposed), and how it came about."""

    conflicts: tuple[LimitConflict | FormulationImpasse, ...]  # type: ignore[assignment]


def formulate_case(opened: Opened) -> CaseFormulation:
    """Adjust the recipe of a case file. Raises InputError naming the field."""
    dossier = opened.dossier
    try:
        settings = read_settings(opened.file.formulate)
        proposal = formulate(dossier, settings)
    except InputError as error:
        raise InputError(
            error.field if error.field.startswith("recipe") else f"formulate.{error.field}",
            error.message,
        ) from None
    adjusted = dossier if not proposal.lines else dossier.with_lines(proposal.lines)
    analysed = analyse_case(adjusted, opened.warnings)
    found = proposal_result(
        dossier, proposal, goal_names(dossier.reference), helps_of(dossier, proposal),
        alternatives_of(dossier, settings, proposal),
    )  # fmt: skip
    told = {**vars(analysed), **vars(found)}
    # What has to be decided in the targets is told by the analysis, with its options.
    further = () if proposal.state is State.UNDECIDED else found.conflicts
    return CaseFormulation(**{**told, "conflicts": (*analysed.conflicts, *further)})
