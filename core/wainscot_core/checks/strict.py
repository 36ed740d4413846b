"""The strict policy: foods that are not fully analysed need a reason."""

from collections.abc import Sequence

from ..dog.record import CaseRecord
from ..errors import InputError
from ..facts.completeness import completeness
from ..facts.foods import FoodLibrary
from ..facts.policy import Policy
from ..recipe.line import LineText


def incomplete_groups(record: CaseRecord, library: FoodLibrary, food_id: str) -> tuple[str, ...]:
    """The case's strict groups in which a food lacks an analysed value; () outside strict."""
    if record.data_policy is not Policy.STRICT or food_id not in library:
        return ()
    found = completeness(library, library.row(food_id))
    return tuple(c.group for c in found if c.group in record.strict_groups and c.firm < 1)


def check_strict(record: CaseRecord, library: FoodLibrary, lines: Sequence[LineText]) -> None:
    """Under strict an incomplete food needs an override with a reason. Raises InputError."""
    for i, line in enumerate(lines):
        groups = incomplete_groups(record, library, line.food)
        if groups and not line.override.strip():
            raise InputError(
                f"lines[{i}].override",
                f"{library.food(line.food).name} is not fully analysed for {', '.join(groups)}; "
                "give a reason to use it all the same",
            )
