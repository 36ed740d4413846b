"""Which cases changed since what is due of them was worked out."""

import hashlib
from typing import Any

from accounts.models import Practice
from cases.models import Case
from django.conf import settings
from django.db import transaction
from events.models import LOOKS, Event, EventKind
from release.models import Release
from wainscot_core.release.states import ReleaseState
from wainscot_core.version import VERSION

from .models import SeenData, StaleCase

# What a practice knows of foods and limits: plans that are out may be judged otherwise by it.
_DATA = {
    EventKind.FOOD_NOTED, EventKind.FOOD_ADDED, EventKind.FOOD_CHANGED, EventKind.FOODS_IMPORTED,
    EventKind.SHELF_STOCKED, EventKind.SHELF_TAKEN_OFF, EventKind.STANDARD_CHANGED,
}  # fmt: skip


def touched(event: Event, **_: Any) -> None:
    """Something was written of a case, or of what its plan is judged by: what is due of it is worked out anew before the
    desk is shown."""
    if event.kind in LOOKS:
        return
    if event.case is None:
        if event.kind in _DATA:
            data_changed(event.practice)
    # A case that is deleted is told of before it goes; it takes its row with it.
    elif Case.objects.filter(pk=event.case).exists():
        StaleCase.objects.update_or_create(
            case_id=event.case, defaults={"practice": event.practice, "by_data": False}
        )


def data_changed(practice: Practice | None = None) -> None:
    """Plans that are out are looked through anew: of one practice, or of all."""
    out = Release.objects.filter(state=ReleaseState.ISSUED.value, recipe__archived=False)
    if practice is not None:
        out = out.filter(practice=practice)
    cases = out.values_list("recipe__case", "practice").distinct()
    StaleCase.objects.bulk_create(
        (StaleCase(case_id=case, practice_id=of, by_data=True) for case, of in cases.iterator()),
        batch_size=500, ignore_conflicts=True,
    )  # fmt: skip


@transaction.atomic
def look_at_reference() -> bool:
    """After the application's own data or rules changed, all plans that are out are looked through anew; whether they
    did."""
    mark = _fingerprint()
    if SeenData.objects.filter(fingerprint=mark).exists():
        return False
    SeenData.objects.all().delete()
    SeenData.objects.create(fingerprint=mark)
    data_changed()
    return True


def _fingerprint() -> str:
    digest = hashlib.sha256(VERSION.encode())
    for path in sorted(settings.REFERENCE_DIR.rglob("*")):
        if path.is_file():
            digest.update(path.relative_to(settings.REFERENCE_DIR).as_posix().encode())
            digest.update(path.read_bytes())
    return digest.hexdigest()
