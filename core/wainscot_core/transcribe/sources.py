"""What a recipe comes in, as text."""

import re

from ..errors import InputError
from .pages import parsed, text_of_json, text_of_page

_PAGE = re.compile(
    r"<(?:!doctype|html|head|body|div|article|section|table|ul|ol|li|p|br|script|span)\b"
)
MOST_BYTES = 2_000_000


def text_of(content: bytes) -> str:
    """The recipe of a file as text. Raises InputError (field text) for what holds none."""
    return recipe_in(decoded(content))


def decoded(content: bytes) -> str:
    """The text of a file. Raises InputError (field text) for what holds none."""
    if content.startswith(b"%PDF"):
        raise InputError("text", "is a PDF; open it, copy the recipe's text and paste that")
    if len(content) > MOST_BYTES:
        raise InputError(
            "text", f"holds {len(content) / 1e6:.1f} MB; at most 2: paste the recipe alone"
        )
    for encoding in ("utf-8-sig", "utf-16") if content[:2] in (b"\xff\xfe", b"\xfe\xff") else (
        "utf-8-sig", "cp1252",
    ):  # fmt: skip
        try:
            return content.decode(encoding)
        except UnicodeDecodeError:
            continue
    raise InputError("text", "is no text; copy the recipe's words and paste those")


def recipe_in(text: str) -> str:
    """The recipe of a text that may be a page or schema.org data; any other text itself."""
    begins = text[:5000].lstrip().lower()
    if _PAGE.search(begins):
        return text_of_page(text)
    if begins.startswith(("{", "[")):
        data = parsed(text)
        if data is not None and not text_of_json(data):
            raise InputError("text", "is data without a recipe in it; paste the recipe's words")
        return text_of_json(data) or text
    return text
