"""Whatever a client's recipe comes in, read: text, a saved page, a table, or a case file of our own."""

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from ..checks.told import hazards_of_text
from ..dossier.reference import Reference
from ..errors import InputError
from ..findings import Level
from ..recipe.line import Line
from ..transcribe.matching import Matcher
from ..transcribe.pages import parsed
from ..transcribe.reading import ReadLine, RecipeRead, transcribe
from ..transcribe.review import Batch, Review, review, review_of_lines
from ..transcribe.sources import decoded, recipe_in
from ..units import Measures
from .casefile import FORMAT, open_case
from .recipe_text import is_table, lines_of_table, sure_line

# What a text tells of these is said before anything of it is taken.
_GRAVE = frozenset({Level.BLOCK, Level.DECIDE})


def bring(reference: Reference, content: bytes, measures: Measures = Measures.US) -> RecipeRead:
    """Read a file. measures: whose cups and spoons a text means. Raises InputError (field text, or of the case
    file)."""
    text = decoded(content)
    whole = _whole(reference, reference.matcher, text)
    if whole is not None:
        return whole
    return transcribe(reference.matcher, recipe_in(text), measures, reference.methods)


def bring_to_review(
    reference: Reference,
    matcher: Matcher,
    content: bytes,
    batch: Batch,
    measures: Measures = Measures.US,
) -> Review:
    """Read the same for a person to look at, with the foods of a matcher's library. Raises InputError (field text, or
    of the case file)."""
    text = decoded(content)
    whole = _whole(reference, matcher, text)
    if whole is not None:
        return review_of_lines(matcher, whole, batch, reference.methods)
    read = review(matcher, recipe_in(text), batch, measures, reference.methods)
    grave = (f for f in hazards_of_text(reference, read.text) if f.level in _GRAVE)
    told = tuple(f"“{f.named}”: {f.matter}. {f.why[0].upper()}{f.why[1:]}. {f.do}" for f in grave)
    return replace(read, warnings=(*read.warnings, *told))


def _whole(reference: Reference, matcher: Matcher, text: str) -> RecipeRead | None:
    """What the product wrote itself: there is nothing to guess in it. None for anything else."""
    data = parsed(text) if text.lstrip().startswith("{") else None
    if isinstance(data, Mapping) and data.get("format") == FORMAT:
        return _of_case(reference, dict(data))
    return _of_table(matcher, text) if is_table(text) else None


def _of_table(matcher: Matcher, text: str) -> RecipeRead:
    """The lines of a table that the product wrote; a food that is not known here is asked for."""
    try:
        lines = lines_of_table(text)
    except ValueError:
        raise InputError(
            "text", "holds a weight that is no number above zero; mend the column grams"
        ) from None
    known = tuple(
        line
        if line.food and line.food in matcher.library
        else replace(line, food=None, candidates=(), ask=(f"What is “{line.text}”?",))
        for line in lines
    )
    return RecipeRead(lines=known, makes=None, feeding_rule=None)


def _of_case(reference: Reference, data: dict[str, Any]) -> RecipeRead:
    """The lines of a case file: nothing in them is guessed."""
    opened = open_case(reference, data)
    if not opened.dossier.lines:
        raise InputError("recipe.lines", "are missing: this case file holds no recipe")
    lines = tuple(_line(line) for line in opened.dossier.lines)
    return RecipeRead(lines=lines, makes=None, feeding_rule=None, warnings=opened.warnings)


def _line(line: Line) -> ReadLine:
    quantity = line.text.quantity if line.text else f"{line.amount.grams:g} g"
    how = line.text.preparation if line.text else ""
    text, food = f"{quantity} {line.food.name}", line.food
    found = sure_line(text, food.id, food.name, line.amount.grams, how)
    return replace(
        found, amount=line.amount.count, unit=line.amount.unit, state=food.attributes.state
    )
