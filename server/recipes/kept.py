"""Recipes that a practice keeps to begin others with."""

from dataclasses import dataclass

from accounts.models import Practice
from accounts.scoping import Actor, find_own, looked_at
from cases.queries import library_of
from django.db import transaction
from events.log import log
from events.models import EventKind
from library.facts import reference
from library.practice import library_for
from wainscot_core.boundary import Name120, Whole
from wainscot_core.errors import InputError
from wainscot_core.formulation.again import BegunLine, begun_again
from wainscot_core.recipe.line import read_all

from .asks import LinesAsk
from .dossiers import dossier_of
from .lines import as_data, stored_lines, text_from, texts_of
from .models import KeptRecipe, Recipe

MOST_KEPT = 200


@dataclass(frozen=True, kw_only=True)
class KeepIn:
    """A recipe to keep, and what it is called among those that are kept."""

    recipe: Whole
    name: Name120


@dataclass(frozen=True, kw_only=True)
class RenameIn:
    """Another name. version: as it was looked at."""

    name: Name120
    version: Whole


@dataclass(frozen=True, kw_only=True)
class BeginAsk(LinesAsk):
    """Begin a recipe with one that is kept, to cover so many days."""

    kept: Whole


@dataclass(frozen=True, kw_only=True)
class KeptView:
    """A recipe that is kept. foods: the names of its foods, in their order."""

    id: int
    version: int
    name: str
    foods: tuple[str, ...]


def kept_recipes(practice: Practice) -> tuple[KeptView, ...]:
    """Those of a practice, by name."""
    library = library_for(practice)
    return tuple(
        KeptView(
            id=row.pk, version=row.version, name=row.name,
            foods=tuple(
                library.food(t.food).name if t.food in library else t.food
                for t in map(text_from, row.lines)
            ),
        )
        for row in KeptRecipe.objects.for_practice(practice)
    )  # fmt: skip


@transaction.atomic
def keep_recipe(who: Actor, asked: KeepIn) -> KeptRecipe:
    """Keep a recipe as it stands. Raises InputError naming the field: for an empty one, one that cannot be read, and a name
    that is taken."""
    recipe = find_own(Recipe, who.practice, "case__dog", pk=asked.recipe)
    texts = texts_of(recipe)
    if not texts:
        raise InputError("recipe", "holds no lines yet: there is nothing to keep")
    stored_lines(recipe, library_of(recipe.case))
    _free(who, None, asked.name)
    if KeptRecipe.objects.for_practice(who.practice).count() >= MOST_KEPT:
        raise InputError("", f"a practice keeps at most {MOST_KEPT} recipes to begin with")
    row = KeptRecipe.objects.create(
        practice=who.practice, name=asked.name, covers_days=recipe.covers_days, lines=as_data(texts),
        tones=recipe.tones, by=who.name,
    )  # fmt: skip
    log(who, EventKind.RECIPE_KEPT, None, row.pk, name=row.name, recipe=recipe.name)
    return row


@transaction.atomic
def rename_kept(who: Actor, pk: int, asked: RenameIn) -> None:
    """Give it another name. Raises InputError for one that is taken, StaleWriteError."""
    row = find_own(KeptRecipe, who.practice, lock=True, pk=pk)
    looked_at(row, asked.version, lambda: kept_recipes(who.practice))
    _free(who, pk, asked.name)
    before, row.name = row.name, asked.name
    row.version += 1
    row.save()
    log(who, EventKind.KEPT_RENAMED, None, pk, before=before, name=row.name)


@transaction.atomic
def drop_kept(who: Actor, pk: int) -> None:
    """Keep it no longer; recipes that were begun with it stay."""
    row = find_own(KeptRecipe, who.practice, lock=True, pk=pk)
    log(who, EventKind.KEPT_DROPPED, None, pk, name=row.name)
    row.delete()


def begun_with(recipe: Recipe, asked: BeginAsk) -> tuple[BegunLine, ...]:
    """The lines of a recipe that is begun with a kept one, scaled to its dog; nothing is stored. Raises InputError, Http404."""
    kept = find_own(KeptRecipe, recipe.practice, pk=asked.kept)
    library = library_of(recipe.case)
    texts = [text_from(data) for data in kept.lines]
    lines = read_all(reference().methods, library, texts)
    return begun_again(dossier_of(recipe.case, lines, asked.covers_days, asked.look, library))


def _free(who: Actor, pk: int | None, name: str) -> None:
    rows = KeptRecipe.objects.for_practice(who.practice)
    if rows.filter(name__iexact=name).exclude(pk=pk).exists():
        raise InputError("name", "is the name of another recipe that is kept: choose another")
