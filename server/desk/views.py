"""The desk: what is due of all cases of a practice, by who holds it."""

from dataclasses import dataclass
from datetime import date, timedelta

from accounts.conventions import letterhead_of
from accounts.models import Practice
from cases.models import Case
from django.utils import timezone
from library.facts import reference
from library.models import ShelfEntry
from wainscot_core.desk.due import DueKind, DuePlace, Holder
from wainscot_core.desk.remind import CAN_REMIND

from .actions import DONE_BY_SAYING
from .models import DeskItem
from .refresh import catch_up

# So many things that are due are looked at; so far ahead.
MOST_ITEMS = 150
AHEAD_DAYS = 14
# Of a case there may be very much that a desk does not show.
_SHOWN = (
    "case_id", "kind", "holder", "on", "shown_on", "what", "why", "place", "recipe", "put_off", "case__conditions",
    "case__dog__name", "case__dog__breed", "case__dog__client__name", "case__dog__client__email",
)  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class DeskThing:
    """Something that is due. late_days: since when; put_off: why it is shown later than its day; can_say_done: it is done by
    saying so; can_remind: the owner can be written to of it."""

    kind: DueKind
    on: date
    shown_on: date
    late_days: int
    what: str
    why: str
    place: DuePlace
    recipe: int | None
    put_off: str
    can_say_done: bool
    can_remind: bool


@dataclass(frozen=True, kw_only=True)
class DeskRow:
    """A dog of which something is due. things: what is first of all first; holder: who holds that."""

    case: int
    dog: str
    about: str
    client: str
    holder: Holder
    things: tuple[DeskThing, ...]


@dataclass(frozen=True, kw_only=True)
class Beginning:
    """What a practice sets up before its first dog. letterhead: its lines; on_shelf: so many supplements stand there;
    shelf_asked: it has said what does, or that nothing does."""

    letterhead: tuple[str, ...]
    on_shelf: int
    shelf_asked: bool


@dataclass(frozen=True, kw_only=True)
class DeskView:
    """What is due up to a day, and what comes in the two weeks after. more: there is more than is shown; behind: some cases
    are being worked out anew. beginning: while there is no case at all."""

    today: date
    due: tuple[DeskRow, ...]
    coming: tuple[DeskRow, ...]
    more: bool
    behind: bool
    beginning: Beginning | None


def desk_view(practice: Practice) -> DeskView:
    """The desk of a practice, today."""
    behind = catch_up(practice) > 0
    today = timezone.localdate()
    items = list(
        DeskItem.objects.for_practice(practice)
        .filter(shown_on__lte=today + timedelta(days=AHEAD_DAYS))
        .select_related("case__dog__client")
        .only(*_SHOWN)
        .order_by("shown_on", "pk")[: MOST_ITEMS + 1]
    )
    by_case: dict[int, list[DeskItem]] = {}
    for item in items[:MOST_ITEMS]:
        by_case.setdefault(item.case_id, []).append(item)
    rows = [_row(found, today) for found in by_case.values()]
    return DeskView(
        today=today, due=tuple(r for r in rows if r.things[0].shown_on <= today),
        coming=tuple(r for r in rows if r.things[0].shown_on > today),
        more=len(items) > MOST_ITEMS, behind=behind,
        beginning=None if rows or _has_cases(practice) else beginning_of(practice),
    )  # fmt: skip


def _has_cases(practice: Practice) -> bool:
    return Case.objects.for_practice(practice).exists()


def beginning_of(practice: Practice) -> Beginning:
    """How far a new practice has set itself up."""
    stocked = ShelfEntry.objects.for_practice(practice).filter(retired=False)
    return Beginning(
        letterhead=letterhead_of(practice).lines, on_shelf=stocked.count(),
        shelf_asked=practice.shelf_asked,
    )  # fmt: skip


def _row(items: list[DeskItem], today: date) -> DeskRow:
    """What the practice holds stands before what others do; a symptom before all."""
    case = items[0].case
    order = {holder.value: n for n, holder in enumerate(Holder)}
    kinds = {kind.value: n for n, kind in enumerate(DueKind)}
    ranked = sorted(
        items, key=lambda i: (i.shown_on > today, order[i.holder], kinds[i.kind], i.shown_on)
    )  # fmt: skip
    dog = case.dog
    return DeskRow(
        case=case.pk, dog=dog.name, about=_about(case), client=dog.client.name,
        holder=Holder(ranked[0].holder), things=tuple(_thing(item, today) for item in ranked),
    )  # fmt: skip


def _about(case: Case) -> str:
    first = next((d for d in case.conditions if isinstance(d, dict)), {})
    condition = reference().conditions.get(str(first.get("id", "")))
    name = condition.name if condition is not None else str(first.get("name", ""))
    return ", ".join(x for x in (case.dog.breed, name) if x)


def _thing(item: DeskItem, today: date) -> DeskThing:
    kind = DueKind(item.kind)
    return DeskThing(
        kind=kind, on=item.on, shown_on=item.shown_on, late_days=max(0, (today - item.on).days),
        what=item.what, why=item.why, place=DuePlace(item.place), recipe=item.recipe,
        put_off=item.put_off, can_say_done=kind in DONE_BY_SAYING,
        can_remind=kind in CAN_REMIND and bool(item.case.dog.client.email),
    )  # fmt: skip
