from django.apps import AppConfig
from django.db.models.signals import post_migrate


class CasesConfig(AppConfig):
    """Clients, dogs and cases."""

    name = "cases"

    def ready(self) -> None:
        """The index of words is looked after when the database was changed."""
        from .word_index import look_after

        post_migrate.connect(look_after, sender=self, dispatch_uid="cases.words")
