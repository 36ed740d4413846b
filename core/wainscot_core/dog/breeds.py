"""What a breed weighs and what it is prone to: a reason to ask, never a diagnosis and never a limit."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from ..confidence import Confidence


@dataclass(frozen=True)
class Prone:
    """What a breed is prone to and what a consultant does about it. condition: the condition it may
    become, "" for none. risk: the advised safe limits it makes hold (see safe_limits.csv), or ""."""

    what: str
    do: str
    condition: str
    action: str
    risk: str
    source: str
    confidence: Confidence


@dataclass(frozen=True)
class Breed:
    """A breed with its usual adult weights, kg."""

    name: str
    low_kg: float
    high_kg: float
    prone: tuple[Prone, ...]


@dataclass(frozen=True)
class Breeds:
    """The breeds of breeds/breeds.csv, and size classes as (most kg, name)."""

    breeds: tuple[Breed, ...]
    size_classes: tuple[tuple[float, str], ...]

    @classmethod
    def from_data(
        cls, rows: Iterable[Mapping[str, str]], sizes: Iterable[tuple[float, str]]
    ) -> "Breeds":
        """Build from the parsed files: a row for everything a breed is prone to."""
        found: dict[str, Breed] = {}
        for r in rows:
            prone = (
                Prone(
                    r["prone_to"], r["do"], r["condition"], r["action"], r["risk"], r["source"],
                    Confidence(r["confidence"]),
                ),
            ) if r["prone_to"] else ()  # fmt: skip
            old = found.get(r["breed"])
            found[r["breed"]] = Breed(
                r["breed"], float(r["low_kg"]), float(r["high_kg"]),
                (*(old.prone if old else ()), *prone),
            )  # fmt: skip
        return cls(tuple(found.values()), tuple((float(m), n) for m, n in sizes))

    def of(self, name: str) -> Breed | None:
        """The breed of a name as it was entered; None when it is not listed."""
        wanted = name.strip().lower()
        return next((b for b in self.breeds if b.name.lower() == wanted), None)

    def risks(self, name: str) -> frozenset[str]:
        """The risks a breed carries, by which advised limits hold for it."""
        breed = self.of(name)
        return frozenset(p.risk for p in breed.prone if p.risk) if breed else frozenset()

    def size_of(self, kg: float) -> str:
        """The size class of an adult weight."""
        classes = self.size_classes
        return next((name for most, name in classes if kg <= most), classes[-1][1])
