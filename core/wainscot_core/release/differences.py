"""What is different between two snapshots of a plan: of a new version from the issued one, or of an issued one from
what it would be on today's facts."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from ..analysis.adequacy import Status
from ..analysis.results import Analysis, NutrientResult, RatioResult
from ..dog.record import CaseRecord
from ..snapshot.snapshot import FrozenRecipe, Snapshot

# Amounts that differ by less than this share are the same: nothing anyone weighs or judges by.
SAME = 1e-6


@dataclass(frozen=True, kw_only=True)
class LineDifference:
    """A food with its grams a day, None where it is not there."""

    food: str
    name: str
    before_g: float | None
    after_g: float | None


@dataclass(frozen=True, kw_only=True)
class JudgedDifference:
    """A nutrient or ratio whose amount, limits or verdict differ; amounts and limits per 1000 kcal."""

    key: str
    name: str
    unit: str
    decimals: int
    before: float | None
    after: float | None
    status_before: Status | None
    status_after: Status | None
    least_before: float | None
    least_after: float | None
    most_before: float | None
    most_after: float | None

    @property
    def verdict_differs(self) -> bool:
        """Whether it is judged otherwise, and not only another amount."""
        return self.status_before is not self.status_after


@dataclass(frozen=True, kw_only=True)
class Differences:
    """Everything that is different. dog: what of the dog, in words; found, gone: what is told of one and not of the
    other; kcal a day."""

    dog: tuple[str, ...]
    kcal_before: float
    kcal_after: float
    target_before: float
    target_after: float
    lines: tuple[LineDifference, ...]
    nutrients: tuple[JudgedDifference, ...]
    found: tuple[str, ...]
    gone: tuple[str, ...]

    @property
    def none(self) -> bool:
        """Whether nothing is."""
        return not (
            self.dog or self.lines or self.nutrients or self.found or self.gone
            or differs(self.kcal_before, self.kcal_after)
            or differs(self.target_before, self.target_after)
        )  # fmt: skip


def differs(before: float | None, after: float | None) -> bool:
    """Whether two amounts are not the same."""
    if before is None or after is None:
        return before is not after
    return abs(before - after) > SAME * max(abs(before), abs(after))


def differences(before: Snapshot, after: Snapshot) -> Differences:
    """What differs of two plans. Raises InputError for a snapshot without a recipe."""
    old, new = before.of_recipe, after.of_recipe
    flags_before = [f.what for f in old.as_fed.flags]
    flags_after = [f.what for f in new.as_fed.flags]
    return Differences(
        dog=tuple(_dog(before.case, after.case)),
        kcal_before=old.as_fed.recipe.kcal_per_day,
        kcal_after=new.as_fed.recipe.kcal_per_day,
        target_before=before.energy.target_kcal,
        target_after=after.energy.target_kcal,
        lines=tuple(_lines(old, new)),
        nutrients=tuple(_judged(old.as_fed, new.as_fed)),
        found=tuple(w for w in dict.fromkeys(flags_after) if w not in flags_before),
        gone=tuple(w for w in dict.fromkeys(flags_before) if w not in flags_after),
    )


def _dog(before: CaseRecord, after: CaseRecord) -> Iterator[str]:
    """What a plan rests on of a dog. Its age alone changes every month and is told by its life stage."""
    old, new = before.dog, after.dog
    facts = (
        ("weight", f"{old.weight_kg:g} kg", f"{new.weight_kg:g} kg"),
        ("ideal weight", _kg(old.ideal_weight_kg), _kg(new.ideal_weight_kg)),
        ("body condition", _said(old.body_condition), _said(new.body_condition)),
        ("neutered", _said(old.neutered), _said(new.neutered)),
        ("life stage", before.life_stage, after.life_stage),
        ("standard", before.standard, after.standard),
        ("conditions", _ill(before), _ill(after)),
        ("reactions", _reacts(before), _reacts(after)),
        ("medicines", _takes(before), _takes(after)),
    )
    for name, was, now in facts:
        if was != now:
            yield f"{name}: {was or 'none'}, now {now or 'none'}"


def _kg(value: float | None) -> str:
    return "" if value is None else f"{value:g} kg"


def _said(value: object) -> str:
    return "" if value is None else str(value)


def _ill(record: CaseRecord) -> str:
    return ", ".join(" ".join(filter(None, (d.name or d.id, d.stage))) for d in record.conditions)


def _reacts(record: CaseRecord) -> str:
    return ", ".join(
        r.food + (f" (tolerates {r.tolerates})" if r.tolerates else "") for r in record.reactions
    )


def _takes(record: CaseRecord) -> str:
    return ", ".join(" ".join(filter(None, (m.name, m.dose))) for m in record.intake.medicines)


def _lines(before: FrozenRecipe, after: FrozenRecipe) -> Iterator[LineDifference]:
    """Grams a day of every food that differs, each cooking of it apart, with what is given beside."""
    old, new = _grams(before), _grams(after)
    for key in {**old, **new}:
        was, now = old.get(key), new.get(key)
        if differs(was, now):
            yield LineDifference(food=key[0], name=key[1], before_g=was, after_g=now)


def _grams(recipe: FrozenRecipe) -> Mapping[tuple[str, str], float]:
    found: dict[tuple[str, str], float] = {}
    for line in recipe.as_fed.recipe.lines:
        cooked = f", {line.preparation_label}" if line.preparation_label else ""
        key = (line.food, line.name + cooked)
        found[key] = found.get(key, 0.0) + line.grams_per_day
    return found


# So many limits are named; of the others it is said how many there are.
MOST_NAMED = 3
_WORST_FIRST = (Status.ABOVE_SAFE, Status.OVER, Status.SHORT, Status.UNPROVEN)


def judged_words(of: Differences) -> str:
    """What is judged otherwise, what is worst now first, then what is told anew; "" where no verdict differs."""
    judged = [n for n in of.nutrients if n.verdict_differs]
    ranked = sorted(
        judged,
        key=lambda n: (
            _WORST_FIRST.index(n.status_after)
            if n.status_after in _WORST_FIRST
            else len(_WORST_FIRST)
        ),
    )
    said = [
        f"{n.name}: was {_verdict(n.status_before)}, is {_verdict(n.status_after)}" for n in ranked
    ]
    said += of.found
    more = [f"and {len(said) - MOST_NAMED} more"] if len(said) > MOST_NAMED else []
    return "; ".join([*said[:MOST_NAMED], *more])


def _verdict(status: Status | None) -> str:
    return "not judged" if status is None else status.value


Result = NutrientResult | RatioResult


def _judged(before: Analysis, after: Analysis) -> Iterator[JudgedDifference]:
    old, new = _by_key(before), _by_key(after)
    for key in {**old, **new}:
        was, now = old.get(key), new.get(key)
        shown = now or was
        assert shown is not None  # noqa: S101
        changed = JudgedDifference(
            key=key, name=shown.name,
            unit=shown.unit if isinstance(shown, NutrientResult) else "",
            decimals=shown.decimals if isinstance(shown, NutrientResult) else 2,
            before=_amount(was), after=_amount(now),
            status_before=was.status if was else None, status_after=now.status if now else None,
            least_before=was.min if was else None, least_after=now.min if now else None,
            most_before=was.ceiling if was else None, most_after=now.ceiling if now else None,
        )  # fmt: skip
        if (
            changed.verdict_differs
            or differs(changed.before, changed.after)
            or differs(changed.least_before, changed.least_after)
            or differs(changed.most_before, changed.most_after)
        ):
            yield changed


def _by_key(analysis: Analysis) -> dict[str, Result]:
    found: list[Result] = [*analysis.nutrients, *analysis.ratios]
    return {x.key: x for x in found}


def _amount(found: Result | None) -> float | None:
    if found is None:
        return None
    return found.per_1000_kcal if isinstance(found, NutrientResult) else found.value
