"""The intake around the dog: every answer at its place, and nothing that is not an answer."""

from dataclasses import replace

import pytest
from wainscot_core.case.intake_view import IntakeView, intake_view
from wainscot_core.conventions import DEFAULT, BodyUnit
from wainscot_core.dog.intake import open_questions
from wainscot_core.dog.record import (
    CaseRecord,
    Diagnosis,
    DietItem,
    DogRecord,
    IntakeRecord,
    Medicine,
    Muscle,
    Noticed,
    ReactionRecord,
    Sex,
    Weighing,
    read_record,
)
from wainscot_core.dog.stations import AnswerMark, Station
from wainscot_core.dossier.reference import Reference
from wainscot_core.facts.places import DogPlace


def _record(**more: object) -> CaseRecord:
    return replace(CaseRecord(dog=DogRecord(name="Rowan", weight_kg=9.0)), **more)  # type: ignore[arg-type]


def _at(view: IntakeView, place: DogPlace) -> Station | None:
    return next((s for s in view.stations if s.place is place), None)


def _words(station: Station | None, mark: AnswerMark) -> list[str]:
    return [] if station is None else [x.words for x in station.lines if x.mark is mark]


def test_a_dog_nobody_asked_about_has_its_weight_and_else_only_open_marks(
    facts: Reference,
) -> None:
    view = intake_view(facts, _record(), DEFAULT)
    known = [x.words for s in view.stations for x in s.lines if x.mark is AnswerMark.KNOWN]
    assert known == ["9.0 kg"]
    # Every question that is asked stands somewhere around the dog, and nothing else does.
    asked = {q.write for q in open_questions(facts.intake, _record(), growing=False)}
    stands = {x.field for s in view.stations for x in s.lines if x.mark is AnswerMark.OPEN}
    assert stands == asked


def test_answers_stand_at_their_place(facts: Reference) -> None:
    record = _record(
        dog=DogRecord(
            name="Rowan", weight_kg=9.0, age_months=100, sex=Sex.FEMALE, neutered=True, body_condition=6
        ),
        conditions=(Diagnosis(id="mmvd", stage="C"), Diagnosis(id="pancreatitis", stage="chronic")),
        reactions=(ReactionRecord(food="chicken", form="the meat", tolerates="the organs"),),
        intake=IntakeRecord(
            muscle_condition=Muscle.MILD,
            medicines=(Medicine(name="furosemide", dose="as prescribed"),),
            weights=(Weighing(on="2026-03-01", kg=9.4), Weighing(on="last spring", kg=9.5)),
            current_diet=(
                DietItem(name="kibble", amount=2.5, unit="cups", kcal_per_unit=370),
                DietItem(name="cheese", amount=15, unit="g"),
            ),
            noticed=Noticed(drinks="twice as much"),
        ),
    )  # fmt: skip
    view = intake_view(facts, record, DEFAULT)
    assert _words(_at(view, DogPlace.WHO), AnswerMark.KNOWN) == [
        "8 years 4 months",
        "female, neutered",
    ]
    assert _words(_at(view, DogPlace.HEART), AnswerMark.KNOWN) == [
        "Mitral valve disease, heart failure: C"
    ]
    assert _words(_at(view, DogPlace.GUT), AnswerMark.KNOWN) == ["Pancreatitis: chronic"]
    assert _words(_at(view, DogPlace.MOUTH), AnswerMark.KNOWN) == [
        "reacts to chicken, the meat, bears the organs"
    ]
    assert _words(_at(view, DogPlace.BACK), AnswerMark.KNOWN) == ["muscle: mild loss"]
    assert _words(_at(view, DogPlace.MEDICINES), AnswerMark.KNOWN) == ["furosemide, as prescribed"]
    assert _words(_at(view, DogPlace.BLADDER), AnswerMark.KNOWN) == [
        "drinks or urinates more: twice as much"
    ]
    assert _words(_at(view, DogPlace.WEIGHT), AnswerMark.KNOWN) == [
        "9.0 kg", "9.4 kg on 1 Mar 2026", "9.5 kg on last spring", "condition 6 of 9"
    ]  # fmt: skip
    # 2.5 cups of 370 kcal; the cheese is not counted as nothing.
    assert _words(_at(view, DogPlace.BOWL), AnswerMark.KNOWN) == [
        "kibble, 2.5 cups", "cheese, 15 g", "925 kcal a day, 1 of unknown energy"
    ]  # fmt: skip


def test_weights_are_told_in_the_readers_unit(facts: Reference) -> None:
    pounds = replace(DEFAULT, body=BodyUnit.LB)
    # 9 kg are 19.84 lb (0.45359237 kg each).
    assert "19.8 lb" in _words(
        _at(intake_view(facts, _record(), pounds), DogPlace.WEIGHT), AnswerMark.KNOWN
    )


def test_a_list_that_was_asked_for_and_is_empty_says_so(facts: Reference) -> None:
    nothing = intake_view(facts, _record(), DEFAULT)
    assert AnswerMark.OPEN in {
        x.mark for x in (_at(nothing, DogPlace.MEDICINES) or nothing.stations[0]).lines
    }
    asked = IntakeRecord(medicines_asked=True, reactions_asked=True, conditions_asked=True)
    view = intake_view(facts, _record(intake=asked), DEFAULT)
    assert _words(_at(view, DogPlace.MEDICINES), AnswerMark.KNOWN) == ["none, asked"]
    assert _words(_at(view, DogPlace.MOUTH), AnswerMark.KNOWN) == ["reacts to nothing known, asked"]
    assert "no diagnosis, the vet was asked" in _words(_at(view, DogPlace.WHO), AnswerMark.KNOWN)


def test_a_long_list_is_folded_and_what_is_open_is_not(facts: Reference) -> None:
    many = IntakeRecord(medicines=tuple(Medicine(name=f"medicine {i}") for i in range(9)))
    station = _at(intake_view(facts, _record(intake=many), DEFAULT), DogPlace.MEDICINES)
    assert _words(station, AnswerMark.KNOWN) == [
        "medicine 0", "medicine 1", "medicine 2", "medicine 3", "and 5 more"
    ]  # fmt: skip
    assert len(_words(station, AnswerMark.OPEN)) == 2
    five = IntakeRecord(medicines=tuple(Medicine(name=f"medicine {i}") for i in range(5)))
    station = _at(intake_view(facts, _record(intake=five), DEFAULT), DogPlace.MEDICINES)
    assert "medicine 4" in _words(station, AnswerMark.KNOWN)


def test_the_owners_words_wait_at_their_place(facts: Reference) -> None:
    told = [(DogPlace.GUT, "intake.noticed.stool", "soft since Sunday")]
    station = _at(intake_view(facts, _record(), DEFAULT, told), DogPlace.GUT)
    assert _words(station, AnswerMark.TOLD) == ["soft since Sunday"]
    # It is not open beside them; what else is open there is, and the station is as open as that.
    assert _words(station, AnswerMark.OPEN) == ["vomiting"]
    assert station is not None and station.mark is AnswerMark.OPEN
    more = [*told, (DogPlace.GUT, "intake.noticed.vomiting", "never")]
    whole = _at(intake_view(facts, _record(), DEFAULT, more), DogPlace.GUT)
    assert whole is not None and whole.mark is AnswerMark.TOLD


@pytest.mark.parametrize(
    ("had", "first"),
    [("chronic-enteropathy", "intake.noticed.stool"), ("mmvd", "intake.noticed.drinks")],
)
def test_what_is_noticed_comes_after_what_a_plan_needs(
    facts: Reference, had: str, first: str
) -> None:
    rules = facts.intake
    stage = next(iter(facts.conditions[had].stages))
    record = _record(conditions=(Diagnosis(id=had, stage=stage),))
    asked = [q.field for q in open_questions(rules, record, growing=False)]
    needed = {f.field for f in rules.needed}
    after = [f for f in asked if f not in needed]
    assert asked[: len(asked) - len(after)] == [f for f in asked if f in needed]
    assert after[0] == first


def test_breaths_are_asked_of_hearts_and_pills_where_there_are_some(facts: Reference) -> None:
    def asked(record: CaseRecord) -> set[str]:
        return {q.field for q in open_questions(facts.intake, record, growing=False)}

    breaths, pills = "intake.noticed.breaths", "intake.noticed.pills_in"
    assert not asked(_record()) & {breaths, pills}
    assert breaths in asked(_record(conditions=(Diagnosis(id="dcm", stage="overt"),)))
    given = IntakeRecord(medicines=(Medicine(name="pimobendan"),))
    assert pills in asked(_record(intake=given))


def test_every_question_has_a_field_that_can_be_written(facts: Reference) -> None:
    rules = facts.intake
    for fact in (*rules.needed, *rules.growing, *rules.noticed):
        for path in {fact.field, fact.write, *(a.field for a in fact.answers)}:
            value: object = _record()
            for part in path.split("."):
                value = getattr(value, part)
        for answer in fact.answers:
            *into, last = answer.field.split(".")
            data: dict[str, object] = {last: answer.value}
            for part in reversed(into):
                data = {part: data}
            dog = {"name": "Rowan", "weight_kg": 9, **data.pop("dog", {})}  # type: ignore[dict-item]
            read_record({"dog": dog, **data})
    # A station for each place a fact or a condition names.
    places = {f.at for f in (*rules.needed, *rules.growing, *rules.noticed)}
    places |= {c.shows_at for c in facts.conditions.values()}
    assert places <= set(rules.places) and set(rules.places) == set(DogPlace)
