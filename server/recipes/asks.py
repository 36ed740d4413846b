"""Requests about the lines of a bench: what was typed, and how it is looked at."""

from dataclasses import dataclass, field
from typing import Annotated

from accounts.scoping import own, practice_of
from cases.queries import conventions_for, library_of
from django.db.models import prefetch_related_objects
from library.facts import reference
from pydantic import Field
from rest_framework.request import Request
from wainscot_core.boundary import Name40, Number, Text40
from wainscot_core.dossier.dossier import Dossier
from wainscot_core.facts.policy import Policy
from wainscot_core.recipe.line import LineError, LineText, read_all, read_lines
from wainscot_core.recipe.proportions import own_way, way_of
from wire.unchanged import while_unchanged

from .dossiers import Look, StandardAt, dossier_of
from .lines import MOST_LINES, LineIn, texts_of, with_readings
from .models import Recipe

Lines = Annotated[tuple[LineIn, ...], Field(max_length=MOST_LINES)]


@dataclass(frozen=True, kw_only=True)
class SecondStandard:
    """A standard to show beside the case's own, at one of its life stages."""

    standard: Name40
    life_stage: Name40


@dataclass(frozen=True, kw_only=True)
class LinesAsk:
    """Lines to compute, saved or not, looked at on another standard or policy than the case's.

    way: a way of feeding by id; way_shares: own proportions by part instead of it.
    """

    lines: Lines = field(default=())
    covers_days: Number = 1.0
    standard: Text40 = ""
    life_stage: Text40 = ""
    data_policy: Policy | None = None
    second: SecondStandard | None = None
    way: Text40 = ""
    way_shares: dict[Name40, Number] | None = None

    @property
    def look(self) -> Look:
        """How the lines are looked at. Raises InputError for a way that does not exist."""
        feeding = reference().feeding
        beside = self.second
        return Look(
            self.standard,
            self.life_stage,
            self.data_policy,
            StandardAt(beside.standard, beside.life_stage) if beside else None,
            own_way(feeding, self.way_shares) if self.way_shares else way_of(feeding, self.way),
        )


# What a recipe's dossier needs beside it.
WITH_CASE = ("case__dog__client",)


def recipe_of(request: Request, pk: int) -> Recipe:
    """A recipe of the user's practice with what its dossier needs."""
    return with_practice(own(Recipe, request, pk, *WITH_CASE))


def read_recipe(request: Request, pk: int) -> Recipe:
    """A recipe to compute of and not to write to, with its lines and what its client cannot get; not read
    again while nothing is written: it is asked for at every key."""

    def read() -> Recipe:
        recipe = recipe_of(request, pk)
        prefetch_related_objects([recipe], "lines", "case__dog__client__food_marks")
        return recipe

    return while_unchanged((Recipe, practice_of(request).pk, pk), read)


def with_practice(recipe: Recipe) -> Recipe:
    """A recipe whose case, dog and client know their practice, which is its own: no query and no join
    for what is known, at every key."""
    case = recipe.case
    case.practice = case.dog.practice = case.dog.client.practice = recipe.practice
    return recipe


def texts(recipe: Recipe, ask: LinesAsk) -> list[LineText]:
    """The lines as typed, with what those that are stored were read as."""
    measures = conventions_for(recipe.case.dog.client).measures
    typed = [line.text(measures) for line in ask.lines]
    return with_readings(typed, texts_of(recipe))


def whole_dossier(request: Request, pk: int, ask: LinesAsk) -> Dossier:
    """The dossier of all lines. Raises InputError for one that cannot be read."""
    return dossier_from(read_recipe(request, pk), ask)


def dossier_from(recipe: Recipe, ask: LinesAsk) -> Dossier:
    """The dossier of all lines asked of a recipe. Raises InputError for one that cannot be read."""
    library = library_of(recipe.case)
    weigh = conventions_for(recipe.case.dog.client).food
    lines = read_all(reference().methods, library, texts(recipe, ask), weigh)
    return dossier_of(recipe.case, lines, ask.covers_days, ask.look, library)


def typed_dossier(
    request: Request, pk: int, ask: LinesAsk
) -> tuple[Dossier, list[int], list[LineError]]:
    """The dossier of the lines that can be read while others are still being typed, their
    positions, and what is wrong with the others. Only for the analysis at each keystroke."""
    recipe = read_recipe(request, pk)
    library = library_of(recipe.case)
    weigh = conventions_for(recipe.case.dog.client).food
    good, errors = read_lines(reference().methods, library, texts(recipe, ask), weigh)
    dossier = dossier_of(recipe.case, list(good.values()), ask.covers_days, ask.look, library)
    return dossier, list(good), errors
