"""Documents as a web page and as a PDF, from the same pieces."""

import json
from collections.abc import Sequence
from functools import lru_cache
from pathlib import Path

import typst
from django.template.loader import render_to_string
from wainscot_core.boundary import dump
from wainscot_core.documents.paper import Document

HERE = Path(__file__).resolve().parent


@lru_cache(maxsize=1)
def fonts() -> typst.Fonts:
    """The fonts that ship with the program and those built into the typesetter; never the
    machine's own, so that a document looks the same everywhere."""
    return typst.Fonts(
        font_paths=[HERE / "fonts"], include_system_fonts=False, include_embedded_fonts=True
    )


def as_pdf(document: Document) -> bytes:
    """The document as a PDF: the same bytes for the same document."""
    made: bytes = typst.compile(
        str(HERE / "typeset" / "document.typ"),
        font_paths=fonts(),
        format="pdf",
        sys_inputs={"document": json.dumps(dump(document))},
    )
    return made


def as_html(
    document: Document, pdf: str, back: str = "", also: Sequence[tuple[str, str]] = ()
) -> str:
    """The document as a page. pdf, back: addresses of the same as a PDF, and of where it is made; also: what else there
    is, each with its address."""
    return render_to_string(
        "records/document.html", {"document": document, "pdf": pdf, "back": back, "also": also}
    )


def problem_page(title: str, message: str) -> str:
    """A page that says why there is no document."""
    return render_to_string("records/problem.html", {"title": title, "message": message})
