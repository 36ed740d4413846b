"""The shelf: read a label, put it on, change it, take it off."""

from dataclasses import dataclass

from accounts.permissions import Work
from accounts.scoping import actor_of, practice_of
from django.http import HttpResponse
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.boundary import YesNo
from wainscot_core.facts.shelf_label import ShelfLabel, ShelfReading
from wire.shapes import answer, endpoint, read_body

from .facts import reference
from .listing import Named
from .models import PracticeFood, ShelfEntry
from .shelf import ShelfEntryView, ShelfPage, UnitChoice, entry_view
from .spoilt import SpoiltKind, fault_of
from .stocking import StockIn, reading_of, shelf_asked, stock_label, take_off


@dataclass(frozen=True, kw_only=True)
class Stocked:
    """Whether an item stands on the shelf."""

    stocked: YesNo


class ShelfView(APIView):
    """The practice's shelf."""

    @endpoint(ShelfPage, errors=())
    def get(self, request: Request) -> HttpResponse:
        return answer(self.page(request))

    @endpoint(ShelfEntryView, StockIn, 201, (400,))
    def post(self, request: Request) -> HttpResponse:
        entry = stock_label(actor_of(request), read_body(StockIn, request))
        return answer(entry_view(entry), status=201)

    def page(self, request: Request) -> ShelfPage:
        """All of it, what was taken off last."""
        practice, facts = practice_of(request), reference()
        entries = ShelfEntry.objects.for_practice(practice)
        notes = {n.food: n for n in PracticeFood.objects.for_practice(practice)}
        # What cannot be read is told among what is spoilt, and hides nothing here.
        items = [entry_view(e, notes) for e in entries if fault_of(SpoiltKind.SHELF, e) is None]
        return ShelfPage(
            asked=practice.shelf_asked,
            items=tuple(sorted(items, key=lambda i: (i.retired, i.name.casefold()))),
            units=tuple(
                UnitChoice(
                    id=k.id,
                    words=k.words,
                    weighs=k.typical_g is None and not k.weight,
                    weight=k.weight,
                    piece=k.piece,
                )
                for k in facts.label_words.unit_kinds.values()
            ),
            nutrients=tuple(
                Named(id=n.key, name=n.name) for n in facts.catalogue.nutrients if not n.parts
            ),
            source_groups=tuple(sorted(facts.allergens.groups)),
        )


class ShelfAskedView(APIView):
    """The practice has answered that nothing stands on its shelf for now."""

    @endpoint(Stocked, errors=())
    def post(self, request: Request) -> HttpResponse:
        shelf_asked(actor_of(request))
        return answer(Stocked(stocked=False))


class ShelfReadView(APIView):
    """What a label means, before anything is saved."""

    work = Work.READ

    @endpoint(ShelfReading, ShelfLabel, errors=(400,))
    def post(self, request: Request) -> HttpResponse:
        return answer(reading_of(practice_of(request), read_body(ShelfLabel, request)))


class ShelfEntryDetailView(APIView):
    """One supplement of the shelf."""

    # Writes the label anew; whoever builds on the shelf keeps what it built first.
    write = staticmethod(stock_label)

    @endpoint(ShelfEntryView, StockIn, errors=(400, 404, 409))
    def put(self, request: Request, slug: str) -> HttpResponse:
        entry = self.write(actor_of(request), read_body(StockIn, request), slug)
        return answer(entry_view(entry))

    @endpoint(ShelfEntryView, Stocked, errors=(400, 404))
    def patch(self, request: Request, slug: str) -> HttpResponse:
        """Take it off, or put it back."""
        stocked = read_body(Stocked, request).stocked
        return answer(entry_view(take_off(actor_of(request), slug, not stocked)))
