from pathlib import Path

import pytest
from wainscot_core import reference
from wainscot_core.reference import Reference

ROOT = Path(__file__).resolve().parents[2]


@pytest.fixture(scope="session")
def facts() -> Reference:
    return reference.load(ROOT / "reference")
