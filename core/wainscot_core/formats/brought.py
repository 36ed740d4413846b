"""Whatever a client's recipe comes in, read: text, a saved page, a table, or a case file of our own."""

from collections.abc import Mapping
from typing import Any

from ..dossier.reference import Reference
from ..errors import InputError
from ..recipe.line import Line
from ..transcribe.ingredients import LineKind
from ..transcribe.pages import parsed
from ..transcribe.sources import decoded, recipe_in
from ..transcribe.transcript import CandidateOut, Transcript, TranscriptLine, transcribe
from ..units import Measures
from .casefile import FORMAT, open_case


def bring(reference: Reference, content: bytes, measures: Measures = Measures.US) -> Transcript:
    """Read a file. measures: whose cups and spoons a text means. Raises InputError (field text, or of the case
    file)."""
    text = decoded(content)
    data = parsed(text) if text.lstrip().startswith("{") else None
    if isinstance(data, Mapping) and data.get("format") == FORMAT:
        return _of_case(reference, dict(data))
    return transcribe(reference.matcher, recipe_in(text), measures, reference.methods)


def _of_case(reference: Reference, data: dict[str, Any]) -> Transcript:
    """The lines of a case file: nothing in them is guessed."""
    opened = open_case(reference, data)
    if not opened.dossier.lines:
        raise InputError("recipe.lines", "are missing: this case file holds no recipe")
    lines = tuple(_line(line) for line in opened.dossier.lines)
    return Transcript(lines=lines, makes=None, feeding_rule=None, warnings=opened.warnings)


def _line(line: Line) -> TranscriptLine:
    quantity = line.text.quantity if line.text else f"{line.amount.grams:g} g"
    text = f"{quantity} {line.food.name}"
    grams = line.amount.grams
    return TranscriptLine(
        source=text, text=text, kind=LineKind.INGREDIENT, amount=line.amount.count,
        unit=line.amount.unit, food=line.food.id,
        candidates=(CandidateOut(line.food.id, line.food.name, 1.0),),
        grams=grams, grams_low=grams, grams_high=grams, state=line.food.attributes.state,
    )  # fmt: skip
