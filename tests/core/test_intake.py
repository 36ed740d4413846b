"""What is still to ask of a dog, what matters most first, and what its answers set."""

from typing import Any

import pytest
from wainscot_core.boundary import dump
from wainscot_core.case.intake_view import intake_view
from wainscot_core.changes import FieldChange, changed
from wainscot_core.conventions import DEFAULT
from wainscot_core.dog.record import CaseRecord, read_record
from wainscot_core.dossier.reference import Reference

DOG = {"name": "Pip", "weight_kg": 8.2, "age_months": 60}


def record(*conditions: str, **more: Any) -> CaseRecord:
    has = [{"id": c, "stage": ""} for c in conditions]
    return read_record({"dog": DOG, "conditions": has, **more})


@pytest.mark.parametrize(
    ("conditions", "first"),
    [
        ((), ["conditions"]),
        (("mmvd",), ["intake.muscle_condition", "intake.medicines_asked"]),
        (("overweight",), ["dog.body_condition"]),
        (("food-reaction",), ["intake.current_diet", "intake.reactions_asked"]),
    ],
)
def test_what_matters_most_is_asked_first(
    facts: Reference, conditions: tuple[str, ...], first: list[str]
) -> None:
    view = intake_view(facts, record(*conditions), DEFAULT)
    every = [q.field for q in view.questions]
    missing = {m.field for m in view.missing}
    asked = [field for field in every if field in missing]
    # What is only noticed at home comes behind all that a plan needs.
    assert every[: len(asked)] == asked
    assert asked[: len(first)] == first
    # The same facts as are missing, none twice; the rest in the order of the list.
    assert sorted(asked) == sorted(m.field for m in view.missing)
    assert asked[len(first) :] == [m.field for m in view.missing if m.field not in first]
    assert all(q.ask.endswith("?") for q in view.questions)


def test_an_answer_by_key_answers_its_question(facts: Reference) -> None:
    """Every one is a value of its field, and the question is not asked again."""
    start = record()
    for question in intake_view(facts, start, DEFAULT).questions:
        for answer in question.answers:
            data = dump(start)
            stood: Any = data
            for part in answer.field.split("."):
                stood = stood[part]
            change = FieldChange(path=answer.field, value=answer.value, was=stood)
            data, collisions = changed(data, (change,))
            assert not collisions
            after = intake_view(facts, read_record(data, typed=True), DEFAULT)
            assert question.field not in {q.field for q in after.questions}, answer


def test_what_brings_a_question_forward_is_a_condition(facts: Reference) -> None:
    for fact in (*facts.intake.needed, *facts.intake.growing, *facts.intake.noticed):
        assert fact.first_with.keys() | set(fact.only_with) <= facts.conditions.keys()
        assert fact.first_with.keys() <= facts.conditions.keys()
