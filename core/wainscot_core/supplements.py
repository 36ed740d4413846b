"""Generic supplements as foods of the library, with what a person must know to give them."""

from dataclasses import dataclass
from typing import Any

from .foods import Food, Measure, Provenance
from .nutrients import Catalogue, convert
from .stoichiometry import mass_share

IUPAC = "formula and IUPAC 2021 atomic weights"


@dataclass(frozen=True)
class LabelQuestion:
    """A strength that only the pack can tell: amount of `tag` in `unit` per `per`."""

    tag: str
    unit: str
    per: str


@dataclass(frozen=True)
class Supplement:
    """A supplement: its food, values per 100 g by tag, and how it is given."""

    food: Food
    values: dict[str, float]
    provenance: Provenance
    form: str
    unit_g: float | None
    step_g: float
    heat: str
    add: str
    label: tuple[LabelQuestion, ...]
    block: str
    most_g_per_mcal: float | None = None


def read_supplements(data: dict[str, Any], catalogue: Catalogue) -> tuple[Supplement, ...]:
    """Build from the parsed reference/supplements/supplements.yaml."""
    weights = {k: float(v) for k, v in data["atomic_weights"].items()}
    return (
        *(_salt(entry, catalogue, weights) for entry in data["salts"]),
        *(_unit(entry, catalogue) for entry in data["units"]),
        *(_product(entry, catalogue) for entry in data["products"]),
    )


def _zeroes(catalogue: Catalogue) -> dict[str, float]:
    return {n.key: 0.0 for n in catalogue.nutrients if not n.parts}


def _food(entry: dict[str, Any], measures: tuple[Measure, ...]) -> Food:
    return Food(
        f"supp:{entry['id']}", entry["name"], "supplement", "supplement", True,
        tuple(entry.get("allergens", ())), entry.get("formula", ""), measures,
    )  # fmt: skip


def _spoon(entry: dict[str, Any]) -> tuple[Measure, ...]:
    if "tsp_g" not in entry:
        return ()
    source = "bulk density of a typical powder; weigh it once"
    return (Measure("tsp", float(entry["tsp_g"]), source, "low"),)


def _salt(entry: dict[str, Any], catalogue: Catalogue, weights: dict[str, float]) -> Supplement:
    values = _zeroes(catalogue)
    purity = float(entry.get("purity", 1.0))
    for tag, part in entry["holds"].items():
        fragment = part["part"] if isinstance(part, dict) else part
        grams = 100 * purity * mass_share(entry["formula"], fragment, weights)
        values[tag] = convert(tag, grams, "g", catalogue.get(tag).unit)
    provenance = Provenance(
        f"supp:{entry['id']}",
        "stoichiometric",
        f"Content of pure {entry['formula']}; a pure substance holds nothing else",
        IUPAC,
        "high",
    )
    return Supplement(
        _food(entry, _spoon(entry)), values, provenance, "powder", None, 0.1,
        entry["heat"], entry["add"], (), entry.get("block", ""),
    )  # fmt: skip


def _unit(entry: dict[str, Any], catalogue: Catalogue) -> Supplement:
    unit_g = float(entry["unit_g"])
    values = _zeroes(catalogue)
    for tag, (amount, unit) in entry["per_unit"].items():
        values[tag] = convert(tag, float(amount), unit, catalogue.get(tag).unit) / unit_g * 100
    source = f"typical weight of one {entry['unit']}"
    measures = (
        Measure(entry["unit"], unit_g, source, "medium"),
        Measure(f"each {entry['unit']}", unit_g, source, "medium"),
    )
    provenance = Provenance(
        f"supp:{entry['id']}",
        "label",
        "Strength in its name; nothing else counted",
        "generic label",
        "medium",
    )
    return Supplement(
        _food(entry, measures), values, provenance, entry["unit"], unit_g,
        float(entry["step"]) * unit_g, entry["heat"], entry["add"], (), "",
    )  # fmt: skip


def _product(entry: dict[str, Any], catalogue: Catalogue) -> Supplement:
    asked = tuple(LabelQuestion(q["tag"], q["unit"], q["per"]) for q in entry.get("label", ()))
    values = _zeroes(catalogue) if entry["rest"] == "zero" else {}
    for question in asked:
        values.pop(question.tag, None)
    for tag, (amount, unit) in entry["per_100g"].items():
        values[tag] = convert(tag, float(amount), unit, catalogue.get(tag).unit)
    provenance = Provenance(
        f"supp:{entry['id']}", "label", "Typical analysis", entry["source"], entry["confidence"]
    )
    return Supplement(
        _food(entry, _spoon(entry)), values, provenance, "powder" if "tsp_g" in entry else "liquid",
        None, 0.1, entry["heat"], entry["add"], asked, "", entry.get("most_g_per_mcal"),
    )  # fmt: skip


def with_label(
    supplement: Supplement, strengths: dict[str, float], catalogue: Catalogue
) -> dict[str, float]:
    """Values per 100 g with the strengths read from a label, in the question's unit per g.

    Raises KeyError for a tag the supplement does not ask for.
    """
    questions = {q.tag: q for q in supplement.label}
    values = dict(supplement.values)
    for tag, amount in strengths.items():
        question = questions[tag]
        values[tag] = convert(tag, amount * 100, question.unit, catalogue.get(tag).unit)
    return values
