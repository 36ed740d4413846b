"""Write an event, within the transaction of what it tells of."""

from accounts.scoping import Actor
from django.dispatch import Signal

from .models import Event, EventKind

# Sent with every event, within its transaction.
written = Signal()

# Longer texts are not repeated in the log: that they changed is said, not what they became.
MOST_SAID = 60


def log(
    who: Actor, kind: EventKind, case: int | None, subject: int | None, **data: object
) -> Event:
    """Someone did something to a record, of a case or of none. `data`: what words_of needs."""
    event = Event.objects.create(
        practice=who.practice, by=who.name, kind=kind, case=case, subject=subject, data=data
    )
    written.send(sender=Event, event=event)
    return event


def short(value: object) -> str | None:
    """A single value as the log repeats it; None for lists, objects and longer texts."""
    if isinstance(value, dict | list | tuple):
        return None
    said = "nothing" if value in (None, "") else str(value)
    return said if len(said) <= MOST_SAID else None
