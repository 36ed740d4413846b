"""Sign in, sign out, first start; the ways in for who has no password yet, or none any more."""

import os
from dataclasses import dataclass
from typing import Annotated

from accounts.conventions import ConventionsView, conventions_of, conventions_view
from accounts.models import User, WorkRole
from accounts.permissions import MAY, Work
from accounts.scoping import Actor
from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest, HttpResponse
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect, ensure_csrf_cookie
from django_otp import match_token, user_has_device
from events.log import log
from events.models import EventKind
from pydantic import StringConstraints
from records.links import found_by
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.boundary import Name120, Text60, not_empty
from wainscot_core.conventions import Region
from wainscot_core.errors import InputError
from wire.shapes import answer, endpoint, read_body

from .actions import ask_reset, join, reset_password
from .guard import ask_rarely, count_failure, hold_back, is_here, remember
from .models import Invitation, Reset
from .seats import shut_here
from .setting_up import is_first_key, needs_setup, set_up

Username = Annotated[str, not_empty(150)]
# Blanks are part of a password.
Password = Annotated[str, StringConstraints(min_length=1, max_length=128)]
Code = Annotated[str, StringConstraints(max_length=16)]
BACKEND = "django.contrib.auth.backends.ModelBackend"


@dataclass(frozen=True, kw_only=True)
class Session:
    """Who is signed in, and whether this installation still needs its first user. needs_key: and asks for the key that is told
    where it was started; may: the kinds of work they do;
    shelf_asked: the practice has said what stands on its shelf."""

    needs_setup: bool
    needs_key: bool
    demo: bool
    username: str | None
    practice: str | None
    role: WorkRole | None
    may: tuple[Work, ...]
    conventions: ConventionsView
    shelf_asked: bool


@dataclass(frozen=True, kw_only=True)
class SignIn:
    """A name and its password; code: of the authenticator, or a recovery code, where one is asked for."""

    username: Username
    password: Password
    code: Code = ""


@dataclass(frozen=True, kw_only=True)
class SetUp:
    """The practice, where it works, and its first user. key: as it is told where the server was started; on that machine
    itself there is no need of it."""

    practice: Name120
    username: Username
    password: Password
    region: Region = Region.EUROPE
    time_zone: Text60 = ""
    key: Text60 = ""


@dataclass(frozen=True, kw_only=True)
class Forgot:
    """Who has no password any more."""

    username: Username


@dataclass(frozen=True, kw_only=True)
class NewPassword:
    """A password that is set by a link."""

    password: Password


@dataclass(frozen=True, kw_only=True)
class Joining:
    """The name and password that somebody who was invited chooses."""

    username: Username
    password: Password


@dataclass(frozen=True, kw_only=True)
class InvitedView:
    """What an invitation is to."""

    practice: str
    email: str
    role: WorkRole
    by: str


@dataclass(frozen=True, kw_only=True)
class ResetFor:
    """Whose password a link sets."""

    username: str


@dataclass(frozen=True, kw_only=True)
class Said:
    """What was done, in words."""

    message: str


def session_of(request: Request) -> HttpResponse:
    """The current session."""
    # Nobody is None for DRF (UNAUTHENTICATED_USER) and an anonymous user for Django on sign-out.
    user = request._request.user
    signed_in = user if isinstance(user, User) else None
    first = signed_in is None and needs_setup()
    return answer(
        Session(
            needs_setup=first,
            needs_key=first and not is_here(request._request),
            demo=os.environ.get("WAINSCOT_DEMO") == "1",
            username=signed_in.get_username() if signed_in else None,
            practice=str(signed_in.practice) if signed_in and signed_in.practice else None,
            role=WorkRole(signed_in.role) if signed_in and signed_in.role else None,
            may=tuple(w for w in Work if w in MAY.get(signed_in.role, ())) if signed_in else (),
            conventions=conventions_view(conventions_of(signed_in.practice if signed_in else None)),
            shelf_asked=bool(signed_in and signed_in.practice and signed_in.practice.shelf_asked),
        )
    )


def _told(user: object, kind: EventKind) -> None:
    if isinstance(user, User) and user.practice is not None:
        log(Actor(user.practice, user.username), kind, None, user.pk, name=user.username)


def _second_factor(request: HttpRequest, user: User, code: str) -> None:
    """Raises InputError when somebody has an authenticator and this is no code of it."""
    if not user_has_device(user):
        return
    if not code:
        raise InputError("code", "Type the code that your authenticator shows now.")
    if match_token(user, code) is None:
        count_failure(request, user.get_username())
        _told(user, EventKind.SIGN_IN_REFUSED)
        raise InputError(
            "code",
            "This code does not hold: type the next one it shows, or a recovery code. After wrong codes it takes a while.",
        )


@method_decorator(ensure_csrf_cookie, name="dispatch")
class SessionView(APIView):
    """The current session."""

    permission_classes = [AllowAny]

    @endpoint(Session, errors=())
    def get(self, request: Request) -> HttpResponse:
        return session_of(request)


@method_decorator(csrf_protect, name="dispatch")
class SignInView(APIView):
    """Sign in; too many wrong passwords lock the name for a while. What is wrong with `code` alone means that the password
    was right and a code is asked for."""

    permission_classes = [AllowAny]

    @endpoint(Session, SignIn, errors=(400, 429))
    def post(self, request: Request) -> HttpResponse:
        asked = read_body(SignIn, request)
        hold_back(request._request, asked.username)
        user = authenticate(request._request, username=asked.username, password=asked.password)
        if not isinstance(user, User):
            count_failure(request._request, asked.username)
            _told(User.objects.filter(username=asked.username).first(), EventKind.SIGN_IN_REFUSED)
            raise InputError("password", "This name and password do not belong together.")
        _second_factor(request._request, user, asked.code.strip())
        login(request._request, user, backend=BACKEND)
        _told(user, EventKind.SIGNED_IN)
        response = session_of(request)
        remember(request._request, response, user.get_username())
        return response


class SignOutView(APIView):
    """Sign out."""

    work = Work.READ

    @endpoint(Session, errors=())
    def post(self, request: Request) -> HttpResponse:
        _told(request._request.user, EventKind.SIGNED_OUT)
        shut_here(request._request)
        logout(request._request)
        return session_of(request)


@method_decorator(csrf_protect, name="dispatch")
class SetUpView(APIView):
    """First start: the practice and its first user."""

    permission_classes = [AllowAny]

    @endpoint(Session, SetUp, errors=(400, 429))
    def post(self, request: Request) -> HttpResponse:
        asked = read_body(SetUp, request)
        if needs_setup() and not (is_here(request._request) or is_first_key(asked.key)):
            ask_rarely("set-up", request._request)
            raise InputError("key", "This is not the key. It is told where Wainscot was started.")
        user = set_up(asked.practice, asked.username, asked.password, asked.region, asked.time_zone)
        login(request._request, user, backend=BACKEND)
        return session_of(request)


@method_decorator(csrf_protect, name="dispatch")
class ForgotView(APIView):
    """Ask for a link that sets a new password. Who asks is never told whether there is such a name."""

    permission_classes = [AllowAny]

    @endpoint(Said, Forgot, errors=(400, 429))
    def post(self, request: Request) -> HttpResponse:
        asked = read_body(Forgot, request)
        ask_rarely("reset", request._request)
        ask_reset(asked.username)
        return answer(
            Said(
                message="If somebody signs in with this name and has an e-mail address here, a link is on its way. "
                "If none comes, ask an owner of your practice, or whoever keeps this installation."
            )
        )


@method_decorator(csrf_protect, name="dispatch")
@method_decorator(ensure_csrf_cookie, name="dispatch")
class ResetView(APIView):
    """Set a new password by a link."""

    permission_classes = [AllowAny]

    @endpoint(ResetFor)
    def get(self, request: Request, token: str) -> HttpResponse:
        return answer(ResetFor(username=found_by(Reset, token, "user").user.username))

    @endpoint(Said, NewPassword)
    def post(self, request: Request, token: str) -> HttpResponse:
        user = reset_password(token, read_body(NewPassword, request).password)
        return answer(Said(message=f"The new password holds: sign in as {user.username}."))


@method_decorator(csrf_protect, name="dispatch")
@method_decorator(ensure_csrf_cookie, name="dispatch")
class InvitationView(APIView):
    """Join a practice by a link."""

    permission_classes = [AllowAny]

    @endpoint(InvitedView)
    def get(self, request: Request, token: str) -> HttpResponse:
        found = found_by(Invitation, token)
        return answer(
            InvitedView(
                practice=str(found.practice),
                email=found.email,
                role=WorkRole(found.role),
                by=found.by,
            )
        )

    @endpoint(Session, Joining)
    def post(self, request: Request, token: str) -> HttpResponse:
        asked = read_body(Joining, request)
        user = join(token, asked.username, asked.password)
        login(request._request, user, backend=BACKEND)
        response = session_of(request)
        remember(request._request, response, user.get_username())
        return response
