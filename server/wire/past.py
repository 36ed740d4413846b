"""Tables that are written once: the database itself refuses to rewrite them."""

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection, migrations


def refused(table: str, verb: str) -> migrations.RunSQL:
    """A trigger that refuses to update or delete a row."""
    what = verb.upper()
    return migrations.RunSQL(
        f"CREATE TRIGGER {table}_no_{verb} BEFORE {what} ON {table} "
        f"BEGIN SELECT RAISE(ABORT, '{table} rows are never {verb}d'); END",
        f"DROP TRIGGER {table}_no_{verb}",
    )


@contextmanager
def lifted(*triggers: tuple[str, str]) -> Iterator[None]:
    """Let rows of these tables be updated or deleted, as (table, verb), within the transaction that is open; whether it ends
    well or not, they are refused again after it. For what the law wants taken away, and for nothing else."""
    names = [f"{table}_no_{verb}" for table, verb in triggers]
    with connection.cursor() as cursor:
        texts = []
        for name in names:
            cursor.execute("SELECT sql FROM sqlite_master WHERE type='trigger' AND name=%s", [name])
            texts.append(cursor.fetchone()[0])
            cursor.execute(f"DROP TRIGGER {connection.ops.quote_name(name)}")
        yield
        for text in texts:
            cursor.execute(text)
