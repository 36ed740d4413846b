"""What a trial showed, in the case: what the dog reacts to, and what is not suspected any more."""

from dataclasses import replace

from ..dog.record import CaseRecord, Certainty, ReactionRecord
from ..errors import InputError
from .trial import FoodVerdict, TrialState, Verdict, food_key

_CERTAINTY = {Verdict.REACTS: Certainty.PROVEN, Verdict.LIKELY: Certainty.LIKELY}


def with_verdict(record: CaseRecord, state: TrialState, found: FoodVerdict) -> CaseRecord:
    """The case with what a food did: a reaction is put down with its certainty, a suspicion of what is tolerated is
    dropped; one that says less is never put in the place of one that says more. Unsure changes nothing."""
    same = [r for r in record.reactions if food_key(r.food) == food_key(found.food)]
    if found.verdict is Verdict.TOLERATED:
        # What was proven before is not dropped by one trial.
        gone = [r for r in same if r.certainty in (Certainty.UNSAID, Certainty.SUSPECTED)]
        return replace(record, reactions=tuple(r for r in record.reactions if r not in gone))
    certainty = _CERTAINTY.get(found.verdict)
    if certainty is None or any(_says(r.certainty) >= _says(certainty) for r in same):
        return record
    severe = food_key(found.food) in {food_key(name) for name in state.severe}
    what = "swelled on it" if severe else "flared on it in an elimination trial"
    if same:
        old = same[0]
        new = replace(old, certainty=certainty, what=old.what or what)
        return replace(record, reactions=tuple(new if r is old else r for r in record.reactions))
    reaction = ReactionRecord(food=found.food, what=what, certainty=certainty)
    return replace(record, reactions=(*record.reactions, reaction))


def _says(certainty: Certainty) -> int:
    return list(Certainty).index(certainty)


def verdict_of(state: TrialState, food: str) -> FoodVerdict:
    """What a food did. Raises InputError for one that was not tried."""
    found = state.verdicts.get(food_key(food))
    if found is None:
        raise InputError("food", f"{food} was not tried alone in this trial")
    return found


def unwritten(record: CaseRecord, state: TrialState) -> tuple[str, ...]:
    """Foods of which the case does not say yet what the trial showed."""
    return tuple(
        v.food for v in state.verdicts.values() if with_verdict(record, state, v) != record
    )
