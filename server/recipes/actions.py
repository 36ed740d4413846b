"""Writes to recipes and their versions, each in one transaction: own record, stop, validate, write."""

import re
from collections.abc import Mapping, Sequence
from typing import Any

from accounts.models import Practice
from accounts.scoping import Actor, find_own
from cases.models import Case
from cases.queries import check_not_stopped, conventions_for, library_of
from cases.records import record_of
from django.db import transaction
from django.db.models import RestrictedError
from django.utils import timezone
from events.log import log
from events.models import EventKind
from library.actions import import_foods
from library.facts import reference
from library.models import ShelfEntry
from library.stocking import StockIn, stock_label
from records.actions import keep_snapshot
from records.models import Snapshot
from wainscot_core.boundary import dump, read, read_exact
from wainscot_core.changes import FieldChange, changed
from wainscot_core.checks.strict import check_strict
from wainscot_core.dossier.dossier import check_days
from wainscot_core.errors import InputError
from wainscot_core.formats.foodtable import TableFood
from wainscot_core.recipe.line import MAX_LINES, LineText, read_all, stored
from wainscot_core.snapshot.snapshot import Snapshot as Kept
from wire.errors import CollisionError

from .dossiers import frozen
from .lines import (
    LINES,
    RecipeFields,
    as_data,
    fields_of,
    replace_rows,
    text_of,
    texts_of,
    with_readings,
)
from .models import Brought, Recipe, RecipeVersion
from .versions import texts

MOST_VERSIONS = 200
# Versions that were kept by themselves; beyond these the oldest that nobody opens goes.
MOST_AUTOMATIC = 30
MOST_NAME = 120
MOST_BROUGHT = 100


def _open(practice: Practice, pk: int) -> Recipe:
    """A recipe of the practice, locked, of a case that is not stopped."""
    recipe = find_own(Recipe, practice, "case__dog__client__practice", "practice", lock=True, pk=pk)
    check_not_stopped(recipe.case)
    return recipe


def _touch(recipe: Recipe) -> None:
    recipe.version += 1
    recipe.save()
    recipe.case.save(update_fields=["updated"])


@transaction.atomic
def fill_recipe(
    who: Actor, recipe: Recipe, name: str, covers_days: float, lines: Sequence[LineText]
) -> Recipe:
    """Replace a recipe's whole content, and say so in the log.

    Raises InputError (field lines[i].quantity or .food) for a line that cannot be computed; nothing
    is written then.
    """
    saved = _fill(recipe, name, covers_days, lines)
    log(who, EventKind.RECIPE_SAVED, saved.case_id, saved.pk, recipe=name, lines=len(lines))
    return saved


def _fill(recipe: Recipe, name: str, covers_days: float, lines: Sequence[LineText]) -> Recipe:
    locked = _open(recipe.practice, recipe.pk)
    check_days(covers_days)
    library = library_of(locked.case)
    read = read_all(reference().methods, library, with_readings(lines, texts_of(locked)))
    check_strict(record_of(locked.case), library, lines)
    locked.name, locked.covers_days = name, covers_days
    _touch(locked)
    replace_rows(locked, library, map(stored, read))
    return locked


@transaction.atomic
def change_recipe(who: Actor, pk: int, changes: Sequence[FieldChange], keep_as: str = "") -> Recipe:
    """Set fields of a recipe: its name, its days, lines that come, go, change or move.

    keep_as: the name to keep the recipe under, as it was, before it is changed. Lines that are not
    changed are left alone, whether they can still be read or not. Raises InputError naming the
    field, CollisionError where someone else changed one; nothing is written then.
    """
    recipe = _open(who.practice, pk)
    before = fields_of(recipe)
    data, collisions = changed(before, changes, [LINES], _settled)
    if collisions:
        raise CollisionError(collisions)
    if keep_as and data != before:
        keep(who, recipe, keep_as, automatic=True)
    now = read_exact(RecipeFields, data, typed=True)
    check_days(now.covers_days)
    rows = {row.key: text_of(row) for row in recipe.lines.all()}
    fresh = [key for key in now.order if before["lines"].get(key) != data["lines"][key]]
    measures = conventions_for(recipe.case.dog.client).measures
    typed = {key: now.lines[key].text(measures) for key in fresh}
    readings = _read_lines(recipe, typed, rows)
    if len(now.order) > MAX_LINES:
        raise InputError("lines", f"has {len(now.order)} lines; at most {MAX_LINES}")
    recipe.name, recipe.covers_days = now.name, now.covers_days
    _touch(recipe)
    texts = (readings.get(key) or rows[key] for key in now.order)
    replace_rows(recipe, library_of(recipe.case), texts, now.order)
    log(
        who, EventKind.RECIPE_SAVED, recipe.case_id, recipe.pk, recipe=now.name,
        lines=len(now.order),
    )  # fmt: skip
    return recipe


def _settled(data: Mapping[str, Any]) -> dict[str, Any]:
    """A recipe's fields as they would be stored."""
    found: dict[str, Any] = dump(read(RecipeFields, data, typed=True))
    return found


def _read_lines(
    recipe: Recipe, texts: Mapping[str, LineText], known: Mapping[str, LineText]
) -> dict[str, LineText]:
    """Lines by key with what they are read as. Raises InputError naming the line by its key."""
    library = library_of(recipe.case)
    keys = list(texts)
    weigh = conventions_for(recipe.case.dog.client).food
    try:
        typed = with_readings(list(texts.values()), known.values())
        lines = read_all(reference().methods, library, typed, weigh)
        check_strict(record_of(recipe.case), library, typed)
    except InputError as error:
        at = re.match(r"lines\[(\d+)\](.*)", error.field)
        field = f"lines.{keys[int(at[1])]}{at[2]}" if at else error.field
        raise InputError(field, error.message) from None
    return dict(zip(keys, map(stored, lines), strict=True))


def _empty(case: Case, name: str) -> Recipe:
    return Recipe.objects.create(practice=case.practice, case=case, name=name)


@transaction.atomic
def start_recipe(who: Actor, case: Case, name: str) -> Recipe:
    """An empty recipe of a case."""
    recipe = _empty(case, name)
    log(who, EventKind.RECIPE_STARTED, case.pk, recipe.pk, recipe=name)
    return recipe


@transaction.atomic
def keep_brought(
    who: Actor,
    pk: int,
    text: str,
    taken: int,
    left_out: Sequence[Mapping[str, str]],
    asked: Sequence[str],
) -> Brought:
    """Keep what a recipe was brought in from, with what of it was left out, and why."""
    recipe = _open(who.practice, pk)
    if recipe.brought.count() >= MOST_BROUGHT:
        raise InputError("text", f"a recipe keeps at most {MOST_BROUGHT} texts; start another one")
    kept = Brought.objects.create(
        practice=recipe.practice, recipe=recipe, text=text, taken=taken, left_out=list(left_out),
        asked=list(asked), by=who.name,
    )  # fmt: skip
    log(
        who, EventKind.RECIPE_BROUGHT_IN, recipe.case_id, pk, recipe=recipe.name, lines=taken,
        left_out=len(left_out),
    )  # fmt: skip
    return kept


@transaction.atomic
def copy_recipe(who: Actor, source: Recipe, case: Case, name: str) -> Recipe:
    """A new recipe of a case with all that another one's lines say.

    Raises InputError where the new one could not be saved by hand either.
    """
    fresh = _empty(case, name)
    fresh.tones = source.tones
    fresh.save()
    copied = _fill(fresh, name, source.covers_days, texts_of(source))
    log(who, EventKind.RECIPE_COPIED, case.pk, fresh.pk, recipe=name, source=source.name)
    return copied


@transaction.atomic
def set_recipe_archived(who: Actor, pk: int, archived: bool) -> None:
    """Put a recipe away, or take it back; nothing of it is lost."""
    recipe = find_own(Recipe, who.practice, lock=True, pk=pk)
    recipe.archived = archived
    recipe.version += 1
    recipe.save()
    kind = EventKind.RECIPE_ARCHIVED if archived else EventKind.RECIPE_TAKEN_BACK
    log(who, kind, recipe.case_id, pk, recipe=recipe.name)


@transaction.atomic
def delete_recipe(who: Actor, pk: int) -> None:
    """Delete a recipe with its versions, and what was kept and shared of them. Raises InputError for one that was
    put before the vet."""
    recipe = find_own(Recipe, who.practice, lock=True, pk=pk)
    if recipe.versions.filter(held=True).exists():
        raise InputError(
            "",
            "a version of it was put before the vet and stays on record: put the recipe away instead",
        )
    kept = [v.snapshot for v in recipe.versions.select_related("snapshot") if v.snapshot]
    log(who, EventKind.RECIPE_DELETED, recipe.case_id, pk, recipe=recipe.name)
    try:
        recipe.delete()
    except RestrictedError:
        raise InputError(
            "", "a batch was planned of it and stays on record: put the recipe away instead"
        ) from None
    _drop_orphans(kept)


def _drop_orphans(snapshots: Sequence[Snapshot]) -> None:
    """Delete those snapshots that no version points to any more; their links go with them."""
    Snapshot.objects.filter(pk__in=[s.pk for s in snapshots], versions__isnull=True).delete()


def _version_name(name: str) -> str:
    if not name.strip():
        raise InputError("name", "give the version a name")
    return name.strip()


@transaction.atomic
def keep(
    who: Actor, recipe: Recipe, name: str, automatic: bool = False, held: Kept | None = None
) -> RecipeVersion:
    """Keep the recipe as it is under a name, with a snapshot of what is computed of it now.

    held: that snapshot, where it is put forward to be signed; such a version is never deleted. A recipe that cannot
    be computed is kept without one. automatic: nobody asked for it, so it never
    stands in the way of one that somebody asks for. Raises InputError for an empty name.
    """
    name = _version_name(name)
    if automatic:
        _make_room(recipe)
    elif recipe.versions.filter(automatic=False).count() >= MOST_VERSIONS:
        raise InputError("name", f"a recipe holds at most {MOST_VERSIONS} versions; delete some")
    last = recipe.versions.order_by("-number").first()
    version = RecipeVersion.objects.create(
        practice=recipe.practice,
        recipe=recipe,
        number=1 if last is None else last.number + 1,
        name=name,
        covers_days=recipe.covers_days,
        lines=as_data(texts_of(recipe)),
        snapshot=_snapshot(recipe) if held is None else keep_snapshot(recipe.case, held),
        by=who.name,
        automatic=automatic,
        held=held is not None,
    )
    log(
        who, EventKind.VERSION_KEPT, recipe.case_id, version.pk, recipe=recipe.name,
        number=version.number, name=name,
        snapshot=version.snapshot.digest if version.snapshot else None,
    )  # fmt: skip
    return version


@transaction.atomic
def import_foods_keeping(who: Actor, entries: tuple[TableFood, ...]) -> int:
    """Take a table of own foods; what recipes were with the foods it changes is kept first."""
    foods = [f"own:{entry.slug}" for entry in entries]
    _keep_holding(who, foods, "before foods were imported")
    return import_foods(who, entries)


@transaction.atomic
def stock_label_keeping(who: Actor, asked: StockIn, slug: str = "") -> ShelfEntry:
    """Enter the label of a supplement anew; what recipes were with the old one is kept first."""
    _keep_holding(who, [slug], f"before the label of {asked.label.name}"[:MOST_NAME])
    return stock_label(who, asked, slug)


def _keep_holding(who: Actor, foods: Sequence[str], name: str) -> None:
    """Keep every recipe that holds one of these foods, as it is."""
    holding = Recipe.objects.for_practice(who.practice).filter(lines__food__in=foods).distinct()
    for recipe in holding.select_related("case__dog", "practice"):
        keep(who, recipe, name, automatic=True)


def _make_room(recipe: Recipe) -> None:
    """Let the oldest go of the versions that were kept by themselves; a shared one stays."""
    own = recipe.versions.filter(automatic=True).filter(snapshot__links__isnull=True)
    going = list(own.select_related("snapshot")[MOST_AUTOMATIC - 1 :])
    RecipeVersion.objects.filter(pk__in=[v.pk for v in going]).delete()
    _drop_orphans([v.snapshot for v in going if v.snapshot])


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
    """Delete a version, and what was kept and shared of it. Raises InputError for one that was put before the vet."""
    version = find_own(RecipeVersion, who.practice, "recipe", "snapshot", lock=True, pk=pk)
    if version.held:
        raise InputError("", "this version was put before the vet: it stays on record")
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
    keep(who, recipe, f"before restoring “{version.name}”"[:MOST_NAME], automatic=True)
    restored = _fill(recipe, recipe.name, version.covers_days, texts(version))
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
    made = _fill(fresh, fresh.name, version.covers_days, texts(version))
    log(
        who, EventKind.VERSION_BRANCHED, made.case_id, made.pk, recipe=made.name,
        number=version.number, name=version.name,
    )  # fmt: skip
    return made
