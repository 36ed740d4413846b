"""Writes to recipes and their versions, each in one transaction: own record, version, stop,
validate, write."""

from collections.abc import Sequence

from accounts.scoping import Actor, find_own
from cases.models import Case
from cases.queries import check_not_stopped, library_of
from cases.records import record_of
from django.db import transaction
from django.utils import timezone
from events.log import log
from events.models import EventKind
from library.facts import reference
from records.actions import keep_snapshot
from records.models import Snapshot
from wainscot_core.checks.strict import check_strict
from wainscot_core.dossier.dossier import check_days
from wainscot_core.errors import InputError
from wainscot_core.recipe.line import LineText, read_all
from wire.errors import StaleWriteError

from .dossiers import frozen
from .lines import as_data, replace_rows, texts_of, with_readings
from .models import Recipe, RecipeVersion
from .versions import texts
from .views import recipe_view

MOST_VERSIONS = 200
MOST_NAME = 120


@transaction.atomic
def save_recipe(
    who: Actor,
    recipe: Recipe,
    version: int,
    name: str,
    covers_days: float,
    lines: Sequence[LineText],
) -> Recipe:
    """Replace a recipe's content if `version` is the stored one, and say so in the log.

    Raises StaleWriteError when it is not, InputError (field lines[i].quantity or .food)
    for a line that cannot be computed; nothing is written then.
    """
    saved = _write(recipe, version, name, covers_days, lines)
    log(who, EventKind.RECIPE_SAVED, saved.case_id, saved.pk, recipe=name, lines=len(lines))
    return saved


def _write(
    recipe: Recipe, version: int, name: str, covers_days: float, lines: Sequence[LineText]
) -> Recipe:
    locked = find_own(Recipe, recipe.practice, "case__dog", "practice", lock=True, pk=recipe.pk)
    if locked.version != version:
        raise StaleWriteError(recipe_view(locked))
    check_not_stopped(locked.case)
    check_days(covers_days)
    library = library_of(locked.case)
    read = read_all(reference().methods, library, with_readings(lines, texts_of(locked)))
    check_strict(record_of(locked.case), library, lines)
    locked.name, locked.covers_days, locked.version = name, covers_days, version + 1
    locked.save()
    replace_rows(locked, read)
    locked.case.save(update_fields=["updated"])
    return locked


def _empty(case: Case, name: str) -> Recipe:
    return Recipe.objects.create(practice=case.practice, case=case, name=name)


@transaction.atomic
def start_recipe(who: Actor, case: Case, name: str) -> Recipe:
    """An empty recipe of a case."""
    recipe = _empty(case, name)
    log(who, EventKind.RECIPE_STARTED, case.pk, recipe.pk, recipe=name)
    return recipe


@transaction.atomic
def copy_recipe(who: Actor, source: Recipe, case: Case, name: str) -> Recipe:
    """A new recipe of a case with all that another one's lines say.

    Raises InputError where the new one could not be saved by hand either.
    """
    fresh = _empty(case, name)
    copied = _write(fresh, fresh.version, name, source.covers_days, texts_of(source))
    log(who, EventKind.RECIPE_COPIED, case.pk, fresh.pk, recipe=name, source=source.name)
    return copied


@transaction.atomic
def delete_recipe(who: Actor, pk: int) -> None:
    """Delete a recipe with its versions, and what was kept and shared of them."""
    recipe = find_own(Recipe, who.practice, lock=True, pk=pk)
    kept = [v.snapshot for v in recipe.versions.select_related("snapshot") if v.snapshot]
    log(who, EventKind.RECIPE_DELETED, recipe.case_id, pk, recipe=recipe.name)
    recipe.delete()
    _drop_orphans(kept)


def _drop_orphans(snapshots: Sequence[Snapshot]) -> None:
    """Delete those snapshots that no version points to any more; their links go with them."""
    Snapshot.objects.filter(pk__in=[s.pk for s in snapshots], versions__isnull=True).delete()


def _version_name(name: str) -> str:
    if not name.strip():
        raise InputError("name", "give the version a name")
    return name.strip()


@transaction.atomic
def keep(who: Actor, recipe: Recipe, name: str) -> RecipeVersion:
    """Keep the recipe as it is under a name, with a snapshot of what is computed of it now.

    A recipe that cannot be computed is kept without one. Raises InputError for an empty name.
    """
    name = _version_name(name)
    if recipe.versions.count() >= MOST_VERSIONS:
        raise InputError("name", f"a recipe holds at most {MOST_VERSIONS} versions; delete some")
    last = recipe.versions.order_by("-number").first()
    version = RecipeVersion.objects.create(
        practice=recipe.practice,
        recipe=recipe,
        number=1 if last is None else last.number + 1,
        name=name,
        covers_days=recipe.covers_days,
        lines=as_data(texts_of(recipe)),
        snapshot=_snapshot(recipe),
        by=who.name,
    )
    log(
        who, EventKind.VERSION_KEPT, recipe.case_id, version.pk, recipe=recipe.name,
        number=version.number, name=name,
        snapshot=version.snapshot.digest if version.snapshot else None,
    )  # fmt: skip
    return version


def _snapshot(recipe: Recipe) -> Snapshot | None:
    try:
        kept = frozen(recipe, timezone.localdate())
    except InputError:
        return None
    return keep_snapshot(recipe.case, kept)


@transaction.atomic
def rename_version(who: Actor, pk: int, name: str) -> RecipeVersion:
    """Give a version another name; its content never changes. Raises InputError for none."""
    version = find_own(RecipeVersion, who.practice, "recipe", "snapshot", lock=True, pk=pk)
    before, version.name = version.name, _version_name(name)
    version.save(update_fields=["name"])
    log(
        who, EventKind.VERSION_RENAMED, version.recipe.case_id, pk, number=version.number,
        before=before, name=version.name,
    )  # fmt: skip
    return version


@transaction.atomic
def delete_version(who: Actor, pk: int) -> None:
    """Delete a version, and what was kept and shared of it."""
    version = find_own(RecipeVersion, who.practice, "recipe", "snapshot", lock=True, pk=pk)
    log(
        who, EventKind.VERSION_DELETED, version.recipe.case_id, pk, number=version.number,
        name=version.name,
    )  # fmt: skip
    kept = version.snapshot
    version.delete()
    if kept is not None:
        _drop_orphans([kept])


@transaction.atomic
def restore(who: Actor, version: RecipeVersion) -> Recipe:
    """Make the recipe what the version was; what it was until now is kept as a version."""
    recipe = version.recipe
    keep(who, recipe, f"before restoring “{version.name}”"[:MOST_NAME])
    restored = _write(recipe, recipe.version, recipe.name, version.covers_days, texts(version))
    log(
        who, EventKind.VERSION_RESTORED, recipe.case_id, version.pk, recipe=recipe.name,
        number=version.number, name=version.name,
    )  # fmt: skip
    return restored


@transaction.atomic
def branch(who: Actor, version: RecipeVersion, name: str) -> Recipe:
    """A new recipe of the same case that starts from a version. Raises InputError without a name."""
    if not name.strip():
        raise InputError("name", "give the new recipe a name")
    fresh = _empty(version.recipe.case, name.strip())
    made = _write(fresh, fresh.version, fresh.name, version.covers_days, texts(version))
    log(
        who, EventKind.VERSION_BRANCHED, made.case_id, made.pk, recipe=made.name,
        number=version.number, name=version.name,
    )  # fmt: skip
    return made
