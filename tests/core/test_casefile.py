"""The case file and the commands that read it."""

import copy
import json
import subprocess
import sys
from dataclasses import fields
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from printed import analysed
from wainscot_core.boundary import parse_json
from wainscot_core.conventions import Conventions
from wainscot_core.dog.record import TargetsRecord
from wainscot_core.dossier.reference import Reference
from wainscot_core.errors import InputError
from wainscot_core.formats.casefile import (
    CaseFile,
    FileLine,
    FileRecipe,
    open_case,
    read_case,
)
from wainscot_core.formats.own_library import FileFood, FileKnown

ROOT = Path(__file__).resolve().parents[2]
CASE: dict[str, Any] = {
    "format": "wainscot-case",
    "version": 1,
    "dog": {"name": "Juniper", "sex": "female", "neutered": True, "age_months": 108, "weight_kg": 8.2,
            "ideal_weight_kg": None, "body_condition": 5, "activity": "typical"},
    "energy": {"method": "rer-multiplier", "multiplier": 1.6},
    "targets": {"standard": "nrc-2006", "life_stage": "adult", "conditions": [{"id": "mmvd", "stage": "C"}]},
    "recipe": {"covers_days": 1, "lines": [{"food": "usda:05062", "grams": 180},
                                           {"food": "usda:20045", "amount": 1, "unit": "cup"}]},
}  # fmt: skip


def changed(path: str, value: Any) -> dict[str, Any]:
    case = copy.deepcopy(CASE)
    target: Any = case
    *parents, last = path.split(".")
    for key in parents:
        target = target[int(key) if key.isdigit() else key]
    if value is ...:
        del target[last]
    else:
        target[int(last) if last.isdigit() else last] = value
    return case


@pytest.mark.parametrize(
    ("path", "value", "field"),
    [
        ("format", "other", "format"),
        ("version", 2, "version"),
        ("dog", ..., "dog"),
        ("dog.weight_kg", 0, "dog.weight_kg"),
        ("dog.weight_kg", 200, "dog.weight_kg"),
        ("dog.weight_kg", "8", "dog.weight_kg"),
        ("dog.weight_kg", True, "dog.weight_kg"),
        ("energy.multiplier", 90, "energy.multiplier"),
        ("energy.method", "guess", "energy.method"),
        ("targets.standard", "home", "targets.standard"),
        ("targets.life_stage", "retired", "targets.life_stage"),
        ("recipe.covers_days", 0, "recipe.covers_days"),
        ("recipe.lines.0.grams", -180, "recipe.lines[0].grams"),
        ("recipe.lines.0.grams", 1e9, "recipe.lines[0].grams"),
        ("recipe.lines.0.food", "usda:99999", "recipe.lines[0].food"),
        ("recipe.lines.1.unit", "furlong", "recipe.lines[1].unit"),
        ("recipe.lines.1.amount", 0, "recipe.lines[1].amount"),
        ("recipe.lines.1.amount", ..., "recipe.lines[1].grams"),
    ],
)
def test_bad_input_names_the_field(facts: Reference, path: str, value: Any, field: str) -> None:
    with pytest.raises(InputError) as caught:
        read_case(facts, changed(path, value))
    assert caught.value.field == field
    assert len(caught.value.message) > 5


def test_malformed_json_says_where() -> None:
    with pytest.raises(InputError, match="line 1, column"):
        parse_json('{"format": ')
    with pytest.raises(InputError, match="NaN"):
        parse_json('{"weight": NaN}')
    with pytest.raises(InputError, match="object"):
        parse_json("[1]")


def test_report_and_its_schema(facts: Reference) -> None:
    report = analysed(facts, CASE)
    # 70 x 8.2^0.75 = 339.2; x 1.6 = 542.7.
    assert report["energy"]["rer_kcal"] == pytest.approx(339.2, abs=0.05)
    assert report["energy"]["target_kcal"] == pytest.approx(542.7, abs=0.1)
    assert report["recipe"]["lines"][1]["grams"] == 158
    protein = next(n for n in report["nutrients"] if n["key"] == "PROCNT")
    # 1.8 x 22.525 + 1.58 x 2.69
    assert protein["total"] == pytest.approx(44.795, rel=0.005)
    assert sum(s["amount"] for s in protein["sources"]) == pytest.approx(protein["total"])
    for name, document in (("case", CASE), ("analysis", report)):
        schema = json.loads((ROOT / "docs" / "formats" / f"{name}.schema.json").read_text())
        jsonschema.Draft202012Validator.check_schema(schema)
        jsonschema.validate(document, schema)


def test_own_foods_travel_in_the_file(facts: Reference) -> None:
    case = changed("recipe.lines.0.food", "own:stew")
    case["foods"] = [
        {
            "id": "own:stew",
            "name": "Stew",
            "per_100_g": {"ENERC": 100, "CA": {"value": 0.5, "unit": "g"}},
        }
    ]
    report = analysed(facts, case)
    calcium = next(n for n in report["nutrients"] if n["key"] == "CA")
    assert calcium["sources"][0]["amount"] == pytest.approx(900)
    zinc = next(n for n in report["nutrients"] if n["key"] == "ZN")
    assert zinc["sources"][0]["amount"] is None
    case["foods"][0]["per_100_g"]["CA"] = -1
    with pytest.raises(InputError) as caught:
        read_case(facts, case)
    assert caught.value.field == "foods[0].per_100_g.CA"


def test_hazards_are_flagged(facts: Reference) -> None:
    case = changed("recipe.lines.0.food", "usda:11282")  # onions, raw
    flags = analysed(facts, case)["flags"]
    assert flags[0]["level"] == "block"
    assert "Onion" in flags[0]["what"]


def command(*words: str, text: str | None = None) -> subprocess.CompletedProcess[str]:
    env = {"PYTHONPATH": f"{ROOT}/core:{ROOT}/cli", "PATH": "/usr/bin:/bin"}
    return subprocess.run(
        [sys.executable, "-m", "wainscot_cli", *words],
        input=text,
        capture_output=True,
        text=True,
        env=env,
    )


def test_analyse_command_prints_one_object() -> None:
    done = command("analyse", "-", text=json.dumps(CASE))
    assert (done.returncode, done.stderr) == (0, "")
    assert set(json.loads(done.stdout)) >= {"energy", "recipe", "nutrients", "ratios", "flags"}


def test_check_command_prints_findings() -> None:
    case = changed("recipe.lines.0.food", "usda:11282")  # onions, raw
    done = command("check", "-", text=json.dumps({**case, "colour": "red"}))
    assert (done.returncode, done.stderr) == (0, "")
    printed = json.loads(done.stdout)
    assert printed["findings"][0]["level"] == "block"
    assert set(printed["findings"][0]) >= {"level", "kind", "what", "why", "do", "source"}
    assert printed["warnings"] == ["colour is not known here and was not used"]


@pytest.mark.parametrize(
    ("words", "text", "field"),
    [
        (["analyse", "-"], "{", ""),
        (["analyse", "/nowhere.json"], None, ""),
        (["energy", "--weight-kg", "0"], None, "weight_kg"),
        (["energy", "--weight-kg", "heavy"], None, "weight_kg"),
        (["energy"], None, "weight_kg"),
        (["analyse", "-"], json.dumps(changed("dog.weight_kg", 200)), "dog.weight_kg"),
    ],
)
def test_unusable_input_exits_2_with_an_error_object(words, text, field) -> None:
    done = command(*words, text=text)
    assert done.returncode == 2
    assert json.loads(done.stdout)["error"]["field"] == field


def test_energy_command() -> None:
    found = json.loads(command("energy", "--weight-kg", "10", "--multiplier", "1.6").stdout)
    assert round(found["rer_kcal"], 1) == 393.6
    assert round(found["target_kcal"], 1) == 629.8


def test_the_formulate_command_prints_one_object_and_nothing_else(tmp_path: Path) -> None:
    case = {
        "format": "wainscot-case", "version": 1, "dog": {"name": "T", "weight_kg": 8.2},
        "energy": {"method": "rer-multiplier", "multiplier": 1.4},
        "targets": {"standard": "nrc-2006", "conditions": [{"id": "mmvd", "stage": "C"}]},
        "recipe": {"covers_days": 1, "lines": [
            {"food": "usda:05098", "grams": 140}, {"food": "usda:20445", "grams": 119},
            {"food": "usda:02047", "amount": 0.125, "unit": "tsp"},
        ]},
    }  # fmt: skip
    done = command("formulate", "-", text=json.dumps(case))
    assert done.returncode == 0
    report = json.loads(done.stdout)
    assert report["state"] == "met" and report["conflicts"] == []
    assert {"changes", "binding", "conflicts", "nutrients"} <= report.keys()
    refused = command("formulate", "-", text=json.dumps({**case, "formulate": {"mode": "x"}}))
    assert refused.returncode == 2
    assert json.loads(refused.stdout)["error"]["field"] == "formulate.mode"


def test_a_reader_that_has_enough_is_no_error(tmp_path: Path) -> None:
    (tmp_path / "case.json").write_text(json.dumps(CASE))
    done = subprocess.run(
        ["sh", "-c", f"{sys.executable} -m wainscot_cli analyse case.json | head -c 10"],
        cwd=tmp_path, capture_output=True, text=True, check=False,
        env={"PYTHONPATH": f"{ROOT}/core:{ROOT}/cli", "PATH": "/usr/bin:/bin"},
    )  # fmt: skip
    assert (done.stdout, done.stderr) == ('{\n "energy', "")


KELP = "supp:kelp-powder"


def test_a_file_brings_what_was_read_from_a_pack_and_measured(facts: Reference) -> None:
    """Kelp of 600 ug iodine per g, of which a scoop is 0.5 g: 2 scoops bring 600 ug."""
    case = changed("recipe.lines.1", {"food": KELP, "amount": 2, "unit": "scoop"})
    case["known"] = {KELP: {"strengths": {"ID": 600}, "measures": {"scoop": 0.5}}}
    report = analysed(facts, case)
    assert report["recipe"]["lines"][1]["grams"] == pytest.approx(1.0)
    iodine = next(n for n in report["nutrients"] if n["key"] == "ID")
    kelp = next(s for s in iodine["sources"] if s["food"] == KELP)
    assert kelp["amount"] == pytest.approx(600)
    assert report["warnings"] == []


@pytest.mark.parametrize(
    ("known", "field"),
    [
        ({"usda:99999": {}}, "known.usda:99999"),
        ({KELP: {"strengths": {"CA": 5}}}, f"known.{KELP}.strengths.CA"),
        ({KELP: {"strengths": {"ID": 0}}}, f"known.{KELP}.strengths.ID"),
        ({KELP: {"strengths": {"ID": 1e9}}}, f"known.{KELP}.strengths.ID"),
        ({KELP: {"measures": {"oz": 3}}}, f"known.{KELP}.measures.oz"),
        ({KELP: {"measures": {"scoop": -1}}}, f"known.{KELP}.measures.scoop"),
        ({KELP: {"measures": {"": 1}}}, f"known.{KELP}.measures."),
    ],
)
def test_what_cannot_be_known_of_a_food_is_refused(
    facts: Reference, known: dict[str, Any], field: str
) -> None:
    with pytest.raises(InputError) as caught:
        read_case(facts, {**CASE, "known": known})
    assert caught.value.field == field


def test_the_published_schema_knows_every_field(facts: Reference) -> None:
    """It is written by hand: a field added to the file and not to it would pass unnoticed."""
    schema = json.loads((ROOT / "docs" / "formats" / "case.schema.json").read_text())
    here = schema["properties"]
    assert {f.name for f in fields(CaseFile)} <= set(here)
    for kind, part in (
        (FileFood, here["foods"]["items"]),
        (FileKnown, here["known"]["additionalProperties"]),
        (TargetsRecord, here["targets"]),
        (FileLine, here["recipe"]["properties"]["lines"]["items"]),
        (FileRecipe, here["recipe"]),
        (Conventions, here["conventions"]),
    ):
        assert {f.name for f in fields(kind)} <= set(part["properties"]), kind


def test_trend_command() -> None:
    """Three months on 900 kcal at 20 kg: they hold it. What is not known is named, what cannot be used too."""
    log = [
        {"date": f"2026-0{6 + i // 4}-{1 + 7 * (i % 4):02d}", "weight_kg": 20.0, "kcal_fed": 900}
        for i in range(12)
    ]
    case = {"dog": {"name": "Fen", "body_condition": 5, "collar": "red"}, "log": log}
    done = command("trend", "-", text=json.dumps(case))
    assert (done.returncode, done.stderr) == (0, "")
    found = json.loads(done.stdout)
    assert set(found) >= {"kcal_hold", "low", "high", "learnt", "changed", "proposal", "weights"}
    assert found["kcal_hold"] == pytest.approx(900, rel=0.02) and found["learnt"]
    assert found["changed"] is None and found["proposal"] is None and len(found["weights"]) == 12
    assert any("dog.collar" in words for words in found["warnings"])
    log[2]["weight_kg"] = -1
    bad = command("trend", "-", text=json.dumps(case))
    assert bad.returncode == 2
    assert json.loads(bad.stdout)["error"]["field"] == "log[2].weight_kg"


def test_what_a_label_says_at_least_comes_with_the_food(facts: Reference) -> None:
    bag = {"id": "own:bag", "name": "Bag", "per_100_g": {"ENERC": 365, "FAT": 15}}
    case = CASE | {"foods": [bag | {"may_exceed": {"FAT": 2}}]}
    library = open_case(facts, case).dossier.library
    assert library.food("own:bag").may_exceed == {"FAT": 2}
    for wrong, at in (({"CA": 2}, "may_exceed.CA"), ({"FAT": -1}, "may_exceed.FAT")):
        broken = CASE | {"foods": [bag | {"may_exceed": wrong}]}
        with pytest.raises(InputError) as caught:
            open_case(facts, broken)
        assert caught.value.field == f"foods[0].{at}"
