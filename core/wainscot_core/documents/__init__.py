"""Documents: what is said on paper, made from a snapshot alone."""

from collections.abc import Callable, Mapping

from ..errors import InputError
from ..snapshot.snapshot import Snapshot
from .intake import intake_sheet
from .letter import vet_letter
from .owner import owner_sheet
from .paper import Document, DocumentKind
from .report import nutrient_report
from .sheet import kitchen_sheet

# Each takes a snapshot, the words that say which edition it is of, and who approved it ("" for nobody).
DOCUMENTS: Mapping[DocumentKind, Callable[[Snapshot, str, str], Document]] = {
    DocumentKind.SHEET: kitchen_sheet,
    DocumentKind.INTAKE: intake_sheet,
    DocumentKind.LETTER: vet_letter,
    DocumentKind.OWNER: owner_sheet,
    DocumentKind.REPORT: nutrient_report,
}


def document(kind: DocumentKind, snapshot: Snapshot, edition: str, approved: str = "") -> Document:
    """A document of this kind. Raises InputError where the snapshot does not hold what it tells."""
    if kind not in DOCUMENTS:
        raise InputError(
            "document", f"the {kind} is made of a recipe as it stands, not of what was kept"
        )
    return DOCUMENTS[kind](snapshot, edition, approved)
