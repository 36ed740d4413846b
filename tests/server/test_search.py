"""Ingredient search: what people type finds what they mean."""

import pytest
from library.facts import reference
from library.search import refresh_index, search

EVERYDAY = [
    ("chicken breast", "usda:05062"),
    ("chiken thigh", "usda:05096"),
    ("beef liver", "usda:13325"),
    ("brocoli", "usda:11090"),
    ("courgette", "usda:11477"),
    ("capsicum", "usda:11821"),
    ("garbanzo", "usda:16056"),
    ("hamburger", "usda:23572"),
    ("sweet potato", "usda:11507"),
    ("olive oil", "usda:04053"),
    ("fish oil", "usda:04593"),
    ("egg", "usda:01123"),
    ("rolled oats", "usda:08120"),
    ("deer", "usda:17164"),
    ("spinach raw", "usda:11457"),
]


@pytest.mark.django_db
@pytest.mark.parametrize(("query", "wanted"), EVERYDAY)
def test_the_meant_food_is_among_the_first_five(query: str, wanted: str) -> None:
    found = [reference().library.foods[row].id for row in search(query, 5)]
    assert wanted in found


@pytest.mark.django_db
@pytest.mark.parametrize("query", ["", "   ", '"', "*", "AND", "xqzwv", "'; DROP TABLE"])
def test_odd_queries_do_no_harm(query: str) -> None:
    search(query)
    assert search("rice")


@pytest.mark.django_db
def test_the_index_is_rebuilt_only_when_the_data_changed() -> None:
    assert refresh_index() is False
    assert refresh_index(force=True) is True
    assert search("rice")


def test_search_endpoint(office) -> None:
    foods = office.get("foods?q=sardines").json()
    assert foods[0]["id"].startswith("usda:")
    assert all(food["kcal_per_100g"] for food in foods)
