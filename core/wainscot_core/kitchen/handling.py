"""How a recipe is cooked, cooled, kept and given: what its owner is told, worked out once and kept with it."""

from collections.abc import Sequence
from dataclasses import dataclass

from ..dossier.dossier import Dossier
from ..facts.handling import HandlingRules, Place, Texture
from ..recipe.amounts import grams_per_ml
from ..recipe.household import household
from ..recipe.line import Line

# A spoon that misses a meal's amount by more is no measure for it.
MOST_OFF = 0.10
# A teaspoon of a liquid is what its density is told by.
ML_OF_OIL = 5.0


@dataclass(frozen=True, kw_only=True)
class LinePlace:
    """A line in the work: where it stands, what is said beside it, in words ("" for nothing), and about how much water it
    takes up, g. step: what a cook does with it; turn: in which order; measure: a meal of it as a kitchen measures it; counted: it comes in pieces, and is not weighed."""

    place: Place
    words: str
    water_g: float = 0.0
    step: str = ""
    turn: int = 0
    measure: str = ""
    counted: bool = False


@dataclass(frozen=True, kw_only=True)
class Keeping:
    """For how long the food keeps in a place."""

    what: str
    how_long: str


@dataclass(frozen=True, kw_only=True)
class Handling:
    """What an owner is told of a recipe beside its amounts. lines: of each line, in their order; core_celsius: None
    where nothing that needs it is cooked; raw: names of flesh and eggs that are fed raw; small: (under so many g,
    words), the finest first."""

    texture: Texture
    lines: tuple[LinePlace, ...]
    core_celsius: float | None
    cool_celsius: float
    cool_hours: float
    raw: tuple[str, ...]
    keep: tuple[Keeping, ...]
    keep_words: str
    small: tuple[tuple[float, str], ...]
    meal_shares: tuple[float, ...]
    ask_beyond: float
    never: str
    same_day: str
    ask: str
    sources: tuple[str, ...]
    tub: str = ""


def handling_of(dossier: Dossier, texture: Texture) -> Handling:
    """The handling of a recipe."""
    rules = dossier.reference.handling
    flesh = [x for x in dossier.lines if rules.core_when.holds(x.food.attributes) is True]
    hot = any(x.prepared is not None for x in flesh)
    raw = dict.fromkeys(
        x.food.name for x in flesh if x.prepared is None and x.food.attributes.state == "raw"
    )
    lines = tuple(_placed(dossier, x, texture) for x in dossier.lines)
    wet = any(x.water_g > 0 for x in lines)
    return Handling(
        texture=texture, lines=lines,
        core_celsius=rules.core_celsius if hot else None, cool_celsius=rules.cool_celsius,
        cool_hours=rules.cool_hours, raw=tuple(raw), keep=_keeping(rules, dossier.lines),
        keep_words=rules.keep_words, small=rules.small, meal_shares=rules.meal_shares,
        ask_beyond=rules.ask_beyond_with_water if wet else rules.ask_beyond, never=rules.never, same_day=rules.same_day, ask=rules.ask,
        sources=rules.sources, tub=rules.tub,
    )  # fmt: skip


def _placed(dossier: Dossier, line: Line, texture: Texture) -> LinePlace:
    rules, food = dossier.reference.handling, line.food
    if food.handling is not None:
        place = Place.BOWL if food.handling.at_serving else Place.COOLED
        return LinePlace(
            place=place,
            words=food.handling.add,
            measure=_a_meal(dossier, line),
            counted=food.handling.unit_g is not None,
        )
    cut = rules.cut_of(food.attributes, texture)
    cook = line.prepared.method.step if line.prepared else rules.cook_of(food.attributes)
    place = Place.POT if line.prepared else rules.place_of(food.attributes) or Place.READY
    if place is not Place.POT:
        return LinePlace(place=place, words=cut, measure=_a_meal(dossier, line))
    water_g = 0.0 if line.prepared else rules.uptake_of(food.attributes) * line.amount.grams
    flesh = rules.core_when.holds(food.attributes) is True
    # What takes longest is begun first; meat before vegetables, so that its board is washed once.
    turn = 0 if rules.cook_of(food.attributes) else 1 if flesh else 2
    step = "; ".join(x for x in (cut, cook) if x)
    return LinePlace(place=place, words="", water_g=water_g, step=step, turn=turn)


def _a_meal(dossier: Dossier, line: Line) -> str:
    meals = dossier.days * dossier.meals_per_day
    found = household(line.food, line.amount.grams / meals, dossier.measures)
    if found is not None and abs(found.error) <= MOST_OFF:
        return found.text
    density = grams_per_ml(line.food, ML_OF_OIL, dossier.measures)
    liquid = line.food.handling is not None and line.food.handling.form == "liquid"
    if liquid and density:
        # What no spoon hits a syringe without a needle does.
        return f"{line.amount.grams / meals / density:.2g} ml by syringe"
    return "weigh it"


def _keeping(rules: HandlingRules, lines: Sequence[Line]) -> tuple[Keeping, ...]:
    oily = any(rules.oily.holds(x.food.attributes) is True for x in lines)
    found = dict(rules.keep)
    if oily:
        found[rules.keep_oily[0]] = rules.keep_oily[1]
    return tuple(Keeping(what=what, how_long=long) for what, long in found.items())
