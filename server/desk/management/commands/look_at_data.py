"""Have the plans that are out looked through when the reference data changed."""

from django.core.management.base import BaseCommand

from desk.stale import look_at_reference


class Command(BaseCommand):
    help = "Have the plans that are out looked through when the reference data changed."

    def handle(self, *args: object, **options: object) -> None:
        looked = look_at_reference()
        self.stdout.write(
            "plans are looked through anew" if looked else "reference data is the same"
        )
