"""Tables that go out as CSV, and the cells of one that comes back.

A spreadsheet takes a text that begins with = + - @ or a tab for a formula and runs it (OWASP, CSV Injection). Such a text
goes out behind an apostrophe, which the same cell loses when it is read back; numbers stay numbers.
"""

import csv
import io
from collections.abc import Iterable, Sequence

_RUNS = ("=", "+", "-", "@", "\t", "\n")


def csv_text(rows: Iterable[Sequence[object]]) -> str:
    """Rows as CSV; None is an empty cell. The one writer of every export."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerows([_plain(cell) for cell in row] for row in rows)
    return out.getvalue()


def _plain(cell: object) -> object:
    if not isinstance(cell, str):
        return cell
    # A bare carriage return within a cell would end its row for many readers.
    text = cell.replace("\r\n", "\n").replace("\r", "\n")
    return f"'{text}" if text.startswith(_RUNS) and not _is_number(text) else text


def _is_number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True


def cell_back(text: str) -> str:
    """A cell as it was before csv_text wrote it."""
    return text[1:] if text.startswith("'") and text[1:].startswith(_RUNS) else text
