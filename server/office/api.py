"""Appointments, invoices and texts."""

from dataclasses import dataclass
from typing import Any

from accounts.permissions import Work
from accounts.scoping import actor_of, own, practice_of
from cases.models import Client
from cases.queries import case_of
from django.http import HttpResponse
from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.errors import InputError
from wainscot_core.office.invoice import InvoiceAsk, InvoiceSum
from wire.shapes import Many, answer, answer_many, endpoint, read_body

from . import appointments, invoices, texts
from .appointments import AppointmentIn, AppointmentView, OffIn
from .invoices import InvoiceList, InvoicesOfClient, InvoiceView, PaidIn, VoidIn
from .models import Appointment
from .texts import TextIn, TextView


@dataclass(frozen=True, kw_only=True)
class Appointments:
    """Appointments, in their order."""

    appointments: tuple[AppointmentView, ...]


class AppointmentListView(APIView):
    """What is today and in the two weeks after."""

    @endpoint(Appointments, errors=())
    def get(self, request: Request) -> HttpResponse:
        practice = practice_of(request)
        rows = appointments.around(practice, timezone.now())
        return answer(Appointments(appointments=appointments.views(practice, rows)))


class ClientAppointmentsView(APIView):
    """All appointments of a client, the latest first."""

    @endpoint(Appointments, errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        client = own(Client, request, pk)
        rows = appointments.of_client(client.practice, client.pk)
        return answer(Appointments(appointments=appointments.views(client.practice, rows)))


class CaseAppointmentsView(APIView):
    """Appointments of a dog."""

    work = Work.LOG

    @endpoint(AppointmentView, AppointmentIn, 201)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Make one."""
        asked = read_body(AppointmentIn, request)
        made = appointments.keep_appointment(actor_of(request), case_of(request, pk), None, asked)
        return _appointment(request, made.pk, 201)


class AppointmentDetailView(APIView):
    """An appointment."""

    work = Work.LOG

    @endpoint(AppointmentView, AppointmentIn, errors=(400, 404, 409))
    def put(self, request: Request, pk: int) -> HttpResponse:
        """Move it, or say otherwise what it is; one that was called off holds again."""
        asked = read_body(AppointmentIn, request)
        case = own(Appointment, request, pk, "case").case
        appointments.keep_appointment(actor_of(request), case, pk, asked)
        return _appointment(request, pk)


class AppointmentOffView(APIView):
    """Whether an appointment is called off."""

    work = Work.LOG

    @endpoint(AppointmentView, OffIn, errors=(400, 404, 409))
    def post(self, request: Request, pk: int) -> HttpResponse:
        appointments.call_off(actor_of(request), pk, read_body(OffIn, request))
        return _appointment(request, pk)


def _appointment(request: Request, pk: int, status: int = 200) -> HttpResponse:
    row = own(Appointment, request, pk, "case__dog__client")
    return answer(appointments.views(row.practice, [row])[0], status=status)


class ClientInvoicesView(APIView):
    """Invoices of a client."""

    @endpoint(InvoicesOfClient, errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        return answer(invoices.of_client(own(Client, request, pk)))

    @endpoint(InvoiceView, InvoiceAsk, 201)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Give one out, with the next number."""
        made = invoices.give_out(actor_of(request), pk, read_body(InvoiceAsk, request))
        return answer(invoices.view(made), status=201)


class InvoiceSumView(APIView):
    """What an invoice would come to."""

    work = Work.READ

    @endpoint(InvoiceSum, InvoiceAsk, errors=(400,))
    def post(self, request: Request) -> HttpResponse:
        return answer(invoices.preview(read_body(InvoiceAsk, request)))


class InvoiceListView(APIView):
    """Invoices of all clients, the newest first."""

    @endpoint(InvoiceList, errors=())
    def get(self, request: Request) -> HttpResponse:
        return answer(invoices.every_invoice(practice_of(request)))


class InvoicePaidView(APIView):
    """Whether an invoice is paid."""

    @endpoint(InvoiceView, PaidIn, errors=(400, 404, 409))
    def post(self, request: Request, pk: int) -> HttpResponse:
        asked = read_body(PaidIn, request)
        return answer(invoices.view(invoices.set_paid(actor_of(request), pk, asked)))


class InvoiceVoidView(APIView):
    """An invoice that does not hold."""

    @endpoint(InvoiceView, VoidIn, errors=(400, 404, 409))
    def post(self, request: Request, pk: int) -> HttpResponse:
        asked = read_body(VoidIn, request)
        return answer(invoices.view(invoices.declare_void(actor_of(request), pk, asked)))


class TextListView(APIView):
    """The texts of the practice."""

    @endpoint(
        Many(TextView),
        operation_id="texts_list",
        parameters=[
            OpenApiParameter("case", int, description="fill them for this case"),
            OpenApiParameter("client", int, description="fill them for this client"),
        ],
    )
    def get(self, request: Request) -> HttpResponse:
        case, client = _number(request, "case"), _number(request, "client")
        found = texts.texts_of(
            actor_of(request),
            None if case is None else case_of(request, case),
            None if client is None else own(Client, request, client),
        )
        return answer_many(TextView, found)

    @endpoint(Many(TextView), TextIn, 201, errors=(400,))
    def post(self, request: Request) -> HttpResponse:
        """Keep a new one."""
        texts.keep_text(actor_of(request), None, read_body(TextIn, request))
        return _texts(request, 201)


class TextDetailView(APIView):
    """A text."""

    @endpoint(Many(TextView), TextIn, errors=(400, 404, 409))
    def put(self, request: Request, pk: int) -> HttpResponse:
        texts.keep_text(actor_of(request), pk, read_body(TextIn, request))
        return _texts(request)

    @endpoint(Many(TextView), errors=(404,))
    def delete(self, request: Request, pk: int) -> HttpResponse:
        texts.drop_text(actor_of(request), pk)
        return _texts(request)


def _texts(request: Request, status: int = 200) -> HttpResponse:
    found: Any = texts.texts_of(actor_of(request), None, None)
    return answer(found, tuple[TextView, ...], status=status)


def _number(request: Request, name: str) -> int | None:
    said = request.query_params.get(name, "")
    if said == "":
        return None
    if not said.isdecimal() or len(said) > 18:
        raise InputError(name, "must be a number")
    return int(said)
