"""A rotation formulated as a whole: the least set of recipes that makes the round hold."""

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
import yaml
from wainscot_core.analysis.analyse import analyse
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.facts.policy import Policy
from wainscot_core.formats.casefile import dossier_of, read_case_file
from wainscot_core.formulation.formulate import formulate
from wainscot_core.formulation.proposal import Happens
from wainscot_core.formulation.question import Settings
from wainscot_core.formulation.rotation import Rotation, beside, rotation, unmet
from wainscot_core.formulation.rotation_words import lines_with, rotation_result
from wainscot_core.recipe.line import LineText, read_all, read_line, sum_lines
from wainscot_core.recipe.plan import Daily, DailyKind, Turn, one_day, whole_round
from wainscot_core.targets.standards import Limit

SAMPLE = Path(__file__).resolve().parents[2] / "reference" / "sample_case.yaml"


@pytest.fixture(scope="module")
def juniper(facts: Reference) -> Dossier:
    return dossier_of(facts, read_case_file(yaml.safe_load(SAMPLE.read_text())))


@pytest.fixture(scope="module")
def balanced(juniper: Dossier) -> Turn:
    return Turn("balanced", formulate(juniper, Settings()).lines, juniper.days, 4)


def flawed(juniper: Dossier, days: float = 3) -> Turn:
    return Turn("as she eats", juniper.lines, juniper.days, days)


def held_to(dossier: Dossier, key: str, limit: Limit) -> Dossier:
    requirements = replace(dossier.requirements, limits={key: limit})
    return replace(dossier, targets=replace(dossier.targets, requirements=requirements))


def test_what_the_other_days_bring_is_taken_off(juniper: Dossier) -> None:
    """With 10 mg zinc per 1000 kcal asked of a round of O thousand kcal of the others and E of one's own, of which the others
    bring Z mg: (10 x (O + E) - Z) / E, and a hundredth to spare."""
    food = juniper.lines[0].food
    zinc, kcal = (juniper.library.catalogue.index(k) for k in ("ZN", "ENERC"))
    per_100 = juniper.library.values[juniper.lines[0].row]
    other = Turn("other", juniper.lines[:1], 1, 4)
    brought_kcal = float(per_100[kcal]) * other.lines[0].amount.grams / 100 * 4
    brought = float(per_100[zinc]) * other.lines[0].amount.grams / 100 * 4
    assert food.id and brought > 0
    case = held_to(juniper, "ZN", Limit("ZN", "mg", 10.0, None, 40.0))
    left = beside(case, [other, flawed(juniper)], [], 1).requirements.limits["ZN"]
    own = 3 * juniper.energy.target_kcal
    every = (own + brought_kcal) / 1000
    assert left.minimum == pytest.approx((10 * every * 1.01 - brought) / own * 1000)
    # Of a maximum more would be left; no day passes the recipe's own.
    assert (40 * every * 0.99 - brought) / own * 1000 > 40 and left.maximum == 40.0
    # Alone it is asked what the round is asked.
    alone = beside(case, [flawed(juniper)], [], 0).requirements.limits["ZN"]
    assert alone.minimum == pytest.approx(10.1) and alone.maximum == pytest.approx(39.6)


def test_what_the_others_bring_too_much_of_leaves_less(juniper: Dossier, balanced: Turn) -> None:
    sums = sum_lines(juniper.library, balanced.lines, balanced.covers_days)
    zinc = sums.amount("ZN") / sums.kcal * 1000
    case = held_to(juniper, "ZN", Limit("ZN", "mg", None, None, zinc * 0.9))
    left = beside(case, [balanced, flawed(juniper)], [], 1).requirements.limits["ZN"]
    assert left.maximum is not None and 0 < left.maximum < zinc * 0.9
    # What is given every day makes the recipe's own day smaller.
    oil = read_line(juniper.reference.methods, juniper.library, LineText("usda:04053", "5 g"))
    given = beside(case, [flawed(juniper)], [Daily(DailyKind.TOPPER, oil)], 0)
    assert given.energy.target_kcal == pytest.approx(
        juniper.energy.target_kcal - sum_lines(juniper.library, [oil], 1).kcal
    )


def test_what_is_given_every_day_counts_on_the_days_of_the_recipe_too(juniper: Dossier) -> None:
    oil = read_line(juniper.reference.methods, juniper.library, LineText("usda:04053", "5 g"))
    per_100 = juniper.library.values[oil.row]
    vitamin_e, kcal = (
        float(per_100[juniper.library.catalogue.index(k)]) * 5 / 100 for k in ("TOCPHA", "ENERC")
    )
    case = held_to(juniper, "TOCPHA", Limit("TOCPHA", "mg", 8.0, None, None))
    left = beside(case, [flawed(juniper)], [Daily(DailyKind.TOPPER, oil)], 0)
    own = 3 * (juniper.energy.target_kcal - kcal)
    every = (own + 3 * kcal) / 1000
    expected = (8 * every * 1.01 - 3 * vitamin_e) / own * 1000
    assert left.requirements.limits["TOCPHA"].minimum == pytest.approx(expected)


def test_what_is_given_on_the_same_day_is_taken_off_what_no_day_may_pass(juniper: Dossier) -> None:
    """Of 20 and 25 mg per 1000 kcal of the day, by hand; without daily items they stand as they are."""
    oil = read_line(juniper.reference.methods, juniper.library, LineText("usda:04053", "40 g"))
    per_100 = juniper.library.values[oil.row]
    vitamin_e, kcal = (
        float(per_100[juniper.library.catalogue.index(k)]) * 0.4 for k in ("TOCPHA", "ENERC")
    )
    case = held_to(juniper, "TOCPHA", Limit("TOCPHA", "mg", None, None, 20.0, safe=25.0))
    daily = [Daily(DailyKind.TOPPER, oil)]
    left = beside(case, [flawed(juniper)], daily, 0).requirements.limits["TOCPHA"]
    own = juniper.energy.target_kcal - kcal
    for bound, found in ((20, left.maximum), (25, left.safe)):
        expected = (bound * (own + kcal) / 1000 * 0.99 - vitamin_e) / own * 1000
        assert found == pytest.approx(expected) and found != pytest.approx(bound, rel=0.05)
    alone = beside(case, [flawed(juniper)], [], 0).requirements.limits["TOCPHA"]
    assert alone.safe == 25


def test_what_the_others_may_hold_counts_against_a_maximum_and_what_is_estimated_not_for_a_minimum(
    juniper: Dossier, balanced: Turn
) -> None:
    lines, days = whole_round([balanced], [])
    sums = sum_lines(juniper.library, lines, days)
    extra = np.where(np.isfinite(sums.may_hold), sums.may_hold, 0.0)
    at = int(np.argmax(extra / np.maximum(sums.known, 1e-9)))
    key = juniper.library.catalogue.keys[at]
    mean = float(sums.known[at]) / sums.kcal * 1000
    assert extra[at] > 0
    case = held_to(juniper, key, Limit(key, "", None, None, 3 * mean + 1))
    left = beside(case, [balanced, flawed(juniper)], [], 1).requirements.limits[key].maximum
    own = 3 * juniper.energy.target_kcal
    most = ((3 * mean + 1) * (own + sums.kcal) / 1000 * 0.99 - sums.known[at] - extra[at]) / own
    assert left == pytest.approx(min(3 * mean + 1, max(0.0, float(most) * 1000)))
    soft = int(np.argmax(sums.estimated))
    key = juniper.library.catalogue.keys[soft]
    level = float(sums.known[soft]) / sums.kcal * 1000
    case = held_to(juniper, key, Limit(key, "", level, None, None))
    minimum = [
        beside(replace(case, policy=policy), [balanced, flawed(juniper)], [], 1)
        .requirements.limits[key]
        .minimum
        for policy in (Policy.GRADED, Policy.STRICT)
    ]
    assert minimum[0] is not None and minimum[1] is not None and sums.estimated[soft] > 0
    missing = float(sums.estimated[soft]) / own * 1000
    assert minimum[1] - minimum[0] == pytest.approx(missing)


@pytest.mark.parametrize("policy", [Policy.GRADED, Policy.STRICT])
@pytest.mark.parametrize("doubt", ["may_hold", "spread"])
def test_the_most_that_others_may_bring_is_taken_off_a_maximum(
    juniper: Dossier, balanced: Turn, policy: Policy, doubt: str
) -> None:
    """They bring more than their share of it at most, so that less is left; what an estimate is off by counts where
    estimates are not taken for granted."""
    lines, days = whole_round([balanced], [])
    sums = sum_lines(juniper.library, lines, days)
    more = np.where(np.isfinite(sums.may_hold), sums.may_hold, 0.0)
    if policy is Policy.STRICT:
        more = more + sums.spread
    width = np.where(sums.known > 0, getattr(sums, doubt), 0.0)
    width = np.where(np.isfinite(sums.may_hold), width, 0.0)
    at = int(np.argmax(width / np.maximum(sums.known, 1e-9)))
    key, most = juniper.library.catalogue.keys[at], float(sums.known[at] + more[at])
    bound = 0.9 * most / sums.kcal * 1000
    case = replace(held_to(juniper, key, Limit(key, "", None, None, bound)), policy=policy)
    left = beside(case, [balanced, flawed(juniper)], [], 1).requirements.limits[key].maximum
    own = 3 * juniper.energy.target_kcal
    expected = (bound * (own + sums.kcal) / 1000 * 0.99 - most) / own * 1000
    assert width[at] > 0 and 0 < expected < bound and left == pytest.approx(expected)


@pytest.fixture(scope="module")
def found(juniper: Dossier, balanced: Turn) -> Rotation:
    return rotation(juniper, Settings(), [balanced, flawed(juniper)], [])


@pytest.mark.once
@pytest.mark.xdist_group("rotation")
def test_one_recipe_is_changed_and_the_round_holds_by_its_analysis(
    juniper: Dossier, balanced: Turn, found: Rotation
) -> None:
    assert found.before and found.holds and [a.turn for a in found.adjusted] == [1]
    lines, days = whole_round(found.turns, [])
    whole = analyse(juniper.with_lines(lines, days))
    judged = [x for x in (*whole.nutrients, *whole.ratios) if x.urgency > 0]
    assert [x.key for x in judged if x.status in {"short", "over", "unproven"}] == []
    # The balanced recipe stays as it is, and the other changes less than it would have to alone.
    assert found.turns[0] is balanced
    alone = rotation(juniper, Settings(), [flawed(juniper)], [])
    assert alone.holds and alone.adjusted[0].distance > found.adjusted[0].distance
    # What must not be passed on any day is not passed on that of the changed recipe.
    day = juniper.with_lines(one_day(found.turns[1], []), 1)
    assert not [n for n in analyse(day).nutrients if n.status in {"over", "above safe limit"}]


@pytest.mark.once
@pytest.mark.xdist_group("rotation")
def test_it_is_told_in_lines_that_read_as_what_was_found(
    juniper: Dossier, balanced: Turn, found: Rotation
) -> None:
    turns = [balanced, flawed(juniper)]
    told = rotation_result(juniper, turns, found)
    (recipe,) = told.recipes
    assert told.holds and "“as she eats” is the only recipe" in told.words
    read = read_all(juniper.reference.methods, juniper.library, recipe.lines)
    grams = [x.amount.grams for x in found.turns[1].lines]
    assert [x.food.id for x in read] == [x.food.id for x in found.turns[1].lines]
    assert [x.amount.grams for x in read] == pytest.approx(grams, rel=0.02, abs=0.02)
    assert all(c.kind is not Happens.KEPT for c in recipe.changes)
    # Read again from its text the round still holds.
    again = [balanced, replace(turns[1], lines=read)]
    assert unmet(juniper, again, []) == ()


def test_a_day_that_passes_a_maximum_is_told_though_the_round_does_not(
    juniper: Dossier, balanced: Turn
) -> None:
    day = sum_lines(juniper.library, balanced.lines, balanced.covers_days)
    own = day.amount("ZN") / day.kcal * 1000
    plain = Turn("plain", juniper.lines, juniper.days, 20)
    # Over on its own day, and far under it in a round of twenty others.
    case = held_to(juniper, "ZN", Limit("ZN", "mg", None, None, own * 0.95))
    assert unmet(case, [plain], []) == ()
    assert unmet(case, [balanced, plain], []) == ("ZN",)


def test_a_round_that_holds_is_left_alone(juniper: Dossier, balanced: Turn) -> None:
    found = rotation(juniper, Settings(), [balanced], [])
    assert found.adjusted == () and found.holds
    assert "nothing needs to change" in rotation_result(juniper, [balanced], found).words


def test_a_line_that_is_kept_keeps_its_text(juniper: Dossier) -> None:
    turn = flawed(juniper)
    texts = lines_with(turn, (), juniper.measures)
    assert [t.quantity for t in texts] == [x.text.quantity for x in turn.lines if x.text]
    assert np.isclose([t.grams or 0 for t in texts], [x.amount.grams for x in turn.lines]).all()


def test_what_cannot_be_asked_is_refused(juniper: Dossier) -> None:
    with pytest.raises(InputError) as empty:
        rotation(juniper, Settings(), [replace(flawed(juniper), days=0)], [])
    assert empty.value.field == "turns"
    much = read_line(juniper.reference.methods, juniper.library, LineText("usda:04053", "50 g"))
    with pytest.raises(InputError) as full:
        rotation(juniper, Settings(), [flawed(juniper)], [Daily(DailyKind.TREAT, much)])
    assert full.value.field == "items"
