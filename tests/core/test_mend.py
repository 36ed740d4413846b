"""A record that cannot be read loses what cannot be read, is told of it, and keeps all else."""

import json
from copy import deepcopy
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.boundary import dump
from wainscot_core.dog.mend import without_faults
from wainscot_core.dog.record import read_record
from wainscot_core.errors import InputError

SOUND: dict[str, Any] = dump(
    read_record(
        {
            "dog": {"name": "Fen", "weight_kg": 11.5, "age_months": 60, "breed": "Beagle"},
            "title": "Heart", "conditions": [{"id": "ckd", "name": "Kidney disease"}, {"id": "cardiac", "name": "Heart"}],
            "intake": {"medicines": [{"name": "pimobendan"}, {"name": "benazepril"}]}, "notes": "Eats slowly",
        }
    )
)  # fmt: skip


def test_what_can_be_read_stays_as_it_is() -> None:
    assert without_faults(SOUND, read_record) == (SOUND, ())


@pytest.mark.parametrize(
    ("path", "value", "told"),
    [
        (("conditions", 0), {"name": "x"}, "conditions[0]"),
        (("conditions", 1), "spoilt", "conditions[1]"),
        (("conditions",), {"a": 1}, "conditions"),
        (("intake", "medicines", 0), {}, "intake.medicines[0]"),
        (("intake", "medicines"), 7, "intake.medicines"),
        (("intake",), [1], "intake"),
        (("dog", "body_condition"), 99, "dog.body_condition"),
        (("dog", "adult_weight_kg"), "heavy", "dog.adult_weight_kg"),
        (("meals_per_day",), 40, "meals_per_day"),
        (("notes",), {"x": []}, "notes"),
    ],
)
def test_only_what_is_wrong_is_taken_out_and_it_is_told_with_what_stood_there(
    path: tuple[Any, ...], value: Any, told: str
) -> None:
    data = deepcopy(SOUND)
    at: Any = data
    for step in path[:-1]:
        at = at[step]
    at[path[-1]] = value
    left, (fault,) = without_faults(data, read_record)
    assert fault.path == told and json.loads(fault.held) == value and fault.why
    # Everything else is what it was, in its order.
    want, at = deepcopy(SOUND), None
    at = want
    for step in path[:-1]:
        at = at[step]
    if isinstance(path[-1], int):
        del at[path[-1]]
    else:
        del at[path[-1]]
        del data
    assert left == want
    assert dump(read_record(left)) == dump(read_record(want))


def test_half_of_an_element_of_a_list_tells_nothing_and_goes_as_a_whole() -> None:
    data = deepcopy(SOUND)
    data["conditions"][0]["id"] = 7
    held = deepcopy(data["conditions"][0])
    left, (fault,) = without_faults(data, read_record)
    assert (fault.path, json.loads(fault.held)) == ("conditions[0]", held)
    assert fault.why.startswith("id ") and left["conditions"] == SOUND["conditions"][1:]


def test_what_must_be_there_is_not_made_up() -> None:
    data = deepcopy(SOUND)
    data["dog"]["weight_kg"] = "unknown"
    with pytest.raises(InputError, match="weight_kg"):
        without_faults(data, read_record)


JUNK = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=5),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=5), inner, max_size=3),
    max_leaves=6,
)  # fmt: skip


@given(st.sampled_from(sorted(set(SOUND) - {"dog"})), JUNK)
def test_whatever_stands_in_a_field_the_record_can_be_read_afterwards(
    field: str, junk: Any
) -> None:
    data = {**deepcopy(SOUND), field: junk}
    left, faults = without_faults(data, read_record)
    read_record(left)
    assert all(fault.path.startswith(field) for fault in faults)
    assert {k: v for k, v in left.items() if k != field} == {
        k: v for k, v in SOUND.items() if k != field
    }
