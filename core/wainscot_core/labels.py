"""From a pack label to values per 100 g as fed, with the steps shown.

Energy: modified Atwater 3.5/8.5/3.5 (NRC 1985; AAFCO 2014) or the NRC 2006 predictive
equation from gross energy and crude fibre (NRC 2006, energy chapter).
"""

from dataclasses import dataclass

from .errors import InputError
from .trace import Quantity, Step


@dataclass(frozen=True)
class Label:
    """A guaranteed or typical analysis in percent; `dry_matter` says the basis of all but moisture."""

    protein: float
    fat: float
    fibre: float
    moisture: float
    ash: float | None
    dry_matter: bool = False


@dataclass(frozen=True)
class LabelResult:
    """Grams per 100 g as fed, kcal per 100 g, share of energy by macro, and the steps."""

    per_100_g: dict[str, float]
    kcal_per_kg: float
    energy_shares: dict[str, float]
    steps: tuple[Step, ...]


# A label without ash: a typical figure, and the result says so.
TYPICAL_ASH_DM = 8.0


def as_fed(label: Label) -> Label:
    """The same label as fed. Converting back with `on_dry_matter` gives the same figures."""
    if not label.dry_matter:
        return label
    share = 1 - label.moisture / 100
    return Label(
        label.protein * share, label.fat * share, label.fibre * share, label.moisture,
        None if label.ash is None else label.ash * share,
    )  # fmt: skip


def on_dry_matter(label: Label) -> Label:
    """The same label on dry matter."""
    if label.dry_matter:
        return label
    share = 1 - label.moisture / 100
    return Label(
        label.protein / share, label.fat / share, label.fibre / share, label.moisture,
        None if label.ash is None else label.ash / share, True,
    )  # fmt: skip


def _check(label: Label) -> None:
    for name in ("protein", "fat", "fibre", "moisture", "ash"):
        value = getattr(label, name)
        if value is not None and not 0 <= value <= 100:
            raise InputError(name, "a percentage lies between 0 and 100")
    if label.moisture >= 100:
        raise InputError("moisture", "a food of water alone has no analysis")


def read_label(
    label: Label, method: str = "modified-atwater", kcal_per_kg: float | None = None
) -> LabelResult:
    """Carbohydrate by difference, energy and macro shares of a label.

    `method` is modified-atwater or nrc-predictive; a stated kcal_per_kg (as fed) takes
    precedence. Raises InputError naming the figure that cannot be.
    """
    _check(label)
    fed = as_fed(label)
    ash = fed.ash if fed.ash is not None else TYPICAL_ASH_DM * (1 - fed.moisture / 100)
    carbohydrate = 100 - fed.moisture - fed.protein - fed.fat - fed.fibre - ash
    if carbohydrate < -0.5:
        raise InputError(
            "protein",
            f"the parts add up to {100 - carbohydrate:.1f} %; check the basis (as fed or dry matter)",
        )
    carbohydrate = max(0.0, carbohydrate)
    steps = [
        Step(
            "Carbohydrate (NFE) by difference",
            "100 - moisture - protein - fat - fibre - ash",
            (
                Quantity("moisture", fed.moisture, "%"), Quantity("protein", fed.protein, "%"),
                Quantity("fat", fed.fat, "%"), Quantity("fibre", fed.fibre, "%"),
                Quantity("ash", ash, "%", "" if fed.ash is not None else "not on the label: typical 8 % of dry matter"),
            ),
            carbohydrate,
            "%",
            "mass balance",
        )
    ]  # fmt: skip
    if kcal_per_kg is not None:
        if not 100 <= kcal_per_kg <= 9000:
            raise InputError(
                "kcal_per_kg", "energy of a food lies between 100 and 9000 kcal per kg"
            )
        kcal = kcal_per_kg / 10
        steps.append(Step("Energy", "as stated on the label", (), kcal_per_kg, "kcal/kg", "label"))
    elif method == "nrc-predictive":
        kcal = _nrc(fed, carbohydrate, steps)
    elif method == "modified-atwater":
        kcal = 3.5 * fed.protein + 8.5 * fed.fat + 3.5 * carbohydrate
        steps.append(
            Step(
                "Metabolisable energy, modified Atwater",
                "(3.5 x protein + 8.5 x fat + 3.5 x carbohydrate) x 10",
                (Quantity("protein", fed.protein, "%"), Quantity("fat", fed.fat, "%"), Quantity("carbohydrate", carbohydrate, "%")),
                kcal * 10,
                "kcal/kg",
                "NRC 1985; AAFCO 2014",
                "high",
            )
        )  # fmt: skip
    else:
        raise InputError(
            "method", f"unknown method {method!r}; use modified-atwater or nrc-predictive"
        )
    parts = {"PROCNT": 3.5 * fed.protein, "FAT": 8.5 * fed.fat, "CHOCDF": 3.5 * carbohydrate}
    total = sum(parts.values())
    return LabelResult(
        {
            "WATER": fed.moisture, "PROCNT": fed.protein, "FAT": fed.fat, "ASH": ash,
            # Table carbohydrate includes fibre; a label's NFE does not.
            "CHOCDF": carbohydrate + fed.fibre, "FIBTG": fed.fibre, "ENERC": kcal,
        },
        kcal * 10,
        {tag: part / total if total else 0.0 for tag, part in parts.items()},
        tuple(steps),
    )  # fmt: skip


def _nrc(fed: Label, carbohydrate: float, steps: list[Step]) -> float:
    gross = 5.7 * fed.protein + 9.4 * fed.fat + 4.1 * (carbohydrate + fed.fibre)
    fibre_dm = fed.fibre / (1 - fed.moisture / 100)
    digestible = 91.2 - 1.43 * fibre_dm
    de = gross * digestible / 100
    kcal = de - 1.04 * fed.protein
    source = "NRC 2006, energy chapter"
    steps += [
        Step("Gross energy", "5.7 x protein + 9.4 x fat + 4.1 x (carbohydrate + fibre)",
             (Quantity("protein", fed.protein, "%"), Quantity("fat", fed.fat, "%"), Quantity("carbohydrate", carbohydrate, "%"), Quantity("fibre", fed.fibre, "%")),
             gross, "kcal/100 g", source, "high"),
        Step("Energy digestibility", "91.2 - 1.43 x crude fibre in dry matter", (Quantity("crude fibre", fibre_dm, "% DM"),), digestible, "%", source, "high"),
        Step("Digestible energy", "gross energy x digestibility / 100", (Quantity("gross energy", gross, "kcal/100 g"), Quantity("digestibility", digestible, "%")), de, "kcal/100 g", source, "high"),
        Step("Metabolisable energy", "(digestible energy - 1.04 x protein) x 10", (Quantity("digestible energy", de, "kcal/100 g"), Quantity("protein", fed.protein, "%")), kcal * 10, "kcal/kg", source, "high"),
    ]  # fmt: skip
    return kcal
