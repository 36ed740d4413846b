"""Invoices: given out with the next number, paid, or declared void. None is changed or taken away."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

from accounts.conventions import conventions_of, invoicing_of, letterhead_of
from accounts.models import Practice
from accounts.scoping import Actor, find_own, looked_at
from cases.models import Client
from cases.queries import conventions_for
from django.db import transaction
from django.utils import timezone
from events.log import log
from events.models import EventKind
from wainscot_core.boundary import Day, Text300, Whole, dump, read
from wainscot_core.conventions import Currency, day, money
from wainscot_core.documents.invoice import invoice_paper
from wainscot_core.documents.paper import Document
from wainscot_core.errors import InputError
from wainscot_core.office.invoice import (
    InvoiceAsk,
    InvoiceLine,
    InvoiceRecord,
    InvoiceSum,
    sum_of,
    written,
)
from wainscot_core.snapshot.snapshot import Parties

from .models import Invoice

MOST_SHOWN = 500
# So many of the last invoices tell what is usually charged.
LOOKED_BACK = 200
MOST_KNOWN = 40


@dataclass(frozen=True, kw_only=True)
class PaidIn:
    """On which day it was paid, null for not; version: as it was looked at."""

    on: Day | None
    version: Whole


@dataclass(frozen=True, kw_only=True)
class VoidIn:
    """Why it does not hold; version: as it was looked at."""

    reason: Text300
    version: Whole


@dataclass(frozen=True, kw_only=True)
class InvoiceView:
    """An invoice. total: in words, in the money it is in; late: past its day and not paid."""

    id: int
    version: int
    number: str
    on: date
    due: date
    client: int | None
    to: str
    total: str
    paid: date | None
    void: str
    late: bool


@dataclass(frozen=True, kw_only=True)
class InvoicesOfClient:
    """A client's invoices, the newest first, and what the next one begins with. known: what was charged before, each with its
    last price; tax_name: "" where none is charged."""

    invoices: tuple[InvoiceView, ...]
    to: str
    known: tuple[InvoiceLine, ...]
    tax_name: str
    tax_percent: str
    currency: str


@dataclass(frozen=True, kw_only=True)
class InvoiceList:
    """Invoices of all clients, the newest first. open: what is not paid yet, in words, by the money it is in; more: there are
    older ones."""

    invoices: tuple[InvoiceView, ...]
    open: tuple[str, ...]
    more: bool


def preview(asked: InvoiceAsk) -> InvoiceSum:
    """What an invoice would come to; nothing is given out."""
    return sum_of(asked.lines)


@transaction.atomic
def give_out(who: Actor, client_pk: int, asked: InvoiceAsk) -> Invoice:
    """Give an invoice out: it has the next number, and stays as it is. Raises InputError naming the field."""
    client = find_own(Client, who.practice, pk=client_pk)
    # The practice is held, so that no two take the same number.
    practice = Practice.objects.select_for_update().get(pk=who.practice.pk)
    terms = invoicing_of(practice)
    rows = Invoice.objects.for_practice(practice)
    last = rows.order_by("-number").first()
    number = terms.first if last is None else last.number + 1
    on = timezone.localdate()
    record = written(asked, terms, number, on)
    parties = Parties(
        practice=practice.name, client=client.name, conventions=conventions_for(client),
        letterhead=letterhead_of(practice),
    )  # fmt: skip
    row = Invoice.objects.create(
        practice=practice, client=client, number=number, on=on, record=dump(record),
        parties=dump(parties), by=who.name,
    )  # fmt: skip
    log(
        who,
        EventKind.INVOICE_GIVEN,
        None,
        row.pk,
        number=record.number,
        total=_total(parties, record),
    )
    return row


@transaction.atomic
def set_paid(who: Actor, pk: int, asked: PaidIn) -> Invoice:
    """It was paid, or it was not. Raises InputError for a day to come and for an invoice that does not hold."""
    row = _locked(who, pk, asked.version)
    if row.void:
        raise InputError("", "this invoice was declared void")
    if asked.on is not None and not row.on <= asked.on <= timezone.localdate():
        raise InputError("on", "must be between the day of the invoice and today")
    row.paid = asked.on
    row.version += 1
    row.save()
    kind = EventKind.INVOICE_PAID if asked.on else EventKind.INVOICE_UNPAID
    log(who, kind, None, row.pk, number=_record(row).number)
    return row


@transaction.atomic
def declare_void(who: Actor, pk: int, asked: VoidIn) -> Invoice:
    """It does not hold any more; its number stays taken. Raises InputError without a reason, and for one that is paid."""
    row = _locked(who, pk, asked.version)
    if not asked.reason:
        raise InputError("reason", "say why: it stands on the invoice from now on")
    if row.void:
        raise InputError("", "this invoice was declared void before")
    if row.paid:
        raise InputError("", "this invoice is paid: say first that it was not")
    row.void = asked.reason
    row.version += 1
    row.save()
    log(who, EventKind.INVOICE_VOID, None, row.pk, number=_record(row).number, reason=row.void)
    return row


def _locked(who: Actor, pk: int, version: int) -> Invoice:
    row = find_own(Invoice, who.practice, lock=True, pk=pk)
    looked_at(row, version, lambda: view(row))
    return row


def _record(row: Invoice) -> InvoiceRecord:
    return read(InvoiceRecord, row.record)


def _total(parties: Parties, record: InvoiceRecord) -> str:
    return money(parties.conventions, float(record.sum.total))


def view(row: Invoice) -> InvoiceView:
    """An invoice as it is listed."""
    record, parties = _record(row), read(Parties, row.parties)
    return InvoiceView(
        id=row.pk, version=row.version, number=record.number, on=record.on, due=record.due,
        client=row.client_id, to=parties.client, total=_total(parties, record), paid=row.paid,
        void=row.void,
        late=row.paid is None and not row.void and record.due < timezone.localdate(),
    )  # fmt: skip


def paper_of(row: Invoice) -> Document:
    """An invoice on paper, with what became of it."""
    parties = read(Parties, row.parties)
    standing = ""
    if row.void:
        standing = f"Void: {row.void}"
    elif row.paid:
        standing = f"Paid on {day(parties.conventions, row.paid, long=True)}"
    return invoice_paper(parties, _record(row), standing)


def of_client(client: Client) -> InvoicesOfClient:
    """A client's invoices, and what the next one begins with."""
    practice = client.practice
    terms = invoicing_of(practice)
    mine = list(Invoice.objects.for_practice(practice).filter(client=client)[:MOST_SHOWN])
    every = Invoice.objects.for_practice(practice)[:LOOKED_BACK]
    return InvoicesOfClient(
        invoices=tuple(map(view, mine)),
        to=_record(mine[0]).ask.to if mine else client.name,
        known=_known(map(_record, every)),
        tax_name=terms.tax_name,
        tax_percent=str(terms.tax_percent) if terms.tax_name else "0",
        currency=conventions_for(client).currency.value,
    )


def _known(records: Iterable[InvoiceRecord]) -> tuple[InvoiceLine, ...]:
    """What was charged, each once, with what it cost last."""
    found: dict[str, InvoiceLine] = {}
    for record in records:
        for line in record.ask.lines:
            found.setdefault(line.what.casefold(), line)
    return tuple(found.values())[:MOST_KNOWN]


def rows_of(practice: Practice) -> Iterator[tuple[object, ...]]:
    """The invoices of a practice as a table, the oldest first, a row for each rate of tax."""
    yield (
        "number", "date", "due", "to", "currency", "net", "tax_percent", "tax", "paid_on", "void",
    )  # fmt: skip
    for row in Invoice.objects.for_practice(practice).order_by("number").iterator():
        record, parties = _record(row), read(Parties, row.parties)
        for share in record.sum.taxes:
            yield (
                record.number, record.on, record.due, parties.client, parties.conventions.currency.value,
                share.net, share.percent, share.tax, row.paid, row.void,
            )  # fmt: skip


def every_invoice(practice: Practice) -> InvoiceList:
    """The invoices of a practice."""
    rows = list(Invoice.objects.for_practice(practice)[: MOST_SHOWN + 1])
    waiting: dict[Currency, Decimal] = {}
    for row in Invoice.objects.for_practice(practice).filter(paid=None, void=""):
        record, parties = _record(row), read(Parties, row.parties)
        key = parties.conventions.currency
        waiting[key] = waiting.get(key, Decimal(0)) + record.sum.total
    ours = conventions_of(practice)
    return InvoiceList(
        invoices=tuple(map(view, rows[:MOST_SHOWN])),
        open=tuple(
            money(replace(ours, currency=key), float(total))
            for key, total in sorted(waiting.items())
        ),
        more=len(rows) > MOST_SHOWN,
    )
