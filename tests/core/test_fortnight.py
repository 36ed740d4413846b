"""Two weeks of bowls: the rotation adds up, the change-over rises, treats are held to their share."""

from datetime import date, timedelta

import pytest
import stews
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.analysis.fortnight import DAYS, fortnight, new_share
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.kitchen.change_over import ChangeBy, change_plan
from wainscot_core.recipe.line import LineText, read_line
from wainscot_core.recipe.plan import Daily, DailyKind, Turn

START = date(2026, 12, 1)


@pytest.fixture(scope="module")
def stew(facts: Reference) -> Dossier:
    return stews.dossier(facts)


def turn(of: Dossier, name: str, days: float) -> Turn:
    return Turn(name, of.lines, of.days, days)


def treat(of: Dossier, facts: Reference, quantity: str, kind: DailyKind = DailyKind.TREAT) -> Daily:
    return Daily(kind, read_line(facts.methods, of.library, LineText(stews.EGG, quantity)))


def test_two_recipes_take_their_turns(stew: Dossier) -> None:
    found = fortnight(stew, [turn(stew, "A", 5), turn(stew, "B", 2)], (), START)
    assert [d.on for d in found.days] == [START + timedelta(days=i) for i in range(14)]
    assert "".join(p.name for d in found.days for p in d.portions) == "AAAAABBAAAAABB"
    assert (found.target_kcal, found.most_kcal) == (500, pytest.approx(550))
    assert all(d.new == 1 and d.old_kcal == 0 and not d.step for d in found.days)


@given(days=st.lists(st.sampled_from([0.0, 0.5, 1.0, 1.5, 2.0, 3.0, 7.0]), min_size=1, max_size=4))
def test_every_day_is_fed_whole(days: list[float], facts: Reference) -> None:
    stew = stews.dossier(facts)
    turns = [turn(stew, str(i), d) for i, d in enumerate(days)]
    if not sum(days):
        with pytest.raises(InputError, match="put a recipe"):
            fortnight(stew, turns, (), START)
        return
    found = fortnight(stew, turns, (), START)
    for day in found.days:
        assert sum(p.share for p in day.portions) == pytest.approx(1)
    # Over whole rounds each recipe is fed for as many days as it was given.
    rounds = int(DAYS // sum(days))
    whole = rounds * sum(days)
    if rounds and whole == int(whole):
        for i, wanted in enumerate(days):
            fed = sum(p.share for d in found.days[: int(whole)] for p in d.portions if p.turn == i)
            assert fed == pytest.approx(rounds * wanted)


def test_the_old_food_gives_way(stew: Dossier, facts: Reference) -> None:
    begins = START + timedelta(days=2)
    change = change_plan(facts.change_over, 7, begins, ChangeBy.SHARE)
    found = fortnight(stew, [turn(stew, "A", 1)], (), START, begins, change)
    assert [d.new for d in found.days[:10]] == [0, 0, 0.25, 0.25, 0.5, 0.5, 0.75, 0.75, 1, 1]
    assert [i for i, d in enumerate(found.days) if d.step] == [4, 6, 8]
    assert [d.old_kcal for d in found.days[:4]] == [500, 500, 375, 375]
    assert found.days[0].portions == ()
    whole = found.days[-1].portions[0].grams
    assert found.days[2].portions[0].grams == pytest.approx(whole / 4)
    assert new_share(begins - timedelta(days=1), begins, change) == 0
    assert new_share(begins - timedelta(days=1), begins, None) == 0
    assert new_share(begins, begins, None) == 1


def test_a_plan_under_way_goes_on_where_it_is(stew: Dossier) -> None:
    turns = [turn(stew, "A", 5), turn(stew, "B", 2)]
    found = fortnight(stew, turns, (), START, START - timedelta(days=4))
    assert "".join(p.name for d in found.days for p in d.portions) == "ABBAAAAABBAAAA"


def test_treats_have_their_share(stew: Dossier, facts: Reference) -> None:
    turns = [turn(stew, "A", 1)]
    plain = fortnight(stew, turns, (), START).days[0]
    some = fortnight(stew, turns, [treat(stew, facts, "20 g")], START).days[0]
    many = fortnight(stew, turns, [treat(stew, facts, "150 g")], START).days[0]
    assert (plain.over, some.over, many.over) == (False, False, True)
    assert some.kcal == pytest.approx(plain.kcal + some.extras_kcal)
    apart = fortnight(stew, turns, [treat(stew, facts, "150 g", DailyKind.BOUGHT)], START).days[0]
    assert (apart.over, apart.extras_kcal) == (False, 0)
    assert apart.apart_kcal == pytest.approx(many.extras_kcal)
