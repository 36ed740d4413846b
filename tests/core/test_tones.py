"""Tones of ingredients: given once, kept for the life of a recipe."""

from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.recipe.tones import Entering, merged, tones


def food(name: str, kcal: float = 0, supplement: bool = False) -> Entering:
    return Entering(name, supplement, kcal)


def test_the_first_tones_go_by_energy_and_bottles_are_inlay() -> None:
    found = tones({}, [food("rice", 200), food("zinc", 0, True), food("beef", 500)])
    assert found == {"beef": "w0", "rice": "w1", "zinc": "i0"}


def test_a_tone_stays_when_amounts_change_and_when_its_food_was_away() -> None:
    first = tones({}, [food("beef", 500), food("rice", 200)])
    without = tones(first, [food("rice", 900), food("oil", 300)])
    assert without["rice"] == "w1" and without["oil"] == "w2"
    again = tones(without, [food("rice", 900), food("oil", 300), food("beef", 1)])
    assert again["beef"] == "w0"


def test_when_all_were_given_those_of_foods_that_left_come_round() -> None:
    eight = tones({}, [food(f"f{n}", 100 - n) for n in range(8)])
    assert sorted(eight.values()) == [f"w{n}" for n in range(8)]
    left = [food(f"f{n}") for n in range(8) if n != 3]
    now = tones(eight, [*left, food("new", 5)])
    assert now["new"] == "w3" and "f3" not in now
    full = tones(now, [*left, food("new"), food("ninth", 9)])
    assert full["ninth"] == "w8"


def test_a_fifth_bottle_shares_the_last_inlay() -> None:
    found = tones({}, [food(f"s{n}", 0, True) for n in range(5)])
    assert found["s3"] == found["s4"] == "i3"


def test_several_recipes_on_one_wall_keep_the_tones_that_do_not_meet() -> None:
    stew, hash_ = {"beef": "w0", "rice": "w1"}, {"rice": "w2", "fish": "w0", "oil": "w3"}
    assert merged([stew, hash_]) == {"beef": "w0", "rice": "w1", "oil": "w3"}


@given(
    st.lists(
        st.lists(st.tuples(st.sampled_from("abcdefghijkl"), st.floats(0, 900)), max_size=8),
        max_size=6,
    )
)
def test_up_to_eight_foods_never_share_a_tone_and_never_change_it(
    recipes: list[list[tuple[str, float]]],
) -> None:
    known: dict[str, str] = {}
    for recipe in recipes:
        here = {name: food(name, kcal) for name, kcal in recipe}
        before = {name: tone for name, tone in known.items() if name in here}
        known = tones(known, here.values())
        assert {name: known[name] for name in before} == before
        told = [known[name] for name in here]
        assert len(set(told)) == len(told)
