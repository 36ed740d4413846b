"""Sign in, sign out, first start."""

import os

from accounts.services import needs_setup, set_up
from django.contrib.auth import authenticate, login, logout
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect, ensure_csrf_cookie
from drf_spectacular.utils import extend_schema
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from .errors import error_body
from .serializers import (
    ErrorSerializer,
    SessionSerializer,
    SetUpSerializer,
    SignInSerializer,
)


def session_state(request: Request) -> dict[str, object]:
    """Who is signed in, and whether this installation still needs its first user."""
    # DRF sets None for nobody (UNAUTHENTICATED_USER); Django sets an anonymous user on sign-out.
    user = request._request.user
    signed_in = user is not None and user.is_authenticated
    return {
        "needs_setup": not signed_in and needs_setup(),
        "demo": os.environ.get("WAINSCOT_DEMO") == "1",
        "username": user.get_username() if signed_in else None,
        "practice": str(user.practice) if signed_in and user.practice_id else None,
    }


@method_decorator(ensure_csrf_cookie, name="dispatch")
class SessionView(APIView):
    """The current session."""

    permission_classes = [AllowAny]

    @extend_schema(responses=SessionSerializer)
    def get(self, request: Request) -> Response:
        return Response(session_state(request))


@method_decorator(csrf_protect, name="dispatch")
class SignInView(APIView):
    """Sign in; too many wrong passwords lock the name for a while."""

    permission_classes = [AllowAny]

    @extend_schema(
        request=SignInSerializer, responses={200: SessionSerializer, 400: ErrorSerializer}
    )
    def post(self, request: Request) -> Response:
        form = SignInSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        credentials = form.validated_data
        user = authenticate(request._request, **credentials)
        if user is None:
            return Response(
                error_body("password", "This name and password do not belong together."), status=400
            )
        login(request._request, user)
        return Response(session_state(request))


class SignOutView(APIView):
    """Sign out."""

    @extend_schema(request=None, responses=SessionSerializer)
    def post(self, request: Request) -> Response:
        logout(request._request)
        return Response(session_state(request))


@method_decorator(csrf_protect, name="dispatch")
class SetUpView(APIView):
    """First start: the practice and its first user."""

    permission_classes = [AllowAny]

    @extend_schema(
        request=SetUpSerializer, responses={200: SessionSerializer, 400: ErrorSerializer}
    )
    def post(self, request: Request) -> Response:
        form = SetUpSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        data = form.validated_data
        user = set_up(data["practice"], data["username"], data["password"])
        login(request._request, user, backend="django.contrib.auth.backends.ModelBackend")
        return Response(session_state(request))
