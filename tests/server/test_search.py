"""Ingredient search: what people type finds what they mean."""

import pytest
from library.facts import reference
from library.listing import find
from library.search import refresh_index, search

# How people speak, misspellings included; any of the foods is what is meant.
EVERYDAY = [
    ("chicken breast", "usda:05062"),
    ("skinless chicken breast", "usda:05062"),
    ("chiken thigh", "usda:05096"),
    ("chicken mince", "usda:05332"),
    ("ground turkey", "usda:05305 usda:05665 usda:05668"),
    ("turkey mince", "usda:05305 usda:05665"),
    ("beef mince", "usda:23572 usda:23567 usda:23562 usda:23557"),
    ("hamburger", "usda:23572 usda:23567"),
    ("lean ground beef", "usda:23562 usda:23557 usda:23567"),
    ("beef liver", "usda:13325"),
    ("chicken livers", "usda:05027"),
    ("beef heart", "usda:13321"),
    ("kidney beef", "usda:13323"),
    ("gizzards", "usda:05023 usda:05173"),
    ("lamb mince", "usda:17224"),
    ("deer", "usda:17164"),
    ("rabbit", "usda:17177"),
    ("pork tenderloin", "usda:10060"),
    ("salmon", "usda:15076 usda:15236 usda:15083 usda:15085"),
    ("tinned sardines", "usda:15088"),
    ("pilchards", "usda:15088"),
    ("cod", "usda:15015"),
    ("mussels", "usda:15164"),
    ("eggs", "usda:01123"),
    ("boiled egg", "usda:01129"),
    ("cottage cheese", "usda:01012 usda:01015 usda:01016"),
    ("plain yoghurt", "usda:01116 usda:01117"),
    ("brown rice cooked", "usda:20037"),
    ("white rice", "usda:20444 usda:20445 usda:20044 usda:20045"),
    ("porridge oats", "usda:08120 usda:08121 usda:20038"),
    ("quinoa", "usda:20035"),
    ("sweet potatoe", "usda:11507"),
    ("brocoli", "usda:11090"),
    ("courgette", "usda:11477"),
    ("zuchini", "usda:11477"),
    ("capsicum", "usda:11821 usda:11333"),
    ("garbanzo", "usda:16056 usda:16057"),
    ("pumpkin puree", "usda:11424"),
    ("french beans", "usda:11052 usda:11053"),
    ("spinich", "usda:11457"),
    ("butternut", "usda:11485"),
    ("linseed", "usda:12220"),
    ("olive oil", "usda:04053"),
    ("fish oil", "usda:04593 supp:fish-oil supp:fish-oil-pump"),
]


@pytest.mark.django_db
@pytest.mark.parametrize(("query", "wanted"), EVERYDAY)
def test_the_meant_food_is_among_the_first_five(office, query: str, wanted: str) -> None:
    foods = reference().library.foods
    found = [foods[row].id for row in find(office.practice, query, 12)[:5]]
    assert set(wanted.split()) & set(found), [foods[r].name for r in find(office.practice, query)]


@pytest.mark.parametrize("query", ["egg", "3 eggs", "2 large eggs"])
def test_an_egg_is_a_whole_one_and_a_part_is_named(office, query: str) -> None:
    assert office.get(f"foods?q={query}").json()[0]["id"] == "usda:01123"
    assert "yolk" in office.get("foods?q=2 egg yolks").json()[0]["name"]


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


def test_an_oil_stands_after_what_it_is_pressed_from(office) -> None:
    first = office.get("foods?q=1 tin sardines").json()[0]
    assert first["klass"] == "fish"
    # Who asks for the oil gets it.
    assert "oil" in office.get("foods?q=sardine oil").json()[0]["name"].lower()
