"""What a recipe comes in, as text."""

from ..errors import InputError

MOST_BYTES = 2_000_000


def text_of(content: bytes) -> str:
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
