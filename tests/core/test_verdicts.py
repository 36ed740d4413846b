"""Verdicts and their figures on foods made up for the purpose, so that every figure is plain."""

import pytest
from wainscot_core.analysis.adequacy import (
    Status,
    against,
    judge,
    judge_ratios,
    near_bound,
    status_of,
    urgency,
)
from wainscot_core.analysis.insight import without_each
from wainscot_core.confidence import Confidence
from wainscot_core.dossier.reference import Reference
from wainscot_core.facts.foods import Food, FoodLibrary, Grade, Provenance
from wainscot_core.facts.policy import Policy
from wainscot_core.recipe.totals import Totals, totals
from wainscot_core.targets.standards import Limit, RequirementSet

ZN = "ZN"


def library(facts: Reference, *foods: tuple[str, Grade, dict[str, float]]) -> FoodLibrary:
    """A library of these foods alone in front: name, grade of every value, values per 100 g."""
    return facts.library.extended(
        [Food(f"own:{name}", name, "own", "plain") for name, _, _ in foods],
        [values for _, _, values in foods],
        [Provenance(f"own:{name}", grade, "", "", "") for name, grade, _ in foods],
    )


def summed(held: FoodLibrary, **grams: float) -> Totals:
    return totals(held, [held.row(f"own:{n}") for n in grams], list(grams.values()))


def limits(**bounds: tuple[float | None, float | None]) -> RequirementSet:
    return RequirementSet(
        "test", {k: Limit(k, "mg", low, None, high) for k, (low, high) in bounds.items()}
    )


KNOWN = ("known", Grade.ANALYSED, {"ENERC": 100.0, ZN: 2.0})
GUESS = ("guess", Grade.BORROWED, {"ENERC": 100.0, ZN: 2.0})
BLANK = ("blank", Grade.ANALYSED, {"ENERC": 100.0})


def zinc(facts: Reference, sums: Totals, policy: Policy, low: float | None, high: float | None):
    return judge(sums, limits(**{ZN: (low, high)}), policy)[facts.catalogue.index(ZN)]


def test_cautious_holds_a_maximum_with_estimates_and_a_minimum_without(facts: Reference) -> None:
    """Half known, half borrowed: 20 mg per 1000 kcal, 10 of it known."""
    sums = summed(library(facts, KNOWN, GUESS), known=100, guess=100)
    for low, high, status in (
        (None, 25.0, "met"),  # only a maximum: estimates count, and it is held
        (None, 15.0, "over"),
        (15.0, None, "unproven"),  # 10 known of 15: the rest is an estimate
        (9.0, None, "met"),
        (9.0, 15.0, "over"),
    ):
        assert zinc(facts, sums, Policy.CAUTIOUS, low, high).status == status, (low, high)
    assert zinc(facts, sums, Policy.GRADED, 15.0, None).status == "met"
    assert zinc(facts, sums, Policy.STRICT, 15.0, None).status == "unproven"


def test_a_maximum_is_unproven_only_with_a_gap_and_a_ceiling(facts: Reference) -> None:
    gap = summed(library(facts, KNOWN, BLANK), known=100, blank=100)
    whole = summed(library(facts, KNOWN), known=100)
    assert zinc(facts, gap, Policy.GRADED, 5.0, 50.0).maximum_unproven
    assert not zinc(facts, gap, Policy.GRADED, 5.0, None).maximum_unproven
    assert not zinc(facts, whole, Policy.GRADED, 5.0, 50.0).maximum_unproven


def test_the_known_share_is_of_the_weight_with_a_value(facts: Reference) -> None:
    """300 g of 400 have a value: 75 %, not 25."""
    sums = summed(library(facts, KNOWN, BLANK), known=300, blank=100)
    assert sums.known_share[facts.catalogue.index(ZN)] == pytest.approx(0.75)
    assert sums.unknown_lines[facts.catalogue.index(ZN)] == 1


def test_what_cooking_leaves_is_an_estimate(facts: Reference) -> None:
    """80 % of 2 mg are left of 100 g, by a retention factor: all of it counts as estimated."""
    import numpy as np

    held = library(facts, KNOWN)
    kept = np.ones((1, len(facts.catalogue.nutrients)))
    column = facts.catalogue.index(ZN)
    kept[0, column] = 0.8
    sums = totals(held, [held.row("own:known")], [100.0], 1.0, [100.0], kept)
    assert sums.known[column] == pytest.approx(1.6)
    assert sums.contributions[0, column] == pytest.approx(1.6)
    assert sums.estimated[column] == pytest.approx(1.6)
    assert sums.estimated_lines[column] == 1
    energy = facts.catalogue.index("ENERC")
    assert (sums.estimated[energy], sums.estimated_lines[energy]) == (0, 0)


def test_a_sum_is_as_sure_as_its_last_part(facts: Reference) -> None:
    """EPA analysed, DHA from a pattern: the sum stands on the pattern, the rarer figure."""
    held = library(facts, KNOWN)
    row = held.row("own:known")
    analysed = Provenance("a", Grade.ANALYSED, "", "", "")
    pattern = Provenance("p", Grade.PATTERN, "", "", "")
    held = held.with_values("own:known", {"F20D5N3": 0.2}, analysed)
    held = held.with_values("own:known", {"F22D6N3": 0.3}, pattern)
    column = facts.catalogue.index("EPADHA")
    assert held.values[row, column] == pytest.approx(0.5)
    assert held.provenance[int(held.codes[row, column])].grade is Grade.PATTERN


def test_a_line_left_out_takes_its_own_gap_with_it(facts: Reference) -> None:
    """Without the food that has no value nothing is unknown: 10 mg of 15 is short, and what was
    met with 20 of 15 is lost by leaving out half of it."""
    held = library(facts, KNOWN, BLANK, ("rich", Grade.ANALYSED, {"ENERC": 100.0, ZN: 4.0}))
    wanted = limits(**{ZN: (25.0, None)})
    sums = summed(held, known=100, rich=100)
    found = without_each(sums, judge(sums, wanted))
    # 30 per 1000 kcal of 25: without the rich food 20, without the other 40.
    assert [w.lost for w in found] == [(), (ZN,)]
    blank = summed(held, rich=100, blank=10)
    assert [w.lost for w in without_each(blank, judge(blank, wanted))] == [(), ()]


@pytest.mark.parametrize(
    ("value", "unknown", "status"),
    [
        (10.0, 10.0, "met"), (9.99, 9.99, "short"), (9.99, 10.0, "unproven"),
        (20.0, 20.0, "met"), (20.0, 20.01, "unproven"), (20.01, 99.0, "over"),
        (30.01, 30.01, "above safe limit"), (None, 0.0, "unproven"),
    ],
)  # fmt: skip
def test_statuses_at_their_bounds(value: float | None, unknown: float, status: str) -> None:
    assert status_of(value, unknown, Limit("X", "mg", 10, None, 20, (), 30)) == status


def test_advice_missed_is_off_advice_and_only_once_all_else_holds() -> None:
    """Advised between 12 and 18 inside 10 to 20, with care above 16."""
    limit = Limit("X", "mg", 10, None, 20, (), 30, advised_min=12, advised_max=18, caution=16)
    found = {v: status_of(v, v, limit) for v in (9, 11, 12, 16, 16.1, 18.1, 20.1)}
    assert found == {
        9: "short", 11: "off advice", 12: "met", 16: "met", 16.1: "off advice", 18.1: "off advice",
        20.1: "over",
    }  # fmt: skip
    only = Limit("X", "mg", None, None, None, advised_min=5)
    assert (status_of(4, 4, only), status_of(5, 5, only)) == ("off advice", "met")
    assert against(11.0, Status.OFF_ADVICE, limit) == 12
    assert against(17.0, Status.OFF_ADVICE, limit) == 16
    assert 0 < urgency(11.0, Status.OFF_ADVICE, limit) < urgency(9.99, Status.UNPROVEN, limit)


def test_what_a_verdict_speaks_of_and_how_loud() -> None:
    limit = Limit("X", "mg", 10, None, 20, (), 30)
    spoken = {
        value: (against(value, status_of(value, value, limit), limit),
                urgency(value, status_of(value, value, limit), limit))
        for value in (5.0, 15.0, 25.0, 40.0)
    }  # fmt: skip
    assert spoken == {
        5.0: (10, pytest.approx(1.5)),
        15.0: (10, 0.0),
        25.0: (20, pytest.approx(2.2)),
        40.0: (30, pytest.approx(3.25)),
    }


def test_why_a_verdict_is_what_it_is(facts: Reference) -> None:
    """A fruit of no known zinc beside 20 mg per 1000 kcal that are known; any food beside it."""
    fruit = ("fruit", Grade.ANALYSED, {"ENERC": 50.0})
    held = library(facts, KNOWN, GUESS, BLANK)
    held = held.extended(
        [Food("own:fruit", "fruit", "fruit", "raw")],
        [fruit[2]],
        [Provenance("f", Grade.ANALYSED, "", "", Confidence.LOW)],
    )
    bounded, boundless = summed(held, known=100, fruit=1), summed(held, known=100, blank=1)
    why = zinc(facts, bounded, Policy.GRADED, 25.0, None).why
    assert why == "1 ingredient has no value, and even the most they may hold is not enough"
    why = zinc(facts, boundless, Policy.GRADED, 25.0, None).why
    assert why == (
        "1 ingredient has no value in any source, which is not zero; nothing bounds what they may hold"
    )
    near = float(bounded.may_hold[facts.catalogue.index(ZN)])
    why = zinc(facts, bounded, Policy.GRADED, 19.95, 20.0 + near / 2).why
    assert "they may hold up to" in why
    guessed = summed(held, known=100, guess=100)
    assert zinc(facts, guessed, Policy.GRADED, 5.0, None).why == (
        "1 ingredient has an estimate, which graded counts"
    )
    assert (
        "only an estimate, which strict does not count"
        in zinc(facts, guessed, Policy.STRICT, 5.0, None).why
    )
    assert (
        "cautious does not count towards a minimum"
        in zinc(facts, guessed, Policy.CAUTIOUS, 15.0, None).why
    )
    assert zinc(facts, summed(held, known=100), Policy.GRADED, 5.0, None).why == ""


@pytest.mark.parametrize(
    ("value", "limit", "loudness"),
    [
        # Unproven, nothing known: quiet but there; half known: half as loud as short.
        (None, Limit("X", "mg", 10, None, None), 0.1),
        (0.0, Limit("X", "mg", 10, None, None), 0.1),
        (5.0, Limit("X", "mg", 10, None, None), 0.5),
        (9.99, Limit("X", "mg", 10, None, None), 0.01),
        (5.0, Limit("X", "mg", None, None, 20), 0.1),
    ],
)
def test_how_loud_what_is_unproven_is(value: float | None, limit: Limit, loudness: float) -> None:
    assert urgency(value, Status.UNPROVEN, limit) == pytest.approx(loudness)


def test_a_sum_of_nothing_has_no_ratio_and_a_gap_makes_it_unproven(facts: Reference) -> None:
    limits_ = RequirementSet("t", {"CA_P": Limit("CA_P", "ratio", 1.0, None, 2.0)})

    def ratio(**values: float):
        held = library(facts, ("x", Grade.ANALYSED, {"ENERC": 100.0, **values}))
        found = judge_ratios(summed(held, x=100), limits_)
        return next(r for r in found if r.ratio.key == "CA_P")

    whole = ratio(CA=150.0, P=100.0)
    assert (whole.value, whole.status) == (pytest.approx(1.5), "met")
    assert ratio(CA=90.0, P=100.0).status == "short"
    assert ratio(CA=210.0, P=100.0).status == "over"
    nothing = ratio(CA=100.0, P=0.0)
    assert (nothing.value, nothing.status) == (None, "unproven")
    gap = ratio(CA=150.0)
    assert (gap.status, gap.unknown_lines) == ("unproven", 1)
    # No value is told where a part is not known; what it lies between is.
    assert (gap.value, gap.least, gap.most) == (None, 0.0, None)
    # Vitamin E in mg to polyunsaturated fat in g: 3 mg to 2 g is 1.5.
    held = library(facts, ("x", Grade.ANALYSED, {"ENERC": 100.0, "TOCPHA": 3.0, "FAPU": 2.0}))
    mixed = next(r for r in judge_ratios(summed(held, x=100), limits_) if r.ratio.key == "E_PUFA")
    assert (mixed.value, mixed.status) == (pytest.approx(1.5), "no limit")


def test_shares_of_very_little_and_of_nothing(facts: Reference) -> None:
    column = facts.catalogue.index(ZN)
    held = library(facts, KNOWN, BLANK)
    assert summed(held, known=0.3, blank=0.1).known_share[column] == pytest.approx(0.75)
    nothing = summed(held, known=0, blank=0)
    assert nothing.known_share[column] == 1
    assert nothing.known_share.shape == (len(facts.catalogue.nutrients),)
    assert nothing.estimated_lines.shape == nothing.unknown_lines.shape == nothing.known.shape


@pytest.mark.parametrize(
    ("value", "low", "high", "near"),
    [
        (11.9, 10.0, None, True), (12.0, 10.0, None, False), (9.0, 10.0, None, True), (None, 10.0, None, True),
        (84.0, None, 100.0, True), (83.0, None, 100.0, False), (101.0, None, 100.0, True), (50.0, 10.0, 100.0, False),
        (50.0, None, None, False),
    ],
)  # fmt: skip
def test_what_is_near_a_bound(
    value: float | None, low: float | None, high: float | None, near: bool
) -> None:
    """Within a fifth over a minimum, or a sixth under a ceiling."""
    limit = Limit(ZN, "mg", low, None, high)
    known = value is not None
    status = status_of(value or 0.0, value if known else float("inf"), limit)
    assert near_bound(value, status, limit) is near
    assert near_bound(value, Status.NO_LIMIT, None) is False
