"""Batches: how much is made, parted, weighed and kept. Figures by hand; rules that hold for any recipe as properties."""

from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from stews import CALCIUM, DRY_RICE, EGG, FISH_OIL, OIL, STEW, THIGH, dossier, lead, pot
from wainscot_core.analysis.analyse import analyse
from wainscot_core.batch.ask import BatchAsk, PackIn, ScaleBy, VesselIn
from wainscot_core.batch.eaters import Eater
from wainscot_core.batch.plan import plan_batch
from wainscot_core.batch.portions import portions, storage, volume
from wainscot_core.batch.results import BatchLine, BatchPlan
from wainscot_core.batch.split import apportion, split
from wainscot_core.batch.weighed_batch import WeighedIn, weigh_batch
from wainscot_core.batch.weighing import Tool, counted, weighed
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.findings import Level

BIG, SMALL = VesselIn(vessel="pot-24"), VesselIn(vessel="pot-20")


def planned(facts: Reference, ask: BatchAsk, lines: Any = None) -> BatchPlan:
    cooked = pot(dossier(facts, lines))
    return plan_batch(cooked, ask, [lead(cooked)])


def line(plan: BatchPlan, food: str) -> BatchLine:
    return next(x for x in plan.lines if x.food == food)


# Parting.


def test_three_pots_sum_to_each_line() -> None:
    """500, 400 and 100 g over 40, 35 and 25 %: 200 175 125, 160 140 100, 40 35 25."""
    shares = (40, 35, 25)
    assert split(500, 1, shares) == (200, 175, 125)
    assert split(400, 1, shares) == (160, 140, 100)
    assert split(100, 1, shares) == (40, 35, 25)
    # 7 steps over three equal pots: 2.33 each, the step left goes to the first.
    assert apportion(7, (1, 1, 1)) == (3, 2, 2)


@given(
    st.floats(0, 20_000), st.sampled_from([0.01, 0.1, 0.5, 1.0, 2.0]),
    st.lists(st.floats(0.01, 100), min_size=1, max_size=8),
)  # fmt: skip
def test_parts_add_up_and_are_within_a_step(grams: float, step: float, shares: list[float]) -> None:
    parts = split(grams, step, shares)
    assert sum(parts) == pytest.approx(round(grams / step) * step, abs=step * 0.51)
    assert abs(sum(parts) - grams) <= step / 2 + 1e-6
    for part, share in zip(parts, shares, strict=True):
        assert abs(part - sum(parts) * share / sum(shares)) <= step + 1e-6


@pytest.mark.parametrize("shares", [(), (-1, 2), (0, 0)])
def test_shares_of_nothing_are_refused(shares: tuple[float, ...]) -> None:
    with pytest.raises(InputError, match="shares"):
        apportion(10, shares)


@given(
    st.lists(st.integers(1, 900), min_size=1, max_size=6),
    st.lists(st.sampled_from(["pot-20", "pot-24", "pot-28", "tray"]), min_size=1, max_size=4),
    st.integers(1, 40), st.sampled_from([None, 0.01, 0.1]),
)  # fmt: skip
def test_a_batch_over_pots_is_the_recipe(
    facts: Reference, grams: list[int], vessels: list[str], days: int, fine: float | None
) -> None:
    """Whatever the recipe and the pots: each line is the recipe's within half a step, and its parts add up to it."""
    foods = [THIGH, DRY_RICE, OIL, EGG, "usda:11124", CALCIUM]
    lines = [{"food": f, "grams": g} for f, g in zip(foods, grams, strict=False)]
    ask = BatchAsk(amount=days, vessels=tuple(VesselIn(vessel=v) for v in vessels), fine_g=fine)
    plan = planned(facts, ask, lines)
    assert len(plan.lines) == len(lines)
    for found, written in zip(plan.lines, lines, strict=True):
        assert found.exact_g == pytest.approx(float(str(written["grams"])) * days / 4, rel=1e-6)
        assert abs(found.grams - found.exact_g) <= found.step_g / 2 + 1e-6
        assert found.once is (found.vessels == ())
        if found.vessels:
            assert len(found.vessels) == len(vessels)
            assert sum(found.vessels) == pytest.approx(found.grams, abs=1e-6)


# Weighing.


def test_the_scale_that_shows_it_well(facts: Reference) -> None:
    rules = facts.batches
    assert weighed(rules, 40, (1,), 1, 0.01, small=False).tool is Tool.KITCHEN
    # 15 g is 15 steps of 1 g: the fine scale is better, and the kitchen scale will do without it.
    assert weighed(rules, 15, (1,), 1, 0.01, small=False).tool is Tool.FINE
    assert weighed(rules, 15, (1,), 1, None, small=False).tool is Tool.KITCHEN
    # Under ten steps nothing is weighed: its amount stays what the recipe says, and says so.
    lost = weighed(rules, 4, (1,), 1, None, small=True)
    assert lost.tool is Tool.NONE and lost.grams == 4


def test_a_supplement_is_weighed_once_unless_each_part_is_well_over_a_step(
    facts: Reference,
) -> None:
    """9 g over 60 and 40 %: 3.6 g are 3.6 steps of 1 g, 36 of 0.1 g."""
    one = weighed(facts.batches, 25, (60, 40), 1, None, small=True)
    each = weighed(facts.batches, 25, (60, 40), 1, 0.1, small=True)
    assert not one.once and sum(one.vessels) == 25
    assert each.tool is Tool.KITCHEN
    small = weighed(facts.batches, 9, (60, 40), 1, 0.1, small=True)
    assert not small.once and small.tool is Tool.FINE and small.vessels == (5.4, 3.6)
    assert weighed(facts.batches, 14, (60, 40), 1, None, small=True).once


def test_tablets_are_counted_in_the_parts_that_can_be_given() -> None:
    """1.3 g of tablets of 0.5 g, in halves: 2.6 tablets are 2.5."""
    found = counted(1.3, 0.5, 0.25)
    assert found.tool is Tool.COUNT and found.grams == 1.25
    assert counted(0.1, 0.5, 0.25).tool is Tool.NONE


# How much.


def test_the_recipe_is_scaled_by_what_is_asked(facts: Reference) -> None:
    """600 g for 4 days are 150 g a day: 14 days 2100 g; 9 meals are 4.5 days; 1000 g on hand are 6 2/3 days."""
    fortnight = planned(facts, BatchAsk(amount=14))
    assert line(fortnight, THIGH).grams == 2100 and fortnight.times == 3.5
    assert planned(facts, BatchAsk(by=ScaleBy.PORTIONS, amount=9)).days == 4.5
    hand = planned(facts, BatchAsk(by=ScaleBy.ON_HAND, amount=1000, line=0))
    assert line(hand, THIGH).grams == 1000 and hand.days == pytest.approx(20 / 3)
    assert line(hand, DRY_RICE).exact_g == pytest.approx(1000 / 3)


def test_vessels_are_filled_and_not_to_the_brim(facts: Reference) -> None:
    plan = planned(facts, BatchAsk(by=ScaleBy.VESSELS, vessels=(BIG, SMALL)))
    assert plan.days == int(plan.days) and not [f for f in plan.findings if "brim" in f.what]
    more = planned(facts, BatchAsk(amount=plan.days + 1, vessels=(BIG, SMALL)))
    assert [f for f in more.findings if "brim" in f.what or "too small" in f.what]


def test_a_pot_full_to_the_brim_is_told(facts: Reference) -> None:
    """7 kg fit into the stock pot: 6.9 kg are 98 % of it."""
    one = planned(facts, BatchAsk(amount=1, cover="none"))
    days = 6900 / one.finished.grams
    plan = planned(facts, BatchAsk(amount=days, cover="none", vessels=(VesselIn(vessel="pot-28"),)))
    assert [f.what for f in plan.findings if f.level is Level.WARN and "brim" in f.what]


def test_whole_packs_within_a_tenth(facts: Reference) -> None:
    """2100 g in packs of 450 g: 4.67, so five, 2250 g and 15 days; in packs of 1500 g neither one nor two is near."""
    plan = planned(facts, BatchAsk(amount=14, packs=(PackIn(line=0, grams=450),)))
    assert plan.days == 15 and line(plan, THIGH).grams == 2250 and line(plan, DRY_RICE).grams == 750
    pack = line(plan, THIGH).pack
    assert pack is not None and (pack.count, pack.left_g) == (5, 0)
    far = planned(facts, BatchAsk(amount=14, packs=(PackIn(line=0, grams=1500),)))
    left = line(far, THIGH).pack
    assert far.days == 14 and left is not None and (left.count, left.left_g) == (2, 900)


def test_packs_do_not_change_what_is_there(facts: Reference) -> None:
    """All 1000 g on hand go in, whatever the packs of 450 g; full vessels are filled less for whole packs, never more."""
    packs = (PackIn(line=0, grams=450),)
    hand = planned(facts, BatchAsk(by=ScaleBy.ON_HAND, amount=1000, line=0, packs=packs))
    assert line(hand, THIGH).grams == 1000
    full = planned(facts, BatchAsk(by=ScaleBy.VESSELS, vessels=(BIG, SMALL)))
    whole = planned(facts, BatchAsk(by=ScaleBy.VESSELS, vessels=(BIG, SMALL), packs=packs))
    assert whole.days <= full.days and line(whole, THIGH).grams % 450 == 0


def test_rounding_that_moves_a_limit_is_told(facts: Reference) -> None:
    """Calcium carbonate in packs of 9 g, whole ones only: 14 g of it become 18 g, a third more. What that does to calcium is
    what the analysis of that very amount says."""
    lines = [*STEW[:3], {"food": CALCIUM, "grams": 4.4}]
    found = dossier(facts, lines)
    names = {n.key: n for n in analyse(found).nutrients}
    ask = BatchAsk(amount=14, packs=(PackIn(line=3, grams=26.0, whole=True),))
    plan = planned(facts, ask, lines)
    real = line(plan, CALCIUM)
    assert real.exact_g == pytest.approx(15.4) and real.grams == 26
    same = dossier(facts, [*STEW[:3], {"food": CALCIUM, "grams": 26 / 3.5}])
    after = {n.key: n for n in analyse(same).nutrients}
    moved = {m.key: m for m in plan.moved}
    for key, was in names.items():
        if was.status is not after[key].status and "no limit" not in was.status:
            assert moved[key].status_after is after[key].status
    assert "CA" in moved
    assert any("Rounding moves" in f.what for f in plan.findings)


@pytest.mark.parametrize(
    ("ask", "field"),
    [
        (BatchAsk(amount=0), "amount"), (BatchAsk(amount=400), "amount"),
        (BatchAsk(by=ScaleBy.PORTIONS, amount=2.5), "amount"),
        (BatchAsk(by=ScaleBy.ON_HAND, amount=500), "line"),
        (BatchAsk(by=ScaleBy.ON_HAND, amount=500, line=9), "line"),
        (BatchAsk(by=ScaleBy.VESSELS), "vessels"),
        (BatchAsk(vessels=(VesselIn(vessel="bath"),)), "vessels[0].vessel"),
        (BatchAsk(vessels=(VesselIn(vessel="pot-20", share=40), SMALL)), "vessels"),
        (BatchAsk(vessels=(VesselIn(vessel="pot-20", share=40), VesselIn(vessel="pot-24", share=50))), "vessels"),
        (BatchAsk(coarse_g=0), "coarse_g"), (BatchAsk(fine_g=1), "fine_g"),
        (BatchAsk(water_g=-1), "water_g"), (BatchAsk(minutes=9e9), "minutes"),
        (BatchAsk(cover="hat"), "cover"), (BatchAsk(shape="ball"), "shape"),
        (BatchAsk(density="lead"), "density"), (BatchAsk(freezer_litres=-1), "freezer_litres"),
        (BatchAsk(packs=(PackIn(line=9, grams=5),)), "packs[0].line"),
        (BatchAsk(packs=(PackIn(line=0, grams=0),)), "packs[0].grams"),
        (BatchAsk(packs=(PackIn(line=0, grams=5), PackIn(line=0, grams=6))), "packs[1].line"),
        (BatchAsk(by=ScaleBy.VESSELS, vessels=(SMALL,), water_g=5000), "vessels"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_refused(facts: Reference, ask: BatchAsk, field: str) -> None:
    with pytest.raises(InputError) as caught:
        planned(facts, ask)
    assert caught.value.field == field


# Finished weight.


def test_the_finished_weight_by_hand(facts: Reference) -> None:
    """600 g of thigh with its broth stay 600; 200 g of rice become 570 (yield 285 %); 12 g of oil and 4 g of calcium as
    they are; fish oil is not in it. 500 g of water less half an hour with the lid on, 25 to 100 g: 62.5."""
    plan = planned(facts, BatchAsk(amount=4, water_g=500, minutes=30))
    done = plan.finished
    assert done.grams == pytest.approx(600 + 570 + 12 + 4 + 500 - 62.5)
    assert done.taken_up_g == pytest.approx(370) and done.raw_g == 816
    # Its rice may have taken up 250 to 310 %.
    assert done.low == pytest.approx(1186 - 70 + 500 - 100)
    assert done.high == pytest.approx(1186 + 50 + 500 - 25)
    assert done.kcal_per_gram == pytest.approx(done.kcal / done.grams)


def test_energy_of_the_pot_is_that_of_its_lines_once(facts: Reference) -> None:
    """Retention and yield are those of the analysis: the pot and what is given in the bowl make up the day."""
    plan = planned(facts, BatchAsk(amount=4))
    day = analyse(dossier(facts))
    whole = day.recipe
    # Its verdict is that of the bench, limit by limit.
    off = {x.key: (x.status, x.urgency) for x in (*day.nutrients, *day.ratios) if x.urgency > 0}
    found = {x.key: (x.status, pytest.approx(x.urgency, rel=1e-6)) for x in plan.eaters[0].off}
    assert found == off and off
    oil = next(x for x in whole.lines if x.food == FISH_OIL)
    assert oil.kcal is not None
    assert plan.finished.kcal == pytest.approx(whole.kcal - oil.kcal, rel=1e-6)
    assert plan.eaters[0].kcal_per_day == pytest.approx(whole.kcal_per_day, rel=1e-6)


def test_nothing_boils_away_that_is_in_a_yield_already(facts: Reference) -> None:
    """Drained meat and no water: its yield says all of it, however long the pot stands open."""
    lines = [{"food": THIGH, "grams": 600, "preparation": "poultry-simmered-discarded"}]
    plan = planned(facts, BatchAsk(amount=4, cover="open", minutes=120), lines)
    assert plan.finished.evaporates_g == 0


def test_a_weighed_batch_sets_the_meal(facts: Reference) -> None:
    """5000 kcal in 4150 g: 1.205 kcal/g, and a meal of 300 kcal 249 g."""
    cooked = pot(dossier(facts))
    ask = BatchAsk(amount=4)
    plan = plan_batch(cooked, ask, [lead(cooked)])
    plan = replace(plan, finished=replace(plan.finished, kcal=5000.0, grams=4150.0))
    found = weigh_batch(facts, ask, plan, WeighedIn(finished_g=4150))
    assert found.kcal_per_gram == pytest.approx(1.2048, abs=1e-4) and found.ask == ""
    meal = found.meals[0]
    assert meal.grams_per_meal == pytest.approx(4150 / 8) and meal.portions.boxes == 8
    assert meal.kcal_per_meal == pytest.approx(625)
    assert meal.portions.total_g == pytest.approx(4150)
    heavy = weigh_batch(facts, ask, plan, WeighedIn(finished_g=4600))
    assert heavy.off == pytest.approx(0.108, abs=0.001) and "11% heavier" in heavy.ask
    assert heavy.meals[0].kcal_per_meal == pytest.approx(625)
    assert weigh_batch(facts, ask, plan, WeighedIn(finished_g=4565)).ask == ""


def test_a_weighed_cup_sets_the_volume(facts: Reference) -> None:
    """A cup of 250 ml that weighs 200 g: 0.8 g/ml; a meal of 518.75 g is 2.6 of it."""
    cooked = pot(dossier(facts))
    ask = BatchAsk(amount=4)
    plan = plan_batch(cooked, ask, [lead(cooked)])
    found = weigh_batch(facts, ask, plan, WeighedIn(finished_g=4150, cup_g=200, cup_ml=250))
    assert found.g_per_ml == 0.8 and found.meals[0].cups == pytest.approx(518.75 / 200)
    for told in (
        WeighedIn(finished_g=0), WeighedIn(finished_g=10, cup_g=200),
        WeighedIn(finished_g=10, cup_g=900, cup_ml=250), WeighedIn(finished_g=10, cup_g=9, cup_ml=9),
    ):  # fmt: skip
        with pytest.raises(InputError):
            weigh_batch(facts, ask, plan, told)


# Portions and keeping.


@given(
    st.floats(1, 50_000), st.floats(5, 3_000), st.sampled_from([0.1, 1.0, 5.0])
)  # fmt: skip
def test_portions_are_the_batch(facts: Reference, total: float, meal: float, step: float) -> None:
    found = portions(facts.batches, total, meal, step)
    assert found.total_g == pytest.approx(total, abs=step * 0.51)
    assert found.last_g >= 0 and found.boxes >= 1


def test_a_little_left_over_is_spread(facts: Reference) -> None:
    """1000 g in meals of 240 g: 40 g are a sixth of one, so four of 250; of 300 g: 100 g are a third, a part of a meal."""
    four = portions(facts.batches, 1000, 240, 1)
    assert (four.boxes, four.each_g, four.last_g, four.spread) == (4, 250, 250, True)
    part = portions(facts.batches, 1000, 300, 1)
    assert (part.boxes, part.each_g, part.last_g, part.part) == (4, 300, 100, True)


def test_three_days_in_the_fridge_and_the_rest_frozen(facts: Reference) -> None:
    """7000 g of 14 days: 1500 g in the fridge, 5500 g frozen: 5.79 l of food, 7.24 l of a freezer with flat bags."""
    rules = facts.batches
    flat = rules.keep.shapes["flat"]
    kept = storage(rules, 7000, 14, flat, None, 7.0)
    assert (kept.fridge_g, kept.frozen_g) == (1500, 5500)
    assert kept.freezer_litres == pytest.approx(5.5 / 0.95 / 0.8)
    assert "freezer needs 7.2 l and has 7 l" in kept.short
    assert storage(rules, 7000, 14, flat, None, 7.5).short == ""
    assert storage(rules, 900, 2, flat, 50, 0).frozen_g == 0


def test_seven_tubs_of_half_a_litre(facts: Reference) -> None:
    """Loose food at 0.70 g/ml: 2450 g fill seven tubs of 500 ml."""
    assert volume(facts.batches.densities["loose"], 2450).ml == pytest.approx(3500)


def test_a_long_batch_is_told(facts: Reference) -> None:
    """Eight weeks frozen at most, four with oily fish: as the handling says in words."""
    keep = facts.batches.keep
    words = dict(facts.handling.keep)
    assert f"{keep.longest_days // 7} weeks" in words.values()
    assert facts.handling.keep_oily[1] == f"{keep.longest_oily_days // 7} weeks"
    assert f"{keep.fridge_days} days" in words.values()
    fish = [*STEW, {"food": "usda:15083", "grams": 50}]
    assert "long for one batch" in " ".join(
        f.what for f in planned(facts, BatchAsk(amount=57)).findings
    )
    assert "long" not in " ".join(f.what for f in planned(facts, BatchAsk(amount=30)).findings)
    assert "long" in " ".join(f.what for f in planned(facts, BatchAsk(amount=30), fish).findings)


def test_what_cannot_be_weighed_is_told_and_not_left_out(facts: Reference) -> None:
    plan = planned(facts, BatchAsk(amount=4))
    calcium = line(plan, CALCIUM)
    assert calcium.tool is Tool.NONE and calcium.grams == 4
    told = next(f for f in plan.findings if f.food == CALCIUM)
    assert told.level is Level.DECIDE and "shows 0.1 g" in told.why and "oat flour" in told.do
    assert line(planned(facts, BatchAsk(amount=4, fine_g=0.1)), CALCIUM).tool is Tool.FINE


# Several dogs.


def together(facts: Reference, *others: Eater, amount: float = 7) -> BatchPlan:
    cooked = pot(dossier(facts))
    return plan_batch(cooked, BatchAsk(amount=amount), [lead(cooked), *others])


def test_each_dog_gets_its_energy_of_one_pot(facts: Reference) -> None:
    """The second gets 900 kcal a day: as much more of the pot as its energy is, and the pot is made for both."""
    moss = Eater(case=2, name="Moss", dossier=dossier(facts, name="Moss", kcal=900))
    plan = together(facts, moss)
    fen, other = plan.eaters
    assert other.kcal_of_pot == pytest.approx(900, rel=1e-3)
    assert other.grams_per_day / fen.grams_per_day == pytest.approx(900 / fen.kcal_of_pot, rel=1e-3)
    eaten = 7 * (fen.grams_per_day + other.grams_per_day)
    assert eaten == pytest.approx(plan.finished.grams, rel=1e-3)
    assert sum(p.total_g for p in plan.portions) == pytest.approx(plan.finished.grams, abs=2)
    # Fish oil is Fen's alone.
    assert [a.food for a in fen.added] == [FISH_OIL] and other.added == ()
    assert any("made for Fen" in f.what for f in plan.findings)


def test_what_is_given_apart_is_part_of_the_day(facts: Reference) -> None:
    """Dry food that brings 300 kcal leaves 600 of 900 for the pot; its day is 900 all the same."""
    own = dossier(facts, [{"food": "usda:20444", "grams": 100}], name="Moss", kcal=900)
    rice = own.lines[0]
    kcal = analyse(replace(own, days=1.0)).recipe.kcal
    plan = together(facts, Eater(case=2, name="Moss", dossier=own, beside=(rice,)))
    moss = plan.eaters[1]
    assert moss.kcal_of_pot == pytest.approx(900 - kcal, rel=1e-3)
    assert moss.kcal_per_day == pytest.approx(900, rel=1e-3)
    assert moss.beside[0].grams == 100
    full = replace(own, energy=replace(own.energy, target_kcal=kcal - 1))
    with pytest.raises(InputError, match="Moss has all its energy"):
        together(facts, Eater(case=2, name="Moss", dossier=full, beside=(rice,)))


def test_a_dog_that_must_not_have_it_is_told_loudly(facts: Reference) -> None:
    moss = dossier(facts, name="Moss", kcal=900, reactions=[{"food": "chicken"}])
    plan = together(facts, Eater(case=2, name="Moss", dossier=moss))
    assert plan.findings[0].level is Level.BLOCK and "Moss must not" in plan.findings[0].what
    assert "chicken" in plan.eaters[1].must_not[0] and plan.eaters[0].must_not == ()


def test_a_fixed_amount_of_the_pot_is_kept(facts: Reference) -> None:
    moss = Eater(
        case=2, name="Moss", dossier=dossier(facts, name="Moss", kcal=900), kcal_per_day=200
    )
    found = together(facts, moss).eaters[1]
    assert found.kcal_of_pot == pytest.approx(200, rel=1e-3)
    # Its own day has too little of most things then, and says so.
    assert found.off and found.kcal_per_day == pytest.approx(200, rel=1e-3)
