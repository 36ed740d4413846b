"""What documents are made of: sections of words, lists and tables. How they look is not said here;
the web page and the PDF are printed from the same pieces."""

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Literal

from ..conventions import day
from ..snapshot.snapshot import Snapshot


class DocumentKind(StrEnum):
    """The documents there are."""

    SHEET = "sheet"
    INTAKE = "intake"
    VERDICT = "verdict"
    SHOPPING = "shopping"
    LETTER = "letter"
    OWNER = "owner"
    REPORT = "report"
    CHANGE = "change"
    BATCH = "batch"
    INVOICE = "invoice"


class Tone(StrEnum):
    """How loudly a section is said."""

    PLAIN = "plain"
    DECIDE = "decide"
    BOX = "box"


@dataclass(frozen=True, kw_only=True)
class Words:
    """A paragraph; `lead` is what it is about, before it."""

    text: str
    lead: str = ""
    form: Literal["words"] = "words"


@dataclass(frozen=True, kw_only=True)
class Points:
    """A list of paragraphs; numbered: in the order they are done."""

    items: tuple[Words, ...]
    numbered: bool = False
    form: Literal["points"] = "points"


@dataclass(frozen=True, kw_only=True)
class Column:
    """A column of a table; figures stand at the right."""

    title: str
    figures: bool = False


@dataclass(frozen=True, kw_only=True)
class Table:
    """Rows of cells under columns, and a last row that sums them up, () for none. ticks: each row has a box to tick."""

    columns: tuple[Column, ...]
    rows: tuple[tuple[str, ...], ...]
    total: tuple[str, ...] = ()
    ticks: bool = False
    form: Literal["table"] = "table"

    @property
    def titled(self) -> bool:
        """Whether any column has a title."""
        return any(column.title for column in self.columns)

    @property
    def cells(self) -> tuple[tuple[tuple[Column, str], ...], ...]:
        """Each row's cells with the columns they stand in."""
        return tuple(tuple(zip(self.columns, row, strict=True)) for row in self.rows)

    @property
    def total_cells(self) -> tuple[tuple[Column, str], ...]:
        """The last row's cells with their columns."""
        return tuple(zip(self.columns, self.total, strict=True)) if self.total else ()


@dataclass(frozen=True, kw_only=True)
class PaperBoard:
    """A board of the wall at x, its fill's height from 0 to 1. rail, cornice: it has a least, a most; unproven: drawn
    open; breaks: it passes a bound."""

    label: str
    x: float
    height: float
    rail: bool
    cornice: bool
    unproven: bool
    breaks: bool

    @property
    def top(self) -> float:
        """Where the fill ends from above, in hundredths."""
        return round(100 * (1 - self.height), 2)

    @property
    def filled(self) -> float:
        """The fill's height in hundredths."""
        return round(100 * self.height, 2)

    @property
    def middle(self) -> float:
        """Where its label begins."""
        return self.x + 2.6


@dataclass(frozen=True, kw_only=True)
class Boards:
    """The wall; width in the unit of x. What it shows is told in a table beside it."""

    boards: tuple[PaperBoard, ...]
    width: float
    form: Literal["boards"] = "boards"


Block = Words | Points | Table | Boards


@dataclass(frozen=True, kw_only=True)
class Section:
    """Blocks under a title, "" for none."""

    title: str
    blocks: tuple[Block, ...]
    tone: Tone = Tone.PLAIN


@dataclass(frozen=True, kw_only=True)
class Document:
    """A document. aside: practice and edition; foot: what must be read in any case; fine: where the
    figures come from."""

    kind: DocumentKind
    title: str
    aside: tuple[str, ...]
    sections: tuple[Section, ...]
    foot: tuple[Words, ...]
    fine: tuple[str, ...]


def sentence(text: str) -> str:
    """The same words with a capital and a full stop."""
    words = text.strip()
    if not words:
        return ""
    return words[0].upper() + words[1:] + ("" if words.endswith((".", "!", "?")) else ".")


def listed(names: Iterable[str]) -> str:
    """Names in one sentence."""
    return ", ".join(names) + "."


def table(
    columns: Sequence[str], rows: Iterable[Sequence[str]], figures: Collection[int] = ()
) -> Table:
    """A table; `figures`: the positions of columns that hold numbers."""
    return Table(
        columns=tuple(Column(title=t, figures=i in figures) for i, t in enumerate(columns)),
        rows=tuple(tuple(row) for row in rows),
    )


def origin_of(snapshot: Snapshot) -> str:
    """What computed a document, in a few words."""
    return (
        f"Computed on {day(snapshot.parties.conventions, snapshot.taken, long=True)} with Wainscot {snapshot.program}, "
        f"facts {snapshot.reference[:12]}."
    )


CAUTION = (
    "Wainscot computes; it does not diagnose or prescribe. Weigh with a gram scale. Do not leave out "
    "or swap an ingredient, least of all a supplement: ask first. Not eating for 24 hours, repeated "
    "vomiting, laboured breathing or collapse: call the veterinarian at once."
)
