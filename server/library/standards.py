"""Published standards as a practice sees them: with its checks, and its own edited copies."""

import csv
import io
from collections.abc import Mapping
from dataclasses import replace
from functools import lru_cache
from typing import Any

from accounts.models import Practice
from django.db import transaction
from django.utils.text import slugify
from wainscot_core.errors import InputError
from wainscot_core.nutrients import convert
from wainscot_core.standards import LifeStage, PublishedLimit, Standard

from .facts import reference
from .models import PracticeStandard, StandardCheck
from .practice import touch

COLUMNS = ("stage", "key", "unit", "min", "base", "max", "confidence", "note")


def standards_for(practice: Practice) -> Mapping[str, Standard]:
    """Every standard the practice can choose, rebuilt only after it changed something."""
    revision = practice.library_revision
    return reference().standards if not revision else _standards(practice.pk, revision)


@lru_cache(maxsize=32)
def _standards(practice_id: int, revision: str) -> Mapping[str, Standard]:
    found = dict(reference().standards)
    for own in PracticeStandard.objects.filter(practice_id=practice_id).order_by("name"):
        base = reference().standards[own.base]
        stages = {
            key: LifeStage(
                key,
                base.life_stages[key].name if key in base.life_stages else key,
                f"copy of {base.name}, edited by the practice",
                tuple(
                    PublishedLimit(
                        tag, x["unit"], x.get("min"), x.get("base"), x.get("max"),
                        x.get("confidence", "medium"), x.get("note", ""),
                    )
                    for tag, x in limits.items()
                ),
                _safe_stage(base, key),
            )
            for key, limits in own.stages.items()
        }  # fmt: skip
        found[own.slug] = replace(
            base, id=own.slug, name=own.name, title=f"{own.name}, from {base.title}",
            publisher="the practice", edition=f"version {own.version}", life_stages=stages,
        )  # fmt: skip
    for check in StandardCheck.objects.filter(practice_id=practice_id):
        standard = found.get(check.standard)
        stage = standard.life_stages.get(check.stage) if standard else None
        if standard is None or stage is None:
            continue
        limits = tuple(
            replace(x, checked=f"by {check.by} on {check.on}") if x.key == check.key else x
            for x in stage.limits
        )
        found[check.standard] = replace(
            standard,
            life_stages={**standard.life_stages, check.stage: replace(stage, limits=limits)},
        )
    return found


def _safe_stage(base: Standard, stage: str) -> str:
    """The base's own; for a stage the practice made, the strictest the base has."""
    if stage in base.life_stages:
        return base.life_stages[stage].safe_stage
    growing = [s.safe_stage for s in base.life_stages.values() if s.safe_stage != "adult"]
    return growing[0] if growing else "adult"


def as_rows(standard: Standard) -> list[dict[str, Any]]:
    """A standard as plain rows, as printed."""
    return [
        {
            "stage": stage.id, "key": x.key, "unit": x.unit, "min": x.minimum, "base": x.base,
            "max": x.maximum, "confidence": x.confidence, "note": x.note, "checked": x.checked,
            "name": _name(x.key), **_common(x),
        }
        for stage in standard.life_stages.values()
        for x in stage.limits
    ]  # fmt: skip


def _name(key: str) -> str:
    catalogue = reference().catalogue
    ratio = next((r.name for r in catalogue.ratios if r.key == key), None)
    return ratio or catalogue.get(key).name


def _common(x: PublishedLimit) -> dict[str, Any]:
    """The bounds in the catalogue's unit, so that standards compare on one basis."""
    catalogue = reference().catalogue
    unit = catalogue.get(x.key).unit if x.key in catalogue else "ratio"

    def common(value: float | None) -> float | None:
        if value is None or unit == "ratio":
            return value
        return float(f"{convert(x.key, value, x.unit, unit):.6g}")

    return {"common_min": common(x.minimum), "common_max": common(x.maximum), "common_unit": unit}


def as_csv(standard: Standard) -> str:
    """The rows as CSV."""
    out = io.StringIO()
    writer = csv.DictWriter(out, COLUMNS, extrasaction="ignore", lineterminator="\n")
    writer.writeheader()
    writer.writerows(as_rows(standard))
    return out.getvalue()


def read_rows(rows: list[Mapping[str, Any]]) -> dict[str, dict[str, dict[str, Any]]]:
    """Rows as stages. Raises InputError naming the row (counted from 1) and the column."""
    catalogue = reference().catalogue
    ratios = {r.key for r in catalogue.ratios}
    stages: dict[str, dict[str, dict[str, Any]]] = {}
    if not rows:
        raise InputError("rows", "there is not a single row")
    for number, row in enumerate(rows, start=1):
        key, unit = str(row.get("key", "")), str(row.get("unit", ""))
        where = f"rows[{number}]"
        if key not in catalogue and key not in ratios:
            raise InputError(f"{where}.key", f"{key!r} is not a nutrient or ratio key")
        entry: dict[str, Any] = {
            "unit": unit,
            "confidence": row.get("confidence") or "medium",
            "note": row.get("note") or "",
        }
        for column in ("min", "base", "max"):
            cell = row.get(column)
            if cell in (None, ""):
                continue
            try:
                value = float(cell)  # type: ignore[arg-type]
                if key not in ratios:
                    convert(key, value, unit, catalogue.get(key).unit)
            except ValueError as error:
                raise InputError(f"{where}.{column}", str(error)) from None
            if not 0 <= value < 1e9:
                raise InputError(f"{where}.{column}", "must be 0 or more")
            entry[column] = value
        if (
            entry.get("min") is not None
            and entry.get("max") is not None
            and entry["min"] > entry["max"]
        ):
            raise InputError(f"{where}.max", "the maximum lies under the minimum")
        stages.setdefault(str(row.get("stage") or "adult"), {})[key] = entry
    return stages


@transaction.atomic
def copy_standard(practice: Practice, base: str, name: str) -> PracticeStandard:
    """A copy of a published standard that the practice may edit."""
    if base not in reference().standards:
        raise InputError("base", "copy one of the published standards")
    stages = read_rows(list(as_rows(reference().standards[base])))
    taken = set(PracticeStandard.objects.for_practice(practice).values_list("slug", flat=True))
    slug = next(
        s
        for s in (
            f"own-{slugify(name)[:40]}",
            *(f"own-{slugify(name)[:40]}-{i}" for i in range(2, 999)),
        )
        if s not in taken
    )
    made = PracticeStandard.objects.create(
        practice=practice, slug=slug, name=name, base=base, stages=stages
    )
    touch(practice)
    return made


@transaction.atomic
def edit_standard(own: PracticeStandard, rows: list[Mapping[str, Any]], name: str = "") -> None:
    """Replace the limits of an own standard."""
    own.stages = read_rows(rows)
    own.name = name or own.name
    own.version += 1
    own.save()
    touch(own.practice)


@transaction.atomic
def mark_checked(
    practice: Practice, standard: str, stage: str, key: str, by: str, checked: bool
) -> None:
    """Say that a printed value was compared with the publication, or take it back."""
    known = standards_for(practice).get(standard)
    if known is None or stage not in known.life_stages:
        raise InputError("standard", "there is no such standard and life stage")
    if key not in {x.key for x in known.life_stages[stage].limits}:
        raise InputError("key", "the standard sets no limit for it")
    where = {"standard": standard, "stage": stage, "key": key}
    if checked:
        if not by.strip():
            raise InputError("by", "say who checked it")
        StandardCheck.objects.update_or_create(practice=practice, **where, defaults={"by": by})
    else:
        StandardCheck.objects.for_practice(practice).filter(**where).delete()
    touch(practice)
