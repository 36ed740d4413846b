"""Published standards as a practice sees them: with its checks, and its own edited copies."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from functools import lru_cache
from typing import Any

from accounts.models import Practice
from accounts.scoping import Actor, find_own, looked_at
from django.db import transaction
from django.http import Http404
from django.utils import timezone
from django.utils.text import slugify
from events.log import log
from events.models import EventKind
from wainscot_core.changes import FieldChange, changed
from wainscot_core.errors import InputError
from wainscot_core.formats.standard_table import (
    StageLimits,
    checked_by,
    read_rows,
    rows_of,
)
from wainscot_core.recipe.numbers import read_number
from wainscot_core.targets.beside import (
    Printed,
    must_stand_as_read,
    over_each_other,
    stands_as_read,
)
from wainscot_core.targets.standards import PublishedLimit, Standard
from wire.errors import CollisionError

from .actions import free_slug, touch
from .copies import own_copy
from .facts import reference
from .models import PracticeStandard, StandardCheck
from .views import StandardFull, StandardsBeside, StandardStage, standard_full


def standards_for(practice: Practice) -> Mapping[str, Standard]:
    """Every standard the practice can choose, rebuilt only after it changed something."""
    revision = practice.library_revision
    return reference().standards if not revision else _standards(practice.pk, revision)


@lru_cache(maxsize=32)
def _standards(practice_id: int, revision: str) -> Mapping[str, Standard]:
    found = dict(reference().standards)
    for own in PracticeStandard.objects.filter(practice_id=practice_id).order_by("name"):
        try:
            found[own.slug] = own_copy(own)
        except InputError:
            # It cannot be chosen, and a case that stands on it says so; it is told among what is spoilt.
            continue
    for check in StandardCheck.objects.filter(practice_id=practice_id):
        standard = found.get(check.standard)
        if standard is not None and _still_holds(standard, check):
            words = f"by {check.by} on {check.on}"
            found[check.standard] = checked_by(standard, check.stage, check.key, words)
    return found


def _still_holds(standard: Standard, check: StandardCheck) -> bool:
    """Whether a limit stands as it was read off. A tick from before figures were read holds for what was
    published, and for no copy: what stood in that one then is not known."""
    limit = _limit_of(standard, check.stage, check.key)
    if limit is None:
        return False
    if not check.read:
        return standard.id in reference().standards
    return stands_as_read(
        limit, Printed(min=check.read_min, base=check.read_base, max=check.read_max)
    )


def _limit_of(standard: Standard, stage: str, key: str) -> PublishedLimit | None:
    found = standard.life_stages.get(stage)
    return next((x for x in found.limits if x.key == key), None) if found else None


def _stored(stages: StageLimits) -> dict[str, Any]:
    return {
        stage: {
            key: {
                "unit": x.unit, "min": x.minimum, "base": x.base, "max": x.maximum,
                "strength": x.strength, "confidence": x.confidence, "note": x.note,
            }
            for key, x in limits.items()
        }
        for stage, limits in stages.items()
    }  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class ReadOff(Printed):
    """What somebody read in a standard's publication."""

    stage: str
    key: str


@transaction.atomic
def copy_standard(
    who: Actor, base: str, name: str, read: ReadOff | None = None, by: str = ""
) -> PracticeStandard:
    """A copy of a published standard that the practice may edit; `read`: a row that is printed
    otherwise, as `by` read it."""
    if base not in reference().standards:
        raise InputError("base", "copy one of the published standards")
    catalogue = reference().catalogue
    rows = [asdict(row) for row in rows_of(catalogue, reference().standards[base])]
    if read:
        row = next((x for x in rows if (x["stage"], x["key"]) == (read.stage, read.key)), None)
        if row is None:
            raise InputError("read.key", "the standard sets no limit for it")
        row |= {"min": read.min, "base": read.base, "max": read.max}
    practice = who.practice
    taken = set(PracticeStandard.objects.for_practice(practice).values_list("slug", flat=True))
    made = PracticeStandard.objects.create(
        practice=practice,
        slug=free_slug(f"own-{slugify(name)[:40]}", taken),
        name=name,
        base=base,
        stages=_stored(read_rows(catalogue, rows)),
    )
    touch(practice)
    log(
        who,
        EventKind.STANDARD_COPIED,
        None,
        made.pk,
        base=reference().standards[base].name,
        name=name,
    )
    if read:
        mark_checked(who, made.slug, read.stage, read.key, by, read)
    return made


def full_of(practice: Practice, standard_id: str) -> StandardFull:
    """A standard of the practice with its rows. Raises Http404 when it has none of this name."""
    standard = standards_for(practice).get(standard_id)
    if standard is None:
        raise Http404("No standard with this name.")
    own = PracticeStandard.objects.for_practice(practice).filter(slug=standard_id).first()
    return standard_full(standard, own)


def fields_of(own: PracticeStandard) -> dict[str, Any]:
    """An own standard as plain data, to be changed field by field."""
    return {"name": own.name, "stages": own.stages}


@transaction.atomic
def change_standard(who: Actor, pk: int, changes: Sequence[FieldChange]) -> None:
    """Set single limits of an own standard (stages.STAGE.KEY.min, .base, .max), or its name.

    Raises InputError naming the field, CollisionError where someone else changed one; nothing is
    written then.
    """
    own = find_own(PracticeStandard, who.practice, lock=True, pk=pk)
    data, collisions = changed(fields_of(own), changes, settle=_as_read)
    if collisions:
        raise CollisionError(collisions)
    data = _as_read(data)
    if not str(data["name"]).strip():
        raise InputError("name", "is missing")
    rows = [
        {**limit, "stage": stage, "key": key}
        for stage, limits in data["stages"].items()
        for key, limit in limits.items()
    ]
    try:
        stages = read_rows(reference().catalogue, rows)
    except InputError as error:
        at = re.match(r"rows\[(\d+)\](.*)", error.field)
        row = rows[int(at[1]) - 1] if at else None
        field = f"stages.{row['stage']}.{row['key']}{at[2]}" if at and row else error.field
        raise InputError(field, error.message) from None
    own.stages, own.name = _stored(stages), str(data["name"]).strip()[:120]
    own.version += 1
    own.save()
    touch(who.practice)
    log(who, EventKind.STANDARD_CHANGED, None, own.pk, name=own.name)


def _as_read(data: Mapping[str, Any]) -> dict[str, Any]:
    """The fields with their figures read as people write them. Raises InputError naming one."""

    def figure(path: str, value: object) -> object:
        if not isinstance(value, str):
            return value
        try:
            return read_number(value) if value.strip() else None
        except InputError as error:
            raise InputError(path, error.message) from None

    bounds = ("min", "base", "max")
    return {
        **data,
        "stages": {
            stage: {
                key: {
                    k: figure(f"stages.{stage}.{key}.{k}", v) if k in bounds else v
                    for k, v in limit.items()
                }
                for key, limit in limits.items()
            }
            for stage, limits in data["stages"].items()
        },
    }


@transaction.atomic
def edit_standard(
    who: Actor,
    pk: int,
    rows: Sequence[Mapping[str, Any]],
    name: str = "",
    version: int | None = None,
) -> None:
    """Replace the limits of an own standard if `version` is the stored one.

    Raises InputError naming the row and the column, StaleWriteError for an older version.
    """
    own = find_own(PracticeStandard, who.practice, lock=True, pk=pk)
    looked_at(own, version, lambda: full_of(who.practice, own.slug))
    own.stages = _stored(read_rows(reference().catalogue, rows))
    own.name = name or own.name
    own.version += 1
    own.save()
    touch(who.practice)
    log(who, EventKind.STANDARD_CHANGED, None, own.pk, name=own.name)


@transaction.atomic
def mark_checked(
    who: Actor, standard: str, stage: str, key: str, by: str, read: Printed | None
) -> None:
    """Say that a value was read off its publication as it stands here, or take that back with None.

    Raises InputError naming the bound that was read otherwise; nothing is signed then.
    """
    practice = who.practice
    known = standards_for(practice).get(standard)
    if known is None or stage not in known.life_stages:
        raise InputError("standard", "there is no such standard and life stage")
    limit = _limit_of(known, stage, key)
    if limit is None:
        raise InputError("key", "the standard sets no limit for it")
    where: dict[str, Any] = {"standard": standard, "stage": stage, "key": key}
    if read:
        if not by.strip():
            raise InputError("by", "say who checked it")
        must_stand_as_read(limit, read)
        said = {"read_min": read.min, "read_base": read.base, "read_max": read.max}
        StandardCheck.objects.update_or_create(
            {"by": by, "read": True, "on": timezone.localdate(), **said}, practice=practice, **where
        )
    else:
        StandardCheck.objects.for_practice(practice).filter(**where).delete()
    touch(practice)
    log(
        who, EventKind.VALUE_CHECKED if read else EventKind.VALUE_UNCHECKED, None, None,
        key=key, standard=f"{known.name}, {known.life_stages[stage].name}",
    )  # fmt: skip


def beside_for(practice: Practice, dog: str) -> StandardsBeside:
    """All standards over each other for one kind of dog. Raises InputError naming the kinds."""
    kinds = reference().kinds_of_dogs
    kind = next((k for k in kinds if k.id == dog), None)
    if kind is None:
        raise InputError("dog", f"is none; use one of: {', '.join(k.id for k in kinds)}")
    found = over_each_other(reference().catalogue, standards_for(practice), kind)
    own = PracticeStandard.objects.for_practice(practice).values_list("slug", flat=True)
    return StandardsBeside(
        **vars(found),
        dog=kind.id,
        dogs=tuple(StandardStage(id=k.id, name=k.name) for k in kinds),
        own=tuple(own.order_by("slug")),
    )
