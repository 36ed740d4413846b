"""Whatever is wrong with a ZIP is one error, whichever way it is wrong."""

import io
import zipfile
from pathlib import Path

import pytest
from keeping.archives import DamagedArchiveError, archive
from release.bundle import case_files_of
from wainscot_core.errors import InputError

ENTRIES = {"main.json": b'{"a": "%s"}' % (b"0af3" * 40), "table": bytes(range(256)) * 4}


@pytest.fixture(scope="module")
def whole() -> bytes:
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as pack:
        for name, content in ENTRIES.items():
            pack.writestr(name, content)
    return packed.getvalue()


def read(source: Path | io.BytesIO) -> str:
    """ "Whole, damaged or missing; any other error comes through."""
    try:
        with archive(source) as pack:
            found = {name: pack.read(name) for name in ENTRIES}
    except DamagedArchiveError:
        return "damaged"
    except KeyError:
        return "missing"
    assert found == ENTRIES
    return "whole"


def test_every_single_flipped_bit_is_damage_or_does_no_harm(whole: bytes, tmp_path: Path) -> None:
    path = tmp_path / "a.zip"
    seen = set()
    for at in range(len(whole)):
        for bit in range(8):
            broken = whole[:at] + bytes([whole[at] ^ 1 << bit]) + whole[at + 1 :]
            seen.add(read(io.BytesIO(broken)))
            if bit % 4 == 3:
                # A file says of a place before its beginning what memory says otherwise.
                path.write_bytes(broken)
                seen.add(read(path))
    assert seen == {"damaged", "missing", "whole"}


def test_every_cut_is_damage(whole: bytes) -> None:
    assert {read(io.BytesIO(whole[:n])) for n in range(len(whole))} == {"damaged"}
    assert read(io.BytesIO(whole)) == "whole"


def test_a_file_that_is_not_there_is_no_damage(tmp_path: Path) -> None:
    with pytest.raises(FileNotFoundError), archive(tmp_path / "none.zip"):
        pass


def test_the_files_of_a_damaged_case_are_refused_in_words() -> None:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as pack:
        pack.writestr("case.json", b'{"dog": "%s"}' % (bytes(range(65, 91)) * 9))
    whole = out.getvalue()
    refused = 0
    for at in range(len(whole)):
        try:
            case_files_of(whole[:at] + bytes([whole[at] ^ 0x80]) + whole[at + 1 :])
        except InputError as error:
            assert error.field == "file"
            refused += 1
    assert refused > len(whole) // 2
