"""Sums of money, invoices, texts with places, times of a day: figures worked out by hand."""

from datetime import UTC, date, datetime, time, timedelta
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.boundary import dump, read
from wainscot_core.conventions import Conventions, Currency, Dates, Numbers, clock
from wainscot_core.documents.invoice import invoice_paper
from wainscot_core.documents.paper import Table
from wainscot_core.errors import InputError
from wainscot_core.office.amounts import cents, plain, read_amount
from wainscot_core.office.appointment import Slot, check_meeting, overlapping, read_clock
from wainscot_core.office.invoice import InvoiceAsk, InvoiceRecord, Invoicing, sum_of, written
from wainscot_core.office.texts import Mark, check_text, filled
from wainscot_core.snapshot.snapshot import Letterhead, Parties

VAT = Invoicing(tax_name="VAT", tax_percent=Decimal(19), days_to_pay=14, pay_to="A bank\nNo 7")
ON = date(2026, 12, 20)


def ask(*lines: dict[str, object], to: str = "Nora Birch\n4 Hazel Yard") -> InvoiceAsk:
    return read(InvoiceAsk, {"to": to, "lines": list(lines)})


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("85", "85"),
        ("85,50", "85.50"),
        ("85.5", "85.5"),
        ("$1,250.00", "1250.00"),
        ("1.250,00 EUR", "1250.00"),
        ("1 250", "1250"),
        ("1'250.00", "1250.00"),
        ("1,250,000", "1250000"),
        (".5", "0.5"),
        ("-20", "-20"),
        ("−20,00", "-20.00"),
    ],
)
def test_sums_are_read_as_they_are_written(text: str, value: str) -> None:
    assert read_amount(text) == Decimal(value)


@pytest.mark.parametrize(
    "text",
    ["1,250", "1.250", "abc", "", "12,34,567", "1.250.00", "85.5.5", "99999999", "1e3", "85.505"],
)
def test_what_can_be_two_sums_or_none_is_refused(text: str) -> None:
    with pytest.raises(InputError):
        read_amount(text)


def test_what_can_be_two_sums_is_told_with_both() -> None:
    with pytest.raises(InputError, match=r"can be 1250 or 1\.250"):
        read_amount("1,250")


def test_a_rate_has_no_thousands() -> None:
    line = read(
        InvoiceAsk, {"to": "x", "lines": [{"what": "x", "price": "1", "tax_percent": "8.875"}]}
    )
    assert line.lines[0].tax_percent == Decimal("8.875")


@given(st.decimals(min_value=-10_000_000, max_value=10_000_000, places=2))
def test_what_is_kept_reads_as_the_same(value: Decimal) -> None:
    assert read_amount(str(value)) == value
    assert Decimal(plain(value)) == value


def test_halves_go_away_from_zero() -> None:
    assert [cents(Decimal(x)) for x in ("0.125", "-0.125", "2.675", "1.004")] == [
        Decimal("0.13"), Decimal("-0.13"), Decimal("2.68"), Decimal("1.00"),
    ]  # fmt: skip


def test_an_invoice_adds_up_by_rate() -> None:
    # 3 x 33.335 is refused (places); 2.5 x 33.33 = 83.325 -> 83.33; 7 % of it 5.8331 -> 5.83.
    # 120 + 95 - 15 = 200 at 19 % -> 38. All: 83.33 + 200 + 5.83 + 38 = 327.16.
    found = sum_of(
        ask(
            {"what": "First consultation", "price": "120", "tax_percent": "19"},
            {"what": "Cookery book", "count": "2.5", "price": "33.33", "tax_percent": "7"},
            {"what": "Recipe", "price": "95", "tax_percent": "19"},
            {"what": "Second dog", "price": "-15", "tax_percent": "19"},
        ).lines
    )
    assert found.lines == (Decimal(120), Decimal("83.33"), Decimal(95), Decimal(-15))
    assert [(t.percent, t.net, t.tax) for t in found.taxes] == [
        (Decimal(7), Decimal("83.33"), Decimal("5.83")),
        (Decimal(19), Decimal(200), Decimal(38)),
    ]
    assert (found.net, found.total) == (Decimal("283.33"), Decimal("327.16"))


prices = st.decimals(min_value=0, max_value=5000, places=2)


@given(st.lists(st.tuples(prices, st.sampled_from(["0", "7", "19"])), min_size=1, max_size=12))
def test_whoever_adds_the_columns_comes_to_the_same(rows: list[tuple[Decimal, str]]) -> None:
    found = sum_of(ask(*({"what": "x", "price": str(p), "tax_percent": r} for p, r in rows)).lines)
    assert found.net == sum(found.lines) == sum(p for p, _ in rows)
    assert found.total == found.net + sum(t.tax for t in found.taxes)
    assert sum(t.net for t in found.taxes) == found.net
    for tax in found.taxes:
        assert abs(tax.tax - tax.net * tax.percent / 100) <= Decimal("0.005")


def test_an_invoice_has_its_number_its_day_and_when_it_is_due() -> None:
    found = written(ask({"what": "x", "price": "10", "tax_percent": "19"}), VAT, 42, ON)
    assert (found.number, found.due) == ("2026-0042", date(2027, 1, 3))
    assert found.sum.total == Decimal("11.90")
    assert read(InvoiceRecord, dump(found)) == found


@pytest.mark.parametrize(
    ("asked", "terms", "field"),
    [
        (ask({"what": "x", "price": "10"}, to=" "), VAT, "to"),
        (ask(), VAT, "lines"),
        (ask({"what": "x", "price": "10"}, {"what": "x", "price": "-10"}), VAT, "lines"),
        (
            ask({"what": "x", "price": "10"}, {"what": "x", "price": "1", "tax_percent": "19"}),
            Invoicing(),
            "lines[1].tax_percent",
        ),
    ],
)
def test_what_is_no_invoice_is_refused_at_its_field(
    asked: InvoiceAsk, terms: Invoicing, field: str
) -> None:
    with pytest.raises(InputError) as refused:
        written(asked, terms, 1, ON)
    assert refused.value.field == field


def parties(**more: object) -> Parties:
    return Parties(
        practice="Birch", client="Nora", letterhead=Letterhead(phone="1"),
        conventions=Conventions(currency=Currency.EUR, numbers=Numbers.POINT_COMMA, **more),  # type: ignore[arg-type]
    )  # fmt: skip


def test_the_paper_says_what_the_record_says() -> None:
    record = written(
        ask({"what": "Recipe", "count": "1.5", "price": "1000", "tax_percent": "19"}), VAT, 7, ON
    )
    paper = invoice_paper(parties(), record, "")
    assert paper.title == "Invoice 2026-0007"
    assert paper.aside == ("Birch", "1", "Invoice 2026-0007")
    (table,) = [b for s in paper.sections for b in s.blocks if isinstance(b, Table)]
    assert table.rows[0] == ("Recipe", "1,5", "€1000,00", "19\u202f%", "€1500,00")
    assert table.rows[-1][-1] == "€285,00"
    assert table.total[-1] == "€1785,00"
    words = str(paper)
    assert "4 Hazel Yard" in words and "by 3 January 2027" in words and "No 7" in words
    assert invoice_paper(parties(), record, "Void: a slip").aside[-1] == "Void: a slip"


def test_without_tax_nothing_is_said_of_it() -> None:
    record = written(ask({"what": "Recipe", "price": "95"}), Invoicing(days_to_pay=0), 1, ON)
    paper = invoice_paper(parties(), record, "")
    (table,) = [b for s in paper.sections for b in s.blocks if isinstance(b, Table)]
    assert [c.title for c in table.columns] == ["What", "How many", "Each", "Sum"]
    assert len(table.rows) == 1 and paper.fine == ()
    assert "at once" in str(paper)


def test_texts_are_filled_and_what_is_not_known_stays_to_be_seen() -> None:
    text = "Dear {owner}, {dog} and {dog}: {practice}. {"
    assert check_text(text) == text
    assert filled(text, {Mark.OWNER: "Nora", Mark.DOG: "Pip", Mark.PRACTICE: ""}) == (
        "Dear Nora, Pip and Pip: {practice}. {"
    )
    # What is filled in is not filled again.
    assert filled("{owner}", {Mark.OWNER: "{dog}", Mark.DOG: "Pip"}) == "{dog}"
    with pytest.raises(InputError, match="dgo"):
        check_text("Dear {dgo}")


@pytest.mark.parametrize(
    ("words", "at"),
    [
        ("14:30", time(14, 30)),
        ("2:30 pm", time(14, 30)),
        ("2.30pm", time(14, 30)),
        ("12 am", time(0, 0)),
        ("12:15 p.m.", time(12, 15)),
        ("9", time(9, 0)),
        ("0915", time(9, 15)),
        ("9h05", time(9, 5)),
    ],
)
def test_a_time_is_read_as_it_is_written(words: str, at: time) -> None:
    assert read_clock(words) == at


@pytest.mark.parametrize(
    "words", ["", "25:00", "14:75", "13 pm", "0 am", "noon", "9:5", "14:30 tomorrow"]
)
def test_what_is_no_time_is_refused(words: str) -> None:
    with pytest.raises(InputError):
        read_clock(words)


@given(st.times().map(lambda t: t.replace(second=0, microsecond=0)), st.sampled_from(Dates))
def test_a_time_that_is_written_is_read_back(at: time, dates: Dates) -> None:
    assert read_clock(clock(Conventions(dates=dates), at)) == at


NOW = datetime(2026, 12, 1, 9, tzinfo=UTC)


def test_one_that_begins_when_another_ends_is_not_at_the_same_time() -> None:
    mine = Slot("mine", NOW, 45)
    others = [
        Slot("before", NOW - timedelta(minutes=30), 30),
        Slot("into", NOW - timedelta(minutes=30), 31),
        Slot("within", NOW + timedelta(minutes=10), 5),
        Slot("around", NOW - timedelta(hours=1), 180),
        Slot("after", NOW + timedelta(minutes=45), 30),
    ]
    assert overlapping(mine, others) == ("into", "within", "around")
    for other in others:
        # Whoever is in the way of one has the other in the way.
        assert bool(overlapping(mine, [other])) == bool(overlapping(other, [mine]))


@pytest.mark.parametrize(
    ("begins", "minutes", "field"),
    [
        (NOW, 4, "minutes"),
        (NOW, 1441, "minutes"),
        (NOW + timedelta(days=1200), 30, "on"),
        (NOW - timedelta(days=1200), 30, "on"),
    ],
)
def test_what_no_appointment_is(begins: datetime, minutes: int, field: str) -> None:
    with pytest.raises(InputError) as refused:
        check_meeting(begins, minutes, NOW)
    assert refused.value.field == field


def test_an_appointment_that_can_be() -> None:
    check_meeting(NOW, 5, NOW)
    check_meeting(NOW - timedelta(days=30), 1440, NOW)
