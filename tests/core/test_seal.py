"""The seal of the reference data."""

import shutil
import subprocess
from pathlib import Path

import pytest
from wainscot_core.dossier.seal import SEAL, broken_seal

REFERENCE = Path(__file__).resolve().parents[2] / "reference"


def test_the_data_that_ship_are_as_they_were_sealed() -> None:
    assert broken_seal(REFERENCE) == ()
    # The system's own tool reads the seal, and agrees.
    subprocess.run(["sha256sum", "--check", "--quiet", SEAL], cwd=REFERENCE, check=True)


@pytest.fixture
def copy(tmp_path: Path) -> Path:
    made = tmp_path / "reference"
    shutil.copytree(REFERENCE, made)
    return made


def test_a_figure_that_was_changed_is_found(copy: Path) -> None:
    path = copy / "safe_limits.csv"
    path.write_text(path.read_text().replace("1", "2", 1))
    assert broken_seal(copy) == ("safe_limits.csv was changed",)


def test_a_file_that_is_gone_cut_short_or_too_many_is_found(copy: Path) -> None:
    (copy / "plan.yaml").unlink()
    (copy / "intake.yaml").write_text("")
    (copy / "extra.yaml").write_text("x: 1")
    assert broken_seal(copy) == (
        "plan.yaml is missing",
        "extra.yaml is not part of the sealed data",
        "intake.yaml was changed",
    )


def test_without_a_seal_nothing_is_taken_for_whole(copy: Path) -> None:
    (copy / SEAL).unlink()
    assert "missing" in broken_seal(copy)[0]
