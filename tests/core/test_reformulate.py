"""What the follow-up shows and the case does not say yet; taking it over."""

from dataclasses import replace
from datetime import date, timedelta
from types import SimpleNamespace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.confidence import Confidence
from wainscot_core.dog.record import (
    CaseRecord,
    Certainty,
    DogRecord,
    EnergyBy,
    Muscle,
    ReactionRecord,
)
from wainscot_core.errors import InputError
from wainscot_core.followup.entry import DayEntry
from wainscot_core.followup.reformulate import News, changes_of, learned, with_reactions
from wainscot_core.followup.trial import FoodVerdict, Verdict, food_key

TODAY = date(2026, 11, 29)
DOG = CaseRecord(dog=DogRecord(name="Teasel", weight_kg=20.0, body_condition=6), multiplier=1.6)


def trend(weight_kg: float, kcal: float | None = None) -> Any:
    """What a trend says, as far as it is asked here."""
    proposal = (
        None if kcal is None else SimpleNamespace(kcal=kcal, instead_of=1050.0, why="too much")
    )
    return SimpleNamespace(weight_kg=weight_kg, proposal=proposal)


def trial(**verdicts: Verdict) -> Any:
    made = {
        food_key(food): FoodVerdict(
            food=food, verdict=v, confidence=Confidence.HIGH, start=TODAY, on=TODAY, grounds=(f"{food} {v.value}",)
        )
        for food, v in verdicts.items()
    }  # fmt: skip
    return SimpleNamespace(verdicts=made, severe=())


def news(
    record: CaseRecord, *, entries: Any = (), of: Any = None, trials: Any = ()
) -> dict[str, Any]:
    found = learned(record, entries, of, trials, TODAY)
    return {one.id if one.food else one.news.value: one for one in found}


def test_nothing_put_down_is_nothing_new() -> None:
    assert news(DOG) == {}


@pytest.mark.parametrize(
    ("kg", "told"), [(20.19, None), (19.81, None), (20.21, 20.2), (18.43, 18.45), (21.88, 21.9)]
)
def test_a_weight_is_new_where_it_is_off_by_more_than_a_scale(
    kg: float, told: float | None
) -> None:
    found = news(DOG, of=trend(kg)).get("weight")
    assert (found and found.now) == (None if told is None else pytest.approx(told))


def test_what_is_proposed_becomes_the_target_with_where_it_is_from() -> None:
    found = news(DOG, of=trend(20.0, 945.0))
    assert list(found) == ["kcal"] and (found["kcal"].was, found["kcal"].now) == (1050.0, 945.0)
    set_to = {c.path: c.value for c in found["kcal"].changes}
    assert set_to == {
        "energy_method": "kcal_per_day", "kcal_per_day": 945.0,
        "energy_reason": "Learnt from its weights on 2026-11-29",
    }  # fmt: skip
    taken = replace(DOG, energy_method=EnergyBy.OWN_FIGURE, kcal_per_day=945.0)
    assert news(taken, of=trend(20.0, 945.0)) == {}
    # The same figure under another method is not what the plan is made with.
    assert "kcal" in news(replace(DOG, kcal_per_day=945.0), of=trend(20.0, 945.0))


def test_no_amount_is_taken_that_is_not_proposed() -> None:
    assert "kcal" not in news(DOG, of=trend(16.0))


def test_the_last_score_counts_each_by_its_own_day() -> None:
    days = [
        DayEntry(date=TODAY, weight_kg=20),
        DayEntry(date=TODAY - timedelta(1), body_condition=5),
        DayEntry(date=TODAY - timedelta(9), body_condition=7, muscle=Muscle.MILD),
    ]
    found = news(DOG, entries=days)
    assert (found["condition"].was, found["condition"].now) == (6, 5)
    assert (found["muscle"].was, found["muscle"].now) == (None, "mild")
    assert "2026-11-20" in found["muscle"].why
    same = news(replace(DOG, dog=replace(DOG.dog, body_condition=5)), entries=days)
    assert set(same) == {"muscle"}


def test_what_a_trial_showed_is_new_until_the_case_says_it() -> None:
    of = (trial(chicken=Verdict.REACTS, egg=Verdict.TOLERATED, rice=Verdict.UNSURE),)
    found = news(DOG, trials=of)
    assert set(found) == {"reaction:chicken"} and found["reaction:chicken"].now == "proven"
    suspected = ReactionRecord(food="Egg", certainty=Certainty.SUSPECTED)
    both = replace(DOG, reactions=(suspected,))
    assert set(news(both, trials=of)) == {"reaction:chicken", "reaction:egg"}
    (change,) = changes_of(both, tuple(news(both, trials=of).values()), of, {"reaction:egg"})
    assert change.path == "reactions" and change.value == [] and change.was[0]["food"] == "Egg"


ORDERS = st.lists(st.sampled_from(list(Verdict)), min_size=1, max_size=4)


@given(ORDERS)
def test_no_later_trial_undoes_what_one_proved(verdicts: list[Verdict]) -> None:
    """verdicts: of one food in as many trials, the newest first."""
    trials = [trial(chicken=v) for v in verdicts]
    after = with_reactions(DOG, trials, {"reaction:chicken"})
    said = [r.certainty for r in after.reactions]
    if Verdict.REACTS in verdicts:
        assert said == [Certainty.PROVEN]
    elif Verdict.LIKELY in verdicts:
        assert said == [Certainty.LIKELY]
    else:
        assert said == []


def test_only_what_is_ticked_is_taken_and_nothing_that_is_gone() -> None:
    of = (trial(chicken=Verdict.REACTS, egg=Verdict.REACTS),)
    found = learned(DOG, (), trend(22.0, 945.0), of, TODAY)
    assert {one.news for one in found} == {News.WEIGHT, News.KCAL, News.REACTION}
    changes = changes_of(DOG, found, of, {"weight:22.0", "reaction:egg"})
    assert {c.path for c in changes} == {"dog.weight_kg", "reactions"}
    assert [r["food"] for r in changes[-1].value] == ["egg"]
    assert changes_of(DOG, found, of, ()) == ()
    with pytest.raises(InputError, match="not new any more") as refused:
        changes_of(DOG, found, of, {"condition:5"})
    assert refused.value.field == "take"
    # A weight was put down since it was looked at: another figure is not taken unseen.
    with pytest.raises(InputError, match="look at it again"):
        changes_of(DOG, learned(DOG, (), trend(22.2), of, TODAY), of, {"weight:22.0"})
