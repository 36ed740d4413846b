"""Pages and PDFs of documents, and the links that open them without signing in."""

import hashlib
from collections.abc import Sequence
from datetime import datetime
from typing import Any

from django.http import Http404, HttpResponse
from django.utils.text import slugify
from rest_framework.exceptions import APIException, NotAuthenticated
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.boundary import read
from wainscot_core.documents import document
from wainscot_core.documents.change import change_calendar, change_days
from wainscot_core.documents.paper import Document, DocumentKind
from wainscot_core.documents.shopping import frozen_shopping
from wainscot_core.errors import InputError
from wainscot_core.kitchen.change_over import ChangePlan
from wainscot_core.snapshot.snapshot import Snapshot

from .actions import opened_by
from .calendars import CalendarDay, CalendarHour, as_ics
from .links import found_by
from .models import ShareLink
from .printing import as_html, as_pdf, problem_page


class Paper(APIView):
    """A document as a page, or as a PDF; what goes wrong is a page too."""

    schema = None

    def finalize_response(self, request: Any, response: Any, *args: Any, **kwargs: Any) -> Any:
        """Never kept by a browser or a proxy, never told to where a link on it leads."""
        response = super().finalize_response(request, response, *args, **kwargs)
        response["Cache-Control"] = "no-store"
        response["Referrer-Policy"] = "no-referrer"
        return response

    def handle_exception(self, exc: Exception) -> Any:
        """The problem as a page a person can read."""
        if isinstance(exc, InputError):
            return page(problem_page("This document cannot be made", exc.message), 400)
        if isinstance(exc, Http404):
            return page(problem_page("Nothing here", str(exc) or "There is no such document."), 404)
        if isinstance(exc, NotAuthenticated):
            return page(problem_page("Sign in first", "Then open this document again."), 403)
        if isinstance(exc, APIException):
            return page(problem_page("This cannot be opened", str(exc.detail)), exc.status_code)
        failed = super().handle_exception(exc)
        words = problem_page("Something went wrong", failed.data["error"]["message"])
        return page(words, failed.status_code)


def page(html: str, status: int = 200) -> HttpResponse:
    """A page."""
    return HttpResponse(html, status=status)


def paper(
    made: Document,
    form: str,
    address: str,
    back: str = "",
    asked: str = "",
    also: Sequence[tuple[str, str]] = (),
) -> HttpResponse:
    """A document as what is asked for: form "pdf", or "" for a page at `address`; asked: what belongs after its address;
    also: what else there is, each with its address."""
    if form == "pdf":
        return HttpResponse(
            as_pdf(made),
            content_type="application/pdf",
            headers={"Content-Disposition": f'inline; filename="{file_name(made)}"'},
        )
    return page(as_html(made, f"{address}.pdf{asked}", back, also))


def calendar(
    title: str,
    made: datetime,
    days: Sequence[CalendarDay],
    hours: Sequence[CalendarHour] = (),
) -> HttpResponse:
    """A calendar file to keep."""
    return HttpResponse(
        as_ics(title, made, days, hours),
        content_type="text/calendar; charset=utf-8",
        headers={"Content-Disposition": f'attachment; filename="{slugify(title)[:80]}.ics"'},
    )


def change_calendar_days(snapshot: Snapshot, plan: ChangePlan, uid: str) -> list[CalendarDay]:
    """The days of a change-over for a calendar. uid: what tells this one from others."""
    return [
        CalendarDay(
            f"{uid}-{i}@wainscot",
            found.on,
            f"{snapshot.case.dog.name}: {found.new} new a meal",
            f"Old food a meal: {found.old}. {plan.hold} {plan.stop}",
        )
        for i, found in enumerate(change_days(snapshot, plan))
    ]


def file_name(made: Document) -> str:
    """What the PDF is called when it is saved: "juniper-heart-stew-sheet.pdf"."""
    return f"{slugify(made.title)[:80] or made.kind}-{made.kind}.pdf"


class SharedView(Paper):
    """The document of a link, for whoever holds the address."""

    permission_classes = [AllowAny]
    authentication_classes = []

    def get(self, request: Request, token: str, form: str = "", part: str = "") -> HttpResponse:
        try:
            link = found_by(ShareLink, token, "snapshot")
        except InputError as error:
            return page(problem_page("This link is closed", error.message), 410)
        kept, address = link.snapshot.kept, f"/s/{token}"
        plan = read(ChangePlan, link.change) if link.change else None
        also = _also(link, address, plan, part)
        if part == "change":
            if plan is None:
                raise Http404("There is no change-over with this link.")
            opened_by(link)
            if form == "ics":
                title = f"{kept.case.dog.name}: to the new food"
                uid = hashlib.sha256(link.key.encode()).hexdigest()[:24]
                return calendar(title, link.created, change_calendar_days(kept, plan, uid))
            made = change_calendar(kept, link.edition, link.approved, plan)
            return paper(made, form, f"{address}/change", also=also)
        if part == "shopping":
            if link.document != DocumentKind.OWNER:
                raise Http404("There is no shop list with this link.")
            days = days_asked(request)
            opened_by(link)
            asked = "" if days is None else f"?days={days:g}"
            made = frozen_shopping(kept, days, link.edition)
            return paper(made, form, f"{address}/shopping", asked=asked, also=also)
        made = document(DocumentKind(link.document), kept, link.edition, link.approved)
        opened_by(link)
        return paper(made, form, address, also=also)


def days_asked(request: Request) -> float | None:
    """The days of an address, "" or none of them for as many as a batch feeds. Raises InputError."""
    asked = request.query_params.get("days", "").strip()
    try:
        return float(asked) if asked else None
    except ValueError:
        raise InputError("days", f"{asked!r} is no number of days") from None


def _also(
    link: ShareLink, address: str, plan: ChangePlan | None, part: str
) -> list[tuple[str, str]]:
    """What else a link to the owner's sheet opens; beside a shop list those for other days."""
    if link.document != DocumentKind.OWNER:
        return []
    found = [("The sheet", address)]
    if plan is not None:
        found.append(("Change-over", f"{address}/change"))
        found.append(("For the calendar", f"{address}/change.ics"))
    shops = [s.days for s in link.snapshot.kept.of_recipe.shops]
    if part == "shopping":
        found += [(f"{days:g} days", f"{address}/shopping?days={days:g}") for days in shops]
    elif shops:
        found.append(("What to buy", f"{address}/shopping"))
    return found
