"""How near a recipe stays to what it was, by figures worked out by hand."""

from dataclasses import replace

import numpy as np
import pytest
from shelf import SHELF
from wainscot_core.dossier.reference import Reference
from wainscot_core.formats.casefile import read_case
from wainscot_core.formulation.candidates import LineRule, round_step
from wainscot_core.formulation.formulate import formulate
from wainscot_core.formulation.model import build
from wainscot_core.formulation.problem import Problem
from wainscot_core.formulation.proposal import Happens, State
from wainscot_core.formulation.question import Settings, check_settings, problem_of
from wainscot_core.formulation.rows import GroupKind
from wainscot_core.formulation.shape import cap_coefficients, shape_value, weights_of
from wainscot_core.formulation.shortlist import shortlists

CHICKEN, RICE, CARROT = "usda:05064", "usda:20045", "usda:11124"


def problem(facts: Reference, kcal: float, lines: list[tuple[str, float]]) -> Problem:
    case = read_case(
        facts,
        {
            "format": "wainscot-case", "version": 1, "dog": {"name": "T", "weight_kg": 10},
            "energy": {"kcal_per_day": kcal}, "targets": {"standard": "nrc-2006"}, "shelf": SHELF,
            "recipe": {"covers_days": 1, "lines": [{"food": f, "grams": g} for f, g in lines]},
        },
    )  # fmt: skip
    return problem_of(case, check_settings(facts, Settings()))


def amounts(asked: Problem, **grams: float) -> np.ndarray:
    """Grams by the position of a line ("l0") or the id of what is added."""
    found = np.zeros(len(asked.candidates))
    for j, c in enumerate(asked.candidates):
        key = f"l{c.line}" if c.line is not None else c.food.id.replace(":", "_").replace("-", "_")
        found[j] = grams.get(key, 0.0)
    return found


def at_energy(asked: Problem, kcal: float) -> Problem:
    """The same for another energy target."""
    return replace(asked, kcal=kcal)


def kcal_of(asked: Problem, grams: np.ndarray) -> float:
    return float(asked.contents.kcal @ grams)


def test_another_portion_of_the_same_recipe_costs_nothing(facts: Reference) -> None:
    asked = problem(facts, 900, [(CHICKEN, 150), (RICE, 250)])
    larger = amounts(asked, l0=225, l1=375)
    asked = at_energy(asked, kcal_of(asked, larger))
    assert shape_value(asked, larger) == pytest.approx(0, abs=1e-9)
    # As it stands it misses a third of the energy, which counts eight times, and nothing else.
    assert shape_value(asked, amounts(asked, l0=150, l1=250)) == pytest.approx(8 / 3, abs=1e-6)


def test_what_departs_far_counts_more(facts: Reference) -> None:
    asked = problem(facts, 600, [(CHICKEN, 150), (RICE, 150), (CARROT, 100)])
    share = weights_of(asked).share
    assert share.sum() == pytest.approx(1)
    whole = amounts(asked, l0=150, l1=150, l2=100)
    less = amounts(asked, l0=150, l1=150, l2=40)
    # Far from both, so that both miss the energy by what they lack.
    asked = at_energy(asked, 2 * kcal_of(asked, whole))
    # A line at 0.4 of itself departs by 0.6: 0.6 + 2 x (0.6 - 0.3) of its share.
    lacks = kcal_of(asked, whole - less) / asked.kcal
    apart = shape_value(asked, less) - shape_value(asked, whole)
    assert apart == pytest.approx(share[2] * (0.6 + 2 * 0.3) + 8 * lacks, abs=1e-6)


def test_an_added_food_counts_by_its_place_in_the_bowl(facts: Reference) -> None:
    asked = problem(facts, 600, [(CHICKEN, 150), (RICE, 250)])
    bare = amounts(asked, l0=150, l1=250)
    asked = replace(asked, kcal=kcal_of(asked, bare), batch_grams=400.0)
    # Kale takes the place of neither.
    kale = amounts(asked, l0=150, l1=250, usda_11234=40)
    energy = kcal_of(asked, kale - bare) / asked.kcal
    # That it is added, its energy, half its weight, and that the bowl has so much too much energy.
    assert shape_value(asked, bare) == pytest.approx(0, abs=1e-9)
    assert shape_value(asked, kale) == pytest.approx(
        0.06 + energy + 0.5 * 40 / 400 + 8 * energy, abs=1e-6
    )


def test_what_takes_the_place_of_a_line_counts_as_that_line(facts: Reference) -> None:
    """Turkey for chicken: half of it put in by energy, the recipe keeps its shape; what it costs is that
    it is there and what of the energy it brings."""
    asked = problem(facts, 600, [(CHICKEN, 150), (RICE, 250)])
    turkey = next(j for j, c in enumerate(asked.candidates) if c.food.id == "usda:05306")
    assert asked.candidates[turkey].instead_of == 0
    kcal = asked.contents.kcal
    swapped = amounts(asked, l0=75, l1=250)
    swapped[turkey] = 75 * kcal[0] / kcal[turkey]
    asked = at_energy(asked, kcal_of(asked, swapped))
    share = 75 * kcal[0] / asked.kcal
    assert shape_value(asked, swapped) == pytest.approx(0.35 + 0.8 * share, abs=1e-6)
    # The same energy of potato is no chicken: the chicken is missed, and it counts as an added food.
    other = amounts(asked, l0=75, l1=250)
    potato = next(j for j, c in enumerate(asked.candidates) if c.food.id == "usda:11367")
    assert asked.candidates[potato].instead_of == 1
    other[potato] = 75 * kcal[0] / kcal[potato]
    assert shape_value(asked, other) > shape_value(asked, swapped) + 0.2


def test_a_food_takes_the_place_of_what_is_like_it(facts: Reference) -> None:
    asked = problem(facts, 600, [(CHICKEN, 150), (RICE, 250), (CARROT, 50)])
    places = {c.food.id: c.instead_of for c in asked.candidates if c.line is None}
    beef, cod, oats, kale, oil = (
        places[i] for i in ("usda:23560", "usda:15016", "usda:08121", "usda:11234", "usda:04510")
    )
    # Meat for meat, starch for starch, a vegetable for a vegetable; there is no fish and no oil in it.
    assert (beef, oats, kale, cod, oil) == (0, 1, 2, None, None)


def test_energy_of_a_supplement_is_never_food(facts: Reference) -> None:
    asked = problem(facts, 600, [(CHICKEN, 150), (RICE, 250)])
    bare = amounts(asked, l0=150, l1=250)
    asked = at_energy(asked, kcal_of(asked, bare) * 1.05)
    base = bare * 1.05
    position = next(j for j, c in enumerate(asked.candidates) if c.food.id == "supp:fish-oil")
    filled = bare.copy()
    filled[position] = 0.05 * kcal_of(asked, bare) / asked.contents.kcal[position]
    assert shape_value(asked, filled) > shape_value(asked, base) + 0.1


@pytest.mark.parametrize(
    ("grams", "step"), [(0.3, 1), (1, 1), (1.4, 2), (2.1, 5), (5, 5), (7, 10), (12, 20), (33, 50)]
)
def test_steps_are_round(grams: float, step: float) -> None:
    assert round_step(grams) == step


def test_caps_hold_as_shares_of_the_whole(facts: Reference) -> None:
    asked = problem(facts, 600, [(CHICKEN, 150), (RICE, 250)])
    cap = next(c for c in asked.caps if c.id == "liver-weight")
    excess = cap_coefficients(asked, cap)
    ten = amounts(asked, l0=90, l1=90, usda_13326=20)
    assert float(excess @ ten) == pytest.approx(0, abs=1e-9)  # 20 of 200 g is a tenth
    assert float(excess @ amounts(asked, l0=80, l1=90, usda_13326=30)) > 0
    keys = {g.key for g in build(asked).groups() if g.kind is GroupKind.CAP}
    assert {"liver", "liver-weight", "seaweed", "bone"} & keys == {"liver", "liver-weight"}


def test_one_premix_at_most_and_few_items_beside_it(facts: Reference) -> None:
    case = read_case(
        facts,
        {
            "format": "wainscot-case", "version": 1, "dog": {"name": "T", "weight_kg": 10},
            "energy": {"kcal_per_day": 600}, "targets": {"standard": "nrc-2006"},
            "shelf": SHELF,
            "recipe": {"covers_days": 1, "lines": [{"food": CHICKEN, "grams": 170}, {"food": RICE, "grams": 250}]},
        },
    )  # fmt: skip
    proposal = formulate(case, Settings(school="premix"))
    kinds = [x.food.handling.kind for x in proposal.lines if x.food.handling is not None]
    assert kinds.count("premix") == 1
    assert sum(c.line is None for c in proposal.changes) <= 6


def test_a_dose_that_was_fixed_stays_though_less_would_do(facts: Reference) -> None:
    """3 g of a 30 % oil in 600 kcal: 1.5 g of EPA and DHA per 1000 kcal, above what is added here and under
    the safe limit of 2.8 g (NRC 2006)."""
    case = read_case(
        facts,
        {
            "format": "wainscot-case", "version": 1, "dog": {"name": "T", "weight_kg": 10},
            "energy": {"kcal_per_day": 600}, "targets": {"standard": "nrc-2006"},
            "recipe": {"covers_days": 1, "lines": [
                {"food": CHICKEN, "grams": 170}, {"food": RICE, "grams": 240},
                {"food": "supp:fish-oil", "grams": 3}]},
        },
    )  # fmt: skip
    proposal = formulate(case, Settings(line_rules={2: LineRule("fixed")}))
    assert proposal.state is State.MET
    assert next(c for c in proposal.changes if c.line == 2).kind is Happens.KEPT


def test_lists_grow_to_everything_that_may_be_added(facts: Reference) -> None:
    asked = problem(facts, 600, [(CHICKEN, 150), (RICE, 250)])
    lists = list(shortlists(build(asked), asked.goals))
    added = frozenset(j for j, c in enumerate(asked.candidates) if c.line is None)
    assert lists[-1].items == added
    assert all(x.items <= added for x in lists) and lists[0].items < added
