"""The records of a practice, from a file, as one more practice of this installation.

All of the file is read before anything is written. Then rows are written a few at a time, so that nobody who works here
waits for all of them; nobody belongs to the practice before it is whole, and what was begun and not ended is taken away.
"""

import hashlib
import json
import zipfile
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import IO, Any
from uuid import uuid4

from accounts.models import Practice
from cases.finding import folded, found_by
from cases.models import Case, Client
from desk.models import StaleCase
from django.conf import settings
from django.db import Error, models, transaction
from django.db.models import QuerySet
from keeping.archives import DamagedArchiveError, archive
from keeping.backup import known_changes
from library.actions import touch
from people.models import Invitation
from wainscot_core.boundary import Text60, read
from wainscot_core.conventions import Conventions
from wainscot_core.errors import InputError
from wainscot_core.office.invoice import Invoicing
from wainscot_core.snapshot.snapshot import Letterhead
from wire.past import lifted

from .rows import Numbers, moment, record_of
from .tables import TABLES, Model, Table
from .writing import FORMAT, FORMAT_VERSION, MANIFEST, PRACTICE

AT_ONCE = 500
# The longest line of a table: a row that is longer is none.
MOST_LINE_BYTES = 16_000_000
Tell = Callable[[str, int], None]
# Tables whose rows the database keeps from being deleted, for one that was begun and not ended.
KEPT = ("events_event", "kitchen_batchentry")


@dataclass(frozen=True)
class Brought:
    """A practice that was brought in. rows: of every table that has any; version, made: of the program that wrote the file, and
    when."""

    practice: Practice
    rows: dict[str, int]
    version: str
    made: str


def _nothing(table: str, rows: int) -> None:
    """Nobody is told."""


def bring_in(path: Path, name: str = "", tell: Tell = _nothing) -> Brought:
    """Make a practice of a file. name: what it is called here, "" as in the file; tell: rows of each table, when they are
    written. Raises InputError, with the entry and the line; nothing is written then."""
    try:
        with archive(path) as pack:
            return _bring(pack, name, tell)
    except DamagedArchiveError:
        raise InputError("file", "cannot be read: choose a file that Wainscot wrote") from None
    except OSError as error:
        raise InputError("file", f"cannot be read: {error.strerror or error}") from None


def _bring(pack: zipfile.ZipFile, name: str, tell: Tell) -> Brought:
    manifest = _manifest(pack)
    tables = _tables(manifest)
    _check_sums(pack, manifest["files"], tables)
    begun = _practice(_object(pack, PRACTICE), name)
    # Read once without writing: what is wrong is known before anything is there.
    numbers: dict[Model, dict[int, int]] = {}
    for table in tables:
        numbers[table.model] = {}
        for number, _ in _records(pack, table, numbers, begun):
            if number in numbers[table.model]:
                raise InputError(f"tables/{table.name}.jsonl", f"row {number} is there twice")
            numbers[table.model][number] = number
        said = manifest["rows"].get(table.name)
        if said != len(numbers[table.model]):
            raise InputError(
                f"tables/{table.name}.jsonl",
                f"holds {len(numbers[table.model])} rows; the manifest says {said}",
            )
    for left in _left_behind(begun.name):
        forget(left)
    begun.save_base(raw=True, force_insert=True)
    try:
        _write(pack, begun, tables, tell)
    except Error as error:
        forget(begun)
        raise InputError("file", f"does not hold together, nothing was kept: {error}") from None
    except BaseException:
        forget(begun)
        raise
    return Brought(
        begun,
        {k: v for k, v in manifest["rows"].items() if v},
        str(manifest["version"]),
        str(manifest["made"]),
    )


def _manifest(pack: zipfile.ZipFile) -> dict[str, Any]:
    if MANIFEST not in pack.namelist():
        raise InputError("file", f"holds no {MANIFEST}: it holds no records of a practice")
    said = _object(pack, MANIFEST)
    if said.get("format") != FORMAT:
        raise InputError(MANIFEST, f"is none of {FORMAT}")
    if said.get("format_version") != FORMAT_VERSION:
        raise InputError(
            MANIFEST, "is written by another version of Wainscot, in a form not known here"
        )
    if said.get("whose") != "practice":
        raise InputError(
            MANIFEST,
            "holds the records of one client: they are for reading, and a case of it is brought in by its case.json",
        )
    shapes = {"version": str, "made": str, "changes": dict, "rows": dict, "files": dict}
    for key, kind in shapes.items():
        if not isinstance(said.get(key), kind):
            raise InputError(f"{MANIFEST}: {key}", "is missing")
    known = known_changes(settings.SERVER_DIR)
    newer = [a for a, last in said["changes"].items() if a in known and last not in known[a]]
    if newer:
        raise InputError(
            MANIFEST,
            f"is of Wainscot {said['version']}, which is newer than this one: bring this one up to date first",
        )
    return said


def _tables(manifest: dict[str, Any]) -> list[Table]:
    """The tables that the version of the program had that wrote the file: those of its applications."""
    return [t for t in TABLES if t.model._meta.app_label in manifest["changes"]]


def _check_sums(pack: zipfile.ZipFile, files: dict[str, Any], tables: Sequence[Table]) -> None:
    """Every entry is what the manifest says, and none is missing."""
    there = set(pack.namelist()) - {MANIFEST}
    wanted = {PRACTICE, *(f"tables/{t.name}.jsonl" for t in tables)}
    for name in sorted(wanted - there | set(files) - there):
        raise InputError(name, "is missing from the file")
    for name in sorted(there):
        digest = hashlib.sha256()
        with pack.open(name) as entry:
            while part := entry.read(1 << 20):
                digest.update(part)
        if digest.hexdigest() != files.get(name):
            raise InputError(
                name, "is not what was written: the file was damaged, or changed by hand"
            )


def _object(pack: zipfile.ZipFile, name: str) -> dict[str, Any]:
    with pack.open(name) as entry:
        found = _parsed(entry.read(MOST_LINE_BYTES), name)
    if not isinstance(found, dict):
        raise InputError(name, "is no object")
    return found


def _parsed(text: bytes, where: str) -> Any:
    try:
        return json.loads(text)
    except (ValueError, RecursionError):
        raise InputError(where, "is no JSON that can be read") from None


def _practice(said: dict[str, Any], name: str) -> Practice:
    called = (name or str(said.get("name", ""))).strip()
    if not 1 <= len(called) <= 120:
        raise InputError(f"{PRACTICE}: name", "a practice has a name of at most 120 characters")
    there = Practice.objects.filter(name__iexact=called)
    if there.exclude(pk__in=[p.pk for p in _left_behind(called)]).exists():
        raise InputError(
            f"{PRACTICE}: name", f"there is a practice called {called} here: give it another name"
        )
    conventions = said.get("conventions")
    if not isinstance(conventions, dict):
        raise InputError(f"{PRACTICE}: conventions", "is missing")
    if conventions:
        try:
            read(Conventions, conventions)
        except InputError as error:
            raise error.under(f"{PRACTICE}: conventions") from None
    # A file of an older version has none.
    kinds = {"letterhead": Letterhead, "invoicing": Invoicing, "time_zone": Text60}
    more = {name: said.get(name, "" if kind is Text60 else {}) for name, kind in kinds.items()}
    for field, kind in kinds.items():
        try:
            read(kind, more[field])
        except InputError as error:
            raise error.under(f"{PRACTICE}: {field}") from None
    return Practice(
        name=called,
        **more,
        created=moment(said.get("created")),
        conventions=conventions,
        shelf_asked=said.get("shelf_asked") is True,
        library_revision=uuid4().hex,
    )


def _left_behind(name: str) -> list[Practice]:
    """What was begun under this name and not ended: nobody was ever asked to join it."""
    return [
        practice
        for practice in Practice.objects.filter(name__iexact=name, users=None)
        if not Invitation.objects.filter(practice=practice).exists()
    ]


def _lines(entry: IO[bytes], where: str) -> Iterator[tuple[str, Any]]:
    number = 0
    while line := entry.readline(MOST_LINE_BYTES + 1):
        number += 1
        at = f"{where}, line {number}"
        if len(line) > MOST_LINE_BYTES:
            raise InputError(at, "is too long for a row")
        yield at, _parsed(line, at)


def _records(
    pack: zipfile.ZipFile, table: Table, numbers: Numbers, practice: Practice
) -> Iterator[tuple[int, models.Model]]:
    name = f"tables/{table.name}.jsonl"
    with pack.open(name) as entry:
        for at, row in _lines(entry, name):
            try:
                found = record_of(table, row, numbers, practice)
            except InputError as error:
                raise error.under(at) from None
            yield found


def _write(pack: zipfile.ZipFile, practice: Practice, tables: Sequence[Table], tell: Tell) -> None:
    numbers: dict[Model, dict[int, int]] = {}
    for table in tables:
        numbers[table.model] = {}
        some: list[tuple[int, models.Model]] = []
        for found in _records(pack, table, numbers, practice):
            some.append(found)
            if len(some) == AT_ONCE:
                _write_some(table, some, numbers)
                some = []
        _write_some(table, some, numbers)
        tell(table.name, len(numbers[table.model]))
    touch(practice)
    cases = Case.objects.filter(practice=practice, archived=False).values_list("pk", flat=True)
    StaleCase.objects.bulk_create(
        (StaleCase(case_id=pk, practice=practice) for pk in cases.iterator()), batch_size=AT_ONCE
    )


@transaction.atomic
def _write_some(
    table: Table, some: list[tuple[int, models.Model]], numbers: dict[Model, dict[int, int]]
) -> None:
    for number, record in some:
        if isinstance(record, Client):
            record.find_text = folded(record.name)
        if isinstance(record, Case):
            record.find_text, record.find_conditions = found_by(record)
        # As it is: when it was made and changed are the file's.
        record.save_base(raw=True, force_insert=True)
        numbers[table.model][number] = record.pk


@transaction.atomic
def forget(practice: Practice) -> None:
    """Take away a practice that was begun and not ended: nobody belongs to it."""
    with lifted(*((table, "delete") for table in KEPT)):
        StaleCase.objects.filter(practice=practice).delete()
        for table in reversed(TABLES):
            rows: QuerySet[Any] = table.model._default_manager.filter(**{table.practice: practice})
            rows.delete()
    practice.delete()
