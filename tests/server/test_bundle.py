"""A case goes along as one ZIP of open formats, and comes out the same elsewhere."""

import csv
import io
import json
import zipfile
from typing import Any

import pytest
from cases.models import Case
from django.core.files.uploadedfile import SimpleUploadedFile
from recipes.models import Recipe
from releasing import to_vet

SHOWN = ("per_day", "per_1000_kcal", "status", "min", "max")


def zipped(office: Any) -> bytes:
    answer = office.get(f"cases/{office.case.pk}/bundle")
    assert answer.status_code == 200 and answer["Content-Type"] == "application/zip"
    return bytes(answer.content)


def brought(office: Any, content: bytes) -> Any:
    sent = SimpleUploadedFile("case.zip", content, "application/zip")
    return office.browser.post("/api/cases/bundle", {"file": sent})


def analysed(office: Any, recipe: int) -> Any:
    lines = office.get(f"recipes/{recipe}").json()["lines"]
    typed = [{k: x[k] for k in ("food", "quantity", "preparation")} for x in lines]
    answer = office.send("post", f"recipes/{recipe}/analysis", {"lines": typed, "covers_days": 1})
    return {n["key"]: {k: n[k] for k in SHOWN} for n in answer.json()["nutrients"]}


def test_the_same_analysis_elsewhere(office: Any, rival: Any) -> None:
    """To the last digit, own foods and two recipes with it; what was signed here is not signed there."""
    food = office.send("post", "own-foods", {"name": "Stock", "values": {"ENERC": 10, "ZN": 0.4}})
    office.set_recipe(
        [
            {"food": "usda:05062", "quantity": "180 g"},
            {"food": food.json()["food_id"], "quantity": "50 g"},
        ]
    )
    office.send(
        "post", f"cases/{office.case.pk}/recipes", {"name": "Second", "copy_of": office.recipe.pk}
    )
    to_vet(office)
    made = brought(rival, zipped(office))
    assert made.status_code == 201, made.json()
    recipes = Recipe.objects.filter(case=made.json()["id"])
    assert [r.name for r in recipes] == ["Draft", "Second"]
    assert analysed(rival, recipes[0].pk) == analysed(office, office.recipe.pk)
    assert rival.get(f"recipes/{recipes[0].pk}/checks").json()["at_work"] is None


def test_what_stands_in_it(office: Any) -> None:
    to_vet(office)
    content = zipped(office)
    assert zipped(office) == content, "the same case is the same file"
    with zipfile.ZipFile(io.BytesIO(content)) as found:
        names = found.namelist()
        assert {x.date_time for x in found.infolist()} == {(1980, 1, 1, 0, 0, 0)}, (
            "whenever it is made"
        )
        at = next(n for n in names if n.endswith("snapshot.json")).removesuffix("snapshot.json")
        assert {
            f"{at}{x}" for x in ("nutrients.csv", "owner.pdf", "letter.pdf", "report.pdf")
        } < set(names)
        case = json.loads(found.read("case.json"))
        assert (
            case["format"] == "wainscot-case" and "case.json" in found.read("README.txt").decode()
        )
        rows = list(csv.DictReader(io.StringIO(found.read(f"{at}nutrients.csv").decode())))
        kept = json.loads(found.read(f"{at}snapshot.json"))
    zinc = next(r for r in rows if r["key"] == "ZN")
    frozen = next(n for n in kept["recipe"]["analysis"]["nutrients"] if n["key"] == "ZN")
    assert float(zinc["per_1000_kcal"]) == frozen["per_1000_kcal"]
    unknown = [r for r in rows if float(r["known_share"]) == 0]
    assert all(r["per_day"] == "" for r in unknown)


def _bad(name: str, text: str) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as made:
        made.writestr(name, text)
    return out.getvalue()


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"", "cannot be read"), (b"not a zip", "cannot be read"),
        (_bad("other.json", "{}"), "no case.json"), (_bad("case.json", "[1]"), "no case file"),
        (_bad("case.json", "{"), "cannot be read"), (_bad("case.json", "{}"), ""),
    ],
)  # fmt: skip
def test_what_is_no_case_is_refused_with_nothing_written(
    office: Any, content: bytes, words: str
) -> None:
    answer = brought(office, content)
    assert answer.status_code == 400 and words in answer.json()["error"]["message"]
    assert Case.objects.count() == 1
    assert office.browser.post("/api/cases/bundle", {}).status_code == 400


def test_a_case_without_a_recipe_says_what_to_do(office: Any) -> None:
    office.recipe.delete()
    answer = office.get(f"cases/{office.case.pk}/bundle")
    assert answer.status_code == 400 and "no recipe yet" in answer.json()["error"]["message"]
