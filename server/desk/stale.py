"""Which cases changed since what is due of them was worked out."""

from typing import Any

from cases.models import Case
from events.models import Event

from .models import StaleCase


def touched(event: Event, **_: Any) -> None:
    """Something was written of a case: what is due of it is worked out anew before the desk is shown."""
    # A case that is deleted is told of before it goes; it takes its row with it.
    if event.case is not None and Case.objects.filter(pk=event.case).exists():
        StaleCase.objects.get_or_create(case_id=event.case, defaults={"practice": event.practice})
