"""One row from as few samples as can be: the newest analysis first, a fat from one sample.

A sample is one row of one source. What a newer one lacks is taken from the next, but its fatty acids are
shares of its own fat: where the fat is another's, they are scaled to it and say so.
"""

from dataclasses import dataclass
from enum import StrEnum

from wainscot_core.facts.bounds import POLYUNSATURATED

from . import names
from .rules import Food, Register
from .sources import SourceRow

SATURATION = ("FASAT", "FAMS", "FAPU")
N3 = ("F18D3N3", "F20D5N3", "F22D6N3")
PROTEIN_MIN_G = 3.0
# What every flesh and every solid food holds; a printed 0 is a hole.
NEVER_ZERO = ("K", "P", "MG", "FE", "ZN")
NEVER_ZERO_IN_FLESH = ("NA", "VITB6A", "NIA", "RIBF", "THIA", "VITB12", "SE", "PANTAC")
SAME_FAT = 0.02


class Zeros(StrEnum):
    """What a 0 of a source is. none: nothing there. trace: under what could be measured, so that an older
    value above it stands. hole: not measured."""

    NONE = "none"
    TRACE = "trace"
    HOLE = "hole"


@dataclass(frozen=True)
class Sample:
    """One row of one source, and what its printed 0 means."""

    code: str
    values: dict[str, float]
    zeros: Zeros


def take(food: Food, samples: list[Sample], register: Register) -> None:
    """Fill a food from its samples, the newest first."""
    for sample in samples:
        if "FAT" in sample.values:
            food.put("FAT", sample.values["FAT"], sample.code)
    # The oldest source alone has polyunsaturated fat, of the very sample the one before it has the single
    # acids of: in plants, where nothing else is polyunsaturated, these stay together.
    together = food.klass in names.PLANT | {"fat-oil"} and "FAPU" in samples[-1].values
    fats = [s for s in samples if not (together and s.zeros is Zeros.TRACE)]
    has_n3 = next((s.code for s in fats if any(t in s.values for t in N3)), "")
    for sample in samples:
        for tag, value in sample.values.items():
            none = sample.zeros is Zeros.NONE and _may_be_zero(food, sample, tag)
            if tag.startswith("_") or (value == 0 and not none):
                continue
            if (tag in N3 and sample.code != has_n3) or (tag in SATURATION and sample not in fats):
                continue
            if tag in SATURATION + N3:
                _put_share(food, sample, tag, value, register)
            else:
                food.put(tag, max(value, 0.0), sample.code)
    for sample in samples:
        for tag, value in sample.values.items():
            if value == 0 and sample.zeros is Zeros.TRACE and _may_be_zero(food, sample, tag):
                food.put(tag, 0.0, sample.code)


def _may_be_zero(food: Food, sample: Sample, tag: str) -> bool:
    protein = sample.values.get("PROCNT", 0.0)
    flesh = food.klass in names.LAND_ANIMAL | {"fish"}
    if protein >= PROTEIN_MIN_G and tag in NEVER_ZERO:
        return False
    return not (flesh and tag in NEVER_ZERO_IN_FLESH)


def _put_share(food: Food, sample: Sample, tag: str, value: float, register: Register) -> None:
    own, whole = sample.values.get("FAT"), food.values.get("FAT")
    if own is None or whole is None or abs(own - whole) <= SAME_FAT * max(own, whole):
        food.put(tag, value, sample.code)
        return
    long_chain_of_a_plant = tag in N3[1:] and food.klass in names.PLANT
    if own < 0.3 or long_chain_of_a_plant:
        return  # too little fat, or too little in it, to take a share of
    base = register.entries[sample.code]
    code = register.add(
        f"fs:{sample.code}",
        "borrowed",
        f"Share of the fat of another sample ({base.text}) x fat of this food",
        base.citation,
        "medium",
    )
    food.put(tag, round(value * whole / own, 4), code)


def energy_of_new_fat(food: Food, energy_of: SourceRow | None, register: Register) -> None:
    """Where fat or protein is newer than the energy, move the energy by 9 and 4 kcal per g of change."""
    if energy_of is None or food.codes.get("ENERC") == food.codes.get("FAT"):
        return
    change = sum(
        kcal * (food.values[tag] - energy_of.values[tag])
        for tag, kcal in (("FAT", 9.0), ("PROCNT", 4.0), ("CHOCDF", 4.0))
        if tag in food.values and tag in energy_of.values
    )
    if abs(change) < 1:
        return
    code = register.add(
        "r:energy-moved",
        "pattern",
        "Energy of the older row, moved by 9 kcal per g of fat and 4 per g of protein and carbohydrate that the newer analysis differs by",
        "Atwater factors; Merrill & Watt 1973",
        "medium",
    )
    food.values["ENERC"] = round(food.values["ENERC"] + change, 1)
    food.codes["ENERC"] = code


def close_fats(food: Food, register: Register) -> None:
    """No more known polyunsaturated acids than polyunsaturated fat, and no more of all than fat.

    A pattern gives way to what was analysed (linoleic acid first); where the analysed acids alone are
    more, polyunsaturated fat is at least their sum.
    """
    fat, pufa = food.values.get("FAT"), food.values.get("FAPU")
    if fat is None or pufa is None:
        return
    others = sum(food.values.get(t, 0.0) for t in POLYUNSATURATED if t != "F18D2N6")
    linoleic = food.values.get("F18D2N6")
    if linoleic is not None and linoleic + others > pufa and food.codes["F18D2N6"][:3] == "fa:":
        code = register.add(
            "r:la-within-pufa",
            "pattern",
            "Linoleic acid as what polyunsaturated fat leaves beside the other known acids; the usual share of the fat would be more than there is",
            "mass balance",
            "low",
        )
        food.values["F18D2N6"], food.codes["F18D2N6"] = round(max(0.0, pufa - others), 4), code
    known = sum(food.values.get(t, 0.0) for t in POLYUNSATURATED)
    if known > pufa:
        code = register.add(
            "r:pufa-of-parts",
            "pattern",
            "Polyunsaturated fat as at least the sum of its known acids, which another sample was analysed for",
            "mass balance",
            "low",
        )
        food.values["FAPU"], food.codes["FAPU"] = round(known, 4), code
    _close_saturation(food, fat, register)


def _close_saturation(food: Food, fat: float, register: Register) -> None:
    """Saturated and monounsaturated fat take what polyunsaturated fat leaves at most."""
    rest = [t for t in ("FASAT", "FAMS") if t in food.values]
    room = fat - food.values["FAPU"]
    held = sum(food.values[t] for t in rest)
    if held <= max(room, 0.0) + 0.02 * fat + 0.02 or held == 0:
        return
    code = register.add(
        "r:fat-parts",
        "pattern",
        "Saturated and monounsaturated fat within the fat that polyunsaturated fat leaves",
        "mass balance",
        "low",
    )
    for tag in rest:
        food.values[tag] = round(food.values[tag] * max(room, 0.0) / held, 4)
        food.codes[tag] = code
