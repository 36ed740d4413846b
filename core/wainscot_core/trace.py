"""How a figure came about: formula, inputs with units, source."""

from dataclasses import dataclass

from .confidence import Confidence


@dataclass(frozen=True)
class Quantity:
    """A named value with its unit and where it was taken from."""

    name: str
    value: float
    unit: str
    source: str = ""


@dataclass(frozen=True)
class Step:
    """One step of a computation: `label` = `formula` with `inputs` gives `value` `unit`."""

    label: str
    formula: str
    inputs: tuple[Quantity, ...]
    value: float
    unit: str
    source: str = ""
    confidence: Confidence = Confidence.UNSAID
