"""What is dangerous, to decide or to watch of a recipe, as paper says it."""

from collections.abc import Sequence

from ..conventions import Conventions, told
from ..findings import GRAVEST_FIRST, Finding, Level, gathered
from .paper import Words, sentence


def cautions_of(c: Conventions, flags: Sequence[Finding]) -> tuple[Words, ...]:
    """Every finding that is more than a note, one a matter, the gravest first."""
    said = [f for f in gathered(flags) if f.level is not Level.NOTE]
    said.sort(key=lambda f: GRAVEST_FIRST.index(f.level))
    return tuple(
        Words(
            lead=told(c, sentence(f.what)),
            text=told(c, " ".join(sentence(w) for w in (f.why, f.do) if w)),
        )
        for f in said
    )
