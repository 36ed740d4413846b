"""The file itself: every table as JSON Lines and as CSV, every case as its case file, every issued plan with its papers."""

import hashlib
import io
import json
import zipfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import asdict, dataclass
from datetime import UTC, datetime
from typing import IO, Any

from accounts.models import Practice
from cases.models import Case, Client
from django.conf import settings
from django.db import connection, models
from keeping.backup import known_changes
from release.bundle import case_files
from wainscot_core.cells import csv_text
from wainscot_core.errors import InputError
from wainscot_core.version import VERSION

from .rows import columns, row_of
from .tables import TABLES, Model, Table

FORMAT = "wainscot-practice"
FORMAT_VERSION = 1
MANIFEST = "manifest.json"
PRACTICE = "practice.json"
# So many rows are in memory at once.
AT_ONCE = 1000
# Zips remember when: the same records are the same entry.
_WHEN = (1980, 1, 1, 0, 0, 0)
README = """These are records of Wainscot, in open formats.

manifest.json      what this file says of itself: which program wrote it, rows of every table, SHA-256 of every entry
practice.json      the practice and how it writes things
tables/*.jsonl     every table, a row a line, as it is read when the records are brought in elsewhere
csv/*.csv          the same tables for a spreadsheet
cases/*/           each case: its case files, what was issued of it, and its papers as PDF
"""

Tell = Callable[[int, int], None]


@dataclass(frozen=True, kw_only=True)
class Manifest:
    """What a file says of itself. whose: "practice" or "client"; changes: of the database, the last one by application;
    rows: of every table; files: the SHA-256 of each other entry; without: cases that could not be written as case files, and
    why (their rows are there)."""

    version: str
    made: str
    whose: str
    practice: str
    changes: dict[str, str]
    rows: dict[str, int]
    files: dict[str, str]
    without: dict[str, str]
    format: str = FORMAT
    format_version: int = FORMAT_VERSION


def current_changes() -> dict[str, str]:
    """The last change this version makes to each application's tables."""
    return {app: max(names) for app, names in known_changes(settings.SERVER_DIR).items() if names}


def rows_of(table: Table, practice: Practice, client: Client | None) -> models.QuerySet[Any]:
    """The rows of a table that go into the file of a practice, or of one of its clients."""
    found = table.model._default_manager.filter(**{table.practice: practice})
    if client is not None:
        found = found.filter(**_whose(table, client))
    return table.only(found) if table.only else found


def _whose(table: Table, client: Client) -> dict[str, Any]:
    if table.client == "case" and "case" in table.numbers:
        return {"case__in": Case.objects.filter(dog__client=client).values("pk")}
    return {str(table.client): client.pk}


def _nothing(done: int, of: int) -> None:
    """Nobody is told."""


def write_records(
    practice: Practice, out: IO[bytes], client: Client | None = None, tell: Tell = _nothing
) -> Manifest:
    """Write the records of a practice, or of one client, as they are at one moment. tell: how many cases are written, of how
    many. Raises OSError."""
    tables = [t for t in TABLES if client is None or t.client is not None]
    files: dict[str, str] = {}
    without: dict[str, str] = {}
    rows: dict[str, int] = {}
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as pack:

        def put(name: str, parts: Iterator[bytes]) -> None:
            digest = hashlib.sha256()
            with pack.open(_entry(name), "w", force_zip64=True) as handle:
                for part in parts:
                    digest.update(part)
                    handle.write(part)
            files[name] = digest.hexdigest()

        put("README.txt", iter([README.encode()]))
        with _one_moment():
            put(PRACTICE, iter([_json(_practice_of(practice))]))
            numbers: dict[Model, dict[int, int]] = {}
            for table in tables:
                found = rows_of(table, practice, client).order_by("pk")
                keys = found.values_list("pk", flat=True).iterator(chunk_size=AT_ONCE)
                numbers[table.model] = {pk: n for n, pk in enumerate(keys, start=1)}
                rows[table.name] = len(numbers[table.model])
            for table in tables:
                found = rows_of(table, practice, client).order_by("pk")
                put(f"tables/{table.name}.jsonl", _lines(table, found, numbers))
                put(f"csv/{table.name}.csv", _csv(table, found, numbers))
            cases = list(
                rows_of(_table(Case), practice, client).order_by("pk").select_related("dog__client")
            )
        for i, case in enumerate(cases):
            tell(i, len(cases))
            at = f"cases/{numbers[Case][case.pk]}"
            # One that cannot be written as a case file hides none of the others; its rows are there.
            try:
                for name, content in case_files(case):
                    put(f"{at}/{name}", iter([content]))
            except InputError as error:
                without[at] = error.message
        tell(len(cases), len(cases))
        manifest = Manifest(
            version=VERSION,
            made=datetime.now(UTC).isoformat(timespec="seconds"),
            whose="practice" if client is None else "client",
            practice=practice.name,
            changes=current_changes(),
            rows=rows,
            files=files,
            without=without,
        )
        pack.writestr(_entry(MANIFEST), _json(asdict(manifest)))
    return manifest


def _entry(name: str) -> zipfile.ZipInfo:
    entry = zipfile.ZipInfo(name, _WHEN)
    entry.compress_type = zipfile.ZIP_DEFLATED
    return entry


@contextmanager
def _one_moment() -> Iterator[None]:
    """What is read is read as of now, and nobody who writes waits. Within a transaction it is so already."""
    if connection.in_atomic_block:
        yield
        return
    with connection.cursor() as cursor:
        cursor.execute("BEGIN DEFERRED")
        try:
            yield
        finally:
            cursor.execute("COMMIT")


def _table(model: Model) -> Table:
    return next(t for t in TABLES if t.model is model)


def _practice_of(practice: Practice) -> dict[str, Any]:
    return {
        "name": practice.name,
        "created": practice.created.astimezone(UTC).isoformat(),
        "conventions": practice.conventions,
        "letterhead": practice.letterhead,
        "invoicing": practice.invoicing,
        "time_zone": practice.time_zone,
        "shelf_asked": practice.shelf_asked,
    }


def _json(data: Any) -> bytes:
    return json.dumps(data, ensure_ascii=False, indent=1).encode()


def _records(found: models.QuerySet[Any]) -> Iterator[Any]:
    return found.iterator(chunk_size=AT_ONCE)


def _lines(
    table: Table, found: models.QuerySet[Any], numbers: dict[Model, dict[int, int]]
) -> Iterator[bytes]:
    for record in _records(found):
        row = row_of(table, record, numbers)
        yield json.dumps(row, ensure_ascii=False, allow_nan=False).encode() + b"\n"


def _csv(
    table: Table, found: models.QuerySet[Any], numbers: dict[Model, dict[int, int]]
) -> Iterator[bytes]:
    # What was kept whole is no table: it stands with the cases.
    names = ["id", *(c.name for c in columns(table) if not isinstance(c, models.BinaryField))]
    yield csv_text([names]).encode()
    for record in _records(found):
        row = row_of(table, record, numbers)
        yield csv_text([[_cell(row[name]) for name in names]]).encode()


def _cell(value: Any) -> object:
    return json.dumps(value, ensure_ascii=False) if isinstance(value, dict | list) else value


def records_zip(practice: Practice, client: Client) -> bytes:
    """The records of one client as one file."""
    out = io.BytesIO()
    write_records(practice, out, client)
    return out.getvalue()
