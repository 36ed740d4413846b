"""What happens between a recipe and the bowl (reference/kitchen_errors.yaml): measuring, cooking, mixing, owners."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..confidence import Confidence
from ..errors import InputError
from .attribute_rule import AttributeRule, read_rule
from .foods import FloatArray, Food, FoodLibrary, SupplementKind


@dataclass(frozen=True, kw_only=True)
class Tool:
    """What an amount is taken with; shares of the amount asked for. spread: of one measuring; bias: how much
    more is taken than was asked; stays: of the tool or the hand, the same every time; step_g, noise_g: of a
    scale, whatever the amount; surer: how it is done more surely, "" where it is."""

    id: str
    name: str
    spread: float = 0.0
    bias: float = 0.0
    stays: float = 0.0
    step_g: float = 0.0
    noise_g: float = 0.0
    surer: str = ""

    def once(self, grams: float) -> float:
        """Standard deviation of one measuring of so many g, as a share of them; 0 of nothing.

        Of a scale: its step is hit anywhere (uniform, step / sqrt 12), its noise beside it.
        """
        if grams <= 0:
            return 0.0
        added = math.hypot(self.step_g / math.sqrt(12), self.noise_g) / grams
        return math.hypot(self.spread, added)


@dataclass(frozen=True, kw_only=True)
class Drift:
    """How often owners leave a line out, halve it, take too much, or swap it; shares of batches."""

    id: str
    left_out: float
    halved: float
    over: float
    swapped: float
    premix: bool = False
    supplement: bool = False
    holds: Mapping[str, float]
    kind: AttributeRule | None

    def fits(self, library: FoodLibrary, food: Food) -> bool:
        """Whether it speaks of a food; what is not known fits nothing."""
        if self.supplement and not food.is_supplement:
            return False
        if self.premix and not (food.handling and food.handling.kind is SupplementKind.PREMIX):
            return False
        values = library.values[library.row(food.id)]
        if any(not values[library.catalogue.index(t)] >= low for t, low in self.holds.items()):
            return False
        return self.kind is None or self.kind.holds(food.attributes) is True


@dataclass(frozen=True, kw_only=True)
class Mixing:
    """A way a supplement is brought into a batch: CV between portions."""

    id: str
    name: str
    cv: float


@dataclass(frozen=True, kw_only=True)
class TableError:
    """The error of a table's own mean: of so many samples, beside `share` of what two laboratories differ by,
    2 ^ (power - slope log10 C) % (Horwitz 1980)."""

    samples: int
    power: float
    slope: float
    share: float

    def of(self, variation: FloatArray, mass_fraction: FloatArray) -> FloatArray:
        """Share of the mean; `mass_fraction`: g in g, what is 0 has no laboratory part."""
        with np.errstate(divide="ignore"):
            between = 2 ** (self.power - self.slope * np.log10(mass_fraction)) / 100
        between = np.where(mass_fraction > 0, between, 0.0)
        found: FloatArray = np.sqrt(
            np.square(variation) / self.samples + np.square(self.share * between)
        )
        return found


@dataclass(frozen=True, kw_only=True)
class KitchenErrors:
    """Everything between a recipe and the bowl. carefulness: rates are multiplied by least + range x u, u uniform
    per owner. retention_kept, retention_drained: SD of what cooking leaves, of a mineral; retention_tags: of a tag."""

    table: TableError
    tools: Mapping[str, Tool]
    by_unit: Mapping[str, str]
    small_spoon_under: float
    retention_kept: float
    retention_drained: float
    retention_tags: Mapping[str, float]
    mixing: tuple[Mixing, ...]
    mixed: str
    careful_least: float
    careful_range: float
    drift: tuple[Drift, ...]
    half: float
    over: float
    source: str
    confidence: Confidence

    @classmethod
    def from_data(cls, data: dict[str, Any]) -> "KitchenErrors":
        """Build from the parsed file. Raises KeyError for a unit of a tool that is not there."""
        tools = {key: _tool(key, row) for key, row in data["tools"].items()}
        by_unit = {
            unit: tools[tool].id for tool, units in data["by_unit"].items() for unit in units
        }
        retention, careful = data["retention"], data["carefulness"]
        return cls(
            table=TableError(**data["table"]),
            tools=tools,
            by_unit=by_unit,
            small_spoon_under=float(data["small_spoon_under"]),
            retention_kept=retention["kept"] / 100,
            retention_drained=retention["drained"] / 100,
            retention_tags={tag: points / 100 for tag, points in retention["tags"].items()},
            mixing=tuple(
                Mixing(id=m["id"], name=m["name"], cv=m["cv"] / 100) for m in data["mixing"]
            ),
            mixed=data["mixed"],
            careful_least=float(careful["least"]),
            careful_range=float(careful["range"]),
            drift=tuple(map(_drift, data["drift"])),
            half=float(data["half"]),
            over=float(data["over"]),
            source=data["source"],
            confidence=Confidence(data["confidence"]),
        )

    def tool_of(self, food: Food, unit: str, count: float, grams: float, fine: bool) -> Tool:
        """What an amount is taken with. fine: the owner has a scale that shows tenths of a gram.

        A supplement that comes in pieces is counted, whatever its unit; less than a quarter of a teaspoon
        is no teaspoon; a part of a tablet is no tablet.
        """
        word = unit.split(",")[0].split()[0].lower() if unit else "g"
        form = food.handling.form if food.handling else ""
        if food.handling and food.handling.unit_g and self.by_unit.get(form) == "tablet":
            whole = grams / food.handling.unit_g
            return self.tools[
                "tablet" if abs(whole - round(whole)) < 0.02 and whole > 0.5 else "part-tablet"
            ]
        tool = self.by_unit.get(word, "piece")
        if tool == "tsp" and count < self.small_spoon_under:
            tool = "small-spoon"
        if tool == "scale" and fine:
            tool = "fine-scale"
        if tool == "piece" and form in self.by_unit:
            tool = self.by_unit[form]
        return self.tools[tool]

    def mixing_of(self, way: str) -> Mixing:
        """A way of mixing; where nobody says how, what is usual. Raises InputError (mixed)."""
        found = next((m for m in self.mixing if m.id == (way or self.mixed)), None)
        if found is None:
            raise InputError("mixed", f"{way} is no way that is known")
        return found

    def drift_of(self, library: FoodLibrary, food: Food) -> Drift:
        """How owners treat a food; the last when none fits."""
        return next((d for d in self.drift if d.fits(library, food)), self.drift[-1])


def _tool(key: str, row: Mapping[str, Any]) -> Tool:
    shares = {k: row.get(k, 0) / 100 for k in ("spread", "bias", "stays")}
    return Tool(
        id=key, name=row["name"], surer=row.get("surer", ""), step_g=float(row.get("step_g", 0)),
        noise_g=float(row.get("noise_g", 0)), **shares,
    )  # fmt: skip


def _drift(row: Mapping[str, Any]) -> Drift:
    rates = {k: row[k] / 100 for k in ("left_out", "halved", "over", "swapped")}
    return Drift(
        id=row["id"], premix=bool(row.get("premix")), supplement=bool(row.get("supplement")),
        holds=dict(row.get("holds", {})), kind=read_rule(row["kind"]) if "kind" in row else None,
        **rates,
    )  # fmt: skip
