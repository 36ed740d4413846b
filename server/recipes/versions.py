"""What a kept version holds."""

from wainscot_core.recipe.line import LineText

from .lines import text_from
from .models import RecipeVersion


def texts(version: RecipeVersion) -> list[LineText]:
    """A version's lines."""
    return [text_from(line) for line in version.lines]
