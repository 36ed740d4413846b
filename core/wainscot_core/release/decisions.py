"""Decisions on concerns: who, when, why; and which of them still hold."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from enum import StrEnum

from ..boundary import Text120, Text400
from ..errors import InputError
from .concerns import Concern, Settle


@dataclass(frozen=True, kw_only=True)
class VetWord:
    """A vet's written decision: who wrote it, their licence number, and on which day."""

    name: Text120
    licence: Text120
    on: date


@dataclass(frozen=True, kw_only=True)
class ConcernDecision:
    """A decision on a concern, on the basis it had. id: its number in the practice's records."""

    id: int
    key: str
    basis: str
    reason: str
    by: str
    at: datetime
    vet: VetWord | None = None


class ConcernState(StrEnum):
    """How a concern stands. open: nobody decided; reopened: somebody did, on another basis; settled; known: nobody
    has to."""

    OPEN = "open"
    REOPENED = "reopened"
    SETTLED = "settled"
    KNOWN = "known"


@dataclass(frozen=True, kw_only=True)
class Weighed:
    """A concern with how it stands, and the decision that holds or, reopened, held before. A decision hides nothing."""

    concern: Concern
    state: ConcernState
    decision: ConcernDecision | None = None

    @property
    def is_open(self) -> bool:
        """Whether it stands against a plan."""
        return self.state in (ConcernState.OPEN, ConcernState.REOPENED)


def weighed(
    concerns: Iterable[Concern], decisions: Sequence[ConcernDecision]
) -> tuple[Weighed, ...]:
    """Every concern with how it stands. decisions: those that were not taken back, the oldest first."""
    by_key: dict[str, list[ConcernDecision]] = {}
    for decision in decisions:
        by_key.setdefault(decision.key, []).append(decision)
    return tuple(_weighed(concern, by_key.get(concern.key, [])) for concern in concerns)


def _weighed(concern: Concern, made: Sequence[ConcernDecision]) -> Weighed:
    if concern.settle is Settle.NOTHING:
        return Weighed(concern=concern, state=ConcernState.KNOWN)
    if not made or concern.settle is Settle.ELSEWHERE:
        return Weighed(concern=concern, state=ConcernState.OPEN)
    for decision in reversed(made):
        # A reason alone does not settle what became a block since.
        enough = concern.settle is not Settle.VET or decision.vet is not None
        if decision.basis == concern.basis and enough:
            return Weighed(concern=concern, state=ConcernState.SETTLED, decision=decision)
    return Weighed(concern=concern, state=ConcernState.REOPENED, decision=made[-1])


def open_of(found: Iterable[Weighed]) -> tuple[Weighed, ...]:
    """Those that stand against a plan."""
    return tuple(w for w in found if w.is_open)


# A reason of fewer letters is none.
LEAST_REASON = 8


def check_decision(concern: Concern, reason: Text400, vet: VetWord | None, today: date) -> None:
    """Raises InputError where this does not settle the concern: no reason, a block without the vet's written
    decision, a date to come, or what is decided elsewhere."""
    if concern.settle is Settle.NOTHING:
        raise InputError("key", "nobody has to decide this; it is told to be known")
    if concern.settle is Settle.ELSEWHERE:
        raise InputError("key", f"this is decided where it is set: {concern.do}")
    if concern.settle is not Settle.TICK and len(reason.strip()) < LEAST_REASON:
        raise InputError("reason", "say why it may stay as it is, in a few words")
    if vet is None:
        if concern.settle is Settle.VET:
            raise InputError(
                "vet",
                "only the vet's written decision lets this go out: give name, licence and day",
            )
        return
    for field, value in (("name", vet.name), ("licence", vet.licence)):
        if not value.strip():
            raise InputError(f"vet.{field}", f"give the vet's {field}")
    if vet.on > today:
        raise InputError("vet.on", "is a day to come")
