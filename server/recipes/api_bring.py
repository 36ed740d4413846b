"""What a client has: a recipe in words that is read, looked at, asked about and kept; a rule of thumb that is judged."""

from dataclasses import dataclass
from typing import Annotated

from accounts.permissions import Work
from accounts.scoping import actor_of, own
from cases.queries import conventions_for, library_of
from cases.records import record_of
from django.http import HttpResponse
from library.facts import reference
from library.practice import matcher_for
from pydantic import Field, StringConstraints
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.analysis.doubts import Doubts, OpenLine, doubts_of
from wainscot_core.analysis.thumb import EXAMPLES, ThumbResult, thumb
from wainscot_core.boundary import Count, Number, Text40, Text60, Text80, Text200, YesNo
from wainscot_core.case.energy_view import PortionResult, portion_result
from wainscot_core.conventions import FoodUnit
from wainscot_core.dossier.dossier import check_days
from wainscot_core.errors import InputError
from wainscot_core.facts.foods import FoodLibrary
from wainscot_core.formats.brought import bring_to_review
from wainscot_core.recipe.line import Line, LineText, read_lines
from wainscot_core.transcribe.review import Batch, Review, questions_to_owner
from wire.shapes import Many, answer, answer_many, endpoint, read_body

from .actions import keep_brought
from .asks import LinesAsk, dossier_from, read_recipe, recipe_of
from .dossiers import dossier_of
from .lines import MOST_LINES
from .models import Recipe
from .views import BroughtView, brought_view

# The core says what is too much of a recipe; more than this is not even read.
MOST_TEXT = 4_000_000
# What was read is kept as it was sent.
MOST_KEPT_TEXT = 200_000


@dataclass(frozen=True, kw_only=True)
class BringAsk:
    """A recipe as it was sent: words, a page, a table, a case file. covers_days: what it feeds, None for as it says."""

    text: Annotated[str, StringConstraints(max_length=MOST_TEXT, strip_whitespace=False)]
    covers_days: Number | None = None


@dataclass(frozen=True, kw_only=True)
class AmountIn:
    """So much of a food, cooked so; food "" where it is not known, quantity "" where that is not."""

    food: Text80
    quantity: Text60
    preparation: Text40 = ""


@dataclass(frozen=True, kw_only=True)
class ChoiceIn(AmountIn):
    """What a line may stand for. credible: it may well be meant."""

    credible: YesNo = True


@dataclass(frozen=True, kw_only=True)
class OpenLineIn(AmountIn):
    """A line as it is taken for now. settled: a person has looked at it. low_grams, high_grams: what it may weigh."""

    settled: YesNo = False
    low_grams: Number | None = None
    high_grams: Number | None = None
    choices: Annotated[tuple[ChoiceIn, ...], Field(max_length=12)] = ()


@dataclass(frozen=True, kw_only=True)
class DoubtsAsk:
    """The lines of a text that is looked at, those left out not among them."""

    lines: Annotated[tuple[OpenLineIn, ...], Field(max_length=MOST_LINES)]
    covers_days: Number = 1.0


@dataclass(frozen=True, kw_only=True)
class ThumbAsk(LinesAsk):
    """A rule of thumb as people say it, beside these lines."""

    rule: Text200


@dataclass(frozen=True, kw_only=True)
class ThumbAnswer:
    """The rule as it comes out: of one food, or of what is cooked."""

    dose: ThumbResult | None
    portion: PortionResult | None


@dataclass(frozen=True, kw_only=True)
class QuestionsAsk:
    """What the owner is to be asked."""

    questions: Annotated[
        tuple[Annotated[str, StringConstraints(max_length=2000)], ...], Field(max_length=MOST_LINES)
    ]


@dataclass(frozen=True, kw_only=True)
class Message:
    """One message to the owner."""

    subject: str
    text: str


@dataclass(frozen=True, kw_only=True)
class LeftOut:
    """A stretch of the text that does not come into the recipe, and why."""

    text: Annotated[str, StringConstraints(max_length=4000)]
    reason: Text200


@dataclass(frozen=True, kw_only=True)
class BroughtIn:
    """A text that lines were taken from. taken: how many; asked: what waits for the owner."""

    text: Annotated[str, StringConstraints(max_length=MOST_KEPT_TEXT)]
    taken: Count
    left_out: Annotated[tuple[LeftOut, ...], Field(max_length=MOST_LINES)] = ()
    asked: Annotated[
        tuple[Annotated[str, StringConstraints(max_length=2000)], ...], Field(max_length=MOST_LINES)
    ] = ()


class BringView(APIView):
    """Read what was sent. Nothing is stored."""

    work = Work.READ

    @endpoint(Review, BringAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        recipe = recipe_of(request, pk)
        ask = read_body(BringAsk, request)
        days, record = ask.covers_days, record_of(recipe.case)
        batch = Batch(
            days=check_days(recipe.covers_days if days is None else days),
            meals_per_day=record.meals_per_day,
            weight_kg=record.dog.weight_kg,
            settled=days is not None,
        )
        measures = conventions_for(recipe.case.dog.client).measures
        matcher = matcher_for(recipe.practice)
        text = ask.text.encode("utf-8", "surrogatepass")
        return answer(bring_to_review(reference(), matcher, text, batch, measures))


class DoubtsView(APIView):
    """What hangs on every doubt, and what the open weights could still change."""

    work = Work.READ

    @endpoint(Doubts, DoubtsAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        recipe = read_recipe(request, pk)
        ask = read_body(DoubtsAsk, request)
        library = library_of(recipe.case)
        dossier = dossier_of(recipe.case, [], ask.covers_days, library=library)
        weigh = conventions_for(recipe.case.dog.client).food
        lines = [_open_line(library, line, weigh) for line in ask.lines]
        return answer(doubts_of(dossier, lines))


def _open_line(library: FoodLibrary, line: OpenLineIn, weigh: FoodUnit) -> OpenLine:
    both = line.low_grams is not None and line.high_grams is not None
    return OpenLine(
        now=_line(library, line, weigh),
        choices=tuple((_line(library, choice, weigh), choice.credible) for choice in line.choices),
        settled=line.settled,
        grams=(line.low_grams, line.high_grams) if both else None,  # type: ignore[arg-type]
    )


def _line(library: FoodLibrary, amount: AmountIn, weigh: FoodUnit) -> Line | None:
    """A line of a recipe; None while its food or its amount is not known."""
    if not amount.food or not amount.quantity:
        return None
    text = LineText(amount.food, amount.quantity, preparation=amount.preparation)
    good, _ = read_lines(reference().methods, library, [text], weigh)
    return good.get(0)


class ThumbView(APIView):
    """Judge a rule of thumb for this recipe and dog."""

    work = Work.READ

    @endpoint(ThumbAnswer, ThumbAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        recipe = read_recipe(request, pk)
        ask = read_body(ThumbAsk, request)
        if not ask.rule:
            raise InputError("rule", f"is empty; write for example: {EXAMPLES}")
        dossier = dossier_from(recipe, ask)
        dose = thumb(dossier, matcher_for(recipe.practice), ask.rule)
        portion = None
        if dose is None:
            portion = portion_result(
                reference().energy, record_of(recipe.case), dossier.library, dossier.lines, ask.rule,
                dossier.energy.target_kcal, dossier.measures,
            )  # fmt: skip
        return answer(ThumbAnswer(dose=dose, portion=portion))


class QuestionsView(APIView):
    """Everything that the owner is asked, in one message."""

    work = Work.READ

    @endpoint(Message, QuestionsAsk)
    def post(self, request: Request, pk: int) -> HttpResponse:
        recipe = recipe_of(request, pk)
        ask = read_body(QuestionsAsk, request)
        if not ask.questions:
            raise InputError("questions", "are none; mark a line to be asked about first")
        dog, client = recipe.case.dog, recipe.case.dog.client
        text = questions_to_owner(client.name, dog.name, ask.questions)
        return answer(
            Message(subject=f"{dog.name}’s recipe: {len(ask.questions)} questions", text=text)
        )


class BroughtListView(APIView):
    """The texts that a recipe was brought in from."""

    @endpoint(Many(BroughtView), errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        """The newest first."""
        recipe = own(Recipe, request, pk)
        return answer_many(BroughtView, map(brought_view, recipe.brought.all()))

    @endpoint(BroughtView, BroughtIn, 201)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Keep one, once its lines were taken."""
        recipe = own(Recipe, request, pk)
        told = read_body(BroughtIn, request)
        left_out = [{"text": x.text, "reason": x.reason} for x in told.left_out]
        kept = keep_brought(
            actor_of(request), recipe.pk, told.text, told.taken, left_out, told.asked
        )
        return answer(brought_view(kept), status=201)
