"""Whose clock it is: "today" is a day of the practice, wherever its server stands."""

from collections.abc import Callable
from contextlib import AbstractContextManager
from functools import lru_cache
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError, available_timezones

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from wainscot_core.errors import InputError

from .models import Practice, User

Next = Callable[[HttpRequest], HttpResponse]


@lru_cache(maxsize=1)
def known_zones() -> tuple[str, ...]:
    """Names of clocks (IANA) that a practice can live by, in the order of the alphabet; those that are another's second name
    among them."""
    return tuple(sorted(z for z in available_timezones() if "/" in z and not z.startswith("Etc/")))


def check_zone(name: str) -> str:
    """A clock that is known, or "" for the installation's. Raises InputError."""
    if name and name not in available_timezones():
        raise InputError("time_zone", f"{name!r} is no time zone: choose one of the list")
    return name


def in_zone(practice: Practice) -> AbstractContextManager[None]:
    """Work that is done by the clock of a practice."""
    return timezone.override(_zone(practice))


def live_by(practice: Practice) -> None:
    """The rest of this request is by the clock of a practice."""
    timezone.activate(_zone(practice))


def _zone(practice: Practice) -> ZoneInfo:
    """The clock of a practice; one that this machine does not know any more is the installation's again."""
    try:
        return ZoneInfo(practice.time_zone)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        return ZoneInfo(str(timezone.get_default_timezone()))


def clocks(get_response: Next) -> Next:
    """A request of somebody who is signed in is by the clock of the practice; each begins with the installation's."""

    def handle(request: HttpRequest) -> HttpResponse:
        try:
            user = request.user
            if isinstance(user, User) and user.practice is not None:
                live_by(user.practice)
            return get_response(request)
        finally:
            timezone.deactivate()

    return handle
