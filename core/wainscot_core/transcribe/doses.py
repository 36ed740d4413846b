"""Amounts that are told for something: for a weight of dog, of food or of meat, for a cup or for so much energy."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from ..units import WEIGHT_G
from .quantities import quantity_at
from .tokens import Token
from .words import Kind, Words

FLESH = frozenset({"poultry", "beef", "pork", "lamb-game", "fish"})
_LEADS = frozenset({"per", "every", "each"})
_ONE = frozenset({"a", "an"})
_BEFORE = frozenset({"for", "to", "with", "on"})
_MASS = {"kg": "kg", "kilo": "kg", "kilogram": "kg", "lb": "lb", "pound": "lb"}
_KCAL = {"kcal": 1.0, "calorie": 1.0, "cal": 1.0, "mcal": 1000.0}
_PASSED = frozenset(
    {"of", "the", "raw", "cooked", "finished", "lean", "total", "his", "her", "its", "home-made"}
)
_DOG = frozenset({"dog", "body", "bodyweight", "weight", "bw", "body-weight"})
_FOOD = frozenset({"food", "batch", "mix", "mixture", "recipe", "meal", "stew", "diet"})
_MEAT = frozenset({"meat", "muscle", "mince", "beef", "chicken", "turkey", "lamb", "pork", "fish", "rabbit", "venison",
                   "duck", "poultry"})  # fmt: skip
# So much is more than a kilo of food: a dog is meant.
_MOST_FOOD_KG = 1.0


class Of(StrEnum):
    """What an amount is told for."""

    DOG = "dog"
    FOOD = "food"
    MEAT = "meat"
    CUP = "cup"
    KCAL = "kcal"


@dataclass(frozen=True)
class Dose:
    """What an amount is told for: so many kg, cups or kcal. said: the text says of what, and it is not only likely."""

    of: Of
    amount: float
    said: bool = True

    @property
    def words(self) -> str:
        """ "0.454 kg of meat", "2 cup", "1000 kcal"."""
        if self.of in {Of.CUP, Of.KCAL}:
            return f"{self.amount:.4g} {self.of}"
        return f"{self.amount:.4g} kg of {self.of}"


@dataclass(frozen=True)
class FoundDose:
    """A dose and the tokens that tell it."""

    dose: Dose
    start: int
    end: int


def dose_in(words: Words, tokens: Sequence[Token]) -> FoundDose | None:
    """What the amount of a sentence is told for, behind that amount; None where it is not."""
    for i in range(1, len(tokens)):
        found = _dose_at(words, tokens, i)
        if found is not None and _has_amount(words, tokens[:i]):
            return found
    return None


def _has_amount(words: Words, tokens: Sequence[Token]) -> bool:
    return any(quantity_at(words, tokens, i) is not None for i in range(len(tokens)))


def _word(tokens: Sequence[Token], i: int) -> str:
    return tokens[i].word if 0 <= i < len(tokens) else ""


def _dose_at(words: Words, tokens: Sequence[Token], start: int) -> FoundDose | None:
    i = start
    if _word(tokens, i) in _BEFORE and _word(tokens, i + 1) in _LEADS | _ONE:
        i += 1
    lead = _word(tokens, i)
    stroke = i < len(tokens) and tokens[i].mark == "/" and _word(tokens, i + 1) in _MASS
    if lead not in _LEADS | _ONE and not stroke:
        return None
    if lead in _ONE and _halved(words, tokens, start):
        return None
    i += 1
    measured = _measured(words, tokens, i)
    if measured is None:
        return None
    of, amount, end = measured
    if lead in _ONE and not (of is None and _word(tokens, i) in _MASS):
        # "A 10 kg dog" is no dose, "a kilo" is.
        return None
    if of is not None:
        _, past = _target(tokens, end)
        return FoundDose(Dose(of, amount), start, past)
    target, past = _target(tokens, end)
    if target is None:
        likely = Of.FOOD if amount <= _MOST_FOOD_KG else Of.DOG
        return FoundDose(Dose(likely, amount, said=likely is Of.DOG), start, end)
    return FoundDose(Dose(target, amount), start, past)


def _halved(words: Words, tokens: Sequence[Token], i: int) -> bool:
    """Whether "a kilo" is part of an amount: "half a kilo", "a quarter of a pound"."""
    before = i - 2 if _word(tokens, i - 1) == "of" else i - 1
    return _word(tokens, before) in words.fractions


def _measured(words: Words, tokens: Sequence[Token], i: int) -> tuple[Of | None, float, int] | None:
    """A weight in kg (None), cups, or kcal from a token on, and the token behind it."""
    bare = _word(tokens, i)
    if bare in _MASS:
        return None, WEIGHT_G[_MASS[bare]] / 1000, i + 1
    if bare == "cup":
        return Of.CUP, 1.0, i + 1
    if bare in _KCAL and bare == "mcal":
        return Of.KCAL, 1000.0, i + 1
    found = quantity_at(words, tokens, i)
    if found is None:
        return None
    unit = found.quantity.unit
    if unit is None or unit.none:
        after = _word(tokens, found.end)
        if after in _KCAL:
            return Of.KCAL, found.quantity.low * _KCAL[after], found.end + 1
        return None
    if unit.kind is Kind.WEIGHT and unit.name in WEIGHT_G:
        return None, found.quantity.low * WEIGHT_G[unit.name] / 1000, found.end
    return (Of.CUP, found.quantity.low, found.end) if unit.name == "cup" else None


def _target(tokens: Sequence[Token], i: int) -> tuple[Of | None, int]:
    """What a weight is of, and the token behind that."""
    at = i
    while _word(tokens, at) in _PASSED:
        at += 1
    word = _word(tokens, at)
    if word in _DOG:
        while _word(tokens, at) in _DOG | _PASSED:
            at += 1
        return Of.DOG, at
    if word in _MEAT:
        after = _word(tokens, at + 1)
        return Of.MEAT, at + 1 + (after in _MEAT)
    return (Of.FOOD, at + 1) if word in _FOOD else (None, i)
