"""Limits that leave nothing between them: what is offered to decide, and what is proposed until then."""

from collections.abc import Sequence

import pytest
from signed import dossier_of
from wainscot_core.analysis.adequacy import judge
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.formulation.answer import answer_of
from wainscot_core.formulation.candidates import why_not_given
from wainscot_core.formulation.formulate import formulate
from wainscot_core.formulation.impasse_words import given_way, number
from wainscot_core.formulation.proposal import Happens, State
from wainscot_core.formulation.question import Settings
from wainscot_core.recipe.line import Line, sum_lines
from wainscot_core.targets.requirements import Option

CHICKEN_RICE = [["usda:05064", 260], ["usda:20045", 420], ["usda:01129", 100], ["usda:11424", 100]]
LAMB_RICE = [["usda:17225", 50], ["usda:20045", 90], ["usda:11125", 30]]


def copper(facts: Reference) -> Dossier:
    """AAFCO 2016 asks for 1.83 mg of copper per 1000 kcal, a chelated liver bears 1.2."""
    return dossier_of(
        facts,
        {"dog": {"weight_kg": 26, "age_months": 60}, "under": ["aafco-2016", "adult"],
         "has": {"copper-hepatopathy": "chelation"}, "lines": CHICKEN_RICE},
    )  # fmt: skip


def kidney(facts: Reference) -> Dossier:
    """FEDIAF 2021 asks for 45 g of protein and 1000 mg of phosphorus, stage 3 allows as much and no more."""
    return dossier_of(
        facts,
        {"dog": {"weight_kg": 3.4, "age_months": 60}, "under": ["fediaf-2021", "adult"],
         "has": {"ckd": "3"}, "lines": LAMB_RICE},
    )  # fmt: skip


def options(dossier: Dossier, key: str) -> dict[str, Option]:
    (found,) = (c for c in dossier.targets.conflicts if c.key == key)
    return {o.id: o for o in found.options}


def test_a_window_without_width_is_one_to_decide(facts: Reference) -> None:
    offered = options(kidney(facts), "PROCNT")
    # A twentieth is left to aim at: 42.75 to 45, or 45 to 47.25.
    assert offered["floor-gives-way"].value == pytest.approx(42.75)
    assert offered["ceiling-gives-way"].value == pytest.approx(47.25)
    told = next(c.words for c in kidney(facts).targets.conflicts if c.key == "PROCNT")
    assert "nothing between them" in told and "0%" not in told


def test_nothing_is_added_for_a_minimum_that_stands_against_a_ceiling(facts: Reference) -> None:
    """A copper tablet would be within the ceiling, and no one would give it to this dog."""
    dossier = copper(facts)
    found = answer_of(dossier, Settings())
    assert found.proposal.state is State.UNDECIDED and found.proposal.stands is not None
    assert found.proposal.stands.short == ("Copper",) and not found.proposal.stands.over
    added = {c.food for c in found.proposal.changes if c.kind is Happens.ADDED}
    assert "supp:copper-tablet-2" not in added and added
    sums = sum_lines(dossier.library, found.proposal.lines, dossier.days)
    level = float(sums.known[dossier.library.catalogue.index("CU")]) / sums.kcal * 1000
    assert level <= 1.2
    assert sums.kcal == pytest.approx(dossier.energy.target_kcal, rel=0.02)


def test_what_is_decided_low_is_reached_by_foods_alone(facts: Reference) -> None:
    """The vet lets the floor come down to 1.1 mg: the liver that stores copper still gets none from a bottle."""
    case = {"dog": {"weight_kg": 26, "age_months": 60}, "under": ["aafco-2016", "adult"],
            "has": {"copper-hepatopathy": "chelation"}, "decide": {"CU": [1.1, 1.2]},
            "lines": CHICKEN_RICE}  # fmt: skip
    dossier = dossier_of(facts, case)
    given = dict.fromkeys(facts.formulation.supplements)
    for one in ("supp:copper-tablet-2", "supp:copper-dilution", "supp:copper-gluconate"):
        assert "under the standard" in why_not_given(dossier, dossier.library.food(one))
    assert not why_not_given(dossier, dossier.library.food("supp:b-complex-tablet"))
    proposal = formulate(dossier, Settings(allowed=tuple(given)))
    assert not [x for x in proposal.lines if x.food.id.startswith("supp:copper")]


def test_both_limits_are_named_and_hers_stands_beside(facts: Reference) -> None:
    told = answer_of(copper(facts), Settings()).told
    assert "Copper at least 1.83 mg/1000 kcal" in told.words
    assert "at most 1.2 mg/1000 kcal (Copper hepatopathy" in told.words
    assert told.alternatives[-1].name.startswith("As it is at this energy, ")
    assert all(one.state in {State.UNDECIDED, State.SHORT} for one in told.alternatives)
    (first, *_) = told.conflicts
    assert [w.text for w in first.ways_out] == [
        "Lower the minimum of Copper from 1.83 to 1.14 mg/1000 kcal",
        "Raise the maximum of Copper from 1.2 to 1.93 mg/1000 kcal",
    ]
    # What is above a condition's ceiling only the vet allows.
    assert [w.with_vet for w in first.ways_out] == [False, True]


def test_what_a_recipe_misses_anyhow_is_no_reason_to_take_it_apart(facts: Reference) -> None:
    """Lamb has too little methionine within so little protein; oats and chicken would have a trace more."""
    dossier = kidney(facts)
    proposal = formulate(dossier, Settings())
    assert proposal.least_short is not None

    def part(lines: Sequence[Line], food: str) -> float:
        sums = sum_lines(dossier.library, lines, dossier.days)
        energy = dossier.library.catalogue.index("ENERC")
        return sum(
            float(c[energy]) / sums.kcal
            for x, c in zip(lines, sums.contributions, strict=True)
            if x.food.id == food
        )

    had = part(dossier.lines, "usda:17225")
    assert part(proposal.lines, "usda:17225") >= had / 2
    assert part(proposal.least_short.lines, "usda:17225") < had / 2
    least, nearer = (missed(dossier, p.lines) for p in (proposal.least_short, proposal))
    # Of the one minimum that cannot be had it is short by a tenth more at most, of no other.
    assert least.keys() == nearer.keys()
    assert least["AAS"] < nearer["AAS"]
    # Phosphorus is what nothing is done for.
    for key in least.keys() - {"P"}:
        assert nearer[key] <= least[key] + 0.1 + 1e-3, key
    names = [one.name for one in answer_of(dossier, Settings()).told.alternatives]
    assert "Least short" in names and names.index("Least short") > 0


def missed(dossier: Dossier, lines: Sequence[Line]) -> dict[str, float]:
    """By what share of its minimum each nutrient is short."""
    sums = sum_lines(dossier.library, lines, dossier.days)
    return {
        v.key: 1 - v.value / v.limit.minimum
        for v in judge(sums, dossier.requirements, dossier.policy)
        if v.status == "short" and v.value is not None and v.limit and v.limit.minimum
    }


@pytest.mark.parametrize(
    ("value", "down", "text"),
    [
        (44.96, True, "44.9"),
        (44.91, False, "45"),
        (999.7, True, "999"),
        (999.2, False, "1000"),
        (1814.3, True, "1814"),
        (0.03456, True, "0.0345"),
    ],
)
def test_to_where_a_limit_gives_way_is_rounded_to_where_it_holds(
    value: float, down: bool, text: str
) -> None:
    assert given_way(value, down) == text
    assert "e" not in number(999.7)
