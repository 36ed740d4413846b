from pathlib import Path

import pytest
from wainscot_core.dossier import reference
from wainscot_core.dossier.reference import Reference

ROOT = Path(__file__).resolve().parents[2]


@pytest.fixture(scope="session")
def facts() -> Reference:
    return reference.load(ROOT / "reference")
