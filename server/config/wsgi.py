"""WSGI entry for gunicorn."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
application = get_wsgi_application()


def _warm() -> None:
    """Read the facts before the first request: several requests at once would each read them."""
    from library.facts import reference

    reference()


def _keep_time() -> None:
    """Begin what is done by itself."""
    from config.timetable import start

    start()


_warm()
_keep_time()
