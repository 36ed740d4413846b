"""The words of recipes, as data: reference/transcribe/words.yaml and called.csv."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from .tokens import singular


class Kind(StrEnum):
    """What a unit counts."""

    WEIGHT = "weight"
    VOLUME = "volume"
    HANDFUL = "handful"
    CONTAINER = "container"
    PIECE = "piece"


@dataclass(frozen=True)
class Span:
    """A figure that is none: the least it is likely to be, the usual, the most."""

    low: float
    usual: float
    high: float


@dataclass(frozen=True)
class Unit:
    """A unit as recipes have it.

    ml: what a volume that no standard fixes holds. grams: of a piece or of what a container holds; by_class: where it
    holds something else of a class of foods. leaf: grams of a
    handful of leaves. guess: what is taken for granted, "" for nothing. drained: its weight may count liquid that is
    poured off. given: a piece of a supplement, which has its own weight. none: says no amount of food.
    """

    name: str
    kind: Kind
    ml: Span | None = None
    grams: Span | None = None
    leaf: Span | None = None
    by_class: Mapping[str, Span] = field(default_factory=dict)
    guess: str = ""
    drained: bool = False
    given: bool = False
    none: bool = False


@dataclass(frozen=True)
class Called:
    """What people call foods: ids, the likeliest first, what that takes for granted, and the nutrient that a small
    amount so called is of ("10 mg zinc" is no 10 mg of a tablet), "" for the thing itself."""

    foods: tuple[str, ...]
    guess: str
    nutrient: str = ""


@dataclass(frozen=True)
class Words:
    """Every word that is understood. Keys are words in singular, or several joined by a blank."""

    numbers: Mapping[str, float]
    fractions: Mapping[str, float]
    vague: Mapping[str, Span | None]
    units: Mapping[str, Unit]
    cased_units: Mapping[str, Unit]
    sizes: Mapping[str, float]
    fullness: Mapping[str, float]
    about: frozenset[str]
    states: Mapping[str, str]
    made: Mapping[str, str]
    facets: Mapping[str, tuple[str, str]]
    lean: Mapping[str, float]
    joined: Mapping[str, Sequence[tuple[tuple[str, ...], str]]]
    preparation: frozenset[str]
    optional: frozenset[str]
    ask: Sequence[str]
    negations: frozenset[str]
    cuts: frozenset[str]
    verbs: frozenset[str]
    headings: Mapping[str, str]
    no_food: frozenset[str]
    unknown_foods: frozenset[str]
    contents: frozenset[str]
    beside: Mapping[str, frozenset[str]]
    only_measured: frozenset[str]
    dogs: frozenset[str]
    vague_foods: frozenset[str]
    forms: frozenset[str]
    mixtures: frozenset[str]
    corrections: frozenset[str]
    parts: frozenset[str]
    piece_g: Mapping[str, Span]
    ways: Mapping[str, str]
    goes_on: frozenset[str]
    minutes: frozenset[str]
    in_a_pan: frozenset[str]
    wet: frozenset[str]
    poured_off: frozenset[str]
    kept_liquid: frozenset[str]
    cooled: frozenset[str]
    all_of_it: frozenset[str]
    of_class: Mapping[str, frozenset[str]]
    drained_share: Mapping[str, float]
    bone_share: Mapping[str, Span]
    whole_birds: frozenset[str]
    whole_bird_share: Span
    density: Mapping[str, Span]
    same: Mapping[str, str]
    called: Mapping[str, Called]

    @classmethod
    def from_data(cls, data: Mapping[str, Any], called: Iterable[Mapping[str, str]]) -> "Words":
        """Build from words.yaml and the rows of called.csv. ValueError for a name that stands twice."""
        units: dict[str, Unit] = {}
        cased: dict[str, Unit] = {}
        for unit, words in _units(data):
            for word in words:
                if word in _CASED:
                    # "T" and "t" are two units.
                    cased[word] = unit
                    continue
                for form in {word, singular(word)}:
                    if units.setdefault(form, unit) is not unit:
                        raise ValueError(f"the unit {form!r} stands twice")
        names: dict[str, Called] = {}
        for row in called:
            entry = Called(tuple(row["foods"].split()), row["guessed"], row["nutrient"])
            for name in row["called"].split(";"):
                if name in names:
                    raise ValueError(f"{name!r} stands twice in called.csv")
                names[name] = entry
        return cls(
            numbers={k: float(v) for k, v in data["numbers"].items()},
            fractions={k: float(v) for k, v in data["fractions"].items()},
            vague={k: _span(v) for k, v in data["vague"].items()},
            units=units,
            cased_units=cased,
            sizes={k: float(v) for k, v in data["sizes"].items()},
            fullness={k: float(v) for k, v in data["fullness"].items()},
            about=frozenset(data["about"]),
            states={w: e["state"] for e in data["states"].values() for w in e["words"]},
            made={w: how for how, words in data["made"].items() for w in words},
            facets={
                w: next(iter(e["when"].items()))
                for e in data["facets"].values()
                for w in e["words"]
            },
            lean={k: float(v) for k, v in data["lean"].items()},
            joined=_by_first(data["joined"]),
            preparation=frozenset(data["preparation"]),
            optional=frozenset(data["optional"]),
            ask=tuple(data["ask"]),
            negations=frozenset(data["negations"]),
            cuts=frozenset(data["cuts"]),
            verbs=frozenset(data["verbs"]),
            headings={w: kind for kind, words in data["headings"].items() for w in words},
            no_food=frozenset(data["no_food"]),
            only_measured=frozenset(data["only_measured"]),
            forms=frozenset(data["forms"]),
            vague_foods=frozenset(data["vague_foods"]),
            dogs=frozenset(data["dogs"]),
            mixtures=frozenset(data["mixtures"]),
            corrections=frozenset(data["corrections"]),
            unknown_foods=frozenset(data["unknown_foods"]),
            contents=frozenset(data["contents"]),
            beside={k: frozenset(v) for k, v in data["beside"].items()},
            parts=frozenset(data["parts"]),
            piece_g={k: Span(*v) for ids, v in data["piece_g"].items() for k in ids.split()},
            ways={w: way for way, words in data["ways"].items() for w in words},
            goes_on=frozenset(data["goes_on"]),
            minutes=frozenset(data["minutes"]),
            in_a_pan=frozenset(data["in_a_pan"]),
            wet=frozenset(data["wet"]),
            poured_off=frozenset(data["poured_off"]),
            kept_liquid=frozenset(data["kept_liquid"]),
            cooled=frozenset(data["cooled"]),
            all_of_it=frozenset(data["all_of_it"]),
            of_class={k: frozenset(v) for k, v in data["of_class"].items()},
            drained_share={k: float(v) for k, v in data["drained_share"].items()},
            whole_birds=frozenset(data["whole_birds"]["foods"]),
            whole_bird_share=Span(*data["whole_birds"]["share"]),
            bone_share={k: Span(*v) for k, v in data["bone_share"].items()},
            density={k: Span(*v) for k, v in data["density"].items()},
            same=dict(data["same"]),
            called=names,
        )


_CASED = frozenset({"T", "t"})


def _by_first(joined: Mapping[str, str]) -> dict[str, list[tuple[tuple[str, ...], str]]]:
    """Words that are one, by the first of them, the longest first."""
    found: dict[str, list[tuple[tuple[str, ...], str]]] = {}
    for phrase, name in sorted(joined.items(), key=lambda one: -len(one[0].split())):
        parts = tuple(phrase.split())
        found.setdefault(parts[0], []).append((parts, name))
    return found


def _span(values: Sequence[float] | None) -> Span | None:
    return None if values is None else Span(*(float(v) for v in values))


def _units(data: Mapping[str, Any]) -> Iterable[tuple[Unit, Sequence[str]]]:
    for name, words in data["weights"].items():
        yield Unit(name, Kind.WEIGHT), words
    for name, words in data["volumes"].items():
        yield Unit(name, Kind.VOLUME), words
    for name, entry in data["other_volumes"].items():
        yield (
            Unit(name, Kind.VOLUME, ml=_span(entry["ml"]), guess=entry.get("guess", "")),
            entry["words"],
        )
    for name, entry in data["handfuls"].items():
        yield (
            Unit(
                name, Kind.HANDFUL, grams=_span(entry["other"]), leaf=_span(entry["leaf"]),
                guess=entry.get("guess", ""),
            ),
            entry["words"],
        )  # fmt: skip
    for group, kind in (("containers", Kind.CONTAINER), ("pieces", Kind.PIECE)):
        for name, entry in data[group].items():
            yield (
                Unit(
                    name, kind, grams=_span(entry.get("grams")), guess=entry.get("guess", ""),
                    by_class={k: Span(*v) for k, v in entry.get("by_class", {}).items()},
                    drained=bool(entry.get("drained")), given=bool(entry.get("given")),
                    none=bool(entry.get("none")),
                ),
                entry["words"],
            )  # fmt: skip
