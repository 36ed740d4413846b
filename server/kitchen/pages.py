"""Documents of batches, for those who are signed in."""

from collections.abc import Sequence
from datetime import timedelta

from accounts.scoping import own
from django.http import HttpResponse
from library.facts import reference
from recipes.dossiers import parties_of
from recipes.versions import edition_of
from records.calendars import CalendarDay
from records.pages import Paper, calendar, paper
from rest_framework.request import Request
from wainscot_core.batch.boxes import Box, thaw_plan
from wainscot_core.batch.cooked import CookedBatch
from wainscot_core.batch.results import BatchPlan
from wainscot_core.boundary import read
from wainscot_core.documents.batch import BatchWords, batch_sheet
from wainscot_core.documents.labels import label_pages
from wainscot_core.errors import InputError

from .actions import WITH_RECIPE
from .labels import labels_pdf
from .links import cook_path, is_open
from .models import Batch
from .queries import batch_boxes


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
    link = next((x for x in links if is_open(x)), None)
    path = cook_path(link) if link else f"/cook/batch/{batch.pk}"
    return str(request.build_absolute_uri(path))


class BoxCalendar(Paper):
    """What is taken out on which evening, and by when the last box is eaten, for a calendar."""

    def get(self, request: Request, pk: int) -> HttpResponse:
        batch = own(Batch, request, pk, *WITH_RECIPE)
        boxes = batch_boxes(batch, batch.feed_from or batch.cook_on)
        gone = set(batch.gone)
        left = [b for b in boxes if b.number not in gone]
        dogs = " and ".join(dict.fromkeys(b.dog for b in boxes))
        days = [
            CalendarDay(
                f"batch-{batch.pk}-out-{out.on.isoformat()}@wainscot", out.on,
                f"{dogs}: take out tonight", f"{_named(left, out.boxes)} from the freezer into the fridge.",
            )
            for out in thaw_plan(left)
        ]  # fmt: skip
        days += _ends(batch, left, dogs)
        return calendar(f"{dogs}: batch {batch.code}", batch.created, days)


def _named(boxes: Sequence[Box], numbers: Sequence[int]) -> str:
    known = {b.number: b for b in boxes}
    return ", ".join(f"box {n} ({known[n].dog}, {known[n].grams:g} g)" for n in numbers)


def _ends(batch: Batch, left: Sequence[Box], dogs: str) -> list[CalendarDay]:
    if not left:
        return []
    last = max(b.eat_on for b in left)
    soon = last - timedelta(days=reference().boxes.soon_days - 1)
    found = [
        CalendarDay(
            f"batch-{batch.pk}-soon@wainscot", max(soon, batch.cook_on), f"{dogs}: cook again soon",
            f"Batch {batch.code} feeds until {last.isoformat()}.",
        )
    ]  # fmt: skip
    for by in sorted({b.use_by for b in left}):
        numbers = [str(b.number) for b in left if b.use_by == by]
        found.append(
            CalendarDay(
                f"batch-{batch.pk}-by-{by.isoformat()}@wainscot", by,
                f"{dogs}: last day of batch {batch.code}",
                f"What is left of boxes {', '.join(numbers)} is thrown away after today.",
            )
        )  # fmt: skip
    return found
