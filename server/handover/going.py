"""The file of a practice, written beside the requests: one at a time on an installation, kept for a day, then taken away."""

import logging
import threading
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from accounts.models import Practice
from django.conf import settings
from django.db import connection
from keeping.files import PRIVATE_FOLDER, written_whole
from wainscot_core.errors import InputError

from .writing import write_records

logger = logging.getLogger(__name__)

KEPT = timedelta(days=1)
FOLDER = "handover"


@dataclass
class Going:
    """A file that is being written. done, of: cases; error: why there is none, "" while there may be one."""

    done: int = 0
    of: int = 0
    error: str = ""
    ended: bool = False


_going: dict[int, Going] = {}
_lock = threading.Lock()
# Papers are typeset: one practice's at a time, so that requests keep their cores.
_turn = threading.Lock()


def place_of(practice: Practice) -> Path:
    """Where the file of a practice lies."""
    return Path(settings.DATA_DIR) / FOLDER / f"practice-{practice.pk}.zip"


def made_at(practice: Practice) -> datetime | None:
    """When the file of a practice was written; None where there is none. One that is older than a day is taken away."""
    path = place_of(practice)
    try:
        at = datetime.fromtimestamp(path.stat().st_mtime, UTC)
    except FileNotFoundError:
        return None
    if datetime.now(UTC) - at > KEPT:
        path.unlink(missing_ok=True)
        return None
    return at


def sweep() -> None:
    """Take away what is kept no longer, of every practice."""
    for path in (Path(settings.DATA_DIR) / FOLDER).glob("practice-*.zip"):
        if datetime.now(UTC) - datetime.fromtimestamp(path.stat().st_mtime, UTC) > KEPT:
            path.unlink(missing_ok=True)


def going_on(practice: Practice) -> Going | None:
    """The file of a practice that is being written, or was not written for a reason."""
    with _lock:
        return _going.get(practice.pk)


def begin(practice: Practice) -> None:
    """Begin to write. Raises InputError while one is being written."""
    with _lock:
        going = _going.get(practice.pk)
        if going is not None and not going.ended:
            raise InputError("", "It is being written: wait until it is there.")
        place_of(practice).unlink(missing_ok=True)
        going = _going[practice.pk] = Going()
    threading.Thread(target=_write, args=(practice, going), daemon=True).start()


def take_away(practice: Practice) -> None:
    """Take the file of a practice away."""
    with _lock:
        going = _going.get(practice.pk)
        if going is not None and going.ended:
            del _going[practice.pk]
    place_of(practice).unlink(missing_ok=True)


def _write(practice: Practice, going: Going) -> None:
    def tell(done: int, of: int) -> None:
        going.done, going.of = done, of

    path = place_of(practice)
    try:
        with _turn:
            path.parent.mkdir(mode=PRIVATE_FOLDER, exist_ok=True)
            with written_whole(path) as out:
                write_records(practice, out, tell=tell)
    except OSError as error:
        logger.error("the records of a practice could not be written: %s", error.strerror)
        going.error = (
            f"It could not be written: {error.strerror or 'the disk'}. Make room, then try again."
        )
    except Exception:
        logger.exception("the records of a practice could not be written")
        going.error = "This failed on our side; nothing was changed. Try again."
    finally:
        going.ended = True
        connection.close()
        if not going.error:
            with _lock:
                _going.pop(practice.pk, None)
