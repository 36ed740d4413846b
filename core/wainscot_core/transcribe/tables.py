"""Lines pasted from a table: the cells of a line are read as its words."""

from collections.abc import Sequence

# A line of a heading names at least two of these.
_HEADS = frozenset(
    {"ingredient", "ingredients", "food", "item", "amount", "quantity", "qty", "unit", "units", "weight", "grams",
     "note", "notes", "measure", "name", "g", "gram"}
)  # fmt: skip
_DELIMITERS = "\t;|,"
# A table has this share of lines with as many cells as its first.
ALIKE = 0.8


def as_words(lines: Sequence[str]) -> list[str]:
    """The lines with the marks between cells as blanks, each as long as it was; the lines themselves where they are
    no table."""
    delimiter = _delimiter(lines)
    if not delimiter:
        return list(lines)
    return [_blanked(line, delimiter) for line in lines]


def in_grams(lines: Sequence[str]) -> bool:
    """Whether the heading of a table says that its figures are grams: "Food | g", "Weight (g)"."""
    delimiter = _delimiter(lines)
    if not delimiter:
        return False
    heads = _cells(next(line for line in lines if line.strip()).lower(), delimiter)
    words = [cell.replace("(", " ").replace(")", " ").split() for cell in heads]
    return any({"g", "gram", "grams"} & set(w) for w in words)


def _delimiter(lines: Sequence[str]) -> str:
    filled = [line for line in lines if line.strip()]
    if len(filled) < 2:
        return ""
    for delimiter in _DELIMITERS:
        counts = [len(_cells(line, delimiter)) for line in filled]
        head = is_head(filled[0], delimiter)
        # Under a heading a row may lack its last cells.
        alike = [c == counts[0] or (head and 2 <= c < counts[0]) for c in counts]
        if counts[0] < 2 or sum(alike) < ALIKE * len(counts):
            continue
        # Commas stand in sentences too: only a heading makes them a table.
        if delimiter == "\t" or head:
            return delimiter
    return ""


def is_head(line: str, delimiter: str) -> bool:
    """Whether a line names the columns of a table."""
    cells = [cell.strip(" \"'").lower() for cell in _cells(line, delimiter)]
    named = sum(cell.split(" ")[0].rstrip("():") in _HEADS for cell in cells if cell)
    return named >= 2


def _cells(line: str, delimiter: str) -> list[str]:
    """The cells between the marks that do not stand in quotation marks."""
    cells, quoted = [""], False
    for character in line:
        if character == delimiter and not quoted:
            cells.append("")
        else:
            quoted ^= character == '"'
            cells[-1] += character
    return cells


def _blanked(line: str, delimiter: str) -> str:
    if is_head(line, delimiter):
        # A heading: nothing in it is an ingredient.
        return "#" + line[1:]
    return delimiter_free(line, delimiter)


def delimiter_free(line: str, delimiter: str) -> str:
    """A line without the marks between its cells and without quotation marks, as long as it was."""
    cells = _cells(line, delimiter)
    return " ".join(cell.replace('"', " ") for cell in cells)
