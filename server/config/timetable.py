"""What the application does by itself, at its time: a backup a day, and files of records taken away. Runs beside the requests of one server."""

import logging
import os
from datetime import UTC, datetime, timedelta
from pathlib import Path

from apscheduler.schedulers.background import BackgroundScheduler
from django.conf import settings
from handover.going import sweep
from keeping.backup import is_due, make_backup, outdated, stem
from keeping.folder import BACKUPS
from keeping.trouble import FolderError
from wainscot_core.version import VERSION

logger = logging.getLogger(__name__)

EVERY = timedelta(days=1)
# How often is looked whether one is due: a machine that slept or was off makes up for it soon.
LOOK_MINUTES = 15


def keep_days() -> int | None:
    """For how many days backups are kept; None where none are made (WAINSCOT_BACKUP_KEEP_DAYS not set)."""
    said = os.environ.get("WAINSCOT_BACKUP_KEEP_DAYS", "")
    return int(said) if said else None


def backup_place() -> Path:
    """Where they are put: beside the data, or where WAINSCOT_BACKUP_DIR says, which should be another disk."""
    return Path(os.environ.get("WAINSCOT_BACKUP_DIR", settings.DATA_DIR / BACKUPS))


def back_up(now: datetime, keep: timedelta) -> Path | None:
    """Make the backup that is due, then take away those that are kept no longer; None when none is due. Raises FolderError, and
    takes nothing away, when it cannot be made."""
    place = backup_place()
    if not is_due(place, now, EVERY):
        return None
    target = place / f"{stem(now)}.zip"
    make_backup(settings.DATA_DIR, target, VERSION)
    for old in outdated(place, now, keep):
        old.path.unlink(missing_ok=True)
    return target


def _look(keep: timedelta) -> None:
    try:
        back_up(datetime.now(UTC), keep)
    except FolderError as error:
        logger.error("no backup could be made: %s", error.words)
    sweep()


def start() -> BackgroundScheduler | None:
    """Begin, where backups are kept. Raises nothing: a server without backups says so on its page and serves."""
    days = keep_days()
    if days is None:
        return None
    scheduler = BackgroundScheduler(timezone=UTC)
    scheduler.add_job(
        _look, "interval", [timedelta(days=days)], minutes=LOOK_MINUTES,
        next_run_time=datetime.now(UTC) + timedelta(seconds=20), max_instances=1, coalesce=True,
    )  # fmt: skip
    scheduler.start()
    return scheduler
