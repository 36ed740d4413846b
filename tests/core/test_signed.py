"""Would a nutritionist sign what is proposed? The cases of the table, looked over as she would."""

import threading
from dataclasses import replace

import numpy as np
import pytest
from signed import CASES, dossier_of, misshapen, objections, wrong
from wainscot_core.bowl.exclusions import why_ruled_out
from wainscot_core.dossier.reference import Reference
from wainscot_core.formulation.candidates import LineRule
from wainscot_core.formulation.proposal import Happens, Proposal, State, formulate
from wainscot_core.formulation.question import Settings
from wainscot_core.recipe.line import sum_lines

BY_ID = {case["id"]: case for case in CASES}

# These she would not sign: narrow limits on phosphorus and protein leave too little of her food, and in a day's
# batch for a toy dog a quarter spoon of salt is too much.
UNSIGNED = {"toy", "kidney-4"}
# One more may fall to another machine's arithmetic.
MOST_UNSIGNED = len(UNSIGNED) + 1


@pytest.fixture(scope="module")
def proposals(facts: Reference) -> dict[str, Proposal]:
    return {case["id"]: formulate(dossier_of(facts, case), Settings()) for case in CASES}


def test_no_proposal_has_what_none_may_have(
    facts: Reference, proposals: dict[str, Proposal]
) -> None:
    for name, proposal in proposals.items():
        before = dossier_of(facts, BY_ID[name])
        assert proposal.lines, name
        after = before.with_lines(proposal.lines)
        found = list(wrong(before, after, proposal.state is State.MET))
        assert not found, (name, found)


def test_most_would_be_signed_as_they_are(facts: Reference, proposals: dict[str, Proposal]) -> None:
    unsigned = {}
    for name, proposal in proposals.items():
        before = dossier_of(facts, BY_ID[name])
        after = before.with_lines(proposal.lines)
        found = objections(before, after, proposal.state is State.MET)
        if found:
            unsigned[name] = found
    assert len(unsigned) <= MOST_UNSIGNED, unsigned


def test_the_list_tells_what_is_wrong(facts: Reference) -> None:
    """The list itself, on recipes made wrong on purpose."""
    before = dossier_of(facts, BY_ID["urate"])
    told = " ".join(objections(before, before, called_met=True))
    assert "Beef liver, braised stays" in told and "the proposal says met" in told
    before = dossier_of(facts, BY_ID["chicken-rice"])
    chicken, rice = before.lines
    less = replace(chicken, amount=replace(chicken.amount, grams=30.0))
    told = " ".join(misshapen(before, before.with_lines((less, rice))))
    assert "Chicken breast" in told and "of the energy" in told
    bit = replace(rice, amount=replace(rice.amount, grams=rice.amount.grams * 1.01))
    assert "noise" in " ".join(misshapen(before, before.with_lines((chicken, bit))))


def test_what_cannot_be_reached_is_no_reason_to_underfeed(
    facts: Reference, proposals: dict[str, Proposal]
) -> None:
    """Fish is ruled out and nothing brings vitamin A: short, at the energy the dog needs."""
    before, proposal = dossier_of(facts, BY_ID["trial"]), proposals["trial"]
    assert proposal.state is State.SHORT
    kcal = sum_lines(before.library, proposal.lines, before.days).kcal
    assert kcal == pytest.approx(before.energy.target_kcal, rel=0.02)


def test_what_a_condition_rules_out_is_taken_out_with_the_reason(facts: Reference) -> None:
    before = dossier_of(facts, BY_ID["urate"])
    proposal = formulate(before, Settings())
    out = {c.food: c for c in proposal.changes if c.kind is Happens.REMOVED}
    for line in before.lines:
        why = why_ruled_out(line.as_fed, before.avoid)
        assert (line.food.id in out) == bool(why)
        if why:
            assert out[line.food.id].why == why
    # Who says that a line stays has decided.
    liver = next(i for i, x in enumerate(before.lines) if x.food.id == "usda:13326")
    kept = formulate(before, Settings(line_rules={liver: LineRule("fixed")}))
    assert next(c for c in kept.changes if c.line == liver).kind is Happens.KEPT


def test_a_busy_machine_gives_the_same_answer(facts: Reference) -> None:
    before = dossier_of(facts, BY_ID["senior"])
    alone = formulate(before, Settings()).solution.grams
    stop = threading.Event()

    def work() -> None:
        while not stop.is_set():
            np.linalg.svd(np.ones((60, 60)))

    busy = [threading.Thread(target=work) for _ in range(3)]
    for thread in busy:
        thread.start()
    try:
        beside = formulate(before, Settings()).solution.grams
    finally:
        stop.set()
        for thread in busy:
            thread.join()
    assert alone is not None and beside is not None
    assert np.array_equal(alone, beside)
