"""Records changed field by field: what is merged, what collides, what is refused."""

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.boundary import dump
from wainscot_core.changes import Collision, FieldChange, Table, changed
from wainscot_core.dog.record import read_record
from wainscot_core.errors import InputError

RECORD = {
    "name": "Soup",
    "owner": {"cook": "", "store": "freezer"},
    "rows": {"a": {"text": "1"}, "b": {"text": "2"}},
    "order": ["a", "b"],
}
ROWS = [Table("rows", "order")]


def change(path: str, was: Any, value: Any) -> FieldChange:
    return FieldChange(path=path, was=was, value=value)


def made(*changes: FieldChange) -> tuple[dict[str, Any], list[Collision]]:
    return changed(RECORD, changes, ROWS)


def test_changes_that_do_not_collide_are_applied_and_others_told() -> None:
    data, collisions = made(change("owner.cook", "", "raw"), change("name", "Stew", "Broth"))
    assert collisions == [Collision("name", "Soup", "Broth")]
    assert data["owner"] == {"cook": "raw", "store": "freezer"} and data["name"] == "Soup"
    # What both set alike is no collision.
    assert made(change("name", "Stew", "Soup"))[1] == []


@pytest.mark.parametrize(
    "path",
    ["nothing", "owner.nothing", "name.more", "owner.cook.x", "rows.a.colour", "rows.c.text"],
)
def test_a_path_that_is_no_field_is_refused(path: str) -> None:
    with pytest.raises(InputError) as caught:
        made(change(path, None, 1))
    assert caught.value.field == path


def test_rows_come_at_the_end_and_go_without_moving_the_others() -> None:
    data, collisions = made(
        change("rows.c", None, {"text": "3"}), change("rows.a", {"text": "1"}, None)
    )
    assert collisions == []
    assert data["order"] == ["b", "c"] and data["rows"] == {"b": {"text": "2"}, "c": {"text": "3"}}


def test_a_row_changed_here_and_taken_away_there_collides_either_way() -> None:
    gone = {**RECORD, "rows": {"b": {"text": "2"}}, "order": ["b"]}
    assert changed(gone, [change("rows.a.text", "1", "5")], ROWS)[1] == [
        Collision("rows.a.text", None, "5")
    ]
    grown = {**RECORD, "rows": {**RECORD["rows"], "a": {"text": "5"}}}  # type: ignore[dict-item]
    assert changed(grown, [change("rows.a", {"text": "1"}, None)], ROWS)[1] == [
        Collision("rows.a", {"text": "5"}, None)
    ]


def test_orders_collide_only_on_the_rows_they_share() -> None:
    longer = {
        **RECORD,
        "rows": {**RECORD["rows"], "c": {"text": "3"}},  # type: ignore[dict-item]
        "order": ["a", "b", "c"],
    }
    # A row that came meanwhile is no reason to refuse a move; it stays behind the others.
    data, collisions = changed(longer, [change("order", ["a", "b"], ["b", "a"])], ROWS)
    assert (data["order"], collisions) == (["b", "a", "c"], [])
    turned = {**longer, "order": ["c", "a", "b"]}
    [met] = changed(turned, [change("order", ["a", "b", "c"], ["b", "a", "c"])], ROWS)[1]
    assert met.stored == ["c", "a", "b"]


def test_what_is_stored_otherwise_than_written_is_known_when_it_comes_again() -> None:
    def stored(data: Any) -> Any:
        return dump(read_record(dict(data), typed=True))

    before = dump(read_record({"dog": {"name": "Pip", "weight_kg": 8.2}}))
    typed = change("dog.weight_kg", 8.2, "9 lb")
    after = stored(changed(before, [typed], settle=stored)[0])
    assert after["dog"]["weight_kg"] == pytest.approx(9 * 0.45359237)
    assert changed(after, [typed], settle=stored)[1] == []
    other = change("dog.weight_kg", 8.2, "10 lb")
    assert len(changed(after, [other], settle=stored)[1]) == 1


KEYS = st.sampled_from("abcd")
TEXTS = st.sampled_from(["1", "2", "3"])


@st.composite
def edits(draw: st.DrawFn) -> tuple[str, Any]:
    """A path and what it is to be set to."""
    key = draw(KEYS)
    return draw(
        st.sampled_from(
            [
                (f"rows.{key}", {"text": draw(TEXTS)}),
                (f"rows.{key}", None),
                (f"rows.{key}.text", draw(TEXTS)),
                ("name", draw(TEXTS)),
                ("order", draw(st.permutations("abcd"))),
            ]
        )
    )


def at(data: dict[str, Any], path: str) -> Any:
    found: Any = data
    for part in path.split("."):
        found = found.get(part) if isinstance(found, dict) else None
    return found


@given(st.lists(st.tuples(st.booleans(), edits()), max_size=12))
def test_two_people_lose_nothing_without_being_told(steps: list[tuple[bool, Any]]) -> None:
    """Each sees the record as their own last write left it. A write either stands in the record
    afterwards, or is told as a collision or refused; and a row never stands in two places."""
    stored: dict[str, Any] = RECORD
    seen: dict[bool, dict[str, Any]] = {True: RECORD, False: RECORD}
    for who, (path, value) in steps:
        asked = change(path, at(seen[who], path), value)
        try:
            data, collisions = changed(stored, [asked], ROWS)
        except InputError:
            assert at(stored, path) is None
            continue
        if collisions:
            assert data == stored and collisions[0].stored == at(stored, path)
        elif path == "order":
            assert data["order"] == [*(k for k in value if k in stored["rows"])]
        else:
            assert at(data, path) == value
            # Nothing else moved.
            assert {k: v for k, v in data.items() if k not in path and k != "order"} == {
                k: v for k, v in stored.items() if k not in path and k != "order"
            }
        if not collisions:
            seen[who] = data
        assert sorted(data["order"]) == sorted(data["rows"])
        stored = data
