"""Documents of batches, for those who are signed in."""

from datetime import date, timedelta

from accounts.scoping import own
from cases.models import Case
from cases.queries import case_of
from django.http import HttpResponse
from library.facts import reference
from recipes.dossiers import parties_of
from recipes.versions import edition_of
from records.calendars import CalendarDay
from records.pages import Paper, calendar, page, paper
from records.printing import problem_page
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from wainscot_core.batch.cooked import CookedBatch
from wainscot_core.batch.freezer import Freezer, Kept
from wainscot_core.batch.results import BatchPlan
from wainscot_core.boundary import read
from wainscot_core.documents.batch import BatchWords, batch_sheet
from wainscot_core.documents.labels import label_pages
from wainscot_core.errors import InputError

from .labels import labels_pdf
from .links import cook_link_of
from .models import Batch
from .queries import WITH_RECIPE, batch_boxes, freezer_of, household_batches, stores_of


class BatchPage(Paper):
    """What goes into each vessel of a batch, and what each dog gets of it."""

    def get(self, request: Request, pk: int, form: str = "") -> HttpResponse:
        batch = own(Batch, request, pk, *WITH_RECIPE)
        plan = read(BatchPlan, batch.plan)
        made = batch_sheet(parties_of(batch.recipe.case), _words(batch), plan)
        back = f"/cases/{batch.recipe.case_id}/kitchen"
        return paper(made, form, f"/papers/batches/{pk}", back)


def _words(batch: Batch) -> BatchWords:
    version = batch.release_version
    release = version.releases.first() if version else None
    return BatchWords(
        code=batch.code, recipe=batch.recipe.name, cook_on=batch.cook_on,
        edition=edition_of(version) if version else "Draft, not issued",
        approved=release.approved if release else "",
    )  # fmt: skip


class LabelsPage(Paper):
    """Labels of the boxes of a batch, on a sheet that the address says, from a place on."""

    def get(self, request: Request, pk: int) -> HttpResponse:
        batch = own(Batch, request, pk, *WITH_RECIPE)
        if batch.thrown:
            raise InputError("", f"this batch was thrown away: {batch.thrown}")
        first = request.query_params.get("first", "0")
        if not (first.isascii() and first.isdigit() and len(first) < 4):
            raise InputError("first", "must be a number of places")
        pages = label_pages(
            parties_of(batch.recipe.case), _words(batch), read(BatchPlan, batch.plan),
            read(CookedBatch, batch.cooked) if batch.cooked else None,
            batch_boxes(batch, batch.feed_from or batch.cook_on), reference().boxes,
            request.query_params.get("sheet", "a4-21"), int(first), _address(request, batch),
        )  # fmt: skip
        return HttpResponse(
            labels_pdf(pages),
            content_type="application/pdf",
            headers={"Content-Disposition": f'inline; filename="labels-{batch.code}.pdf"'},
        )


def _address(request: Request, batch: Batch) -> str:
    """Where the code on a label leads: to the page that the owner cooks by while there is one, else to ours."""
    links = batch.cook_links.select_related("batch")
    link = next((x for x in links if x.is_open), None)
    path = link.path if link else f"/cook/batch/{batch.pk}"
    return str(request.build_absolute_uri(path))


class FreezerCalendar(Paper):
    """What a household takes out on which evening, and when it runs out, for a calendar."""

    def get(self, request: Request, pk: int) -> HttpResponse:
        return _calendar(case_of(request, pk))


class OwnersCalendar(Paper):
    """The same for whoever holds the owner's address."""

    permission_classes = [AllowAny]
    authentication_classes = []

    def get(self, request: Request, token: str) -> HttpResponse:
        try:
            link = cook_link_of(token)
        except InputError as error:
            return page(problem_page("This link is closed", error.message), 410)
        return _calendar(link.batch.recipe.case)


def _calendar(case: Case) -> HttpResponse:
    batches = household_batches(case)
    found, client = freezer_of(stores_of(batches)[0]), case.dog.client_id
    made = max((b.updated for b in batches), default=case.created)
    days = [
        CalendarDay(
            f"household-{client}-out-{out.on.isoformat()}@wainscot", out.on,
            "Take out tonight: " + " and ".join(dict.fromkeys(found.boxes[i].dog for i in out.boxes)),
            f"{', '.join(_named(found.boxes[i]) for i in out.boxes)} from the freezer into the fridge.",
        )
        for out in found.evenings
    ]  # fmt: skip
    soon = timedelta(days=reference().boxes.soon_days - 1)
    for dog in found.dogs:
        if dog.runs_out is not None:
            days.append(
                CalendarDay(
                    f"household-{client}-soon-{dog.case}@wainscot",
                    max(dog.runs_out - soon, found.on), f"{dog.dog}: cook again soon",
                    f"What is cooked feeds until {dog.runs_out.isoformat()}.",
                )
            )  # fmt: skip
    days += _ends(found, client)
    return calendar("Boxes to take out", made, days)


def _named(box: Kept) -> str:
    return f"{box.code}-{box.number} ({box.dog}, {box.grams:g} g)"


def _ends(found: Freezer, client: int) -> list[CalendarDay]:
    """The last days of what is there: what is left of it then is thrown away."""
    ends: dict[tuple[str, date], list[Kept]] = {}
    for box in (*found.boxes, *found.wasted):
        ends.setdefault((box.code, box.use_by), []).append(box)
    return [
        CalendarDay(
            f"household-{client}-{code}-by-{by.isoformat()}@wainscot", by,
            f"Last day of boxes of batch {code}",
            f"What is left of boxes {', '.join(str(b.number) for b in boxes)} is thrown away after today.",
        )
        for (code, by), boxes in sorted(ends.items())
    ]  # fmt: skip
