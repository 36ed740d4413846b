"""Formulate a case file: what the command prints."""

from dataclasses import dataclass

from ..analysis.analyse import CaseAnalysis, analyse_case
from ..errors import InputError
from ..formats.casefile import Opened
from ..targets.requirements import LimitConflict
from .answer import answer_of
from .impasse_words import FormulationImpasse
from .settings import read_settings
from .words import FormulationResult


@dataclass(frozen=True, kw_only=True)
class CaseFormulation(CaseAnalysis, FormulationResult):
    """What `./wainscot formulate` prints: the analysis of the adjusted recipe (of the recipe as it
    was when nothing is proposed), and how it came about."""

    conflicts: tuple[LimitConflict | FormulationImpasse, ...]  # type: ignore[assignment]


def formulate_case(opened: Opened) -> CaseFormulation:
    """Adjust the recipe of a case file. Raises InputError naming the field."""
    dossier = opened.dossier
    try:
        found = answer_of(dossier, read_settings(opened.file.formulate))
    except InputError as error:
        raise InputError(
            error.field if error.field.startswith("recipe") else f"formulate.{error.field}",
            error.message,
        ) from None
    proposal, result = found.proposal, found.told
    # What was made of nothing is what a trial is built on.
    take = dossier.with_lines if dossier.lines else dossier.built_on
    adjusted = take(proposal.lines or dossier.lines or found.start.lines)
    analysed = analyse_case(adjusted, opened.warnings)
    told = {**vars(analysed), **vars(result)}
    # What has to be decided in the targets is told by the analysis, with its options.
    known = {one.key for one in analysed.conflicts}
    further = tuple(
        told
        for one, told in zip(proposal.impasses, result.conflicts, strict=True)
        if not (one.shut and one.members[0].key in known)
    )
    return CaseFormulation(**{**told, "conflicts": (*analysed.conflicts, *further)})
