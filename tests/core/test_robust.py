"""Batches drawn by the thousand against closed forms: normal sums, log-normal moments, binomial omission."""

import math
from dataclasses import replace
from statistics import NormalDist

import numpy as np
import pytest
from wainscot_core.analysis.adequacy import BREAKS, HELD, judge, judge_ratios
from wainscot_core.confidence import Confidence
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.facts.kitchen_errors import Drift, Tool
from wainscot_core.formats.casefile import dossier_of, read_case_file
from wainscot_core.recipe.line import sum_lines
from wainscot_core.recipe.totals import Totals
from wainscot_core.robust.chances import chances, held_of, over
from wainscot_core.robust.robustness import robustness
from wainscot_core.robust.shares import Cause, SurerWay, doubt, variances
from wainscot_core.robust.simulate import Runs, error_of, simulate
from wainscot_core.robust.swaps import SwapClass, class_of, swaps
from wainscot_core.robust.uncertain import Others, Uncertain, uncertain
from wainscot_core.robust.without import LineChange, carrying
from wainscot_core.targets.standards import Limit, Rise, Strength

EXACT = Tool(id="exact", name="exact")
CAREFUL = Drift(id="none", left_out=0, halved=0, over=0, swapped=0, holds={}, kind=None)
NOBODY = Others(np.zeros((1, 0)), np.zeros((1, 0)))
RUNS = Runs(kitchens=10_000, batches=1, week=1, seed=7)


def bare(facts: Reference, *brought: float, tag: str = "ZN") -> Uncertain:
    """A recipe of plain lines that bring so much of one nutrient, all of it sure."""
    found = uncertain(dossier(facts, *[("usda:05062", 100.0)] * len(brought)))
    column = facts.catalogue.index(tag)
    width = len(facts.catalogue.nutrients)
    amounts = np.zeros((len(brought), width))
    amounts[:, column] = brought
    nothing = np.zeros((len(brought), width))
    return replace(
        found, brought=amounts, content=nothing, table=nothing, retention=nothing,
        tools=(EXACT,) * len(brought), drifts=(CAREFUL,) * len(brought),
        others=(None,) * len(brought), uneven=np.zeros(len(brought)),
        labelled=np.zeros(len(brought), dtype=bool),
        errors=replace(found.errors, careful_least=1.0, careful_range=0.0),
    )  # fmt: skip


def dossier(facts: Reference, *lines: tuple[str, float], days: float = 1) -> Dossier:
    return dossier_of(
        facts,
        read_case_file(
            {
                "format": "wainscot-case", "version": 1,
                "dog": {"name": "Fen", "weight_kg": 10, "age_months": 48},
                "energy": {"method": "rer-multiplier", "multiplier": 1.6},
                "targets": {"standard": "nrc-2006", "life_stage": "adult"},
                "recipe": {
                    "covers_days": days, "lines": [{"food": f, "grams": g} for f, g in lines],
                },
            }
        ),
    )  # fmt: skip


def amounts(of: Uncertain, runs: Runs = RUNS, tag: str = "ZN", threads: int = 1) -> np.ndarray:
    column = of.library.catalogue.index(tag)
    drawn = simulate(of, [column], runs, threads)
    return drawn.amounts[:, :, drawn.at(column)].astype(float)


def with_content(of: Uncertain, *shares: float, tag: str = "ZN") -> Uncertain:
    content = of.content.copy()
    content[:, of.library.catalogue.index(tag)] = shares
    return replace(of, content=content)


def test_measuring_and_content_multiply(facts: Reference) -> None:
    """var = sum (m c)^2 (CVm^2 + CVc^2 + CVm^2 CVc^2): 12 and 8 mg, CVs 10 % and 20 %, and 30 %."""
    hand = replace(EXACT, spread=0.10)
    of = replace(with_content(bare(facts, 12, 8), 0.20, 0.30), tools=(hand, EXACT))
    found = amounts(of)
    variance = 144 * (0.01 + 0.04 + 0.0004) + 64 * 0.09
    assert found.mean() == pytest.approx(20, abs=3 * math.sqrt(variance / found.size))
    # The standard error of a variance of something near normal is var x sqrt(2 / n).
    assert found.var() == pytest.approx(variance, rel=5 * math.sqrt(2 / found.size))


def test_a_log_normal_keeps_its_mean_and_has_its_tail(facts: Reference) -> None:
    """CV 60 %: s^2 = ln 1.36; P(half the mean or more) = Phi((s^2/2 + ln 2) / s)... of the log of the ratio."""
    found = amounts(with_content(bare(facts, 10), 0.6))
    s = math.sqrt(math.log(1.36))
    assert found.mean() == pytest.approx(10, abs=4 * 6 / 100)
    assert found.std() == pytest.approx(6, rel=0.06)
    share = NormalDist().cdf((-s * s / 2 + math.log(2)) / s)
    assert (found >= 5).mean() == pytest.approx(share, abs=4 * math.sqrt(share * (1 - share) / 1e4))


def test_a_half_tablet_that_is_left_out_counts_more_than_any_spoon(facts: Reference) -> None:
    """Food zinc 15 mg, CV 15 %, and half a tablet, 5 mg, CV 10 %: mean 20, SD 2.30, P(>= 18) = 81 %; the tablet
    left out in 12 % of batches: 0.88 x 0.81 + 0.12 x P(N(15, 2.25) >= 18) = 72 %."""
    of = with_content(bare(facts, 15, 5), 0.15, 0.10)
    found = amounts(of)
    assert found.std() == pytest.approx(2.305, rel=0.04)
    assert (found >= 18).mean() == pytest.approx(0.81, abs=0.02)
    forgets = replace(of, drifts=(CAREFUL, replace(CAREFUL, left_out=0.12)))
    assert (amounts(forgets) >= 18).mean() == pytest.approx(0.72, abs=0.02)


def test_what_is_left_out_is_binomial_and_half_is_half(facts: Reference) -> None:
    slips = replace(CAREFUL, left_out=0.2, halved=0.1, over=0.05)
    found = amounts(replace(bare(facts, 10), drifts=(slips,)))
    for value, share in ((0, 0.2), (5, 0.1), (15, 0.05), (10, 0.65)):
        seen = np.isclose(found, value).mean()
        assert seen == pytest.approx(share, abs=4 * math.sqrt(share * (1 - share) / found.size))


def with_others(
    of: Uncertain, rate: float, *amounts: float, may_hold: float = 0, tag: str = "ZN"
) -> Uncertain:
    """The first line is one of these foods in such a share of batches."""
    width = len(of.library.catalogue.nutrients)
    column = of.library.catalogue.index(tag)
    brought, more = np.zeros((len(amounts), width)), np.zeros((len(amounts), width))
    brought[:, column], more[:, column] = amounts, may_hold
    rest = of.others[1:]
    return replace(
        of, others=(Others(brought, more), *rest),
        drifts=(replace(CAREFUL, swapped=rate), *of.drifts[1:]),
    )  # fmt: skip


def test_each_food_that_stands_for_a_line_is_taken_as_often(facts: Reference) -> None:
    """In 30 of 100 batches one of three others, the second line as it is: 5 more of each."""
    found = amounts(with_others(bare(facts, 10, 5), 0.3, 4, 16, 0))
    for value, share in ((9, 0.1), (21, 0.1), (5, 0.1), (15, 0.7)):
        seen = np.isclose(found, value).mean()
        assert seen == pytest.approx(share, abs=4 * math.sqrt(share * (1 - share) / found.size))


def test_a_swap_has_the_variance_of_what_it_changes(facts: Reference) -> None:
    """10 or, in 20 of 100, 4: 0.2 x 0.8 x 36; of 4 or 16 as often: E[d] = 0, E[d^2] = 0.2 x 36."""
    zinc = facts.catalogue.index("ZN")
    one, two = (with_others(bare(facts, 10), 0.2, *others) for others in ((4,), (4, 16)))
    assert variances(one, zinc)[Cause.SWAP] == pytest.approx([5.76])
    assert variances(two, zinc)[Cause.SWAP] == pytest.approx([7.2])
    assert amounts(two).var() == pytest.approx(7.2, rel=0.06)
    told = doubt(one, "ZN")
    assert told.inputs[0].cause is Cause.SWAP and told.cheapest is not None
    assert told.cheapest.way is SurerWay.NAME_IT


def test_what_another_food_may_hold_is_kept_beside_what_it_is_known_to(facts: Reference) -> None:
    of = with_others(bare(facts, 10), 0.25, 0, may_hold=7)
    drawn = simulate(of, [facts.catalogue.index("ZN")], RUNS)
    j = drawn.at(facts.catalogue.index("ZN"))
    assert drawn.extra is not None
    amount, extra = drawn.amounts[:, 0, j], drawn.extra[:, 0, j]
    assert set(np.round(extra[amount == 0], 4)) == {7} and not extra[amount > 0].any()
    endless = replace(
        of, others=(replace(of.others[0] or NOBODY, may_hold=np.where(of.brought > 0, np.inf, 0)),)
    )
    extra = simulate(endless, [facts.catalogue.index("ZN")], RUNS).extra
    assert extra is not None and np.isinf(extra[:, 0, j]).mean() == pytest.approx(0.25, abs=0.02)


def test_another_food_brings_what_the_line_has_nothing_of(facts: Reference) -> None:
    found = amounts(with_others(bare(facts, 0, 5), 0.25, 4))
    assert np.isclose(found, 9).mean() == pytest.approx(0.25, abs=0.02)
    assert np.isclose(found, 5).mean() == pytest.approx(0.75, abs=0.02)
    # It varies as the food it stands for would: 4 at 30 %.
    varied = amounts(with_content(with_others(bare(facts, 0, 5), 0.25, 4), 0.3, 0))
    apart = varied[~np.isclose(varied, 5)] - 5
    assert apart.mean() == pytest.approx(4, abs=0.1) and apart.std() == pytest.approx(1.2, rel=0.08)


def test_what_another_food_may_hold_counts_against_a_ceiling_and_not_for_a_minimum(
    facts: Reference,
) -> None:
    """10 mg, or in a quarter of batches a food that holds none to 7: over a ceiling of 5 never that one, of 6 to 10 but
    the one, and a minimum that rises with it is that of 7."""
    of = with_others(bare(facts, 10), 0.25, 0, may_hold=7)
    column = facts.catalogue.index("ZN")
    drawn = simulate(of, [column], RUNS)
    per = 1000 / of.kcal

    def held(limit: Limit) -> float:
        return float(held_of(of, drawn, limit, None, 1)[1].mean())

    assert held(Limit("ZN", "mg", None, None, 6.9 * per)) == 0
    assert held(Limit("ZN", "mg", None, None, 7.1 * per)) == pytest.approx(0.25, abs=0.02)
    assert held(Limit("ZN", "mg", 0.1 * per, None, None)) == pytest.approx(0.75, abs=0.02)
    # At least as much as there is of it: 10 of 10 hold, and none of 7.
    rise = Rise(
        other="ZN", per_unit=1.0, base=0.0, above=0.0, strength=Strength.HARD, words="", source="",
        confidence=Confidence.LOW,
    )  # fmt: skip
    rises = Limit("ZN", "mg", None, None, None, rises=(rise,))
    assert held(rises) == pytest.approx(0.75, abs=0.02)


@pytest.mark.parametrize(
    ("first", "second", "limit"),
    [
        ("CA", "P", Limit("CA_P", "", None, None, 1.5)),
        ("P", "CA", Limit("CA_P", "", 0.8, None, None)),
    ],
)
def test_a_ratio_is_held_by_the_most_that_either_side_may_be(
    facts: Reference, first: str, second: str, limit: Limit
) -> None:
    """10 to 10; in a quarter of batches the first is another food's 10 to 17: 1.7, or 0.59 the other way."""
    of = with_others(bare(facts, 10, 10, tag=first), 0.25, 10, may_hold=7, tag=first)
    brought, columns = of.brought.copy(), [facts.catalogue.index(t) for t in (first, second)]
    brought[1] = 0
    brought[1, columns[1]] = 10
    of = replace(of, brought=brought)
    ratio = next(r for r in facts.catalogue.ratios if r.key == "CA_P")
    held = held_of(of, simulate(of, columns, RUNS), limit, ratio, 1)[1]
    assert held.mean() == pytest.approx(0.75, abs=0.02)


def test_a_food_whose_energy_is_not_known_stands_for_nothing(facts: Reference) -> None:
    of = dossier(facts, ("usda:04582", 20.0))
    library, other = facts.library, class_of(facts.library, facts.library.food("usda:04582"))[0]
    values = library.values.copy()
    values[library.row(other.id), library.catalogue.index("FAT")] = np.nan
    blind = uncertain(replace(of, library=replace(library, values=values))).others[0]
    seen = uncertain(of).others[0]
    assert seen is not None and blind is not None
    assert len(blind.brought) == len(seen.brought) - 1


def test_the_others_of_a_line_are_its_class_at_its_weight(facts: Reference) -> None:
    """Per 100 g by the table, 20 g of each; nothing stands for a supplement, or where nobody slips."""
    of = dossier(facts, ("usda:04582", 20.0), ("supp:calcium-carbonate", 2.0))
    oil, calcium = uncertain(of).others
    assert oil is not None and calcium is None
    members = class_of(facts.library, facts.library.food("usda:04582"))
    rows = [facts.library.row(m.id) for m in members]
    vitamin_e = facts.catalogue.index("TOCPHA")
    assert sorted(oil.brought[:, vitamin_e]) == pytest.approx(
        sorted(np.nan_to_num(facts.library.values[rows, vitamin_e]) * 0.2)
    )
    assert uncertain(of, slips=False).others == (None, None)


def test_a_single_day_has_more_or_less_of_what_is_stirred_in(facts: Reference) -> None:
    """CV 40 % of 5 of 15: the mean stays, SD 2 of a day, and no day has less than nothing."""
    of = replace(bare(facts, 10, 5), uneven=np.array([0, 0.4]))
    drawn = simulate(of, [facts.catalogue.index("ZN")], RUNS)
    assert drawn.uneven is not None
    more = drawn.uneven[:, 0, drawn.at(facts.catalogue.index("ZN"))].astype(float)
    assert more.mean() == pytest.approx(0, abs=4 * 2 / 100)
    assert more.std() == pytest.approx(2, rel=0.06) and more.min() >= -5
    assert (drawn.amounts[:, 0, drawn.at(facts.catalogue.index("ZN"))] == 15).all()


def test_only_a_supplement_in_a_batch_of_several_days_is_uneven(facts: Reference) -> None:
    lines = (("usda:05062", 400.0), ("supp:calcium-carbonate", 2.0))
    week = dossier(facts, *lines, days=7)
    assert uncertain(week).uneven.tolist() == [0, 0.2]
    at_serving = dossier(facts, lines[0], ("supp:fish-oil", 2.0), days=7)
    assert not uncertain(at_serving).uneven.any()
    assert uncertain(week, mixed="sprinkled").uneven.tolist() == [0, 0.45]
    for same in (
        uncertain(dossier(facts, *lines)),
        uncertain(week, slips=False),
        uncertain(week, mixed="portion"),
    ):
        assert not same.uneven.any()
    with pytest.raises(InputError) as refused:
        uncertain(week, mixed="shaken")
    assert refused.value.field == "mixed"


def test_a_ceiling_holds_on_fewer_days_the_worse_it_is_stirred(facts: Reference) -> None:
    """Calcium of one supplement: over by days as a gamma is, and a batch as a whole as it was."""
    lines = (("supp:calcium-carbonate", 6.0), ("usda:05062", 400.0), ("usda:04582", 20.0))
    of = dossier(facts, *lines, days=7)
    told, batches = {}, []
    for way in ("portion", "dissolved", "goes", "sprinkled"):
        found = chances(of, Runs.of(7, 2000), mixed=way)
        assert found is not None
        told[way] = next(c for c in found.limits if c.key == "CA")
        batches.append([(c.key, c.batch, c.month, c.spread) for c in found.limits])
    assert told["portion"].day is None and told["goes"].ceiling is not None
    shares = [told[way].day.share for way in ("dissolved", "goes", "sprinkled") if told[way].day]
    assert len(shares) == 3
    assert shares == sorted(shares, reverse=True) and shares[0] > shares[2]
    # However it is stirred, the batches are the same ones.
    assert all(found == batches[0] for found in batches)


def test_careless_owners_forget_together(facts: Reference) -> None:
    """Rates are multiplied by 0.2 + 1.6 u, mean 1: as many are left out, but two lines more often together:
    E[(0.2 + 1.6 u)^2] = 1 + 1.6^2 / 12 = 1.2133."""
    slips = replace(CAREFUL, left_out=0.25)
    of = replace(bare(facts, 1, 2), drifts=(slips, slips))
    of = replace(of, errors=replace(of.errors, careful_least=0.2, careful_range=1.6))
    found = amounts(of, replace(RUNS, kitchens=40_000))
    both = 0.25**2 * (1 + 1.6**2 / 12)
    assert (found == 0).mean() == pytest.approx(both, abs=4 * math.sqrt(both / 40_000))
    alone = ((found == 0) | (found == 2)).mean()
    assert alone == pytest.approx(0.25, abs=4 * math.sqrt(0.1875 / 40_000))


def test_batches_average_and_the_table_does_not(facts: Reference) -> None:
    """Content 40 % evens out as 1 / sqrt(16) over 16 batches, the table's own 20 % stays."""
    of = with_content(bare(facts, 10), 0.4)
    table = of.content.copy() * 0.5
    runs = Runs(kitchens=4000, batches=16, week=4, seed=3)
    month = over(amounts(of, runs), 16) / 16
    assert month.std() == pytest.approx(10 * 0.4 / 4, rel=0.06)
    both = over(amounts(replace(of, table=table), runs), 16) / 16
    variance = (1 + 0.04) * (1 + 0.16 / 16) - 1
    assert both.std() == pytest.approx(10 * math.sqrt(variance), rel=0.06)


def test_what_a_pack_says_is_off_in_every_batch(facts: Reference) -> None:
    of = with_content(bare(facts, 10), 0.1)
    runs = Runs(kitchens=4000, batches=8, week=2, seed=3)
    month = over(amounts(replace(of, labelled=np.array([True])), runs), 8) / 8
    assert month.std() == pytest.approx(1.0, rel=0.06)


def test_one_scale_is_off_for_all_that_is_weighed_on_it(facts: Reference) -> None:
    """Two lines of 10 on one scale with a gain of 5 %: SD 1; on two scales: sqrt 2 x 0.5."""
    scale, other = replace(EXACT, stays=0.05), replace(EXACT, id="b", stays=0.05)
    together = amounts(replace(bare(facts, 10, 10), tools=(scale, scale)))
    apart = amounts(replace(bare(facts, 10, 10), tools=(scale, other)))
    assert together.std() == pytest.approx(1.0, rel=0.05)
    assert apart.std() == pytest.approx(0.7071, rel=0.05)


def test_amino_acids_follow_their_protein(facts: Reference) -> None:
    catalogue = facts.catalogue
    protein, lysine = catalogue.index("PROCNT"), catalogue.index("LYS")
    of = bare(facts, 8, tag="LYS")
    brought, content = of.brought.copy(), of.content.copy()
    brought[0, protein], content[0, protein], content[0, lysine] = 100, 0.3, 0.1
    drawn = simulate(replace(of, brought=brought, content=content), [lysine], RUNS)
    of_protein = drawn.amounts[:, 0, drawn.at(protein)].astype(float)
    of_lysine = drawn.amounts[:, 0, drawn.at(lysine)].astype(float)
    assert (of_lysine / of_protein).std() / 0.08 == pytest.approx(0.1, rel=0.06)
    assert of_lysine.std() / 8 == pytest.approx(math.sqrt(0.09 + 0.01 + 0.0009), rel=0.06)


def test_the_same_seed_gives_the_same_on_any_number_of_threads(facts: Reference) -> None:
    of = uncertain(dossier(facts, ("usda:05062", 200), ("usda:11125", 80), days=3))
    runs = Runs(kitchens=400, batches=9, week=2, seed=11)
    one = amounts(of, runs)
    assert np.array_equal(one, amounts(of, runs, threads=3))
    assert not np.array_equal(one, amounts(of, replace(runs, seed=12)))
    # More kitchens begin with the same ones, as far as they are drawn together: 2000 batches, 9 of each kitchen.
    assert np.array_equal(one[:222], amounts(of, replace(runs, kitchens=1000))[:222])


def test_shares_of_variance_are_those_of_the_sums(facts: Reference) -> None:
    """9 mg at 20 % and 3 mg at 30 % measured by a hand of 10 %: 3.24, 0.81 + 0.09 of 4.14 + 0.81."""
    hand = replace(EXACT, spread=0.10, surer="weigh it")
    of = replace(with_content(bare(facts, 9, 3), 0.2, 0.3), tools=(hand, hand))
    parts = variances(of, facts.catalogue.index("ZN"))
    assert parts[Cause.CONTENT] == pytest.approx([3.24, 0.81])
    assert parts[Cause.MEASURING] == pytest.approx([0.81, 0.09])
    found = doubt(of, "ZN")
    assert [(x.line, x.cause) for x in found.inputs][:1] == [(0, Cause.CONTENT)]
    assert found.inputs[0].share == pytest.approx(3.24 / 4.95)
    assert found.cv == pytest.approx(math.sqrt(4.95) / 12)
    assert found.cheapest is not None and found.cheapest.way is SurerWay.MEASURE
    drawn = amounts(of)
    assert drawn.std() / drawn.mean() == pytest.approx(found.cv, rel=0.05)


def test_owners_slips_have_the_variance_of_what_they_leave(facts: Reference) -> None:
    """Left out in 12 %: p (1 - p) of the square, 0.1056."""
    of = replace(bare(facts, 10), drifts=(replace(CAREFUL, left_out=0.12),))
    assert variances(of, facts.catalogue.index("ZN"))[Cause.OWNER] == pytest.approx([10.56])


def test_a_share_of_kitchens_has_the_error_of_kitchens() -> None:
    held = np.zeros((100, 4), dtype=bool)
    held[:80] = True
    assert error_of(held) == pytest.approx(math.sqrt(0.8 * 0.2 / 99))


def test_what_each_line_carries_is_what_breaks_without_it(facts: Reference) -> None:
    """Calcium carbonate is 40.0 % calcium: without 2 g of it 800 mg are gone, and nothing else brings it."""
    of = dossier(facts, ("usda:05062", 400), ("supp:calcium-carbonate", 2.0))
    found = carrying(of)
    salt = next(c for c in found.lines if c.name == "Calcium carbonate powder")
    broken = {b.key: b for b in salt.of(LineChange.WITHOUT)}
    assert set(broken) <= {"CA", "CA_P"}
    assert broken["CA"].status == "short" and broken["CA"].depth > 0.9
    assert salt.of(LineChange.TWICE) == () and "CA" in {b.key for b in salt.of(LineChange.HALF)}
    meat = next(c for c in found.lines if c.line == 0)
    # Without the meat there is no protein in the day's bowl, though the rest has no energy to judge it by.
    assert "PROCNT" in {b.key for b in meat.of(LineChange.WITHOUT)}
    assert found.most[0].line == 0


def test_a_line_left_out_is_missing_in_the_day_and_not_only_by_energy(facts: Reference) -> None:
    """Oil brings energy and linoleic acid: without it zinc per 1000 kcal rises, and in the day's bowl it does not."""
    of = dossier(facts, ("usda:05062", 400), ("usda:04582", 20))
    oil = next(c for c in carrying(of).lines if c.line == 1)
    broken = {b.key: b for b in oil.of(LineChange.WITHOUT)}
    assert broken["F18D2N6"].status == "short" and not {"ZN", "CA", "PROCNT"} & set(broken)
    # Twice the oil dilutes what is short by energy already.
    assert {"F18D2N6"} & {b.key for b in oil.of(LineChange.TWICE)} == set()


def test_chances_of_a_recipe(facts: Reference) -> None:
    of = dossier(facts, ("usda:05062", 400), ("supp:calcium-carbonate", 2.0), days=7)
    found = chances(of, Runs.of(7, 2000))
    assert found is not None and (found.kitchens, found.batches) == (500, 4)
    by_key = {c.key: c for c in found.limits}
    protein = by_key["PROCNT"]
    # The meat is forgotten in 0.5 % of batches.
    assert protein.batch.share == pytest.approx(0.995, abs=0.006)
    assert list(protein.spread) == sorted(protein.spread)
    middle = (protein.spread[9] + protein.spread[10]) / 2
    assert protein.by_table == pytest.approx(middle, rel=0.03)
    # What is short by far never holds; a seed is a seed.
    assert by_key["CA"].month.share <= 1 and by_key["MN"].batch.share == 0
    assert chances(of, Runs.of(7, 2000)) == found


def held(of: Dossier) -> set[str]:
    found = totals_of(of)
    verdicts = [(v.key, v.status) for v in judge(found, of.requirements, of.policy)]
    verdicts += [(r.ratio.key, r.status) for r in judge_ratios(found, of.requirements)]
    return {key for key, status in verdicts if status in HELD}


def totals_of(of: Dossier) -> Totals:
    return sum_lines(of.library, of.lines, of.days)


def test_what_may_stand_for_a_line_is_of_its_kind_and_the_worst_is_told(facts: Reference) -> None:
    """Each member put into the recipe by hand and judged anew: none that breaks something counts as sound."""
    lines = (("usda:05062", 400.0), ("usda:04582", 20.0), ("supp:calcium-carbonate", 2.0))
    of = dossier(facts, *lines)
    found = swaps(of, 1)
    oil = facts.library.food("usda:04582")
    members = class_of(facts.library, oil)
    assert oil not in members and found.members == len(members) > 3
    assert {(m.attributes.kind, m.attributes.state) for m in members} == {
        (oil.attributes.kind, oil.attributes.state)
    }
    before = held(of)
    sound = [m for m in members if before <= held(dossier(facts, lines[0], (m.id, 20.0), lines[2]))]
    # A swap is judged by the energy of the day as well, so that no more can be sound than by its own.
    assert found.sound <= len(sound) < found.members
    assert found.worst is not None and found.worst.food in {m.id for m in members} - {
        m.id for m in sound
    }


def test_what_a_swap_leaves_unknown_is_not_sound(facts: Reference) -> None:
    of = dossier(facts, ("usda:05062", 400.0), ("usda:04582", 20.0))
    other = class_of(facts.library, facts.library.food("usda:04582"))[0]
    # The same oil under another name, but for what is known of its linoleic acid.
    library = facts.library
    values, column = library.values.copy(), library.catalogue.index("F18D2N6")
    values[library.row(other.id)] = values[library.row("usda:04582")]
    seen = swaps(replace(of, library=replace(library, values=values.copy())), 1)
    values[library.row(other.id), column] = np.nan
    blind = swaps(replace(of, library=replace(library, values=values)), 1)
    assert "F18D2N6" in held(of)
    assert blind.members == seen.members and blind.sound == seen.sound - 1


def test_nothing_stands_for_a_supplement(facts: Reference) -> None:
    of = dossier(facts, ("usda:05062", 400.0), ("supp:calcium-carbonate", 2.0))
    assert swaps(of, 1) == SwapClass(line=1, members=0, sound=0, worst=None)
    for line in (-1, 2):
        with pytest.raises(InputError) as refused:
            swaps(of, line)
        assert refused.value.field == "line"


def test_what_breaks_on_paper_is_said_before_any_kitchen(facts: Reference) -> None:
    found = robustness(dossier(facts, ("usda:05062", 400.0)), Runs.of(1, 500))
    assert found is not None
    broken = sum(1 for c in found.chances.limits if c.status in BREAKS)
    assert broken > 5 and found.words.startswith(f"By its tables {broken} limits are broken.")
    # None of them is among what is doubtful: there is nothing to hold.
    assert not {c.key for c in found.chances.limits if c.status in BREAKS} & set(found.doubtful)
