"""What stands under a practice's name, and the made-up dog it may begin with."""

from accounts.models import Practice

HEAD = {"address": "4 Hazel Yard\nMillford", "phone": "012 3456", "note": "By appointment"}


def write(office, **fields):
    changes = [
        {"path": f"letterhead.{name}", "value": value, "was": ""} for name, value in fields.items()
    ]
    return office.send("patch", "practice", {"changes": changes})


def test_a_letterhead_stands_on_what_is_printed(office) -> None:
    answer = write(office, **HEAD)
    assert answer.status_code == 200, answer.json()
    assert answer.json()["letterhead"] == {**HEAD, "email": "", "web": ""}
    assert office.get("practice").json()["letterhead"]["phone"] == "012 3456"
    paper = office.browser.get(f"/papers/recipes/{office.recipe.pk}/sheet").content.decode()
    assert "4 Hazel Yard" in paper and "Millford" in paper and "By appointment" in paper
    kept = Practice.objects.get(pk=office.practice.pk).letterhead
    assert kept == {**HEAD, "email": "", "web": ""}


def test_what_does_not_fit_is_refused_and_nothing_is_written(office) -> None:
    refused = write(office, address="x" * 401)
    assert (refused.status_code, refused.json()["error"]["field"]) == (400, "letterhead.address")
    assert office.get("practice").json()["letterhead"]["address"] == ""
    write(office, phone="1")
    # Somebody who began from nothing is told of it.
    assert write(office, phone="2").status_code == 409


def test_only_its_own_practice_has_it(office, rival) -> None:
    write(office, **HEAD)
    assert rival.get("practice").json()["letterhead"]["phone"] == ""
    paper = rival.browser.get(f"/papers/recipes/{rival.recipe.pk}/sheet").content.decode()
    assert "Hazel" not in paper


def test_a_practice_without_a_case_is_told_what_to_set_up(office, rival) -> None:
    assert office.get("desk").json()["beginning"] is None
    assert office.browser.delete(f"/api/cases/{office.case.pk}").status_code == 204
    found = office.get("desk").json()["beginning"]
    assert found == {"letterhead": [], "on_shelf": 0, "shelf_asked": False}
    write(office, **HEAD)
    assert office.get("desk").json()["beginning"]["letterhead"] == [
        "4 Hazel Yard", "Millford", "012 3456", "By appointment",
    ]  # fmt: skip
    assert rival.get("desk").json()["beginning"] is None


def test_the_dog_to_try_is_a_case_like_any_other(office, rival) -> None:
    made = office.send("post", "cases/sample", {})
    assert made.status_code == 201
    case = made.json()
    assert case["dog"]["name"] == "Pebble"
    recipe = case["recipes"][0]["id"]
    lines = [
        {"food": x["food"], "quantity": x["quantity"]}
        for x in office.get(f"recipes/{recipe}").json()["lines"]
    ]
    found = office.send("post", f"recipes/{recipe}/analysis", {"lines": lines, "covers_days": 1})
    statuses = {n["key"]: n["status"] for n in found.json()["nutrients"]}
    # Wrong on purpose: cheese and salt for a failing heart, and nothing that brings calcium.
    assert (statuses["NA"], statuses["CA"]) == ("over", "short")
    assert rival.get(f"cases/{case['id']}").status_code == 404
    assert office.browser.delete(f"/api/cases/{case['id']}").status_code in {
        200,
        204,
        400,
        403,
        405,
    }
