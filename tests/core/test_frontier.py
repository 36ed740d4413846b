"""The steps from few changes to few supplements: what no other answer beats."""

from dataclasses import replace
from pathlib import Path

import pytest
import yaml
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.formats.casefile import dossier_of, read_case_file
from wainscot_core.formulation.alternatives import Alternative, told
from wainscot_core.formulation.answer import answer_of
from wainscot_core.formulation.formulate import formulate
from wainscot_core.formulation.frontier import counts_of, marked
from wainscot_core.formulation.question import Settings
from wainscot_core.formulation.words import AlternativeResult

SAMPLE = Path(__file__).resolve().parents[2] / "reference" / "sample_case.yaml"


@given(st.integers(0, 40), st.integers(0, 40))
def test_ever_fewer_are_asked_for_and_never_fewer_than_none(most: int, fewer: int) -> None:
    fewest = max(0, most - fewer)
    counts = counts_of(most, fewest)
    assert counts == sorted(set(counts), reverse=True)
    assert all(0 <= c < most for c in counts)
    # The fewest that are known to do are among them, and whether one fewer does is asked.
    assert fewest in counts or fewest == most
    assert fewest == 0 or fewest - 1 in counts


@pytest.fixture(scope="module")
def juniper(facts: Reference) -> Dossier:
    return dossier_of(facts, read_case_file(yaml.safe_load(SAMPLE.read_text())))


@pytest.fixture(scope="module")
def answers(juniper: Dossier) -> tuple[AlternativeResult, ...]:
    return answer_of(juniper, Settings(steps=True)).told.alternatives


@pytest.mark.once
@pytest.mark.xdist_group("frontier")
def test_each_step_has_fewer_supplements_and_meets_what_the_first_meets(
    juniper: Dossier, answers: tuple[AlternativeResult, ...]
) -> None:
    plain = {a.id for a in answer_of(juniper, Settings()).told.alternatives}
    steps = [a for a in answers if a.id not in plain]
    assert all(a.unbeaten is not None for a in answers)
    assert len(steps) >= 2
    counts = [a.supplements for a in steps]
    assert counts == sorted(counts, reverse=True) and counts[0] < answers[0].supplements

    for answer in (answers[0], *steps):
        foods = {x.food for x in answer.recipe.lines}
        # Counted from the lines, not taken from what is said of them.
        assert sum(juniper.library.food(f).is_supplement for f in foods) == answer.supplements
        assert answer.stands is not None
        assert answer.stands.short == () and answer.stands.over == ()


@pytest.fixture(scope="module")
def one(juniper: Dossier) -> Alternative:
    alone = Settings(allowed=(), max_supplements=0)
    found = formulate(replace(juniper, lines=juniper.lines[:1]), alone)
    return told(juniper, juniper.reference.formulation.scaled, found)


COUNTED = st.tuples(st.integers(0, 4), st.integers(0, 4), st.integers(0, 4))


@given(figures=st.lists(COUNTED, min_size=1, max_size=8))
def test_what_is_beaten_is_beaten_by_one_that_is_not(
    one: Alternative, figures: list[tuple[int, int, int]]
) -> None:
    answers = [
        replace(one, distance=d / 10, supplements=n, cost_at_most=float(c)) for d, n, c in figures
    ]
    flags = [a.unbeaten for a in marked(answers)]
    best = [f for f, unbeaten in zip(figures, flags, strict=True) if unbeaten]
    assert best

    def over(a: tuple[int, int, int], b: tuple[int, int, int]) -> bool:
        return a != b and a[0] <= b[0] and a[1] <= b[1] and a[2] <= b[2]

    for f, unbeaten in zip(figures, flags, strict=True):
        assert any(over(b, f) for b in best) is not unbeaten
