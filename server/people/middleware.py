"""What is true of every request of somebody who is signed in: time runs out, what is looked at is known, nothing stays in a cache."""

import time
from collections.abc import Callable

from accounts.models import User
from accounts.scoping import Actor
from django.http import HttpRequest, HttpResponse
from events.log import log
from events.models import EventKind

from .seats import keep_seat

Next = Callable[[HttpRequest], HttpResponse]

# A case that is worked on for hours is looked at a hundred times: it is written down once an hour and person.
SEEN_SECONDS = 3600
MOST_REMEMBERED = 5000
# Addresses whose answers are records, or open one.
RECORDS = (
    "/api/",
    "/papers/",
    "/s/",
    "/v/",
    "/cook/",
    "/diary/",
    "/sheet/",
    "/due/",
    "/invitation/",
    "/reset/",
)


def seats(get_response: Next) -> Next:
    """Sessions end after a while."""

    def handle(request: HttpRequest) -> HttpResponse:
        if isinstance(request.user, User):
            keep_seat(request)
        return get_response(request)

    return handle


def unstored(get_response: Next) -> Next:
    """Records are kept by no browser and no proxy, unless the view says otherwise."""

    def handle(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        if request.path.startswith(RECORDS):
            response.setdefault("Cache-Control", "no-store")
        return response

    return handle


def trail(get_response: Next) -> Next:
    """Who looked at a case, and what left the application as a document or a file: from the answers themselves, so that a
    new view is covered without saying so."""
    remembered: dict[tuple[int, int], float] = {}

    def handle(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        user, match = request.user, request.resolver_match
        if request.method != "GET" or response.status_code != 200 or not isinstance(user, User):
            return response
        if user.practice is None or match is None:
            return response
        who = Actor(user.practice, user.get_username())
        case = match.kwargs.get("pk") if _is_of_case(match.route) else None
        if _leaves(request, response):
            said = response.get("Content-Disposition", "").partition("filename=")[2].strip('"')
            log(who, EventKind.GIVEN_OUT, case, None, what=(said or request.path)[:120])
        elif case is not None and _first_look(remembered, (user.pk, case)):
            log(who, EventKind.CASE_SEEN, case, case)
        return response

    return handle


def _is_of_case(route: str) -> bool:
    return route.startswith(("api/cases/<int:pk>", "papers/cases/<int:pk>"))


def _leaves(request: HttpRequest, response: HttpResponse) -> bool:
    return request.path.startswith("/papers/") or response.get(
        "Content-Disposition", ""
    ).startswith("attachment")


def _first_look(remembered: dict[tuple[int, int], float], key: tuple[int, int]) -> bool:
    now = time.monotonic()
    last = remembered.get(key)
    if last is not None and now - last < SEEN_SECONDS:
        return False
    if len(remembered) >= MOST_REMEMBERED:
        remembered.clear()
    remembered[key] = now
    return True
