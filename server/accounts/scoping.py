"""Every record is fetched through the practice of the user who asks."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar

from django.http import Http404
from rest_framework.exceptions import NotAuthenticated
from rest_framework.request import Request
from wire.errors import StaleWriteError

from .models import Practice, PracticeRecord, User

R = TypeVar("R", bound=PracticeRecord)


def find_own(model: type[R], practice: Practice, *related: str, lock: bool = False, **by: Any) -> R:
    """A practice's record; 404 for anyone else's, as if it did not exist.

    `lock`: hold it until the transaction ends, as every write of it does.
    """
    queryset: Any = model.objects.for_practice(practice)
    if lock:
        queryset = queryset.select_for_update()
    record = queryset.select_related(*related).filter(**by).order_by().first()
    if record is None:
        raise Http404(f"No {model._meta.verbose_name} with this number.")
    found: R = record
    found.practice = practice
    return found


def looked_at(record: PracticeRecord, version: int | None, now: Callable[[], object]) -> None:
    """What is written belongs to what was looked at. version: of the record as it was seen, None where nobody says; now:
    what is answered instead. Raises StaleWriteError for an older one. record: locked."""
    if version is not None and version != record.version:
        raise StaleWriteError(now())


def user_of(request: Request) -> User:
    """The user who asks."""
    if not isinstance(request.user, User):
        raise NotAuthenticated
    return request.user


def practice_of(request: Request) -> Practice:
    """The practice of the user who asks; every view but sign-in has one (permissions)."""
    user = request.user
    if not isinstance(user, User) or user.practice is None:
        raise NotAuthenticated
    return user.practice


@dataclass(frozen=True)
class Actor:
    """Who does something, and for which practice; every write is told who does it."""

    practice: Practice
    name: str


def actor_of(request: Request) -> Actor:
    """The user who asks."""
    return Actor(practice_of(request), request.user.get_username())


def own(model: type[R], request: Request, pk: int, *related: str) -> R:
    """A record of the user's practice; 404 for anyone else's."""
    return find_own(model, practice_of(request), *related, pk=pk)
