"""The seal of the reference data: the SHA-256 of every file, in the form that `sha256sum -c` reads.

A figure that was changed by accident, cut short or mixed up with another version is found before a dog is fed by it.
It guards against accidents and half-copied folders; who can change the files can seal them anew.
"""

import hashlib
from collections.abc import Mapping
from pathlib import Path

SEAL = "SHA256SUMS"


def sums(folder: Path) -> dict[str, str]:
    """SHA-256 of every file of a reference folder, by its path within it, in order."""
    files = sorted(p for p in folder.rglob("*") if p.is_file() and p.name != SEAL)
    return {
        p.relative_to(folder).as_posix(): hashlib.sha256(p.read_bytes()).hexdigest() for p in files
    }


def sealed(found: Mapping[str, str]) -> str:
    """The seal's text."""
    return "".join(f"{digest}  {name}\n" for name, digest in found.items())


def broken_seal(folder: Path) -> tuple[str, ...]:
    """What of a reference folder is not as it was sealed, in words; () when all is."""
    path = folder / SEAL
    if not path.is_file():
        return (f"{SEAL} is missing: whether the reference data are whole cannot be told",)
    lines = (line.split("  ", 1) for line in path.read_text(encoding="utf-8").splitlines())
    said = {name: digest for digest, *rest in lines for name in rest}
    found = sums(folder)
    return (
        *(f"{name} is missing" for name in said if name not in found),
        *(f"{name} is not part of the sealed data" for name in found if name not in said),
        *(
            f"{name} was changed"
            for name, digest in found.items()
            if said.get(name, digest) != digest
        ),
    )
