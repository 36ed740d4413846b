"""What the steps of a recipe do to its ingredients: how each is cooked, and whether the liquid is fed."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from ..facts.foods import Food
from ..facts.preparations import Method, methods_for
from .ingredients import LineKind, Part
from .tokens import singular, tokenise
from .words import Words

_COOKABLE = frozenset({"raw", "dry"})
_FAT, _KEPT = (
    frozenset({"fat", "dripping"}),
    frozenset({"keep", "kept", "leave", "use", "reserve", "include"}),
)
# Vegetables whose water is fed lose what steam takes: there is no figure for a stew.
_STANDS_IN = {"boiled": "steamed"}


@dataclass(frozen=True)
class Cooked:
    """How an ingredient is cooked. kept: whether its liquid is fed, None where that is not said. fat_off: its fat is
    poured off; fat_kept: it is said to be fed."""

    way: str
    kept: bool | None = None
    fat_off: bool = False
    fat_kept: bool = False


@dataclass
class _Pot:
    """What is known while the steps are read, by place of the ingredient. named: last in this sentence."""

    ways: dict[int, str] = field(default_factory=dict)
    inside: set[int] = field(default_factory=set)
    named: set[int] = field(default_factory=set)
    fat_off: set[int] = field(default_factory=set)
    fat_kept: set[int] = field(default_factory=set)
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
            for sentence in part.text.replace(";", ".").split(". "):
                pot.named = set()
                for clause in _clauses(words, sentence):
                    _step(words, clause, foods, told, pot)
    return {
        i: Cooked(way, _is_kept(i, pot), i in pot.fat_off, i in pot.fat_kept)
        for i, way in pot.ways.items()
        if foods[i].attributes.state in _COOKABLE
    }


def _is_kept(i: int, pot: _Pot) -> bool | None:
    return False if i in pot.drained else (True if pot.kept else None)


def _names(words: Words, part: Part) -> frozenset[str]:
    """The words of an ingredient that a step may call it by."""
    of = part.phrase.of.words if part.phrase else ()
    return frozenset(w for w in of if w not in words.preparation and w not in words.states)


def _clauses(words: Words, sentence: str) -> Iterator[list[str]]:
    """The words of a sentence, parted where something else is done: "cook the turkey and steam the kale"."""
    tokens = tokenise(sentence)
    clause: list[str] = []
    for i, token in enumerate(tokens):
        before = tokens[i - 1] if i else None
        begins = before is not None and (before.word in {"and", "then"} or before.mark == ",")
        if begins and clause and (token.word in words.ways or token.word in words.poured_off):
            yield clause
            clause = []
        if token.word:
            clause.append(token.word)
    yield clause


def _way(words: Words, word: str, seen: set[str], pot: _Pot) -> str:
    """What a word for cooking means. "Cook" alone goes on with what was done before; in a pot that is boiling."""
    if word not in words.goes_on:
        return words.ways[word]
    if words.in_a_pan & seen and not words.wet & seen:
        return "fried"
    return pot.way or words.ways[word]


def _step(
    words: Words,
    said: Sequence[str],
    foods: Mapping[int, Food],
    told: Mapping[int, frozenset[str]],
    pot: _Pot,
) -> None:
    seen = set(said) | {singular(w) for w in said}
    meant = {i for i in foods if _is_meant(words, seen, foods[i], told[i])}
    # "Boil the potatoes till soft and drain"
    meant = pot.named = meant or pot.named
    ways = [w for w in said if w in words.ways]
    # "Do not drain", "don't pour the fat off"
    refused = bool(words.negations & seen)
    poured = bool(words.poured_off & seen) and not refused
    if words.kept_liquid & seen and not poured:
        pot.kept = True
    if words.cooled & seen and not ways:
        pot.cooled = True
    if pot.cooled:
        # What goes in when it is cool is not cooked.
        return
    named = meant or pot.inside
    if poured:
        (pot.fat_off if "fat" in seen else pot.drained).update(named)
    elif (_FAT & seen and (_KEPT & seen or refused)) or words.poured_off & seen:
        pot.fat_kept.update(named)
    if not ways and pot.way and words.minutes & seen:
        # "Add the vegetables for the last 20 minutes"
        for i in meant:
            pot.ways.setdefault(i, pot.way)
    for word in (w for w in said if w in words.ways):
        open_way = word in words.goes_on
        way = _way(words, word, seen, pot)
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
    if how.fat_kept:
        # Of a method that pours it off it would have less fat than is fed.
        return next((m for m in fits if m.liquid_kept), None)
    kept = [m for m in fits if m.liquid_kept == bool(how.kept)]
    if how.kept and not kept and food.klass == "vegetable":
        other = [m for m in possible if _STANDS_IN.get(how.way, "") in m.how]
        return next(iter([*other, *fits]), None)
    return next(iter([*kept, *fits]), None)
