"""Batches as they were really cooked: totals by hand, what nobody put down, and corrections that hold when analysed."""

from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.analysis.adequacy import HELD, Status
from wainscot_core.analysis.analyse import analyse
from wainscot_core.batch.ask import BatchAsk, VesselIn
from wainscot_core.batch.cooked import CookedBatch, contents_of, cooked_batch
from wainscot_core.batch.corrections import Corrections, Way, corrections
from wainscot_core.batch.eaters import Eater
from wainscot_core.batch.plan import Pot, plan_batch, served
from wainscot_core.batch.record import (
    Cooking,
    Entry,
    EntryKind,
    Went,
    check_entry,
    cooking_of,
    went_in,
)
from wainscot_core.batch.results import BatchPlan
from wainscot_core.batch.steps import CookKind, band, steps_of_batch
from wainscot_core.batch.weighed_batch import WeighedIn, weigh_batch
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.facts.handling import Texture
from wainscot_core.formats.casefile import open_case
from wainscot_core.formulation.formulate import formulate
from wainscot_core.formulation.question import Settings
from wainscot_core.kitchen.handling import handling_of
from wainscot_core.recipe.line import sum_lines

THIGH, RICE, OIL, CARROT, ONION = (
    "usda:05096", "usda:20444", "usda:04053", "usda:11124", "usda:11282",
)  # fmt: skip
FOODS: list[dict[str, Any]] = [
    {"food": THIGH, "grams": 1050, "preparation": "poultry-simmered-kept"},
    {"food": RICE, "grams": 350, "preparation": "grain-boiled"},
    {"food": OIL, "grams": 42}, {"food": CARROT, "grams": 300},
    {"food": "usda:11090", "grams": 200},
]  # fmt: skip
ASK = BatchAsk(
    amount=14, fine_g=0.01, vessels=(VesselIn(vessel="pot-24"), VesselIn(vessel="pot-20"))
)


class Kitchen:
    """A stew with its supplements, planned for two weeks in two pots."""

    def __init__(self, facts: Reference, ask: BatchAsk = ASK) -> None:
        file = {
            "format": "wainscot-case", "version": 1,
            "dog": {"name": "Fen", "weight_kg": 10, "age_months": 48},
            "energy": {"kcal_per_day": 500},
            "targets": {"standard": "nrc-2006", "life_stage": "adult"},
            "recipe": {"covers_days": 7, "lines": FOODS},
        }  # fmt: skip
        bare = open_case(facts, file).dossier
        self.dossier: Dossier = bare.with_lines(formulate(bare, Settings(mode="close")).lines)
        self.pot = Pot(self.dossier, handling_of(self.dossier, Texture.CHUNKS))
        self.eater = Eater(
            case=1, name="Fen", dossier=self.dossier, own=served(self.pot),
            recipes_per_day=1 / self.dossier.days, open_blocks=(),
        )  # fmt: skip
        self.ask = ask
        self.plan: BatchPlan = plan_batch(self.pot, ask, [self.eater])

    def position(self, food: str) -> int:
        return next(x.position for x in self.plan.lines if x.food == food)

    def entries(
        self, times: dict[int, float] | None = None, skip: set[int] | None = None
    ) -> list[Entry]:
        """All of it weighed: so many times the list where that is said, nothing put down of what is skipped."""
        found = []
        for x in self.plan.lines:
            if x.position in (skip or set()):
                continue
            share = (times or {}).get(x.position, 1.0)
            places = [(None, x.grams)] if x.once else list(enumerate(x.vessels))
            found += [
                weighing(x.position, vessel, grams * share) for vessel, grams in places
            ]  # fmt: skip
        return found

    def cooked(self, entries: list[Entry]) -> CookedBatch:
        return cooked_batch(self.pot, self.plan, [self.eater], cooking_of(entries))

    def ways(self, entries: list[Entry]) -> Corrections:
        return corrections(self.pot, self.plan, [self.eater], cooking_of(entries))


def weighing(line: int, vessel: int | None, grams: float, key: str = "") -> Entry:
    return Entry(
        key=key or f"weighed-{line}-{'all' if vessel is None else vessel}", kind=EntryKind.WEIGHED,
        line=line, vessel=vessel, grams=grams,
    )  # fmt: skip


def left_out(line: int) -> Entry:
    return Entry(key=f"left-out-{line}", kind=EntryKind.LEFT_OUT, line=line)


@pytest.fixture(scope="module")
def kitchen(facts: Reference) -> Kitchen:
    return Kitchen(facts)


# Totals.


def test_totals_as_cooked_by_hand(kitchen: Kitchen) -> None:
    """Rice: 80 % of the list. Its thigh, oil and vegetables as listed. Protein and energy of the pot by hand: what 100 g of
    each row hold, times what is left of it, times the grams."""
    rice = kitchen.position(RICE)
    cooking = cooking_of(kitchen.entries(times={rice: 0.8}))
    contents = contents_of(kitchen.dossier, kitchen.dossier.lines, kitchen.plan, cooking)
    assert contents.least == contents.most
    library = kitchen.dossier.library
    sums = sum_lines(library, contents.least, 1.0)
    for key in ("PROCNT", "ENERC", "CA"):
        column = library.catalogue.index(key)
        by_hand = 0.0
        for line in kitchen.dossier.lines:
            if line.food.handling is not None and line.food.handling.at_serving:
                continue
            per_100 = float(library.values[line.row, column])
            if per_100 != per_100:
                continue
            kept = 1.0 if line.prepared is None else float(line.prepared.retention[column])
            planned = next(x for x in kitchen.plan.lines if x.food == line.food.id).grams
            grams = planned * (0.8 if line.food.id == RICE else 1.0)
            by_hand += grams / 100 * per_100 * kept
        assert float(sums.known[column]) == pytest.approx(by_hand, rel=1e-6)


def test_a_batch_cooked_as_planned_holds_what_was_planned(kitchen: Kitchen) -> None:
    found = kitchen.cooked(kitchen.entries())
    assert found.holds and "holds what was planned" in found.words
    assert {x.went for x in found.lines} == {Went.WEIGHED}
    day = found.days[0]
    assert day.kcal_least == day.kcal_most == pytest.approx(day.kcal_planned, rel=1e-9)
    assert kitchen.ways(kitchen.entries()) == Corrections(ways=(), first="", discard="")


def test_as_listed_is_the_list(kitchen: Kitchen) -> None:
    ticked = [
        Entry(key=f"planned-{x.position}", kind=EntryKind.PLANNED, line=x.position)
        for x in kitchen.plan.lines
    ]
    found = kitchen.cooked(ticked)
    assert found.holds and {x.went for x in found.lines} == {Went.AS_LISTED}


@given(st.sets(st.integers(0, 14), max_size=4), st.floats(0.0, 2.0))
def test_what_is_held_is_held_however_much_of_the_unknown_went_in(
    kitchen: Kitchen, skip: set[int], share: float
) -> None:
    """Nobody put some lines down. Whatever share of them went in (all alike, none or all of them): no limit is told as held
    that is broken at either end, and what went in lies between least and most."""
    positions = [x.position for x in kitchen.plan.lines]
    skipped = {positions[i % len(positions)] for i in skip}
    told = {x.key: x for x in kitchen.cooked(kitchen.entries(skip=skipped)).days[0].limits}
    end = 1.0 if share > 1 else 0.0
    truth = kitchen.cooked(kitchen.entries(times=dict.fromkeys(skipped, end))).days[0].limits
    for limit in truth:
        if limit.status not in HELD:
            assert limit.key in told and told[limit.key].status not in HELD
    for x in kitchen.cooked(kitchen.entries(skip=skipped)).lines:
        assert x.least_g <= x.planned_g + 1e-6 and x.most_g == pytest.approx(x.planned_g)


def test_a_line_that_nobody_put_down_is_not_met(kitchen: Kitchen) -> None:
    calcium = kitchen.position("supp:dicalcium-phosphate")
    found = kitchen.cooked(kitchen.entries(skip={calcium}))
    assert not found.holds and found.unknown == ("Dicalcium phosphate, anhydrous, powder",)
    limit = next(x for x in found.days[0].limits if x.key == "CA")
    assert limit.status is Status.UNPROVEN and limit.value is None
    ways = kitchen.ways(kitchen.entries(skip={calcium}))
    assert ways.ways == () and "Put down first" in ways.first


def test_half_of_a_line_is_only_half_known(kitchen: Kitchen) -> None:
    """Two pots, the rice of the first was put down: between that and all of it went in."""
    rice = kitchen.position(RICE)
    planned = next(x for x in kitchen.plan.lines if x.position == rice)
    found = went_in(planned, cooking_of([weighing(rice, 0, planned.vessels[0])]))
    assert found.went is Went.PART
    assert (found.least_g, found.most_g) == (planned.vessels[0], planned.grams)


# Corrections.


def test_a_forgotten_supplement_and_its_correction(kitchen: Kitchen) -> None:
    calcium = kitchen.position("supp:dicalcium-phosphate")
    entries = [*kitchen.entries(skip={calcium}), left_out(calcium)]
    found = kitchen.cooked(entries)
    short = {x.key: x for x in found.days[0].limits if x.worse}
    assert short["CA"].status is Status.SHORT and short["CA"].planned is Status.MET
    ways = kitchen.ways(entries)
    best = ways.ways[0]
    assert best.way is Way.MISSING and best.holds and ways.discard == ""
    planned = next(x for x in kitchen.plan.lines if x.position == calcium)
    assert [(a.position, a.grams) for a in best.add] == [(calcium, planned.grams)]
    # Analysed again, by the door of the bench: what was added holds.
    more = [
        Entry(key=f"correction-{i}", kind=EntryKind.MORE, line=a.position, grams=a.grams)
        for i, a in enumerate(best.add)
    ]
    assert kitchen.cooked([*entries, *more]).holds


def test_too_much_of_one_food_is_stretched(kitchen: Kitchen) -> None:
    """Rice 1.3 times: everything else up to 1.3 times too, and 18.2 days instead of 14."""
    rice = kitchen.position(RICE)
    entries = kitchen.entries(times={rice: 1.3})
    found = kitchen.ways(entries)
    stretch = next(w for w in found.ways if w.way is Way.STRETCH)
    assert stretch.holds and stretch.days == pytest.approx(18.2)
    add = {a.food: a.grams for a in stretch.add}
    assert add[THIGH] == pytest.approx(0.3 * 2100) and RICE not in add
    assert stretch.after[0].kcal_most == pytest.approx(stretch.after[0].kcal_planned, rel=0.01)


def test_a_stretched_batch_is_fed_that_long(facts: Reference, kitchen: Kitchen) -> None:
    """Everything 1.3 times and fed 18.2 days: each day is what was planned, and so is the meal of the weighed batch."""
    rice = kitchen.position(RICE)
    entries = kitchen.entries(times={rice: 1.3})
    stretch = next(w for w in kitchen.ways(entries).ways if w.way is Way.STRETCH)
    more = [
        Entry(key=f"stretched-{i}", kind=EntryKind.MORE, line=a.position, grams=a.grams)
        for i, a in enumerate(stretch.add)
    ]
    # All of it put in and fed as fast as planned, the dog would have 1.3 times its energy.
    fast = kitchen.cooked([*entries, *more])
    assert fast.days[0].kcal_most == pytest.approx(1.3 * fast.days[0].kcal_planned, rel=0.01)
    found = kitchen.cooked(
        [*entries, *more, Entry(key="feeds-longer", kind=EntryKind.FEEDS, days=stretch.days)]
    )
    assert found.holds and found.days_fed == pytest.approx(18.2)
    as_planned = kitchen.cooked(kitchen.entries()).days[0].kcal_planned
    assert found.days[0].kcal_most == pytest.approx(as_planned, rel=0.01)
    told = WeighedIn(finished_g=1.3 * kitchen.plan.finished.grams)
    weighed = weigh_batch(facts, ASK, kitchen.plan, told, found)
    planned = weigh_batch(
        facts, ASK, kitchen.plan, WeighedIn(finished_g=kitchen.plan.finished.grams)
    )
    assert weighed.meals[0].grams_per_meal == pytest.approx(planned.meals[0].grams_per_meal)
    assert weighed.meals[0].portions.boxes == 37 and weighed.ask == ""


def test_the_energy_of_a_gram_is_that_of_what_went_in(facts: Reference, kitchen: Kitchen) -> None:
    """700 g of dry rice did not go in: 365 kcal/100 g in the table, a little less by factors for dogs."""
    rice = kitchen.position(RICE)
    found = kitchen.cooked([*kitchen.entries(skip={rice}), left_out(rice)])
    whole = kitchen.cooked(kitchen.entries())
    assert whole.kcal_most is not None and found.kcal_most is not None
    assert whole.kcal_most - found.kcal_most == pytest.approx(2555, rel=0.03)
    fed = next(x for x in kitchen.plan.lines if x.position == rice).fed_g
    assert found.expected_g == pytest.approx(kitchen.plan.finished.grams - fed)
    told = WeighedIn(finished_g=found.expected_g or 0.0)
    weighed = weigh_batch(facts, ASK, kitchen.plan, told, found)
    assert weighed.sure and weighed.ask == ""
    assert weighed.kcal_per_gram == pytest.approx(found.kcal_most / told.finished_g)
    assert not weigh_batch(facts, ASK, kitchen.plan, told).sure


def core(vessel: int, celsius: float) -> Entry:
    return Entry(
        key=f"core-{vessel}-{celsius:.0f}", kind=EntryKind.CORE, vessel=vessel, celsius=celsius
    )


def test_what_did_not_get_hot_enough_is_not_fed(kitchen: Kitchen) -> None:
    """74 °C in the middle of each of two pots: 68 °C in the second is no batch to feed, whatever went in."""
    entries = kitchen.entries()
    assert len(kitchen.cooked(entries).not_measured) == 2
    cold = kitchen.cooked([*entries, core(0, 75), core(1, 68)])
    assert (
        not cold.holds
        and "68 °C of 74 °C" in cold.words
        and cold.too_cold == ("vessel B: 68 °C of 74 °C",)
    )
    ways = kitchen.ways([*entries, core(0, 75), core(1, 68)])
    assert ways.ways == () and "Cook on" in ways.first
    hot = kitchen.cooked([*entries, core(0, 75), core(1, 68), core(1, 74)])
    assert hot.holds and hot.too_cold == hot.not_measured == ()
    assert hot.words == "As it was cooked it holds what was planned."


def test_the_solver_leaves_what_went_in(kitchen: Kitchen) -> None:
    rice = kitchen.position(RICE)
    entries = kitchen.entries(times={rice: 1.3})
    way = next(w for w in kitchen.ways(entries).ways if w.way is Way.SUPPLEMENT)
    assert way.holds and all(a.grams > 0 for a in way.add) and way.days == 14
    assert not {a.food for a in way.add} & {THIGH, RICE, OIL, CARROT}


def test_what_cannot_be_mended_is_not_fed(kitchen: Kitchen) -> None:
    """Ten times the vitamin D: nothing that is put in takes it out again."""
    drops = kitchen.position("supp:vitamin-d3-drops")
    found = kitchen.ways(kitchen.entries(times={drops: 40.0}))
    assert not any(w.holds for w in found.ways) and "veterinarian" in found.discard


def test_a_poison_that_went_in_bars_the_batch(kitchen: Kitchen) -> None:
    carrot = kitchen.position(CARROT)
    swap = Entry(key="swap-onion", kind=EntryKind.SWAPPED, line=carrot, food=ONION, grams=200.0)
    entries = [*kitchen.entries(skip={carrot}), swap]
    found = kitchen.cooked(entries)
    assert found.days[0].must_not and "must not have" in found.words
    line = next(x for x in found.lines if x.position == carrot)
    assert line.went is Went.SWAPPED and line.instead.startswith("Onion")
    ways = kitchen.ways(entries)
    assert ways.ways == () and "must not have it" in ways.discard


def test_what_is_beside_the_recipe_counts(kitchen: Kitchen) -> None:
    extra = Entry(key="extra-rice", kind=EntryKind.EXTRA, food=RICE, grams=500.0)
    found = kitchen.cooked([*kitchen.entries(), extra])
    assert found.lines[-1].went is Went.EXTRA
    # 500 g of dry rice hold 1825 kcal, over 14 days 130 a day.
    assert found.days[0].kcal_most - found.days[0].kcal_planned == pytest.approx(130, abs=8)


# The record.


def fold(*entries: Entry) -> Cooking:
    return cooking_of(entries)


def test_the_last_word_on_a_line_counts() -> None:
    first, second = weighing(1, None, 10.0, "first-key"), weighing(1, None, 12.0, "second-key")
    assert fold(first, second).weighed == {(1, None): 12.0}
    assert fold(first, left_out(1)).weighed == {} and fold(first, left_out(1)).left_out == {1}
    assert fold(left_out(1), first).left_out == frozenset()
    undone = Entry(key="undone-key", kind=EntryKind.UNDONE, of="second-key")
    assert fold(first, second, undone).weighed == {(1, None): 10.0}
    more = Entry(key="more-keyed", kind=EntryKind.MORE, line=1, grams=3.0)
    assert fold(first, more).more == {1: 3.0}


@given(st.permutations([f"entry-key-{i}" for i in range(6)]), st.integers(1, 3))
def test_what_is_sent_twice_counts_once(keys: list[str], times: int) -> None:
    entries = [
        Entry(key=key, kind=EntryKind.MORE, line=0, grams=float(i + 1))
        for i, key in enumerate(keys)
    ]
    assert fold(*(entries * times)).more == {0: 21.0}


@pytest.mark.parametrize(
    ("entry", "field"),
    [
        (Entry(key="aaaaaaaa", kind=EntryKind.WEIGHED, line=99, grams=5), "line"),
        (Entry(key="aaaaaaaa", kind=EntryKind.WEIGHED, line=0, vessel=0), "grams"),
        (Entry(key="aaaaaaaa", kind=EntryKind.WEIGHED, line=0, grams=5), "vessel"),
        (Entry(key="aaaaaaaa", kind=EntryKind.WEIGHED, line=0, vessel=7, grams=5), "vessel"),
        (Entry(key="aaaaaaaa", kind=EntryKind.MORE, line=0, grams=0), "grams"),
        (Entry(key="aaaaaaaa", kind=EntryKind.SWAPPED, line=0, grams=5), "food"),
        (Entry(key="aaaaaaaa", kind=EntryKind.EXTRA, grams=5), "food"),
        (Entry(key="aaaaaaaa", kind=EntryKind.CORE, celsius=400), "celsius"),
        (Entry(key="aaaaaaaa", kind=EntryKind.FEEDS), "days"),
        (Entry(key="aaaaaaaa", kind=EntryKind.FEEDS, days=6.9), "days"),
        (Entry(key="aaaaaaaa", kind=EntryKind.FEEDS, days=29.0), "days"),
        (Entry(key="aaaaaaaa", kind=EntryKind.CUP), "grams"),
        (Entry(key="aaaaaaaa", kind=EntryKind.STEP), "step"),
        (Entry(key="aaaaaaaa", kind=EntryKind.NOTE), "text"),
        (Entry(key="aaaaaaaa", kind=EntryKind.UNDONE), "of"),
    ],
)  # fmt: skip
def test_an_entry_says_what_it_must(kitchen: Kitchen, entry: Entry, field: str) -> None:
    with pytest.raises(InputError) as caught:
        check_entry(kitchen.plan, entry)
    assert caught.value.field == field


# The order of work.


def test_the_order_of_work(facts: Reference, kitchen: Kitchen) -> None:
    steps = steps_of_batch(kitchen.pot, ASK, kitchen.plan)
    ids = [s.id for s in steps]
    assert len(set(ids)) == len(ids) and ids[0] == "gather"
    # Supplements before anything is hot; the cup goes in when it is cool; all of it is weighed, then parted.
    rice, calcium = kitchen.position(RICE), kitchen.position("supp:dicalcium-phosphate")
    order = [
        f"line-{calcium}-0", f"line-{rice}-0", "cook-0", "core-0", "core-1", "cool", "stir", "finish",
        "portion-1",
    ]  # fmt: skip
    assert [i for i in ids if i in order] == order
    cup = [s for s in steps if "cup" in s.words and s.line is not None]
    assert cup and ids.index(cup[-1].id) < ids.index(f"line-{rice}-0")
    # Every weighing of the plan is a step, and no other.
    weighed = [
        (s.line, s.vessel, s.grams) for s in steps if s.kind in (CookKind.WEIGH, CookKind.COUNT)
    ]
    planned = [
        (x.position, v, g)
        for x in kitchen.plan.lines
        for v, g in ([(None, x.grams)] if x.once else enumerate(x.vessels))
    ]
    assert sorted(weighed, key=str) == sorted(planned, key=str)
    assert all("do not rinse" in s.words for s in steps if s.line == kitchen.position(THIGH))
    assert next(s for s in steps if s.kind is CookKind.CORE).celsius == 74


def test_each_food_cooks_as_long_as_it_takes(facts: Reference, kitchen: Kitchen) -> None:
    """Rice and simmered thigh about 20 minutes; in a slow cooker all of it as long as that runs."""
    times = {
        s.title: s.minutes for s in steps_of_batch(kitchen.pot, ASK, kitchen.plan) if s.minutes
    }
    assert set(times.values()) == {20.0}
    slow = replace(ASK, cover="slow-cooker", minutes=300.0)
    found = {s.minutes for s in steps_of_batch(kitchen.pot, slow, kitchen.plan) if s.minutes}
    assert found == {300.0}
    # Every way of cooking of the table has a time.
    assert all(
        facts.handling.minutes_of(kitchen.dossier.lines[0].food.attributes, m.id)
        for m in facts.methods
    )


def test_the_band_of_a_weight() -> None:
    """420 g: 2 % are 8.4 g; 20 g of food: one step; 3.41 g of a supplement: 3 %."""
    assert band(420, 1, small=False) == pytest.approx((411.6, 428.4))
    assert band(20, 1, small=False) == (19, 21)
    assert band(3.41, 0.01, small=True) == pytest.approx((3.3077, 3.5123))


def test_a_second_dog_is_judged_by_its_own_needs(facts: Reference) -> None:
    """Moss has its energy of the same pot: what is short as cooked is told for both."""
    own = Kitchen(facts)
    moss = Eater(case=2, name="Moss", dossier=replace(own.dossier, dog_name="Moss", weight_kg=20.0))
    plan = plan_batch(own.pot, ASK, [own.eater, moss])
    calcium = own.position("supp:dicalcium-phosphate")
    own.plan = plan
    entries = [*own.entries(skip={calcium}), left_out(calcium)]
    found = cooked_batch(own.pot, plan, [own.eater, moss], cooking_of(entries))
    assert [d.name for d in found.days] == ["Fen", "Moss"]
    assert all("Calcium" in d.worse for d in found.days)
    whole = analyse(own.dossier).recipe.kcal_per_day
    assert found.days[0].kcal_planned == pytest.approx(whole, rel=2e-3)
