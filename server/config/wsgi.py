"""The application, ready to answer: what it needs is read before the first request."""

import gc
import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
application = get_wsgi_application()


def _warm() -> None:
    """Read the facts before the first request: several requests at once would each read them."""
    from jobs import runs
    from library.facts import reference

    runs.preload(["recipes.preload", "plans.work"])
    reference()
    # The facts stay as long as the program: looking through them for what can go would hold up every request meanwhile.
    gc.collect()
    gc.freeze()


def told_at_start() -> str:
    """What only whoever starts the server is told, "" for nothing."""
    from people.setting_up import first_key, needs_setup

    return (
        f"Set up from another machine, it asks for this key: {first_key()}" if needs_setup() else ""
    )


def _keep_time() -> None:
    """Begin what is done by itself."""
    from config.timetable import start

    start()


_warm()
_keep_time()
