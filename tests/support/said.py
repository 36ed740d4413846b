"""What a page or a PDF says, word by word."""

import io
from html.parser import HTMLParser
from typing import Any

import pypdf


class Said(HTMLParser):
    """The words of a page, without its tools."""

    def __init__(self) -> None:
        super().__init__()
        self.words: list[str] = []
        self.skip = 0

    def handle_starttag(self, tag: str, attrs: Any) -> None:
        self.skip += tag in ("nav", "title")

    def handle_endtag(self, tag: str) -> None:
        self.skip -= tag in ("nav", "title")

    def handle_data(self, data: str) -> None:
        if not self.skip:
            self.words += data.split()


def words_of_page(html: str) -> list[str]:
    """The words of a page."""
    said = Said()
    said.feed(html)
    return said.words


def words_of_pdf(content: bytes) -> list[str]:
    """The words of a PDF, its foot lines too."""
    text = ""
    for page in pypdf.PdfReader(io.BytesIO(content)).pages:
        # The last line of a page is its foot: title, edition and number.
        text += page.extract_text() + "\n"
    return text.split()
