"""What a phrase may mean: foods of the library, and how sure each is."""

from dataclasses import dataclass

from ..facts.foods import Food


@dataclass(frozen=True)
class Candidate:
    """A food that may be meant, and how sure that is, 0 to 1."""

    food: Food
    confidence: float


@dataclass(frozen=True)
class Match:
    """The foods that may be meant, the likeliest first. sure: whether the first is named. guessed: what is taken for
    granted with it. unknown: words that no food of the library has. nutrient: what a small amount so called is of."""

    candidates: tuple[Candidate, ...]
    sure: bool
    guessed: tuple[str, ...] = ()
    unknown: tuple[str, ...] = ()
    nutrient: str = ""
