"""What a client can get, and what has to be bought, over the wire."""

from typing import Any

import pytest
from cases.models import ClientFood
from plans.actions import plan_of

CHICKEN, KALE, RICE = "usda:05062", "usda:11233", "usda:20045"
LINES = [
    {"food": CHICKEN, "quantity": "500 g"},
    {"food": KALE, "quantity": "200 g"},
    {"food": RICE, "quantity": "700 g"},
]


@pytest.fixture
def stew(office: Any) -> Any:
    assert office.set_recipe(LINES, covers_days=7).status_code == 200
    return office


def said(office: Any, foods: list[str], mark: str, days: int | None = None) -> Any:
    body = {"foods": foods, "mark": mark, "days": days}
    return office.send("post", f"cases/{office.case.pk}/client-foods", body)


def shopping(office: Any, **more: Any) -> dict[str, Any]:
    body = {"lines": LINES, "covers_days": 7, **more}
    found = office.send("post", f"recipes/{office.recipe.pk}/shopping", body)
    assert found.status_code == 200, found.content
    data: dict[str, Any] = found.json()
    return data


def had(found: dict[str, Any]) -> dict[str, str]:
    aisles = found["shop_list"]["aisles"]
    return {item["food"]: item["had"] for aisle in aisles for item in aisle["items"]}


def test_what_was_said_stands_in_the_list_and_can_be_taken_back(stew: Any) -> None:
    assert set(had(shopping(stew)).values()) == {"not-asked"}
    marks = said(stew, [CHICKEN, KALE], "can-get")
    assert [m["mark"] for m in marks.json()] == ["can-get", "can-get"]
    assert said(stew, [KALE], "special-order", 4).status_code == 200
    found = shopping(stew)
    assert had(found) == {CHICKEN: "can-get", KALE: "special-order", RICE: "not-asked"}
    assert found["shop_list"]["sourcing"]["days"] == 4
    assert "Rice" in found["message"] and "Kale" not in found["message"]
    assert said(stew, [CHICKEN, KALE], "not-asked").json() == []
    assert set(had(shopping(stew)).values()) == {"not-asked"}


def test_what_is_not_known_here_is_refused_and_nothing_is_said(stew: Any) -> None:
    refused = said(stew, [CHICKEN, "usda:99999"], "can-get")
    assert refused.status_code == 400 and refused.json()["error"]["field"] == "foods"
    assert said(stew, [CHICKEN], "can-get", 3).json()["error"]["field"] == "days"
    assert said(stew, [CHICKEN], "special-order", -1).status_code == 400
    assert said(stew, [], "can-get").status_code == 400
    assert stew.get(f"cases/{stew.case.pk}/client-foods").json() == []


def test_the_list_is_for_as_many_days_as_asked(stew: Any) -> None:
    def grams(found: dict[str, Any]) -> float:
        aisles = found["shop_list"]["aisles"]
        return next(
            float(i["needed_grams"]) for a in aisles for i in a["items"] if i["food"] == CHICKEN
        )

    assert grams(shopping(stew)) == 500
    assert grams(shopping(stew, days=21)) == pytest.approx(1500)
    body = {"lines": LINES, "covers_days": 7, "days": 0}
    refused = stew.send("post", f"recipes/{stew.recipe.pk}/shopping", body)
    assert refused.status_code == 400 and refused.json()["error"]["field"] == "days"


def test_where_the_practice_knows_it_is_sold_and_for_how_much(stew: Any) -> None:
    noted = stew.note(CHICKEN, shop="the butcher in Mill Lane", price=9.0, price_grams=1000)
    assert noted.status_code == 200
    found = shopping(stew)["shop_list"]
    chicken = next(i for a in found["aisles"] for i in a["items"] if i["food"] == CHICKEN)
    assert chicken["where"] == "the butcher in Mill Lane"
    assert chicken["price"] == pytest.approx(4.5) and found["unpriced"] == 2


def test_the_list_as_a_page_and_as_a_pdf(stew: Any) -> None:
    page = stew.browser.get(f"/papers/recipes/{stew.recipe.pk}/shopping?days=14")
    text = page.content.decode()
    assert page.status_code == 200 and "shop list" in text and "14 days of it" in text
    assert f"/papers/recipes/{stew.recipe.pk}/shopping.pdf?days=14" in text
    pdf = stew.browser.get(f"/papers/recipes/{stew.recipe.pk}/shopping.pdf?days=14")
    assert pdf.content.startswith(b"%PDF") and "shopping.pdf" in pdf["Content-Disposition"]
    wrong = stew.browser.get(f"/papers/recipes/{stew.recipe.pk}/shopping?days=soon")
    assert wrong.status_code == 400


def test_the_whole_plan_is_bought_for(stew: Any) -> None:
    assert plan_of(stew.case).turns == [{"recipe": stew.recipe.pk, "days": 1}]
    found = stew.get(f"cases/{stew.case.pk}/shopping?days=14").json()
    chicken = next(
        i for a in found["shop_list"]["aisles"] for i in a["items"] if i["food"] == CHICKEN
    )
    assert chicken["needed_grams"] == pytest.approx(1000)
    page = stew.browser.get(f"/papers/cases/{stew.case.pk}/shopping?days=14")
    assert page.status_code == 200 and b"the plan" in page.content


def test_a_case_file_takes_along_what_was_said(stew: Any) -> None:
    said(stew, [CHICKEN], "can-get")
    said(stew, [KALE], "special-order", 4)
    said(stew, [RICE], "cannot-get")
    file = stew.get(f"cases/{stew.case.pk}/file?recipe={stew.recipe.pk}").json()
    made = stew.send("post", "cases/file", file).json()
    marks = stew.get(f"cases/{made['case']['id'] if 'case' in made else made['id']}/client-foods")
    assert {m["food"]: (m["mark"], m["days"]) for m in marks.json()} == {
        CHICKEN: ("can-get", None), KALE: ("special-order", 4), RICE: ("cannot-get", None),
    }  # fmt: skip


def test_what_the_practice_cannot_have_stands_over_what_a_client_said(stew: Any) -> None:
    said(stew, [CHICKEN], "can-get")
    stew.note(CHICKEN, unavailable=True)
    assert had(shopping(stew))[CHICKEN] == "cannot"


def test_what_was_said_of_a_food_that_is_gone_can_be_taken_back(stew: Any) -> None:
    client = stew.case.dog.client
    ClientFood.objects.create(
        practice=stew.practice, client=client, food="own:gone", mark="can-get"
    )
    path = f"cases/{stew.case.pk}/client-foods"
    assert [m["name"] for m in stew.get(path).json()] == ["own:gone"]
    assert said(stew, ["own:gone"], "not-asked").json() == []
