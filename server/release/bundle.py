"""A case as one ZIP: its files in open formats, what was issued of it, and its papers; and such a ZIP as a case."""

import io
import json
import zipfile
from collections.abc import Iterator, Sequence
from typing import Any

from accounts.scoping import Actor
from cases.models import Case
from django.db import transaction
from keeping.archives import DamagedArchiveError, archive
from recipes.casefiles import case_file, import_case, import_recipe
from recipes.models import Recipe, RecipeVersion
from records.printing import as_pdf
from wainscot_core.cells import csv_text
from wainscot_core.documents import document
from wainscot_core.documents.paper import DocumentKind
from wainscot_core.errors import InputError
from wainscot_core.snapshot.snapshot import Snapshot

from .pages import letter

# The case file that an import reads: that of the first recipe; the others stand beside it.
MAIN = "case.json"
MOST_BYTES = 20_000_000
# Zips remember when: the same case is the same file.
_WHEN = (1980, 1, 1, 0, 0, 0)
README = """This is a case of Wainscot, in open formats.

case.json              the case with its first recipe (docs/formats/case.schema.json); an import reads it
recipes/*.json         the case with each other recipe
versions/*/snapshot.json   a version as it was put before the vet: foods, values, limits, findings (docs/formats/snapshot.schema.json)
versions/*/nutrients.csv   its nutrients, per day and per 1000 kcal, with limits and verdicts
versions/*/*.pdf           its papers
"""


def case_zip(case: Case) -> bytes:
    """The whole case. Raises InputError for a recipe that can no longer be read."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as zipped:
        for name, content in case_files(case):
            zipped.writestr(zipfile.ZipInfo(name, _WHEN), content, zipfile.ZIP_DEFLATED)
    return out.getvalue()


def case_files(case: Case) -> Iterator[tuple[str, bytes]]:
    """The entries of a case, by name. Raises InputError for one without a recipe, or with one that can no longer be read."""
    recipes = list(case.recipes.filter(archived=False))
    if not recipes:
        raise InputError(
            "recipe", "this case has no recipe yet: write one, then take the case along"
        )
    yield "README.txt", README.encode()
    for i, recipe in enumerate(recipes):
        name = MAIN if i == 0 else f"recipes/{i + 1}.json"
        yield name, _json(case_file(case, recipe))
        yield from _versions(recipe, i + 1)


def _json(data: Any) -> bytes:
    return json.dumps(data, ensure_ascii=False, indent=2).encode()


def _versions(recipe: Recipe, position: int) -> Iterator[tuple[str, bytes]]:
    for version in recipe.versions.filter(held=True).select_related("snapshot", "recipe__case"):
        if version.snapshot is None:
            continue
        at = f"versions/{position}-{version.number}"
        kept = version.snapshot.kept
        yield f"{at}/snapshot.json", version.snapshot.text.encode()
        yield f"{at}/nutrients.csv", nutrients_csv(kept).encode()
        yield from _papers(version, kept, at)


def _papers(version: RecipeVersion, kept: Snapshot, at: str) -> Iterator[tuple[str, bytes]]:
    release = version.releases.first()
    approved = release.approved if release else ""
    edition = f"Version {version.number}"
    for kind in (DocumentKind.OWNER, DocumentKind.REPORT):
        yield f"{at}/{kind}.pdf", as_pdf(document(kind, kept, edition, approved))
    yield f"{at}/letter.pdf", as_pdf(letter(version, approved))


def nutrients_csv(kept: Snapshot) -> str:
    """Every nutrient of a plan, one a row; what is not known is left empty, not zero."""
    rows: list[tuple[object, ...]] = [
        (
            "key", "name", "unit", "per_day", "per_1000_kcal", "min", "max", "safe_limit", "known_share",
            "status",
        )
    ]  # fmt: skip
    for n in kept.of_recipe.as_fed.nutrients:
        amounts = (n.per_day, n.per_1000_kcal) if n.known_share > 0 else (None, None)
        rows.append(
            (n.key, n.name, n.unit, *amounts, n.min, n.max, n.safe_limit, n.known_share, n.status)
        )
    return csv_text(rows)


@transaction.atomic
def import_bundle(who: Actor, files: Sequence[dict[str, Any]]) -> Case:
    """A case of case files: the first makes it, each other is one more recipe. What was signed elsewhere is not signed
    here. Raises InputError; nothing is written then."""
    case = import_case(who, files[0])
    for data in files[1:]:
        import_recipe(who, case, data)
    return case


def case_files_of(content: bytes) -> list[dict[str, Any]]:
    """The case files of a ZIP, the main one first. Raises InputError for what is no such ZIP, is too large, or holds no
    case."""
    if len(content) > MOST_BYTES:
        raise InputError("file", f"is larger than {MOST_BYTES // 1_000_000} MB")
    try:
        with archive(io.BytesIO(content)) as zipped:
            wanted = [n for n in zipped.namelist() if n == MAIN or _is_recipe(n)]
            wanted.sort(key=lambda n: (n != MAIN, n))
            if MAIN not in wanted:
                raise InputError("file", f"holds no {MAIN}: it is no case of Wainscot")
            if sum(zipped.getinfo(n).file_size for n in wanted) > MOST_BYTES:
                raise InputError("file", "unpacks to more than can be taken at once")
            found = [json.loads(zipped.read(n)) for n in wanted]
    except (DamagedArchiveError, json.JSONDecodeError, UnicodeDecodeError, RecursionError):
        raise InputError("file", "cannot be read: choose a ZIP that Wainscot wrote") from None
    if not all(isinstance(x, dict) for x in found):
        raise InputError("file", f"{MAIN} is no case file")
    return found


def _is_recipe(name: str) -> bool:
    return name.startswith("recipes/") and name.endswith(".json") and name.count("/") == 1
