"""An invoice as a page and a PDF, an appointment for a calendar, the list of invoices as a table."""

from accounts.scoping import own, practice_of
from django.http import HttpResponse
from records.pages import Paper, calendar, paper
from rest_framework.request import Request
from wainscot_core.cells import csv_text
from wire.shapes import download

from .appointments import calendar_hours
from .invoices import paper_of, rows_of
from .models import Appointment, Invoice


class InvoicePage(Paper):
    """An invoice as it was given out."""

    def get(self, request: Request, pk: int, form: str = "") -> HttpResponse:
        row = own(Invoice, request, pk)
        return paper(paper_of(row), form, f"/papers/invoices/{pk}")


class InvoicesTable(Paper):
    """All invoices as a table (CSV), for whoever keeps the books."""

    def get(self, request: Request) -> HttpResponse:
        text = csv_text(rows_of(practice_of(request)))
        return download(text, "invoices.csv", "text/csv; charset=utf-8")


class AppointmentCalendar(Paper):
    """One appointment to take along."""

    def get(self, request: Request, pk: int) -> HttpResponse:
        row = own(Appointment, request, pk, "case__dog__client")
        return calendar(f"{row.case.dog.name} {row.kind}", row.updated, (), calendar_hours([row]))
