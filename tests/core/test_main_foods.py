"""Her main foods and the caps on kinds of food stay, where the limits leave room; where not, the limits are named."""

from dataclasses import replace
from math import ceil
from typing import Any

import numpy as np
import pytest
from signed import dossier_of, objections
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.facts.foods import FloatArray
from wainscot_core.formulation.answer import answer_of
from wainscot_core.formulation.formulate import formulate
from wainscot_core.formulation.leaves import Leaves, leaves, leaves_words
from wainscot_core.formulation.model import Model, build
from wainscot_core.formulation.proposal import Proposal, State
from wainscot_core.formulation.question import Settings, check_settings, problem_of
from wainscot_core.formulation.reasons import how_far
from wainscot_core.formulation.rows import Group, GroupKind
from wainscot_core.recipe.line import sum_lines

# Chicken, quinoa and peppers for a dog with urate stones: oil is the easiest energy without protein.
URATE: dict[str, Any] = {
    "dog": {"weight_kg": 7, "age_months": 20}, "under": ["fediaf-2021", "adult"], "days": 4, "has": {"urate": "prevent"},
    "lines": [["usda:05064", 120], ["usda:20137", 146], ["usda:11234", 43]],
}  # fmt: skip
# Tofu, brown rice and olive oil for a dog with pancreatitis.
TOFU: dict[str, Any] = {
    "dog": {"weight_kg": 18, "age_months": 20}, "under": ["aafco-2016", "adult"], "has": {"pancreatitis": "recurrent"},
    "lines": [["usda:16426", 245], ["usda:20037", 297], ["usda:04053", 35]],
}  # fmt: skip
# Egg is fat: 10.61 g in 155 kcal (USDA SR Legacy 01129).
EGG: dict[str, Any] = {
    "dog": {"weight_kg": 70, "age_months": 60}, "under": ["fediaf-2021", "adult"], "has": {"pancreatitis": "recurrent"},
    "lines": [["usda:01129", 169], ["usda:08121", 206], ["usda:11053", 61]],
}  # fmt: skip
EGG_FAT_G_PER_MCAL = 10.61 / 155 * 1000
FAT_MOST_G_PER_MCAL = 20
# Tofu is fat too: 8.72 g in 144 kcal (16426).
BOTH: dict[str, Any] = {
    **EGG,
    "lines": [["usda:01129", 200], ["usda:16426", 215], ["usda:20045", 240]],
}
VENISON: dict[str, Any] = {
    "dog": {"weight_kg": 55, "age_months": 60}, "under": ["nrc-2006", "adult"], "has": {"ckd": "3"},
    "lines": [["usda:17165", 452], ["usda:11458", 162], ["usda:20037", 549]],
}  # fmt: skip
DUCK: dict[str, Any] = {
    "dog": {"weight_kg": 27, "age_months": 60}, "under": ["nrc-2006", "adult"], "has": {"urate": "prevent"}, "days": 2,
    "lines": [["usda:05142", 663], ["usda:11367", 805], ["usda:11424", 237]],
}  # fmt: skip
# A toy dog whose methionine stays a little short whatever is done.
TOY: dict[str, Any] = {
    "dog": {"weight_kg": 4, "age_months": 110}, "under": ["nrc-2006", "adult"], "days": 2, "has": {"ckd": "3"},
    "lines": [["usda:05064", 40], ["usda:20037", 48], ["usda:11424", 14]],
}  # fmt: skip


def oil_share(dossier: Dossier, proposal: Proposal) -> float:
    """The share of the energy that plain fats and oils bring."""
    sums = sum_lines(dossier.library, proposal.lines, dossier.days)
    column = dossier.library.catalogue.index("ENERC")
    brought = sum(
        float(row[column])
        for row, line in zip(sums.contributions, proposal.lines, strict=True)
        if line.food.attributes.kind in {"fat:plant", "fat:fish", "fat:fish-liver", "fat:animal"}
    )
    return brought / sums.kcal


@pytest.mark.parametrize("cost", [0.0, 400.0])
def test_oil_stays_under_its_cap_whatever_passing_it_costs(facts: Reference, cost: float) -> None:
    """The search counts what passes a cap; that no minimum asks for it is looked at by itself."""
    rules = facts.formulation
    counted = replace(facts, formulation=replace(rules, shape=replace(rules.shape, cap_cost=cost)))
    dossier = dossier_of(counted, URATE)
    proposal = formulate(dossier, Settings())
    assert proposal.state is State.MET
    assert oil_share(dossier, proposal) <= 0.10 + 1e-9


def test_a_main_food_is_not_given_up_where_it_can_stay(facts: Reference) -> None:
    """Small moves alone end with tofu at half of what it should keep."""
    dossier = dossier_of(facts, TOFU)
    proposal = formulate(dossier, Settings())
    assert proposal.state is State.MET
    assert not objections(dossier, dossier.with_lines(proposal.lines), True)


def test_what_leaves_no_room_for_a_main_food_is_named(facts: Reference) -> None:
    """So much egg as brings 20 g of fat per 1000 kcal is 29 % of the energy, and what other foods bring comes off."""
    proposal = formulate(dossier_of(facts, EGG), Settings())
    why = next(change.why for change in proposal.changes if change.line == 0)
    assert why.startswith("the limits leave it at most ")
    assert "while the other main foods" not in why
    told = float(why.split("at most ")[1].split("%")[0]) / 100
    assert 0.15 < told <= FAT_MOST_G_PER_MCAL / EGG_FAT_G_PER_MCAL
    assert why.index("Fat at most 20 g/1000 kcal") < why.index("Linoleic acid (18:2 n-6) at least")


def test_two_main_foods_that_cannot_both_stay(facts: Reference) -> None:
    """Half of a third of the energy of egg brings 11.4 g of fat, of tofu 10.1 g: either fits under 20 g, both do not."""
    model, grams = asked_of(facts, BOTH)
    left = leaves(model, grams)
    assert set(left) == {0, 1}
    assert all(of.most and of.beside for of in left.values())
    assert all(of.groups[0] == Group(GroupKind.MAX, "FAT") for of in left.values())


def test_a_cap_is_no_way_to_keep_a_main_food(facts: Reference) -> None:
    """Venison is protein: the energy beside it could only come from more oil than there should be."""
    left = leaves(*asked_of(facts, VENISON))[0]
    assert left.groups == (Group(GroupKind.MAX, "PROCNT"), Group(GroupKind.CAP, "oil"))
    assert 0.2 < left.share < left.bound


def asked_of(facts: Reference, case: dict[str, Any]) -> tuple[Model, FloatArray]:
    """The model of a case, and a recipe of nothing but rice."""
    model = build(problem_of(dossier_of(facts, case), check_settings(facts, Settings())))
    contents = model.problem.contents
    grams = np.zeros(len(model.problem.candidates))
    grams[2] = model.problem.kcal / contents.kcal[2]
    return model, grams


def test_a_food_in_the_place_of_another_says_what_the_other_would_pass(facts: Reference) -> None:
    """Checked by the analysis: the energy of the turkey in chicken breast, the rest as proposed."""
    dossier = dossier_of(facts, URATE)
    proposal = formulate(dossier, Settings())
    why = next(change.why for change in proposal.changes if change.line == 0)
    assert why.startswith("Turkey, ground, cooked in its place: with this one ")
    column = dossier.library.catalogue.index("ENERC")
    protein = dossier.library.catalogue.index("PROCNT")
    chicken = sum_lines(dossier.library, dossier.lines[:1], dossier.days)
    per_kcal = float(chicken.contributions[0, protein] / chicken.contributions[0, column])
    kcal = grams = 0.0
    sums = sum_lines(dossier.library, proposal.lines, dossier.days)
    for line, row in zip(proposal.lines, sums.contributions, strict=True):
        turkey = line.food.name.startswith("Turkey")
        kcal += float(row[column])
        grams += float(row[column]) * per_kcal if turkey else float(np.nan_to_num(row[protein]))
    assert f"Protein at {ceil(grams / kcal * 1000 / 50 * 100)}% of its maximum" in why


@pytest.mark.parametrize(
    ("kind", "value", "told"),
    [
        (GroupKind.MIN, -0.002, "at 99% of its minimum"),
        (GroupKind.MIN, -0.998, "at 0% of its minimum"),
        (GroupKind.MAX, -0.002, "at 101% of its maximum"),
    ],
)
def test_what_breaks_a_bound_by_a_hair_is_not_told_at_all_of_it(
    facts: Reference, kind: GroupKind, value: float, told: str
) -> None:
    model, grams = asked_of(facts, VENISON)
    assert how_far(model.problem, Group(kind, "CA"), value, grams) == f"Calcium {told}"


def test_what_is_less_than_its_share_is_so_for_a_maximum(facts: Reference) -> None:
    """More duck at the same energy of all else would dilute minerals too; it is its protein that there is no room for."""
    proposal = formulate(dossier_of(facts, DUCK), Settings())
    why = next(change.why for change in proposal.changes if change.line == 0)
    assert "Protein at most 50 g" in why or ("Protein at 1" in why and "maximum" in why)


@pytest.mark.parametrize(
    ("left", "words"),
    [
        (Leaves(0.2811, 0.3, True, False, ()), "the limits leave it at most 28.2% of the energy"),
        (
            Leaves(0.5889, 0.5, False, False, ()),
            "the limits ask for at least 58.8% of the energy from it",
        ),
    ],
)
def test_a_share_is_rounded_to_where_it_is_true(left: Leaves, words: str) -> None:
    assert leaves_words(left, ()) == words
    assert leaves_words(replace(left, beside=True), ("a", "b")) == (
        f"{words} while the other main foods keep theirs: a; b"
    )


def test_a_trace_of_what_is_short_anyhow_does_not_tear_a_recipe(facts: Reference) -> None:
    """Her main foods cannot keep half of their share; all the same the recipe is not taken apart for a tenth of methionine."""
    told = answer_of(dossier_of(facts, TOY), Settings()).told
    near = {one.name: one.distance for one in told.alternatives}
    assert near["Nearest to the recipe"] < near["Least short"] - 0.1
