"""Records through the one boundary: what people write, what cannot be, what others changed."""

from datetime import date
from typing import Any

import pytest
from wainscot_core.boundary import dump, unknown_fields
from wainscot_core.dog.record import (
    CaseRecord,
    check_record,
    following,
    read_age_months,
    read_record,
    read_weight_kg,
)
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.formats.casefile import CaseFile, read_case_file, warnings_of

DOG = {"name": "Pip", "weight_kg": 8.2}
TODAY = date(2026, 11, 26)


@pytest.mark.parametrize(
    ("words", "months"),
    [
        ("108", 108), ("9 years", 108), ("9 yrs old", 108), ("1 1/2 years", 18), ("1,5 y", 18),
        ("2 years 3 months", 27), ("2 years and 3 months", 27), ("9y 6m", 114), ("10 weeks", 2),
        ("4 mo", 4),
    ],
)  # fmt: skip
def test_ages(words: str, months: int) -> None:
    assert read_age_months(words) == months


@pytest.mark.parametrize(
    ("words", "kg"),
    [
        ("8.2", 8.2), ("8,2 kg", 8.2), ("18 lb", 8.16466266), ("18 pounds", 8.16466266),
        ("18 lb 4 oz", 8.27806075), ("8200 g", 8.2), ("4 1/2 kg", 4.5),
    ],
)  # fmt: skip
def test_weights(words: str, kg: float) -> None:
    assert read_weight_kg(words) == pytest.approx(kg)


@pytest.mark.parametrize("words", ["", "nine", "about 9", "9 6", "9 stone", "9 moons"])
def test_what_is_no_age_or_weight_is_not_guessed(words: str) -> None:
    with pytest.raises(InputError):
        read_age_months(words)
    if words != "9 6":
        with pytest.raises(InputError):
            read_weight_kg(words)


def record(**more: Any) -> CaseRecord:
    return read_record({"dog": DOG, **more})


def test_a_record_survives_the_way_out_and_in() -> None:
    full = record(
        conditions=[{"id": "mmvd", "stage": "C"}],
        intake={"current_diet": [{"name": "x", "amount": 7 / 3}], "medicines": [{"name": "y"}]},
        decisions=[{"key": "NA", "bound": "max", "value": 700, "by": "vet", "reason": "salt"}],
    )
    assert read_record(dump(full)) == full


def test_only_what_was_typed_may_be_words() -> None:
    with pytest.raises(InputError) as caught:
        read_record({"dog": {**DOG, "weight_kg": "18 lb"}})
    assert caught.value.field == "dog.weight_kg"
    typed = read_record({"dog": {**DOG, "weight_kg": "18 lb"}}, typed=True)
    assert typed.dog.weight_kg == pytest.approx(8.16466266)


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"dog": {**DOG, "weight_kg": 500}}, "dog.weight_kg"),
        ({"dog": {**DOG, "adult_weight_kg": 1e300}}, "dog.adult_weight_kg"),
        ({"dog": {**DOG, "birth_date": "2999-01-01"}}, "dog.birth_date"),
        ({"dog": {**DOG, "birth_date": "1990-01-01"}}, "dog.birth_date"),
        ({"conditions": [{"id": "unheard-of"}]}, "conditions[0].id"),
        ({"conditions": [{"id": "ckd", "stage": "9"}]}, "conditions[0].stage"),
        ({"intake": {"weights": [{"on": "2026-01-01", "kg": 900}]}}, "intake.weights[0].kg"),
    ],
)
def test_what_single_fields_cannot_tell(
    facts: Reference, change: dict[str, Any], field: str
) -> None:
    with pytest.raises(InputError) as caught:
        check_record(record(**change), facts.energy, facts.conditions, TODAY)
    assert caught.value.field == field


def test_a_stage_may_be_a_number(facts: Reference) -> None:
    found = record(conditions=[{"id": "ckd", "stage": 2}])
    assert found.conditions[0].stage == "2"
    check_record(found, facts.energy, facts.conditions, TODAY)


def test_a_new_red_flag_is_not_cleared_by_the_old_clearance() -> None:
    was = record(intake={"red_flags": {"present": "collapse", "cleared": True, "cleared_by": "Dr"}})
    flags = {"present": "seizure", "cleared": True, "cleared_by": "Dr"}
    now = following(was.intake.red_flags, record(intake={"red_flags": flags}))
    assert not now.intake.red_flags.cleared and now.intake.red_flags.cleared_by == ""
    same = following(was.intake.red_flags, was)
    assert same == was


FILE = {
    "format": "wainscot-case", "version": 1, "dog": {"weight_kg": 8.2, "colour": "tan"},
    "energy": {}, "targets": {"standard": "nrc-2006", "conditions": [{"id": "mmvd", "since": "x"}]},
    "recipe": {"lines": [{"food": "usda:05062", "grams": 1, "brand": "x"}]}, "extra": 1,
}  # fmt: skip


def test_fields_that_are_not_known_are_named() -> None:
    assert unknown_fields(CaseFile, FILE) == [
        "dog.colour", "targets.conditions[0].since", "recipe.lines[0].brand", "extra"
    ]  # fmt: skip
    assert len(warnings_of(FILE)) == 4
    assert read_case_file(FILE).dog.weight_kg == 8.2
