"""How a recipe does in a kitchen, asked for by the bench."""

from typing import Any

LINES = [{"food": "usda:05062", "quantity": "300 g"}, {"food": "usda:20445", "quantity": "1 cup"}]


def asked(office: Any, what: str = "robustness", **more: Any) -> Any:
    body = {"lines": LINES, "covers_days": 1, **more}
    return office.send("post", f"recipes/{office.recipe.pk}/{what}", body)


def test_a_recipe_is_drawn_and_the_same_again(office: Any) -> None:
    first = asked(office)
    assert first.status_code == 200, first.content
    found = first.json()
    assert found == asked(office).json()
    chances = {c["key"]: c for c in found["chances"]["limits"]}
    assert found["chances"]["kitchens"] * found["chances"]["batches"] > 9_000
    protein = chances["PROCNT"]
    assert protein["status"] == "met" and 0.9 < protein["batch"]["share"] <= 1
    assert len(found["carrying"]["lines"]) == 2
    assert set(found["doubtful"]) <= set(chances)


def test_more_days_a_batch_are_fewer_batches_a_month(office: Any) -> None:
    assert asked(office, covers_days=7).json()["chances"]["batches"] == 4
    assert asked(office).json()["chances"]["batches"] == 28


def test_a_recipe_of_nothing_is_told_so(office: Any) -> None:
    refused = asked(office, lines=[])
    assert (refused.status_code, refused.json()["error"]["field"]) == (400, "lines")


def test_another_of_its_kind_is_looked_at_line_by_line(office: Any) -> None:
    found = asked(office, "swaps", line=0).json()
    assert found["line"] == 0 and found["sound"] <= found["members"]
    assert found["members"] > 0
    refused = asked(office, "swaps", line=7)
    assert (refused.status_code, refused.json()["error"]["field"]) == (400, "line")


def test_how_supplements_are_stirred_in_is_asked_for(office: Any) -> None:
    """Onto each portion no day differs from another; stirred in, the day has its own share. A way that is not known
    is refused by name."""
    lines = [*LINES, {"food": "supp:calcium-carbonate", "quantity": "2 g"}]

    def days(**more: Any) -> set[str]:
        found = asked(office, lines=lines, covers_days=7, **more).json()
        assert {way["id"] for way in found["ways"]} >= {found["mixed"], "portion", "sprinkled"}
        return {c["key"] for c in found["chances"]["limits"] if c["day"] is not None}

    assert "CA" in days() and "CA" in days(mixed="sprinkled") and days(mixed="portion") == set()
    refused = asked(office, mixed="shaken")
    assert (refused.status_code, refused.json()["error"]["field"]) == (400, "mixed")
