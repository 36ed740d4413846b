"""A toy dog's day cannot be measured finely enough: a longer batch is named where it reaches more."""

from dataclasses import replace

import pytest
from signed import dossier_of
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.formulation import longer
from wainscot_core.formulation.answer import answer_of
from wainscot_core.formulation.candidates import LineRule
from wainscot_core.formulation.formulate import formulate
from wainscot_core.formulation.longer import LongerBatch, longer_batch, longer_words, more_of
from wainscot_core.formulation.proposal import State
from wainscot_core.formulation.question import Settings


def toy(facts: Reference, days: float = 1, weight_kg: float = 1.5) -> Dossier:
    """An eighth of a tablet of copper, 0.25 mg, is more than the day of a dog of 1.5 kg leaves room for."""
    case = {"dog": {"weight_kg": weight_kg, "age_months": 60}, "under": ["fediaf-2021", "adult"], "days": days,
            "has": {"ckd": "2"}, "lines": [["usda:17165", 14 * days], ["usda:20037", 16 * days]]}  # fmt: skip
    return dossier_of(facts, case)


def test_a_longer_batch_reaches_what_it_is_said_to(facts: Reference) -> None:
    proposal = formulate(toy(facts), Settings())
    assert proposal.state is State.SHORT and proposal.stands is not None
    assert proposal.stands.short == ("Copper",)
    found = longer_batch(toy(facts), Settings(), proposal)
    assert found is not None and set(found.reached) == {"CU", "CLD"}
    more = formulate(toy(facts, found.days), Settings())
    assert more.state is not State.SHORT
    assert more.stands is not None and not more.stands.short
    words = answer_of(toy(facts), Settings()).told.words
    assert (
        f"A batch of {found.days:g} days" in words
        and "the minimums of Chloride and Copper." in words
    )


def test_no_longer_batch_is_named_where_it_helps_nothing(facts: Reference) -> None:
    dossier = toy(facts)
    proposal = formulate(dossier, Settings())
    met = replace(proposal, state=State.MET)
    assert longer_batch(dossier, Settings(), met) is None
    kept = Settings(mode="close")
    assert longer_batch(dossier, kept, formulate(dossier, kept)) is None
    # Fed for a week already.
    assert longer_batch(replace(dossier, days=7), Settings(), proposal) is None


def test_bounds_of_a_line_are_so_many_times_as_much(facts: Reference) -> None:
    rule = LineRule(low_grams=20, high_grams=30, tie_to=1, tie_ratio=2)
    assert more_of(rule, 4) == replace(rule, low_grams=80, high_grams=120)
    assert more_of(LineRule(high_grams=30), 2) == LineRule(high_grams=60)
    dossier = toy(facts, weight_kg=2.2)
    settings = Settings(line_rules={0: LineRule(low_grams=20, high_grams=30)})
    proposal = formulate(dossier, settings)
    assert proposal.stands is not None and proposal.stands.short
    found = longer_batch(dossier, settings, proposal)
    assert found is not None
    name_of = dossier.library.catalogue.name_of
    assert set(proposal.stands.short) <= {name_of(key) for key in found.reached}


def test_a_batch_that_is_short_of_something_else_is_not_named(
    facts: Reference, monkeypatch: pytest.MonkeyPatch
) -> None:
    dossier = toy(facts)
    proposal = formulate(dossier, Settings())
    monkeypatch.setattr(longer, "_short_in", lambda *_: {"CA": 0.1})
    assert longer_batch(dossier, Settings(), proposal) is None
    monkeypatch.setattr(longer, "_short_in", lambda *_: {"CU": 0.1})
    assert longer_batch(dossier, Settings(), proposal) == LongerBatch(2, ("CLD",))


@pytest.mark.parametrize(
    ("found", "words"),
    [
        (None, ""),
        (LongerBatch(4, ("NA", "CLD")), "of 4 days could be measured finely enough to reach the minimums of Sodium and Chloride."),
    ],
)  # fmt: skip
def test_it_is_said_in_words(facts: Reference, found: LongerBatch | None, words: str) -> None:
    assert longer_words(facts.catalogue, found).endswith(words)
    assert bool(longer_words(facts.catalogue, found)) == bool(words)
