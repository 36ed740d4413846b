"""A standard as a table of rows: to be shown, compared, exported, edited and read back."""

import csv
import io
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from wainscot_core.cells import cell_back, csv_text

from ..confidence import Confidence
from ..errors import InputError
from ..facts.nutrients import Catalogue
from ..targets.standards import LifeStage, PublishedLimit, Standard, Strength
from ..units import convert

COLUMNS = ("stage", "key", "unit", "min", "base", "max", "strength", "confidence", "note")
DEFAULT_STAGE = "adult"
DEFAULT_CONFIDENCE = "medium"
MOST_VALUE = 1e9


@dataclass(frozen=True, kw_only=True)
class StandardRow:
    """One limit as printed, per 1000 kcal ME, and in the catalogue's unit so that standards compare
    on one basis. strength: standard, or advised where food is not failed against it. checked: who compared it with the publication, and when."""

    stage: str
    key: str
    unit: str
    min: float | None
    base: float | None
    max: float | None
    strength: Strength
    confidence: Confidence
    note: str
    checked: str
    name: str
    common_min: float | None
    common_max: float | None
    common_unit: str


def rows_of(catalogue: Catalogue, standard: Standard) -> tuple[StandardRow, ...]:
    """Every limit of every life stage."""
    return tuple(
        _row(catalogue, stage, limit)
        for stage in standard.life_stages.values()
        for limit in stage.limits
    )


def _row(catalogue: Catalogue, stage: LifeStage, limit: PublishedLimit) -> StandardRow:
    unit = catalogue.get(limit.key).unit if limit.key in catalogue else "ratio"

    def common(value: float | None) -> float | None:
        if value is None or unit == "ratio":
            return value
        return float(f"{convert(limit.key, value, limit.unit, unit):.6g}")

    return StandardRow(
        stage=stage.id,
        key=limit.key,
        unit=limit.unit,
        min=limit.minimum,
        base=limit.base,
        max=limit.maximum,
        strength=limit.strength,
        confidence=limit.confidence,
        note=limit.note,
        checked=limit.checked,
        name=catalogue.name_of(limit.key),
        common_min=common(limit.minimum),
        common_max=common(limit.maximum),
        common_unit=unit,
    )


def write_rows(rows: Sequence[StandardRow]) -> str:
    """The rows as CSV, as printed."""
    return csv_text([COLUMNS, *([getattr(row, column) for column in COLUMNS] for row in rows)])


def csv_rows(text: str) -> list[dict[str, Any]]:
    """The rows of a CSV with the export's columns."""
    rows = csv.DictReader(io.StringIO(text.lstrip("\ufeff")))
    return [{k: cell_back(v) if isinstance(v, str) else v for k, v in row.items()} for row in rows]


StageLimits = dict[str, dict[str, PublishedLimit]]


def read_rows(catalogue: Catalogue, rows: Sequence[Mapping[str, Any]]) -> StageLimits:
    """Rows as limits by life stage and key. Raises InputError naming the row (counted from 1) and
    the column."""
    stages: StageLimits = {}
    if not rows:
        raise InputError("rows", "there is not a single row")
    for number, row in enumerate(rows, start=1):
        try:
            limit = _read_row(catalogue, row)
        except InputError as error:
            raise error.under(f"rows[{number}]") from None
        stages.setdefault(str(row.get("stage") or DEFAULT_STAGE), {})[limit.key] = limit
    return stages


def _read_row(catalogue: Catalogue, row: Mapping[str, Any]) -> PublishedLimit:
    key, unit = str(row.get("key") or ""), str(row.get("unit") or "")
    if key not in catalogue and key not in {r.key for r in catalogue.ratios}:
        raise InputError("key", f"{key!r} is not a nutrient or ratio key")
    bounds = dict(_bounds(catalogue, key, unit, row))
    low, high = bounds.get("min"), bounds.get("max")
    if low is not None and high is not None and low > high:
        raise InputError("max", "the maximum lies under the minimum")
    return PublishedLimit(
        key, unit, low, bounds.get("base"), high,
        _confidence(str(row.get("confidence") or DEFAULT_CONFIDENCE)), str(row.get("note") or ""),
        strength=_strength(str(row.get("strength") or Strength.STANDARD)),
    )  # fmt: skip


def _confidence(text: str) -> Confidence:
    try:
        return Confidence(text.strip().lower())
    except ValueError:
        known = ", ".join(c for c in Confidence if c)
        raise InputError("confidence", f"{text!r} is none; use one of: {known}") from None


def _strength(text: str) -> Strength:
    found = text.strip().lower()
    if found not in {Strength.STANDARD, Strength.ADVISED}:
        raise InputError("strength", f"{text!r} is none; use standard or advised")
    return Strength(found)


def _bounds(
    catalogue: Catalogue, key: str, unit: str, row: Mapping[str, Any]
) -> Iterator[tuple[str, float]]:
    for column in ("min", "base", "max"):
        cell = row.get(column)
        if cell in (None, ""):
            continue
        try:
            value = float(cell)
            if key in catalogue:
                convert(key, value, unit, catalogue.get(key).unit)
        except (TypeError, ValueError) as error:
            raise InputError(column, str(error)) from None
        if not 0 <= value < MOST_VALUE:
            raise InputError(column, "must be 0 or more")
        yield column, value


def edited_copy(
    base: Standard, own_id: str, name: str, edition: str, stages: StageLimits
) -> Standard:
    """A practice's own standard from a published one: its limits, everything else the base's.

    A life stage the base does not have takes the strictest safe stage of the base and its highest
    assumed intake.
    """
    copies = {
        key: _copied_stage(base, key, tuple(limits.values())) for key, limits in stages.items()
    }
    # A stage between columns has no rows of its own: it stays while its columns do.
    between = {k: s for k, s in base.life_stages.items() if s.between}
    copies = {k: s for k, s in between.items() if set(s.between) <= set(copies)} | copies
    return replace(
        base, id=own_id, name=name, title=f"{name}, from {base.title}", publisher="the practice",
        edition=edition, life_stages=copies,
    )  # fmt: skip


def _copied_stage(base: Standard, key: str, limits: tuple[PublishedLimit, ...]) -> LifeStage:
    table = f"copy of {base.name}, edited by the practice"
    known = base.life_stages.get(key)
    if known is not None:
        # What a row does not say stays as the base has it.
        own_column = {x.key: x.per_kg75 for x in known.limits}
        limits = tuple(replace(x, per_kg75=own_column.get(x.key)) for x in limits)
        return replace(known, table=table, limits=limits)
    stages = base.life_stages.values()
    growing = [s.safe_stage for s in stages if s.safe_stage != "adult"]
    return LifeStage(
        key, key, table, limits, growing[0] if growing else "adult",
        max((i for s in stages if (i := s.intake_kcal_per_kg75) is not None), default=None),
    )  # fmt: skip


def checked_by(standard: Standard, stage: str, key: str, words: str) -> Standard:
    """The standard with one value marked as compared with its publication."""
    found = standard.life_stages.get(stage)
    if found is None:
        return standard
    limits = tuple(replace(x, checked=words) if x.key == key else x for x in found.limits)
    return replace(
        standard, life_stages={**standard.life_stages, stage: replace(found, limits=limits)}
    )
