"""Exports that no spreadsheet runs."""

import csv
import io

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.cells import cell_back, csv_text

FORMULAS = ["=cmd|'/C calc'!A0", "+1+1", "-2+3", "@SUM(A1)", "\t=1", "\n=1", '=HYPERLINK("x")']


def cells_of(text: str) -> list[str]:
    return next(csv.reader(io.StringIO(text, newline="")))


def test_a_carriage_return_ends_no_row() -> None:
    rows = list(csv.reader(io.StringIO(csv_text([["a\rb\r\nc", "d"]]))))
    assert rows == [["a\nb\nc", "d"]]


@pytest.mark.parametrize("formula", FORMULAS)
def test_a_text_that_would_run_does_not(formula: str) -> None:
    (cell,) = cells_of(csv_text([[formula]]))
    assert cell == f"'{formula}" and cell_back(cell) == formula


@pytest.mark.parametrize("cell", [-1.5, 2, "-1.5", "+3", "1e-5", "rice", "2 = 2", "", None])
def test_numbers_and_plain_texts_stay(cell: object) -> None:
    (written,) = cells_of(csv_text([[cell]]) or "\n") or [""]
    assert written == ("" if cell is None else str(cell))


@given(st.text(alphabet=st.characters(exclude_categories=["Cs"], exclude_characters="\r\n\0")))
def test_what_goes_out_comes_back(text: str) -> None:
    (cell, _) = cells_of(csv_text([[text, "x"]]))
    assert not cell.startswith(("=", "@", "\t"))
    if not text.startswith("'"):
        assert cell_back(cell) == text
