"""Analyse and formulate a case file: what the commands print."""

from typing import Any

from ..casefile import dossier_of, read_case_file, warnings_of
from ..dossier import Dossier
from ..errors import InputError
from ..reference import Reference
from ..report import case_report
from .helpful import would_help
from .proposal import Proposal, formulate
from .request import read_settings
from .words import help_report, proposal_report


def goal_names(reference: Reference) -> dict[str, str]:
    """Names of the goals by id."""
    return {key: name for key, (name, _) in reference.formulation.goals.items()}


def helps_of(dossier: Dossier, proposal: Proposal) -> list[dict[str, Any]]:
    """What would help, when the limits cannot all be held."""
    if proposal.state not in {"short", "impossible"}:
        return []
    present = [c.food.id for c in proposal.model.problem.candidates]
    return [help_report(x) for x in would_help(dossier, proposal.model, present)]


def analyse_case(reference: Reference, data: dict[str, Any]) -> dict[str, Any]:
    """Read a case file and analyse its recipe. Raises InputError naming the field."""
    file = read_case_file(data)
    return {**case_report(dossier_of(reference, file)), "warnings": warnings_of(data)}


def formulate_case(reference: Reference, data: dict[str, Any]) -> dict[str, Any]:
    """Read a case file, adjust its recipe, report. Raises InputError naming the field."""
    file = read_case_file(data)
    dossier = dossier_of(reference, file)
    try:
        proposal = formulate(dossier, read_settings(file.formulate))
    except InputError as error:
        raise InputError(
            error.field if error.field.startswith("recipe") else f"formulate.{error.field}",
            error.message,
        ) from None
    adjusted = dossier if not proposal.lines else dossier.with_lines(proposal.lines)
    report = case_report(adjusted)
    found = proposal_report(proposal, goal_names(reference))
    report["conflicts"] = [*report["conflicts"], *found.pop("conflicts")]
    report.update(found, help=helps_of(dossier, proposal), warnings=warnings_of(data))
    return report
