"""How surely limits hold: the variation of foods as data, and the quick estimate made of it."""

from dataclasses import replace

import numpy as np
import pytest
from signed import CASES, dossier_of
from wainscot_core.analysis.adequacy import Status, judge
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.facts.foods import Grade
from wainscot_core.recipe.line import sum_lines
from wainscot_core.robust.chances import chances
from wainscot_core.robust.holding import holding, holding_of
from wainscot_core.robust.simulate import Runs
from wainscot_core.targets.standards import Limit

BY_ID = {case["id"]: case for case in CASES}


def bare(facts: Reference, *lines: tuple[str, float]) -> Dossier:
    case = {**BY_ID["adult-18"], "lines": [list(x) for x in lines]}
    return dossier_of(facts, case)


def held_to(dossier: Dossier, **minimums: float) -> Dossier:
    """The dossier under these minimums per 1000 kcal and nothing else."""
    limits = {k: Limit(k, "", v, None, None) for k, v in minimums.items()}
    requirements = replace(dossier.requirements, limits=limits)
    return replace(dossier, targets=replace(dossier.targets, requirements=requirements))


def test_the_table_says_what_it_is_made_of(facts: Reference) -> None:
    variation, library = facts.variation, facts.library
    foods = [library.food(i) for i in ("usda:05064", "usda:13326", "usda:15209", "supp:fish-oil")]
    found = variation.of(library, foods)
    zinc, iodine = library.catalogue.index("ZN"), library.catalogue.index("ID")
    # Meat 15 %, organ 20 %, fish 25 % of zinc; a supplement 8 % of anything.
    assert found[:, zinc] == pytest.approx([0.15, 0.20, 0.25, 0.08])
    assert found[3, iodine] == pytest.approx(0.08)
    assert np.all(found > 0)
    assert "not re-read" in variation.source


def test_what_was_not_analysed_varies_more(facts: Reference) -> None:
    variation, library = facts.variation, facts.library
    grades = [p.grade for p in library.provenance]
    rows, columns = np.nonzero(np.isin(library.codes, [grades.index(Grade.PATTERN)]))
    food, column = library.foods[int(rows[0])], int(columns[0])
    key = library.catalogue.keys[column]
    assert key in variation.amino
    once = variation.shares["AMINO"][variation._group(food)]
    assert variation.of(library, [food])[0, column] == pytest.approx(2 * once)


def test_a_minimum_met_exactly_holds_in_about_half_of_the_batches(facts: Reference) -> None:
    dossier = bare(facts, ("usda:05064", 200), ("usda:20445", 200))
    sums = sum_lines(dossier.library, dossier.lines, 1)
    zinc = sums.amount("ZN") / sums.kcal * 1000
    share = [
        holding(held_to(dossier, ZN=zinc * part)) for part in (1 - 1e-9, 0.9, 0.6)
    ]  # fmt: skip
    assert all(found is not None for found in share)
    exact, near, far = (found.share for found in share if found is not None)
    # A log-normal has its median under its mean; with 0.6 of it 3 spreads are left.
    assert 0.35 < exact < 0.6 and exact < near < far and far > 0.98
    assert share[0] is not None and share[0].weakest is not None
    assert share[0].weakest.key == "ZN" and share[0].limits == 1


def test_only_what_the_table_meets_is_looked_at(facts: Reference) -> None:
    dossier = bare(facts, ("usda:05064", 200))
    found = holding(dossier)
    assert found is not None
    sums = sum_lines(dossier.library, dossier.lines, 1)
    verdicts = judge(sums, dossier.requirements, dossier.policy)
    short = {v.key for v in verdicts if v.status is Status.SHORT}
    asked = [x for x in dossier.requirements.limits.values() if not x.sets_nothing]
    assert short and found.open_limits >= len(short)
    assert found.limits + found.open_limits == len(asked)
    assert found.weakest is None or found.weakest.key not in short


def test_the_quick_look_says_what_the_long_one_says(facts: Reference) -> None:
    """750 batches, each of a kitchen of its own, beside 20,000: off by three times what so few can tell."""
    dossier = bare(facts, ("usda:05064", 200), ("usda:20445", 200), ("supp:calcium-carbonate", 4))
    quick = holding(dossier)
    long = chances(dossier, Runs(kitchens=20_000, batches=1, week=1, seed=5), slips=False)
    assert quick is not None and long is not None
    share = long.together.share
    assert 0.02 < share < 0.98
    assert quick.share == pytest.approx(share, abs=3 * (share * (1 - share) / 750) ** 0.5)
    told = holding_of(dossier, long)
    assert (told.limits, told.open_limits) == (quick.limits, quick.open_limits)
    assert told.weakest is not None and quick.weakest is not None
    assert told.weakest.key == quick.weakest.key


def test_without_limits_everything_holds_and_without_food_nothing_is_said(
    facts: Reference,
) -> None:
    dossier = bare(facts, ("usda:05064", 200))
    found = holding(held_to(dossier))
    assert found is not None and found.share == 1 and found.weakest is None
    assert holding(dossier.with_lines(())) is None
