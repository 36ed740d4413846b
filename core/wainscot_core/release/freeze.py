"""Freeze a plan that is put forward: the recipe, what is given beside it, and what was told and decided of it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date

from ..analysis.analyse import analyse
from ..analysis.plan_view import too_many_extras
from ..analysis.shopping import shop_list
from ..conventions import day
from ..dog.record import CaseRecord
from ..dossier.dossier import Dossier
from ..facts.handling import Texture
from ..kitchen.handling import handling_of
from ..recipe.line import Line
from ..recipe.plan import Daily, Turn, one_day
from ..robust.robustness import kept_robustness
from ..snapshot.freeze import freeze_recipe, frozen_foods
from ..snapshot.snapshot import FrozenBeside, FrozenConcern, Parties, Snapshot
from .concerns import Concern, Judged, concerns_of
from .decisions import Weighed
from .span import answer_of


@dataclass(frozen=True)
class Forward:
    """What is put forward: the recipe's dossier, its name, what is given every day beside it, and where the practice
    knows that foods are sold."""

    dossier: Dossier
    name: str
    beside: tuple[Daily, ...]
    where: Mapping[str, str] = field(default_factory=dict)

    @property
    def day_lines(self) -> tuple[Line, ...]:
        """The lines of one day, with what is given beside the recipe."""
        turn = Turn(self.name, self.dossier.lines, self.dossier.days, 1)
        return one_day(turn, self.beside)


def judged(forward: Forward) -> Judged:
    """A plan as it is analysed now."""
    dossier = forward.dossier
    foods = [line.food for line in (*dossier.lines, *(d.line for d in forward.beside))]
    day = analyse(dossier.with_lines(forward.day_lines, 1)) if forward.beside else None
    return Judged(
        recipe=analyse(dossier), day=day, foods=tuple(foods),
        beside=too_many_extras(dossier, forward.beside, day) if day else (),
    )  # fmt: skip


def concerns_now(forward: Forward, record: CaseRecord) -> tuple[Concern, ...]:
    """Every concern of a plan as it is now."""
    return concerns_of(record, judged(forward), forward.dossier.reference.label_prompts)


def freeze_plan(
    forward: Forward,
    record: CaseRecord,
    parties: Parties,
    today: date,
    found: Sequence[Weighed],
    texture: Texture = Texture.CHUNKS,
    buy_days: Sequence[float] = (),
) -> Snapshot:
    """A snapshot of a plan with what was told and decided of it, how it is cooked, and what is bought for so many
    days."""
    kept = freeze_recipe(forward.dossier, record, parties, forward.name, today)
    recipe, plan = kept.of_recipe, judged(forward)
    lines = (*forward.dossier.lines, *(d.line for d in forward.beside))
    foods, sources = frozen_foods(forward.dossier.library, lines)
    beside = tuple(
        FrozenBeside(
            kind=d.kind, food=d.line.food.id, name=d.line.food.name,
            quantity=d.line.text.quantity if d.line.text else f"{d.line.amount.grams:g} g",
            grams=d.line.amount.grams,
        )
        for d in forward.beside
    )  # fmt: skip
    whole = replace(
        kept,
        recipe=replace(
            recipe, foods=foods, sources=sources, beside=beside, day=plan.day,
            concerns=tuple(frozen_concern(w, parties) for w in found),
            handling=handling_of(forward.dossier, texture),
            robust=kept_robustness(forward.dossier),
        ),
    )  # fmt: skip
    span = answer_of(whole, forward.dossier.reference.as_it_is)
    fed = forward.dossier.with_lines(forward.day_lines, 1)
    shops = tuple(shop_list(fed, days, forward.where) for days in buy_days)
    return replace(whole, recipe=replace(whole.of_recipe, span=span, shops=shops))


def frozen_concern(found: Weighed, parties: Parties) -> FrozenConcern:
    """A concern with the decision that holds for it."""
    concern, decision = found.concern, None if found.is_open else found.decision
    vet = decision.vet if decision else None
    written = day(parties.conventions, vet.on, long=True) if vet else ""
    return FrozenConcern(
        about=concern.about, level=concern.level, what=concern.what, why=concern.why,
        do=concern.do, source=concern.source,
        by=decision.by if decision else "", on=decision.at.date() if decision else None,
        reason=decision.reason if decision else "",
        vet=f"{vet.name}, licence {vet.licence}, in writing on {written}" if vet else "",
    )  # fmt: skip
