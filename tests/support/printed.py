"""What the commands print of a case file, as plain data."""

from typing import Any

from wainscot_core.analysis.analyse import analyse_case
from wainscot_core.boundary import dump
from wainscot_core.dossier.reference import Reference
from wainscot_core.formats.casefile import open_case
from wainscot_core.formulation.case_file import formulate_case


def analysed(facts: Reference, data: dict[str, Any]) -> dict[str, Any]:
    """What `./wainscot analyse` prints."""
    opened = open_case(facts, data)
    printed: dict[str, Any] = dump(analyse_case(opened.dossier, opened.warnings))
    return printed


def formulated(facts: Reference, data: dict[str, Any]) -> dict[str, Any]:
    """What `./wainscot formulate` prints."""
    printed: dict[str, Any] = dump(formulate_case(open_case(facts, data)))
    return printed
