"""Foods in the place of a line: what is told of each is what the analysis says when it is there."""

from collections import Counter

import pytest
import stews
from wainscot_core.analysis.adequacy import Status
from wainscot_core.analysis.analyse import analyse
from wainscot_core.bowl.exclusions import why_unfit
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.formulation.adjust import Keep
from wainscot_core.formulation.helpful import broken, mended
from wainscot_core.formulation.replacing import MOST_OF_SPECIES, MOST_SHOWN, replacements
from wainscot_core.recipe.line import LineText, read_line

HELD = {"met", "off advice", "no limit"}
THIGH, RICE, OIL, CALCIUM = range(4)


@pytest.fixture(scope="module")
def stew(facts: Reference) -> Dossier:
    return stews.dossier(facts, reactions=[{"food": "turkey"}])


def statuses(dossier: Dossier) -> dict[str, str]:
    found = analyse(dossier)
    return {
        **{n.short: n.status for n in found.nutrients},
        **{r.short: r.status for r in found.ratios},
    }


@pytest.mark.parametrize("line", [THIGH, RICE, OIL])
@pytest.mark.parametrize("keep", list(Keep))
def test_what_is_told_is_what_the_analysis_says(
    facts: Reference, stew: Dossier, line: int, keep: Keep
) -> None:
    if (line, keep) == (OIL, Keep.PROTEIN):
        assert replacements(stew, line, keep).found == ()
        return
    before, told = statuses(stew), replacements(stew, line, keep)
    assert 3 <= len(told.found) <= MOST_SHOWN
    names = {n.key: n.short for n in facts.catalogue.nutrients}
    for found in told.found:
        text = LineText(food=found.food, quantity=found.quantity)
        lines = list(stew.lines)
        lines[line] = read_line(facts.methods, stew.library, text)
        after = statuses(stew.with_lines(lines))
        assert [after[names[k]] for k in told.keys] == list(found.boards.statuses)
        # Broken is what was held, or not yet too much; mended what was not held, or too much.
        for name in found.breaks:
            assert after[name] not in HELD
            assert after[name] != before[name]
        for name in found.mends:
            assert before[name] not in HELD
            assert after[name] != before[name]
        lost = {n for n, s in after.items() if before[n] in HELD and s not in HELD}
        assert lost <= set(found.breaks)


def test_they_are_used_alike_and_the_dog_may_have_them(facts: Reference, stew: Dossier) -> None:
    found = replacements(stew, THIGH, Keep.ENERGY).found
    foods = [stew.library.food(r.food) for r in found]
    assert {f.attributes.group for f in foods} <= {"muscle", "processed-meat"}
    assert not any(why_unfit(f, stew.avoid) for f in foods)
    # A dog that may have turkey is offered it.
    free = replacements(stews.dossier(facts), THIGH, Keep.ENERGY).found
    assert any("turkey" in stew.library.food(r.food).allergens for r in free)
    assert not any("turkey" in f.allergens for f in foods)
    assert max(Counter(f.attributes.species for f in foods).values()) <= MOST_OF_SPECIES
    # Energy is kept as far as an amount can be measured; cooking changes no energy of the meat.
    kcal = float(analyse(stew).recipe.lines[THIGH].kcal)
    assert all(r.kcal == pytest.approx(kcal, rel=0.1) for r in found)


def test_the_gentlest_comes_first(stew: Dossier) -> None:
    for line in (THIGH, RICE, OIL):
        found = replacements(stew, line, Keep.ENERGY).found
        ranks = [(len(r.breaks), bool(r.caution), -len(r.mends)) for r in found]
        assert ranks == sorted(ranks)


def test_a_bottle_is_replaced_by_no_food(stew: Dossier) -> None:
    assert replacements(stew, CALCIUM, Keep.ENERGY).found == ()


@pytest.mark.parametrize("line", [-1, 5])
def test_a_line_there_is_not(stew: Dossier, line: int) -> None:
    with pytest.raises(InputError, match="no line"):
        replacements(stew, line, Keep.ENERGY)


def test_what_is_broken_and_what_is_mended() -> None:
    before = {
        "a": Status.MET,
        "b": Status.MET,
        "c": Status.SHORT,
        "d": Status.OVER,
        "e": Status.UNPROVEN,
        "f": Status.OVER,
    }
    after = {
        "a": Status.OVER,
        "b": Status.UNPROVEN,
        "c": Status.MET,
        "d": Status.OVER,
        "e": Status.OFF_ADVICE,
        "f": Status.MET,
    }
    assert broken(before, after) == ("a", "b")
    assert mended(before, after) == ("c", "e")
    # From one excess to another, nothing new is broken; from short to over, it is.
    assert broken({"a": Status.OVER}, {"a": Status.ABOVE_SAFE}) == ()
    assert broken({"a": Status.SHORT}, {"a": Status.OVER}) == ("a",)
