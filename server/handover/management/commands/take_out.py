"""All records of a practice as a file: for whoever keeps this installation."""

from pathlib import Path
from typing import Any

from accounts.models import Practice
from accounts.scoping import Actor
from django.core.management.base import BaseCommand, CommandError, CommandParser
from events.log import log
from events.models import EventKind
from keeping.files import written_whole
from keeping.trouble import trouble_of
from people.management.commands.practices import KEEPER

from handover.writing import write_records


class Command(BaseCommand):
    help = "Write all records of a practice to a file."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--practice", metavar="NAME", default="")

    def handle(self, *args: Any, **options: Any) -> None:
        practice = _practice(options["practice"])
        path: Path = options["file"]
        if path.exists():
            raise CommandError(f"There is a file {path} already: give another name.")

        def tell(done: int, of: int) -> None:
            if done and (done % 100 == 0 or done == of):
                self.stdout.write(f"  {done} of {of} cases")

        try:
            with written_whole(path) as out:
                manifest = write_records(practice, out, tell=tell)
        except OSError as error:
            raise CommandError(trouble_of(error, path).words) from None
        log(Actor(practice, KEEPER), EventKind.GIVEN_OUT, None, None, what=path.name[:120])
        self.stdout.write(f"{path}: {sum(manifest.rows.values())} rows of {practice}.")
        for case, why in manifest.without.items():
            self.stdout.write(f"  {case} is there as rows alone: {why}")
        self.stdout.write("It holds records of clients and their dogs: keep it as you keep those.")


def _practice(name: str) -> Practice:
    found = list(Practice.objects.filter(name__iexact=name) if name else Practice.objects.all())
    if len(found) == 1:
        return found[0]
    names = ", ".join(Practice.objects.order_by("name").values_list("name", flat=True))
    raise CommandError(f"Say which practice with --practice: {names or 'there is none'}.")
