"""What a case looks like from outside: its record with what belongs to it, and a row of the list."""

from dataclasses import dataclass
from datetime import datetime

from accounts.conventions import ConventionsView, conventions_view
from wainscot_core.boundary import dump, read
from wainscot_core.conventions import OwnConventions
from wainscot_core.dog.record import CaseRecord
from wainscot_core.errors import InputError

from cases.models import Case, Client
from cases.queries import conventions_for
from cases.records import record_of


@dataclass(frozen=True, kw_only=True)
class ClientView:
    """The owner of a dog. conventions: what is written otherwise for her than the practice writes."""

    id: int
    version: int
    name: str
    email: str
    phone: str
    notes: str
    conventions: OwnConventions


@dataclass(frozen=True, kw_only=True)
class RecipeRef:
    """A recipe of a case by name. archived: put away."""

    id: int
    name: str
    archived: bool


@dataclass(frozen=True, kw_only=True)
class CaseView(CaseRecord):
    """A case: its record, its owner and how things are written for her, its recipes."""

    id: int
    version: int
    updated: datetime
    archived: bool
    client: ClientView
    conventions: ConventionsView
    recipes: tuple[RecipeRef, ...]


@dataclass(frozen=True, kw_only=True)
class CaseRow:
    """A case in the list. problem: why it cannot be opened as it is, or ""."""

    id: int
    dog_id: int
    dog: str
    breed: str
    age_months: int | None
    weight_kg: float
    owner_id: int
    owner: str
    title: str
    conditions: tuple[str, ...]
    reactions: tuple[str, ...]
    updated: datetime
    archived: bool
    problem: str
    recipes: tuple[RecipeRef, ...]


def recipes_of(case: Case) -> tuple[RecipeRef, ...]:
    """A case's recipes by name."""
    return tuple(RecipeRef(id=r.pk, name=r.name, archived=r.archived) for r in case.recipes.all())


def client_view(client: Client) -> ClientView:
    """A stored client."""
    return ClientView(
        id=client.pk, version=client.version, name=client.name, email=client.email,
        phone=client.phone, notes=client.notes,
        conventions=read(OwnConventions, client.conventions),
    )  # fmt: skip


def case_view(case: Case) -> CaseView:
    """A stored case. Raises InputError when it holds what cannot be read."""
    client = case.dog.client
    return read(
        CaseView,
        {
            **dump(record_of(case)),
            "id": case.pk, "version": case.version, "updated": case.updated,
            "archived": case.archived,
            "client": client_view(client),
            "conventions": conventions_view(conventions_for(client)),
            "recipes": recipes_of(case),
        },
    )  # fmt: skip


def case_row(case: Case) -> CaseRow:
    """A row of the list; a case that cannot be read is listed with the reason, not left out."""
    problem = ""
    conditions: tuple[str, ...] = ()
    reactions: tuple[str, ...] = ()
    try:
        record = record_of(case)
        conditions = tuple(
            " ".join(x for x in (c.name or c.id, c.stage) if x) for c in record.conditions
        )
        reactions = tuple(r.food for r in record.reactions)
    except InputError as error:
        problem = f"{error.field}: {error.message}"
    dog = case.dog
    return CaseRow(
        id=case.pk, dog_id=dog.pk, dog=dog.name, breed=dog.breed, age_months=dog.age, weight_kg=dog.weight_kg,
        owner_id=dog.client_id, owner=dog.client.name, title=case.title, conditions=conditions, reactions=reactions,
        updated=case.updated, archived=case.archived, problem=problem,
        recipes=recipes_of(case),
    )  # fmt: skip
