"""Labels on paper: typeset, with a code on each that leads to its batch."""

import io
import json
from pathlib import Path

import segno
import typst
from records.printing import fonts
from wainscot_core.boundary import dump
from wainscot_core.documents.labels import LabelPages

HERE = Path(__file__).resolve().parent
# White beside the code, in its own modules; paper has more around it.
QUIET = 2


def qr_svg(address: str) -> str:
    """An address as a QR code; a scratch on the label leaves it readable."""
    out = io.BytesIO()
    segno.make(address, error="m", micro=False).save(out, kind="svg", xmldecl=False, border=QUIET)
    return out.getvalue().decode()


def labels_pdf(pages: LabelPages) -> bytes:
    """Labels as a PDF: the same bytes for the same labels."""
    data = {**dump(pages), "qr": qr_svg(pages.address)}
    made: bytes = typst.compile(
        str(HERE / "typeset" / "labels.typ"), font_paths=fonts(), format="pdf",
        sys_inputs={"labels": json.dumps(data)},
    )  # fmt: skip
    return made
