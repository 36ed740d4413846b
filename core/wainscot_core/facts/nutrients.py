"""The nutrient catalogue: INFOODS tagnames with unit, group and derived columns."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from ..confidence import Confidence
from ..units import MASS_G


@dataclass(frozen=True)
class Nutrient:
    """One column of the composition tables, in `unit` per 100 g as fed."""

    key: str
    name: str
    short: str
    unit: str
    group: str
    decimals: int
    board: bool
    parts: tuple[str, ...] = ()
    weights: tuple[float, ...] = ()
    note: str = ""
    # The nutrient that a maximum printed for this one is about; "" for itself.
    max_on: str = ""


@dataclass(frozen=True)
class Ratio:
    """A ratio of two sums of nutrients, by mass times `scale`.

    window: bounds that are shown beside it and decide nothing, with their source.
    """

    key: str
    name: str
    short: str
    top: tuple[str, ...]
    bottom: tuple[str, ...]
    scale: float = 1.0
    window_min: float | None = None
    window_max: float | None = None
    window_source: str = ""
    # Told as a share, in percent.
    share: bool = False


@dataclass(frozen=True)
class EnergyFactors:
    """kcal per gram of protein, fat and carbohydrate by tag, with their source."""

    kcal_per_g: Mapping[str, float] = field(hash=False)
    source: str
    confidence: Confidence

    @classmethod
    def from_data(cls, data: dict[str, Any]) -> "EnergyFactors":
        """Build from an entry of energy_factors."""
        return cls(
            {k: float(v) for k, v in data["kcal_per_g"].items()},
            data["source"],
            Confidence(data["confidence"]),
        )

    def of(self, protein: float, fat: float, carbohydrate: float) -> dict[str, float]:
        """kcal by tag of so many grams each."""
        grams = {"PROCNT": protein, "FAT": fat, "CHOCDF": carbohydrate}
        return {tag: factor * grams[tag] for tag, factor in self.kcal_per_g.items()}

    @property
    def words(self) -> str:
        """The factors in words: 4 x protein + 9 x fat + 4 x carbohydrate."""
        names = {"PROCNT": "protein", "FAT": "fat", "CHOCDF": "carbohydrate"}
        return " + ".join(f"{v:g} x {names[k]}" for k, v in self.kcal_per_g.items())


@dataclass(frozen=True)
class Catalogue:
    """All nutrients in column order, the groups, the ratios, and what has a value per gram.

    atwater: of human-grade food; modified_atwater: of bought dog food. amino_pattern: the amino
    acids that are compared with lysine.
    """

    nutrients: tuple[Nutrient, ...]
    ratios: tuple[Ratio, ...]
    groups: dict[str, str]
    atwater: EnergyFactors
    modified_atwater: EnergyFactors
    amino_pattern: tuple[str, ...]

    def __post_init__(self) -> None:
        object.__setattr__(self, "_index", {n.key: i for i, n in enumerate(self.nutrients)})

    @property
    def keys(self) -> tuple[str, ...]:
        """Column keys in order."""
        return tuple(n.key for n in self.nutrients)

    def index(self, key: str) -> int:
        """Column of a nutrient; KeyError when it is not in the catalogue."""
        position: int = self._index[key]  # type: ignore[attr-defined]
        return position

    def __contains__(self, key: str) -> bool:
        return key in self._index  # type: ignore[attr-defined]

    def get(self, key: str) -> Nutrient:
        """The nutrient of a key; KeyError when it is not in the catalogue."""
        return self.nutrients[self.index(key)]

    def is_share(self, key: str) -> bool:
        """True for a ratio that is told in percent."""
        return any(r.key == key and r.share for r in self.ratios)

    def name_of(self, key: str) -> str:
        """The name of a nutrient or ratio; KeyError for neither."""
        ratio = next((r.name for r in self.ratios if r.key == key), None)
        return ratio or self.get(key).name

    def grams_per_unit(self, key: str) -> float:
        """Grams in one unit of a nutrient's amounts."""
        return MASS_G[self.get(key).unit]

    def parts_of(self, ratio: "Ratio", amount: Callable[[str], float]) -> tuple[float, float]:
        """Top and bottom of a ratio in g, from amounts in catalogue units."""
        top, bottom = (
            sum(amount(key) * self.grams_per_unit(key) for key in side)
            for side in (ratio.top, ratio.bottom)
        )
        return top, bottom

    @classmethod
    def from_data(cls, data: dict[str, Any]) -> "Catalogue":
        """Build from the parsed reference/nutrients.yaml."""
        nutrients = []
        for entry in data["nutrients"]:
            derived = entry.get("derived") or {}
            parts = tuple(derived.get("sum", ()))
            nutrients.append(
                Nutrient(
                    key=entry["key"],
                    name=entry["name"],
                    short=entry["short"],
                    unit=entry["unit"],
                    group=entry["group"],
                    decimals=int(entry["decimals"]),
                    board=bool(entry.get("board", False)),
                    parts=parts,
                    weights=tuple(float(w) for w in derived.get("weights", [1.0] * len(parts))),
                    note=entry.get("note", ""),
                    max_on=entry.get("max_on", ""),
                )
            )
        ratios = tuple(_ratio(entry) for entry in data["ratios"])
        factors = data["energy_factors"]
        return cls(
            tuple(nutrients),
            ratios,
            dict(data["groups"]),
            EnergyFactors.from_data(factors["atwater"]),
            EnergyFactors.from_data(factors["modified_atwater"]),
            tuple(data["amino_pattern"]),
        )


def _ratio(entry: dict[str, Any]) -> Ratio:
    window = entry.get("window") or {}
    return Ratio(
        entry["key"], entry["name"], entry["short"], tuple(entry["top"]), tuple(entry["bottom"]),
        float(entry.get("scale", 1.0)), window.get("min"), window.get("max"),
        f"{window['source']}; confidence {window['confidence']}" if window else "",
        bool(entry.get("share", False)),
    )  # fmt: skip
