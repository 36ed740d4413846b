"""What was read stays good until something is written, by whomever."""

import sqlite3
from pathlib import Path

import pytest
from accounts.models import Practice
from wire.unchanged import MOST_KEPT, state_of, while_unchanged

pytestmark = pytest.mark.django_db


def test_read_once_while_nothing_is_written() -> None:
    asked: list[int] = []
    for _ in range(3):
        assert while_unchanged("once", lambda: asked.append(1) or "answer") == "answer"
    assert len(asked) == 1


def test_read_again_after_this_connection_wrote() -> None:
    Practice.objects.create(name="One")
    assert while_unchanged("count", Practice.objects.count) == 1
    Practice.objects.create(name="Two")
    assert while_unchanged("count", Practice.objects.count) == 2
    Practice.objects.all().delete()
    assert while_unchanged("count", Practice.objects.count) == 0


def test_keys_do_not_meet_and_old_ones_go() -> None:
    for number in range(MOST_KEPT + 3):
        assert while_unchanged(("number", number), lambda n=number: n) == number
    assert while_unchanged(("number", 0), lambda: "anew") == "anew"
    assert while_unchanged(("number", MOST_KEPT + 2), lambda: "anew") == MOST_KEPT + 2


def test_told_when_another_connection_wrote(tmp_path: Path) -> None:
    file = tmp_path / "any.sqlite3"
    mine, other = sqlite3.connect(file), sqlite3.connect(file)
    mine.execute("CREATE TABLE foods (name)")
    before = state_of(mine)
    assert state_of(mine) == before
    other.execute("INSERT INTO foods VALUES ('kelp')")
    assert state_of(mine) == before, "nothing is committed yet"
    other.commit()
    assert state_of(mine) != before
    other.close()
    mine.close()
