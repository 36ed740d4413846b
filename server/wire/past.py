"""Tables that are written once: the database itself refuses to rewrite them."""

from django.db import migrations


def refused(table: str, verb: str) -> migrations.RunSQL:
    """A trigger that refuses to update or delete a row."""
    what = verb.upper()
    return migrations.RunSQL(
        f"CREATE TRIGGER {table}_no_{verb} BEFORE {what} ON {table} "
        f"BEGIN SELECT RAISE(ABORT, '{table} rows are never {verb}d'); END",
        f"DROP TRIGGER {table}_no_{verb}",
    )
