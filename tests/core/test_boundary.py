"""What a type does not know is never passed over in silence, wherever it stands."""

from dataclasses import dataclass
from datetime import date

import pytest
from wainscot_core.boundary import Day, Text80, read, unknown_fields
from wainscot_core.errors import InputError


@dataclass(frozen=True)
class Leaf:
    name: Text80 = ""


@dataclass(frozen=True)
class Tree:
    leaf: Leaf
    perhaps: Leaf | None = None
    leaves: tuple[Leaf, ...] = ()
    named: dict[str, Leaf] | None = None
    words: tuple[str, ...] = ()


@pytest.mark.parametrize(
    ("data", "paths"),
    [
        ({"leaf": {"name": "a"}, "words": ["b"], "perhaps": None}, []),
        ({"leaf": {}, "bark": 1}, ["bark"]),
        ({"leaf": {"colour": "red"}}, ["leaf.colour"]),
        ({"perhaps": {"colour": "red"}}, ["perhaps.colour"]),
        ({"leaves": [{}, {"colour": 1, "name": "x"}]}, ["leaves[1].colour"]),
        ({"named": {"a": {}, "b": {"colour": 1}}}, ["named.b.colour"]),
        # What is no record at all is refused elsewhere, with its own words.
        ({"leaf": 3, "leaves": "none", "named": []}, []),
    ],
)
def test_fields_that_a_type_does_not_know(data: dict[str, object], paths: list[str]) -> None:
    assert unknown_fields(Tree, data) == paths


@dataclass(frozen=True)
class Dated:
    on: Day


@pytest.mark.parametrize(
    "written", ["2026-12-03", "3 Dec 2026", "December 3rd, 2026", "13/12/2026", "2026/12/3"]
)
def test_a_day_is_read_as_people_write_it(written: str) -> None:
    expected = date(2026, 12, 13) if written.startswith("13/") else date(2026, 12, 3)
    assert read(Dated, {"on": written}, typed=True).on == expected


@pytest.mark.parametrize(
    ("written", "said"),
    [("3/12/2026", "write the month as a word"), ("31 Feb 2026", ""), ("soon", ""), (20261203, "")],
)
def test_a_day_that_can_be_two_or_none_is_refused_at_its_field(written: object, said: str) -> None:
    with pytest.raises(InputError) as refused:
        read(Dated, {"on": written}, typed=True)
    assert refused.value.field == "on" and said in refused.value.message


def test_a_file_holds_days_as_programs_write_them() -> None:
    assert read(Dated, {"on": "2026-12-03"}).on == date(2026, 12, 3)
    with pytest.raises(InputError):
        read(Dated, {"on": "3 Dec 2026"})
