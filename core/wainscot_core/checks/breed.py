"""What a breed is prone to: a reason to ask, never a diagnosis and never a limit by itself."""

from collections.abc import Iterator

from ..dossier.dossier import Dossier
from ..findings import Finding, Kind, Level
from ..recipe.totals import Totals

_COPPER = "copper-hepatopathy"
_MUCH_COPPER = frozenset({"high", "very-high"})


def prone_breed(dossier: Dossier, sums: Totals) -> Iterator[Finding]:
    """Advice for the dog's breed; a warning where it stores copper and the bowl holds food rich in it."""
    breed = dossier.reference.breeds.of(dossier.breed)
    if breed is None:
        return
    had = {condition.id for condition, _ in dossier.conditions}
    for prone in breed.prone:
        if prone.condition in had:
            continue
        yield Finding(
            kind=Kind.BREED, level=Level.NOTE, what=f"{breed.name}: prone to {prone.what}",
            why="a reason to ask the vet, not a diagnosis", do=f"{prone.do}.", field="dog.breed",
            source=prone.source, confidence=prone.confidence,
        )  # fmt: skip
        if prone.condition == _COPPER:
            yield from _copper(dossier, breed.name, prone.source)


def _copper(dossier: Dossier, breed: str, source: str) -> Iterator[Finding]:
    for food in {line.food.id: line.food for line in dossier.lines}.values():
        if food.attributes.copper in _MUCH_COPPER and not food.is_supplement:
            yield Finding(
                kind=Kind.BREED, level=Level.WARN, matter="Much copper for a breed that stores it",
                what=f"Much copper for a breed that stores it: {food.name}",
                why=f"{breed} dogs store copper in the liver more often than others",
                do="Take it out, or ask the vet for the liver values first.", food=food.id, source=source,
            )  # fmt: skip
