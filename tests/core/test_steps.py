"""How far a case is, and what is to do next."""

from dataclasses import replace
from datetime import date
from pathlib import Path
from typing import Any

import pytest
import yaml
from wainscot_core.analysis.analyse import analyse
from wainscot_core.analysis.results import Analysis
from wainscot_core.analysis.shopping import Sourcing
from wainscot_core.case.energy_view import energy_view
from wainscot_core.dog.record import CaseRecord, read_record
from wainscot_core.dossier.dossier import Dossier, energy_of
from wainscot_core.dossier.reference import Reference
from wainscot_core.findings import Finding, Kind, Level
from wainscot_core.formats.casefile import dossier_of, read_case_file
from wainscot_core.release.guide import guide_of, read_guide
from wainscot_core.release.states import ReleaseState
from wainscot_core.release.steps import CaseSteps, RecipeStanding, StepKind, StepState, steps_of

TODAY = date(2026, 11, 26)
REFERENCE = Path(__file__).resolve().parents[2] / "reference"
KNOWN = {
    "conditions_asked": True, "muscle_condition": "normal", "vet_team": [{"name": "Dr Linde"}],
    "current_diet": [{"name": "Dry food", "amount": 1, "kcal_per_unit": 300}],
    "owner": {"cook": "weekly"}, "reactions_asked": True, "medicines_asked": True,
}  # fmt: skip
DOG = {"name": "Fen", "weight_kg": 10, "age_months": 48, "neutered": True, "body_condition": 5}


def record(dog: dict[str, Any] | None = None, intake: Any = None, **more: Any) -> CaseRecord:
    return read_record({"dog": {**DOG, **(dog or {})}, "intake": intake or {}, **more})


def dossier(facts: Reference, *grams: tuple[str, float]) -> Dossier:
    lines = [{"food": food, "grams": g} for food, g in grams]
    return dossier_of(
        facts,
        read_case_file(
            {
                "format": "wainscot-case", "version": 1, "dog": DOG,
                "energy": {"method": "rer-multiplier", "multiplier": 1.6},
                "targets": {"standard": "nrc-2006", "life_stage": "adult"},
                "recipe": {"covers_days": 1, "lines": lines},
            }
        ),
    )  # fmt: skip


@pytest.fixture
def chicken(facts: Reference) -> Dossier:
    return dossier(facts, ("usda:05062", 400))


def steps(
    facts: Reference, dossier: Dossier, case: CaseRecord, *recipes: RecipeStanding
) -> CaseSteps:
    return steps_of(facts, case, dossier.targets, recipes)


def standing(
    analysis: Analysis | None,
    lines: int = 1,
    days: float = 1,
    had: Sourcing | None = None,
    **more: Any,
) -> RecipeStanding:
    return RecipeStanding(7, "Stew", lines, analysis, "a line cannot be read", days, had, **more)


def of(found: CaseSteps, kind: StepKind) -> tuple[StepState, str]:
    return next((s.state, s.words) for s in found.steps if s.kind is kind)


def all_met(analysis: Analysis) -> Analysis:
    """The same analysis, as if it held every limit and nothing were said against it."""
    held = tuple(replace(n, status="met", urgency=0) for n in analysis.nutrients)  # type: ignore[arg-type]
    ratios = tuple(replace(r, status="met", urgency=0) for r in analysis.ratios)  # type: ignore[arg-type]
    return replace(analysis, nutrients=held, ratios=ratios, flags=())


def test_a_new_case_begins_with_what_was_not_asked(facts: Reference, chicken: Dossier) -> None:
    bare = read_record({"dog": {"name": "Fen", "weight_kg": 10}})
    found = steps(facts, chicken, bare, standing(None, lines=0))
    assert of(found, StepKind.INTAKE) == (StepState.OPEN, "Ask diagnoses and 9 more")
    assert of(found, StepKind.ENERGY)[0] is StepState.OPEN
    assert of(found, StepKind.RECIPE)[0] is StepState.OPEN
    assert found.next is not None and found.next.kind is StepKind.INTAKE


def test_steps_are_done_one_by_one(facts: Reference, chicken: Dossier) -> None:
    part = steps(facts, chicken, record(intake={**KNOWN, "vet_team": []}))
    assert of(part, StepKind.INTAKE) == (StepState.PARTLY, "Ask attending vet")
    case = record(intake=KNOWN, energy_reason="as the vet said")
    analysis = all_met(analyse(chicken))
    found = steps(facts, chicken, case, standing(analysis, state=ReleaseState.ISSUED))
    assert {s.state for s in found.steps} == {StepState.DONE} and found.next is None


def test_the_guide_stands_where_something_can_be_done(facts: Reference, chicken: Dossier) -> None:
    words = read_guide(yaml.safe_load((REFERENCE / "guide.yaml").read_text(encoding="utf-8")))
    case = record(intake=KNOWN)
    found = guide_of(words, steps(facts, chicken, case))
    assert [s.kind for s in found.stops] == list(StepKind)
    assert found.at is not None and found.stops[found.at].kind is StepKind.ENERGY
    # A case without a recipe begins one; checks wait for it, so nobody is led there.
    assert (found.stops[3].state, found.stops[3].todo) == (StepState.OPEN, "Begin a recipe")
    assert found.stops[5].state is StepState.WAITING
    done = record(intake=KNOWN, energy_reason="as the vet said")
    first = standing(all_met(analyse(chicken)), state=ReleaseState.ISSUED)
    # Of two recipes the one that is not done stands for both.
    two = guide_of(words, steps(facts, chicken, done, first, replace(first, id=8, lines=0)))
    assert (two.at, two.stops[3].recipe) == (3, 8)
    all_done = guide_of(words, steps(facts, chicken, done, first))
    assert all_done.at is None and {s.state for s in all_done.stops} == {StepState.DONE}
    # Nobody is led to where only the vet can do something.
    vet = standing(all_met(analyse(chicken)), state=ReleaseState.WITH_VET)
    asked = guide_of(words, steps(facts, chicken, done, vet))
    assert (asked.at, asked.stops[5].state) == (None, StepState.WAITING)


def test_an_own_figure_or_a_reason_settles_the_energy(facts: Reference, chicken: Dossier) -> None:
    own = record(energy_method="kcal_per_day", kcal_per_day=500)
    assert of(steps(facts, chicken, own), StepKind.ENERGY)[0] is StepState.DONE
    assert of(steps(facts, chicken, record()), StepKind.ENERGY)[0] is StepState.OPEN


def test_a_recipe_is_judged_by_its_analysis(facts: Reference, chicken: Dossier) -> None:
    analysis = analyse(chicken)
    short = [
        n
        for n in (*analysis.nutrients, *analysis.ratios)
        if n.status in ("short", "over", "above safe limit")
    ]
    found = steps(facts, chicken, record(intake=KNOWN), standing(replace(analysis, flags=())))
    state, words = of(found, StepKind.RECIPE)
    assert state is StepState.PARTLY and words.startswith(
        f"Mend “Stew”: {len(short)} off their limits"
    )
    # What is not ready to be fed keeps the plan waiting.
    assert of(found, StepKind.PLAN)[0] is StepState.WAITING
    unread = steps(facts, chicken, record(intake=KNOWN), standing(None))
    assert of(unread, StepKind.RECIPE) == (StepState.CONFLICT, "Mend “Stew”: a line cannot be read")
    assert unread.next is not None and unread.next.kind is StepKind.RECIPE


def test_a_block_is_a_conflict_even_when_every_limit_is_met(facts: Reference) -> None:
    onion = dossier(facts, ("usda:05062", 400), ("usda:11282", 50))
    analysis = analyse(onion)
    blocked = replace(all_met(analysis), flags=analysis.flags)
    found = steps(facts, onion, record(intake=KNOWN), standing(blocked))
    assert of(found, StepKind.RECIPE)[0] is StepState.CONFLICT


def test_what_must_be_decided_keeps_a_recipe_open(facts: Reference, chicken: Dossier) -> None:
    held = all_met(analyse(chicken))
    flag = Finding(kind=Kind.HAZARD, level=Level.DECIDE, what="Raw meat", why="germs", do="cook it")
    found = steps(facts, chicken, record(intake=KNOWN), standing(replace(held, flags=(flag,))))
    assert of(found, StepKind.RECIPE) == (StepState.PARTLY, "Decide in “Stew”: Raw meat")


def test_a_recipe_is_not_finished_before_its_foods_were_asked_for(
    facts: Reference, chicken: Dossier
) -> None:
    met = all_met(analyse(chicken))
    had = Sourcing(not_asked=("Chicken", "Kale"), missing=(), ordered=(), days=None)
    found = steps(facts, chicken, record(), standing(met, had=had))
    assert of(found, StepKind.RECIPE) == (
        StepState.PARTLY, "Ask whether it can be had: Chicken and 1 more",
    )  # fmt: skip
    assert of(found, StepKind.PLAN)[0] is StepState.WAITING
    gone = replace(had, missing=("Liver",))
    found = steps(facts, chicken, record(), standing(met, had=gone))
    assert of(found, StepKind.RECIPE)[1] == "Replace what cannot be had: Liver"
    done = replace(had, not_asked=())
    found = steps(facts, chicken, record(), standing(met, had=done))
    assert of(found, StepKind.RECIPE)[0] is StepState.DONE


def test_targets_stand_open_until_the_diagnoses_were_asked(
    facts: Reference, chicken: Dossier
) -> None:
    bare = record(intake={**KNOWN, "conditions_asked": False})
    assert of(steps(facts, chicken, bare), StepKind.TARGETS)[0] is StepState.OPEN
    assert of(steps(facts, chicken, record(intake=KNOWN)), StepKind.TARGETS)[0] is StepState.DONE


def test_a_plan_without_a_day_is_not_begun(facts: Reference, chicken: Dossier) -> None:
    found = steps(facts, chicken, record(), standing(all_met(analyse(chicken)), days=0))
    assert of(found, StepKind.PLAN)[0] is StepState.OPEN


def test_a_red_flag_stops_everything_but_the_intake(facts: Reference, chicken: Dossier) -> None:
    flagged = record(intake={**KNOWN, "red_flags": {"present": "collapse"}})
    found = steps(facts, chicken, flagged, standing(all_met(analyse(chicken))))
    assert of(found, StepKind.INTAKE) == (StepState.CONFLICT, "See the vet first: collapse")
    assert {s.state for s in found.steps[1:]} == {StepState.WAITING}
    assert found.next is not None and found.next.kind is StepKind.INTAKE


def offers(facts: Reference, case: CaseRecord) -> list[tuple[str, float]]:
    chosen = energy_of(facts, case.dog, case.energy_method, case.multiplier, case.kcal_per_day)
    return [(o.label, round(o.kcal)) for o in energy_view(facts, case, chosen, TODAY).offers]


def test_a_dog_out_of_condition_is_offered_its_weight_plan(facts: Reference) -> None:
    heavy = record({"body_condition": 8})
    [(label, kcal)] = offers(facts, heavy)
    assert label == "Weight plan to the ideal weight"
    # A plan starts well under 1.6 x 70 x 10^0.75 = 630 kcal.
    assert kcal < 0.8 * 630
    taken = record({"body_condition": 8}, energy_method="kcal_per_day", kcal_per_day=kcal)
    assert offers(facts, taken) == []


def test_a_senior_on_the_preset_multiple_is_offered_its_own(facts: Reference) -> None:
    # 1.4 x 70 x 10^0.75 = 551 kcal; a neutered adult's range is 1.4 to 1.6.
    old = record({"age_months": 14 * 12, "neutered": None}, multiplier=2.2)
    assert ("Senior, typical", 551) in offers(facts, old)
    decided = record({"age_months": 14 * 12}, multiplier=2.2, energy_reason="very active")
    assert offers(facts, decided) == []
    assert offers(facts, record({"age_months": 48}, multiplier=1.5)) == []


@pytest.mark.parametrize(
    ("state", "open_", "expected"),
    [
        (ReleaseState.DRAFT, ("Zinc: short", "Iron: short"),
         (StepState.PARTLY, "Settle in “Stew”: Zinc: short and 1 more")),
        (ReleaseState.DRAFT, (), (StepState.PARTLY, "Check “Stew”, then send it to the vet")),
        (ReleaseState.CHECKED, (), (StepState.PARTLY, "Send “Stew” to the vet")),
        (ReleaseState.WITH_VET, (), (StepState.WAITING, "Wait for the vet: “Stew”")),
        (ReleaseState.APPROVED, (), (StepState.PARTLY, "Issue “Stew” to the owner")),
        (ReleaseState.ISSUED, (), (StepState.DONE, "")),
    ],
)  # fmt: skip
def test_the_checks_say_what_is_next_on_the_way_out(
    facts: Reference, chicken: Dossier, state: ReleaseState, open_: tuple[str, ...], expected: Any
) -> None:
    case = record(intake=KNOWN, energy_reason="as the vet said")
    at = standing(all_met(analyse(chicken)), state=state, open_concerns=open_)
    assert of(steps(facts, chicken, case, at), StepKind.CHECKS) == expected


def test_what_was_decided_makes_a_recipe_ready(facts: Reference, chicken: Dossier) -> None:
    """Gaps that somebody accepted with a reason do not keep the plan waiting."""
    case = record(intake=KNOWN, energy_reason="as the vet said")
    short = analyse(chicken)
    waiting = steps(facts, chicken, case, standing(short))
    assert of(waiting, StepKind.PLAN)[0] is StepState.WAITING
    settled = steps(facts, chicken, case, standing(short, settled=True))
    assert of(settled, StepKind.RECIPE)[0] is StepState.DONE
    assert of(settled, StepKind.PLAN)[0] is StepState.DONE
    nothing = steps(facts, chicken, case, standing(None, lines=0))
    assert of(nothing, StepKind.CHECKS)[0] is StepState.WAITING
