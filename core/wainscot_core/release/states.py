"""The states of a plan on its way out, and the moves between them: the one place that says which may follow
which."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from ..errors import InputError


class ReleaseState(StrEnum):
    """Where a plan is. draft: at work; checked: frozen, nothing stands against it; with the vet: asked for a
    signature; approved: signed; issued: the owner may feed it; superseded: a newer one took its place;
    withdrawn: not to be fed any more."""

    DRAFT = "draft"
    CHECKED = "checked"
    WITH_VET = "with the vet"
    APPROVED = "approved"
    ISSUED = "issued"
    SUPERSEDED = "superseded"
    WITHDRAWN = "withdrawn"


class Move(StrEnum):
    """What takes a plan from one state to another."""

    CHECK = "check"
    SEND = "send"
    APPROVE = "approve"
    RETURN = "return"
    TAKE_BACK = "take back"
    ISSUE = "issue"
    SUPERSEDE = "supersede"
    WITHDRAW = "withdraw"


class Mover(StrEnum):
    """Who makes a move. program: it follows from another one."""

    CONSULTANT = "consultant"
    VET = "vet"
    PROGRAM = "program"


@dataclass(frozen=True)
class Rule:
    """One move: from which states, to which, by whom; gated: only where nothing stands against the plan;
    reasoned: only with a reason."""

    sources: frozenset[ReleaseState]
    target: ReleaseState
    mover: Mover
    gated: bool = False
    reasoned: bool = False


_OPEN = frozenset({ReleaseState.CHECKED, ReleaseState.WITH_VET, ReleaseState.APPROVED})

MOVES: Mapping[Move, Rule] = {
    Move.CHECK: Rule(
        frozenset({ReleaseState.DRAFT}), ReleaseState.CHECKED, Mover.CONSULTANT, gated=True
    ),
    Move.SEND: Rule(
        frozenset({ReleaseState.CHECKED}), ReleaseState.WITH_VET, Mover.CONSULTANT, gated=True
    ),
    Move.APPROVE: Rule(
        frozenset({ReleaseState.WITH_VET}), ReleaseState.APPROVED, Mover.VET, gated=True
    ),
    Move.RETURN: Rule(
        frozenset({ReleaseState.WITH_VET}), ReleaseState.DRAFT, Mover.VET, reasoned=True
    ),
    Move.TAKE_BACK: Rule(_OPEN, ReleaseState.DRAFT, Mover.CONSULTANT, reasoned=True),
    Move.ISSUE: Rule(
        frozenset({ReleaseState.APPROVED}), ReleaseState.ISSUED, Mover.CONSULTANT, gated=True
    ),
    Move.SUPERSEDE: Rule(
        frozenset({ReleaseState.ISSUED}), ReleaseState.SUPERSEDED, Mover.PROGRAM
    ),
    Move.WITHDRAW: Rule(
        frozenset({ReleaseState.ISSUED}), ReleaseState.WITHDRAWN, Mover.CONSULTANT, reasoned=True
    ),
}  # fmt: skip

# Out of the consultant's hands for good: nothing follows.
ENDED = frozenset({ReleaseState.SUPERSEDED, ReleaseState.WITHDRAWN})

_WORDS: Mapping[Move, str] = {
    Move.CHECK: "check it", Move.SEND: "send it to the vet", Move.APPROVE: "approve it",
    Move.RETURN: "return it", Move.TAKE_BACK: "take it back", Move.ISSUE: "issue it",
    Move.SUPERSEDE: "supersede it", Move.WITHDRAW: "withdraw it",
}  # fmt: skip


def after(
    state: ReleaseState, move: Move, mover: Mover, open_count: int, reason: str
) -> ReleaseState:
    """The state that a move leads to. open_count: how many concerns are not settled.

    Raises InputError where the move does not start here, is another's to make, is made past an open
    concern, or lacks its reason.
    """
    rule = MOVES[move]
    if state not in rule.sources:
        starts = " or ".join(s.value for s in ReleaseState if s in rule.sources)
        raise InputError(
            "state", f"the plan is {state}; you can {_WORDS[move]} when it is {starts}"
        )
    if mover is not rule.mover:
        raise InputError("state", f"only the {rule.mover} can {_WORDS[move]}")
    if rule.gated and open_count:
        many = "1 point is" if open_count == 1 else f"{open_count} points are"
        raise InputError("state", f"{many} not settled: settle every one before you {_WORDS[move]}")
    if rule.reasoned and not reason.strip():
        raise InputError("reason", f"say why, to {_WORDS[move]}")
    return rule.target


def moves_from(state: ReleaseState, mover: Mover) -> tuple[Move, ...]:
    """The moves somebody may make from here."""
    return tuple(m for m, rule in MOVES.items() if state in rule.sources and rule.mover is mover)
