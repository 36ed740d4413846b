"""What is logged: one line of JSON for each request and each failure, with the request's id and the user's number, and no
record, name or address of anybody.

The last failures are kept beside the data too, for the page on which an owner looks after the installation.
"""

import json
import logging
import re
import time
from collections.abc import Callable, Iterator
from contextvars import ContextVar
from pathlib import Path
from secrets import token_hex
from traceback import extract_tb
from typing import Any

from django.http import HttpRequest, HttpResponse

FAILURES = "failures.jsonl"
MOST_SHOWN = 20
_request: ContextVar[dict[str, Any]] = ContextVar("request", default={})  # noqa: B039
_OURS = re.compile(r"^[0-9a-f]{16,32}$")
logger = logging.getLogger("wainscot.requests")


def told(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Each request with an id of its own, which goes back to who asked and stands in every line about it. A proxy of ours may
    have given one."""

    def handle(request: HttpRequest) -> HttpResponse:
        given = request.headers.get("X-Request-ID", "")
        about: dict[str, Any] = {"request": given if _OURS.match(given) else token_hex(8)}
        token = _request.set(about)
        began = time.perf_counter()
        try:
            response = get_response(request)
            match = request.resolver_match
            about["user"] = getattr(getattr(request, "user", None), "pk", None)
            about["route"] = match.route if match else None
            logger.info(
                "request",
                extra={
                    "method": request.method, "status": response.status_code,
                    "ms": round((time.perf_counter() - began) * 1000, 1),
                },
            )  # fmt: skip
            response["X-Request-ID"] = about["request"]
            return response
        finally:
            _request.reset(token)

    return handle


class OfRequest(logging.Filter):
    """Puts the request into a line, and takes out what may hold somebody's data: of a failure stay its kind and place."""

    def filter(self, record: logging.LogRecord) -> bool:
        """Always lets it through."""
        for key, value in _request.get().items():
            setattr(record, key, value)
        if record.exc_info and record.exc_info[1] is not None:
            kind, _, trace = record.exc_info
            places = extract_tb(trace)
            record.failure = kind.__name__ if kind else None
            record.place = [f"{Path(p.filename).name}:{p.lineno} {p.name}" for p in places[-6:]]
            record.exc_info, record.exc_text = None, None
        # Django logs addresses that were refused, which name records.
        if record.name.startswith("django."):
            record.msg, record.args = record.levelname.lower(), ()
            record.__dict__.pop("status_code", None)
        record.__dict__.pop("server_time", None)
        return True


def last_failures(folder: Path) -> Iterator[dict[str, Any]]:
    """The last failures, newest first; a line that was cut off is passed over."""
    path = folder / FAILURES
    if not path.exists():
        return
    for line in reversed(path.read_text(encoding="utf-8").splitlines()[-MOST_SHOWN:]):
        try:
            yield json.loads(line)
        except ValueError:
            continue
