"""What is really fed, by what the owner says, beside the plan."""

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from stews import EGG, FISH_OIL, STEW, THIGH, dossier
from wainscot_core.analysis.analyse import analyse
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.followup.drift import Drift, DriftItem, How, To, drift
from wainscot_core.release.freeze import Forward

TO = To(client="Ola", dog="Fen", practice="Larch Lane")
GARLIC = "usda:11215"


def said(facts: Reference, *items: DriftItem) -> Drift:
    return drift(Forward(dossier(facts), "Stew", ()), items, TO)


def out(line: int) -> DriftItem:
    return DriftItem(how=How.LEFT_OUT, line=line)


def test_what_is_left_out_is_missed(facts: Reference) -> None:
    """4 g of calcium carbonate in four days on 500 kcal a day: 1 g x 40 % = 400 mg a day, 800 mg per 1000 kcal."""
    found = said(facts, out(3))
    calcium = next(x for x in found.limits if x.key == "CA")
    assert calcium.worse and calcium.status_after.value == "short"
    assert calcium.before is not None and calcium.after is not None
    assert calcium.before - calcium.after == pytest.approx(
        400 * 1000 / found.kcal_planned, rel=0.02
    )
    (effect,) = found.effects
    assert (
        effect.what == "“Calcium carbonate powder” left out"
        and "too little calcium" in effect.limits
    )
    assert effect.kcal == 0 and found.kcal_fed == found.kcal_planned
    assert (
        "put “Calcium carbonate powder” back in" in effect.do
        and "too little calcium" in found.words
    )
    assert "Hello Ola" in found.message and "too little calcium" in found.message


def test_what_must_not_be_fed_comes_first(facts: Reference) -> None:
    found = said(facts, out(3), DriftItem(how=How.EXTRA, food=GARLIC, amount="10 g"))
    assert found.must_not and found.words == "It must not be fed so: the veterinarian first."
    garlic = found.effects[1]
    assert garlic.must_not and "stop giving “Garlic" in garlic.do
    assert found.message.index("arlic") < found.message.index("Calcium carbonate powder")


def test_a_swap_is_as_much_as_the_line_and_a_share_is_of_it(facts: Reference) -> None:
    same = said(facts, DriftItem(how=How.SWAPPED, line=2, food=FISH_OIL))
    typed = said(facts, DriftItem(how=How.SWAPPED, line=2, food=FISH_OIL, amount="12 g"))
    assert same.kcal_fed == typed.kcal_fed and same.limits == typed.limits
    half = said(facts, DriftItem(how=How.AMOUNT, line=2, amount="50 %"))
    grams = said(facts, DriftItem(how=How.AMOUNT, line=2, amount="6 g"))
    # Half of 12 g oil in four days: 1.5 g a day of 9 kcal a gram of fat.
    assert half.kcal_fed == grams.kcal_fed == pytest.approx(half.kcal_planned - 1.5 * 9, abs=0.2)


def test_an_extra_is_of_a_day(facts: Reference) -> None:
    """20 g of whole egg a day: 143 kcal in 100 g."""
    found = said(facts, DriftItem(how=How.EXTRA, food=EGG, amount="20 g"))
    assert found.kcal_fed - found.kcal_planned == pytest.approx(28.6, abs=1.5)
    assert found.effects[0].kcal == pytest.approx(28.6, abs=1.5)


def test_what_changes_nothing_can_stay(facts: Reference) -> None:
    found = said(facts, DriftItem(how=How.AMOUNT, line=2, amount="100 %"))
    assert found.limits == () and found.words == "As it is fed it holds what was planned."
    assert "can stay so" in found.effects[0].do


def test_what_breaks_no_limit_and_gives_other_energy_cannot_stay(facts: Reference) -> None:
    """On a target of 400 kcal less rice than planned is nearer to it than the plan: still nobody meant it."""
    plan = Forward(dossier(facts, kcal=400), "Stew", ())
    found = drift(plan, [DriftItem(how=How.AMOUNT, line=1, amount="60 %")], TO)
    assert not any(x.worse for x in found.limits) and found.effects[0].told == ()
    assert "not its energy" in found.words and "Please weigh" in found.effects[0].do


def test_less_of_all_is_less_energy_and_cannot_stay(facts: Reference) -> None:
    found = said(
        facts, *(DriftItem(how=How.AMOUNT, line=i, amount="80 %") for i in range(len(STEW)))
    )
    assert found.kcal_fed == pytest.approx(0.8 * found.kcal_planned)
    assert "kcal a day instead of" in found.message
    assert not any("can stay" in e.do for e in found.effects)


@pytest.mark.parametrize(
    ("item", "field"),
    [
        (DriftItem(how=How.LEFT_OUT, line=9), "items[0].line"),
        (DriftItem(how=How.SWAPPED, line=0, food="no:such"), "items[0].food"),
        (DriftItem(how=How.SWAPPED, line=0, food=EGG, amount="a bit"), "items[0].amount"),
        (DriftItem(how=How.AMOUNT, line=0), "items[0].amount"),
        (DriftItem(how=How.AMOUNT, line=0, amount="-5 %"), "items[0].amount"),
        (DriftItem(how=How.EXTRA, food=EGG), "items[0].amount"),
        (DriftItem(how=How.EXTRA, food=THIGH, amount="5 g", preparation="xx"), "items[0].preparation"),
    ],
)  # fmt: skip
def test_what_cannot_be_read_is_said_at_its_field(
    facts: Reference, item: DriftItem, field: str
) -> None:
    with pytest.raises(InputError) as refused:
        said(facts, item)
    assert refused.value.field == field


def test_nothing_and_all_and_a_line_twice_are_refused(facts: Reference) -> None:
    for items in ((), tuple(out(i) for i in range(len(STEW))), (out(1), out(1))):
        with pytest.raises(InputError) as refused:
            said(facts, *items)
        assert refused.value.field == "items"


SHARES = st.lists(
    st.sampled_from([0, 25, 50, 100, 150, 300]), min_size=len(STEW), max_size=len(STEW)
)


@given(SHARES)
def test_it_is_what_the_recipe_would_be_if_it_were_written_so(
    facts: Reference, shares: list[int]
) -> None:
    """Said as changes or written as another recipe: the same kcal and the same verdicts; what is then broken and was not is
    told as worse, whichever way."""
    items = [
        out(i) if share == 0 else DriftItem(how=How.AMOUNT, line=i, amount=f"{share} %")
        for i, share in enumerate(shares)
    ]
    written: list[Any] = [
        {**line, "grams": line["grams"] * share / 100}
        for line, share in zip(STEW, shares, strict=True)
        if share
    ]
    if not written:
        return
    found, direct = said(facts, *items), analyse(dossier(facts, written))
    planned = {x.key: x for x in analyse(dossier(facts)).nutrients}
    assert found.kcal_fed == pytest.approx(direct.recipe.kcal_per_day)
    told = {x.key: x for x in found.limits}
    for now in direct.nutrients:
        if now.status is not planned[now.key].status:
            assert told[now.key].status_after is now.status
            broken = now.status.value in ("short", "unproven", "over", "above safe limit")
            held = planned[now.key].status.value in ("met", "off advice", "no limit")
            if broken and held:
                assert told[now.key].worse
