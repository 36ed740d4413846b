"""What the commands print of a case file, as plain data."""

from typing import Any

from wainscot_core.boundary import dump
from wainscot_core.casefile import open_case
from wainscot_core.formulation.cases import formulate_case
from wainscot_core.reference import Reference
from wainscot_core.report import analyse_case


def analysed(facts: Reference, data: dict[str, Any]) -> dict[str, Any]:
    """What `./wainscot analyse` prints."""
    opened = open_case(facts, data)
    printed: dict[str, Any] = dump(analyse_case(opened.dossier, opened.warnings))
    return printed


def formulated(facts: Reference, data: dict[str, Any]) -> dict[str, Any]:
    """What `./wainscot formulate` prints."""
    printed: dict[str, Any] = dump(formulate_case(open_case(facts, data)))
    return printed
