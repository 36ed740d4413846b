"""Hold the built food table to every check and print what came out."""

from pathlib import Path

from wainscot_core.dossier.reference import load, load_catalogue, load_library, load_soundness
from wainscot_core.dossier.seal import broken_seal
from wainscot_core.facts.soundness import Soundness, soundness


def unreadable(folder: Path) -> tuple[str, ...]:
    """Why a reference folder cannot be relied on: what is not as it was sealed, then what cannot be read at all."""
    broken = list(broken_seal(folder))
    try:
        load(folder)
    except Exception as error:  # Whatever a broken file raises: it is said, not thrown.
        broken.append(f"it cannot be read: {type(error).__name__}: {error}")
    return tuple(broken)


def check_data(folder: Path) -> Soundness:
    """Every check over the food table of a reference folder."""
    return soundness(load_library(folder, load_catalogue(folder)), load_soundness(folder))


def report(found: Soundness) -> dict[str, object]:
    """What `check-data` prints: counts, each check with its own, and every failure."""
    return {
        "foods": found.foods,
        "plain_foods": found.plain_foods,
        "derived_foods": found.derived_foods,
        "nutrients": found.nutrients,
        "values_by_grade": dict(found.values_by_grade),
        "checks": {
            c.id: {
                "what": c.name, "looked_at": c.looked_at, "explained": c.explained,
                "violations": len(c.failures),
            }
            for c in found.checks
        },
        "failures": list(found.failures),
    }  # fmt: skip
