"""Methods of metabolisable energy (ME) of food for dogs, from reference/energy/food_energy.yaml.

A case has one of them, for every food and label in it. Amounts are g per 100 g, energy kcal per 100 g.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..confidence import Confidence
from .nutrients import EnergyFactors

FloatArray = NDArray[np.float64]


class MeMethod(StrEnum):
    """How the ME of a food follows from its composition."""

    ATWATER = "4-9-4"
    MODIFIED_ATWATER = "3.5-8.5-3.5"
    NRC_PREDICTIVE = "nrc-predictive"
    TABLE = "table"


# What a case stands on unless it says otherwise; reference/energy/food_energy.yaml tells why.
DEFAULT_ME = MeMethod.ATWATER


class FibreKind(StrEnum):
    """What a food's fibre figure is: dietary fibre of a food table, or crude fibre of a pet food label."""

    DIETARY = "dietary"
    CRUDE = "crude"


@dataclass(frozen=True)
class Predictive:
    """The NRC 2006 equation: gross energy, its digestibility by fibre in dry matter, the loss in urine.

    digestibility: (base, per_pct) by kind of fibre, % and % per % of dry matter.
    """

    gross: EnergyFactors
    digestibility: Mapping[FibreKind, tuple[float, float]]
    urinary: float

    def share(
        self, kind: FibreKind, fibre: FloatArray | float, dry: FloatArray | float
    ) -> FloatArray:
        """Digestible share of gross energy, 0 to 1; NaN for what has no dry matter. Works on arrays."""
        base, per = self.digestibility[kind]
        grams = np.asarray(dry, dtype=np.float64)
        with np.errstate(divide="ignore", invalid="ignore"):
            share = (base - per * 100 * fibre / np.where(grams > 0, grams, np.nan)) / 100
        clipped: FloatArray = np.clip(share, 0.0, 1.0)
        return clipped

    def kcal(
        self,
        protein: FloatArray | float,
        fat: FloatArray | float,
        carbohydrate: FloatArray | float,
        share: FloatArray | float,
    ) -> FloatArray:
        """ME; `carbohydrate` with its fibre, `share` of gross energy digested. Works on arrays."""
        g = self.gross.kcal_per_g
        gross = g["PROCNT"] * protein + g["FAT"] * fat + g["CHOCDF"] * carbohydrate
        kcal: FloatArray = np.maximum(np.asarray(gross * share - self.urinary * protein), 0.0)
        return kcal


@dataclass(frozen=True)
class MeFormula:
    """A method with its words. factors: kcal per g for the split of energy, and of the factor methods the
    formula itself; predictive: of the predictive equation only."""

    id: MeMethod
    name: str
    words: str
    when: str
    source: str
    confidence: Confidence
    factors: EnergyFactors
    predictive: Predictive | None = None

    def kcal(
        self,
        protein: FloatArray | float,
        fat: FloatArray | float,
        carbohydrate: FloatArray | float,
        fibre: FloatArray | float,
        dry: FloatArray | float,
        kind: FibreKind = FibreKind.DIETARY,
    ) -> FloatArray:
        """ME from composition, NaN where a part is. `carbohydrate` by difference with its fibre, `dry`
        matter. By the table method: of what no table states. Works on arrays."""
        if self.predictive is not None:
            share = self.predictive.share(kind, fibre, dry)
            return self.predictive.kcal(protein, fat, carbohydrate, share)
        f = self.factors.kcal_per_g
        available = np.maximum(np.asarray(carbohydrate - fibre, dtype=np.float64), 0.0)
        return np.asarray(f["PROCNT"] * protein + f["FAT"] * fat + f["CHOCDF"] * available)


@dataclass(frozen=True)
class MeChoice:
    """A choice about what a dog gets out of a food."""

    id: str
    words: str
    other: str
    source: str
    confidence: Confidence


@dataclass(frozen=True)
class MeRules:
    """Every method by id, why the default is it, the choices made, and the foods that keep the energy given
    for them, with the reason. bone_protein: the share of bone's protein that counts; explain_above: a difference between methods that is explained, as a share."""

    methods: Mapping[MeMethod, MeFormula]
    predictive: Predictive
    why: str
    choices: tuple[MeChoice, ...]
    kept: Mapping[str, str]
    bone_protein: float
    explain_above: float

    @classmethod
    def from_data(cls, data: Mapping[str, Any], factors: Mapping[str, EnergyFactors]) -> "MeRules":
        """Build from the parsed energy/food_energy.yaml and the factors of nutrients.yaml by name.

        Raises ValueError when a method is missing.
        """
        methods = {}
        for entry in data["methods"]:
            formula = _formula(entry, factors[entry["factors"]])
            methods[formula.id] = formula
        if missing := set(MeMethod) - set(methods):
            raise ValueError(f"food_energy.yaml lacks {', '.join(sorted(missing))}")
        if data["default"] != DEFAULT_ME:
            raise ValueError(f"food_energy.yaml must name {DEFAULT_ME} as the default")
        predictive = methods[MeMethod.NRC_PREDICTIVE].predictive
        if predictive is None:
            raise ValueError("food_energy.yaml lacks the predictive equation")
        choices = tuple(
            MeChoice(
                c["id"], c["words"], c.get("other", ""), c["source"], Confidence(c["confidence"])
            )
            for c in data["choices"]
        )
        return cls(
            methods, predictive, str(data["why"]).strip(), choices,
            dict(data["kept"]), float(data["bone_protein"]), float(data["explain_above"]),
        )  # fmt: skip


def _formula(entry: Mapping[str, Any], factors: EnergyFactors) -> MeFormula:
    confidence = Confidence(entry["confidence"])
    predictive = None
    if "gross_kcal_per_g" in entry:
        gross = {k: float(v) for k, v in entry["gross_kcal_per_g"].items()}
        predictive = Predictive(
            EnergyFactors(gross, entry["source"], confidence),
            {
                FibreKind(k): (float(v["base"]), float(v["per_pct"]))
                for k, v in entry["digestibility_pct"].items()
            },
            float(entry["urinary_kcal_per_g_protein"]),
        )
    return MeFormula(
        MeMethod(entry["id"]), entry["name"], str(entry["words"]).strip(),
        str(entry["when"]).strip(), entry["source"], confidence, factors, predictive,
    )  # fmt: skip
