"""Versions of a recipe: kept, named, restored, branched. A version never changes."""

from django.db import transaction
from wainscot_core.errors import InputError
from wainscot_core.line import LineText

from .lines import as_data, text_from, texts_of
from .models import Recipe, RecipeVersion
from .services import save_recipe

MOST_VERSIONS = 200


@transaction.atomic
def keep(recipe: Recipe, name: str, by: str) -> RecipeVersion:
    """Keep the recipe as it is under a name. Raises InputError for an empty name."""
    if not name.strip():
        raise InputError("name", "give the version a name")
    if recipe.versions.count() >= MOST_VERSIONS:
        raise InputError("name", f"a recipe holds at most {MOST_VERSIONS} versions; delete some")
    last = recipe.versions.order_by("-number").first()
    return RecipeVersion.objects.create(
        practice=recipe.practice,
        recipe=recipe,
        number=1 if last is None else last.number + 1,
        name=name.strip(),
        covers_days=recipe.covers_days,
        lines=as_data(texts_of(recipe)),
        by=by,
    )


def texts(version: RecipeVersion) -> list[LineText]:
    """A version's lines."""
    return [text_from(line) for line in version.lines]


@transaction.atomic
def restore(version: RecipeVersion, by: str) -> Recipe:
    """Make the recipe what the version was; what it was until now is kept as a version."""
    recipe = version.recipe
    keep(recipe, f"before restoring “{version.name}”"[:120], by)
    return save_recipe(recipe, recipe.version, recipe.name, version.covers_days, texts(version))


@transaction.atomic
def branch(version: RecipeVersion, name: str) -> Recipe:
    """A new recipe of the same case that starts from a version."""
    if not name.strip():
        raise InputError("name", "give the new recipe a name")
    source = version.recipe
    fresh = Recipe.objects.create(practice=source.practice, case=source.case, name=name.strip())
    return save_recipe(fresh, fresh.version, name.strip(), version.covers_days, texts(version))
