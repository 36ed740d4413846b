"""Which of what may be added is taken, weighed once more by another solver's front door; and its amounts on their steps."""

import subprocess
import sys
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from scipy.optimize import linprog
from signed import dossier_of
from wainscot_core.dossier.reference import Reference
from wainscot_core.formulation.formulate import formulate
from wainscot_core.formulation.ground import ADVICE, ENERGY, MINIMUM, ground_of
from wainscot_core.formulation.model import Model, build
from wainscot_core.formulation.proposal import State
from wainscot_core.formulation.question import Settings, check_settings, problem_of
from wainscot_core.formulation.selection import Selection, Selector, stepped
from wainscot_core.formulation.shape import torn
from wainscot_core.formulation.shortlist import supports
from wainscot_core.formulation.solution import Pass, Solution, as_good, goals_of, rank

CORE = Path(__file__).resolve().parents[2] / "core"
LEAVE = 0.02


def kidney(more: float) -> dict[str, Any]:
    """Thigh of chicken, rice, cottage cheese, carrot and beans for a dog with kidney disease."""
    return {
        "dog": {"weight_kg": 12, "age_months": 60}, "under": ["nrc-2006", "adult"], "has": {"ckd": "2"}, "energy": 632,
        "lines": [["usda:05098", round(186 * more)], ["usda:20445", 156], ["usda:01012", 75], ["usda:11125", 104],
                  ["usda:11053", 41], ["usda:04053", 1, "tsp"], ["usda:02047", 0.125, "tsp"]],
    }  # fmt: skip


@pytest.fixture(scope="module")
def model(facts: Reference) -> Model:
    dossier = dossier_of(facts, kidney(1.0))
    return build(problem_of(dossier, check_settings(facts, Settings())))


@pytest.fixture(scope="module")
def chosen(model: Model) -> Selection:
    best = min(supports(model, goals_of(model)), key=lambda r: r.worth)
    found = Selector(model, LEAVE).select(best.grams)
    assert found is not None
    return found


def worth_of(model: Model, items: frozenset[int]) -> float:
    """What the goals come to with these items at most, what is used of them charged whole."""
    candidates = model.problem.candidates
    upper = model.upper.copy()
    goals = model.objectives
    cost = goals["near"] + ENERGY * goals["energy"] + MINIMUM * goals["minimums"]
    charge = {}
    for j, c in enumerate(candidates):
        if c.line is None and j in model.present:
            charge[j] = float(cost[model.present[j]])
            cost[model.present[j]] = 0.0
            if j not in items:
                upper[model.amounts[j] != 0] = 0.0
    rows, most = [np.append(goals["advice"], -1.0)], [LEAVE]
    for row in model.rows:
        values = np.zeros(model.width + 1)
        values[row.columns] = row.values
        if np.isfinite(row.high):
            rows.append(values)
            most.append(row.high)
        if np.isfinite(row.low):
            rows.append(-values)
            most.append(-row.low)
    bounds = [*zip(model.lower, upper, strict=True), (0.0, np.inf)]
    found = linprog(np.append(cost, ADVICE), np.array(rows), most, bounds=bounds, method="highs")
    if not found.success:
        return float(np.inf)
    grams = model.amounts @ found.x[:-1]
    return float(found.fun) + sum(charge[j] for j in items if grams[j] > 1e-6)


def test_what_is_chosen_is_worth_what_is_said(model: Model, chosen: Selection) -> None:
    assert chosen.worth == pytest.approx(worth_of(model, chosen.items), rel=1e-6)
    supplements = [j for j in chosen.items if model.problem.candidates[j].is_supplement]
    assert 0 < len(supplements) <= model.problem.max_supplements


def test_nothing_chosen_is_better_left_out(model: Model, chosen: Selection) -> None:
    without = {j: worth_of(model, chosen.items - {j}) for j in chosen.items}
    assert min(without.values()) >= chosen.worth - 1e-5


def test_nothing_left_out_is_better_beside(model: Model, chosen: Selection) -> None:
    """Of foods any, of supplements where there may be more."""
    candidates = model.problem.candidates
    full = (
        sum(candidates[j].is_supplement for j in chosen.items) >= model.problem.max_supplements - 1
    )
    others = [
        j
        for j in model.present
        if candidates[j].line is None
        and j not in chosen.items
        and not (candidates[j].is_supplement and full)
    ]
    assert others
    beside = [worth_of(model, chosen.items | {j}) for j in others]
    assert min(beside) >= chosen.worth - 1e-5


def test_it_is_never_worse_than_what_it_began_from(model: Model) -> None:
    """From every round of the continuous problem that has no more supplements than there may be."""
    candidates = model.problem.candidates
    for one in supports(model, goals_of(model)):
        if sum(candidates[j].is_supplement for j in one.items) <= model.problem.max_supplements:
            found = Selector(model, LEAVE).select(one.grams)
            assert found is not None
            assert found.worth <= worth_of(model, one.items) + 1e-5


def test_amounts_are_rounded_to_what_can_be_measured(model: Model, chosen: Selection) -> None:
    """A spoon, a tablet, whole grams; and the dearest limits still hold, for what follows takes up what was rounded."""
    ground = ground_of(model, LEAVE)
    grams = stepped(model, ground, chosen, LEAVE)
    away = np.abs(ground.table - grams[:, None]).min(axis=1)
    assert away.max() <= 1e-6
    assert {
        j for j, c in enumerate(model.problem.candidates) if c.line is None and grams[j] > 0
    } <= chosen.items
    for limit in model.limits.held:
        assert float(limit.coefficients @ grams) >= -1e-3


@pytest.mark.parametrize("more", [0.91, 0.94, 0.97, 1.0])
def test_kidney_disease_leaves_a_recipe_its_main_foods(facts: Reference, more: float) -> None:
    """Chicken, rice and cheese can all keep half of their share here; small moves alone end where they do not."""
    proposal = formulate(dossier_of(facts, kidney(more)), Settings())
    assert proposal.state is State.MET
    assert proposal.solution.grams is not None
    assert not torn(proposal.model.problem, proposal.solution.grams)


def test_linear_algebra_keeps_to_one_thread() -> None:
    """On a busy machine threads of small products wait for each other many times as long as they work."""
    program = (
        "import wainscot_core.facts.foods, numpy, os;"
        "a = numpy.ones((400, 400)); a @ a; print(len(os.listdir('/proc/self/task')))"
    )
    done = subprocess.run(
        [sys.executable, "-c", program], cwd=CORE, capture_output=True, text=True, check=True,
        env={"PATH": "", "PYTHONPATH": str(CORE)},
    )  # fmt: skip
    assert done.stdout.strip() == "1"


def test_what_is_missed_by_a_hair_is_missed(model: Model) -> None:
    """A recipe that is short of a minimum by 0.02 % is called short, whatever stays nearer with it."""

    def ended(minimums: float, near: float) -> Solution:
        passes = (Pass("minimums", minimums, True, 0.0, 0.0), Pass("near", near, True, 0.0, 0.0))
        return Solution("solved", np.zeros(1), np.zeros(1), passes, minimums)

    assert rank(model, ended(0.0, 3.5)) < rank(model, ended(2e-4, 3.2))
    # What nobody calls short is not told apart, nor what both are short by.
    assert rank(model, ended(1e-7, 3.2)) < rank(model, ended(0.0, 3.5))
    assert rank(model, ended(0.0503, 3.2)) < rank(model, ended(0.0501, 3.5))
    assert as_good(model, ["minimums"], ended(1e-7, 0.0), {})
    assert not as_good(model, ["minimums"], ended(2e-4, 0.0), {})
