"""A recipe brought in: read over the practice's own foods, its doubts weighed, its text kept."""

from io import BytesIO
from typing import Any

import pytest
from library.actions import touch
from library.models import OwnFood
from pypdf import PdfReader

TEXT = "Makes 4 days\n500 g chicken thigh, raw\n2 cups white rice\n1 fish oil capsule a day\nsalt to taste\n"


def bring(office: Any, text: str, **more: Any) -> Any:
    return office.send("post", f"recipes/{office.recipe.pk}/bring", {"text": text, **more})


def doubts(office: Any, lines: list[dict[str, Any]], **more: Any) -> Any:
    return office.send("post", f"recipes/{office.recipe.pk}/doubts", {"lines": lines, **more})


def test_a_text_is_read_and_nothing_of_it_is_stored(office) -> None:
    before = office.get(f"recipes/{office.recipe.pk}").json()
    found = bring(office, TEXT).json()
    lines = [line for line in found["lines"] if line["kind"] == "ingredient"]
    assert [found["text"][x["begin"] : x["end"]] for x in lines] == TEXT.splitlines()[1:]
    assert (found["days"], found["days_told"]) == (4, True)
    assert [x["quantity"] for x in lines][2:] == ["4 g", ""]
    assert office.get(f"recipes/{office.recipe.pk}").json() == before
    twice = bring(office, TEXT, covers_days=2).json()
    assert [x["quantity"] for x in twice["lines"] if x["kind"] == "ingredient"][2] == "2 g"


def test_own_foods_are_read_too_and_those_of_others_are_not(office, rival) -> None:
    OwnFood.objects.create(
        practice=office.practice, slug="brindle", name="Brindle stew", values={"ENERC": 90}
    )
    touch(office.practice)
    (line,) = bring(office, "200 g brindle stew").json()["lines"]
    assert line["choices"][0]["food"] == "own:brindle"
    (line,) = bring(rival, "200 g brindle stew").json()["lines"]
    assert all(c["food"] != "own:brindle" for c in line["choices"])


def test_what_cannot_be_read_says_what_to_do(office) -> None:
    for text, words in [
        ("", "paste a recipe"), ("%PDF-1.7 x", "PDF"), ("x" * 2_000_001, "paste the recipe alone"),
        ("PK\x03\x04\0\0", "copy the recipe"),
    ]:  # fmt: skip
        answer = bring(office, text)
        assert answer.status_code == 400, text[:20]
        assert words in answer.json()["error"]["message"]
    assert bring(office, "1 egg", covers_days=0).json()["error"]["field"] == "covers_days"
    script = bring(office, "<html><script>alert('1 egg')</script><p>200 g rice</p></html>").json()
    assert [x["text"] for x in script["lines"]] == ["200 g rice"]


def test_doubts_are_weighed_on_this_dog(office) -> None:
    salt = {"food": "usda:02047", "quantity": "1 g"}
    lines = [
        {"food": "usda:05062", "quantity": "300 g", "settled": True},
        {**salt, "low_grams": 1, "high_grams": 20, "choices": [salt, {**salt, "quantity": "20 g"}]},
        {"food": "", "quantity": ""},
        {"food": "usda:11124", "quantity": "a bananaful"},
    ]
    found = doubts(office, lines).json()
    assert found["order"] == [2, 3, 1, 0]
    assert found["lines"][1]["effects"][0]["words"] == "changes little"
    assert "Sodium" in [t["name"] for t in found["lines"][1]["effects"][1]["turned"]]
    low, high = found["ranges"]["NA"]
    # Table salt holds 38.8 g sodium in 100 g: 19 g more of it are 7364 mg, on 342 kcal of breast.
    assert high - low > 10_000
    settled = doubts(office, [{**line, "settled": True} for line in lines[:2]]).json()
    assert settled["ranges"] == {}


def test_the_owner_is_asked_in_one_message(office) -> None:
    path = f"recipes/{office.recipe.pk}/questions"
    found = office.send("post", path, {"questions": ["“a tub”: how much?"]}).json()
    assert "1. “a tub”: how much?" in found["text"]
    assert office.case.dog.name in found["subject"]
    assert office.send("post", path, {"questions": []}).status_code == 400


def test_what_was_sent_is_kept_with_what_was_left_out(office) -> None:
    path = f"recipes/{office.recipe.pk}/brought"
    left = [{"text": "her heart pills", "reason": "a medicine"}]
    body = {"text": TEXT, "taken": 3, "left_out": left, "asked": ["“salt to taste”: how much?"]}
    assert office.send("post", path, body).status_code == 201
    (kept,) = office.get(path).json()
    assert (kept["text"], kept["taken"], kept["left_out"]) == (TEXT, 3, left)
    assert kept["by"] == office.who.name
    events = office.get(f"cases/{office.case.pk}/events").json()["events"]
    assert events[0]["what"] == "Brought 3 lines of a text into “Draft”, left 1 out"


def test_how_it_does_is_one_page_for_this_dog_and_for_a_plain_adult(office) -> None:
    for name in ("verdict", "verdict-adult"):
        path = f"/papers/recipes/{office.recipe.pk}/{name}"
        page = office.browser.get(path)
        assert page.status_code == 200, name
        assert "How does “Draft” do for" in page.content.decode()
        pdf = office.browser.get(f"{path}.pdf")
        assert len(PdfReader(BytesIO(pdf.content)).pages) == 1
    office.set_recipe([])
    empty = office.browser.get(f"/papers/recipes/{office.recipe.pk}/verdict")
    assert (empty.status_code, "no lines yet" in empty.content.decode()) == (400, True)


def test_a_rule_of_thumb_is_judged_for_a_food_or_for_what_is_cooked(office) -> None:
    path = f"recipes/{office.recipe.pk}/thumb"
    body = {"lines": [{"food": "usda:05062", "quantity": "400 g"}], "covers_days": 2}
    found = office.send(
        "post", path, {**body, "rule": "1 tsp eggshell powder a kilo of meat"}
    ).json()
    assert (found["dose"]["quantity"], found["portion"]) == ("2.2 g", None)
    found = office.send("post", path, {**body, "rule": "100 g a day per 10 kg"}).json()
    kg = office.get(f"cases/{office.case.pk}").json()["dog"]["weight_kg"]
    batch = office.send("post", f"recipes/{office.recipe.pk}/analysis", body).json()["recipe"]
    assert found["portion"]["step"]["value"] == pytest.approx(batch["kcal"] / 400 * 100 * kg / 10)
    assert office.send("post", path, {**body, "rule": " "}).json()["error"]["field"] == "rule"
