"""What belongs to a practice, in the order in which it can be written: what a row points to stands before it."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from cases.models import Case, Client, ClientFood, Dog
from desk.models import DeskNote
from django.db import models
from events.models import Event, EventKind
from followup.models import FollowEntry, FollowTrial, LabResult
from interview.models import SentSheet
from kitchen.models import Batch, BatchEntry
from library.models import (
    OwnFood,
    OwnFoodRevision,
    PracticeFood,
    PracticeStandard,
    ShelfEntry,
    StandardCheck,
)
from office.models import Appointment, Invoice, PracticeText
from outbox.models import Mail
from plans.models import Plan
from recipes.models import Brought, KeptRecipe, Line, Recipe, RecipeVersion
from records.models import Snapshot
from release.models import FindingDecision, Release, ReleaseMove, VetRequest

Model = type[models.Model]
Rows = Callable[[models.QuerySet[Any]], models.QuerySet[Any]]


@dataclass(frozen=True, kw_only=True)
class Table:
    """A table of a file. practice, client: how its rows lead to whose they are, client None for what is the practice's
    alone. without: columns that stay here. numbers: columns that hold the number of a record without the database knowing,
    by the record they mean. within: columns of JSON in which the elements of these names are such numbers. only: which rows
    are taken."""

    model: Model
    practice: str = "practice"
    client: str | None = None
    without: frozenset[str] = frozenset()
    numbers: Mapping[str, Model] = field(default_factory=dict)
    within: Mapping[str, Mapping[str, Model]] = field(default_factory=dict)
    only: Rows | None = None

    @property
    def name(self) -> str:
        """What it is called in a file."""
        return self.model._meta.model_name or ""


_NAMED: Mapping[str, Model] = {"case": Case, "recipe": Recipe}
# Of what an event's subject is the number, where that is taken along; other subjects are told by the event's words.
SUBJECTS: Mapping[str, Model] = {EventKind.CLIENT_CHANGED: Client}


def _of(path: str) -> str:
    """How the rows of something that belongs to a case lead to its client; path: to the case, "" for the case."""
    return f"{path}__dog__client" if path else "dog__client"


TABLES: tuple[Table, ...] = (
    Table(model=OwnFood),
    Table(model=OwnFoodRevision, practice="food__practice"),
    Table(model=ShelfEntry),
    Table(model=PracticeStandard),
    Table(model=StandardCheck),
    Table(model=PracticeFood),
    Table(model=KeptRecipe),
    Table(model=PracticeText),
    # What they are found by is made anew.
    Table(model=Client, client="pk", without=frozenset({"find_text"})),
    Table(model=ClientFood, client="client"),
    Table(model=Dog, client="client"),
    Table(model=Case, client=_of(""), without=frozenset({"find_text", "find_conditions"})),
    Table(model=Snapshot, client=_of("case")),
    Table(model=Recipe, client=_of("case")),
    Table(model=Line, practice="recipe__practice", client=_of("recipe__case")),
    Table(model=Brought, client=_of("recipe__case")),
    Table(model=RecipeVersion, client=_of("recipe__case")),
    Table(model=Plan, client=_of("case"), within={"turns": {"recipe": Recipe}}),
    Table(model=FindingDecision, client=_of("recipe__case")),
    Table(model=Release, client=_of("recipe__case")),
    Table(model=ReleaseMove, practice="release__practice", client=_of("release__recipe__case")),
    # The address opens on the installation that signed it, and nowhere else.
    Table(model=VetRequest, client=_of("release__recipe__case"), without=frozenset({"key"})),
    Table(
        model=Batch,
        client=_of("recipe__case"),
        within=dict.fromkeys(("ask", "plan", "cooked"), _NAMED),
    ),
    Table(model=BatchEntry, practice="batch__practice", client=_of("batch__recipe__case")),
    Table(model=FollowEntry, client=_of("case")),
    Table(model=LabResult, client=_of("case")),
    Table(model=FollowTrial, client=_of("case")),
    Table(model=Appointment, client=_of("case")),
    # What was charged outlives whom it was charged to.
    Table(model=Invoice, client="client"),
    Table(model=SentSheet, client=_of("case")),
    Table(model=DeskNote, client=_of("case")),
    # What lets somebody in is nothing to hand over.
    Table(
        model=Mail,
        client="case",
        without=frozenset({"link", "personal"}),
        numbers={"case": Case},
        only=lambda rows: rows.filter(personal=False),
    ),
    Table(
        model=Event,
        client="case",
        without=frozenset({"subject"}),
        numbers={"case": Case},
        within={"data": {"client": Client}},
    ),
)

# What stays where it is, and why.
LEFT_OUT: Mapping[str, str] = {
    "accounts.Practice": "stands in practice.json",
    "accounts.User": "who works there is asked to join there",
    "people.Invitation": "lets somebody in here",
    "people.Reset": "lets somebody in here",
    "people.Seat": "who is signed in here",
    "records.ShareLink": "an address that opens here",
    "kitchen.CookLink": "an address that opens here",
    "followup.DiaryLink": "an address that opens here",
    "interview.SheetLink": "an address that opens here",
    "desk.DeskFeed": "an address that opens here",
    "jobs.Job": "can be worked out again",
    "desk.DeskItem": "is worked out anew",
    "desk.StaleCase": "is worked out anew",
    "desk.SeenData": "is the installation's",
    "library.IndexState": "is the installation's",
}
