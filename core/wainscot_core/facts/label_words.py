"""The names and units that supplement labels use (supplements/label_words.yaml)."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ..units import convert
from .nutrients import Catalogue
from .stoichiometry import mass_share


@dataclass(frozen=True)
class Equivalent:
    """What one of "mcg DFE" counts: `factor` of the plain unit of a nutrient, and why."""

    key: str
    factor: float
    why: str


@dataclass(frozen=True)
class Compound:
    """A substance weighed whole: what of one gram counts, in g by tag. asks: a label may as well mean the
    weight of what counts."""

    name: str
    shares: Mapping[str, float]
    asks: bool


@dataclass(frozen=True)
class MeantOption:
    """One of the things a name can mean: its tag, "" for what is not counted; the forms that say so."""

    key: str
    say: str
    forms: frozenset[str]


@dataclass(frozen=True)
class Choice:
    """A name that can mean several things."""

    ask: str
    options: tuple[MeantOption, ...]


@dataclass(frozen=True)
class UnitKind:
    """What a label counts in. piece: the unit of an amount, "" for what is weighed. shell: the source groups of
    its shell. spoon: a level teaspoon; weight: grams."""

    id: str
    words: str
    piece: str
    step: float
    typical_g: float | None
    shell: tuple[str, ...]
    spoon: bool
    weight: bool


@dataclass(frozen=True)
class LabelWords:
    """All of supplements/label_words.yaml, by what is written in small letters."""

    units: Mapping[str, str]
    equivalents: Mapping[str, Equivalent]
    names: Mapping[str, str]
    oils: Mapping[str, tuple[str, ...]]
    parts: Mapping[str, tuple[str, ...]]
    totals: Mapping[str, tuple[str, ...]]
    choices: Mapping[str, Choice]
    compounds: Mapping[str, Compound]
    activities: Mapping[str, tuple[str, float]]
    uncounted: frozenset[str]
    statements: frozenset[str]
    unit_kinds: Mapping[str, UnitKind]
    source: str


def read_label_words(
    data: Mapping[str, Any], weights: Mapping[str, Any], catalogue: Catalogue
) -> LabelWords:
    """Build from the parsed supplements/label_words.yaml and the atomic weights of supplements.yaml. Raises ValueError
    for a tag, a formula or a name that cannot be."""
    atomic = {k: float(v) for k, v in weights.items()}
    names = _names(data, catalogue)
    return LabelWords(
        by_word(data["units"]),
        {
            word: Equivalent(e["key"], float(e["factor"]), e["why"])
            for word, e in data["equivalents"].items()
        },
        names,
        {name: tuple(o.get("unknown", ())) for o in data["oils"] for name in o["names"]},
        {key: tuple(parts) for key, parts in data["parts"].items()},
        {name: tuple(t["of"]) for t in data["totals"] for name in t["names"]},
        {name: _choice(c) for c in data["choices"] for name in c["names"]},
        {
            name: _compound(c, atomic, float(data["ask_below_share"]))
            for c in data["compounds"]
            for name in c["names"]
        },
        {
            name: (a["key"], _of_a_gram(a["key"], float(a["iu_per_mg"]), catalogue))
            for a in data["activities"]
            for name in a["names"]
        },
        frozenset(data["uncounted"]),
        frozenset(data["statements"]),
        {key: _unit_kind(key, k) for key, k in data["unit_kinds"].items()},
        data["source"],
    )


def by_word(groups: Mapping[str, list[str]]) -> dict[str, str]:
    """What each written word stands for. Raises ValueError for one that stands for two."""
    found: dict[str, str] = {}
    for key, words in groups.items():
        for word in words:
            if found.setdefault(word, key) != key:
                raise ValueError(f"{word!r} stands for {found[word]} and for {key}")
    return found


def _names(data: Mapping[str, Any], catalogue: Catalogue) -> dict[str, str]:
    for key in data["names"]:
        if key not in catalogue or catalogue.get(key).parts:
            raise ValueError(f"{key} is not a nutrient that a label can give")
    return by_word(data["names"])


def _choice(entry: Mapping[str, Any]) -> Choice:
    options = (MeantOption(o["key"], o["say"], frozenset(o["forms"])) for o in entry["options"])
    return Choice(entry["ask"], tuple(options))


def _compound(entry: Mapping[str, Any], weights: Mapping[str, float], asked: float) -> Compound:
    shares = {
        key: mass_share(entry["formula"], part, weights) for key, part in entry["holds"].items()
    }
    return Compound(entry["names"][0], shares, next(iter(shares.values())) < asked)


def _of_a_gram(key: str, iu_per_mg: float, catalogue: Catalogue) -> float:
    """Grams of a nutrient that a gram of a substance counts for, by its activity."""
    unit = catalogue.get(key).unit
    return convert(key, convert(key, iu_per_mg * 1000, "IU", unit), unit, "g")


def _unit_kind(key: str, entry: Mapping[str, Any]) -> UnitKind:
    weighed = bool(entry.get("weight", False) or entry.get("spoon", False))
    return UnitKind(
        key, entry["words"], "" if weighed else entry.get("piece", key),
        float(entry.get("step", 1)), entry.get("typical_g"), tuple(entry.get("shell", ())),
        bool(entry.get("spoon", False)), bool(entry.get("weight", False)),
    )  # fmt: skip
