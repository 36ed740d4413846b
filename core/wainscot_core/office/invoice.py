"""An invoice: what was done, what it comes to, and the tax on it.

Each line is rounded to hundredths; tax is taken of the sum of the lines of one rate and rounded once, so that a reader
who adds the column comes to the same sum. Which rules of an invoice hold where a practice works is not known here.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from typing import Annotated

from pydantic import Field

from ..boundary import Count, Day, Name160, Text40, Text80, Text400, Text1000
from ..errors import InputError
from .amounts import Money, Percent, Times, cents

MOST_LINES = 60
NONE = Decimal(0)


@dataclass(frozen=True, kw_only=True)
class Invoicing:
    """What stands on every invoice of a practice. tax_name: "" where none is charged, such as "VAT"; tax_percent: what a new
    line begins with; tax_number: of the practice; days_to_pay: 0 for at once; pay_to: where to; first: the number of the
    first invoice, for a practice that wrote others before."""

    tax_name: Text40 = ""
    tax_percent: Percent = NONE
    tax_number: Text80 = ""
    days_to_pay: Annotated[Count, Field(le=365)] = 14
    pay_to: Text400 = ""
    note: Text1000 = ""
    first: Annotated[Count, Field(ge=1, le=10_000_000)] = 1


NO_INVOICING = Invoicing()


@dataclass(frozen=True, kw_only=True)
class InvoiceLine:
    """Something that is charged: so many times at a price without tax; a price below 0 takes off."""

    what: Name160
    count: Times = Decimal(1)
    price: Money
    tax_percent: Percent = NONE

    @property
    def net(self) -> Decimal:
        """What it comes to without tax."""
        return cents(self.count * self.price)


@dataclass(frozen=True, kw_only=True)
class InvoiceAsk:
    """An invoice as it is written. to: name and address, with its line breaks; done: when what is charged was done."""

    to: Text400
    done: Text80 = ""
    note: Text1000 = ""
    lines: Annotated[tuple[InvoiceLine, ...], Field(max_length=MOST_LINES)]


@dataclass(frozen=True, kw_only=True)
class TaxShare:
    """What lines of one rate come to, and the tax on that."""

    percent: Percent
    net: Money
    tax: Money


@dataclass(frozen=True, kw_only=True)
class InvoiceSum:
    """What an invoice comes to: each line, each rate, and all."""

    lines: tuple[Money, ...]
    taxes: tuple[TaxShare, ...]
    net: Money
    total: Money


@dataclass(frozen=True, kw_only=True)
class InvoiceRecord:
    """An invoice as it was given out; nothing of it changes any more."""

    number: str
    on: Day
    due: Day
    ask: InvoiceAsk
    terms: Invoicing
    sum: InvoiceSum


def sum_of(lines: Sequence[InvoiceLine]) -> InvoiceSum:
    """What lines come to. Rates in the order of their height."""
    nets = tuple(line.net for line in lines)
    taxes = []
    for percent in sorted({line.tax_percent for line in lines}):
        net = sum(
            (n for n, line in zip(nets, lines, strict=True) if line.tax_percent == percent), NONE
        )
        taxes.append(TaxShare(percent=percent, net=net, tax=cents(net * percent / 100)))
    net = sum(nets, NONE)
    return InvoiceSum(
        lines=nets, taxes=tuple(taxes), net=net, total=net + sum((t.tax for t in taxes), NONE)
    )


def written(ask: InvoiceAsk, terms: Invoicing, number: int, on: date) -> InvoiceRecord:
    """An invoice to be given out on a day. Raises InputError naming the field for one that cannot be: to nobody, of nothing,
    with tax where none is charged, or of less than nothing."""
    if not ask.to:
        raise InputError("to", "say whom it is to")
    if not ask.lines:
        raise InputError("lines", "say what is charged")
    for i, line in enumerate(ask.lines):
        if line.tax_percent and not terms.tax_name:
            raise InputError(
                f"lines[{i}].tax_percent",
                "the practice charges no tax: name the tax in its settings, or take the rate out",
            )
    found = sum_of(ask.lines)
    if found.total <= 0:
        raise InputError("lines", "come to nothing: an invoice is for more than 0")
    return InvoiceRecord(
        number=number_words(on, number), on=on, due=on + timedelta(days=terms.days_to_pay), ask=ask,
        terms=terms, sum=found,
    )  # fmt: skip


def number_words(on: date, number: int) -> str:
    """What an invoice is called: "2026-0042". The figure behind the year goes on through the years, without a gap."""
    return f"{on.year}-{number:04d}"
