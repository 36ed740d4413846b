"""What a kept version holds."""

from records.models import Snapshot
from wainscot_core.errors import InputError
from wainscot_core.recipe.line import LineText

from .lines import text_from
from .models import RecipeVersion


def texts(version: RecipeVersion) -> list[LineText]:
    """A version's lines."""
    return [text_from(line) for line in version.lines]


def edition_of(version: RecipeVersion) -> str:
    """The words on a document that say which version it is of."""
    closed = f". {version.closed}" if version.closed else ""
    return f"Version {version.number}, {version.name}{closed}"


def snapshot_of(version: RecipeVersion) -> Snapshot:
    """What was computed of a version when it was kept. Raises InputError where nothing was."""
    if version.snapshot is None:
        raise InputError(
            "snapshot",
            "this version was kept without its figures: restore it, see what is wrong, and keep it "
            "again",
        )
    return version.snapshot
