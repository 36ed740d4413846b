"""Work out what is due of a case, from all that is on record of it."""

from collections.abc import Iterable, Iterator, Mapping
from datetime import date

from accounts.clocks import in_zone
from accounts.models import Practice
from cases.models import Case
from cases.records import record_of
from django.db import transaction
from django.utils import timezone
from followup.views import follow_view
from interview.models import SentSheet
from kitchen.queries import freezer_of, household_batches, stores_of
from library.facts import reference
from release.models import Release, ReleaseMove, VetRequest
from release.views import since_frozen
from wainscot_core.desk.due import (
    MOST_WHY,
    Asked,
    CaseFacts,
    Due,
    DueKind,
    DuePlace,
    Holder,
    Moved,
    OwnersSheet,
    Standing,
    due_of,
)
from wainscot_core.desk.reopen import OffPath
from wainscot_core.errors import InputError
from wainscot_core.followup.reformulate import is_taken
from wainscot_core.followup.signals import red_flags
from wainscot_core.followup.trend import Trend
from wainscot_core.release.differences import judged_words
from wainscot_core.release.states import ReleaseState

from .models import DeskItem, DeskNote, StaleCase

# So many cases are worked out anew before a desk is shown; the others come with the next time it is. Of those of which only
# the data changed, fewer: there may be thousands at once, and what they take would be waited for at every look.
AT_ONCE = 25
BY_DATA_AT_ONCE = 2
_TOLD = {
    ReleaseState.DRAFT, ReleaseState.CHECKED, ReleaseState.WITH_VET, ReleaseState.APPROVED, ReleaseState.ISSUED,
}  # fmt: skip


def catch_up(practice: Practice, most: int = AT_ONCE) -> int:
    """Work out anew the cases that changed, the first of them; how many are left."""
    every = StaleCase.objects.filter(practice=practice)
    if not every.exists():
        return 0
    stale = every.order_by("pk").select_related("case__dog__client__practice", "case__practice")
    for row in [
        *stale.filter(by_data=False)[:most],
        *stale.filter(by_data=True)[: min(most, BY_DATA_AT_ONCE)],
    ]:
        with in_zone(practice):
            refresh(row.case)
    return every[:1].count()


@transaction.atomic
def refresh(case: Case) -> None:
    """What is due of a case takes the place of what was."""
    StaleCase.objects.filter(case=case).delete()
    items = DeskItem.objects.for_practice(case.practice).filter(case=case)
    seen = {i.recipe: i.on for i in items.filter(kind=DueKind.DATA.value) if i.recipe is not None}
    items.delete()
    if case.archived:
        return
    notes = list(DeskNote.objects.for_practice(case.practice).filter(case=case))
    off: dict[str, DeskNote] = {}
    for note in notes:
        if note.off_until is not None:
            off[note.kind] = note
        else:
            # What was done since is due again by its own day.
            off.pop(note.kind, None)
    try:
        found = due_of(reference(), facts_of(case, notes, seen))
    except InputError as error:
        found = (_unreadable(case, error),)
    DeskItem.objects.bulk_create(_item(case, due, off.get(due.kind.value)) for due in found)


def _unreadable(case: Case, error: InputError) -> Due:
    """A case that cannot be read is not left out: nothing else is known to be due of it."""
    return Due(
        kind=DueKind.DRAFT, holder=Holder.PRACTICE, on=timezone.localdate(case.updated),
        place=DuePlace.INTAKE, what="Mend what stands in the case", why=error.message,
    )  # fmt: skip


def _item(case: Case, due: Due, off: DeskNote | None) -> DeskItem:
    until = off.off_until if off is not None and off.off_until is not None else due.on
    return DeskItem(
        practice=case.practice, case=case, kind=due.kind.value, holder=due.holder.value, on=due.on,
        shown_on=max(due.on, until), what=due.what[:200], why=due.why[:MOST_WHY], place=due.place.value,
        recipe=due.recipe, put_off=off.reason if off is not None and until > due.on else "",
    )  # fmt: skip


def facts_of(
    case: Case, notes: Iterable[DeskNote], moved_since: Mapping[int, date] | None = None
) -> CaseFacts:
    """All that is known of a case that can make something due. moved_since: since when data are known to change the plan of
    a recipe. Raises InputError for rows that hold what cannot be."""
    record, seen = record_of(case), follow_view(case)
    entries = [e.entry for e in reversed(seen.entries) if not e.struck]
    last = max((e.date for e in entries), default=None)
    done: dict[DueKind, date] = {}
    told: dict[DueKind, set[str]] = {}
    for note in notes:
        if note.done_on is not None:
            kind = DueKind(note.kind)
            done[kind] = max(note.done_on, done.get(kind, date.min))
            told.setdefault(kind, set()).update(note.why.splitlines())
    trials = [t for t in seen.trials if not t.now.ended]
    trend = seen.trend
    return CaseFacts(
        record=record, begun=timezone.localdate(case.created), standings=_standings(case),
        asked=_asked(case), entries=entries, series=seen.series,
        trial=trials[0].now.due if trials else (), runs_out=_runs_out(case),
        proposal=trend.proposal.why
        if trend is not None and trend.proposal is not None and not is_taken(record, trend.proposal)
        else "",
        # Of the last days that were put down, however long ago: they stand until somebody says that the vet saw the dog.
        flags=() if last is None else red_flags(reference().trials.red_flags, entries, last), done=done,
        told=told, moved=tuple(_moved(case, moved_since or {})), off_path=_off_path(trend), sheet=_sheet(case),
    )  # fmt: skip


def _moved(case: Case, since: Mapping[int, date]) -> Iterator[Moved]:
    """The plans that are out and would be judged otherwise on what is known today."""
    out = Release.objects.for_practice(case.practice).filter(
        recipe__case=case, recipe__archived=False, state=ReleaseState.ISSUED.value
    )
    for release in out.select_related("frozen__snapshot", "recipe"):
        recipe = release.recipe
        recipe.case = case
        changed, problem = since_frozen(recipe, release.frozen, ReleaseState.ISSUED)
        words = f"cannot be judged any more: {problem}" if problem else ""
        if changed is not None:
            words = judged_words(changed)
        if words:
            on = since.get(recipe.pk, timezone.localdate())
            yield Moved(recipe=recipe.pk, name=recipe.name, since=on, words=words)


def _off_path(trend: Trend | None) -> OffPath | None:
    """How far the last weight is off the path that the plan means."""
    if trend is None or not trend.plan_path or not trend.weights:
        return None
    last = trend.weights[-1]
    meant = next((p.weight_kg for p in reversed(trend.plan_path) if p.date <= last.date), None)
    if meant is None or last.ask:
        return None
    return OffPath(date=last.date, share=last.weight_kg / meant - 1)


def _standings(case: Case) -> list[Standing]:
    releases = Release.objects.for_practice(case.practice).filter(
        recipe__case=case, recipe__archived=False
    )
    moves = {
        row["release"]: row["at"]
        for row in ReleaseMove.objects.filter(release__in=releases)
        .order_by("pk")
        .values("release", "at")
    }
    found = [
        Standing(
            recipe=r.recipe_id, name=r.recipe.name, state=ReleaseState(r.state),
            since=timezone.localdate(moves.get(r.pk, r.created)),
        )
        for r in releases.select_related("recipe") if ReleaseState(r.state) in _TOLD
    ]  # fmt: skip
    told = {s.recipe for s in found}
    found += [
        Standing(recipe=x.pk, name=x.name, state=ReleaseState.DRAFT, since=timezone.localdate(x.updated))
        for x in case.recipes.filter(archived=False) if x.pk not in told
    ]  # fmt: skip
    return found


def _sheet(case: Case) -> OwnersSheet:
    sheets = list(SentSheet.objects.for_practice(case.practice).filter(case=case))
    open_ = [x for x in case.sheet_links.all() if x.is_open]
    waits = [(x, len(x.answers) - len(x.settled)) for x in sheets]
    given = max((x.created for x in open_), default=None)
    return OwnersSheet(
        asked=None if given is None else timezone.localdate(given),
        sent=next((timezone.localdate(x.created) for x, left in waits if left), None),
        waiting=sum(left for _, left in waits),
        answered=given is not None and any(x.created >= given for x in sheets),
    )


def _asked(case: Case) -> list[Asked]:
    open_ = VetRequest.objects.for_practice(case.practice).filter(
        release__recipe__case=case, closed="", answered=None
    )
    return [
        Asked(
            recipe=r.release.recipe_id, vet=r.to_name, on=timezone.localdate(r.created),
            until=timezone.localdate(r.expires),
        )
        for r in open_.select_related("release")
    ]  # fmt: skip


def _runs_out(case: Case) -> date | None:
    """The last day for which the household has cooked for this dog; None where it never did."""
    batches = household_batches(case)
    if not batches:
        return None
    try:
        dogs = freezer_of(stores_of(batches)[0]).dogs
    except InputError:
        return None
    return next((d.runs_out for d in dogs if d.case == case.pk), None)
