"""No sequence of moves, by whoever and in whatever order, leads to a plan that may be fed without a free gate and a
vet's signature on the very version."""

import pytest
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, rule
from wainscot_core.errors import InputError
from wainscot_core.release.states import (
    ENDED,
    MOVES,
    Move,
    Mover,
    ReleaseState,
    after,
    moves_from,
)


class Plan(RuleBasedStateMachine):
    """A plan to which everything is tried. checked, signed: since it was last a draft."""

    def __init__(self) -> None:
        super().__init__()
        self.state = ReleaseState.DRAFT
        self.checked = self.signed = self.was_issued = False

    @rule(
        move=st.sampled_from(Move), mover=st.sampled_from(Mover), open_count=st.integers(0, 2),
        reason=st.sampled_from(["", "  ", "because"]),
    )  # fmt: skip
    def try_to(self, move: Move, mover: Mover, open_count: int, reason: str) -> None:
        before = self.state
        try:
            self.state = after(before, move, mover, open_count, reason)
        except InputError:
            assert self.state is before
            return
        assert before not in ENDED, "nothing follows an end"
        if move is Move.CHECK:
            assert open_count == 0
            self.checked = True
        if move is Move.APPROVE:
            assert mover is Mover.VET and open_count == 0 and self.checked
            self.signed = True
        if self.state is ReleaseState.ISSUED:
            assert open_count == 0
            self.was_issued = True
        if self.state is ReleaseState.DRAFT:
            assert reason.strip(), "what goes back says why"
            self.checked = self.signed = False

    @invariant()
    def nothing_is_out_unsigned(self) -> None:
        if self.state in {ReleaseState.ISSUED, *ENDED}:
            assert self.checked and self.signed and self.was_issued
        if self.state is ReleaseState.APPROVED:
            assert self.checked and self.signed
        if self.was_issued:
            assert self.state in {ReleaseState.ISSUED, *ENDED}, (
                "what was out is never a draft again"
            )


TestPlan = Plan.TestCase


def test_the_moves_that_there_are() -> None:
    """The whole table, written out by hand."""
    s, m = ReleaseState, Move
    expected = {
        (s.DRAFT, m.CHECK): s.CHECKED, (s.CHECKED, m.SEND): s.WITH_VET,
        (s.WITH_VET, m.APPROVE): s.APPROVED, (s.WITH_VET, m.RETURN): s.DRAFT,
        (s.CHECKED, m.TAKE_BACK): s.DRAFT, (s.WITH_VET, m.TAKE_BACK): s.DRAFT,
        (s.APPROVED, m.TAKE_BACK): s.DRAFT, (s.APPROVED, m.ISSUE): s.ISSUED,
        (s.ISSUED, m.SUPERSEDE): s.SUPERSEDED, (s.ISSUED, m.WITHDRAW): s.WITHDRAWN,
    }  # fmt: skip
    for state in s:
        for move in m:
            mover = MOVES[move].mover
            if (state, move) in expected:
                assert after(state, move, mover, 0, "why") is expected[state, move]
            else:
                with pytest.raises(InputError):
                    after(state, move, mover, 0, "why")


@pytest.mark.parametrize("move", [Move.CHECK, Move.SEND, Move.APPROVE, Move.ISSUE])
def test_every_move_forward_is_gated(move: Move) -> None:
    [state] = MOVES[move].sources
    with pytest.raises(InputError, match="not settled"):
        after(state, move, MOVES[move].mover, 1, "why")


def test_a_plan_can_always_be_called_back() -> None:
    """A recall asks for no free gate: what is wrong is why."""
    assert after(ReleaseState.ISSUED, Move.WITHDRAW, Mover.CONSULTANT, 9, "recalled") is (
        ReleaseState.WITHDRAWN
    )


def test_who_may_do_what_is_told() -> None:
    assert moves_from(ReleaseState.WITH_VET, Mover.VET) == (Move.APPROVE, Move.RETURN)
    assert moves_from(ReleaseState.WITH_VET, Mover.CONSULTANT) == (Move.TAKE_BACK,)
    assert moves_from(ReleaseState.WITHDRAWN, Mover.CONSULTANT) == ()
