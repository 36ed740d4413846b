"""Everything of others that ships is listed with its terms, and its terms let it be shipped."""

import json
import re
from pathlib import Path

import pytest
from wainscot_cli import licences
from wainscot_cli.licences import SHIPPED, Part, parts

ROOT = Path(__file__).resolve().parents[2]
# Read one by one: each may be used and passed on by a program of other terms that names it and keeps its text. The one of
# lesser copyleft is used as it comes, as a package of its own.
MAY_SHIP = {
    "MIT", "BSD-2-Clause", "BSD-3-Clause", "ISC", "0BSD", "Apache-2.0", "PSF-2.0", "ZPL-2.1", "Unlicense", "Zlib",
    "CC0-1.0", "OFL-1.1", "LGPL-3.0-or-later",
}  # fmt: skip
# Whose package came without the text that its licence names.
TEXTLESS = {"react-remove-scroll-bar"}


@pytest.fixture(scope="module")
def found() -> tuple[Part, ...]:
    return parts()


def test_every_term_is_one_that_was_read(found: tuple[Part, ...]) -> None:
    for part in found:
        assert set(re.split(r" AND | OR ", part.licence)) <= MAY_SHIP, part


def test_every_part_has_its_text(found: tuple[Part, ...]) -> None:
    assert {part.name for part in found if not part.texts} == TEXTLESS


def test_nothing_that_is_installed_to_run_is_left_out(found: tuple[Part, ...]) -> None:
    listed = SHIPPED.read_text()
    pinned = re.findall(r"^([\w.\-]+).*==", (ROOT / "requirements/runtime.txt").read_text(), re.M)
    asked = json.loads((ROOT / "web/package.json").read_text())["dependencies"]
    assert len(pinned) > 30 and len(asked) > 10
    for name in [*pinned, *asked]:
        assert re.search(rf"^(Python|Browser)\s+{re.escape(name)} ", listed, re.M), name
    fonts = [part.name for part in found if part.kind == "Font"]
    assert fonts == ["literata", "source-sans-3"]
    assert "SIL OPEN FONT LICENSE" in listed.upper()


def test_a_package_that_says_nothing_known_is_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    """Nobody ships it before somebody has read its terms."""
    monkeypatch.setattr(licences, "_CLASSIFIED", {})
    with pytest.raises(ValueError, match="in no way that is known"):
        parts()
