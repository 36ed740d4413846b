from django.apps import AppConfig


class DeskConfig(AppConfig):
    """What is due today."""

    name = "desk"

    def ready(self) -> None:
        """Hear of every write to a case."""
        from events.log import written

        from .stale import touched

        written.connect(touched, dispatch_uid="desk")
