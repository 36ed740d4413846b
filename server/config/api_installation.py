"""The installation: whether it is well, for a machine that asks and for the owner who looks after it."""

import os
import shutil
from dataclasses import dataclass
from datetime import UTC, datetime

from accounts.permissions import Work
from accounts.scoping import actor_of, practice_of
from django.conf import settings
from django.db import DatabaseError, connection
from django.db.migrations.recorder import MigrationRecorder
from django.http import HttpRequest, HttpResponse, JsonResponse
from events.log import log
from events.models import EventKind
from jobs.models import Job
from keeping.backup import known_changes, make_backup, standing, stem
from keeping.folder import DATABASE, read_marker
from keeping.trouble import FolderError
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.errors import InputError
from wainscot_core.version import VERSION
from wire.shapes import answer, endpoint

from config.logs import last_failures
from config.timetable import backup_place, keep_days

# Below this nothing more should be begun.
SCARCE_BYTES = 100_000_000
LATE_HOURS = 36


@dataclass(frozen=True, kw_only=True)
class BackupView:
    """A backup that was made by itself, or from this page."""

    name: str
    at: datetime
    bytes: int


@dataclass(frozen=True, kw_only=True)
class FailureView:
    """Something that went wrong on our side. where: the address asked, without numbers; request: what to name when you ask
    for help."""

    at: str
    kind: str
    where: str
    request: str


@dataclass(frozen=True, kw_only=True)
class JobCount:
    """How many jobs of this practice stand where."""

    state: str
    count: int


@dataclass(frozen=True, kw_only=True)
class InstallationView:
    """How the installation is. missing: changes the database has not been through; backup_days: how long backups are kept, None
    where none are made; late: the last backup is older than it should be; elsewhere: backups are kept on another place
    than beside the data; scarce: the disk is nearly full."""

    version: str
    missing: tuple[str, ...]
    database_bytes: int
    free_bytes: int
    scarce: bool
    backup_days: int | None
    backups: tuple[BackupView, ...]
    late: bool
    elsewhere: bool
    jobs: tuple[JobCount, ...]
    failures: tuple[FailureView, ...]


def missing_changes() -> tuple[str, ...]:
    """Changes this version makes to a database that this one has not been through."""
    done = {(app, name) for app, name in MigrationRecorder(connection).applied_migrations()}
    known = known_changes(settings.SERVER_DIR)
    return tuple(
        f"{app} {n}" for app, names in known.items() for n in names if (app, n) not in done
    )


def healthz(request: HttpRequest) -> HttpResponse:
    """Whether requests are answered and the database is what this version needs. It tells nothing of any record."""
    try:
        missing = missing_changes()
        free = shutil.disk_usage(settings.DATA_DIR).free
    except (DatabaseError, OSError):
        return JsonResponse({"status": "down", "version": VERSION}, status=503)
    well = not missing and free >= SCARCE_BYTES
    body = {"status": "ok" if well else "poor", "version": VERSION, "database": "behind" if missing else "current",
            "disk": "ok" if free >= SCARCE_BYTES else "scarce"}  # fmt: skip
    return JsonResponse(body, status=503 if missing else 200, headers={"Cache-Control": "no-store"})


def installation_of(request: Request) -> InstallationView:
    """How the installation is, as a practice's owner is told."""
    backups = standing(backup_place()) if backup_place().is_dir() else ()
    free = shutil.disk_usage(settings.DATA_DIR).free
    newest = next((b.at for b in backups), None)
    days = keep_days()
    # Without any it is as old as the installation.
    marker = read_marker(settings.DATA_DIR)
    begun = datetime.fromisoformat(marker.made) if marker is not None and marker.made else None
    since = newest or begun
    hours = None if since is None else (datetime.now(UTC) - since).total_seconds() / 3600
    jobs = Job.objects.for_practice(practice_of(request)).values_list("state", flat=True)
    states = list(jobs)
    return InstallationView(
        version=VERSION,
        missing=missing_changes(),
        database_bytes=(settings.DATA_DIR / DATABASE).stat().st_size if (settings.DATA_DIR / DATABASE).exists() else 0,
        free_bytes=free,
        scarce=free < SCARCE_BYTES,
        backup_days=days,
        backups=tuple(BackupView(name=b.path.name, at=b.at, bytes=b.bytes) for b in backups[:30]),
        late=days is not None and (hours is None or hours > LATE_HOURS),
        elsewhere="WAINSCOT_BACKUP_DIR" in os.environ,
        jobs=tuple(JobCount(state=s, count=states.count(s)) for s in sorted(set(states))),
        failures=tuple(
            FailureView(
                at=str(f.get("timestamp", "")), kind=str(f.get("failure") or f.get("message", "")),
                where=str(f.get("route") or ""), request=str(f.get("request") or ""),
            )
            for f in last_failures(settings.DATA_DIR)
        ),
    )  # fmt: skip


class InstallationDetailView(APIView):
    """How the installation is."""

    looking = work = Work.RUN

    @endpoint(InstallationView, errors=())
    def get(self, request: Request) -> HttpResponse:
        return answer(installation_of(request))


class BackupNowView(APIView):
    """Make a backup now."""

    looking = work = Work.RUN

    @endpoint(InstallationView, errors=(400,))
    def post(self, request: Request) -> HttpResponse:
        target = backup_place() / f"{stem(datetime.now(UTC))}.zip"
        try:
            made = make_backup(settings.DATA_DIR, target, VERSION)
        except FolderError as error:
            raise InputError("", error.words) from None
        log(actor_of(request), EventKind.BACKED_UP, None, None, rows=sum(made.rows.values()))
        return answer(installation_of(request))
