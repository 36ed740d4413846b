"""Every error has one shape: {"error": {"field": ..., "message": ...}, ...}."""

import logging
import sys
from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

from django.conf import settings
from django.core.exceptions import RequestDataTooBig
from django.db import OperationalError
from django.http import HttpRequest, HttpResponse, JsonResponse
from keeping.folder import DATABASE
from keeping.trouble import TroubleKind, trouble_of
from rest_framework import exceptions
from rest_framework.response import Response
from rest_framework.views import exception_handler
from wainscot_core.boundary import dump
from wainscot_core.changes import Collision
from wainscot_core.errors import InputError

logger = logging.getLogger(__name__)


OURS = "Something went wrong on our side; nothing was changed. Try again, and tell us if it stays."


class StaleWriteError(Exception):
    """Someone saved a newer version; `current` is what is stored, as it is answered."""

    def __init__(self, current: object) -> None:
        super().__init__("stale write")
        self.current = current


class CollisionError(Exception):
    """Fields that someone else changed meanwhile; nothing was written."""

    def __init__(self, collisions: Sequence[Collision]) -> None:
        super().__init__("collision")
        self.collisions = collisions


class TooManyError(Exception):
    """One more of what a practice has enough of at once; says so in words."""


def error_body(field: str, message: str) -> dict[str, Any]:
    """The one error shape."""
    return {"error": {"field": field, "message": message}}


def _first(detail: Any, path: str = "") -> tuple[str, str]:
    if isinstance(detail, dict):
        key, value = next(iter(detail.items()))
        if key in {"detail", "non_field_errors"}:
            return _first(value, path)
        if isinstance(key, int):
            return _first(value, f"{path}[{key}]")
        return _first(value, f"{path}.{key}" if path else str(key))
    if isinstance(detail, list):
        for i, item in enumerate(detail):
            if isinstance(item, dict | list):
                if item:
                    return _first(item, f"{path}[{i}]")
            else:
                return path, str(item)
    return path, str(detail)


def handle(exc: Exception, context: dict[str, Any]) -> Response:
    """DRF exception handler: input errors 400, stale writes 409, never a bare 500."""
    if isinstance(exc, InputError):
        return Response(error_body(exc.field, exc.message), status=400)
    if isinstance(exc, StaleWriteError):
        body = error_body(
            "version",
            "Someone saved a newer version. Nothing of yours is lost: choose which to keep.",
        )
        return Response({**body, "current": dump(exc.current)}, status=409)
    if isinstance(exc, CollisionError):
        body = error_body(
            exc.collisions[0].path,
            "Someone else changed this meanwhile. Nothing of yours is lost: choose which to keep.",
        )
        told = [asdict(c) for c in exc.collisions]
        return Response({**body, "collisions": told}, status=409)
    if isinstance(exc, TooManyError):
        return Response(error_body("", str(exc)), status=429)
    if isinstance(exc, RequestDataTooBig):
        most = settings.DATA_UPLOAD_MAX_MEMORY_SIZE // 1_000_000
        words = f"This is more than the {most} MB that are taken at once: send it in parts."
        return Response(error_body("", words), status=413)
    held_up = unavailable(exc)
    if held_up is not None:
        return Response(error_body("", held_up), status=503, headers=AGAIN)
    response = exception_handler(exc, context)
    if response is None:
        logger.exception("unexpected error", exc_info=exc)
        return Response(
            error_body("", OURS),
            status=500,
        )
    field, message = _first(response.data)
    if isinstance(exc, exceptions.PermissionDenied) and exc.get_codes() == "role":
        # Told from who is signed out: signing in again would change nothing.
        field = "role"
    if isinstance(exc, exceptions.NotAuthenticated):
        field, message = "session", "Sign in first."
    if isinstance(exc, exceptions.Throttled):
        message = "Too much was tried of late. Wait 15 minutes and try again."
    if isinstance(exc, exceptions.ParseError):
        message = f"The request is not valid JSON. {message}"
    response.data = error_body(field, message)
    return response


# A write that waited for another one is over soon.
AGAIN = {"Retry-After": "2"}
_UNAVAILABLE = {
    TroubleKind.LOCKED: "Something else is being written just now. Nothing was changed: it is tried again.",
    TroubleKind.FULL: "The disk of this installation is full. Nothing was changed, and what you typed is kept here: tell "
    "whoever keeps the installation.",
    TroubleKind.READ_ONLY: "The disk of this installation can only be read. Nothing was changed, and what you typed is kept "
    "here: tell whoever keeps the installation.",
    TroubleKind.MISSING: "The database of this installation cannot be reached. Nothing was changed, and what you typed is kept "
    "here: tell whoever keeps the installation.",
    TroubleKind.FORBIDDEN: "The database of this installation may not be written. Nothing was changed, and what you typed is kept "
    "here: tell whoever keeps the installation.",
}


def unavailable(exc: BaseException | None) -> str | None:
    """Words for an error that comes from the disk or from another write, None for any other: it is no fault of the request,
    nothing of it was written, and it may be sent again."""
    if not isinstance(exc, OperationalError | OSError):
        return None
    found = trouble_of(exc, settings.DATA_DIR / DATABASE)
    words = _UNAVAILABLE.get(found.kind)
    if words is not None:
        logger.error("unavailable: %s", found.words)
    return words


def server_error(request: HttpRequest) -> HttpResponse:
    """What failed outside a view, as in reading the session."""
    held_up = unavailable(sys.exc_info()[1])
    body = error_body("", held_up or OURS)
    return JsonResponse(body, status=503 if held_up else 500, headers=AGAIN if held_up else {})


def bad_request(request: HttpRequest, exception: Exception) -> HttpResponse:
    """A request that is none: a host that is not ours, or fields without end."""
    return JsonResponse(error_body("", "This request cannot be read."), status=400)


def locked_out(request: HttpRequest, *args: object, **kwargs: object) -> JsonResponse:
    """Too many wrong passwords for a name from an address."""
    return JsonResponse(
        error_body("password", "Too many wrong passwords. Wait 15 minutes and try again."),
        status=429,
    )


def csrf_failure(request: HttpRequest, reason: str = "") -> JsonResponse:
    """A missing or old CSRF token."""
    return JsonResponse(
        error_body("", "This page is out of date. Reload it and try again."), status=403
    )
