"""What must be settled before a plan goes out: findings, limits that are not held, labels that were not read.

A concern has a key, which stays the same while it is about the same thing, and a basis, which changes when
anything behind it does: a decision holds for the basis it was made on, and for no other.
"""

import hashlib
import json
import re
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from ..analysis.adequacy import HELD, TOO_MUCH, Status
from ..analysis.results import Analysis, NutrientResult, RatioResult
from ..dog.record import CaseRecord
from ..facts.foods import Food
from ..facts.label_prompts import LabelPrompt, prompt_for
from ..figures import plainly
from ..findings import GRAVEST_FIRST, Finding, Kind, Level


class Settle(StrEnum):
    """What settles a concern. vet: the vet's written decision; reason: the consultant's, with a reason; tick:
    somebody read the label; elsewhere: it is decided where it is set; nothing: nobody has to."""

    VET = "vet"
    REASON = "reason"
    TICK = "tick"
    ELSEWHERE = "elsewhere"
    NOTHING = "nothing"


class About(StrEnum):
    """What a concern comes from."""

    FINDING = "finding"
    GAP = "gap"
    PROMPT = "prompt"


class Meant(StrEnum):
    """What is judged: the recipe by itself, or a day of it with what is given beside it."""

    RECIPE = "recipe"
    DAY = "day"


@dataclass(frozen=True, kw_only=True)
class Concern:
    """Something that must be settled, or known, before a plan goes out. food, nutrient, field: where it points, as of a
    finding; kind: of the finding, or limit and label."""

    key: str
    basis: str
    about: About
    kind: Kind
    level: Level
    settle: Settle
    what: str
    why: str
    do: str
    source: str = ""
    food: str = ""
    nutrient: str = ""
    field: str = ""


@dataclass(frozen=True)
class Judged:
    """What is put forward: a recipe as analysed, a day of it with what is given beside it (None where nothing is),
    and the foods of both. beside: what is told of what is given beside it."""

    recipe: Analysis
    day: Analysis | None
    foods: tuple[Food, ...]
    beside: tuple[Finding, ...] = ()


def concerns_of(
    record: CaseRecord, judged: Judged, prompts: Sequence[LabelPrompt]
) -> tuple[Concern, ...]:
    """Every concern of a recipe and the day around it, the gravest first, each once."""
    found = [
        *_graver(record, judged), *_gaps(judged), *_prompts(judged.foods, prompts),
    ]  # fmt: skip
    return tuple(sorted(found, key=lambda c: GRAVEST_FIRST.index(c.level)))


def standing_against(judged: Judged, prompts: Sequence[LabelPrompt]) -> tuple[Finding, ...]:
    """Everything that may harm in a recipe, as findings, the gravest first: its findings, what there is too much of,
    labels to read. What it lacks is told by the analysis."""
    much = {x.key for x in _judged(judged.recipe).values() if x.status in TOO_MUCH}
    concerns = (
        *(c for c in _gaps(judged) if c.nutrient in much),
        *_prompts(judged.foods, prompts),
    )
    found = (
        *judged.recipe.flags,
        *(
            Finding(
                kind=c.kind, level=c.level, what=c.what, why=c.why, do=c.do, source=c.source, food=c.food,
                nutrient=c.nutrient,
            )
            for c in concerns
        ),
    )  # fmt: skip
    return tuple(sorted(found, key=lambda f: GRAVEST_FIRST.index(f.level)))


def _graver(record: CaseRecord, judged: Judged) -> Iterable[Concern]:
    """Findings of the recipe and of the day around it; of one that is told of both, the graver."""
    found = {}
    if judged.day is not None:
        flags = (*judged.day.flags, *judged.beside)
        found = {c.key: c for c in _findings(record, replace(judged.day, flags=flags))}
    for alone in _findings(record, judged.recipe):
        other = found.get(alone.key)
        if other is None or GRAVEST_FIRST.index(alone.level) < GRAVEST_FIRST.index(other.level):
            found[alone.key] = alone
    return found.values()


def _hash(*parts: object) -> str:
    return hashlib.sha256(json.dumps(parts, sort_keys=True, default=str).encode()).hexdigest()


def _without_figures(text: str) -> str:
    return re.sub(r"\d[\d.,\u202f]*", "#", text)


def _about_dog(record: CaseRecord) -> list[object]:
    """What of a dog a decision rests on, whatever it is about."""
    return [
        [(d.id, d.name, d.stage) for d in record.conditions],
        [(r.food, r.form, r.tolerates, r.certainty) for r in record.reactions],
        [(m.name, m.dose) for m in record.intake.medicines],
        record.life_stage, record.dog.weight_kg,
    ]  # fmt: skip


def _findings(record: CaseRecord, analysis: Analysis) -> Iterator[Concern]:
    given, seen = _grams_a_day(analysis), Counter[str]()
    for f in analysis.flags:
        settle = settled_by(f)
        about = _hash(f.kind, f.food, f.nutrient, f.field, f.named, _without_figures(f.what))
        seen[about] += 1
        yield Concern(
            # Two that are told in the same words are still two.
            key=_hash("finding", about, seen[about]),
            basis=_hash(
                f.level, f.what, f.why, f.do, f.source, given.get(f.food), _about_dog(record)
            ),
            about=About.FINDING, kind=f.kind,
            level=Level.DECIDE if f.level is Level.WARN and settle is Settle.REASON else f.level,
            settle=settle, what=f.what, why=f.why, do=f.do, source=f.source, food=f.food,
            nutrient=f.nutrient, field=f.field,
        )  # fmt: skip


def settled_by(finding: Finding) -> Settle:
    """Who settles a finding. What no kitchen should do, only a vet can allow; two limits that are apart are decided
    in the targets."""
    if finding.level is Level.BLOCK:
        return Settle.VET
    if finding.level is Level.DECIDE:
        return Settle.ELSEWHERE if finding.kind is Kind.CONFLICT else Settle.REASON
    # A plan that feeds too much or too little must not go out unseen.
    if finding.kind is Kind.ENERGY and finding.level is Level.WARN:
        return Settle.REASON
    return Settle.NOTHING


def _grams_a_day(analysis: Analysis) -> Mapping[str, float]:
    found: dict[str, float] = {}
    for line in analysis.recipe.lines:
        found[line.food] = found.get(line.food, 0.0) + line.grams_per_day
    return {food: float(f"{grams:.3g}") for food, grams in found.items()}


_OFF: Mapping[Status, tuple[Level, Settle, str]] = {
    Status.ABOVE_SAFE: (
        Level.BLOCK, Settle.VET, "Take out what brings it; only the vet can allow more, in writing.",
    ),
    Status.SHORT: (
        Level.DECIDE, Settle.REASON, "Close it with a food or a supplement, or say why it may stay.",
    ),
    Status.OVER: (
        Level.DECIDE, Settle.REASON, "Take out what brings it, or say why it may stay.",
    ),
    Status.UNPROVEN: (
        Level.DECIDE, Settle.REASON,
        "Use foods whose figures are known, or say why it may stay as it is.",
    ),
}  # fmt: skip

Result = NutrientResult | RatioResult


def _gaps(judged: Judged) -> Iterator[Concern]:
    """Limits that are not held by the day as fed, and those that the recipe alone does not hold."""
    whole = _judged(judged.day or judged.recipe)
    for found in whole.values():
        if found.status not in HELD:
            yield _gap(found, Meant.RECIPE if judged.day is None else Meant.DAY)
    if judged.day is None:
        return
    for key, found in _judged(judged.recipe).items():
        if found.status not in HELD and whole[key].status in HELD:
            yield _gap(found, Meant.RECIPE, alone=True)


def _judged(analysis: Analysis) -> dict[str, Result]:
    found: Iterable[Result] = (*analysis.nutrients, *analysis.ratios)
    return {x.key: x for x in found}


def _gap(found: Result, meant: Meant, alone: bool = False) -> Concern:
    level, settle, do = _OFF[found.status]
    amount, unit = _amount(found)
    beside = ", without what is given beside it" if alone else ""
    bound = found.against
    part = (
        f" ({amount / bound:.0%} of {plainly(bound, 4)}{unit})"
        if amount is not None and bound
        else ""
    )
    is_known = "not known" if amount is None else f"{plainly(amount, 4)}{unit}"
    set_by = found.set_by
    return Concern(
        key=_hash("gap", found.key, "alone" if alone else meant),
        # A hundredth of the bound more or less is the same gap.
        basis=_hash(
            found.status, bound, set_by.source if set_by else "",
            None if amount is None or not bound else round(amount / bound, 2),
        ),
        about=About.GAP, kind=Kind.LIMIT, level=level, settle=settle,
        what=f"{found.name}: {found.status}{beside}",
        why=f"{is_known}{' per 1000 kcal' if isinstance(found, NutrientResult) else ''}{part}",
        do=do if not alone else "Say that what closes it is given every day, or close it in the recipe.",
        source=set_by.source if set_by else "",
        nutrient=found.key,
    )  # fmt: skip


def _amount(found: Result) -> tuple[float | None, str]:
    if isinstance(found, NutrientResult):
        return found.per_1000_kcal, f" {found.unit.replace('ug', 'µg')}"
    return found.value, ""


def _prompts(foods: Sequence[Food], prompts: Sequence[LabelPrompt]) -> Iterator[Concern]:
    for food in dict.fromkeys(foods):
        prompt = prompt_for(prompts, food)
        if prompt is not None:
            yield Concern(
                key=_hash("prompt", prompt.id, food.id),
                basis=_hash(prompt.question, food.name),
                about=About.PROMPT, kind=Kind.LABEL, level=Level.DECIDE, settle=Settle.TICK,
                what=f"{food.name}: {prompt.question}", why=prompt.why, do=prompt.do,
                source=prompt.source, food=food.id,
            )  # fmt: skip
