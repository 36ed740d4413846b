"""All standards over each other for one kind of dog, and a printed row read off against its publication."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ..confidence import Confidence
from ..errors import InputError
from ..facts.nutrients import Catalogue
from ..figures import rounded
from ..units import convert
from .standards import LifeStage, PublishedLimit, Standard, Strength, stages_of

RATIO = "ratio"
RATIOS = "ratios"
# A figure read off the print counts as the same within what is lost in writing it down.
SAME = 1e-6


@dataclass(frozen=True, kw_only=True)
class KindOfDog:
    """A dog the standards are looked at for: `stage` as the standards or their aliases name it."""

    id: str
    name: str
    stage: str
    age_months: float | None = None
    adult_weight_kg: float | None = None


def read_kinds(data: Mapping[str, Any]) -> tuple[KindOfDog, ...]:
    """Parse reference/kinds_of_dogs.yaml."""
    return tuple(KindOfDog(**row) for row in data["kinds"])


@dataclass(frozen=True, kw_only=True)
class Printed:
    """What a publication prints of one nutrient, in its own unit per 1000 kcal ME; None where it
    prints nothing."""

    min: float | None = None
    base: float | None = None
    max: float | None = None


@dataclass(frozen=True, kw_only=True)
class Column:
    """A column of a standard that holds for the dog. rows, read: how many limits it has, and how many
    of them were read off its publication."""

    standard: str
    stage: str
    name: str
    stage_name: str
    table: str
    words: str
    citation: str
    rows: int
    read: int


@dataclass(frozen=True, kw_only=True)
class Window:
    """The limits of one nutrient in one column: as printed in `unit`, and `least` and `most` in the
    nutrient's unit. strictest_least, strictest_most: no other column asks more, or allows less."""

    standard: str
    stage: str
    unit: str
    printed: Printed
    least: float | None
    most: float | None
    strictest_least: bool
    strictest_most: bool
    strength: Strength
    confidence: Confidence
    note: str
    checked: str


@dataclass(frozen=True, kw_only=True)
class Beside:
    """A nutrient over all columns that set a limit for it. rail: the highest minimum, None where none
    is asked for. apart: the highest minimum by the lowest one, None with fewer than two."""

    key: str
    name: str
    short: str
    group: str
    unit: str
    rail: float | None
    apart: float | None
    windows: tuple[Window, ...]


@dataclass(frozen=True, kw_only=True)
class Overlay:
    """All standards over each other. without: the standards that have no column for the dog."""

    columns: tuple[Column, ...]
    nutrients: tuple[Beside, ...]
    without: tuple[str, ...]


def over_each_other(
    catalogue: Catalogue, standards: Mapping[str, Standard], dog: KindOfDog
) -> Overlay:
    """Every limit that the standards set for a dog, by nutrient in the catalogue's order, per
    1000 kcal ME. A stage that lies between columns of other intakes stands as those columns."""
    columns: list[tuple[Standard, LifeStage]] = []
    without: list[str] = []
    for standard in standards.values():
        try:
            found = stages_of(standard, dog.stage, dog.age_months, dog.adult_weight_kg).stages
        except InputError:
            without.append(standard.name)
            continue
        columns += [(standard, stage) for s in found for stage in _columns_of(standard, s)]
    limits = {
        (standard.id, stage.id, limit.key): limit
        for standard, stage in columns
        for limit in stage.limits
    }
    present = {key for _, _, key in limits}
    order = [k for k in catalogue.keys if k in present]
    order += [r.key for r in catalogue.ratios if r.key in present]
    return Overlay(
        columns=tuple(
            Column(
                standard=standard.id,
                stage=stage.id,
                name=standard.name,
                stage_name=stage.name,
                table=stage.table,
                words=standard.words,
                citation=standard.citation,
                rows=len(stage.limits),
                read=sum(1 for x in stage.limits if x.checked),
            )
            for standard, stage in columns
        ),
        nutrients=tuple(
            _beside(
                catalogue,
                key,
                [
                    (standard.id, stage.id, limits[standard.id, stage.id, key])
                    for standard, stage in columns
                    if (standard.id, stage.id, key) in limits
                ],
            )
            for key in order
        ),
        without=tuple(without),
    )


def _columns_of(standard: Standard, stage: LifeStage) -> Iterator[LifeStage]:
    yield from (standard.life_stages[i] for i in stage.between) if stage.between else (stage,)


def _beside(
    catalogue: Catalogue, key: str, of: Sequence[tuple[str, str, PublishedLimit]]
) -> Beside:
    nutrient = catalogue.get(key) if key in catalogue else None
    unit = nutrient.unit if nutrient else RATIO

    def common(value: float | None, printed: str) -> float | None:
        if value is None:
            return None
        return rounded(value if unit == RATIO else convert(key, value, printed, unit))

    ends = [(common(x.minimum, x.unit), common(x.maximum, x.unit)) for _, _, x in of]
    leasts = [low for low, _ in ends if low is not None]
    mosts = [high for _, high in ends if high is not None]
    return Beside(
        key=key,
        name=catalogue.name_of(key),
        short=nutrient.short if nutrient else catalogue.name_of(key),
        group=nutrient.group if nutrient else RATIOS,
        unit=unit,
        rail=max(leasts, default=None),
        apart=rounded(max(leasts) / min(leasts)) if len(leasts) > 1 and min(leasts) > 0 else None,
        windows=tuple(
            Window(
                standard=standard,
                stage=stage,
                unit=x.unit,
                printed=Printed(min=x.minimum, base=x.base, max=x.maximum),
                least=low,
                most=high,
                strictest_least=low is not None and low == max(leasts),
                strictest_most=high is not None and high == min(mosts),
                strength=x.strength,
                confidence=x.confidence,
                note=x.note,
                checked=x.checked,
            )
            for (standard, stage, x), (low, high) in zip(of, ends, strict=True)
        ),
    )


def stands_as_read(limit: PublishedLimit, read: Printed) -> bool:
    """True when a limit stands as it was read off its publication."""
    return not any(True for _ in _differences(limit, read))


def must_stand_as_read(limit: PublishedLimit, read: Printed) -> None:
    """Raises InputError naming the first bound that stands otherwise than it was read."""
    for bound, here, there in _differences(limit, read):
        raise InputError(
            f"read.{bound}",
            f"Here stands {_told(here, limit.unit)}, and you read {_told(there, limit.unit)}: "
            "look again, or copy the standard with what you read",
        )


def _differences(
    limit: PublishedLimit, read: Printed
) -> Iterator[tuple[str, float | None, float | None]]:
    for bound, here, there in (
        ("min", limit.minimum, read.min),
        ("base", limit.base, read.base),
        ("max", limit.maximum, read.max),
    ):
        if here is None or there is None:
            if here is not there:
                yield bound, here, there
        elif abs(here - there) > SAME * max(abs(here), abs(there)):
            yield bound, here, there


def _told(value: float | None, unit: str) -> str:
    return "nothing" if value is None else f"{value:.9g}{'' if unit == RATIO else f' {unit}'}"
