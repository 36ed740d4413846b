"""What must be read on the label of a canned or packed food before it goes into a plan."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from .attribute_rule import AttributeRule, read_rule
from .foods import Food


@dataclass(frozen=True)
class LabelPrompt:
    """A question to a label. when, foods: of which foods it is asked; own: of those that the practice added, whatever
    they are."""

    id: str
    when: AttributeRule | None
    foods: frozenset[str]
    own: bool
    question: str
    why: str
    do: str
    source: str

    def asks_of(self, food: Food) -> bool:
        """Whether the label of a food must be read for it. A supplement has a label of its own, read on the shelf."""
        if food.is_supplement:
            return False
        if food.id.startswith("own:"):
            return self.own
        if food.id in self.foods:
            return True
        return self.when is not None and self.when.holds(food.attributes) is True


def prompt_for(prompts: Sequence[LabelPrompt], food: Food) -> LabelPrompt | None:
    """The question that is asked of a food's label: the first that fits; None where none is."""
    return next((p for p in prompts if p.asks_of(food)), None)


def read_prompts(data: Mapping[str, Any]) -> tuple[LabelPrompt, ...]:
    """Build from the parsed reference/hazards/prompts.yaml. ValueError for a rule that cannot be read."""
    return tuple(
        LabelPrompt(
            p["id"], read_rule(p["when"]) if "when" in p else None, frozenset(p.get("foods", ())),
            bool(p.get("own", False)), p["question"], p["why"], p["do"], p["source"],
        )
        for p in data["prompts"]
    )  # fmt: skip
