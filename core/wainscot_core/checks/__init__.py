"""The checks of a recipe: one kind a module, all of them listed here.

A check is a function of a dossier and the totals of its lines that yields findings. To add one:
write it in a module of its own beside these, list it in CHECKS, and give it a test.
"""

from collections.abc import Callable, Iterable

from ..dossier.dossier import Dossier
from ..findings import GRAVEST_FIRST, Finding
from ..recipe.line import sum_lines
from ..recipe.totals import Totals
from .added import added_amounts, label_doses, strengths_not_told
from .availability import (
    calcium_of_leaves,
    minerals_in_the_way,
    poorly_used_forms,
    vitamin_a_of_plants,
    vitamin_d_of_mushrooms,
)
from .breed import prone_breed
from .condition_foods import foods_conditions_speak_against
from .conflicts import narrow_windows, undecided_conflicts
from .energy import energy_off_target
from .fed import made_for_another_stage, one_recipe_for_months, past_its_days
from .hazards import doses_met, food_hazards_met
from .household import raw_in_the_house
from .medicines import medicines_beside_food
from .patterns import (
    liver_every_day,
    nothing_of_an_animal,
    plant_omega_3,
    pulses_in_the_bowl,
    rice_alone,
)
from .reactions import foods_to_leave_out, forms_let_in
from .readings import stale_readings
from .slips import strong_doses_that_slip
from .stage import life_stage_in_doubt
from .taurine import taurine_may_run_low
from .told import hazards_in_notes, hazards_in_statements

Check = Callable[[Dossier, Totals], Iterable[Finding]]

# In the order their findings are told within a level.
CHECKS: tuple[Check, ...] = (
    foods_to_leave_out,
    forms_let_in,
    medicines_beside_food,
    added_amounts,
    label_doses,
    strengths_not_told,
    undecided_conflicts,
    life_stage_in_doubt,
    made_for_another_stage,
    past_its_days,
    stale_readings,
    food_hazards_met,
    raw_in_the_house,
    doses_met,
    hazards_in_notes,
    hazards_in_statements,
    foods_conditions_speak_against,
    energy_off_target,
    strong_doses_that_slip,
    minerals_in_the_way,
    poorly_used_forms,
    calcium_of_leaves,
    vitamin_d_of_mushrooms,
    vitamin_a_of_plants,
    pulses_in_the_bowl,
    nothing_of_an_animal,
    liver_every_day,
    plant_omega_3,
    taurine_may_run_low,
    rice_alone,
    one_recipe_for_months,
    prone_breed,
    narrow_windows,
)


def check(dossier: Dossier, sums: Totals | None = None) -> tuple[Finding, ...]:
    """Every finding of a dossier's recipe, the gravest first. `sums`: its totals, when at hand."""
    if sums is None:
        sums = sum_lines(dossier.library, dossier.lines, dossier.days)
    found = [finding for run in CHECKS for finding in run(dossier, sums)]
    return tuple(sorted(found, key=lambda f: GRAVEST_FIRST.index(f.level)))
