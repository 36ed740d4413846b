"""What recipes and their versions look like from outside."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime

from cases.queries import library_of
from library.facts import reference
from wainscot_core.facts.foods import FoodLibrary
from wainscot_core.facts.preparations import MethodChoice, method_choices
from wainscot_core.recipe.line import LineText

from .lines import text_of
from .models import Brought, Recipe, RecipeVersion
from .versions import texts


@dataclass(frozen=True, kw_only=True)
class LineView:
    """A stored line as typed. key: what the line is called, "" in a version; name: the food's, or its
    id when it is gone; methods: how it can be prepared."""

    key: str
    food: str
    name: str
    quantity: str
    note: str
    preparation: str
    override: str
    methods: tuple[MethodChoice, ...]


@dataclass(frozen=True, kw_only=True)
class RecipeView:
    """A stored recipe. tones: what each food is drawn in (core recipe.tones)."""

    id: int
    case: int
    version: int
    name: str
    covers_days: float
    lines: tuple[LineView, ...]
    tones: dict[str, str]
    updated: datetime


@dataclass(frozen=True, kw_only=True)
class LeftOutView:
    """A stretch of a text that did not come into the recipe, and why."""

    text: str
    reason: str


@dataclass(frozen=True, kw_only=True)
class BroughtView:
    """A text that a recipe was brought in from. taken: how many lines it gave; asked: what waited for the owner."""

    id: int
    text: str
    taken: int
    left_out: tuple[LeftOutView, ...]
    asked: tuple[str, ...]
    by: str
    created: datetime


def brought_view(kept: Brought) -> BroughtView:
    """A text as it was kept."""
    left_out = tuple(LeftOutView(**x) for x in kept.left_out)
    return BroughtView(
        id=kept.pk, text=kept.text, taken=kept.taken, left_out=left_out, asked=tuple(kept.asked),
        by=kept.by, created=kept.created,
    )  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class VersionView:
    """A recipe as it was when someone kept it. snapshot: digest of what was computed of it then, ""
    where nothing was; links: how many addresses open its documents today."""

    id: int
    recipe: int
    number: int
    name: str
    covers_days: float
    lines: tuple[LineView, ...]
    by: str
    created: datetime
    snapshot: str
    links: int
    automatic: bool


def _named(texts: Iterable[LineText], keys: Sequence[str]) -> Iterable[tuple[LineText, str]]:
    found = list(texts)
    return zip(found, keys or [""] * len(found), strict=True)


def line_views(
    library: FoodLibrary, texts: Iterable[LineText], keys: Sequence[str] = ()
) -> tuple[LineView, ...]:
    """Lines as they are shown."""
    methods = reference().methods
    found = []
    for text, key in _named(texts, keys):
        food = library.food(text.food) if text.food in library else None
        found.append(
            LineView(
                key=key,
                food=text.food,
                name=food.name if food else text.food,
                quantity=text.quantity,
                note=text.note,
                preparation=text.preparation,
                override=text.override,
                methods=method_choices(methods, food) if food else (),
            )
        )
    return tuple(found)


def recipe_view(recipe: Recipe) -> RecipeView:
    """A stored recipe."""
    rows = list(recipe.lines.all())
    return RecipeView(
        id=recipe.pk,
        case=recipe.case_id,
        version=recipe.version,
        name=recipe.name,
        covers_days=recipe.covers_days,
        lines=line_views(library_of(recipe.case), map(text_of, rows), [row.key for row in rows]),
        tones=recipe.tones,
        updated=recipe.updated,
    )


def version_view(version: RecipeVersion) -> VersionView:
    """A kept version."""
    kept = version.snapshot
    return VersionView(
        id=version.pk,
        recipe=version.recipe_id,
        number=version.number,
        name=version.name,
        covers_days=version.covers_days,
        lines=line_views(library_of(version.recipe.case), texts(version)),
        by=version.by,
        created=version.created,
        snapshot=kept.digest if kept else "",
        automatic=version.automatic,
        links=sum(link.is_open for link in kept.links.all()) if kept else 0,
    )
