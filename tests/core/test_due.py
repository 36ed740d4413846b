"""What is due of a case: when, for whom and why."""

from datetime import date, timedelta
from typing import Any

import pytest
from wainscot_core.boundary import read
from wainscot_core.desk.due import (
    Asked,
    CaseFacts,
    Due,
    DueKind,
    DuePlace,
    Holder,
    Moved,
    Standing,
    due_of,
)
from wainscot_core.desk.reopen import OffPath
from wainscot_core.dog.record import CaseRecord
from wainscot_core.dossier.reference import Reference
from wainscot_core.followup.entry import DayEntry
from wainscot_core.followup.laboratory import LabValue, series_of
from wainscot_core.followup.trial_now import TrialDue
from wainscot_core.release.states import ReleaseState

DAY = date(2026, 3, 2)


def after(days: int) -> date:
    return DAY + timedelta(days=days)


def record(*conditions: tuple[str, str], **dog: Any) -> CaseRecord:
    return read(
        CaseRecord,
        {
            "dog": {"name": "Fern", "weight_kg": 20, "age_months": 60, **dog},
            "conditions": [{"id": i, "stage": stage} for i, stage in conditions],
        },
    )


def issued(state: ReleaseState = ReleaseState.ISSUED) -> Standing:
    return Standing(recipe=7, name="Stew", state=state, since=DAY)


def found(facts: Reference, kind: DueKind, of: CaseRecord | None = None, **more: Any) -> list[Due]:
    known: dict[str, Any] = {"standings": (issued(),), **more}
    case = CaseFacts(record=of or record(), begun=DAY, **known)
    return [d for d in due_of(facts, case) if d.kind is kind]


def one(facts: Reference, kind: DueKind, of: CaseRecord | None = None, **more: Any) -> Due:
    (due,) = found(facts, kind, of, **more)
    return due


class TestWeighing:
    """AAHA 2014, 2019, 2021, 2023: three weeks after a change, then by stage and aim."""

    @pytest.mark.parametrize(
        ("dog", "first", "then"),
        [
            ({}, 21, 90), ({"ideal_weight_kg": 17}, 14, 14), ({"age_months": 3}, 7, 7),
            ({"age_months": 8}, 14, 14), ({"age_months": 150}, 21, 30), ({"gestation_week": 5, "sex": "female"}, 7, 7),
        ],
    )  # fmt: skip
    def test_comes_by_stage_and_aim(
        self, facts: Reference, dog: dict[str, Any], first: int, then: int
    ) -> None:
        of = record(**dog)
        assert one(facts, DueKind.WEIGH, of).on == after(first)
        weighed = (DayEntry(date=after(10), weight_kg=20.0),)
        again = one(facts, DueKind.WEIGH, of, entries=weighed)
        assert again.on == after(10 + then) and again.holder is Holder.OWNER

    def test_of_a_day_without_a_weight_does_not_count(self, facts: Reference) -> None:
        noted = (DayEntry(date=after(10), note="bright"),)
        assert one(facts, DueKind.WEIGH, entries=noted).on == after(21)

    def test_is_not_due_of_what_is_not_fed(self, facts: Reference) -> None:
        assert found(facts, DueKind.WEIGH, standings=(issued(ReleaseState.DRAFT),)) == []


class TestVet:
    @pytest.mark.parametrize(
        ("conditions", "first", "then"),
        [
            ([], 365, 365), ([("mmvd", "C")], 14, 14), ([("mmvd", "B1")], 21, 240),
            ([("mmvd", "B1"), ("mmvd", "D")], 21, 28), ([("mmvd", "")], 14, 14),
        ],
    )  # fmt: skip
    def test_sees_it_by_the_condition_that_asks_soonest(
        self, facts: Reference, conditions: list[tuple[str, str]], first: int, then: int
    ) -> None:
        of = record(*conditions)
        due = one(facts, DueKind.VET_VISIT, of)
        assert due.on == after(first) and due.holder is Holder.VET
        seen = {DueKind.VET_VISIT: after(40)}
        assert one(facts, DueKind.VET_VISIT, of, done=seen).on == after(40 + then)

    def test_of_a_senior_twice_a_year(self, facts: Reference) -> None:
        assert one(facts, DueKind.VET_VISIT, record(age_months=150)).on == after(182)


class TestLaboratory:
    def value(self, facts: Reference, test: str, value: float, **more: Any) -> Any:
        said = {"date": after(5).isoformat(), "test": test, "value": value, **more}
        return series_of(facts.laboratory, [read(LabValue, said)])

    @pytest.mark.parametrize(
        ("condition", "stage", "test", "value", "opens"),
        [
            ("mmvd", "C", "potassium", 3.9, True), ("mmvd", "C", "potassium", 4.0, False),
            ("mmvd", "C", "potassium", 5.6, True), ("ckd", "2", "phosphate", 1.5, True),
            ("ckd", "3", "phosphate", 1.5, False), ("ckd", "3", "upc", 0.6, True),
            ("pancreatitis", "", "triglycerides", 4.6, True), ("calcium-oxalate", "", "potassium", 3.9, False),
            ("calcium-oxalate", "", "usg", 1.021, True), ("calcium-oxalate", "", "usg", 1.020, False),
            ("calcium-oxalate", "", "urine-ph", 6.4, True), ("calcium-oxalate", "", "urine-ph", 7.6, True),
            ("struvite", "", "urine-ph", 6.6, True), ("struvite", "", "urine-ph", 6.4, False),
            ("urate", "", "urine-ph", 6.9, True), ("chronic-enteropathy", "ple", "albumin", 19.0, True),
            ("chronic-enteropathy", "ple", "cobalamin", 390.0, True), ("diabetes", "", "glucose", 3.4, True),
            ("encephalopathy", "", "ammonia", 51.0, True), ("dcm", "", "taurine-blood", 199.0, True),
            ("proteinuria", "borderline", "upc", 0.6, True), ("proteinuria", "heavy", "upc", 0.6, False),
        ],
    )  # fmt: skip
    def test_opens_the_plan_by_its_condition(
        self, facts: Reference, condition: str, stage: str, test: str, value: float, opens: bool
    ) -> None:
        series = self.value(facts, test, value)
        due = found(facts, DueKind.LABORATORY, record((condition, stage)), series=series)
        assert [d.what for d in due] == (["See whether the plan still holds"] if opens else [])

    @pytest.mark.parametrize(
        ("condition", "test", "was", "now", "opens"),
        [
            ("copper-hepatopathy", "alt", 60.0, 120.0, True), ("copper-hepatopathy", "alt", 61.0, 120.0, False),
            ("shunt", "albumin", 30.0, 28.0, True), ("shunt", "albumin", 30.0, 28.5, False),
            ("mmvd", "alt", 60.0, 120.0, False),
        ],
    )  # fmt: skip
    def test_opens_the_plan_by_what_it_was_before(
        self, facts: Reference, condition: str, test: str, was: float, now: float, opens: bool
    ) -> None:
        readings = [(0, was), (5, now)]
        said = [{"date": after(n).isoformat(), "test": test, "value": x} for n, x in readings]
        series = series_of(facts.laboratory, [read(LabValue, x) for x in said])
        due = found(facts, DueKind.LABORATORY, record((condition, "")), series=series)
        assert [d.what for d in due] == (["See whether the plan still holds"] if opens else [])

    def test_what_opens_the_plan_comes_before_what_is_only_out_of_range(
        self, facts: Reference
    ) -> None:
        said = [
            {"date": after(5).isoformat(), "test": "alt", "value": 300, "low": 10, "high": 100},
            {"date": after(6).isoformat(), "test": "potassium", "value": 3.9, "low": 3.6, "high": 5.6},
        ]  # fmt: skip
        series = series_of(facts.laboratory, [read(LabValue, x) for x in said])
        due = one(facts, DueKind.LABORATORY, record(("mmvd", "C")), series=series)
        assert due.what == "See whether the plan still holds" and due.why.startswith("Potassium")

    def test_out_of_its_own_range_is_asked_about_until_it_is_done(self, facts: Reference) -> None:
        series = self.value(facts, "alt", 300, low=10, high=100)
        due = one(facts, DueKind.LABORATORY, series=series)
        assert due.what == "Ask the vet what it means" and due.on == after(5)
        done = {DueKind.LABORATORY: after(5)}
        assert found(facts, DueKind.LABORATORY, series=series, done=done) == []


class TestReopening:
    """followup: eaten under 80 % for three days, vomited twice in a week, stool, muscle, condition, weight by disease."""

    def days(self, *said: tuple[int, dict[str, Any]]) -> list[DayEntry]:
        return [read(DayEntry, {"date": after(n).isoformat(), **x}) for n, x in said]

    @pytest.mark.parametrize(
        ("condition", "said", "on"),
        [
            ("", [(1, {"appetite_percent": 79}), (2, {"appetite_percent": 70}), (4, {"appetite_percent": 50})], 4),
            ("", [(1, {"appetite_percent": 79}), (2, {"appetite_percent": 80}), (3, {"appetite_percent": 50}), (4, {"appetite_percent": 50})], None),
            ("", [(1, {"vomiting": 1}), (7, {"vomiting": 1})], 7), ("", [(1, {"vomiting": 1}), (8, {"vomiting": 1})], None),
            ("epi", [(n, {"stool": 5}) for n in range(1, 5)], 4), ("mmvd", [(n, {"stool": 5}) for n in range(1, 5)], None),
            ("epi", [(n, {"stool": 5}) for n in range(1, 4)], None),
            ("", [(-3, {"muscle": "normal"}), (9, {"muscle": "mild"})], 9), ("", [(-3, {"muscle": "mild"}), (9, {"muscle": "mild"})], None),
            ("", [(-3, {"body_condition": 5}), (9, {"body_condition": 4})], 9), ("", [(9, {"body_condition": 4})], None),
            ("ckd", [(-3, {"weight_kg": 10.0}), (9, {"weight_kg": 9.69})], 9), ("ckd", [(-3, {"weight_kg": 10.0}), (9, {"weight_kg": 10.4})], None),
            ("diabetes", [(-3, {"weight_kg": 10.0}), (9, {"weight_kg": 10.4})], 9), ("mmvd", [(-3, {"weight_kg": 10.0}), (9, {"weight_kg": 9.6})], None),
            ("ckd", [(-3, {"weight_kg": 10.0}), (9, {"weight_kg": 9.0, "fluid": True})], None),
            ("ckd", [(-5, {"weight_kg": 9.7}), (-3, {"weight_kg": 10.8, "fluid": True}), (9, {"weight_kg": 9.6})], None),
        ],
    )  # fmt: skip
    def test_by_what_is_put_down_since_it_was_issued(
        self, facts: Reference, condition: str, said: Any, on: int | None
    ) -> None:
        of = record((condition, "")) if condition else record()
        due = found(facts, DueKind.REOPEN, of, entries=self.days(*said))
        assert [d.on for d in due] == ([] if on is None else [after(on)])
        # What was looked at is not told again; without a plan nothing is opened.
        done = {DueKind.REOPEN: after(30)}
        assert found(facts, DueKind.REOPEN, of, entries=self.days(*said), done=done) == []
        assert found(facts, DueKind.REOPEN, of, entries=self.days(*said), standings=()) == []

    @pytest.mark.parametrize(("share", "told"), [(0.051, True), (-0.06, True), (0.05, False)])
    def test_by_a_weight_off_its_path(self, facts: Reference, share: float, told: bool) -> None:
        due = found(facts, DueKind.REOPEN, off_path=OffPath(date=after(20), share=share))
        assert bool(due) is told

    def test_by_data_until_it_was_looked_at(self, facts: Reference) -> None:
        moved = (Moved(recipe=7, name="Stew", since=after(3), words="zinc was met, is short"),)
        due = one(facts, DueKind.DATA, moved=moved)
        assert (due.on, due.recipe, due.why) == (after(3), 7, "“Stew”: zinc was met, is short")
        seen = {DueKind.DATA: {due.why}}
        assert found(facts, DueKind.DATA, moved=moved, told=seen) == []
        other = (Moved(recipe=7, name="Stew", since=after(9), words="copper was met, is over"),)
        assert len(found(facts, DueKind.DATA, moved=other, told=seen)) == 1
        # However much there is to tell, what is kept of it is what is compared.
        long = (Moved(recipe=7, name="Stew", since=after(3), words="zinc is short; " * 60),)
        kept = {DueKind.DATA: {one(facts, DueKind.DATA, moved=long).why[:500]}}
        assert found(facts, DueKind.DATA, moved=long, told=kept) == []


class TestRelease:
    @pytest.mark.parametrize(
        ("state", "kind", "holder", "on"),
        [
            (ReleaseState.DRAFT, DueKind.DRAFT, Holder.PRACTICE, 7),
            (ReleaseState.CHECKED, DueKind.SIGNATURE, Holder.PRACTICE, 0),
            (ReleaseState.WITH_VET, DueKind.SIGNATURE, Holder.VET, 14),
            (ReleaseState.APPROVED, DueKind.ISSUE, Holder.PRACTICE, 0),
            (ReleaseState.ISSUED, DueKind.PLAN_AGE, Holder.PRACTICE, 365),
        ],
    )
    def test_each_state_has_its_next(
        self, facts: Reference, state: ReleaseState, kind: DueKind, holder: Holder, on: int
    ) -> None:
        asked = (Asked(recipe=7, vet="Dr Ash", on=DAY, until=after(14)),)
        due = one(facts, kind, standings=(issued(state),), asked=asked)
        assert (due.holder, due.on, due.recipe) == (holder, after(on), 7)

    def test_a_draft_beside_what_is_fed_is_not_hurried(self, facts: Reference) -> None:
        other = Standing(recipe=8, name="Next", state=ReleaseState.DRAFT, since=DAY)
        assert found(facts, DueKind.DRAFT, standings=(issued(), other)) == []


def test_a_symptom_stands_until_somebody_says_it_was_seen(facts: Reference) -> None:
    entries = (DayEntry(date=after(3), note="x"),)
    due = one(facts, DueKind.SYMPTOM, entries=entries, flags=("blood", "itch"))
    assert due.on == after(3) and due.why == "blood and 1 more"
    done = {DueKind.SYMPTOM: after(3)}
    assert found(facts, DueKind.SYMPTOM, entries=entries, flags=("blood",), done=done) == []


def test_what_was_left_out_for_longer_than_three_days(facts: Reference) -> None:
    days = [DayEntry(date=after(n), changed="no egg") for n in (1, 2, 2, 3)]
    assert found(facts, DueKind.SWAPPED, entries=days) == []
    due = one(facts, DueKind.SWAPPED, entries=[*days, DayEntry(date=after(9), changed="no rice")])
    assert due.on == after(9) and due.why.endswith("last: no rice")


def test_food_trials_and_amounts_stand_on_their_day(facts: Reference) -> None:
    assert one(facts, DueKind.COOK, runs_out=after(12)).on == after(10)
    trial = (TrialDue(date=after(4), words="read the trial"),)
    assert one(facts, DueKind.TRIAL, trial=trial).why == "read the trial"
    entries = (DayEntry(date=after(6), weight_kg=20.0),)
    due = one(facts, DueKind.AMOUNT, proposal="900 kcal", entries=entries)
    assert (due.on, due.place) == (after(6), DuePlace.FOLLOW)
