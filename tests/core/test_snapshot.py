"""A snapshot holds all it rests on, is the same for the same, and stays readable."""

import gzip
import json
from dataclasses import replace
from datetime import date
from functools import lru_cache
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from hypothesis import given
from hypothesis import strategies as st
from wainscot_core.boundary import schema_of
from wainscot_core.documents import DOCUMENTS, document
from wainscot_core.documents.paper import DocumentKind
from wainscot_core.dossier.reference import Reference, fingerprint_of, load
from wainscot_core.errors import InputError
from wainscot_core.formats.casefile import dossier_of, read_case_file, record_of
from wainscot_core.snapshot.freeze import freeze_case, freeze_recipe
from wainscot_core.snapshot.snapshot import Parties, Snapshot, canonical, digest_of, opened
from wainscot_core.version import VERSION

ROOT = Path(__file__).resolve().parents[2]
TODAY = date(2026, 11, 26)
PARTIES = Parties(practice="Larch Lane", client="Maren Holt")
FOODS = ("usda:05062", "usda:20445", "usda:11124", "usda:13326", "supp:calcium-carbonate")


def case(lines: list[dict[str, Any]], days: float = 1) -> dict[str, Any]:
    return {
        "format": "wainscot-case",
        "version": 1,
        "dog": {"name": "Juniper", "sex": "female", "neutered": True, "age_months": 108,
                "weight_kg": 8.2, "body_condition": 5},
        "energy": {"method": "rer-multiplier", "multiplier": 1.6},
        "targets": {"standard": "nrc-2006", "life_stage": "adult",
                    "conditions": [{"id": "mmvd", "stage": "C"}]},
        "recipe": {"covers_days": days, "lines": lines},
    }  # fmt: skip


@lru_cache(maxsize=1)
def known() -> Reference:
    return load(ROOT / "reference")


def frozen(lines: list[dict[str, Any]], days: float = 1, name: str = "Stew") -> Snapshot:
    file = read_case_file(case(lines, days))
    return freeze_recipe(dossier_of(known(), file), record_of(file), PARTIES, name, TODAY)


COOKED = [
    {"food": "usda:05062", "grams": 180, "preparation": "poultry-simmered-discarded"},
    {"food": "usda:20445", "grams": 200},
    {"food": "usda:13326", "grams": 10},
]


@given(
    st.lists(
        st.fixed_dictionaries(
            {
                "food": st.sampled_from(FOODS),
                "grams": st.floats(0.01, 900).map(lambda g: round(g, 3)),
            }
        ),
        min_size=1,
        max_size=6,
    ),
    st.sampled_from([1, 3, 7.5]),
)
def test_what_was_computed_follows_from_the_snapshot_alone(
    lines: list[dict[str, Any]], days: float
) -> None:
    """Values x grams x what cooking leaves, added up from its JSON, is what the analysis says."""
    kept = json.loads(canonical(frozen(lines, days)))["recipe"]
    foods = {f["id"]: f for f in kept["foods"]}
    for nutrient in kept["analysis"]["nutrients"]:
        key = nutrient["key"]
        total = sum(
            foods[line["text"]["food"]]["values"].get(key, 0.0) / 100
            * line["text"]["grams"] * line["retained"].get(key, 1.0)
            for line in kept["lines"]
        )  # fmt: skip
        assert nutrient["total"] == pytest.approx(total, rel=1e-6, abs=1e-9), key


def test_cooking_is_kept_with_the_line() -> None:
    """Potassium goes with the discarded broth; by the retention table's own figure."""
    kept = json.loads(canonical(frozen(COOKED)))["recipe"]
    chicken = kept["lines"][0]
    assert chicken["yield_share"] < 1 and chicken["retained"]["K"] < 1
    assert kept["lines"][1] == {**kept["lines"][1], "yield_share": 1.0, "retained": {}}


def test_every_value_names_its_source() -> None:
    kept = frozen(COOKED).of_recipe
    for food in kept.foods:
        assert set(food.source_of) == set(food.values)
        assert all(kept.sources[i].text for i in food.source_of.values())
    # Nothing known of it is left out: the library's own count of values.
    library = known().library
    chicken = next(f for f in kept.foods if f.id == "usda:05062")
    row = library.values[library.row("usda:05062")]
    assert len(chicken.values) == int((row == row).sum())


def test_the_same_is_the_same_and_anything_else_is_not() -> None:
    first = canonical(frozen(COOKED))
    assert canonical(frozen(COOKED)) == first
    others = [
        frozen([{**COOKED[0], "grams": 181}, *COOKED[1:]]), frozen(COOKED, 2),
        frozen(COOKED, name="Other"), frozen(list(reversed(COOKED))),
    ]  # fmt: skip
    assert len({digest_of(canonical(s)) for s in others} | {digest_of(first)}) == 5


def test_a_snapshot_opens_to_what_it_was() -> None:
    kept = frozen(COOKED)
    text = canonical(kept)
    again = opened(text, digest_of(text))
    assert again == kept and canonical(again) == text


def test_an_altered_or_foreign_text_is_refused() -> None:
    text = canonical(frozen(COOKED))
    with pytest.raises(InputError, match="altered"):
        opened(text.replace("Juniper", "Hazel"), digest_of(text))
    newer = text.replace('"schema":1', '"schema":2')
    with pytest.raises(InputError, match="form 2"):
        opened(newer, digest_of(newer))


def test_it_fits_its_published_schema() -> None:
    published = json.loads((ROOT / "docs" / "formats" / "snapshot.schema.json").read_text())
    assert published == schema_of(Snapshot, "wainscot-snapshot", published["title"])
    jsonschema.validate(json.loads(canonical(frozen(COOKED))), published)


def test_a_case_without_a_recipe_says_so() -> None:
    file = read_case_file(case(COOKED))
    dossier = dossier_of(known(), file)
    alone = freeze_case(known(), record_of(file), dossier.targets, dossier.energy, TODAY, PARTIES)
    assert alone.recipe is None
    with pytest.raises(InputError, match="without a recipe"):
        document(DocumentKind.SHEET, alone, "x")
    assert document(DocumentKind.INTAKE, alone, "x").title == "Juniper: intake"
    with pytest.raises(InputError, match="as it stands"):
        document(DocumentKind.VERDICT, alone, "x")


def test_snapshots_of_form_1_stay_readable() -> None:
    """Kept by version 0.1.0. When this fails, a way to read the old form is missing: snapshots in
    databases out there would be lost."""
    packed = (ROOT / "tests" / "fixtures" / "snapshot-1.json.gz").read_bytes()
    text = gzip.decompress(packed).decode()
    kept = opened(text, "6715c32aaa6aead208744f03c9c1348336a4cf7410068fc46196edd05a115e86")
    assert kept.case.dog.name == "Juniper" and kept.of_recipe.foods
    for kind in DOCUMENTS:
        if kind is DocumentKind.OWNER:
            # It was kept before anything was checked to go out.
            with pytest.raises(InputError, match="checked"):
                document(kind, kept, "Version 1, first")
        else:
            assert document(kind, kept, "Version 1, first").sections


def test_the_facts_have_a_fingerprint_that_moves_with_them(tmp_path: Path) -> None:
    (tmp_path / "a.csv").write_text("x\n1\n")
    (tmp_path / "b.yaml").write_text("y: 2\n")
    first = fingerprint_of(tmp_path)
    (tmp_path / "notes.md").write_text("not a fact")
    assert fingerprint_of(tmp_path) == first
    (tmp_path / "a.csv").write_text("x\n2\n")
    assert fingerprint_of(tmp_path) != first
    # What moves from one file's end to the next one's start is another set of facts.
    (tmp_path / "a.csv").write_text("x\n1\ny: 2\n")
    (tmp_path / "b.yaml").write_text("")
    assert fingerprint_of(tmp_path) != first
    assert frozen(COOKED).reference == known().fingerprint and len(known().fingerprint) == 64


def test_the_program_names_the_version_it_is_built_as() -> None:
    assert f'version = "{VERSION}"' in (ROOT / "pyproject.toml").read_text()
    assert replace(frozen(COOKED), recipe=None).program == VERSION
