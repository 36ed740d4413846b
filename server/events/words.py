"""Events in plain words."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from wainscot_core.conventions import Conventions, when

from .models import Event, EventKind

# Stands in an event whose words were taken away with the client they told of.
ERASED = "erased"

WORDS: Mapping[str, str] = {
    EventKind.CASE_STARTED: "Started the case of {dog}",
    EventKind.CASE_IMPORTED: "Brought in the case of {dog} from a file",
    EventKind.CASE_CHANGED: "Changed {changes}",
    EventKind.CASE_ARCHIVED: "Put the case away",
    EventKind.CASE_TAKEN_BACK: "Took the case back",
    EventKind.CASE_DELETED: "Deleted the case of {dog}",
    EventKind.SET_ASIDE: "Set aside what could not be read in {field}: {held:.300}",
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
    EventKind.SHELF_TAKEN_OFF: "Took {item} off the shelf",
    EventKind.STANDARD_COPIED: "Copied {base} as {name}",
    EventKind.STANDARD_CHANGED: "Changed the standard {name}",
    EventKind.VALUE_CHECKED: "Compared {key} of {standard} with the publication",
    EventKind.VALUE_UNCHECKED: "Took back that {key} of {standard} was compared",
    EventKind.RECIPE_STARTED: "Started the recipe “{recipe}”",
    EventKind.RECIPE_COPIED: "Started the recipe “{recipe}” as a copy of “{source}”",
    EventKind.RECIPE_BROUGHT_IN: "Brought {lines} lines of a text into “{recipe}”, left {left_out} out",
    EventKind.RECIPE_SAVED: "Saved the recipe “{recipe}”, {lines} lines",
    EventKind.RECIPE_DELETED: "Deleted the recipe “{recipe}”",
    EventKind.RECIPE_ARCHIVED: "Put the recipe “{recipe}” away",
    EventKind.RECIPE_TAKEN_BACK: "Took the recipe “{recipe}” back",
    EventKind.VERSION_KEPT: "Kept “{recipe}” as version {number}, “{name}”",
    EventKind.VERSION_RENAMED: "Renamed version {number} “{before}” to “{name}”",
    EventKind.VERSION_DELETED: "Deleted version {number}, “{name}”",
    EventKind.VERSION_RESTORED: "Restored “{recipe}” from version {number}, “{name}”",
    EventKind.VERSION_BRANCHED: "Started “{recipe}” from version {number}, “{name}”",
    EventKind.RECIPE_KEPT: "Kept “{recipe}” to begin others with, as “{name}”",
    EventKind.KEPT_RENAMED: "Renamed the kept recipe “{before}” to “{name}”",
    EventKind.KEPT_DROPPED: "Keeps the recipe “{name}” no longer",
    EventKind.TEXT_KEPT: "Kept the text “{name}”",
    EventKind.TEXT_DROPPED: "Took away the text “{name}”",
    EventKind.MEETING_MADE: "{what} on {at}: appointment made",
    EventKind.MEETING_MOVED: "{what}: appointment set to {at}",
    EventKind.MEETING_OFF: "{what} on {at}: called off",
    EventKind.MEETING_ON: "{what} on {at}: holds again",
    EventKind.INVOICE_GIVEN: "Gave out invoice {number} of {total}",
    EventKind.INVOICE_PAID: "Invoice {number} was paid",
    EventKind.INVOICE_UNPAID: "Invoice {number} was not paid after all",
    EventKind.INVOICE_VOID: "Declared invoice {number} void: {reason}",
    EventKind.FORMULATION_STARTED: "Let the recipe “{recipe}” be adjusted",
    EventKind.ROUND_STARTED: "Let the recipes of the plan be adjusted together",
    EventKind.PLAN_SAVED: "Saved the plan",
    EventKind.LINK_MADE: "Made a link to the {document} of version {number} for {audience}, until {until}",
    EventKind.LINK_OPENED: "The link to the {document} was opened",
    EventKind.LINK_REVOKED: "Took back the link to the {document} for {audience}",
    EventKind.CONCERN_DECIDED: "Decided in “{recipe}”: {what}",
    EventKind.CONCERN_REOPENED: "Took back the decision in “{recipe}”: {what}",
    EventKind.RELEASE_MOVED: "“{recipe}”, version {number}: {before}, now {after}",
    EventKind.VET_ASKED: "Asked {vet} to sign version {number} of “{recipe}”, until {until}",
    EventKind.VET_OPENED: "The vet's page of “{recipe}”, version {number}, was opened",
    EventKind.VET_ANSWERED: "{vet} answered on version {number} of “{recipe}”: {answer}",
    EventKind.BATCH_PLANNED: "Planned batch {code} of “{recipe}” for {days} days",
    EventKind.BATCH_WEIGHED: "Weighed the finished batch {code}: {grams} g",
    EventKind.BATCH_THROWN: "Threw batch {code} away: {reason}",
    EventKind.DAY_PUT_DOWN: "Put down {day}",
    EventKind.DAY_STRUCK: "What was put down of {day} does not count",
    EventKind.DAY_COUNTS: "What was put down of {day} counts again",
    EventKind.LAB_PUT_DOWN: "Put down {test} of {day}",
    EventKind.LAB_STRUCK: "{test} of {day} does not count",
    EventKind.LAB_COUNTS: "{test} of {day} counts again",
    EventKind.TRIAL_STARTED: "Started an elimination trial on {foods}",
    EventKind.TRIAL_MOVED: "Elimination trial, {day}: {what}",
    EventKind.TRIAL_MOVE_UNDONE: "Took back of the elimination trial: {what}",
    EventKind.DUE_DONE: "Said that what was due is done ({what}), {day}",
    EventKind.DUE_PUT_OFF: "Put off what is due ({what}) to {day}: {reason}",
    EventKind.DUE_REMINDED: "Reminded the owner of what is due ({what})",
    EventKind.CLIENT_ERASED: "Erased a client with {dogs} dogs, {cases} cases and {signed} plans that were signed or to be signed: {reason}",
    EventKind.PRACTICE_BROUGHT: "Records were brought in from elsewhere: {rows} rows, written {made} by Wainscot {version}",
    EventKind.BACKED_UP: "Made a backup of {rows} rows",
    EventKind.CASE_SEEN: "Looked at the case",
    EventKind.GIVEN_OUT: "Took out {what}",
    EventKind.SIGNED_IN: "{name} signed in",
    EventKind.SIGN_IN_REFUSED: "A sign-in as {name} was refused",
    EventKind.SIGNED_OUT: "{name} signed out",
    EventKind.SESSIONS_ENDED: "{name} ended {count} sessions elsewhere",
    EventKind.PERSON_INVITED: "Asked {email} to join as {role}",
    EventKind.INVITATION_TAKEN_BACK: "Took back the invitation of {email}",
    EventKind.PERSON_JOINED: "{name} joined as {role}",
    EventKind.PERSON_CHANGED: "{name} is {role} from now on",
    EventKind.PERSON_LEFT: "{name} has left",
    EventKind.PERSON_BACK: "{name} is back",
    EventKind.PASSWORD_CHANGED: "{name} set another password",
    EventKind.RESET_ASKED: "A link for a new password of {name} was made",
    EventKind.PASSWORD_RESET: "{name} set a new password by a link",
    EventKind.EMAIL_CHANGED: "{name} gave another e-mail address",
    EventKind.SECOND_FACTOR_ON: "{name} asks for a code at sign-in",
    EventKind.SECOND_FACTOR_OFF: "{name} asks for no code at sign-in any more",
    EventKind.FEED_GIVEN: "Made an address by which a calendar reads the desk, until {until}",
    EventKind.FEED_CLOSED: "Took back the address by which a calendar reads the desk",
    EventKind.REFORMULATED: "Began a new version of the plan; taken over from the follow-up: {what}",
    EventKind.DUE_TAKEN_BACK: "Took back what was said of what is due ({what})",
    EventKind.DIARY_GIVEN: "Made an address by which the owner puts days down, until {until}",
    EventKind.DIARY_CLOSED: "Took back the address by which the owner puts days down",
    EventKind.SHEET_GIVEN: "Made an address by which the owner fills her sheet in, until {until}",
    EventKind.SHEET_CLOSED: "Took back the address by which the owner fills her sheet in",
    EventKind.SHEET_SENT: "Sent a sheet with {answers}",
    EventKind.SHEET_SETTLED: "Looked through the owner's sheet: {what} ({made})",
    EventKind.BATCH_STOCKED: "Batch {code} is fed from {day}; {gone} boxes of it are gone",
}


@dataclass(frozen=True, kw_only=True)
class EventView:
    """Something that was done. kind: one of EventKind, or of a newer version; times: how often in a row; at: the last of
    them; case: its number, which may be gone; dog: of it, where several cases are told of together."""

    id: int
    at: datetime
    by: str
    kind: str
    case: int | None
    dog: str = ""
    what: str
    times: int


@dataclass(frozen=True, kw_only=True)
class EventPage:
    """Events, newest first. next: what to ask for the older ones with, None at the end."""

    events: tuple[EventView, ...]
    next: int | None


def words_of(event: Event, written: Conventions | None = None) -> str:
    """What an event tells, in a sentence without its full stop; of one that holds what cannot be read, that it does.
    written: how days are written, None for as they are stored."""
    try:
        data: dict[str, Any] = dict(event.data)
        if data.get(ERASED) is True:
            return f"“{event.kind[:40]}”, of a client whose records were erased"
        if "changes" in data:
            data["changes"] = "; ".join(_change(_written(c, written)) for c in data["changes"])
        data = _written(data, written)
        return WORDS[event.kind].format_map(data)
    except (LookupError, TypeError, ValueError, AttributeError):
        # A row of a newer version, or one that was spoilt: none of the others is hidden by it.
        return f"“{event.kind[:40]}”: what was put down of it cannot be read"


def _written(data: Mapping[str, Any], as_by: Conventions | None) -> dict[str, Any]:
    if as_by is None:
        return dict(data)
    return {k: when(as_by, v) if isinstance(v, str) else v for k, v in data.items()}


# What a field is called where its own name is no plain word, by the end of its path: the longest that fits.
FIELDS: Mapping[str, str] = {
    "dog.weight_kg": "the weight in kg", "dog.ideal_weight_kg": "the ideal weight in kg",
    "dog.adult_weight_kg": "the adult weight in kg", "dog.age_months": "the age in months",
    "dog.name": "the dog's name", "title": "the title of the case",
    "energy_method": "where the energy comes from", "energy_reason": "the reason for the energy",
    "kcal_per_day": "the kcal a day", "multiplier": "the multiple of RER",
    "me_method": "how the energy of foods is reckoned", "data_policy": "which values count",
    "life_stage_confirmed": "that the life stage holds", "way_of_feeding": "the way of feeding",
    "strict_groups": "which nutrients count strictly", "intake.what": "what is asked",
    "conditions_asked": "that the conditions are complete",
    "reactions_asked": "that the reactions are complete",
    "medicines_asked": "that the medicines are complete", "weights": "the weights measured",
    "red_flags.present": "the red flag seen", "red_flags.told": "who was told of the red flag",
    "red_flags.on": "when the red flag was seen", "red_flags.cleared": "that the vet cleared the case",
    "red_flags.cleared_by": "who cleared the case", "intake.vulnerable_home": "who lives at home", "intake.store": "how food is stored",
    "intake.costs_now": "what is fed now costs", "intake.spend": "what may be spent", "intake.cook": "who cooks and how",
    "conventions.body": "the unit of a dog's weight", "conventions.food": "the unit of food",
    "conventions.measures": "cups and spoons", "conventions.temperature": "the unit of temperatures",
    "conventions.dates": "how dates are written", "conventions.numbers": "how numbers are written",
    "time_zone": "the time zone", "invoicing.tax_name": "the name of the tax",
    "invoicing.tax_percent": "the rate of the tax", "invoicing.tax_number": "the tax number",
    "invoicing.days_to_pay": "the days to pay", "invoicing.pay_to": "where to pay",
    "invoicing.note": "the note on invoices", "invoicing.first": "the first invoice number",
    "conventions.currency": "the money", "conventions.spelling": "the spelling",
}  # fmt: skip


def _field(path: str) -> str:
    parts = path.split(".")
    for start in range(len(parts)):
        found = FIELDS.get(".".join(parts[start:]))
        if found:
            return found
    return parts[-1].replace("_", " ")


def _change(change: Mapping[str, Any]) -> str:
    name = _field(str(change["path"]))
    was, now = change.get("was"), change.get("now")
    return name if was is None or now is None else f"{name} from {was} to {now}"


def page_of(events: Sequence[Event], most: int, written: Conventions) -> EventPage:
    """At most so many events as they are shown to whom writes things so, of the newest-first ones given (one more than shown
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
                    id=event.pk, at=event.at, by=event.by, kind=event.kind, case=event.case,
                    what=words_of(event, written), times=1,
                )
            )  # fmt: skip
        before = event
    rest = len(events) > most
    return EventPage(events=tuple(shown), next=events[most - 1].pk if rest else None)


def _same(one: Event, other: Event) -> bool:
    if one.kind != other.kind or one.kind not in (EventKind.RECIPE_SAVED, EventKind.PLAN_SAVED):
        return False
    return (one.by, one.case, one.subject) == (other.by, other.case, other.subject)
