"""Writes to recipes and their versions, each in one transaction: own record, version, stop,
validate, write."""

from collections.abc import Sequence

from accounts.models import Practice
from accounts.scoping import find_own
from cases.models import Case
from cases.queries import check_not_stopped
from cases.records import record_of
from django.db import transaction
from library.facts import reference
from library.practice import library_for
from wainscot_core.checks.strict import check_strict
from wainscot_core.dossier.dossier import check_days
from wainscot_core.errors import InputError
from wainscot_core.recipe.line import LineText, read_all
from wire.errors import StaleWriteError

from .lines import as_data, replace_rows, texts_of, with_readings
from .models import Recipe, RecipeVersion
from .versions import texts
from .views import recipe_view

MOST_VERSIONS = 200
MOST_NAME = 120


@transaction.atomic
def save_recipe(
    recipe: Recipe, version: int, name: str, covers_days: float, lines: Sequence[LineText]
) -> Recipe:
    """Replace a recipe's content if `version` is the stored one.

    Raises StaleWriteError when it is not, InputError (field lines[i].quantity or .food)
    for a line that cannot be computed; nothing is written then.
    """
    locked = find_own(Recipe, recipe.practice, "case__dog", "practice", lock=True, pk=recipe.pk)
    if locked.version != version:
        raise StaleWriteError(recipe_view(locked))
    check_not_stopped(locked.case)
    check_days(covers_days)
    library = library_for(locked.practice)
    read = read_all(reference().methods, library, with_readings(lines, texts_of(locked)))
    check_strict(record_of(locked.case), library, lines)
    locked.name, locked.covers_days, locked.version = name, covers_days, version + 1
    locked.save()
    replace_rows(locked, read)
    locked.case.save(update_fields=["updated"])
    return locked


@transaction.atomic
def start_recipe(case: Case, name: str) -> Recipe:
    """An empty recipe of a case."""
    return Recipe.objects.create(practice=case.practice, case=case, name=name)


@transaction.atomic
def copy_recipe(source: Recipe, case: Case, name: str) -> Recipe:
    """A new recipe of a case with all that another one's lines say.

    Raises InputError where the new one could not be saved by hand either.
    """
    fresh = start_recipe(case, name)
    return save_recipe(fresh, fresh.version, name, source.covers_days, texts_of(source))


@transaction.atomic
def delete_recipe(practice: Practice, pk: int) -> None:
    """Delete a recipe with its versions."""
    find_own(Recipe, practice, lock=True, pk=pk).delete()


def _version_name(name: str) -> str:
    if not name.strip():
        raise InputError("name", "give the version a name")
    return name.strip()


@transaction.atomic
def keep(recipe: Recipe, name: str, by: str) -> RecipeVersion:
    """Keep the recipe as it is under a name. Raises InputError for an empty name."""
    name = _version_name(name)
    if recipe.versions.count() >= MOST_VERSIONS:
        raise InputError("name", f"a recipe holds at most {MOST_VERSIONS} versions; delete some")
    last = recipe.versions.order_by("-number").first()
    return RecipeVersion.objects.create(
        practice=recipe.practice,
        recipe=recipe,
        number=1 if last is None else last.number + 1,
        name=name,
        covers_days=recipe.covers_days,
        lines=as_data(texts_of(recipe)),
        by=by,
    )


@transaction.atomic
def rename_version(practice: Practice, pk: int, name: str) -> RecipeVersion:
    """Give a version another name; its content never changes. Raises InputError for none."""
    version = find_own(RecipeVersion, practice, lock=True, pk=pk)
    version.name = _version_name(name)
    version.save(update_fields=["name"])
    return version


@transaction.atomic
def delete_version(practice: Practice, pk: int) -> None:
    """Delete a version."""
    find_own(RecipeVersion, practice, lock=True, pk=pk).delete()


@transaction.atomic
def restore(version: RecipeVersion, by: str) -> Recipe:
    """Make the recipe what the version was; what it was until now is kept as a version."""
    recipe = version.recipe
    keep(recipe, f"before restoring “{version.name}”"[:MOST_NAME], by)
    return save_recipe(recipe, recipe.version, recipe.name, version.covers_days, texts(version))


@transaction.atomic
def branch(version: RecipeVersion, name: str) -> Recipe:
    """A new recipe of the same case that starts from a version. Raises InputError without a name."""
    if not name.strip():
        raise InputError("name", "give the new recipe a name")
    fresh = start_recipe(version.recipe.case, name.strip())
    return save_recipe(fresh, fresh.version, fresh.name, version.covers_days, texts(version))
