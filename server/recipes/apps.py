"""The recipes app. Its label is older than its name: tables and migrations keep it."""

from django.apps import AppConfig


class RecipesConfig(AppConfig):
    """Recipes, their lines and their versions."""

    name = "recipes"
    label = "diets"
