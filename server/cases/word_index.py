"""Words of cases as trigrams (SQLite FTS5): the few cases that hold a word are found without reading all of them.

The index follows the table by triggers. They go with a table that is made anew by a change of the database, so they are
looked after whenever changes were made (apps.CasesConfig).
"""

from typing import TYPE_CHECKING, Any

from django.db import connection, transaction

if TYPE_CHECKING:
    from accounts.models import Practice

# Shorter words have no trigram.
LEAST_LETTERS = 3
_INDEX = (
    "CREATE VIRTUAL TABLE IF NOT EXISTS cases_words USING fts5("
    "find_text, content='cases_case', content_rowid='id', tokenize='trigram')"
)
_TAKE = "INSERT INTO cases_words(rowid, find_text) VALUES (new.id, new.find_text);"
_DROP = "INSERT INTO cases_words(cases_words, rowid, find_text) VALUES ('delete', old.id, old.find_text);"
_TRIGGERS = {
    "cases_words_made": f"AFTER INSERT ON cases_case BEGIN {_TAKE} END",
    "cases_words_gone": f"AFTER DELETE ON cases_case BEGIN {_DROP} END",
    "cases_words_changed": f"AFTER UPDATE OF find_text ON cases_case BEGIN {_DROP} {_TAKE} END",
}
# Crossed: the index is read first and once; joined, it may be asked of every single case of the practice instead.
_FEW = (
    "SELECT cases_case.id FROM cases_words CROSS JOIN cases_case ON cases_case.id = cases_words.rowid"
    " WHERE cases_words MATCH %s AND practice_id = %s AND archived = %s LIMIT %s"
)


@transaction.atomic
def look_after(**_: Any) -> None:
    """Make the index where it or what follows the table is missing, of all cases there are."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT name FROM sqlite_master WHERE tbl_name = 'cases_case'")
        there = {name for (name,) in cursor.fetchall()}
        if "cases_case" not in there or there >= _TRIGGERS.keys():
            return
        cursor.execute(_INDEX)
        cursor.execute("INSERT INTO cases_words(cases_words) VALUES ('rebuild')")
        for name, what in _TRIGGERS.items():
            cursor.execute(f"CREATE TRIGGER IF NOT EXISTS {name} {what}")


def forget() -> None:
    """Write the index anew without what was taken out of it, which until then is only marked: a client was erased."""
    with connection.cursor() as cursor:
        cursor.execute("INSERT INTO cases_words(cases_words) VALUES ('optimize')")


def few_with(practice: "Practice", archived: bool, words: list[str], most: int) -> list[int] | None:
    """Cases of a practice that hold all of these words, by number; None where there are more than `most`, or reading its
    cases is the shorter way: it has no more of them, or no word is long enough to be looked for."""
    long = [word for word in words if len(word) >= LEAST_LETTERS]
    if not long or _all_are_few(practice, archived, most):
        return None
    query = " AND ".join('"' + word.replace('"', '""') + '"' for word in long)
    with connection.cursor() as cursor:
        cursor.execute(_FEW, [query, practice.pk, archived, most + 1])
        found = [int(pk) for (pk,) in cursor.fetchall()]
    return found if len(found) <= most else None


def _all_are_few(practice: "Practice", archived: bool, most: int) -> bool:
    """The index is of all practices, and a neighbour may have very many cases with a word."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT 1 FROM cases_case WHERE practice_id = %s AND archived = %s LIMIT 1 OFFSET %s",
            [practice.pk, archived, most],
        )
        return cursor.fetchone() is None
