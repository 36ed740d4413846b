"""How a practice writes things, as it is stored and as the browser is told."""

from collections.abc import Mapping
from dataclasses import dataclass

from wainscot_core.boundary import dump, read
from wainscot_core.conventions import DEFAULT, Conventions, words_of
from wainscot_core.office.invoice import Invoicing
from wainscot_core.snapshot.snapshot import Letterhead

from .models import Practice


@dataclass(frozen=True, kw_only=True)
class ConventionsView(Conventions):
    """How things are written; words: what is spelled otherwise, by how the program has it."""

    words: Mapping[str, str]


def conventions_of(practice: Practice | None) -> Conventions:
    """How a practice writes things."""
    return read(Conventions, practice.conventions) if practice else DEFAULT


def letterhead_of(practice: Practice) -> Letterhead:
    """What stands under a practice's name on what it prints."""
    return read(Letterhead, practice.letterhead)


def invoicing_of(practice: Practice) -> Invoicing:
    """What stands on a practice's invoices."""
    return read(Invoicing, practice.invoicing)


def conventions_view(found: Conventions) -> ConventionsView:
    """Conventions as the browser is told."""
    return read(ConventionsView, {**dump(found), "words": words_of(found.spelling)})
