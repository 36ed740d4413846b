"""A ZIP that was put away or sent, read so that whatever is wrong with it is one error.

The library names damage in many ways: by its own error, by that of whichever packing a flipped bit
pretends, by a negative place, by a password nobody set.
"""

import struct
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO

# What Wainscot packs with. Anything else in a file of its own is damage.
_PACKED = (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED)
# Encrypted, patched, strongly encrypted.
_UNWRITTEN_FLAGS = 0x61


class DamagedArchiveError(Exception):
    """A file that is no ZIP, was cut short, or no longer holds what was put into it."""


@contextmanager
def archive(source: Path | IO[bytes]) -> Iterator[zipfile.ZipFile]:
    """The entries of a ZIP. Raises DamagedArchiveError, on opening as on reading; OSError where the file itself cannot be
    reached. An entry that is not there stays a KeyError."""
    try:
        pack = zipfile.ZipFile(source)
    except (zipfile.BadZipFile, NotImplementedError, ValueError, struct.error) as error:
        raise DamagedArchiveError(str(error)) from error
    with pack:
        for entry in pack.infolist():
            if (
                entry.compress_type not in _PACKED
                or entry.flag_bits & _UNWRITTEN_FLAGS
                or entry.header_offset < 0
            ):
                raise DamagedArchiveError(f"{entry.filename} is not packed as it was")
        try:
            yield pack
        except (zipfile.BadZipFile, zlib.error, EOFError, UnicodeDecodeError) as error:
            raise DamagedArchiveError(str(error)) from error
