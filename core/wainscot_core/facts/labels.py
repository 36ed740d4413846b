"""From a pack label to values per 100 g as fed, with the steps shown.

Energy of the pack: 3.5/8.5/3.5 or the NRC 2006 predictive equation with crude fibre
(energy/food_energy.yaml). In a recipe the food stands on the recipe's own method.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from ..boundary import Number, YesNo
from ..errors import InputError
from ..figures import rounded
from ..trace import Quantity, Step
from .bag_label import Guarantee, Offsets
from .me_methods import FibreKind, MeFormula, MeMethod, MeRules


@dataclass(frozen=True, kw_only=True)
class Guarantees:
    """What each figure of an analysis is: a least amount, a most, or an average. As labels have it where
    nothing is said."""

    protein: Guarantee = Guarantee.MIN
    fat: Guarantee = Guarantee.MIN
    fibre: Guarantee = Guarantee.MAX
    moisture: Guarantee = Guarantee.MAX
    ash: Guarantee = Guarantee.AVERAGE


AVERAGES = Guarantees(
    protein=Guarantee.AVERAGE, fat=Guarantee.AVERAGE, fibre=Guarantee.AVERAGE,
    moisture=Guarantee.AVERAGE,
)  # fmt: skip


@dataclass(frozen=True)
class Label:
    """A guaranteed or typical analysis in percent; `dry_matter` says the basis of all but moisture."""

    protein: float
    fat: float
    fibre: float
    moisture: float
    ash: float | None
    dry_matter: bool = False
    guarantees: Guarantees = AVERAGES


@dataclass(frozen=True)
class LabelRange:
    """The least and the most there is by a label."""

    least: float
    most: float


@dataclass(frozen=True, kw_only=True)
class LabelResult:
    """Per 100 g as fed by tag (g, kcal) and carbohydrate without fibre (NFE, g), the analysis on dry matter in %, share of energy by macro,
    and the steps. per_100_g: what the label vouches for, so of protein and fat the least there is; may_exceed: how much
    more of each there may be. per_1000_kcal: of protein, fat and carbohydrate, the least and the most, g."""

    per_100_g: dict[str, float]
    may_exceed: dict[str, float]
    per_1000_kcal: dict[str, LabelRange]
    carbohydrate_g: float
    dry_matter: dict[str, float]
    kcal_per_kg: float
    energy_shares: dict[str, float]
    steps: tuple[Step, ...]


class LabelMethod(StrEnum):
    """How energy follows from an analysis."""

    MODIFIED_ATWATER = "modified-atwater"
    NRC_PREDICTIVE = "nrc-predictive"


@dataclass(frozen=True)
class LabelRules:
    """What a label leaves open (energy/labels.yaml) and the methods of food energy."""

    me: MeRules
    typical_ash_dm: float
    stated_min: float
    stated_max: float
    offsets: Offsets
    most_margins: float

    @property
    def modified(self) -> MeFormula:
        """3.5/8.5/3.5, of bought food."""
        return self.me.methods[MeMethod.MODIFIED_ATWATER]

    @classmethod
    def from_data(cls, data: Mapping[str, Any], me: MeRules) -> "LabelRules":
        """Build from the parsed energy/labels.yaml."""
        stated = data["stated_kcal_per_kg"]
        typical_ash = float(data["typical_ash_of_dry_matter_pct"]["value"])
        offsets = Offsets.from_data(data["usual_beside_guarantee"])
        most = float(data["most_margins"]["value"])
        return cls(me, typical_ash, stated["min"], stated["max"], offsets, most)

    def within(self, label: Label, name: str) -> tuple[float, float]:
        """The least and the most of protein or fat there is by a label, in points on its own basis."""
        printed: float = getattr(label, name)
        margin = self.most_margins * self.offsets.margin(name, label.moisture)
        if label.dry_matter:
            margin /= 1 - label.moisture / 100
        kind: Guarantee = getattr(label.guarantees, name)
        return (
            max(0.0, printed - margin) if kind is Guarantee.MAX else printed,
            printed + margin if kind is Guarantee.MIN else printed,
        )


def as_fed(label: Label) -> Label:
    """The same label as fed. Converting back with `on_dry_matter` gives the same figures."""
    if not label.dry_matter:
        return label
    share = 1 - label.moisture / 100
    return Label(
        label.protein * share, label.fat * share, label.fibre * share, label.moisture,
        None if label.ash is None else label.ash * share, guarantees=label.guarantees,
    )  # fmt: skip


def on_dry_matter(label: Label) -> Label:
    """The same label on dry matter."""
    if label.dry_matter:
        return label
    share = 1 - label.moisture / 100
    return Label(
        label.protein / share, label.fat / share, label.fibre / share, label.moisture,
        None if label.ash is None else label.ash / share, True, label.guarantees,
    )  # fmt: skip


def _check(label: Label) -> None:
    for name in ("protein", "fat", "fibre", "moisture", "ash"):
        value = getattr(label, name)
        if value is not None and not 0 <= value <= 100:
            raise InputError(name, "a percentage lies between 0 and 100")
    if label.moisture >= 100:
        raise InputError("moisture", "a food of water alone has no analysis")


def read_label(
    rules: LabelRules,
    label: Label,
    method: LabelMethod = LabelMethod.MODIFIED_ATWATER,
    kcal_per_kg: float | None = None,
) -> LabelResult:
    """Carbohydrate by difference, energy and macro shares of a label.

    A stated kcal_per_kg (as fed) takes precedence over the method. Raises InputError naming the
    figure that cannot be.
    """
    _check(label)
    fed = as_fed(label)
    ash = fed.ash if fed.ash is not None else rules.typical_ash_dm * (1 - fed.moisture / 100)
    carbohydrate = 100 - fed.moisture - fed.protein - fed.fat - fed.fibre - ash
    if carbohydrate < -0.5:
        raise InputError(
            "protein",
            f"the parts add up to {100 - carbohydrate:.1f} %; check the basis (as fed or dry matter)",
        )
    carbohydrate = max(0.0, carbohydrate)
    factors = rules.modified.factors
    parts = factors.of(fed.protein, fed.fat, carbohydrate)
    steps = [
        Step(
            "Carbohydrate (NFE) by difference",
            "100 - moisture - protein - fat - fibre - ash",
            (
                Quantity("moisture", fed.moisture, "%"), Quantity("protein", fed.protein, "%"),
                Quantity("fat", fed.fat, "%"), Quantity("fibre", fed.fibre, "%"),
                Quantity("ash", ash, "%", "" if fed.ash is not None else f"not on the label: typical {rules.typical_ash_dm:g} % of dry matter"),
            ),
            carbohydrate,
            "%",
            "mass balance",
        )
    ]  # fmt: skip
    if kcal_per_kg is not None:
        if not rules.stated_min <= kcal_per_kg <= rules.stated_max:
            raise InputError(
                "kcal_per_kg",
                f"energy of a food lies between {rules.stated_min:g} and {rules.stated_max:g} kcal per kg",
            )
        kcal = kcal_per_kg / 10
        steps.append(Step("Energy", "as stated on the label", (), kcal_per_kg, "kcal/kg", "label"))
    elif method is LabelMethod.NRC_PREDICTIVE:
        kcal = _nrc(rules, fed, carbohydrate, steps)
    else:
        kcal = sum(parts.values())
        steps.append(
            Step(
                "Metabolisable energy, modified Atwater",
                f"({factors.words}) x 10",
                (Quantity("protein", fed.protein, "%"), Quantity("fat", fed.fat, "%"), Quantity("carbohydrate", carbohydrate, "%")),
                kcal * 10,
                "kcal/kg",
                factors.source,
                factors.confidence,
            )
        )  # fmt: skip
    total = sum(parts.values())
    dry = on_dry_matter(label)
    # Carbohydrate and energy are of the figures as printed: what there may be more of one part, the others have less.
    (protein, most_protein), (fat, most_fat) = (
        rules.within(fed, name) for name in ("protein", "fat")
    )
    exceed = {"PROCNT": most_protein - protein, "FAT": most_fat - fat}
    bounds = {
        "PROCNT": (protein, most_protein), "FAT": (fat, most_fat),
        "CHOCDF": (carbohydrate, carbohydrate),
    }  # fmt: skip
    return LabelResult(
        per_100_g={
            "WATER": fed.moisture, "PROCNT": protein, "FAT": fat, "ASH": ash,
            # Table carbohydrate includes fibre; a label's NFE does not. Crude fibre "at most" stands for dietary fibre,
            # of which there is more in any case.
            "CHOCDF": carbohydrate + fed.fibre, "FIBTG": fed.fibre, "ENERC": kcal,
        },
        may_exceed={tag: rounded(more) for tag, more in exceed.items() if more > 0},
        per_1000_kcal={
            tag: LabelRange(rounded(low / kcal * 1000), rounded(high / kcal * 1000))
            for tag, (low, high) in bounds.items() if kcal > 0
        },
        carbohydrate_g=carbohydrate,
        dry_matter={
            name: rounded(value)
            for name in ("protein", "fat", "fibre", "ash")
            if (value := getattr(dry, name)) is not None
        },
        kcal_per_kg=kcal * 10,
        energy_shares={tag: part / total if total else 0.0 for tag, part in parts.items()},
        steps=tuple(steps),
    )  # fmt: skip


# Energy of a cup as stated, and as it follows from the other two figures, are the same within this share.
CUPS_AGREE = 0.1


@dataclass(frozen=True, kw_only=True)
class PackLabel:
    """A label as it stands on a pack. Percent, as fed unless dry_matter. Energy may be stated per kg,
    or per cup with the grams of a cup."""

    protein: Number
    fat: Number
    fibre: Number
    moisture: Number
    ash: Number | None = None
    dry_matter: YesNo = False
    method: LabelMethod = LabelMethod.MODIFIED_ATWATER
    kcal_per_kg: Number | None = None
    kcal_per_cup: Number | None = None
    cup_grams: Number | None = None
    guarantees: Guarantees = Guarantees()


def cup_of(
    cup_grams: float | None, kcal_per_cup: float | None, kcal_per_kg: float | None
) -> float | None:
    """Grams of a cup as a pack says, or lets reckon; None where it does neither."""
    if cup_grams:
        return cup_grams
    if kcal_per_cup and kcal_per_kg:
        return kcal_per_cup / kcal_per_kg * 1000
    return None


def read_pack(rules: LabelRules, pack: PackLabel) -> LabelResult:
    """What a pack's label means. Raises InputError naming the figure."""
    kcal = pack.kcal_per_kg
    if kcal and pack.kcal_per_cup and pack.cup_grams:
        made = kcal * pack.cup_grams / 1000
        if abs(pack.kcal_per_cup / made - 1) > CUPS_AGREE:
            raise InputError(
                "kcal_per_cup",
                f"{kcal:g} kcal per kg and {pack.cup_grams:g} g a cup make {made:.0f} kcal a cup: look at the pack again",
            )
    if kcal is None and pack.kcal_per_cup is not None:
        if not pack.cup_grams or pack.cup_grams <= 0:
            raise InputError("cup_grams", "kcal per cup needs the grams of one cup")
        kcal = pack.kcal_per_cup / pack.cup_grams * 1000
    label = Label(
        pack.protein,
        pack.fat,
        pack.fibre,
        pack.moisture,
        pack.ash,
        pack.dry_matter,
        pack.guarantees,
    )
    return read_label(rules, label, pack.method, kcal)


def _nrc(rules: LabelRules, fed: Label, carbohydrate: float, steps: list[Step]) -> float:
    formula, equation = rules.me.methods[MeMethod.NRC_PREDICTIVE], rules.me.predictive
    g = equation.gross.kcal_per_g
    base, per = equation.digestibility[FibreKind.CRUDE]
    dry = 100 - fed.moisture
    total = carbohydrate + fed.fibre
    gross = g["PROCNT"] * fed.protein + g["FAT"] * fed.fat + g["CHOCDF"] * total
    digestible = float(equation.share(FibreKind.CRUDE, fed.fibre, dry)) * 100
    kcal = float(equation.kcal(fed.protein, fed.fat, total, digestible / 100))
    de = gross * digestible / 100
    source, confidence = formula.source, formula.confidence
    steps += [
        Step("Gross energy", f"{g['PROCNT']:g} x protein + {g['FAT']:g} x fat + {g['CHOCDF']:g} x (carbohydrate + fibre)",
             (Quantity("protein", fed.protein, "%"), Quantity("fat", fed.fat, "%"), Quantity("carbohydrate", carbohydrate, "%"), Quantity("fibre", fed.fibre, "%")),
             gross, "kcal/100 g", source, confidence),
        Step("Energy digestibility", f"{base:g} - {per:g} x crude fibre in dry matter", (Quantity("crude fibre", fed.fibre / dry * 100, "% DM"),), digestible, "%", source, confidence),
        Step("Digestible energy", "gross energy x digestibility / 100", (Quantity("gross energy", gross, "kcal/100 g"), Quantity("digestibility", digestible, "%")), de, "kcal/100 g", source, confidence),
        Step("Metabolisable energy", f"(digestible energy - {equation.urinary:g} x protein) x 10", (Quantity("digestible energy", de, "kcal/100 g"), Quantity("protein", fed.protein, "%")), kcal * 10, "kcal/kg", source, confidence),
    ]  # fmt: skip
    return kcal
