"""Rebuild the search index when the reference data changed."""

from django.core.management.base import BaseCommand

from library.search import refresh_index


class Command(BaseCommand):
    help = "Rebuild the ingredient search index when the reference data changed."

    def handle(self, *args: object, **options: object) -> None:
        self.stdout.write("search index rebuilt" if refresh_index() else "search index is current")
