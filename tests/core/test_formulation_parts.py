"""Parts of the formulation on problems small enough to know the answer."""

import itertools
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from feasibility import possible
from hypothesis import given, settings
from hypothesis import strategies as st
from printed import formulated
from shelf import PREMIX, SHELF
from wainscot_core.analysis.adequacy import judge, judge_ratios
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.facts.formulation_rules import FormulationRules
from wainscot_core.formats.casefile import read_case
from wainscot_core.formulation.candidates import (
    LineRule,
    amount_text,
    increment_of,
    kind_of,
    open_questions,
)
from wainscot_core.formulation.choices import choices_of
from wainscot_core.formulation.costs import AT_LIMIT, binding, limit_costs
from wainscot_core.formulation.formulate import formulate
from wainscot_core.formulation.impasse import (
    Impasse,
    find_impasse,
    level_of,
    loosenings,
    outside_of,
    together,
)
from wainscot_core.formulation.impasse_words import (
    group_words,
    impasse_result,
    loosening_words,
    number,
    relief_words,
)
from wainscot_core.formulation.model import A_BOWL, Model, build, macro_kcal, tightest
from wainscot_core.formulation.most import useful_most
from wainscot_core.formulation.passes import solve
from wainscot_core.formulation.problem import Guide, Increment, Problem
from wainscot_core.formulation.proposal import changes_of, lines_of
from wainscot_core.formulation.question import (
    Checked,
    Settings,
    check_settings,
    default_allowed,
    problem_of,
)
from wainscot_core.formulation.rows import RESERVE, Group, GroupKind, limit_rows
from wainscot_core.formulation.settings import read_settings
from wainscot_core.formulation.solver import Solver, bounds_of
from wainscot_core.formulation.words import cost_words, proposal_result
from wainscot_core.recipe.line import sum_lines
from wainscot_core.targets.standards import Limit, RequirementSet

CHICKEN, RICE, CARROT, OIL = "usda:05098", "usda:20445", "usda:11125", "usda:04053"


def case_of(facts: Reference, lines: list[dict[str, Any]], **data: Any) -> Dossier:
    base = {
        "format": "wainscot-case", "version": 1, "dog": {"name": "T", "weight_kg": 10},
        "energy": {"kcal_per_day": 600}, "targets": {"standard": "nrc-2006"},
        "recipe": {"covers_days": 1, "lines": lines}, "shelf": SHELF,
    }  # fmt: skip
    return read_case(facts, {**base, **data})


PLAIN = [
    {"food": CHICKEN, "grams": 150}, {"food": RICE, "grams": 200}, {"food": CARROT, "grams": 50},
    {"food": OIL, "amount": 1, "unit": "tsp"},
]  # fmt: skip


def problem_for(facts: Reference, case: Dossier, asked: Settings | None = None) -> Problem:
    return problem_of(case, check_settings(facts, asked or Settings()))


# Steps and amounts


@pytest.mark.parametrize(
    ("food", "unit", "unit_grams", "batch", "expected"),
    [
        # Round steps of three in a hundred at least: less is nobody's change.
        (CHICKEN, "g", 1.0, 30.0, Increment(1, "g", 1)),
        (CHICKEN, "g", 1.0, 150.0, Increment(5, "g", 5)),
        (CHICKEN, "g", 1.0, 900.0, Increment(50, "g", 50)),
        # A cup stays a cup.
        (RICE, "cup", 158.0, 316.0, Increment(39.5, "cup", 0.25)),
        (OIL, "tsp", 4.5, 4.5, Increment(0.125 * 4.5, "tsp", 0.125)),
        ("usda:01129", "each large", 50.0, 100.0, Increment(50, "each large", 1)),
        # An egg that is added is a whole one; a line weighed in grams stays in grams.
        ("usda:01129", "g", 1.0, 0.0, Increment(50, "each large", 1)),
        ("usda:01129", "g", 1.0, 80.0, Increment(5, "g", 5)),
        ("supp:calcium-carbonate", "g", 1.0, 3.0, Increment(2.7 / 8, "tsp", 0.125)),
        ("supp:zinc-tablet-10", "tablet", 0.25, 0.5, Increment(0.125, "tablet", 0.5)),
        ("supp:vitamin-e-drops", "drop", 0.03, 0.3, Increment(0.03, "drop", 1)),
    ],
)
def test_steps_are_what_a_person_can_give(
    facts: Reference, food: str, unit: str, unit_grams: float, batch: float, expected: Increment
) -> None:
    found = increment_of(
        facts.formulation,
        facts.library.food(food),
        unit,
        unit_grams,
        batch,
    )
    assert found.unit == expected.unit
    assert found.grams == pytest.approx(expected.grams)
    assert found.count == pytest.approx(expected.count)


def test_kinds_are_told_apart(facts: Reference) -> None:
    library = case_of(facts, PLAIN).library
    kinds = [kind_of(library.food(i)) for i in (CHICKEN, "supp:taurine", PREMIX)]
    assert kinds == ["food", "single", "premix"]


def test_a_supplement_without_its_strength_is_no_candidate(facts: Reference) -> None:
    assert open_questions(facts.library, facts.library.food("supp:kelp-powder")) == ["ID"]
    problem = problem_for(facts, case_of(facts, PLAIN), Settings(allowed=("supp:kelp-powder",)))
    assert [c.food.id for c in problem.candidates] == [CHICKEN, RICE, CARROT, OIL]


def test_a_blocked_salt_is_no_candidate(facts: Reference) -> None:
    allowed = Settings(allowed=("supp:potassium-iodide", "supp:iodine-tablet-150"))
    problem = problem_for(facts, case_of(facts, PLAIN), allowed)
    assert [c.food.id for c in problem.candidates if c.is_supplement] == ["supp:iodine-tablet-150"]


def test_pieces_are_bounded_by_what_anyone_gives(facts: Reference) -> None:
    case = case_of(facts, PLAIN, recipe={"covers_days": 3, "lines": PLAIN})
    problem = problem_for(
        facts, case, Settings(allowed=("supp:vitamin-e-drops", "supp:fish-oil-pump"))
    )
    drops = next(c for c in problem.candidates if c.food.id == "supp:vitamin-e-drops")
    # Twelve drops a day of 0.03 g for three days, or fewer where fewer are of use.
    assert drops.high_grams <= 12 * 0.03 * 3 + 1e-9


def test_no_more_of_a_supplement_than_meets_its_minimum_alone(facts: Reference) -> None:
    case = case_of(facts, PLAIN)
    problem = problem_for(facts, case, Settings(allowed=("supp:zinc-tablet-10",), margin_percent=0))
    zinc = next(c for c in problem.candidates if c.is_supplement)
    minimum = case.requirements.limits["ZN"].minimum
    assert minimum is not None
    # 10 mg in 0.25 g; the kcal of the batch may be 10 % over the target.
    needed = minimum * 600 * 1.1 / 1000 / 10 * 0.25
    assert needed <= zinc.high_grams <= needed + zinc.increment.grams + 1e-9


def test_useful_most_leaves_lines_alone(facts: Reference) -> None:
    case = case_of(facts, [*PLAIN, {"food": "supp:calcium-carbonate", "grams": 9}])
    problem = problem_for(facts, case)
    bounded = useful_most(
        problem.candidates, problem.contents, problem.catalogue, problem.requirements, 600
    )
    line = next(c for c in bounded if c.food.id == "supp:calcium-carbonate")
    assert line.line == 4 and line.high_grams >= 9


def test_what_is_advised_can_be_added_in_an_amount_that_can_be_measured(facts: Reference) -> None:
    """250 mg of taurine per 1000 kcal are advised; the least powder is a quarter of a spoon of 3.5 g."""
    targets = {"standard": "nrc-2006", "conditions": [{"id": "vegetarian", "stage": "adult"}]}
    problem = problem_for(facts, case_of(facts, PLAIN, targets=targets))
    taurine = next(c for c in problem.candidates if c.food.id == "supp:taurine")
    assert taurine.high_grams >= taurine.least_grams == pytest.approx(0.875)
    every = [c for c in problem.candidates if c.line is None and c.is_supplement]
    assert all(c.high_grams >= c.least_grams for c in every)


@given(st.integers(1, 400))
def test_a_written_amount_of_eighths_reads_back(eighths: int) -> None:
    increment = Increment(0.5, "tsp", 0.125)
    text = amount_text(increment, eighths * 0.5)
    number, _, unit = text.rpartition(" ")
    whole, _, fraction = number.rpartition(" ")
    total = float(whole or 0)
    if "/" in fraction:
        above, below = fraction.split("/")
        total += int(above) / int(below)
    else:
        total += float(fraction)
    assert unit == "tsp"
    assert total == pytest.approx(eighths / 8)


# The model against the analysis


@settings(max_examples=40, deadline=None)
@given(grams=st.lists(st.floats(1, 600), min_size=4, max_size=4))
def test_a_limit_row_is_negative_exactly_when_the_analysis_says_so(grams: list[float]) -> None:
    case, rows, lines = _rows()
    recipe = tuple(
        replace(line, amount=replace(line.amount, grams=g))
        for line, g in zip(lines, grams, strict=True)
    )
    sums = sum_lines(case.library, recipe, 1)
    verdicts = {f.key: f for f in judge(sums, case.requirements)}
    for row in rows:
        finding = verdicts.get(row.group.key)
        if finding is None or finding.value is None or finding.limit is None:
            continue
        room = float(row.coefficients @ np.array(grams))
        printed = case.requirements.limits[row.group.key]
        bound = printed.minimum if row.group.kind == "min" else printed.ceiling
        for rise in printed.rises:
            if rise.other == row.group.other:
                # Below what it rises from the row asks less than the plain minimum beside it.
                other = verdicts[rise.other].value
                bound = rise.base + rise.per_unit * (other - rise.above)
        assert bound is not None
        # A maximum is kept by the most there can be, what is not known included.
        most = finding.value if finding.most is None else finding.most
        value = finding.value if row.group.kind == "min" else most
        away = value / bound - 1 if bound else value
        if abs(away) < 10 * RESERVE:
            continue
        holds = value >= bound if row.group.kind == "min" else value <= bound
        assert (room >= 0) == holds, row.group


_CACHE: dict[str, Any] = {}


def _rows() -> Any:
    if not _CACHE:
        from wainscot_core.dossier import reference

        root = Path(__file__).resolve().parents[2]
        facts = reference.load(root / "reference")
        case = case_of(facts, PLAIN)
        problem = problem_for(facts, case, Settings(allowed=()))
        _CACHE["all"] = (case, limit_rows(problem), case.lines)
    return _CACHE["all"]


def test_ratio_rows_agree_with_the_analysis(facts: Reference) -> None:
    case = case_of(
        facts, [*PLAIN, {"food": "supp:calcium-carbonate", "grams": 1.5}],
        targets={"standard": "aafco-2016", "life_stage": "adult"},
    )  # fmt: skip
    problem = problem_for(facts, case, Settings(allowed=()))
    ratio = {r.group.kind: r for r in limit_rows(problem) if r.group.key == "CA_P"}
    for calcium in np.linspace(0.1, 6, 25):
        lines = (
            *case.lines[:4],
            replace(case.lines[4], amount=replace(case.lines[4].amount, grams=float(calcium))),
        )
        sums = sum_lines(case.library, lines, 1)
        found = next(r for r in judge_ratios(sums, case.requirements) if r.ratio.key == "CA_P")
        grams = np.array([line.amount.grams for line in lines])
        assert found.value is not None
        assert (float(ratio["min"].coefficients @ grams) >= 0) == (found.value >= 1 + 1e-6)
        assert (float(ratio["max"].coefficients @ grams) >= 0) == (found.value <= 2 - 2e-6)


def test_the_margin_raises_minimums_only(facts: Reference) -> None:
    case = case_of(facts, PLAIN)
    plain = {r.group: r for r in limit_rows(problem_for(facts, case))}
    aimed = {r.group: r for r in limit_rows(problem_for(facts, case, Settings(margin_percent=20)))}
    zinc, fat = Group("min", "ZN"), Group("max", "FAT")
    assert (aimed[zinc].coefficients <= plain[zinc].coefficients + 1e-12).all()
    assert not np.allclose(aimed[zinc].coefficients, plain[zinc].coefficients)
    np.testing.assert_allclose(aimed[fat].coefficients, plain[fat].coefficients)


def test_tightest_bounds_cut_off_nothing_feasible(facts: Reference) -> None:
    case = case_of(
        facts, PLAIN, targets={"standard": "nrc-2006", "conditions": [{"id": "mmvd", "stage": "C"}]}
    )
    problem = problem_for(facts, case)
    caps = tightest(problem)
    # Alone at its bound an item breaks a maximum or the frame of energy as soon as it is passed.
    most_kcal = problem.kcal * (1 + problem.energy_frame)
    for j, c in enumerate(problem.candidates):
        assert caps[j] <= c.high_grams + 1e-9
        if caps[j] < c.high_grams - 1e-9:
            grams = np.zeros(len(problem.candidates))
            grams[j] = caps[j] * 1.01
            energy = float(problem.contents.kcal @ grams)
            over = energy > most_kcal or any(
                limit.ceiling
                and key in problem.catalogue
                and float(problem.contents.high[:, problem.catalogue.index(key)] @ grams)
                > limit.ceiling * most_kcal / 1000
                for key, limit in problem.requirements.limits.items()
            )
            assert over


def test_policies_count_estimates_as_the_analysis_does(facts: Reference) -> None:
    case = case_of(facts, PLAIN)
    amounts = {}
    for policy in ("graded", "strict", "cautious"):
        bench = replace(case, policy=policy)
        problem = problem_of(bench, check_settings(facts, Settings(allowed=())))
        at = facts.catalogue.index("LYS")
        grams = problem.current
        amounts[policy] = (
            float(problem.contents.low[:, at] @ grams), float(problem.contents.high[:, at] @ grams),
        )  # fmt: skip
    sums = sum_lines(case.library, case.lines, 1)
    whole = sums.amount("LYS")
    firm = whole - float(sums.estimated[facts.catalogue.index("LYS")])
    assert amounts["graded"] == pytest.approx((whole, whole))
    # What is not counted as known may still be there: the maximum is kept by it.
    assert amounts["strict"] == pytest.approx((firm, whole))
    assert amounts["cautious"] == pytest.approx((firm, whole))


def test_cooking_is_counted_in_the_solver_too(facts: Reference) -> None:
    raw = {"food": "usda:05096", "grams": 200, "preparation": "simmered-discarded"}
    methods = {m.id for m in facts.methods}
    raw["preparation"] = next(
        m.id
        for m in facts.methods
        if m.use_on(facts.library.food("usda:05096")) and not m.liquid_kept
    )
    assert raw["preparation"] in methods
    case = case_of(facts, [raw, {"food": RICE, "grams": 150}])
    problem = problem_for(facts, case, Settings(allowed=()))
    sums = sum_lines(case.library, case.lines, 1)
    for key in ("PROCNT", "FAT", "THIA", "K", "ENERC"):
        at = facts.catalogue.index(key)
        found = float(problem.contents.high[:, at] @ problem.current)
        assert found == pytest.approx(sums.amount(key), rel=1e-9), key
    assert float(problem.contents.fed @ problem.current) == pytest.approx(sums.total_grams)


# Passes


def test_a_later_goal_never_worsens_an_earlier_one(facts: Reference) -> None:
    case = case_of(facts, PLAIN)
    problem = replace(problem_for(facts, case), give={}, gap=1e-6, time_limit_s=60)
    model = build(problem)
    solution = solve(model)
    assert solution.columns is not None
    for found in solution.passes:
        final = float(model.objectives[found.goal] @ solution.columns)
        assert final <= found.value + 1e-6 * max(1.0, abs(found.value)) + 1e-6


def test_progress_is_told_goal_by_goal(facts: Reference) -> None:
    told: list[tuple[int, int, str]] = []
    case = case_of(facts, PLAIN)
    formulate(case, Settings(), lambda *x: told.append(x))
    done = [x[0] for x in told]
    assert done == sorted(done) and told[-1][0] == told[-1][1]
    assert told[0][2] == "energy"


def test_fewer_supplements_are_used_when_fewer_are_allowed(facts: Reference) -> None:
    case = case_of(facts, PLAIN)
    for most in (0, 1, 2, 3):
        proposal = formulate(case, Settings(max_supplements=most))
        count = sum(line.food.klass == "supplement" for line in proposal.lines)
        assert count <= most


def test_the_school_decides_between_a_premix_and_singles(facts: Reference) -> None:
    case = case_of(facts, PLAIN)
    first = ("minimums", "energy", "school", "near", "fewest")

    def premixes(school: str) -> int:
        asked = Settings(
            mode="close", school=school, goals=first, max_supplements=20, time_limit_s=20
        )
        proposal = formulate(case, asked)
        assert proposal.state == "met"
        return sum(line.food.id.startswith("shelf:premix") for line in proposal.lines)

    assert premixes("premix") >= 1
    assert premixes("single") == 0


def test_a_guide_pulls_the_proportions(facts: Reference) -> None:
    case = case_of(facts, PLAIN)
    way = facts.feeding.ways["protein-starch-vegetable"]
    from wainscot_core.recipe.proportions import gauges, groups_of

    parts = groups_of(facts.feeding, way, [x.food for x in case.lines])
    asked = Settings(
        goals=("minimums", "energy", "school", "near", "fewest"),
        guide=Guide(parts, way.shares), allowed=(PREMIX, "supp:fish-oil"),
    )  # fmt: skip
    proposal = formulate(case, asked)
    mine = [x for x in proposal.lines if x.food.klass != "supplement"]
    found = gauges(facts.feeding, way, [x.food for x in mine], [x.fed_grams for x in mine])
    assert [g.share for g in found] == pytest.approx([g.wanted for g in found], abs=0.03)


def test_from_scratch_needs_only_a_list(facts: Reference) -> None:
    case = case_of(facts, [{"food": CHICKEN, "grams": 1}])
    allowed = (
        RICE,
        CARROT,
        "usda:04510",
        PREMIX,
        "supp:fish-oil",
        "supp:choline-bitartrate",
    )
    proposal = formulate(case, Settings(mode="scratch", allowed=allowed))
    assert proposal.state == "met"
    kcal = sum_lines(case.library, proposal.lines, 1).kcal
    assert kcal == pytest.approx(600, rel=0.021)


def test_nothing_is_changed_that_need_not_be(facts: Reference) -> None:
    case = case_of(facts, PLAIN)
    first = formulate(case, Settings())
    again = formulate(replace(case, lines=first.lines), Settings())
    assert again.state == "met"
    assert {c.kind for c in again.changes} == {"kept"}


def test_changes_and_lines_tell_the_same(facts: Reference) -> None:
    case = case_of(facts, PLAIN)
    bench = case
    problem = problem_of(bench, check_settings(facts, Settings()))
    grams = problem.current.copy()
    grams[1] = 0.0
    grams[0] = 120.0
    extra = next(j for j, c in enumerate(problem.candidates) if c.line is None)
    grams[extra] = problem.candidates[extra].increment.grams * 3
    kinds = {c.food: c.kind for c in changes_of(bench, build(problem), grams)}
    assert kinds[RICE] == "removed" and kinds[CHICKEN] == "changed" and kinds[CARROT] == "kept"
    assert kinds[problem.candidates[extra].food.id] == "added"
    lines = lines_of(bench, problem, grams)
    assert [x.food.id for x in lines] == [CHICKEN, CARROT, OIL, problem.candidates[extra].food.id]


# Conflicts


@st.composite
def tight_limits(draw: Any) -> dict[str, tuple[float | None, float | None]]:
    """Bounds of three nutrients that often cannot hold together."""
    return {
        "PROCNT": (
            draw(st.sampled_from([None, 40.0, 120.0])),
            draw(st.sampled_from([None, 30.0, 60.0])),
        ),
        "FAT": (
            draw(st.sampled_from([None, 20.0, 60.0])),
            draw(st.sampled_from([None, 10.0, 40.0])),
        ),
        "NA": (draw(st.sampled_from([None, 200.0])), draw(st.sampled_from([None, 100.0, 400.0]))),
    }


LINE_BOUNDS = st.sampled_from([(0.0, 900.0), (20.0, 300.0), (100.0, 200.0), (250.0, 250.0)])


def test_conflicts_of_generated_limits_are_minimal(facts: Reference) -> None:
    case = case_of(facts, PLAIN[:2])
    seen = []

    @settings(max_examples=40, deadline=None)
    @given(bounds=tight_limits(), first=LINE_BOUNDS, second=LINE_BOUNDS)
    def run(
        bounds: dict[str, tuple[float | None, float | None]],
        first: tuple[float, float],
        second: tuple[float, float],
    ) -> None:
        rules = {0: LineRule("free", *first), 1: LineRule("free", *second)}
        base = problem_for(facts, case, Settings(allowed=(), line_rules=rules))
        limits = {
            key: Limit(key, facts.catalogue.get(key).unit, low, None, high)
            for key, (low, high) in bounds.items()
            if low or high
        }
        model = build(replace(base, requirements=RequirementSet("t", limits)))
        conflict = find_impasse(model)
        assert (conflict is None) == possible(model)
        if conflict is None:
            return
        assert conflict.minimal
        members = set(conflict.members)
        outside = outside_of(model, members, elastic=False)
        assert not possible(model, outside)
        for member in members:
            assert possible(model, {*outside, member})
        seen.append(len(members))
        # Each way out makes the whole problem possible.
        for way in loosenings(model, conflict):
            assert possible(model, {way.group})

    run()
    assert len([n for n in seen if n > 1]) >= 5


def test_two_bounded_lines_that_cannot_bring_the_energy_are_the_conflict(facts: Reference) -> None:
    # 200 g of roasted thigh (2.1 kcal/g) and 250 g of rice (1.3 kcal/g) bring at most about
    # 745 of the 900 kcal that 10 % below 1000 asks for, whatever else is wanted of them.
    case = case_of(facts, PLAIN[:2], energy={"kcal_per_day": 1000})
    rules = {0: LineRule("free", 100, 200), 1: LineRule("free", 100, 250)}
    problem = problem_for(facts, case, Settings(allowed=(), line_rules=rules))
    model = build(replace(problem, requirements=RequirementSet("none", {})))
    conflict = find_impasse(model)
    assert conflict is not None and conflict.minimal
    assert set(conflict.members) == {
        Group("energy"), Group("most", candidate=0), Group("most", candidate=1)
    }  # fmt: skip
    # With the most of both let go, both sides of their bounds are as if only that was let go.
    both = frozenset({Group("most", candidate=0), Group("least", candidate=0)})
    column = model.choices[Group("most", candidate=0)][0].column
    free = bounds_of(model, both)
    assert free.lower[column] == 0.0
    assert free.upper[column] == model.choices[Group("most", candidate=0)][0].relaxed
    # The order in which choices are listed decides nothing.
    turned = replace(model, choices=dict(reversed(list(model.choices.items()))))
    assert bounds_of(turned, both).upper[column] == free.upper[column]
    assert bounds_of(turned, both).lower[column] == 0.0
    assert bounds_of(model).lower[column] * problem.candidates[0].increment.grams == 100.0


def test_bounds_depend_only_on_what_is_let_go(facts: Reference) -> None:
    case = case_of(facts, PLAIN)
    rules = {0: LineRule("free", 33, 120), 1: LineRule("fixed"), 2: LineRule("excluded")}
    model = build(problem_for(facts, case, Settings(line_rules=rules)))
    solver = Solver(model, elastic=False)
    groups = model.groups()

    def loaded() -> tuple[list[float], ...]:
        lp = solver._highs.getLp()
        return (
            list(lp.col_lower_), list(lp.col_upper_), list(lp.row_lower_), list(lp.row_upper_)
        )  # fmt: skip

    untouched = loaded()

    @settings(max_examples=40)
    @given(steps=st.lists(st.sets(st.sampled_from(groups), max_size=4), min_size=1, max_size=4))
    def run(steps: list[set[Group]]) -> None:
        for released in steps:
            solver.apply(frozenset(released))
        fresh = Solver(model, elastic=False, released=frozenset(steps[-1]))
        lp = fresh._highs.getLp()
        assert loaded() == (
            list(lp.col_lower_), list(lp.col_upper_), list(lp.row_lower_), list(lp.row_upper_)
        )  # fmt: skip
        solver.apply(frozenset())
        assert loaded() == untouched

    run()


def test_a_line_off_its_steps_may_go_below_its_least_when_that_is_let_go(facts: Reference) -> None:
    # 82.5 g stands between two steps, so the line may stay as it is or take whole steps.
    lines = [{"food": CHICKEN, "grams": 82.5}, {"food": RICE, "grams": 200}]
    case = case_of(facts, lines)
    rules = {0: LineRule("free", low_grams=60)}
    problem = problem_for(facts, case, Settings(allowed=(), line_rules=rules))
    model = build(replace(problem, requirements=RequirementSet("none", {})))
    least = Group("least", candidate=0)
    objective = model.amounts[0]
    held = Solver(model).minimise(objective, 5.0)
    free = Solver(model, released=frozenset({least})).minimise(objective, 5.0)
    assert held.value == pytest.approx(60.0)
    assert free.value == pytest.approx(0.0)


def test_together_holds_everything_that_need_not_give_way(facts: Reference) -> None:
    case = case_of(facts, PLAIN[:2])
    base = problem_for(facts, case, Settings(allowed=()))
    limits = {
        "PROCNT": Limit("PROCNT", "g", 200.0, None, None),
        "FAT": Limit("FAT", "g", None, None, 5.0),
    }
    model = build(replace(base, requirements=RequirementSet("t", limits)))
    grams = together(model)
    assert grams is not None
    words = relief_words(model.problem, grams)
    assert words and all(w.startswith(("Lower", "Raise")) for w in words)
    kcal = float(model.problem.contents.kcal @ grams)
    assert 0.9 <= kcal / model.problem.kcal <= 1.1


# Costs and words


def test_a_binding_limit_is_one_the_recipe_lies_at(facts: Reference) -> None:
    case = case_of(facts, PLAIN)
    proposal = formulate(case, Settings())
    problem, grams = proposal.model.problem, proposal.solution.grams
    assert grams is not None
    for group in binding(proposal.model, grams):
        limit = problem.requirements.limits[group.key]
        value = level_of(problem, group.key, grams, True)
        bound = limit.minimum if group.kind == "min" else limit.maximum
        assert bound is not None
        assert value == pytest.approx(bound, rel=2 * AT_LIMIT)


def test_a_cap_that_costs_food_says_how_much(facts: Reference) -> None:
    # A fat cap that the recipe as it stands breaks costs chicken or oil.
    lines = [
        {"food": CHICKEN, "grams": 250},
        {"food": RICE, "grams": 100},
        {"food": OIL, "grams": 10},
    ]
    case = case_of(
        facts,
        lines,
        targets={"standard": "nrc-2006", "conditions": [{"id": "pancreatitis", "stage": "mild"}]},
    )
    proposal = formulate(case, Settings(margin_percent=0))
    assert proposal.state == "met"
    fat = next(c for c in proposal.costs if c.group == Group("max", "FAT"))
    assert fat.saving > 0 and fat.candidate is not None
    words = cost_words(proposal.model.problem, fat)
    assert words.startswith("Fat lies at its maximum of 30 g/1000 kcal; it costs")


def test_costs_leave_the_model_as_it_was(facts: Reference) -> None:
    case = case_of(facts, PLAIN)
    proposal = formulate(case, Settings())
    assert proposal.solution.grams is not None
    once = limit_costs(proposal.model, proposal.solution.grams)
    assert limit_costs(proposal.model, proposal.solution.grams) == once


def test_every_kind_of_group_has_words(facts: Reference) -> None:
    rules = {
        0: LineRule("fixed"), 1: LineRule("free", 50, 300), 2: LineRule("excluded"),
        3: LineRule("free", tie_to=1, tie_ratio=0.02),
    }  # fmt: skip
    model = build(problem_for(facts, case_of(facts, PLAIN), Settings(line_rules=rules)))
    words = {g.kind: group_words(model.problem, g) for g in model.groups() if g != A_BOWL}
    assert set(words) == {
        "min", "max", "energy", "supplements", "cap", "fixed", "excluded", "most", "least", "tie",
    }  # fmt: skip
    assert words["fixed"] == "Chicken thigh, meat only, roasted stays at 150 g"
    assert words["energy"] == "energy within 10% of 600 kcal a batch"
    assert words["supplements"] == "at most 12 supplements"
    assert "left out by the consultant" in words["excluded"]


@pytest.mark.parametrize(
    ("value", "text"), [(1234.5, "1234"), (12.345, "12.3"), (0.01234, "0.0123"), (0.0, "0")]
)
def test_numbers_in_words_have_three_figures(value: float, text: str) -> None:
    assert number(value) == text


def test_a_report_of_an_impossible_case_proposes_nothing(facts: Reference) -> None:
    lines = [{"food": CHICKEN, "grams": 300}]
    case = case_of(
        facts, lines,
        targets={"standard": "nrc-2006", "conditions": [{"id": "pancreatitis", "stage": "recurrent"}]},
    )  # fmt: skip
    proposal = formulate(case, Settings(mode="close"))
    names = {k: v[0] for k, v in facts.formulation.goals.items()}
    report = proposal_result(case, proposal, names)
    assert report.state == "impossible" and report.changes == () and report.passes == ()
    conflict = report.conflicts[0]
    assert conflict.minimal and {m.key for m in conflict.members} >= {"FAT"}
    (impasse,) = proposal.impasses
    assert impasse_result(impasse).members == conflict.members
    for way in impasse.ways:
        assert loosening_words(impasse.problem, way)


# Settings and requests


def test_defaults_follow_the_mode(facts: Reference) -> None:
    checked = check_settings(facts, Settings(mode="close"))
    assert isinstance(checked, Checked)
    assert checked.goals == facts.formulation.modes["close"].goals
    assert checked.max_supplements == 12 and checked.margin == 0
    case = case_of(facts, PLAIN)
    assert not any(i.startswith("usda:") for i in default_allowed(case, "close"))
    assert any(i.startswith("usda:") for i in default_allowed(case, "rebalance"))


def test_what_a_condition_would_rather_not_have_is_not_ticked(facts: Reference) -> None:
    """It stays to be ticked by hand, with the reason beside it."""
    stage = [{"id": "ckd", "stage": "3"}]
    case = case_of(facts, PLAIN, targets={"standard": "nrc-2006", "conditions": stage})
    choices = choices_of(case, None)
    rather_not = {a.food for a in choices.allowed if a.caution}
    assert rather_not and not rather_not & set(default_allowed(case, "rebalance"))
    assert all(not a.why_not for a in choices.allowed if a.food in rather_not)


def test_what_waits_for_its_strength_is_named(facts: Reference) -> None:
    """Nobody has read the packs. What is ruled out waits for nothing."""
    choices = choices_of(case_of(facts, PLAIN, targets={"standard": "nrc-2006"}), None)
    waiting = [a for a in choices.allowed if a.needs_strength]
    assert {a.food for a in waiting} == {"supp:algal-oil", "supp:kelp-powder"}
    assert all(a.why_not for a in waiting)


def test_a_mode_cannot_name_a_goal_that_does_not_exist() -> None:
    data = {
        "goals": {"near": {"name": "n", "words": "w"}},
        "modes": {"x": {"name": "x", "words": "", "foods": "free", "goals": ["far"]}},
        "schools": {}, "defaults": {}, "steps": {}, "by_piece": "", "pieces_per_day": {}, "staples": [],
        "supplements": [], "give": {},
    }  # fmt: skip
    with pytest.raises(KeyError):
        FormulationRules.from_data(data)


def test_staples_and_supplements_exist(facts: Reference) -> None:
    for food_id in (*facts.formulation.staples, *facts.formulation.supplements):
        assert food_id in facts.library, food_id
    for way in facts.feeding.ways.values():
        for food_id in itertools.chain(*way.seed.values()):
            assert food_id in facts.library, food_id


@pytest.mark.parametrize(
    ("data", "field"),
    [
        ({"lines": {}}, "lines"),
        ({"lines": [{"line": "first"}]}, "lines[0].line"),
        ({"lines": [{"line": 0, "low_grams": -1}]}, "lines[0].low_grams"),
        ({"lines": [{"line": 0, "high_grams": "much"}]}, "lines[0].high_grams"),
        ({"lines": [{"line": 0, "tie_to": "rice"}]}, "lines[0].tie_to"),
        ({"macros": {"protein": 0.3}}, "macros.fat"),
        ({"max_supplements": "few"}, "max_supplements"),
        ({"goals": "near"}, "goals"),
        ({"time_limit_s": float("inf")}, "time_limit_s"),
    ],
)
def test_a_bad_request_names_its_field(data: dict[str, Any], field: str) -> None:
    with pytest.raises(InputError) as caught:
        read_settings(data)
    assert caught.value.field == field


@pytest.mark.parametrize(
    ("section", "field"),
    [
        ({"formulate": {"mode": "x"}}, "formulate.mode"),
        ({"reactions": [{}]}, "reactions[0].food"),
        ({"cannot_use": []}, "cannot_use"),
        ({"prices_per_kg": {CHICKEN: "dear"}}, f"prices_per_kg.{CHICKEN}"),
    ],
)
def test_a_bad_case_file_names_its_field(
    facts: Reference, section: dict[str, Any], field: str
) -> None:
    data = {
        "format": "wainscot-case", "version": 1, "dog": {"weight_kg": 10},
        "energy": {"kcal_per_day": 600}, "targets": {"standard": "nrc-2006"},
        "recipe": {"covers_days": 1, "lines": PLAIN}, **section,
    }  # fmt: skip
    with pytest.raises(InputError) as caught:
        formulated(facts, data)
    assert caught.value.field == field


def test_what_cannot_be_used_is_not_proposed(facts: Reference) -> None:
    data = {
        "format": "wainscot-case", "version": 1, "dog": {"weight_kg": 10},
        "energy": {"kcal_per_day": 600}, "targets": {"standard": "nrc-2006"},
        "recipe": {"covers_days": 1, "lines": PLAIN}, "shelf": SHELF,
        "cannot_use": {PREMIX: "sold out", CARROT: "the dog leaves it"},
    }  # fmt: skip
    report = formulated(facts, data)
    foods = {line["food"] for line in report["recipe"]["lines"]}
    assert not foods & {PREMIX, CARROT}
    removed = next(c for c in report["changes"] if c["food"] == CARROT)
    assert removed["kind"] == "removed" and removed["why"] == "the dog leaves it"


def test_an_empty_bowl_is_no_answer(facts: Reference) -> None:
    case = case_of(facts, PLAIN)
    model: Model = build(problem_for(facts, case))
    solver = Solver(model, relaxed=True)
    # Even when the energy may be anything, something is fed.
    solver.apply(frozenset({Group("energy")}))
    found = solver.minimise(
        model.objectives["cost"] + model.problem.contents.kcal @ model.amounts, 5
    )
    assert found.columns is not None
    kcal = float(model.problem.contents.kcal @ (model.amounts @ found.columns))
    assert kcal >= 0.5 * model.problem.kcal - 1e-6


def test_supplements_that_stay_count_towards_the_most(facts: Reference) -> None:
    """Two stay and two are allowed: nothing may be added, though more would be met with it."""
    lines = [
        *PLAIN,
        {"food": "supp:calcium-carbonate", "grams": 2},
        {"food": "supp:taurine", "grams": 0.5},
    ]
    fixed = {4: LineRule("fixed"), 5: LineRule("fixed")}
    proposal = formulate(case_of(facts, lines), Settings(max_supplements=2, line_rules=fixed))
    given = [line.food.id for line in proposal.lines if line.food.is_supplement]
    assert given == ["supp:calcium-carbonate", "supp:taurine"]


def test_an_energy_split_counts_no_fibre(facts: Reference) -> None:
    """Carrot, 100 g: protein 0.941, fat 0.351, carbohydrate 10.27 of which 3.095 is fibre."""
    problem = problem_for(facts, case_of(facts, [{"food": "usda:11124", "grams": 100}]))
    protein, fat, carbohydrate = macro_kcal(problem)[:, 0] * 100
    assert protein == pytest.approx(4 * 0.941, rel=0.01)
    assert fat == pytest.approx(9 * 0.3506, rel=0.01)
    assert carbohydrate == pytest.approx(4 * (10.2675 - 3.095), rel=0.01)


def test_what_the_dog_must_not_get_is_no_way_out(facts: Reference) -> None:
    """Protein would be met with the chicken; that the chicken comes back is not offered."""
    case = case_of(facts, PLAIN, reactions=[{"food": "chicken"}])
    model = build(problem_for(facts, case, Settings(allowed=())))
    assert model.problem.candidates[0].excluded
    members = (Group(GroupKind.EXCLUDED, candidate=0), Group(GroupKind.MIN, "PROCNT"))
    ways = loosenings(model, Impasse(model.problem, members, True), elastic=True)
    assert [way.group.kind for way in ways] == [GroupKind.MIN]


def test_a_trial_is_not_built_on_what_the_dog_reacts_to(facts: Reference) -> None:
    """There is more chicken than turkey in the bowl; the dog reacts to chicken."""
    case = case_of(
        facts,
        [{"food": CHICKEN, "grams": 300}, {"food": "usda:05165", "grams": 100},
         {"food": RICE, "grams": 200}],
        reactions=[{"food": "chicken"}],
        targets={"standard": "nrc-2006", "conditions": [{"id": "food-reaction", "stage": "trial"}]},
    )  # fmt: skip
    assert case.avoid.trial is not None
    assert (case.avoid.trial.protein, case.avoid.trial.carbohydrate) == ("turkey", "rice")
