"""The application, ready to answer: what it needs is read before the first request."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
application = get_wsgi_application()


def _warm() -> None:
    """Read the facts before the first request: several requests at once would each read them."""
    from jobs import runs
    from library.facts import reference

    runs.preload(["recipes.preload"])
    reference()


def _keep_time() -> None:
    """Begin what is done by itself."""
    from config.timetable import start

    start()


_warm()
_keep_time()
