"""What a type does not know is never passed over in silence, wherever it stands."""

from dataclasses import dataclass

import pytest
from wainscot_core.boundary import Text80, unknown_fields


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
