"""Requests about the lines of a bench: what was typed, and how it is looked at."""

from dataclasses import dataclass, field
from typing import Annotated, Literal

from cases.models import Case
from diets.dossiers import Look, dossier_of
from diets.lines import texts_of, with_readings
from diets.models import Recipe
from library.facts import reference
from library.practice import library_for
from pydantic import Field
from rest_framework.request import Request
from wainscot_core.boundary import Name80, Number, Text40, Text60, Text80, Text200, Whole
from wainscot_core.dossier import Dossier
from wainscot_core.line import LineError, LineText, read_all, read_lines

from .scoping import own

# More lines than a recipe may have, so that too many are named as such and not cut off.
MOST_LINES = 1000


@dataclass(frozen=True, kw_only=True)
class LineIn:
    """A line as it stands on the bench: amount as typed, method, notes."""

    food: Name80
    quantity: Text60
    note: Text200 = ""
    preparation: Text40 = ""
    override: Text200 = ""

    @property
    def text(self) -> LineText:
        """The line as the core takes it."""
        return LineText(self.food, self.quantity, self.note, self.preparation, self.override)


Lines = Annotated[tuple[LineIn, ...], Field(max_length=MOST_LINES)]


@dataclass(frozen=True, kw_only=True)
class LinesAsk:
    """Lines to compute, saved or not, looked at on another standard or policy than the case's.

    second: another "standard|life stage" to show beside it. way: a way of feeding by id, or own
    proportions as "meat:60,starch:40".
    """

    lines: Lines = field(default=())
    covers_days: Number = 1.0
    standard: Text40 = ""
    life_stage: Text40 = ""
    data_policy: Text40 = ""
    second: Text80 = ""
    way: Text200 = ""

    @property
    def look(self) -> Look:
        """How the lines are looked at."""
        return Look(self.standard, self.life_stage, self.data_policy, self.second, self.way)


@dataclass(frozen=True, kw_only=True)
class LineRuleIn:
    """What the consultant says of a line: role, bounds in g, a tie to another line."""

    line: Whole
    role: Literal["", "free", "fixed", "excluded"] = ""
    low_grams: Number | None = None
    high_grams: Number | None = None
    tie_to: Whole | None = None
    tie_ratio: Number | None = None


@dataclass(frozen=True, kw_only=True)
class MacroShares:
    """Wanted shares of energy, together 1."""

    protein: Number
    fat: Number
    carbohydrate: Number


@dataclass(frozen=True, kw_only=True)
class FormulateSettings:
    """How to adjust; what is left out follows the mode (GET cases/{id}/formulation)."""

    mode: Text40 = "rebalance"
    goals: tuple[Text40, ...] = ()
    max_supplements: Whole | None = None
    margin_percent: Number | None = None
    school: Text40 = "none"
    allowed: Annotated[tuple[Name80, ...], Field(max_length=2000)] | None = None
    lines: tuple[LineRuleIn, ...] = ()
    macros: MacroShares | None = None
    time_limit_s: Number | None = None


def recipe_of(request: Request, pk: int) -> Recipe:
    """A recipe of the user's practice with what its dossier needs."""
    return own(Recipe, request, pk, "case__dog__client", "case__practice", "practice")


def texts(recipe: Recipe, ask: LinesAsk) -> list[LineText]:
    """The lines as typed, with what those that are stored were read as."""
    typed = [line.text for line in ask.lines]
    return with_readings(typed, texts_of(recipe))


def whole_dossier(request: Request, pk: int, ask: LinesAsk) -> Dossier:
    """The dossier of all lines. Raises InputError for one that cannot be read."""
    recipe = recipe_of(request, pk)
    library = library_for(recipe.practice)
    lines = read_all(reference().methods, library, texts(recipe, ask))
    return dossier_of(recipe.case, lines, ask.covers_days, ask.look, library)


def typed_dossier(
    request: Request, pk: int, ask: LinesAsk
) -> tuple[Dossier, list[int], list[LineError]]:
    """The dossier of the lines that can be read while others are still being typed, their
    positions, and what is wrong with the others. Only for the analysis at each keystroke."""
    recipe = recipe_of(request, pk)
    library = library_for(recipe.practice)
    good, errors = read_lines(reference().methods, library, texts(recipe, ask))
    dossier = dossier_of(recipe.case, list(good.values()), ask.covers_days, ask.look, library)
    return dossier, list(good), errors


def case_of(request: Request, pk: int) -> Case:
    """A case of the user's practice with what its record needs."""
    return own(Case, request, pk, "dog__client", "practice")
