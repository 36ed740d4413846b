"""The nutrient catalogue: INFOODS tagnames with unit, group and derived columns."""

from dataclasses import dataclass
from typing import Any

# Converts a printed unit into grams; the catalogue unit is reached by division.
_MASS_G = {"g": 1.0, "mg": 1e-3, "ug": 1e-6, "kg": 1e3}

# Catalogue unit per international unit. Sources: vitamin A 0.300 ug retinol and vitamin D
# 0.025 ug cholecalciferol (WHO definitions); vitamin E 1/1.49 mg RRR-alpha-tocopherol (USP).
_PER_IU = {
    "VITA": ("ug", 0.3),
    "RETOL": ("ug", 0.3),
    "VITD": ("ug", 0.025),
    "TOCPHA": ("mg", 1 / 1.49),
}


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


@dataclass(frozen=True)
class Catalogue:
    """All nutrients in column order, the groups, and the ratios."""

    nutrients: tuple[Nutrient, ...]
    ratios: tuple[Ratio, ...]
    groups: dict[str, str]

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
                )
            )
        ratios = tuple(_ratio(entry) for entry in data["ratios"])
        return cls(tuple(nutrients), ratios, dict(data["groups"]))


def _ratio(entry: dict[str, Any]) -> Ratio:
    window = entry.get("window") or {}
    return Ratio(
        entry["key"], entry["name"], entry["short"], tuple(entry["top"]), tuple(entry["bottom"]),
        float(entry.get("scale", 1.0)), window.get("min"), window.get("max"),
        f"{window['source']}; confidence {window['confidence']}" if window else "",
    )  # fmt: skip


def convert(key: str, value: float, from_unit: str, to_unit: str) -> float:
    """Convert an amount of nutrient `key` between units (g, mg, ug, IU where defined).

    Raises ValueError for a pair of units that has no factor for this nutrient.
    """
    if from_unit == to_unit:
        return value
    if from_unit == "IU":
        if key not in _PER_IU:
            raise ValueError(f"{key} has no international unit")
        unit, factor = _PER_IU[key]
        return convert(key, value * factor, unit, to_unit)
    if to_unit == "IU":
        unit, factor = _PER_IU[key]
        return convert(key, value, from_unit, unit) / factor
    if from_unit not in _MASS_G or to_unit not in _MASS_G:
        raise ValueError(f"no conversion from {from_unit} to {to_unit} for {key}")
    return value * _MASS_G[from_unit] / _MASS_G[to_unit]
