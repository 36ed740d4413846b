"""Versions in their order: walls in short, and what was changed to come to each."""

from datetime import date

import pytest
import stews
from wainscot_core.analysis.adequacy import HELD, Status
from wainscot_core.dog.record import CaseRecord, DogRecord
from wainscot_core.dossier.reference import Reference
from wainscot_core.recipe.amount import Amount
from wainscot_core.recipe.line import Line
from wainscot_core.release.timeline import TimelineStep, timeline
from wainscot_core.snapshot.freeze import freeze_recipe
from wainscot_core.snapshot.snapshot import Parties, Snapshot

CALCIUM = stews.CALCIUM


def kept(facts: Reference, calcium_g: float) -> Snapshot:
    """The stew with so much calcium carbonate."""
    dossier = stews.dossier(facts)
    lines = [line for line in dossier.lines if line.food.id != CALCIUM]
    if calcium_g:
        food, row = dossier.library.food(CALCIUM), dossier.library.row(CALCIUM)
        lines.append(Line(food, row, Amount(calcium_g, "g", calcium_g, ""), None))
    parties = Parties(practice="Larch Lane", client="Maren Holt")
    record = CaseRecord(dog=DogRecord(name="Fen", weight_kg=10, age_months=48))
    return freeze_recipe(dossier.with_lines(lines), record, parties, "Stew", date(2026, 11, 28))


@pytest.fixture(scope="module")
def steps(facts: Reference) -> tuple[TimelineStep, ...]:
    return timeline([(1, kept(facts, 0)), (3, kept(facts, 4)), (4, kept(facts, 4))])


def test_each_wall_is_what_was_judged(facts: Reference, steps: tuple[TimelineStep, ...]) -> None:
    without, with_calcium, same = steps
    analysis = kept(facts, 0).of_recipe.as_fed
    judged = {n.key: n for n in analysis.nutrients}
    assert len(without.wall.keys) > 35
    for key, filled, status in zip(
        without.wall.keys, without.wall.boards.filled, without.wall.boards.statuses, strict=True
    ):
        n = judged[key]
        assert status is n.status
        if n.per_1000_kcal is not None and n.min:
            assert filled == pytest.approx(n.per_1000_kcal / n.min)
    statuses = [n.status for n in analysis.nutrients if n.key in without.wall.keys]
    assert without.short == statuses.count(Status.SHORT) > 0
    assert without.unproven == statuses.count(Status.UNPROVEN)
    assert with_calcium.wall == same.wall


def test_what_was_changed_and_what_it_mends(steps: tuple[TimelineStep, ...]) -> None:
    """Four grams of calcium carbonate in four days are one a day; it closes calcium and nothing else of this stew."""
    without, with_calcium, same = steps
    assert (without.since, without.lines, without.mends, without.breaks) == (None, (), (), ())
    assert with_calcium.since == 1
    (line,) = with_calcium.lines
    assert (line.food, line.before_g) == (CALCIUM, None)
    assert line.after_g == pytest.approx(1)
    calcium = without.wall.keys.index("CA")
    held = with_calcium.wall.boards.statuses[calcium] in HELD
    assert ("Calcium" in with_calcium.mends) is held
    assert without.wall.boards.statuses[calcium] is Status.SHORT
    assert (same.since, same.lines, same.mends, same.breaks) == (3, (), (), ())


def test_the_other_way_round_it_breaks(facts: Reference) -> None:
    back = timeline([(1, kept(facts, 4)), (2, kept(facts, 0))])[1]
    forth = timeline([(1, kept(facts, 0)), (2, kept(facts, 4))])[1]
    assert set(back.breaks) == set(forth.mends) and set(back.mends) == set(forth.breaks)
    assert timeline([]) == ()
