"""How a figure came about: formula, inputs with units, source."""

from dataclasses import dataclass


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
    confidence: str = ""

    def as_dict(self) -> dict[str, object]:
        """Plain data for JSON."""
        return {
            "label": self.label,
            "formula": self.formula,
            "inputs": [
                {"name": q.name, "value": q.value, "unit": q.unit, "source": q.source}
                for q in self.inputs
            ],
            "value": self.value,
            "unit": self.unit,
            "source": self.source,
            "confidence": self.confidence,
        }
