"""How things are written for a reader: one table of what must come out, which the browser is held to too."""

import csv
from collections.abc import Callable
from datetime import date
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core import conventions as written
from wainscot_core.boundary import read
from wainscot_core.conventions import (
    DEFAULT,
    REGIONS,
    BodyUnit,
    Conventions,
    FoodUnit,
    OwnConventions,
    Spelling,
    Temperature,
)

ROWS = list(
    csv.DictReader(
        (Path(__file__).parents[1] / "fixtures" / "conventions.csv").open(encoding="utf-8")
    )
)


def _float(text: str) -> float | None:
    return float(text) if text else None


def _weight(text: str) -> float:
    return float(text)


WRITE: dict[str, Callable[[Conventions, str], str]] = {
    "share": lambda c, v: written.share(c, _float(v)),
    "body": lambda c, v: written.body_weight(c, _float(v)),
    "food": lambda c, v: written.food_weight(c, _weight(v)),
    "both": lambda c, v: written.both_weights(c, _weight(v)),
    "temperature": lambda c, v: written.temperature(c, float(v)),
    "day": lambda c, v: written.day(c, date.fromisoformat(v)),
    "longday": lambda c, v: written.day(c, date.fromisoformat(v), long=True),
    "when": written.when,
    "money": lambda c, v: written.money(c, _float(v)),
    "told": written.told,
    "spelled": written.spelled,
}


def _conventions(text: str) -> Conventions:
    return read(Conventions, dict(pair.split("=") for pair in text.split(";") if pair))


@pytest.mark.parametrize("row", ROWS, ids=lambda r: f"{r['what']} {r['value']} {r['conventions']}")
def test_is_written_as_the_table_says(row: dict[str, str]) -> None:
    c = _conventions(row["conventions"])
    kind, _, decimals = row["what"].partition(":")
    if kind == "number":
        found = written.number(c, _float(row["value"]), int(decimals or 0))
    else:
        found = WRITE[kind](c, row["value"])
    assert found.replace("\u202f", " ") == row["expected"].replace("\u202f", " ")


def test_spaces_in_figures_do_not_break() -> None:
    assert written.number(DEFAULT, 12500) == "12\u202f500"
    assert written.share(DEFAULT, 0.5) == "50\u202f%"


@given(st.floats(10, 90_000))
def test_ounces_on_paper_tell_the_same_weight_within_a_hundredth(grams: float) -> None:
    told = written.food_weight(Conventions(food=FoodUnit.OZ), grams)
    pounds, _, ounces = told.rpartition(" lb")[0], "", told.rpartition("lb")[2]
    back = float(pounds.replace("\u202f", "") or 0) * 453.59237
    back += float(ounces.replace(" oz", "").strip() or 0) * 28.349523125
    assert back == pytest.approx(grams, rel=0.0145)


def test_a_client_has_what_she_wants_and_the_rest_from_the_practice() -> None:
    practice = Conventions(body=BodyUnit.LB, temperature=Temperature.FAHRENHEIT)
    hers = written.for_client(practice, OwnConventions(body=BodyUnit.KG))
    assert hers == Conventions(body=BodyUnit.KG, temperature=Temperature.FAHRENHEIT)
    assert written.for_client(practice, OwnConventions()) == practice


def test_every_region_says_what_is_usual_there() -> None:
    american = REGIONS[written.Region.UNITED_STATES]
    assert (american.body, american.temperature) == (BodyUnit.LB, Temperature.FAHRENHEIT)
    assert american.spelling is Spelling.AMERICAN and american.currency == "USD"
    assert REGIONS[written.Region.AUSTRALIA].measures == "australian"
    assert set(REGIONS) == set(written.Region)
