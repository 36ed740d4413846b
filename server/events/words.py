"""Events in plain words."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from .models import Event, EventKind

WORDS: Mapping[str, str] = {
    EventKind.CASE_STARTED: "Started the case of {dog}",
    EventKind.CASE_IMPORTED: "Brought in the case of {dog} from a file",
    EventKind.CASE_CHANGED: "Changed {changes}",
    EventKind.CASE_ARCHIVED: "Put the case away",
    EventKind.CASE_TAKEN_BACK: "Took the case back",
    EventKind.CASE_DELETED: "Deleted the case of {dog}",
    EventKind.LIMIT_DECIDED: "Recorded a decision of {by} on the {bound} of {key}: {value}",
    EventKind.LIMIT_UNDECIDED: "Took back the decision on the {bound} of {key}",
    EventKind.CLIENT_CHANGED: "Changed {changes}",
    EventKind.PRACTICE_CHANGED: "Changed {changes}",
    EventKind.FOOD_MARKED: "Marked {food}: {mark}",
    EventKind.FOOD_NOTED: "Noted {said} of {food}",
    EventKind.FOOD_ADDED: "Added the food {food}",
    EventKind.FOOD_CHANGED: "Changed the food {food}, revision {revision}",
    EventKind.FOODS_IMPORTED: "Imported {count} foods",
    EventKind.SHELF_STOCKED: "Put {item} on the shelf",
    EventKind.STANDARD_COPIED: "Copied {base} as {name}",
    EventKind.STANDARD_CHANGED: "Changed the standard {name}",
    EventKind.VALUE_CHECKED: "Compared {key} of {standard} with the publication",
    EventKind.VALUE_UNCHECKED: "Took back that {key} of {standard} was compared",
    EventKind.RECIPE_STARTED: "Started the recipe “{recipe}”",
    EventKind.RECIPE_COPIED: "Started the recipe “{recipe}” as a copy of “{source}”",
    EventKind.RECIPE_SAVED: "Saved the recipe “{recipe}”, {lines} lines",
    EventKind.RECIPE_DELETED: "Deleted the recipe “{recipe}”",
    EventKind.RECIPE_ARCHIVED: "Put the recipe “{recipe}” away",
    EventKind.RECIPE_TAKEN_BACK: "Took the recipe “{recipe}” back",
    EventKind.VERSION_KEPT: "Kept “{recipe}” as version {number}, “{name}”",
    EventKind.VERSION_RENAMED: "Renamed version {number} “{before}” to “{name}”",
    EventKind.VERSION_DELETED: "Deleted version {number}, “{name}”",
    EventKind.VERSION_RESTORED: "Restored “{recipe}” from version {number}, “{name}”",
    EventKind.VERSION_BRANCHED: "Started “{recipe}” from version {number}, “{name}”",
    EventKind.FORMULATION_STARTED: "Let the recipe “{recipe}” be adjusted",
    EventKind.PLAN_SAVED: "Saved the plan",
    EventKind.LINK_MADE: "Made a link to the {document} of version {number} for {audience}, until {until}",
    EventKind.LINK_OPENED: "The link to the {document} was opened",
    EventKind.LINK_REVOKED: "Took back the link to the {document} for {audience}",
}


@dataclass(frozen=True, kw_only=True)
class EventView:
    """Something that was done. times: how often in a row; at: the last of them."""

    id: int
    at: datetime
    by: str
    kind: EventKind
    what: str
    times: int


@dataclass(frozen=True, kw_only=True)
class EventPage:
    """Events, newest first. next: what to ask for the older ones with, None at the end."""

    events: tuple[EventView, ...]
    next: int | None


def words_of(event: Event) -> str:
    """What an event tells, in a sentence without its full stop."""
    data: dict[str, Any] = dict(event.data)
    if "changes" in data:
        data["changes"] = "; ".join(_change(c) for c in data["changes"])
    return WORDS[event.kind].format_map(data)


def _change(change: Mapping[str, Any]) -> str:
    name = str(change["path"]).rsplit(".", 1)[-1].replace("_", " ")
    was, now = change.get("was"), change.get("now")
    return name if was is None or now is None else f"{name} from {was} to {now}"


def page_of(events: Sequence[Event], most: int) -> EventPage:
    """At most so many events as they are shown, of the newest-first ones given (one more than shown
    tells that there are older ones). The same thing done again in a row is told once, with how often.
    """
    shown: list[EventView] = []
    before: Event | None = None
    for event in events[:most]:
        if before is not None and _same(before, event):
            last = shown[-1]
            shown[-1] = EventView(**{**vars(last), "times": last.times + 1})
        else:
            shown.append(
                EventView(
                    id=event.pk, at=event.at, by=event.by, kind=EventKind(event.kind),
                    what=words_of(event), times=1,
                )
            )  # fmt: skip
        before = event
    rest = len(events) > most
    return EventPage(events=tuple(shown), next=events[most - 1].pk if rest else None)


def _same(one: Event, other: Event) -> bool:
    if one.kind != other.kind or one.kind not in (EventKind.RECIPE_SAVED, EventKind.PLAN_SAVED):
        return False
    return (one.by, one.case, one.subject) == (other.by, other.case, other.subject)
