"""One's own account: password, second factor, where one is signed in."""

from dataclasses import dataclass
from datetime import datetime

import segno
from accounts.models import WorkRole
from accounts.permissions import Work
from accounts.scoping import actor_of, user_of
from django.db import transaction
from django.http import Http404, HttpResponse
from django_otp.plugins.otp_static.models import StaticToken
from django_otp.plugins.otp_totp.models import TOTPDevice
from events.log import log
from events.models import EventKind
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.boundary import Email
from wainscot_core.errors import InputError
from wire.shapes import answer, endpoint, read_body

from .actions import (
    begin_second_factor,
    change_email,
    change_password,
    confirm_second_factor,
    end_second_factor,
)
from .api_session import Code, Password, Said
from .seats import seats_of, shut, shut_all


@dataclass(frozen=True, kw_only=True)
class SeatView:
    """A browser one is signed in with. here: the one that asks."""

    id: int
    began: datetime
    seen: datetime
    address: str
    agent: str
    here: bool


@dataclass(frozen=True, kw_only=True)
class AccountView:
    """Oneself. second_factor: a code is asked for at sign-in; recovery_codes: how many are left."""

    username: str
    email: str
    role: WorkRole
    second_factor: bool
    recovery_codes: int
    seats: tuple[SeatView, ...]


@dataclass(frozen=True, kw_only=True)
class EmailIn:
    """Where links for a new password are sent, "" for nowhere."""

    email: Email
    password: Password


@dataclass(frozen=True, kw_only=True)
class PasswordIn:
    """One's password now, and another one."""

    old: Password
    password: Password


@dataclass(frozen=True, kw_only=True)
class OldPassword:
    """One's password, to be sure."""

    old: Password


@dataclass(frozen=True, kw_only=True)
class CodeIn:
    """What the authenticator shows."""

    code: Code


@dataclass(frozen=True, kw_only=True)
class FactorView:
    """What an authenticator is set up with. secret: to be typed where nothing can be scanned; drawing: the same as a QR code,
    a data: address of an SVG."""

    secret: str
    drawing: str


@dataclass(frozen=True, kw_only=True)
class RecoveryCodes:
    """Codes that each open once without the authenticator; shown this once."""

    codes: tuple[str, ...]


def account_of(request: Request) -> AccountView:
    """Oneself as one is shown."""
    user, here = user_of(request), request._request.session.session_key
    return AccountView(
        username=user.username,
        email=user.email,
        role=WorkRole(user.role),
        second_factor=TOTPDevice.objects.filter(user=user, confirmed=True).exists(),
        recovery_codes=StaticToken.objects.filter(device__user=user).count(),
        seats=tuple(
            SeatView(
                id=s.pk, began=s.began, seen=s.seen, address=s.address or "", agent=s.agent,
                here=s.session_key == here,
            )
            for s in seats_of(user)
        ),
    )  # fmt: skip


class AccountDetailView(APIView):
    """Oneself."""

    work = Work.READ

    @endpoint(AccountView, errors=())
    def get(self, request: Request) -> HttpResponse:
        return answer(account_of(request))

    @endpoint(AccountView, EmailIn)
    def put(self, request: Request) -> HttpResponse:
        asked = read_body(EmailIn, request)
        change_email(user_of(request), asked.password, asked.email.strip())
        return answer(account_of(request))


class PasswordView(APIView):
    """Set another password."""

    work = Work.READ

    @endpoint(Said, PasswordIn)
    def post(self, request: Request) -> HttpResponse:
        asked = read_body(PasswordIn, request)
        ended = change_password(request._request, user_of(request), asked.old, asked.password)
        also = f" {ended} other session{'s' if ended != 1 else ''} ended." if ended else ""
        return answer(Said(message=f"The new password holds.{also}"))


class SecondFactorView(APIView):
    """Begin with an authenticator, or turn it off."""

    work = Work.READ

    @endpoint(FactorView)
    def post(self, request: Request) -> HttpResponse:
        device = begin_second_factor(user_of(request))
        drawing = segno.make(device.config_url, error="m").svg_data_uri(scale=4)
        return answer(
            FactorView(
                secret=device.config_url.partition("secret=")[2].partition("&")[0], drawing=drawing
            )
        )

    @endpoint(AccountView, OldPassword)
    def put(self, request: Request) -> HttpResponse:
        end_second_factor(user_of(request), read_body(OldPassword, request).old)
        return answer(account_of(request))


class ConfirmFactorView(APIView):
    """Turn the authenticator on with a code it shows."""

    work = Work.READ

    @endpoint(RecoveryCodes, CodeIn)
    def post(self, request: Request) -> HttpResponse:
        code = read_body(CodeIn, request).code.strip().replace(" ", "")
        return answer(RecoveryCodes(codes=tuple(confirm_second_factor(user_of(request), code))))


class OtherSeatsView(APIView):
    """Sign out everywhere else."""

    work = Work.READ

    @endpoint(AccountView)
    def post(self, request: Request) -> HttpResponse:
        _end(request, None)
        return answer(account_of(request))


class SeatDetailView(APIView):
    """Sign out in one browser."""

    work = Work.READ

    @endpoint(AccountView)
    def delete(self, request: Request, pk: int) -> HttpResponse:
        _end(request, pk)
        return answer(account_of(request))


@transaction.atomic
def _end(request: Request, pk: int | None) -> None:
    user, here = user_of(request), request._request.session.session_key
    if pk is None:
        ended = shut_all(user, here)
    else:
        seat = user.seats.filter(pk=pk).first()
        if seat is None:
            raise Http404("You are not signed in there.")
        if seat.session_key == here:
            raise InputError("", "This is the browser you are in: sign out instead.")
        ended = shut([seat])
    if ended:
        log(
            actor_of(request),
            EventKind.SESSIONS_ENDED,
            None,
            user.pk,
            name=user.username,
            count=ended,
        )
