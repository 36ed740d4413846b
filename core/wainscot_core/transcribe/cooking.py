"""What the steps of a recipe do to its ingredients: how each is cooked, and whether the liquid is fed."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from ..facts.foods import Food
from ..facts.preparations import Method, methods_for
from .ingredients import LineKind, Part
from .tokens import singular, tokenise
from .words import Words

_COOKABLE = frozenset({"raw", "dry"})
# Vegetables whose water is fed lose what steam takes: there is no figure for a stew.
_STANDS_IN = {"boiled": "steamed"}


@dataclass(frozen=True)
class Cooked:
    """How an ingredient is cooked. kept: whether its liquid is fed, None where that is not said. fat_off: its fat is
    poured off."""

    way: str
    kept: bool | None = None
    fat_off: bool = False


@dataclass
class _Pot:
    """What is known while the steps are read, by place of the ingredient."""

    ways: dict[int, str] = field(default_factory=dict)
    inside: set[int] = field(default_factory=set)
    fat_off: set[int] = field(default_factory=set)
    drained: set[int] = field(default_factory=set)
    way: str = ""
    kept: bool = False
    cooled: bool = False


def cooked(words: Words, parts: Sequence[Part]) -> Mapping[int, Cooked]:
    """How the ingredients are cooked that the steps tell of, by their place among the parts."""
    foods = {
        i: part.match.candidates[0].food
        for i, part in enumerate(parts)
        if part.match is not None and part.match.sure and part.kind is LineKind.INGREDIENT
    }
    told = {i: _names(words, parts[i]) for i in foods}
    pot = _Pot(kept=any(food.klass == "other" for food in foods.values()))
    for part in parts:
        if part.kind is LineKind.STEP:
            for clause in part.text.replace(";", ".").split(". "):
                _step(words, clause, foods, told, pot)
    return {
        i: Cooked(way, _is_kept(i, pot), i in pot.fat_off)
        for i, way in pot.ways.items()
        if foods[i].attributes.state in _COOKABLE
    }


def _is_kept(i: int, pot: _Pot) -> bool | None:
    return False if i in pot.drained else (True if pot.kept else None)


def _names(words: Words, part: Part) -> frozenset[str]:
    """The words of an ingredient that a step may call it by."""
    of = part.phrase.of.words if part.phrase else ()
    return frozenset(w for w in of if w not in words.preparation and w not in words.states)


def _step(
    words: Words,
    text: str,
    foods: Mapping[int, Food],
    told: Mapping[int, frozenset[str]],
    pot: _Pot,
) -> None:
    said = [t.word for t in tokenise(text) if t.word]
    seen = set(said) | {singular(w) for w in said}
    meant = {i for i in foods if _is_meant(words, seen, foods[i], told[i])}
    ways = [w for w in said if w in words.ways]
    if words.kept_liquid & seen and not words.poured_off & seen:
        pot.kept = True
    if words.cooled & seen and not ways:
        pot.cooled = True
    if pot.cooled:
        # What goes in when it is cool is not cooked.
        return
    if words.poured_off & seen:
        named = meant or pot.inside
        (pot.fat_off if "fat" in seen else pot.drained).update(named)
    for word in (w for w in said if w in words.ways):
        # "Cook" alone goes on with what was done before; in a pot that is boiling.
        open_way = word in words.goes_on
        way = pot.way if open_way and pot.way else words.ways[word]
        targets = (meant | pot.inside) if way == "boiled" else (meant or pot.inside)
        for i in targets:
            # Browned first and simmered then: what comes last tells most of it.
            if i not in pot.ways or (pot.ways[i] == "fried" and not open_way):
                pot.ways[i] = way
        pot.way = way
    pot.inside |= meant


def _is_meant(words: Words, seen: set[str], food: Food, names: frozenset[str]) -> bool:
    if names & seen:
        return True
    if any(food.klass in words.of_class[w] for w in seen if w in words.of_class):
        return True
    return bool(words.all_of_it & seen) and food.attributes.state in _COOKABLE


def method_of(methods: Sequence[Method], food: Food, how: Cooked) -> Method | None:
    """The preparation that stands for it, None where there is none for this food."""
    possible = methods_for(methods, food)
    if how.fat_off:
        drained = next((m for m in possible if "fried" in m.how), None)
        if drained is not None:
            return drained
    fits = [m for m in possible if how.way in m.how]
    kept = [m for m in fits if m.liquid_kept == bool(how.kept)]
    if how.kept and not kept and food.klass == "vegetable":
        other = [m for m in possible if _STANDS_IN.get(how.way, "") in m.how]
        return next(iter([*other, *fits]), None)
    return next(iter([*kept, *fits]), None)
