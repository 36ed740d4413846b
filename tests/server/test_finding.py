"""Cases and clients are found by words, condition and page, however many there are; each practice its own."""

from typing import Any

import pytest
from cases import finding
from cases.actions import Owner, start_case_for
from cases.finding import CASES_A_PAGE, Wanted, find, folded
from cases.models import Case
from cases.word_index import few_with, look_after
from django.db import connection
from django.test.utils import CaptureQueriesContext
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st


def start(office: Any, owner: str, name: str, breed: str = "", **more: Any) -> Case:
    data = {"dog": {"name": name, "weight_kg": 9, "breed": breed}, **more}
    return start_case_for(office.who, Owner(None, owner), data)


def found(office: Any, query: str = "") -> list[str]:
    return [r["dog"] for r in office.get(f"cases?{query}").json()["rows"]]


@pytest.fixture
def many(office: Any) -> Any:
    start(office, "Änne Øster", "Bracken", "Border Terrier")
    start(
        office,
        "Ola Berg",
        "Sedge",
        conditions=[{"id": "ckd", "name": "Kidney disease", "stage": "2"}],
    )
    start(office, "Ola Lund", "Fern", title="Second opinion")
    return office  # fmt: skip


@pytest.mark.parametrize(
    ("words", "dogs"),
    [
        ("brack", ["Bracken"]),
        ("ANNE", ["Bracken"]),
        ("änne terr", ["Bracken"]),
        ("ola", ["Fern", "Sedge"]),
        ("ola kidney", ["Sedge"]),
        ("second", ["Fern"]),
        ("100%", []),
        ("sed_e", []),
        ("nobody", []),
        # What cannot be seen parts words, also where the index would end.
        ("\0brack", ["Bracken"]),
        ("ola\x07kidney", ["Sedge"]),
        ("nob\0dy", []),
    ],
)
def test_all_words_stand_in_a_case_without_capitals_and_accents(many, words, dogs) -> None:
    assert found(many, f"words={words.replace('%', '%25').replace(' ', '+')}") == dogs


LETTERS = st.text("abéß%_'\" \\", min_size=1, max_size=7)


@pytest.mark.django_db
@settings(
    max_examples=60, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
@given(
    names=st.lists(LETTERS, min_size=1, max_size=6), words=LETTERS, most=st.sampled_from([1, 1000])
)
def test_the_index_finds_what_reading_every_case_finds(
    office: Any, rival: Any, names: list[str], words: str, most: int
) -> None:
    """Quotes, signs of a pattern and of a query, words too short for the index; few found, and more than are looked for."""
    for who in (office, rival):
        for name in names:
            made = Case.objects.create(practice=who.practice, dog=who.case.dog)
            Case.objects.filter(pk=made.pk).update(find_text=folded(name))
    read = [
        c.pk
        for c in Case.objects.filter(practice=office.practice)
        if all(word in c.find_text for word in folded(words).split())
    ]
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(finding, "MOST_FOUND", most)
        assert {c.pk for c in find(office.practice, Wanted(words=words))} == set(read)


def test_the_index_follows_every_way_of_writing_and_a_table_made_anew(many: Any) -> None:
    case = Case.objects.get(dog__name="Fern")
    Case.objects.filter(pk=case.pk).update(find_text="written past the model")
    assert few_with(many.practice, False, ["past"], 1) == [case.pk]
    assert few_with(many.practice, False, ["fern"], 1) == []
    with connection.cursor() as cursor:
        # As a change of the database leaves it: without what followed the table.
        for name in ("made", "gone", "changed"):
            cursor.execute(f"DROP TRIGGER cases_words_{name}")
        cursor.execute("UPDATE cases_case SET find_text = 'unheard of' WHERE id = %s", [case.pk])
    look_after()
    assert few_with(many.practice, False, ["unheard"], 1) == [case.pk]
    assert few_with(many.practice, False, ["past"], 1) == []
    Case.objects.filter(pk=case.pk).delete()
    assert few_with(many.practice, False, ["unheard"], 1) == []
    # Nothing but a search is asked of the index once it is there.
    with CaptureQueriesContext(connection) as asked:
        look_after()
    assert not any(q["sql"].startswith(("INSERT", "CREATE")) for q in asked)


def test_the_index_is_read_once_and_only_where_there_are_many(many: Any) -> None:
    """Asked of each case of a practice, it took seconds for ten thousand of them; and a neighbour's may be very many."""
    with CaptureQueriesContext(connection) as asked:
        assert few_with(many.practice, False, ["ola", "kidney"], 1) is not None
    (sql,) = (q["sql"] for q in asked if "MATCH" in q["sql"])
    with connection.cursor() as cursor:
        cursor.execute("EXPLAIN QUERY PLAN " + sql)
        steps = [step[-1] for step in cursor.fetchall()]
    assert "cases_words" in steps[0] and "cases_case USING INTEGER PRIMARY KEY" in steps[1]
    with CaptureQueriesContext(connection) as asked:
        assert few_with(many.practice, False, ["ola"], 4) is None
    assert not any("MATCH" in q["sql"] for q in asked)


def test_what_is_renamed_is_found_by_its_new_name(many: Any) -> None:
    case = Case.objects.get(dog__name="Fern")
    client = case.dog.client
    changes = [{"path": "name", "value": "Mirja Lund", "was": "Ola Lund"}]
    answer = many.send("patch", f"clients/{client.pk}", {"changes": changes})
    assert answer.status_code == 200
    assert found(many, "words=ola") == ["Sedge"] and found(many, "words=mirja") == ["Fern"]
    changes = [{"path": "dog.name", "value": "Rush", "was": "Fern"}]
    assert many.send("patch", f"cases/{case.pk}", {"changes": changes}).status_code == 200
    assert found(many, "words=fern") == [] and found(many, "words=rush+mirja") == ["Rush"]


def test_a_condition_is_told_by_its_id_not_by_its_words(many: Any) -> None:
    start(many, "Nils", "Thrift", notes="no ckd", title="ckd ruled out")
    assert found(many, "condition=ckd") == ["Sedge"]
    assert found(many, "condition=ck") == []


def test_what_is_put_away_is_apart_and_counted(many: Any) -> None:
    case = Case.objects.get(dog__name="Sedge")
    many.send("post", f"cases/{case.pk}/archive", {"archived": True})
    assert "Sedge" not in found(many) and found(many, "archived=true") == ["Sedge"]
    page = many.get("cases").json()
    assert (page["open"], page["away"], page["found"]) == (3, 1, 3)


@pytest.mark.parametrize(
    "query", ["page=x", "page=-1", "archived=perhaps", "order=age", "colour=red"]
)
def test_what_cannot_be_asked_is_said(office: Any, query: str) -> None:
    answer = office.get(f"cases?{query}")
    assert answer.status_code == 400
    assert answer.json()["error"]["field"] == query.partition("=")[0]


def test_pages_hold_every_case_once_and_ask_as_much_as_one_case_does(office: Any) -> None:
    with CaptureQueriesContext(
        connection,
    ) as few:
        office.get("cases")
    for n in range(CASES_A_PAGE + 7):
        start(office, f"Owner {n}", f"Dog {n:03}")
    with CaptureQueriesContext(connection) as lots:
        first = office.get("cases?order=dog").json()
    assert len(lots) == len(few)
    rest = office.get("cases?order=dog&page=2").json()
    dogs = [r["dog"] for r in first["rows"] + rest["rows"]]
    assert first["pages"] == 2 and first["found"] == CASES_A_PAGE + 8
    assert dogs == sorted(dogs) and len(set(dogs)) == CASES_A_PAGE + 8
    past = office.get("cases?order=dog&page=99").json()
    assert past["page"] == 2 and past["rows"] == rest["rows"]


@pytest.mark.parametrize("words", ["ol", "ola"])
def test_a_search_of_few_cases_reads_the_index_they_are_listed_by(office: Any, words: str) -> None:
    with CaptureQueriesContext(connection) as asked:
        office.get(f"cases?words={words}&condition=ckd")
    (search,) = [q["sql"] for q in asked if "LIMIT 10" in q["sql"] and "cases_case" in q["sql"]]
    with connection.cursor() as cursor:
        cursor.execute("EXPLAIN QUERY PLAN " + search)
        plan = " ".join(str(row) for row in cursor.fetchall())
    assert "COVERING INDEX case_by_change" in plan and "TEMP B-TREE" not in plan


def test_clients_of_that_very_name_come_first(many: Any) -> None:
    start(many, "Carola", "Vetch")
    names = [c["name"] for c in many.get("clients?words=ola").json()]
    assert names == ["Carola", "Ola Berg", "Ola Lund"]
    start(many, "Ola", "Tansy")
    assert many.get("clients?words=OLA").json()[0] == {
        "id": Case.objects.get(dog__name="Tansy").dog.client_id, "name": "Ola", "dogs": ["Tansy"],
    }  # fmt: skip
    taken = many.send(
        "post", "cases", {"client_name": "anne oster", "dog_name": "Ling", "weight_kg": "9 kg"}
    )
    assert taken.status_code == 201, "ø is a letter of its own, not an o with an accent"
    taken = many.send(
        "post", "cases", {"client_name": "änne øster", "dog_name": "Ling", "weight_kg": "9 kg"}
    )
    assert taken.status_code == 400 and taken.json()["error"]["field"] == "client_name"


def test_only_ones_own_are_found(many: Any, rival: Any) -> None:
    assert "Bracken" not in found(rival, "words=brack")
    assert "Änne Øster" not in [c["name"] for c in rival.get("clients?words=nne").json()]
