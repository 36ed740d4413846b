"""A text that was read, for a person to look at: where every stretch stands, and what it may stand for."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from ..facts.foods import Food
from ..facts.preparations import Method, MethodChoice, method_choices
from ..figures import rounded
from ..units import WEIGHT_G, Measures
from .doses import FLESH, Dose, Of
from .ingredients import LineKind
from .match import Candidate
from .matching import Matcher
from .often import days_in
from .reading import (
    Reading,
    RecipeRead,
    Understood,
    cooking_of,
    dose_of,
    understood,
    weight_of_one,
)
from .weights import Weight

# A weight that may be so much more or less than the likeliest is a choice of its own.
WORTH_ASKING = 0.15
# Another food may well be meant where it is told nearly as surely as the first.
NEARLY = 0.85
# A food that is less likely than this is not offered.
UNLIKELY = 0.35
MOST_CHOICES = 6
# What a dog has so many times a day.
MEALS = frozenset({"meal", "portion", "serving"})
_STATES = frozenset({"raw", "cooked", "dry"})


@dataclass(frozen=True, kw_only=True)
class Batch:
    """What amounts "a day" and "a meal" are for: the days that the recipe feeds, and meals in a day. settled: a person
    said for how many days, and the text's own word does not count. weight_kg: the dog's."""

    days: float
    meals_per_day: int
    settled: bool = False
    weight_kg: float | None = None


@dataclass(frozen=True, kw_only=True)
class StandsFor:
    """What a stretch may stand for: so much of a food, cooked so. food: its id. grams: of the whole batch, None where
    nobody can tell. quantity: the same as it is typed, "" for None. words: what sets it apart. confidence: that this
    food is meant, 0 to 1. credible: it may well be meant; the others are only the next best."""

    food: str
    name: str
    grams: float | None
    quantity: str
    preparation: str
    methods: tuple[MethodChoice, ...]
    words: str
    confidence: float
    credible: bool


@dataclass(frozen=True, kw_only=True)
class ReviewLine:
    """A stretch of the text, from character begin to end. choices: what it may stand for, the likeliest first;
    named: the first is the food that is meant, whatever it weighs. quantity: its amount as it is typed, "" where it is
    not known. low_grams, high_grams: what the first may weigh, of the whole batch. doubts: why it wants looking
    at. question: what the owner may be asked."""

    begin: int
    end: int
    text: str
    kind: LineKind
    choices: tuple[StandsFor, ...] = ()
    named: bool = False
    quantity: str = ""
    low_grams: float | None = None
    high_grams: float | None = None
    guessed: tuple[str, ...] = ()
    doubts: tuple[str, ...] = ()
    question: str = ""


@dataclass(frozen=True, kw_only=True)
class Review:
    """A text with everything in it, in order. text: what was read, of a page its recipe alone. days: what it feeds;
    days_told: as the text says. feeding: how it says it is fed, "" where it does not."""

    text: str
    lines: tuple[ReviewLine, ...]
    days: float
    days_told: bool
    feeding: str
    warnings: tuple[str, ...]


def review(
    matcher: Matcher,
    text: str,
    batch: Batch,
    measures: Measures = Measures.US,
    methods: Sequence[Method] = (),
) -> Review:
    """Read a text for a person to look at. Raises InputError (field text) as `transcribe` does."""
    read = understood(matcher, text, measures, methods)
    days = None if batch.settled else days_of(read)
    batch = replace(batch, days=days or batch.days)
    told = Reviewing(matcher, measures, methods, batch)
    food_g, meat_g = told.weighed(read.parts)
    told = replace(told, food_g=food_g, meat_g=meat_g)
    lines = tuple(
        told.line(u, begin, end)
        for u, (begin, end) in zip(read.parts, spans(text, read), strict=True)
    )
    rule = read.feeding_rule
    return Review(
        text=text, lines=lines, days=batch.days, days_told=days is not None,
        feeding=rule.text if rule else "",
        warnings=read.warnings,
    )  # fmt: skip


def review_of_lines(
    matcher: Matcher, read: RecipeRead, batch: Batch, methods: Sequence[Method]
) -> Review:
    """Lines of a table or a case file, where nothing is guessed, for a person to look at. A food that the library does
    not have is asked for."""
    text, found = "", []
    for line in read.lines:
        begin = len(text)
        text += line.text + "\n"
        choices: tuple[StandsFor, ...] = ()
        if line.food is not None and line.food in matcher.library:
            food = matcher.library.food(line.food)
            choices = (
                _choice(methods, Candidate(food, 1.0), line.grams, line.preparation, "", True),
            )
        found.append(
            ReviewLine(
                begin=begin, end=len(text) - 1, text=line.text, kind=line.kind, choices=choices,
                named=bool(choices),
                quantity="" if line.grams is None else typed(line.grams),
                low_grams=line.grams_low, high_grams=line.grams_high,
                doubts=() if choices else ("no food here answers to it",),
                question="" if choices else f"What is “{line.text}”?",
            )
        )  # fmt: skip
    return Review(
        text=text, lines=tuple(found), days=batch.days, days_told=False, feeding="",
        warnings=read.warnings,
    )  # fmt: skip


def days_of(read: Reading) -> float | None:
    """For how many days a recipe says that it feeds."""
    makes = read.makes
    if makes is None or makes.amount is None or makes.amount <= 0:
        return None
    unit = (makes.unit or "").removesuffix("s")
    times = {"day": 1.0, "week": 7.0}.get(unit)
    if times is not None:
        return makes.amount * times
    rule = read.feeding_rule
    if rule is None or rule.of is not None or not rule.times_a_day or not rule.amount:
        return None
    if unit in MEALS:
        return makes.amount / rule.times_a_day
    # "Makes 12 cups; feed 1 1/2 cups twice a day"
    made, fed = (_grams_or_units(u) for u in (makes.unit, rule.unit))
    if made is None or fed is None or made[0] != fed[0] or rule.amount_high is not None:
        return None
    return makes.amount * made[1] / (rule.amount * fed[1] * rule.times_a_day)


def _grams_or_units(unit: str | None) -> tuple[str, float] | None:
    """What a unit is counted in, and how many of that it is."""
    if unit is None:
        return None
    return ("g", WEIGHT_G[unit]) if unit in WEIGHT_G else (unit, 1.0)


def spans(text: str, read: Reading) -> Iterator[tuple[int, int]]:
    """From where to where in a text every stretch stands; the whole of its line where it is told in other words."""
    starts, at = [], 0
    for line in text.splitlines(keepends=True):
        starts.append(at)
        at += len(line)
    behind: dict[int, int] = {}
    for u in read.parts:
        part = u.part
        begin = starts[part.line] if part.line < len(starts) else 0
        line = text[begin:].split("\n", 1)[0]
        found = line.find(part.text, behind.get(part.line, 0))
        if found < 0:
            found = line.find(part.text)
        if found < 0:
            yield begin, begin + len(line)
            continue
        behind[part.line] = found + len(part.text)
        yield begin + found, begin + found + len(part.text)


@dataclass(frozen=True)
class Reviewing:
    """Turns what was read into lines to look at. food_g, meat_g: what the other lines weigh, and those of them that are
    meat or fish."""

    matcher: Matcher
    measures: Measures
    methods: Sequence[Method]
    batch: Batch
    food_g: float = 0.0
    meat_g: float = 0.0

    def weighed(self, parts: Sequence[Understood]) -> tuple[float, float]:
        """What the lines weigh that are told without a dose, and those of them that are meat or fish."""
        food_g = meat_g = 0.0
        for read in parts:
            weight = self._weight(read, read.line.food) if dose_of(read.part) is None else None
            if weight is None or read.line.food is None:
                continue
            food_g += weight.usual
            if self.matcher.library.food(read.line.food).klass in FLESH:
                meat_g += weight.usual
        return food_g, meat_g

    def line(self, read: Understood, begin: int, end: int) -> ReviewLine:
        """A stretch with what it may stand for."""
        line = read.line
        plain = ReviewLine(begin=begin, end=end, text=line.text, kind=line.kind)
        if line.kind is not LineKind.INGREDIENT:
            return plain
        _, per = self._times(read)
        weight = self._weight(read, line.food)
        choices = tuple(self._choices(read, weight))[:MOST_CHOICES]
        doubts = tuple(self._doubts(read, weight))
        asked = " ".join(question for _, question in doubts)
        return replace(
            plain, choices=choices, named=line.food is not None,
            quantity=typed(weight.usual) if weight else "", doubts=tuple(why for why, _ in doubts),
            question=f"“{line.text}”: {asked}" if asked else f"“{line.text}”: is that right?",
            low_grams=rounded(weight.low) if weight else None,
            high_grams=rounded(weight.high) if weight else None,
            guessed=(*line.guessed, *([per] if per else [])),
        )  # fmt: skip

    def _times(self, read: Understood) -> tuple[float | None, str]:
        """How often an amount goes into the batch, None where that cannot be told, and how it is told."""
        phrase = read.part.phrase
        dose = dose_of(read.part)
        if phrase is None:
            return 1.0, ""
        if dose is not None:
            return self._dosed(dose, phrase.of.often), f"{dose.words} of it"
        per = phrase.of.per
        if not per:
            return 1.0, ""
        times = self._in_batch(per)
        return times, f"a {per}, times {times:.4g}" if times != 1 else f"a {per}"

    def _in_batch(self, per: str) -> float:
        """How many days, meals, weeks or months the batch feeds."""
        span = days_in(per)
        return self.batch.days / span if span else self.batch.days * self.batch.meals_per_day

    def _dosed(self, dose: Dose, often: str) -> float | None:
        """How often a dose goes into the batch: what is told for a weight of dog is for a day."""
        if not dose.said:
            return None
        if dose.of is Of.DOG:
            weight = self.batch.weight_kg
            return None if weight is None else weight / dose.amount * self._in_batch(often or "day")
        grams = {Of.FOOD: self.food_g, Of.MEAT: self.meat_g}.get(dose.of, 0.0)
        # Of cups and of energy nothing is known before the recipe stands.
        return grams / 1000 / dose.amount if grams > 0 else None

    def _weight(self, read: Understood, food: str | None) -> Weight | None:
        return self._weighs(read, None if food is None else self.matcher.library.food(food))

    def _weighs(self, read: Understood, food: Food | None) -> Weight | None:
        """What goes into the batch; None where nobody can tell."""
        times, _ = self._times(read)
        one = weight_of_one(self.matcher, read.part, food, self.measures)
        return None if one is None or times is None else one.times(times)

    def _choices(self, read: Understood, weight: Weight | None) -> Iterator[StandsFor]:
        """The likeliest, what it may weigh at least and at most, other foods that may be meant."""
        match, line = read.part.match, read.line
        if match is None:
            return
        taken: set[str] = set()
        others = list(self._others(read))
        # What the text names itself goes before what is only like it.
        for i, candidate in enumerate((*match.candidates[:1], *others, *match.candidates[1:])):
            food = candidate.food
            named = 0 < i <= len(others)
            if food.id in taken or (i and not named and candidate.confidence < UNLIKELY):
                continue
            taken.add(food.id)
            its = self._weighs(read, food)
            grams = its.usual if its else None
            method = cooking_of(self.methods, food, read.part, read.how)
            preparation = method.id if method else ""
            other_state = i > 0 and self._is_other_state(read, food)
            first = i == 0 and line.food is not None
            nearly = candidate.confidence >= NEARLY * match.candidates[0].confidence
            # What is not measured so is hardly meant: "1 capsule" of what comes in a bottle.
            nearly = nearly and (its is not None or weight is None)
            words = "; ".join(its.guessed) if its else ""
            if other_state:
                words = f"if it was weighed {food.attributes.state}"
            yield _choice(
                self.methods, candidate, grams, preparation, words,
                first or other_state or named or nearly,
            )  # fmt: skip
            if first and weight is not None:
                yield from self._range(weight, candidate, preparation)
                if method is not None:
                    yield _choice(
                        self.methods,
                        candidate,
                        grams,
                        "",
                        "weighed so and fed so, not cooked",
                        False,
                    )

    def _range(self, weight: Weight, candidate: Candidate, preparation: str) -> Iterator[StandsFor]:
        for grams, words in ((weight.low, "at least"), (weight.high, "at most")):
            if abs(grams / weight.usual - 1) > WORTH_ASKING:
                yield _choice(self.methods, candidate, grams, preparation, words, True)

    def _others(self, read: Understood) -> Iterator[Candidate]:
        """What the text itself names as another choice: "chicken or turkey"."""
        phrase = read.part.phrase
        if phrase is None:
            return
        for words in phrase.of.alternatives:
            of = replace(phrase.of, food=tuple(words.lower().split()), alternatives=())
            found = self.matcher.find(of, most=1)
            if found.sure:
                yield found.candidates[0]

    def _is_other_state(self, read: Understood, food: Food) -> bool:
        """Whether it is the same food weighed in another state, and the text does not say in which."""
        if read.line.state or read.line.food is None:
            return False
        first = self.matcher.library.food(read.line.food)
        states = {food.attributes.state, first.attributes.state}
        return (
            len(states) == 2
            and states <= _STATES
            and (food.family or food.klass) == (first.family or first.klass)
        )

    def _doubts(self, read: Understood, weight: Weight | None) -> Iterator[tuple[str, str]]:
        """Why a line wants looking at, and what to ask the owner of that."""
        line = read.line
        if line.food is None:
            yield "no food here answers to it for sure", "What is it, and whose product?"
        dose = dose_of(read.part)
        if dose is not None:
            yield f"told for {dose.words}", "How much of it goes into this recipe?"
        elif line.amount is None and weight is None:
            yield "no amount is given", "How much of it, in grams or in level spoons?"
        elif line.food is not None and weight is None:
            yield "nobody can tell what it weighs", "What does it weigh, in grams?"
        elif weight is not None and weight.high > weight.usual * (1 + WORTH_ASKING):
            low, high = _weighable(weight.low), _weighable(weight.high)
            yield f"{low:g} to {high:g} g", "What does it weigh, in grams?"
        if line.optional:
            yield "said to be optional", "Does it always go in?"
        if line.alternatives:
            yield f"or {', or '.join(line.alternatives)}", "Which of them is it, most of the time?"
        states = self._states(read)
        if states:
            yield f"weighed {' or '.join(states)}?", f"Do you weigh it {' or '.join(states)}?"

    def _states(self, read: Understood) -> tuple[str, ...]:
        """In which states a food may have been weighed, where the text does not say."""
        match = read.part.match
        if match is None or not any(self._is_other_state(read, c.food) for c in match.candidates):
            return ()
        found = [match.candidates[0].food.attributes.state]
        found += [
            c.food.attributes.state for c in match.candidates if self._is_other_state(read, c.food)
        ]
        return tuple(dict.fromkeys(found))


def _choice(
    methods: Sequence[Method],
    candidate: Candidate,
    grams: float | None,
    preparation: str,
    words: str,
    credible: bool,
) -> StandsFor:
    food = candidate.food
    return StandsFor(
        food=food.id, name=food.name, grams=None if grams is None else _weighable(grams), quantity="" if grams is None else typed(grams),
        preparation=preparation, methods=method_choices(methods, food), words=words,
        confidence=candidate.confidence, credible=credible,
    )  # fmt: skip


def typed(grams: float) -> str:
    """A weight as it is typed."""
    return f"{_weighable(grams):.10g} g"


def _weighable(grams: float) -> float:
    """A weight without more digits than a scale has: it may not look surer than it is."""
    return round(grams, 0 if grams >= 100 else 1 if grams >= 10 else 2 if grams >= 0.1 else 4)


def questions_to_owner(owner: str, dog: str, questions: Sequence[str]) -> str:
    """One message with everything that the owner is asked."""
    first = owner.split()[0] if owner.split() else ""
    numbered = [f"{i}. {question}" for i, question in enumerate(questions, 1)]
    return "\n".join(
        [
            f"Hello {first}," if first else "Hello,",
            "",
            f"thank you for {dog}’s recipe. To work it out to the gram I need to know:",
            "",
            *numbered,
            "",
            "If you can, weigh it the next time you cook: kitchen scales, in grams, before cooking.",
        ]
    )
