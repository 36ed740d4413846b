"""What can be asked of a formulation, and what may be added to a recipe of this case."""

from dataclasses import dataclass
from enum import StrEnum

from ..bowl.exclusions import rather_not, why_unfit
from ..dog.intake import MacroSplit
from ..dossier.dossier import Dossier
from ..facts.formulation_rules import FoodsMay
from .candidates import open_questions, why_not_given
from .draft import TrialSources, trial_sources
from .question import default_allowed


@dataclass(frozen=True, kw_only=True)
class Choice:
    """Something to choose, in words."""

    id: str
    name: str
    words: str


@dataclass(frozen=True, kw_only=True)
class ModeChoice(Choice):
    """A mode with its goals in order, and that order when a school was chosen; what is added by
    default, by id."""

    foods: FoodsMay
    goals: tuple[str, ...]
    goals_with_school: tuple[str, ...]
    allowed: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class PartChoice:
    """A part of a way of feeding."""

    id: str
    label: str


class AllowedKind(StrEnum):
    """What may be added: a food or a supplement."""

    FOOD = "food"
    SUPPLEMENT = "supplement"


@dataclass(frozen=True, kw_only=True)
class AllowedChoice:
    """What may be added. why_not: what keeps it out for this dog, or ""; caution: why it would rather
    not be used. needs_strength: it is wanted, and only its pack's strength is missing."""

    food: str
    name: str
    kind: AllowedKind
    why_not: str
    caution: str = ""
    needs_strength: bool = False


@dataclass(frozen=True, kw_only=True)
class FormulationChoices:
    """Everything that can be asked, with the defaults. present_macros: the split of what the dog
    eats now, where it is known. trial: what a trial can be built on, where one is asked for."""

    modes: tuple[ModeChoice, ...]
    goals: tuple[Choice, ...]
    schools: tuple[Choice, ...]
    ways: tuple[Choice, ...]
    parts: tuple[PartChoice, ...]
    allowed: tuple[AllowedChoice, ...]
    default_mode: str
    max_supplements: int
    time_limit_s: float
    present_macros: MacroSplit | None
    trial: TrialSources | None


DEFAULT_MODE = "rebalance"


def choices_of(dossier: Dossier, present_macros: MacroSplit | None) -> FormulationChoices:
    """What can be asked for a dossier's case."""
    reference = dossier.reference
    rules, feeding = reference.formulation, reference.feeding
    return FormulationChoices(
        modes=tuple(
            ModeChoice(
                id=m.id, name=m.name, words=m.words, foods=m.foods, goals=m.goals,
                goals_with_school=rules.with_school(m.goals),
                allowed=default_allowed(dossier, m.id),
            )
            for m in rules.modes.values()
        ),
        goals=tuple(Choice(id=k, name=n, words=w) for k, (n, w) in rules.goals.items()),
        schools=tuple(
            Choice(id=s.id, name=s.name, words=s.words) for s in rules.schools.values()
        ),
        ways=tuple(Choice(id=w.id, name=w.name, words=w.caution) for w in feeding.ways.values()),
        parts=tuple(PartChoice(id=p.id, label=p.label) for p in feeding.parts),
        allowed=allowed_choices(dossier),
        default_mode=DEFAULT_MODE,
        max_supplements=int(rules.defaults["max_supplements"]),
        time_limit_s=rules.defaults["time_limit_s"],
        present_macros=present_macros,
        trial=trial_sources(dossier),
    )  # fmt: skip


def allowed_choices(dossier: Dossier) -> tuple[AllowedChoice, ...]:
    """What stands on the shelf, every generic supplement and the staples."""
    rules, library = dossier.reference.formulation, dossier.library
    usual = default_allowed(dossier, DEFAULT_MODE)
    supplements = [f.id for f in library.foods if f.is_supplement]
    found = []
    for food_id in dict.fromkeys((*usual, *supplements, *rules.staples)):
        food = library.food(food_id)
        unfit = why_unfit(food, dossier.avoid)
        why = unfit or why_not_given(dossier, food)
        wanted = food_id in usual and not unfit
        found.append(
            AllowedChoice(
                food=food_id,
                name=food.name,
                kind=AllowedKind.SUPPLEMENT if food.is_supplement else AllowedKind.FOOD,
                why_not=why,
                caution="" if why else rather_not(food, dossier.avoid),
                needs_strength=wanted and bool(open_questions(library, food)),
            )
        )
    return tuple(found)
