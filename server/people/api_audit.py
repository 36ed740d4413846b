"""The audit trail: who saw, changed, let out and gave away what, for the owners of a practice."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from datetime import date, datetime, time, timedelta
from typing import Any

from accounts.conventions import conventions_of
from accounts.models import Practice
from accounts.permissions import Work
from accounts.scoping import practice_of
from cases.models import Case
from django.http import HttpResponse, StreamingHttpResponse
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter
from events.models import Event, EventKind
from events.words import EventPage, EventView, page_of, words_of
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.cells import csv_text
from wainscot_core.errors import InputError
from wire.shapes import answer, endpoint

EVENTS_A_PAGE = 100
COLUMNS = ("at", "by", "kind", "case", "what")
_WHICH = [
    OpenApiParameter("by", str, description="by whom"),
    OpenApiParameter("kind", str, description="a kind of event, or the part before its point"),
    OpenApiParameter("case", int, description="of which case"),
    OpenApiParameter("since", str, description="from this day on, YYYY-MM-DD"),
    OpenApiParameter("until", str, description="up to this day, YYYY-MM-DD"),
]


def _day(asked: str, name: str) -> date | None:
    if not asked:
        return None
    try:
        return date.fromisoformat(asked)
    except ValueError:
        raise InputError(name, f"{asked!r} is no day: write 2026-03-31.") from None


def _begin(day: date) -> datetime:
    """The moment a day begins. A bound that is compared as it stands is found by the index; a day of each row is not."""
    return timezone.make_aware(datetime.combine(day, time.min))


def _number(asked: str, name: str) -> int | None:
    if not asked:
        return None
    if not (asked.isascii() and asked.isdecimal() and len(asked) <= 18):
        raise InputError(name, f"{asked[:40]!r} is no number.")
    return int(asked)


def kinds_for(request: Request) -> list[EventKind]:
    """The kinds that are asked for, [] for all of them. Raises InputError."""
    kind = request.query_params.get("kind", "")
    known = [k for k in EventKind if kind in (k, k.partition(".")[0])]
    if kind and not known:
        raise InputError("kind", f"{kind[:40]!r} is no kind of event.")
    return known


def found_for(request: Request) -> Any:
    """The events that are asked for, of any kind, newest first. Raises InputError."""
    asked = request.query_params
    events = Event.objects.for_practice(practice_of(request))
    if asked.get("by"):
        events = events.filter(by=asked["by"])
    case = _number(asked.get("case", ""), "case")
    if case is not None:
        events = events.filter(case=case)
    since, until = _day(asked.get("since", ""), "since"), _day(asked.get("until", ""), "until")
    if since:
        events = events.filter(at__gte=_begin(since))
    if until:
        events = events.filter(at__lt=_begin(until + timedelta(days=1)))
    return events.order_by("-at", "-pk")


def older(events: Any, than: Event) -> Any:
    """Those that stand below an event."""
    # Not "or": an index finds where a range begins.
    return events.filter(at__lte=than.at).exclude(at=than.at, pk__gte=than.pk)


def newest(events: Any, kinds: Sequence[EventKind], most: int) -> list[Event]:
    """The newest of these kinds: looked for kind by kind, which the index finds without reading the others."""
    if not kinds:
        return list(events[:most])
    keys = [k for kind in kinds for k in events.filter(kind=kind).values_list("at", "pk")[:most]]
    first = [pk for _, pk in sorted(keys, reverse=True)[:most]]
    # They are known: asked for with what they were found by, all events would be read along their order once more.
    by_key = Event.objects.in_bulk(first)
    return [by_key[pk] for pk in first]


class AuditView(APIView):
    """A page of what happened in the practice, newest first."""

    looking = Work.RUN

    @endpoint(
        EventPage, errors=(400,),
        parameters=[*_WHICH, OpenApiParameter("before", int, description="number of the last one shown")],
    )  # fmt: skip
    def get(self, request: Request) -> HttpResponse:
        events = found_for(request)
        before = _number(request.query_params.get("before", ""), "before")
        practice = practice_of(request)
        if before is not None:
            last = Event.objects.for_practice(practice).filter(pk=before).first()
            if last is None:
                raise InputError("before", f"There is no event {before}.")
            events = older(events, last)
        shown = newest(events, kinds_for(request), EVENTS_A_PAGE + 1)
        page = page_of(shown, EVENTS_A_PAGE, conventions_of(practice))
        return answer(replace(page, events=_with_dogs(practice, page.events)))


def _with_dogs(practice: Practice, events: Sequence[EventView]) -> tuple[EventView, ...]:
    """Events with the names of the dogs whose cases are still there."""
    cases = Case.objects.for_practice(practice).filter(pk__in={e.case for e in events if e.case})
    names = dict(cases.values_list("pk", "dog__name"))
    return tuple(replace(e, dog=names.get(e.case or 0, "")) for e in events)


class AuditExportView(APIView):
    """All of what is asked for, as CSV."""

    looking = Work.RUN

    @endpoint(OpenApiTypes.STR, errors=(400,), parameters=_WHICH)
    def get(self, request: Request) -> Any:
        events, kinds = found_for(request), kinds_for(request)
        events = events.filter(kind__in=kinds) if kinds else events
        rows = _rows(events.iterator(chunk_size=1000))
        return StreamingHttpResponse(
            rows, content_type="text/csv; charset=utf-8",
            headers={"Content-Disposition": 'attachment; filename="wainscot-audit.csv"'},
        )  # fmt: skip


def _rows(events: Iterator[Event]) -> Iterator[str]:
    yield csv_text([COLUMNS])
    for event in events:
        yield csv_text([(event.at.isoformat(), event.by, event.kind, event.case, words_of(event))])
