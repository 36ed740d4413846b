"""How sure the numbers are: what the food table was held to, and what of the rest anybody compared with
its publication."""

from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from ..confidence import Confidence
from ..facts.soundness import HowChecked, Soundness, SoundnessRules
from ..targets.standards import Standard
from .reference import Reference


@dataclass(frozen=True, kw_only=True)
class Recalled:
    """Facts of a kind: how many, how many of them were compared with their publication, and how sure the
    others are."""

    id: str
    name: str
    values: int
    checked: int
    high: int
    medium: int
    low: int


@dataclass(frozen=True, kw_only=True)
class Evidence:
    """Everything that tells how sure the numbers are."""

    table: Soundness
    kinds: tuple[HowChecked, ...]
    facts: tuple[Recalled, ...]
    recalled: str
    not_done: tuple[str, ...]


def evidence(
    reference: Reference,
    table: Soundness,
    rules: SoundnessRules,
    standards: Mapping[str, Standard],
) -> Evidence:
    """The evidence behind the numbers. standards: as a practice sees them, with what it compared."""
    return Evidence(
        table=table,
        kinds=rules.kinds,
        facts=(
            *(_standard(s) for s in standards.values()),
            _recalled("safe-limits", "Safe upper limits", (x.confidence for x in reference.safety.limits)),
            _recalled(
                "conditions", "Limits of conditions",
                (x.confidence for c in reference.conditions.values() for x in c.limits),
            ),
            _recalled("food-rules", "Rules of conditions on foods", (r.confidence for r in reference.food_rules)),
            _recalled("hazards", "Foods that can harm", (h.confidence for h in reference.hazards.foods)),
        ),
        recalled=rules.recalled,
        not_done=rules.not_done,
    )  # fmt: skip


def _standard(standard: Standard) -> Recalled:
    rows = [row for stage in standard.life_stages.values() for row in stage.limits]
    whole = standard.checked == "checked"
    checked = sum(whole or bool(row.checked) for row in rows)
    return _recalled(standard.id, standard.name, (row.confidence for row in rows), checked)


def _recalled(
    kind: str, name: str, confidences: Iterable[Confidence], checked: int = 0
) -> Recalled:
    counts = Counter(confidences)
    return Recalled(
        id=kind, name=name, values=sum(counts.values()), checked=checked,
        high=counts[Confidence.HIGH], medium=counts[Confidence.MEDIUM],
        low=counts[Confidence.LOW] + counts[Confidence.UNSAID],
    )  # fmt: skip
