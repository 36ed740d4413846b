"""Generic supplements as foods of the library, with what a person must know to give them."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from ..confidence import Confidence
from ..facts.shelf import ShelfItem
from ..units import convert
from .foods import (
    Food,
    FoodLibrary,
    Grade,
    Handling,
    LabelQuestion,
    Measure,
    Provenance,
    SupplementKind,
    known_values,
)
from .nutrients import Catalogue
from .stoichiometry import mass_share

# A fine kitchen scale shows tenths of a gram.
POWDER_STEP_G = 0.1
IUPAC = "formula and IUPAC 2021 atomic weights"


@dataclass(frozen=True)
class Supplement:
    """A supplement as read: its food with how it is given, values per 100 g by tag, their source."""

    food: Food
    values: dict[str, float]
    provenance: Provenance

    @property
    def label(self) -> tuple[LabelQuestion, ...]:
        """The strengths its pack must tell."""
        return self.food.handling.label if self.food.handling else ()


def read_supplements(data: dict[str, Any], catalogue: Catalogue) -> tuple[Supplement, ...]:
    """Build from the parsed reference/supplements/supplements.yaml."""
    weights = {k: float(v) for k, v in data["atomic_weights"].items()}
    return (
        *(_salt(entry, catalogue, weights) for entry in data["salts"]),
        *(_unit(entry, catalogue) for entry in data["units"]),
        *(read_product(entry, catalogue) for entry in data["products"]),
    )


@dataclass(frozen=True)
class Measuring:
    """What a kitchen can measure safely: one step of a supplement may bring at most this share of the
    safe limit per 1000 kcal of anything, of a powder `weighed`, of pieces `counted`. ceilings: the
    lowest safe limit by tag."""

    ceilings: Mapping[str, float]
    weighed: float
    counted: float
    why: str

    def block(self, given: Handling, values: Mapping[str, float]) -> str:
        """Why a supplement with these values per 100 g must not be used; "" when it may."""
        most = self.weighed if given.unit_g is None else self.counted
        for tag, ceiling in self.ceilings.items():
            amount = values.get(tag, 0.0) / 100 * given.step_g
            if amount > most * ceiling:
                return f"{self.why} ({amount / ceiling:.0%} of the safe limit per 1000 kcal)"
        return ""

    def checked(self, supplement: Supplement) -> Supplement:
        """The supplement, blocked where it cannot be measured safely."""
        given = supplement.food.handling
        if given is None or given.block:
            return supplement
        block = self.block(given, supplement.values)
        return (
            replace(supplement, food=replace(supplement.food, handling=replace(given, block=block)))
            if block
            else supplement
        )

    def in_library(self, library: FoodLibrary, food_id: str) -> FoodLibrary:
        """The library with a supplement looked at anew, once its strength was read from the pack."""
        food, row = library.food(food_id), library.values[library.row(food_id)]
        if food.handling is None:
            return library
        known = known_values(library.catalogue, row)
        handling = replace(food.handling, block=self.block(food.handling, known))
        return library.with_food(replace(food, handling=handling))


def read_measuring(data: dict[str, Any], ceilings: Mapping[str, float]) -> Measuring:
    """Build from the parsed reference/supplements/supplements.yaml and the lowest safe limits."""
    rule = data["unmeasurable"]
    return Measuring(dict(ceilings), float(rule["weighed"]), float(rule["counted"]), rule["why"])


def _zeroes(catalogue: Catalogue) -> dict[str, float]:
    return {n.key: 0.0 for n in catalogue.nutrients if not n.parts}


def _food(
    entry: dict[str, Any], measures: tuple[Measure, ...], handling: Handling, prefix: str = "supp"
) -> Food:
    return Food(
        f"{prefix}:{entry['id']}", entry["name"], "supplement", "supplement", True,
        tuple(entry.get("allergens", ())), entry.get("formula", ""), measures, handling,
    )  # fmt: skip


def _spoon(entry: dict[str, Any]) -> tuple[Measure, ...]:
    if "tsp_g" not in entry:
        return ()
    source = "bulk density of a typical powder; weigh it once"
    return (Measure("tsp", float(entry["tsp_g"]), source, Confidence.LOW),)


def _salt(entry: dict[str, Any], catalogue: Catalogue, weights: dict[str, float]) -> Supplement:
    values = _zeroes(catalogue)
    purity = float(entry.get("purity", 1.0))
    for tag, part in entry["holds"].items():
        fragment = part["part"] if isinstance(part, dict) else part
        grams = 100 * purity * mass_share(entry["formula"], fragment, weights)
        values[tag] = convert(tag, grams, "g", catalogue.get(tag).unit)
    if "as_protein" in entry:
        values["PROCNT"] = 100 * purity * mass_share(entry["formula"], entry["as_protein"], weights)
        values["ENERC"] = catalogue.atwater.kcal_per_g["PROCNT"] * values["PROCNT"]
    provenance = Provenance(
        f"supp:{entry['id']}",
        Grade.STOICHIOMETRIC,
        f"Content of pure {entry['formula']}; a pure substance holds nothing else",
        IUPAC,
        Confidence.HIGH,
    )
    handling = Handling(
        SupplementKind.SINGLE, "powder", None, POWDER_STEP_G, entry["heat"], entry["add"],
        block=entry.get("block", ""), at_serving=bool(entry.get("serve", False)), bound_phosphate=bool(entry.get("bound_phosphate", False)),
        poorly_used=entry.get("poorly_used", ""),
    )  # fmt: skip
    return Supplement(_food(entry, _spoon(entry), handling), values, provenance)


def _unit(entry: dict[str, Any], catalogue: Catalogue) -> Supplement:
    unit_g = float(entry["unit_g"])
    values = _zeroes(catalogue)
    for tag in entry.get("unknown", ()):
        values.pop(tag)
    for tag, (amount, unit) in entry["per_unit"].items():
        values[tag] = convert(tag, float(amount), unit, catalogue.get(tag).unit) / unit_g * 100
    source = f"typical weight of one {entry['unit']}"
    measures = (
        Measure(entry["unit"], unit_g, source, Confidence.MEDIUM),
        Measure(f"each {entry['unit']}", unit_g, source, Confidence.MEDIUM),
    )
    provenance = Provenance(
        f"supp:{entry['id']}",
        Grade.LABEL,
        "Strength in its name; nothing else counted",
        "generic label",
        Confidence.MEDIUM,
    )
    handling = Handling(
        SupplementKind.SINGLE, entry["unit"], unit_g, float(entry["step"]) * unit_g,
        entry["heat"], entry["add"], at_serving=bool(entry.get("serve", False)),
    )  # fmt: skip
    return Supplement(_food(entry, measures, handling), values, provenance)


def read_product(
    entry: dict[str, Any], catalogue: Catalogue, prefix: str = "supp", label: str = ""
) -> Supplement:
    """A product with its figures per 100 g, as in supplements.yaml or on a practice's shelf.

    `label` names whose word the figures are, when it is not a typical analysis.
    Raises KeyError or ValueError for a tag or unit that does not exist.
    """
    asked = tuple(LabelQuestion(q["tag"], q["unit"], q["per"]) for q in entry.get("label", ()))
    values = _zeroes(catalogue) if entry["rest"] == "zero" else {}
    values |= dict.fromkeys(entry.get("zero", ()), 0.0)
    for tag in (*entry.get("unknown", ()), *(q.tag for q in asked)):
        values.pop(tag, None)
    for tag, (amount, unit) in entry["per_100g"].items():
        values[tag] = convert(tag, float(amount), unit, catalogue.get(tag).unit)
    provenance = Provenance(
        f"{prefix}:{entry['id']}", Grade.LABEL, label or "Typical analysis", entry["source"],
        Confidence(entry["confidence"]),
    )  # fmt: skip
    handling = Handling(
        SupplementKind(entry.get("kind", "single")),
        entry.get("form", "powder" if "tsp_g" in entry else "liquid"), None, POWDER_STEP_G, entry["heat"], entry["add"], asked,
        most_g_per_mcal=entry.get("most_g_per_mcal"), part=entry.get("part", ""),
        like=tuple(entry.get("like", ())), at_serving=bool(entry.get("serve", False)), bound_phosphate=bool(entry.get("bound_phosphate", False)),
    )  # fmt: skip
    return Supplement(_food(entry, _spoon(entry), handling, prefix), values, provenance)


def shelf_supplement(
    item: ShelfItem, values: Mapping[str, float], catalogue: Catalogue, stocked: bool = True
) -> Supplement:
    """A supplement on a practice's shelf, its `values` per 100 g already in catalogue units. stocked: False for what
    was taken off it, which recipes may still hold and nothing proposes."""
    zeroes = _zeroes(catalogue) if item.rest_is_zero else {}
    for key in item.unknown:
        zeroes.pop(key, None)
    whole = {**zeroes, **values}
    whole.setdefault("ENERC", 0.0)
    measures = []
    if item.tsp_g:
        measures.append(
            Measure("tsp", item.tsp_g, "as the practice weighed it", Confidence.MEDIUM, own=True)
        )
    if item.unit and item.unit_g:
        measures.append(
            Measure(item.unit, item.unit_g, "typical, not on its label", Confidence.LOW)
            if item.unit_g_typical
            else Measure(item.unit, item.unit_g, "as on its label", Confidence.MEDIUM)
        )
    piece = item.unit_g if item.unit else None
    handling = Handling(
        item.kind, item.unit or "powder", piece, POWDER_STEP_G if piece is None else item.step * piece,
        item.heat, item.add, most_g_per_mcal=item.most_g_per_mcal,
        most_g_per_kg_day=item.most_g_per_kg_day, on_shelf=stocked,
    )  # fmt: skip
    food = Food(
        item.id, item.name, "supplement", "supplement", stocked, item.allergens, "", tuple(measures),
        handling,
    )  # fmt: skip
    source = item.source or "entered by the practice"
    return Supplement(
        food,
        whole,
        Provenance(item.id, Grade.LABEL, f"Label of {item.name}", source, Confidence.UNSAID),
    )


def label_values(
    supplement: Supplement, strengths: Mapping[str, float], catalogue: Catalogue
) -> dict[str, float]:
    """Values per 100 g of the strengths read from a label, in the question's unit per g.

    Raises KeyError for a tag the supplement does not ask for.
    """
    questions = {q.tag: q for q in supplement.label}
    return {
        tag: convert(tag, amount * 100, questions[tag].unit, catalogue.get(tag).unit)
        for tag, amount in strengths.items()
    }
