"""A practice's shelf: labels are read, put on it, changed, taken off; nobody else sees it."""

from typing import Any

import pytest
from accounts.models import Practice

ZINC: dict[str, Any] = {
    "name": "Zinc fifteen", "unit": "tablet", "rest": "nothing", "lines": [{"text": "Zinc (as zinc gluconate) 15 mg"}],
}  # fmt: skip


def put_on(office, label=ZINC, **more):
    return office.send("post", "shelf", {"label": label, **more})


def zinc_of(office, quantity="2 tablets", food="shelf:zinc-fifteen"):
    body = {"lines": [{"food": food, "quantity": quantity}], "covers_days": 1}
    report = office.send("post", f"recipes/{office.recipe.pk}/analysis", body).json()
    return next(n["total"] for n in report["nutrients"] if n["key"] == "ZN")


def test_a_label_goes_on_the_shelf_and_is_drawn_on(office, rival) -> None:
    made = put_on(office, price=9, pack=60)
    assert made.status_code == 201
    item = made.json()
    assert (item["id"], item["price"], item["pack"]) == ("shelf:zinc-fifteen", 9, 60)
    assert [(b["key"], b["amount"]) for b in item["brings"]] == [("ZN", pytest.approx(15))]
    assert zinc_of(office) == pytest.approx(30)
    assert office.get("foods?q=zinc fifteen").json()[0]["id"] == item["id"]
    choices = office.get(f"cases/{office.case.pk}/formulation").json()
    assert item["id"] in [c["food"] for c in choices["allowed"]]
    assert all(item["id"] in mode["allowed"] for mode in choices["modes"])
    # Another practice neither sees, finds nor changes it.
    assert rival.get("shelf").json()["items"] == []
    assert item["id"] not in [f["id"] for f in rival.get("foods?q=zinc fifteen").json()]
    body = {"label": ZINC}
    assert rival.send("put", f"shelf/{item['id']}", body).status_code == 404
    assert rival.send("patch", f"shelf/{item['id']}", {"stocked": False}).status_code == 404


def test_what_is_open_is_refused_by_its_field_and_nothing_is_saved(office) -> None:
    for label, field in (
        ({**ZINC, "lines": [{"text": "Kelp 50 mg"}]}, "label.lines"),
        ({**ZINC, "rest": ""}, "label.rest"),
        ({**ZINC, "name": ""}, "label.name"),
        ({**ZINC, "per": 0}, "label.per"),
        ({**ZINC, "unit": "barrel"}, "label.unit"),
    ):
        answer = put_on(office, label)
        assert (answer.status_code, answer.json()["error"]["field"]) == (400, field)
    assert put_on(office, price=9).json()["error"]["field"] == "pack"
    assert office.get("shelf").json()["items"] == []


def test_a_label_is_read_before_it_is_saved(office) -> None:
    asked = {**ZINC, "lines": [{"text": "Zinc gluconate 50 mg"}]}
    found = office.send("post", "shelf/label", asked).json()
    assert found["item"] is None
    assert [o["id"] for o in found["lines"][0]["options"]] == ["compound", "ZN"]
    assert office.get("shelf").json()["items"] == []


def test_a_practice_that_writes_commas_reads_points_as_thousands(office) -> None:
    Practice.objects.filter(pk=office.practice.pk).update(conventions={"numbers": "point-comma"})
    choline = {**ZINC, "lines": [{"text": "Choline 1.000 mg"}]}
    found = office.send("post", "shelf/label", choline).json()
    assert found["brings"][0]["amount"] == 1000


def test_a_label_entered_anew_changes_the_recipe_and_keeps_what_it_was(office) -> None:
    item = put_on(office).json()
    line = {"food": item["id"], "quantity": "2 tablets"}
    office.set_recipe([{**line, "note": "", "preparation": "", "override": ""}])
    stronger = {**ZINC, "lines": [{"text": "Zinc 25 mg"}]}
    body = {"label": stronger, "version": item["version"]}
    changed = office.send("put", f"shelf/{item['id']}", body)
    assert changed.json()["version"] == item["version"] + 1
    assert zinc_of(office) == pytest.approx(50)
    kept = office.get(f"recipes/{office.recipe.pk}/versions").json()
    assert "before the label of Zinc fifteen" in [v["name"] for v in kept]
    # Someone who still looks at the old label is told.
    assert office.send("put", f"shelf/{item['id']}", body).status_code == 409


def test_what_is_taken_off_stays_in_recipes_and_is_proposed_nowhere(office) -> None:
    item = put_on(office).json()
    off = office.send("patch", f"shelf/{item['id']}", {"stocked": False}).json()
    assert off["retired"]
    assert zinc_of(office) == pytest.approx(30)
    choices = office.get(f"cases/{office.case.pk}/formulation").json()
    assert all(item["id"] not in mode["allowed"] for mode in choices["modes"])
    back = office.send("patch", f"shelf/{item['id']}", {"stocked": True}).json()
    assert not back["retired"]
    choices = office.get(f"cases/{office.case.pk}/formulation").json()
    assert all(item["id"] in mode["allowed"] for mode in choices["modes"])


def test_two_labels_of_one_name_stand_beside_each_other(office) -> None:
    assert [put_on(office).json()["id"] for _ in range(2)] == [
        "shelf:zinc-fifteen", "shelf:zinc-fifteen-2",
    ]  # fmt: skip


def test_a_practice_is_asked_until_it_has_answered(office) -> None:
    assert office.get("session").json()["shelf_asked"] is False
    office.send("post", "shelf/asked", {})
    assert office.get("session").json()["shelf_asked"] is True
