"""A recipe in words as lines: what each is, of which food, how much it weighs, and what was guessed."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Annotated

from pydantic import Field

from ..errors import InputError
from ..facts.foods import Food
from ..facts.preparations import Method, methods_for
from ..figures import rounded
from ..units import Measures
from .cooking import Cooked, cooked, method_of
from .doses import Dose, Of
from .feeding import FeedingRule, Yield
from .ingredients import LineKind, Part
from .match import Match
from .matching import GROUND, Matcher
from .quantities import Quantity
from .text import MAX_CHARACTERS, MAX_LINES, read_text
from .tokens import tokenise
from .weights import Weight, weight_of
from .words import Kind, Unit

# What grams may be for; any other is a dose.
OFTEN = ("day", "meal", "week", "month")
# Fat of a row is told where it is so much off what was said, g per 100 g.
FAT_ABOUT = 3.0
# So small a share of words that are known is another language.
KNOWN = 0.3

# Milligrams of it "per kg" are told for the food; those of other nutrients for the dog.
DOSED_ON_FOOD = frozenset({"CA", "NA", "P"})


@dataclass(frozen=True)
class CandidateOut:
    """A food that may be meant, with how sure that is, 0 to 1."""

    food: str
    name: str
    confidence: float


@dataclass(frozen=True, kw_only=True)
class ReadLine:
    """A stretch of the text.

    source: the whole line it came from, unchanged; text: the stretch. amount, amount_high: as they were written, null
    where none is given; unit: g, cup, can, ... or null for a bare count. food: id of what is meant, null where it cannot
    be told: candidates say what it may be. grams: the likeliest weight, between grams_low and grams_high; null where
    it must be asked. preparation: id of the cooking that the steps tell, "" for none. guessed: what was taken for
    granted. ask: what to ask the owner. per: day, meal, week or month where the grams are for one, whatever the
    amount is ("twice a day"), or a weight of food or meat that the amount is for.
    """

    source: str
    text: str
    kind: LineKind
    amount: float | None = None
    amount_high: float | None = None
    unit: str | None = None
    food: str | None = None
    candidates: tuple[CandidateOut, ...] = ()
    grams: float | None = None
    grams_low: float | None = None
    grams_high: float | None = None
    guessed: tuple[str, ...] = ()
    ask: tuple[str, ...] = ()
    optional: bool = False
    alternatives: tuple[str, ...] = ()
    state: str = ""
    preparation: str = ""
    per: str | None = None


@dataclass(frozen=True, kw_only=True)
class RecipeRead:
    """A text that was read. Everything in it stands in `lines`, in order; only ingredients become lines of a recipe,
    and only once a person has looked at them."""

    lines: tuple[ReadLine, ...]
    makes: Annotated[Yield | None, Field(serialization_alias="yield")]
    feeding_rule: FeedingRule | None
    warnings: tuple[str, ...] = ()


@dataclass(frozen=True)
class Understood:
    """A stretch of a text with what it was read from. how: what the steps do with it, None where they do nothing."""

    line: ReadLine
    part: Part
    how: Cooked | None


@dataclass(frozen=True)
class Reading:
    """A whole text, stretch by stretch."""

    parts: tuple[Understood, ...]
    makes: Yield | None
    feeding_rule: FeedingRule | None
    warnings: tuple[str, ...]


def transcribe(
    matcher: Matcher,
    text: str,
    measures: Measures = Measures.US,
    methods: Sequence[Method] = (),
) -> RecipeRead:
    """Read a recipe in words. measures: whose cups and spoons are meant; methods: the cooking that is known. Raises
    InputError (field text) for a text that is empty, too long, or no text."""
    read = understood(matcher, text, measures, methods)
    return RecipeRead(
        lines=tuple(u.line for u in read.parts), makes=read.makes, feeding_rule=read.feeding_rule,
        warnings=read.warnings,
    )  # fmt: skip


def understood(
    matcher: Matcher, text: str, measures: Measures, methods: Sequence[Method]
) -> Reading:
    """The same as `transcribe`, with what every line was read from."""
    checked(text)
    read = read_text(matcher, text)
    how = cooked(matcher.words, read.parts)
    parts = []
    for i, part in enumerate(read.parts):
        line = _line(matcher, part, measures)
        parts.append(
            Understood(_cooked(line, matcher, how.get(i), methods, part), part, how.get(i))
        )
    lines = [u.line for u in parts]
    return Reading(
        tuple(parts), read.makes, read.feeding, tuple(_warnings(matcher, text, lines))
    )  # fmt: skip


def _cooked(
    line: ReadLine, matcher: Matcher, how: Cooked | None, methods: Sequence[Method], part: Part
) -> ReadLine:
    """A line with the cooking that it tells itself, or the steps do."""
    if line.food is None:
        return line
    food = matcher.library.food(line.food)
    method = cooking_of(methods, food, part, how)
    if method is None:
        return line
    if method.label == part.told:
        return replace(line, preparation=method.id)
    guess = f"weighed before it is cooked; {method.label}"
    if how is not None and how.kept is None and how.way == "boiled":
        guess += "; what becomes of the liquid is not said"
    return replace(line, preparation=method.id, guessed=(*line.guessed, guess))


def cooking_of(
    methods: Sequence[Method], food: Food, part: Part, how: Cooked | None
) -> Method | None:
    """How a stretch or the steps say that a food is cooked, None where they do not, or it is weighed cooked."""
    told = (m for m in methods_for(methods, food) if part.told and m.label == part.told)
    said = next(told, None)
    if said is not None:
        return said
    state = part.phrase.of.state if part.phrase else ""
    return None if how is None or state == "cooked" else method_of(methods, food, how)


def _warnings(matcher: Matcher, text: str, lines: Sequence[ReadLine]) -> Iterator[str]:
    words = [t.word for t in tokenise(text) if t.word]
    known = sum(matcher.knows(w) for w in words)
    if known < KNOWN * len(words):
        yield (
            "Few of these words are known: only English is read. Translate the text; until then "
            "check every line."
        )
    if not any(line.kind is LineKind.INGREDIENT for line in lines):
        yield "No ingredient was found. Write one a line, the amount first: 200 g chicken thigh."


def checked(text: str) -> None:
    """Raises InputError (field text) for what is no recipe in words."""
    if not text.strip():
        raise InputError("text", "is empty; paste a recipe, one ingredient a line")
    if text.startswith("%PDF"):
        raise InputError("text", "is a PDF; open it, copy the recipe's text and paste that")
    if "\0" in text:
        raise InputError("text", "is no text; copy the recipe's words and paste those")
    lines = text.count("\n") + 1
    if len(text) > MAX_CHARACTERS or lines > MAX_LINES:
        raise InputError(
            "text",
            f"has {len(text)} characters in {lines} lines; at most {MAX_CHARACTERS} in {MAX_LINES}: "
            "paste the recipe alone",
        )


def _line(matcher: Matcher, part: Part, measures: Measures) -> ReadLine:
    phrase, match = part.phrase, part.match
    if phrase is None or match is None:
        return ReadLine(source=part.source, text=part.text, kind=part.kind)
    of, quantity = phrase.of, phrase.quantity
    candidates = tuple(CandidateOut(c.food.id, c.food.name, c.confidence) for c in match.candidates)
    food = match.candidates[0].food if match.sure else None
    weight = weight_as(matcher, part, food, measures)
    dose = dose_of(part) is not None
    guessed = list(match.guessed)
    if weight is not None:
        guessed += weight.guessed
    if of.times != 1:
        guessed.append(f"{of.times:.3g} times a {of.often or of.per}")
    if part.halved > 1:
        share = "half" if part.halved == 2 else f"one of {part.halved} equal parts"
        guessed.append(f"{share} of the amount each")
    if food is not None and not of.state and _two_states(match):
        guessed.append(f"weighed {food.attributes.state}")
    if food is not None and not _is_in(matcher, food, of.state):
        guessed.append(f"the {matcher.state_of(food)} row; {of.state} was said")
    if food is not None and of.fat is not None and not _as_fat(matcher, food, of.fat):
        guessed.append(f"the nearest row; {of.fat:g} % fat was said")
    if of.doubted:
        guessed.append(f"“{of.doubted}” is said of it: ask whether it is given")
    amount, high = _amounts(quantity, part.halved)
    return ReadLine(
        source=part.source, text=part.text, kind=part.kind,
        amount=amount, amount_high=high, unit=_unit(quantity),
        food=food.id if food else None, candidates=candidates,
        grams=rounded(weight.usual) if weight else None,
        grams_low=rounded(weight.low) if weight else None,
        grams_high=rounded(weight.high) if weight else None,
        guessed=tuple(dict.fromkeys(guessed)), ask=_asked(phrase.text, quantity, food is None, weight, of.per if dose else ""),
        optional=of.optional, alternatives=of.alternatives, state=of.state, per=of.per or None,
    )  # fmt: skip


def dose_of(part: Part) -> Dose | None:
    """What an amount is told for, where it is: what it comes to is not told with it."""
    dose = part.phrase.of.dose if part.phrase is not None else None
    nutrient = part.match.nutrient if part.match is not None else ""
    if dose is None or dose.said or nutrient in {"", *DOSED_ON_FOOD}:
        return dose
    return replace(dose, of=Of.DOG)


def weight_as(matcher: Matcher, part: Part, food: Food | None, measures: Measures) -> Weight | None:
    """What a stretch weighs if a food is meant by it; None where nobody can tell."""
    return None if dose_of(part) is not None else weight_of_one(matcher, part, food, measures)


def weight_of_one(
    matcher: Matcher, part: Part, food: Food | None, measures: Measures
) -> Weight | None:
    """The same, of a dose for one of what it is told for."""
    phrase, match = part.phrase, part.match
    if phrase is None or match is None:
        return None
    content = matcher.content(food, match.nutrient) if food and match.nutrient else None
    weight = weight_of(matcher.words, phrase, food, measures, content)
    return None if weight is None else weight.times(phrase.of.times / part.halved)


def _two_states(match: Match) -> bool:
    states = [c.food.attributes.state for c in match.candidates]
    told = {"raw", "cooked", "dry"}
    return states[0] in told and len(told & set(states)) > 1


def _is_in(matcher: Matcher, food: Food, state: str) -> bool:
    """Whether a food is in the state that was said of it, or none of those that change what it holds."""
    told = {"raw", "cooked", "dry"}
    has = matcher.state_of(food)
    if state not in told or has not in told:
        return True
    return has == state or ({has, state} == {"raw", "dry"} and food.klass in GROUND)


def _as_fat(matcher: Matcher, food: Food, fat: float) -> bool:
    """Whether a food has about as much fat as was said of it."""
    has = matcher.fat_of(food)
    return math.isnan(has) or abs(has - fat) <= FAT_ABOUT


def _amounts(quantity: Quantity | None, parts: int) -> tuple[float | None, float | None]:
    if quantity is None:
        return None, None
    high = None if quantity.high is None else rounded(quantity.high / parts)
    return rounded(quantity.low / parts), high


def _unit(quantity: Quantity | None) -> str | None:
    if quantity is None:
        return None
    unit: Unit | None = quantity.unit
    if unit is None:
        return None
    if unit.kind is Kind.PIECE and unit.name == "piece":
        return None
    return unit.name


def _asked(
    text: str, quantity: Quantity | None, unmatched: bool, weight: Weight | None, dose: str
) -> tuple[str, ...]:
    asks = []
    if unmatched:
        asks.append(f"What is “{text}”? Choose a food, enter it as an own food, or leave it out.")
    if quantity is None:
        asks.append(f"How much is “{text}”?")
    elif dose:
        asks.append(f"“{text}” is told for {dose}: how much goes into this recipe?")
    elif weight is None:
        asks.append(f"What does “{text}” weigh?")
    return tuple(asks)
