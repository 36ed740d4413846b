"""What a case looks like from outside: its record with what belongs to it, and a row of the list."""

from dataclasses import dataclass
from datetime import datetime

from accounts.conventions import ConventionsView, conventions_view
from accounts.models import Practice
from django.db.models import Count, QuerySet
from wainscot_core.boundary import dump, read
from wainscot_core.conventions import OwnConventions
from wainscot_core.dog.record import CaseRecord
from wainscot_core.errors import InputError

from cases.finding import CASES_A_PAGE, MOST_FOUND, Wanted, find
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


@dataclass(frozen=True, kw_only=True)
class CasePage:
    """Cases that were looked for, a page of them. found: how many there are; more: and more than are counted; pages: so
    many pages; open, away: how many cases the practice has, and has put away."""

    rows: tuple[CaseRow, ...]
    found: int
    more: bool
    page: int
    pages: int
    open: int
    away: int


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


def case_page(practice: Practice, wanted: Wanted, page: int) -> CasePage:
    """A page of the cases that are looked for, from 1; the last one where there are not so many."""
    every = Case.objects.for_practice(practice)
    by_place = dict(every.order_by().values_list("archived").annotate(Count("pk")))
    keys: QuerySet[Case, int] | list[int] = find(practice, wanted).values_list("pk", flat=True)
    count = by_place.get(wanted.archived, 0)
    if wanted.narrow:
        # One look at the index tells both which they are and how many.
        keys = list(keys[: MOST_FOUND + 1])
        count = len(keys)
    told = min(count, MOST_FOUND) if wanted.narrow else count
    pages = max(1, -(-told // CASES_A_PAGE))
    at = min(max(page, 1), pages)
    shown = list(keys[(at - 1) * CASES_A_PAGE : min(at * CASES_A_PAGE, told)])
    by_key = every.select_related("dog__client").prefetch_related("recipes").in_bulk(shown)
    return CasePage(
        rows=tuple(case_row(by_key[k]) for k in shown if k in by_key), found=told, more=count > told,
        page=at, pages=pages, open=by_place.get(False, 0), away=by_place.get(True, 0),
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
