"""The desk as a calendar: an address that shows one practice what is due, without signing in, for a while."""

from datetime import timedelta

from accounts.models import Practice
from accounts.scoping import Actor, find_own
from django.db import transaction
from django.http import HttpResponse
from django.utils import timezone
from events.log import log
from events.models import EventKind
from office.appointments import around, calendar_hours
from records.calendars import CalendarDay
from records.links import found_by, give, take_back
from records.pages import Paper, calendar, page
from records.printing import problem_page
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from wainscot_core.errors import InputError

from .models import DeskFeed, DeskItem
from .refresh import catch_up

LASTS_DAYS = 400
AHEAD_DAYS = 90
MOST_DAYS_TOLD = 500
MOST_FEEDS = 20


@transaction.atomic
def give_feed(who: Actor) -> DeskFeed:
    """An address that a calendar reads. Raises InputError where there are too many."""
    open_ = DeskFeed.objects.for_practice(who.practice).filter(
        revoked=None, expires__gt=timezone.now()
    )
    if open_.count() >= MOST_FEEDS:
        raise InputError("", f"there are {MOST_FEEDS} addresses already: take one back first")
    feed = give(DeskFeed, who, LASTS_DAYS, LASTS_DAYS)
    log(who, EventKind.FEED_GIVEN, None, feed.pk, until=feed.expires.date().isoformat())
    return feed


@transaction.atomic
def close_feed(who: Actor, pk: int) -> DeskFeed:
    """Take an address back."""
    feed = find_own(DeskFeed, who.practice, lock=True, pk=pk)
    if take_back(feed):
        log(who, EventKind.FEED_CLOSED, None, feed.pk)
    return feed


class DeskCalendar(Paper):
    """What is due of a practice, for whoever holds the address."""

    permission_classes = [AllowAny]
    authentication_classes = []

    def get(self, request: Request, token: str) -> HttpResponse:
        try:
            return _calendar(found_by(DeskFeed, token).practice)
        except InputError as error:
            return page(problem_page("This link is closed", error.message), 410)


def _calendar(practice: Practice) -> HttpResponse:
    """What is late stands on today: in the past nobody sees it."""
    catch_up(practice)
    today = timezone.localdate()
    items = (
        DeskItem.objects.for_practice(practice)
        .filter(shown_on__lte=today + timedelta(days=AHEAD_DAYS))
        .select_related("case__dog")
        .order_by("shown_on", "pk")[:MOST_DAYS_TOLD]
    )
    days = []
    for item in items:
        late = f" Due since {item.on.isoformat()}." if item.shown_on < today else ""
        days.append(
            CalendarDay(
                f"due-{item.case_id}-{item.kind}-{item.recipe or 0}@wainscot", max(item.shown_on, today),
                f"{item.case.dog.name}: {item.what}", f"{item.why}.{late}",
            )
        )  # fmt: skip
    hours = calendar_hours(around(practice, timezone.now(), AHEAD_DAYS))
    return calendar(f"{practice.name}, desk", timezone.now(), days, hours)
