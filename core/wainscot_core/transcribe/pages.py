"""Recipes on saved web pages: what schema.org marks up, or else the page's text."""

import json
import re
from collections.abc import Iterator, Mapping
from typing import Any

from bs4 import BeautifulSoup

RECIPE = "Recipe"
LINKED_DATA = "application/ld+json"
_OF_RECIPE = re.compile(r"schema\.org/Recipe$")


def text_of_page(html: str) -> str:
    """The recipe of a page as text, its ingredients and its method under headings; the whole text of a page that marks
    up none. Scripts and styles are no text."""
    page = BeautifulSoup(html, "html.parser")
    data = [parsed(script.get_text()) for script in page.find_all("script", type=LINKED_DATA)]
    for recipe in (*(r for one in data for r in recipes_in(one)), *_microdata(page)):
        told = text_of_recipe(recipe)
        if told:
            return told
    for silent in page(["script", "style", "template", "noscript"]):
        silent.decompose()
    lines = (" ".join(line.split()) for line in page.get_text("\n").splitlines())
    return "\n".join(line for line in lines if line)


def _microdata(page: BeautifulSoup) -> Iterator[Mapping[str, Any]]:
    """Recipes that a page marks up in its own elements (HTML microdata)."""
    for item in page.find_all(itemtype=_OF_RECIPE):
        found: dict[str, list[str]] = {}
        for element in item.find_all(itemprop=True):
            said = element.get("content") or " ".join(element.get_text(" ").split())
            for name in str(element["itemprop"]).split():
                found.setdefault(name, []).append(str(said))
        yield found


def text_of_json(data: object) -> str:
    """The text of the first recipe in schema.org data; "" where there is none."""
    return next((text_of_recipe(recipe) for recipe in recipes_in(data)), "")


def recipes_in(data: object) -> Iterator[Mapping[str, Any]]:
    """Every recipe in nested schema.org data."""
    if isinstance(data, Mapping):
        kinds = data.get("@type", ())
        if RECIPE in ([kinds] if isinstance(kinds, str) else kinds):
            yield data
            return
        for value in data.values():
            yield from recipes_in(value)
    elif isinstance(data, list):
        for value in data:
            yield from recipes_in(value)


def text_of_recipe(recipe: Mapping[str, Any]) -> str:
    """A recipe of schema.org as text; "" for one without ingredients."""
    lines = list(_texts(recipe.get("recipeIngredient") or recipe.get("ingredients")))
    if not lines:
        return ""
    makes = list(_texts(recipe.get("recipeYield")))
    told = [
        *(f"# {name}" for name in _texts(recipe.get("name"))),
        *(f"Yield: {m}" for m in makes[-1:]),
    ]
    steps = list(_texts(recipe.get("recipeInstructions")))
    method = ["", "Method", *steps] if steps else []
    return "\n".join([*told, "", "Ingredients", *lines, *method])


def _texts(value: object) -> Iterator[str]:
    """The texts in a value of schema.org: itself, its text, or those of its list."""
    if isinstance(value, str):
        yield from (line.strip() for line in value.splitlines() if line.strip())
    elif isinstance(value, int | float) and not isinstance(value, bool):
        yield f"{value:g}"
    elif isinstance(value, list):
        for one in value:
            yield from _texts(one)
    elif isinstance(value, Mapping):
        inner = value.get("itemListElement")
        if inner is not None:
            yield from _texts(inner)
        else:
            yield from _texts(value.get("text") or value.get("name") or value.get("@value"))


def parsed(text: str) -> object:
    """JSON, None for what is none."""
    try:
        return json.loads(text)
    except ValueError:
        return None
