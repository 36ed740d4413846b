"""Sign in, sign out, first start."""

import os
from dataclasses import dataclass
from typing import Annotated

from django.contrib.auth import authenticate, login, logout
from django.http import HttpResponse
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect, ensure_csrf_cookie
from pydantic import StringConstraints
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.boundary import Name120, not_empty
from wainscot_core.conventions import Region
from wainscot_core.errors import InputError
from wire.shapes import answer, endpoint, read_body

from .actions import needs_setup, set_up
from .conventions import ConventionsView, conventions_of, conventions_view
from .models import User

Username = Annotated[str, not_empty(150)]
# Blanks are part of a password.
Password = Annotated[str, StringConstraints(min_length=1, max_length=200)]


@dataclass(frozen=True, kw_only=True)
class Session:
    """Who is signed in, and whether this installation still needs its first user. shelf_asked: the practice has said
    what stands on its shelf."""

    needs_setup: bool
    demo: bool
    username: str | None
    practice: str | None
    conventions: ConventionsView
    shelf_asked: bool


@dataclass(frozen=True, kw_only=True)
class SignIn:
    """A name and its password."""

    username: Username
    password: Password


@dataclass(frozen=True, kw_only=True)
class SetUp:
    """The practice, where it works, and its first user."""

    practice: Name120
    username: Username
    password: Password
    region: Region = Region.EUROPE


def session_of(request: Request) -> HttpResponse:
    """The current session."""
    # Nobody is None for DRF (UNAUTHENTICATED_USER) and an anonymous user for Django on sign-out.
    user = request._request.user
    signed_in = user if isinstance(user, User) else None
    return answer(
        Session(
            needs_setup=signed_in is None and needs_setup(),
            demo=os.environ.get("WAINSCOT_DEMO") == "1",
            username=signed_in.get_username() if signed_in else None,
            practice=str(signed_in.practice) if signed_in and signed_in.practice else None,
            conventions=conventions_view(conventions_of(signed_in.practice if signed_in else None)),
            shelf_asked=bool(signed_in and signed_in.practice and signed_in.practice.shelf_asked),
        )
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
    """Sign in; too many wrong passwords lock the name for a while."""

    permission_classes = [AllowAny]

    @endpoint(Session, SignIn, errors=(400,))
    def post(self, request: Request) -> HttpResponse:
        asked = read_body(SignIn, request)
        user = authenticate(request._request, username=asked.username, password=asked.password)
        if user is None:
            raise InputError("password", "This name and password do not belong together.")
        login(request._request, user)
        return session_of(request)


class SignOutView(APIView):
    """Sign out."""

    @endpoint(Session, errors=())
    def post(self, request: Request) -> HttpResponse:
        logout(request._request)
        return session_of(request)


@method_decorator(csrf_protect, name="dispatch")
class SetUpView(APIView):
    """First start: the practice and its first user."""

    permission_classes = [AllowAny]

    @endpoint(Session, SetUp, errors=(400,))
    def post(self, request: Request) -> HttpResponse:
        asked = read_body(SetUp, request)
        user = set_up(asked.practice, asked.username, asked.password, asked.region)
        login(request._request, user, backend="django.contrib.auth.backends.ModelBackend")
        return session_of(request)
