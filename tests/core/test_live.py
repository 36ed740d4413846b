"""Bounds of one formulation: they only tighten, the nearest recipe follows them at once, and the measurable one after."""

from dataclasses import replace

import pytest
from signed import CASES, dossier_of
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.formulation.answer import answer_of
from wainscot_core.formulation.bounds import SOURCE, OwnBound, bounded
from wainscot_core.formulation.candidates import LineRule
from wainscot_core.formulation.impasse import WITH_VET, harm_at, level_of
from wainscot_core.formulation.live import LiveAnswer, live_answer
from wainscot_core.formulation.proposal import State
from wainscot_core.formulation.question import Settings, check_settings, problem_of
from wainscot_core.formulation.rows import Group, GroupKind
from wainscot_core.formulation.settings import read_settings
from wainscot_core.targets.standards import Strength


@pytest.fixture(scope="module")
def case(facts: Reference) -> Dossier:
    return dossier_of(facts, next(c for c in CASES if c["id"] == "adult-18"))


def level(answer: LiveAnswer, key: str) -> float:
    assert answer.analysis is not None
    found = next(n for n in answer.analysis.nutrients if n.key == key)
    assert found.per_1000_kcal is not None
    return found.per_1000_kcal


def asked(case: Dossier, settle: bool = False, **bounds: OwnBound) -> LiveAnswer:
    return live_answer(case, Settings(bounds=bounds), settle)


@pytest.mark.parametrize("settle", [False, True])
def test_a_bound_is_followed_and_the_targets_stay(case: Dossier, settle: bool) -> None:
    free = asked(case, settle)
    more = level(free, "PROCNT") * 1.2
    answer = asked(case, settle, PROCNT=OwnBound(least=more))
    assert (answer.state, answer.short, answer.over) == (State.MET, (), ())
    assert level(answer, "PROCNT") >= more * (1 - 1e-6)
    less = level(free, "FAT") * 0.7
    answer = asked(case, settle, FAT=OwnBound(most=less))
    assert level(answer, "FAT") <= less * (1 + 1e-6)
    assert answer.settled is settle


def test_measurable_amounts_are_told_and_continuous_ones_are_not(case: Dossier) -> None:
    bound = OwnBound(least=80)
    moving, rested = asked(case, PROCNT=bound), asked(case, True, PROCNT=bound)
    assert {a.after for a in moving.amounts} == {""}
    assert all(a.after for a in rested.amounts if a.after_grams)


def test_a_line_within_bounds_of_its_own(case: Dossier) -> None:
    grams = case.lines[0].amount.grams
    rules = {0: LineRule("free", low_grams=grams * 1.1, high_grams=grams * 1.2)}
    answer = live_answer(case, Settings(line_rules=rules), False)
    mine = next(a for a in answer.amounts if a.line == 0)
    assert grams * 1.1 - 1e-6 <= mine.after_grams <= grams * 1.2 + 1e-6


def test_a_bound_only_tightens(case: Dossier) -> None:
    limit = case.requirements.limits["PROCNT"]
    assert limit.minimum is not None
    loose = bounded(case, {"PROCNT": OwnBound(least=limit.minimum / 2)})
    assert loose.requirements.limits["PROCNT"].minimum == limit.minimum
    assert loose.requirements.limits["PROCNT"].origins == limit.origins
    tight = bounded(case, {"PROCNT": OwnBound(least=limit.minimum * 2)}).requirements
    first = tight.limits["PROCNT"].origins[0]
    assert (first.strength, first.value) == (Strength.OWN, limit.minimum * 2)
    # The safe limit holds whatever is asked.
    zinc = bounded(case, {"ZN": OwnBound(most=10_000)}).requirements.limits["ZN"]
    assert zinc.ceiling == case.requirements.limits["ZN"].ceiling


@pytest.mark.parametrize(
    ("bounds", "field"),
    [
        ({"PROCNT": OwnBound(least=90, most=60)}, "bounds.PROCNT"),
        ({"ZN": OwnBound(most=1)}, "bounds.ZN"),
        ({"ZN": OwnBound(least=-1)}, "bounds.ZN"),
        ({"NOTHING": OwnBound(least=1)}, "bounds.NOTHING"),
    ],
)
def test_a_bound_that_cannot_be_is_refused_by_name(
    case: Dossier, bounds: dict[str, OwnBound], field: str
) -> None:
    with pytest.raises(InputError) as refused:
        live_answer(case, Settings(bounds=bounds), False)
    assert refused.value.field == field


def test_a_bound_that_nothing_reaches_is_said_and_gives_way_first(case: Dossier) -> None:
    limit = OwnBound(most=20)
    settings = Settings(bounds={"PROCNT": OwnBound(least=240), "FAT": limit, "CHOCDF": limit})
    moving = live_answer(case, settings, False)
    assert moving.state in {State.SHORT, State.IMPOSSIBLE}
    told = answer_of(case, settings).told
    assert told.state is not State.MET and told.conflicts
    ways = [w for c in told.conflicts for w in c.ways_out]
    assert ways[0].text.startswith("Lower your bound on Protein from 240") and not ways[0].with_vet


def test_a_bound_that_gives_way_past_a_target_does_as_much_harm_as_the_target(
    facts: Reference,
) -> None:
    kidney = dossier_of(facts, next(c for c in CASES if c["id"] == "kidney-2"))
    limit = kidney.requirements.limits["P"]
    assert limit.ceiling is not None and limit.minimum is not None
    tight = {"P": OwnBound(most=(limit.ceiling + limit.minimum) / 2)}
    problem = problem_of(
        bounded(kidney, tight),
        check_settings(facts, Settings(bounds=tight)),
    )
    group, grams = Group(GroupKind.MAX, "P"), problem.current
    level = level_of(problem, "P", grams, False)
    for ceiling, harm in ((level * 1.01, 1), (level * 0.99, WITH_VET)):
        limit = problem.requirements.limits["P"]
        under = [o for o in limit.origins if o.overridden_by == SOURCE]
        moved = replace(
            limit, safe=None, origins=(limit.origins[0], *(replace(o, value=ceiling) for o in under)),
        )  # fmt: skip
        limits = {**problem.requirements.limits, "P": moved}
        held = replace(problem, requirements=replace(problem.requirements, limits=limits))
        assert harm_at(held, group, 1, grams) == harm
        safe = replace(moved, safe=level * 0.99)
        held = replace(
            problem, requirements=replace(problem.requirements, limits={**limits, "P": safe})
        )
        assert harm_at(held, group, 1, grams) is None


def test_bounds_stand_in_a_case_file(case: Dossier) -> None:
    settings = read_settings({"bounds": {"PROCNT": {"least": 80}}})
    told = answer_of(case, settings).told
    assert told.alternatives[0].levels["PROCNT"] >= 80 * (1 - 1e-6)
