"""Why not everything can hold: the true partners, each conflict once, ways out that are ways out, the gentlest first."""

from typing import Any

import pytest
from feasibility import possible
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.formats.casefile import read_case
from wainscot_core.formulation.candidates import LineRule
from wainscot_core.formulation.formulate import formulate
from wainscot_core.formulation.impasse import harm_of, outside_of
from wainscot_core.formulation.impasse_words import FormulationImpasse, impasse_result
from wainscot_core.formulation.model import build
from wainscot_core.formulation.problem import Bar
from wainscot_core.formulation.proposal import Proposal
from wainscot_core.formulation.question import Settings
from wainscot_core.formulation.rows import Group, GroupKind

CHICKEN, RICE, BEANS, SALT = "usda:05064", "usda:20445", "usda:11053", "usda:02047"
BASE = [{"food": CHICKEN, "grams": 150}, {"food": RICE, "grams": 200}]
HEART = {"standard": "nrc-2006", "conditions": [{"id": "mmvd", "stage": "C"}]}


def case_of(facts: Reference, lines: list[dict[str, Any]], **more: Any) -> Dossier:
    return read_case(facts, {
        "format": "wainscot-case", "version": 1, "dog": {"name": "T", "weight_kg": 10},
        "energy": {"kcal_per_day": 582}, "targets": {"standard": "nrc-2006"},
        "recipe": {"covers_days": 1, "lines": lines}, **more,
    })  # fmt: skip


def told(proposal: Proposal) -> list[FormulationImpasse]:
    return [impasse_result(one) for one in proposal.impasses]


def kinds(found: FormulationImpasse) -> set[GroupKind]:
    return {m.kind for m in found.members}


@pytest.fixture(scope="module")
def nothing(facts: Reference) -> Proposal:
    """Chicken and rice, and nothing may be added."""
    return formulate(case_of(facts, BASE), Settings(allowed=(), max_supplements=0))


def test_what_nobody_allowed_is_the_partner_of_what_is_short(nothing: Proposal) -> None:
    assert nothing.state == "short"
    found = told(nothing)
    merged = next(f for f in found if f.each)
    assert {"ZN", "CU", "VITD", "CA"} <= {m.key for m in merged.members}
    assert GroupKind.OFFER in kinds(merged)
    # Each minimum is told of once.
    keys = [m.key for f in found for m in f.members if m.kind is GroupKind.MIN]
    assert len(keys) == len(set(keys))
    # Kelp would bring iodine, as much as its label says and nobody has entered.
    iodine = next(f for f in found if "ID" in {m.key for m in f.members})
    assert any("Kelp" in m.words and "strength is not entered" in m.words for m in iodine.members)
    assert any(w.text.startswith("Enter the strength of Kelp") for w in iodine.ways_out)


def test_every_conflict_is_one_and_what_would_end_it_does(nothing: Proposal) -> None:
    """Asked of another solver, in whole steps: the members cannot hold; with the offer opened they can."""
    for one in nothing.impasses:
        model = build(one.problem)
        groups = [one.members] if not one.each else [
            tuple(g for g in one.members if g == limit or g.kind is not GroupKind.MIN)
            for limit in one.members if limit.kind is GroupKind.MIN
        ]  # fmt: skip
        for members in groups:
            outside = outside_of(model, members, elastic=False)
            assert not possible(model, outside)
            for opened in members:
                if opened.kind in {GroupKind.OFFER, GroupKind.STRENGTH}:
                    assert possible(model, {*outside, opened})


def test_what_is_ruled_out_is_named_where_nothing_else_would_do(facts: Reference) -> None:
    """A trial of rabbit and potato: vitamin A is in what the trial does not have."""
    lines = [{"food": "usda:17178", "grams": 300}, {"food": "usda:11367", "grams": 400}]
    trial = {"standard": "fediaf-2021", "conditions": [{"id": "food-reaction", "stage": "trial"}]}
    proposal = formulate(case_of(facts, lines, targets=trial), Settings())
    (found,) = told(proposal)
    assert kinds(found) == {GroupKind.MIN, GroupKind.RULED}
    assert "elimination trial" in found.words
    # What is ruled out is no way out; the figure of the standard can only be decided about.
    assert [w.kind for w in found.ways_out] == [GroupKind.MIN]
    (one,) = proposal.impasses
    assert all(c.excluded for c in one.problem.candidates if c.bar is Bar.RULED)


def test_beans_alone_cannot_bring_the_energy(facts: Reference) -> None:
    """400 g of green beans bring 124 of 582 kcal, whatever is asked of nutrients."""
    rules = {0: LineRule("free", 0, 400)}
    case = case_of(facts, [{"food": BEANS, "grams": 300}])
    proposal = formulate(case, Settings(allowed=(), line_rules=rules))
    assert proposal.state == "impossible"
    assert {GroupKind.ENERGY, GroupKind.MOST, GroupKind.OFFER} in [kinds(f) for f in told(proposal)]


def test_a_choice_gives_way_before_a_condition_and_a_safe_limit_never(facts: Reference) -> None:
    """Six grams of salt in heart failure: less salt first; more sodium only with the vet."""
    case = case_of(facts, [*BASE, {"food": SALT, "grams": 6}], targets=HEART)
    proposal = formulate(case, Settings(line_rules={2: LineRule("fixed")}))
    assert proposal.state == "impossible"
    (found,) = told(proposal)
    assert found.ways_out[0].text.startswith("Change Salt") and not found.ways_out[0].with_vet
    assert found.ways_out[-1].key == "NA" and found.ways_out[-1].with_vet
    harms = [harm_of(w.problem, x.group) for w in proposal.impasses for x in w.ways]
    assert harms == sorted(h for h in harms if h is not None)
    problem = proposal.model.problem
    assert harm_of(problem, Group(GroupKind.MAX, "P")) is None  # a safe limit
    assert harm_of(problem, Group(GroupKind.MIN, "ZN")) == 3


def test_too_few_supplements_are_said_to_be_too_few(facts: Reference) -> None:
    proposal = formulate(case_of(facts, BASE), Settings(mode="close", max_supplements=2))
    found = [f for f in told(proposal) if GroupKind.SUPPLEMENTS in kinds(f)]
    assert len(found) == 1
    assert any(w.text.startswith("Allow ") and "supplements" in w.text for w in found[0].ways_out)
