"""An invoice on paper."""

from collections.abc import Iterator
from decimal import Decimal

from ..conventions import Conventions, day, money, number, share
from ..office.amounts import plain
from ..office.invoice import InvoiceRecord
from ..snapshot.snapshot import Parties
from .paper import Column, Document, DocumentKind, Section, Table, Words


def invoice_paper(parties: Parties, record: InvoiceRecord, standing: str) -> Document:
    """An invoice as it was given out. parties: as they were then; standing: what became of it, "" while it is open."""
    c = parties.conventions
    head = [Words(text=" · ".join(record.ask.to.splitlines()), lead="To")]
    head.append(Words(text=day(c, record.on, long=True), lead="Date"))
    if record.ask.done:
        head.append(Words(text=record.ask.done, lead="For"))
    sections = [
        Section(title="", blocks=tuple(head)),
        Section(title="", blocks=(_lines(c, record),)),
        Section(title="To pay", blocks=tuple(_paying(c, record))),
    ]
    if record.ask.note:
        sections.append(
            Section(
                title="", blocks=tuple(Words(text=x) for x in record.ask.note.splitlines() if x)
            )
        )
    return Document(
        kind=DocumentKind.INVOICE,
        title=f"Invoice {record.number}",
        aside=parties.aside(standing or f"Invoice {record.number}"),
        sections=tuple(sections),
        foot=(Words(text=record.terms.note),) if record.terms.note else (),
        fine=(f"{record.terms.tax_name} number {record.terms.tax_number}",)
        if record.terms.tax_number
        else (),
    )


def _sum(c: Conventions, value: Decimal) -> str:
    return money(c, float(value))


def _lines(c: Conventions, record: InvoiceRecord) -> Table:
    taxed = bool(record.terms.tax_name)
    columns = ["What", "How many", "Each", *([record.terms.tax_name] if taxed else []), "Sum"]
    rows = [
        (
            line.what, _count(c, line.count), _sum(c, line.price),
            *([_rate(c, line.tax_percent)] if taxed else []), _sum(c, net),
        )
        for line, net in zip(record.ask.lines, record.sum.lines, strict=True)
    ]  # fmt: skip
    blank = ("",) * (len(columns) - 2)
    if taxed:
        rows.append(("Without tax", *blank, _sum(c, record.sum.net)))
        rows += [
            (f"{record.terms.tax_name} {_rate(c, t.percent)} of {_sum(c, t.net)}", *blank, _sum(c, t.tax))
            for t in record.sum.taxes
        ]  # fmt: skip
    return Table(
        columns=tuple(Column(title=t, figures=i > 0) for i, t in enumerate(columns)),
        rows=tuple(rows),
        total=("To pay", *blank, _sum(c, record.sum.total)),
    )


def _count(c: Conventions, value: Decimal) -> str:
    text = plain(value)
    return number(c, float(value), len(text.partition(".")[2]))


def _rate(c: Conventions, percent: Decimal) -> str:
    whole = percent == percent.to_integral_value()
    return share(c, float(percent) / 100) if whole else f"{_count(c, percent)} %"


def _paying(c: Conventions, record: InvoiceRecord) -> Iterator[Words]:
    when = "at once" if record.due == record.on else f"by {day(c, record.due, long=True)}"
    yield Words(
        text=f"Please pay {_sum(c, record.sum.total)} {when}, and name invoice {record.number}."
    )
    for line in record.terms.pay_to.splitlines():
        if line.strip():
            yield Words(text=line.strip())
