"""Days as people write them."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.conventions import Conventions, Dates, day
from wainscot_core.days import day_or_words, read_day
from wainscot_core.errors import InputError


@pytest.mark.parametrize(
    "text",
    ["2026-12-03", "3 Dec 2026", "3 December 2026", "Dec 3, 2026", "December 3rd, 2026", "3. Dec. 2026",
     "3rd of December 2026", "2026/12/3", "2026.12.03", " 3-dec-2026 "],
)  # fmt: skip
def test_reads(text: str) -> None:
    assert read_day(text) == date(2026, 12, 3)


@pytest.mark.parametrize("text", ["26/11/2026", "11/26/2026", "26.11.2026", "26-11-2026"])
def test_figures_that_can_be_one_day_only_are_read(text: str) -> None:
    assert read_day(text) == date(2026, 11, 26)


def test_figures_that_can_be_two_days_are_asked() -> None:
    with pytest.raises(InputError, match="4 March 2026 or 3 April 2026"):
        read_day("04/03/2026")
    with pytest.raises(InputError, match="write the month as a word"):
        day_or_words("04/03/2026")
    assert read_day("04/04/2026") == date(2026, 4, 4)


@pytest.mark.parametrize(
    "text", ["31 Feb 2026", "32/01/2026", "soon", "", "13/13/2026", "3 Foo 2026"]
)
def test_refuses(text: str) -> None:
    with pytest.raises(InputError):
        read_day(text)


def test_words_that_tell_of_no_day_stay() -> None:
    assert day_or_words("last spring") == "last spring"
    assert day_or_words("3 Dec 2026") == "2026-12-03"
    with pytest.raises(InputError):
        day_or_words("2026-02-31")


@given(st.dates(date(1990, 1, 1), date(2099, 12, 31)), st.sampled_from(Dates))
def test_what_is_written_is_read_back(on: date, dates: Dates) -> None:
    assert read_day(day(Conventions(dates=dates), on)) == on
    assert read_day(day(Conventions(dates=dates), on, long=True)) == on
