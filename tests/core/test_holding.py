"""How surely limits hold: the variation of foods as data, and the quick estimate made of it."""

from dataclasses import replace

import numpy as np
import pytest
from signed import CASES, dossier_of
from wainscot_core.analysis.adequacy import Status, judge
from wainscot_core.analysis.holding import drawn, holding, met_limits
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.facts.foods import Grade
from wainscot_core.recipe.line import sum_lines
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


def test_draws_have_the_mean_and_the_spread_of_the_table(facts: Reference) -> None:
    dossier = bare(facts, ("usda:05064", 200))
    sums = sum_lines(dossier.library, dossier.lines, 1)
    many = replace(facts.variation, draws=4000)
    amounts, kcal = drawn(dossier.library, many, sums)
    zinc = dossier.library.catalogue.index("ZN")
    mean, spread = amounts[:, zinc].mean(), amounts[:, zinc].std()
    assert mean == pytest.approx(float(sums.known[zinc]), rel=0.01)
    # 15 %, as 4000 draws tell it.
    assert spread / mean == pytest.approx(0.15, rel=0.05)
    # Energy goes with protein and fat: 4 and 9 kcal per g of what they differ by.
    column = {k: dossier.library.catalogue.index(k) for k in ("PROCNT", "FAT", "CHOCDF")}
    factors = dossier.library.factors.kcal_per_g
    differs = sum(
        factors[k] * (amounts[:, c] - float(np.nan_to_num(sums.contributions[:, c]).sum()))
        for k, c in column.items()
    )
    assert kcal == pytest.approx(sums.kcal + differs)


def test_amino_acids_follow_their_protein(facts: Reference) -> None:
    dossier = bare(facts, ("usda:05064", 200))
    sums = sum_lines(dossier.library, dossier.lines, 1)
    amounts, _ = drawn(dossier.library, facts.variation, sums)
    index = dossier.library.catalogue.index
    protein, lysine, zinc = (amounts[:, index(k)] for k in ("PROCNT", "LYS", "ZN"))
    # Muscle protein varies by 5 %; what lysine varies by beside that is its own.
    own = facts.variation.of(dossier.library, [dossier.lines[0].food])[0, index("LYS")]
    assert own >= 0.04
    expected = 0.05 / np.hypot(0.05, own)
    assert np.corrcoef(protein, lysine)[0, 1] == pytest.approx(expected, abs=0.06)
    assert abs(np.corrcoef(protein, zinc)[0, 1]) < 0.15


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
    held, opened = met_limits(sums, dossier.requirements, dossier.policy)
    short = {
        v.key for v in judge(sums, dossier.requirements, dossier.policy) if v.status is Status.SHORT
    }
    assert short and not short & set(held)
    assert (found.limits, found.open_limits) == (len(held), opened) and opened >= len(short)


def test_without_limits_everything_holds_and_without_food_nothing_is_said(
    facts: Reference,
) -> None:
    dossier = bare(facts, ("usda:05064", 200))
    found = holding(held_to(dossier))
    assert found is not None and found.share == 1 and found.weakest is None
    assert holding(dossier.with_lines(())) is None
