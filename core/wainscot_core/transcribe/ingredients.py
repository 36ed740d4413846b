"""Which stretches of a sentence are ingredients, and of which food."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cached_property

from .described import Described
from .match import Match
from .matching import Matcher
from .often import Often, heading_often, often_at
from .parting import Parting
from .phrases import Phrase, read_phrase
from .quantities import Quantity
from .tokens import Token
from .words import Words

# So long a text without an amount is no ingredient, and so many words that nobody knows.
MOST_WORDS, MOST_UNKNOWN = 9, 4
# How sure a food must be to be an ingredient without an amount, with a bare count, and not to be two.
NAMED, COUNTED, ONE_FOOD = 0.72, 0.5, 0.9
# By so much is one food surer than another.
BY_FAR = 0.1


_STRENGTHS = frozenset({"mg", "ug", "iu"})
_NONE = frozenset({"none", "nil", "zero"})
# "In equal parts"
_EQUALLY = frozenset(
    {"in", "equal", "equally", "part", "amount", "quantity", "mix", "mixed", "of", "each", "and"}
)


class LineKind(StrEnum):
    """What a stretch of text is."""

    INGREDIENT = "ingredient"
    HEADING = "heading"
    STEP = "step"
    NOTE = "note"


@dataclass(frozen=True)
class Part:
    """A stretch of a line. line: its place among the lines; source: the whole line, unchanged; phrase and match: of an
    ingredient. halved: among how many foods its amount is shared. told: in words, how its own line says it is cooked."""

    line: int
    source: str
    text: str
    kind: LineKind
    phrase: Phrase | None = None
    match: Match | None = None
    halved: int = 1
    told: str = ""


@dataclass(frozen=True)
class Ingredients:
    """Reads sentences as ingredients."""

    matcher: Matcher

    @property
    def words(self) -> Words:
        """What is understood."""
        return self.matcher.words

    @cached_property
    def parting(self) -> Parting:
        """Where one ends and the next begins."""
        return Parting(self.words, self.names_food)

    def names_food(self, tokens: Sequence[Token]) -> bool:
        """Whether tokens name a food for sure."""
        of = Described(food=tuple(t.word for t in tokens if t.word))
        found = self.matcher.find(of)
        return self.matcher.tells(of) and found.sure and found.candidates[0].confidence >= NAMED

    def in_full(self, number: int, source: str, tokens: Sequence[Token]) -> Part | None:
        """An amount and the whole name of a food, as the product writes it, and in brackets how that is cooked."""
        amount = self.parting.amount_at(tokens, 0)
        if amount is None:
            return None
        begin = amount.end
        if begin < len(tokens) and tokens[begin].mark == "(":
            shut = (i for i in range(begin, len(tokens)) if tokens[i].mark == ")")
            begin = next(shut, begin) + 1
        if begin >= len(tokens):
            return None
        name, told = source[tokens[begin].start : tokens[-1].end], ""
        match = self.matcher.called_in_full(name)
        if match is None and name.endswith(")"):
            name, _, told = name[:-1].rpartition(" (")
            match = self.matcher.called_in_full(name) if told in self.matcher.cooking else None
        if match is None:
            return None
        phrase = read_phrase(self.words, source, tokens[:begin])
        phrase = replace(phrase, end=tokens[-1].end)
        return Part(number, source, phrase.text, LineKind.INGREDIENT, phrase, match, told=told)

    def is_called(self, tokens: Sequence[Token], word: str) -> bool:
        """Whether tokens name a food for sure, and a word is part of its name."""
        if not self.names_food(tokens):
            return False
        said = frozenset(t.word for t in tokens)
        of = Described(food=tuple(t.word for t in tokens if t.word))
        return self.matcher.is_part_of_name(self.matcher.find(of).candidates[0].food, word, said)

    def read(
        self, number: int, source: str, tokens: Sequence[Token], spoken: bool
    ) -> Iterator[Part]:
        """The ingredients of a sentence, and what of it is none. spoken: somebody tells it. What stands before all of
        them ("Daily: ...") is told of each."""
        first = _word(tokens)
        lead = often_at(tokens, 0) if first not in {"a", "an"} else None
        if lead is None and len(tokens) > 2 and tokens[1].mark in {":", "="}:
            # "Breakfast: 90 g chicken"
            daily = heading_often(tokens[:1])
            lead = (1, daily) if daily is not None else None
        if lead is not None and lead[0] < len(tokens):
            rest = tokens[lead[0] + (tokens[lead[0]].mark in {":", "=", ",", "-", "–"}) :]
            parts = [told_often(p, lead[1]) for p in self._read(number, source, rest, spoken)]
            if len(parts) == 1 and parts[0].kind is LineKind.NOTE:
                whole = source[tokens[0].start : tokens[-1].end]
                parts = [replace(parts[0], text=whole)]
            yield from parts
            return
        yield from self._read(number, source, tokens, spoken)

    def _read(
        self, number: int, source: str, tokens: Sequence[Token], spoken: bool
    ) -> Iterator[Part]:
        shared = self._shared(source, tokens)
        if shared:
            for one in shared:
                yield Part(number, source, one.text, LineKind.INGREDIENT, one, self._match(one))
            return
        for stretch in self.parting.stretches(tokens):
            phrase = read_phrase(self.words, source, stretch)
            yield from self._parts(number, source, stretch, phrase, spoken)

    def _parts(
        self, number: int, source: str, stretch: Sequence[Token], phrase: Phrase, spoken: bool
    ) -> Iterator[Part]:
        match = self._match(phrase)
        two = self._mixed(source, stretch, phrase) or self._halves(source, stretch, phrase, match)
        if two:
            for one, its in two:
                yield Part(
                    number, source, one.text, LineKind.INGREDIENT, one, its,
                    len(two) if one.quantity is not None and not _each(stretch) else 1,
                )  # fmt: skip
            return
        if self._is_ingredient(phrase, match, stretch, spoken):
            yield Part(number, source, phrase.text, LineKind.INGREDIENT, phrase, match)
        elif stretch:
            yield Part(number, source, phrase.text, LineKind.NOTE)

    def _match(self, phrase: Phrase) -> Match:
        amounts = (phrase.quantity, phrase.beside)
        units = [u for q in amounts if q is not None for u in (q.unit, q.pack) if u is not None]
        cans = any(u.name == "can" for u in units)
        of = phrase.of
        state = "canned" if cans and not of.state else ""
        given = [u.name for u in units if u.given]
        if given and not any(w in of.food for w in ("tablet", "capsule")):
            # "Fish oil, 1 capsule" is the capsule, "wheat germ oil, 1 capsule" no capsule of another oil.
            named = self.matcher.find(replace(of, food=(*of.food, given[0])), state)
            plain = self.matcher.find(of, state)
            # "3 capsules of salmon oil (1000 mg each)": so much of that oil.
            weighed = phrase.quantity is not None and phrase.quantity.grams is not None
            oil = weighed and plain.sure and plain.candidates[0].food.klass == "fat-oil"
            return plain if oil or _better(plain, named) else named
        found = self._as_supplement(of, self.matcher.find(of, state))
        return _powder(found) if _by_the_gram(phrase.quantity) else found

    def _as_supplement(self, of: Described, found: Match) -> Match:
        """ "Bone meal powder" is bone meal, where that is a supplement; carrot powder is no carrot."""
        plain = tuple(w for w in of.food if w not in self.words.forms)
        if found.sure or not plain or plain == of.food:
            return found
        other = self.matcher.find(replace(of, food=plain))
        is_one = other.sure and other.candidates[0].food.is_supplement
        return other if is_one and other.candidates[0].confidence >= ONE_FOOD else found

    def _is_ingredient(
        self, phrase: Phrase, match: Match, stretch: Sequence[Token], spoken: bool
    ) -> bool:
        of = phrase.of
        if of.negated or not self.matcher.tells(of):
            return False
        best = match.candidates[0].confidence if match.candidates else 0.0
        unknown = any(w in self.words.unknown_foods for w in of.food)
        if phrase.quantity is not None:
            measured = phrase.quantity.unit is not None and not phrase.quantity.unit.none
            if match.sure:
                return best >= COUNTED or measured
            if not measured and any(w in self.words.no_food for w in of.food[:3]):
                return False
            if phrase.aside or spoken:
                return unknown
            if any(w in self.words.dogs for w in of.words):
                # "Labrador, 34 kg"
                return unknown
            # Something is counted or measured: it stays, with the question what it is.
            idle = any(w in self.words.no_food for w in of.words)
            if not measured and self.parting.amount_at(stretch, 0) is None:
                # "By Jane, May 2021"
                return unknown
            return unknown or (len(of.food) <= MOST_UNKNOWN and (measured or not idle))
        if stretch[-1].word in _NONE:
            return False
        words = sum(bool(t.word) for t in stretch)
        if words > MOST_WORDS and not of.asks:
            return False
        if of.asks:
            return match.sure or unknown
        told = not spoken or stretch[0].word == "some"
        named = unknown and words <= 3 and not self.words.only_measured & set(of.food)
        return (match.sure and best >= NAMED and told) or named

    def _of_its_animal(self, one: Phrase, whole: Phrase) -> Phrase:
        """ "Chicken gizzards and hearts": the second is of the first one's animal, where there is such a food."""
        animal = next((w for w in whole.of.food if w in self.matcher.animals), None)
        if animal is None or any(w in self.matcher.animals for w in one.of.food):
            return one
        of = replace(one.of, food=(animal, *one.of.food))
        found = self.matcher.find(of)
        exact = found.sure and found.candidates[0].confidence >= ONE_FOOD
        return replace(one, of=of) if exact else one

    def _shared(self, source: str, stretch: Sequence[Token]) -> list[Phrase]:
        """Foods of one amount each: "100 g each of carrots, peas and green beans"."""
        behind = self._shared_behind(source, stretch)
        if behind:
            return behind
        amount = self.parting.amount_at(stretch, 0)
        if amount is None or amount.end >= len(stretch) or stretch[amount.end].word != "each":
            return []
        begin = amount.end + 1
        while begin < len(stretch) and (stretch[begin].word == "of" or stretch[begin].mark == ":"):
            begin += 1
        cuts = [
            i
            for i in range(begin, len(stretch))
            if stretch[i].mark == "," or stretch[i].word == "and"
        ]
        found = []
        for a, b in zip([begin, *(c + 1 for c in cuts)], [*cuts, len(stretch)], strict=True):
            if a < b:
                one = read_phrase(self.words, source, stretch[a:b])
                found.append(replace(one, quantity=amount.quantity))
        return found

    def _shared_behind(self, source: str, stretch: Sequence[Token]) -> list[Phrase]:
        """The same with the amount behind them: "kale, spinach 150 g each"."""
        if not stretch or stretch[-1].word not in {"each", "apiece"}:
            return []
        at = next((i for i in range(1, len(stretch)) if self.parting.amount_at(stretch, i)), 0)
        amount = self.parting.amount_at(stretch, at) if at else None
        if amount is None or amount.end != len(stretch) - 1:
            return []
        cuts = [i for i in range(at) if stretch[i].mark == "," or stretch[i].word == "and"]
        foods = [
            list(stretch[a:b])
            for a, b in zip([0, *(c + 1 for c in cuts)], [*cuts, at], strict=True)
        ]
        foods = [f for f in foods if f]
        if len(foods) < 2 or not all(self.names_food(f) for f in foods):
            return []
        told = [read_phrase(self.words, source, f) for f in foods]
        return [replace(one, quantity=amount.quantity) for one in told]

    def _mixed(
        self, source: str, stretch: Sequence[Token], phrase: Phrase
    ) -> list[tuple[Phrase, Match]]:
        """The foods in brackets of what is no food by itself: "400 g blended veg (kale/spinach, equal parts)"."""
        opened = next((i for i, t in enumerate(stretch) if t.mark == "("), None)
        food = [self.words.same.get(w, w) for w in phrase.of.food]
        mixed = any(w in self.words.mixtures for w in food)
        if opened is None or phrase.quantity is None or not mixed:
            return []
        shut = next(
            (i for i in range(opened, len(stretch)) if stretch[i].mark == ")"), len(stretch)
        )
        inner = stretch[opened + 1 : shut]
        said = self.words.mixtures | self.words.preparation | set(self.words.states)
        plain = all(w in said for w in food)
        vague = any(t.word in {"or", "such-as"} or t.value is not None for t in inner)
        if not plain or vague:
            return []
        cuts = [i for i, t in enumerate(inner) if t.mark in {",", "/", ";", "+"} or t.word == "and"]
        found = []
        for a, b in zip([0, *(c + 1 for c in cuts)], [*cuts, len(inner)], strict=True):
            piece = inner[a:b]
            if not piece or {t.word for t in piece} <= _EQUALLY:
                continue
            if not self.names_food(piece):
                return []
            one = read_phrase(self.words, source, piece)
            of = replace(one.of, state=one.of.state or phrase.of.state)
            one = replace(one, quantity=phrase.quantity, of=of)
            found.append((one, self._match(one)))
        if len(found) < 2:
            return []
        # Nothing of the line is left out: the first has what stands before the brackets, the last what is behind.
        (first, its), (last, last_its) = found[0], found[-1]
        found[0] = replace(first, start=stretch[0].start), its
        found[-1] = replace(last, end=stretch[-1].end), last_its
        return found

    def _halves(
        self, source: str, stretch: Sequence[Token], phrase: Phrase, match: Match
    ) -> list[tuple[Phrase, Match]]:
        """Two foods of one amount: "carrots and peas, 1 cup each", "salt and pepper"."""
        ands = (i for i, t in enumerate(stretch) if t.word == "and" or t.mark == "+")
        at = next((i for i in ands if 0 < i < len(stretch) - 1), None)
        if at is None or (match.sure and match.candidates[0].confidence >= ONE_FOOD):
            return []
        amount = self.parting.amount_at(stretch, 0)
        begin = amount.end if amount else 0
        if begin >= at or any(t.mark == "(" for t in stretch[:at]):
            return []
        ends = (i for i in range(at, len(stretch)) if stretch[i].mark in {",", "(", ";", "–", ":"})
        end = next(ends, len(stretch))
        halves = []
        for piece in (stretch[begin:at], stretch[at + 1 : end]):
            if not piece or self.parting.amount_at(piece, 0) is not None:
                return []
            one = read_phrase(self.words, source, piece)
            if not self.matcher.tells(one.of):
                return []
            one = self._of_its_animal(one, phrase)
            its = self._match(replace(one, quantity=phrase.quantity))
            if not its.sure or its.candidates[0].confidence < NAMED:
                return []
            of = replace(one.of, state=one.of.state or phrase.of.state)
            halves.append((replace(one, quantity=phrase.quantity, of=of), its))
        if halves[0][1].candidates[0].food == halves[1][1].candidates[0].food:
            return []
        return halves


def _by_the_gram(quantity: Quantity | None) -> bool:
    """Whether an amount is weighed out, and no strength: 0.2 g and not 15 mg."""
    weighs = quantity is not None and quantity.unit is not None and quantity.grams is not None
    return (
        weighs
        and quantity is not None
        and quantity.unit is not None
        and quantity.unit.name not in _STRENGTHS
    )


def _powder(match: Match) -> Match:
    """What is weighed by the gram is the powder and not the tablet of it."""
    tablets = [c for c in match.candidates if c.food.handling and c.food.handling.form == "tablet"]
    rest = [c for c in match.candidates if c not in tablets]
    if match.nutrient or not match.sure or not rest or match.candidates[0] not in tablets:
        return match
    if rest[0].confidence < match.candidates[0].confidence - BY_FAR:
        return match
    return replace(match, candidates=(*rest, *tablets), guessed=())


def _better(one: Match, other: Match) -> bool:
    """Whether the first food of a match is the surer one by far, or nothing else is told than a pill."""
    if not one.candidates or not other.candidates:
        return True
    return one.candidates[0].confidence >= other.candidates[0].confidence + BY_FAR


def _word(tokens: Sequence[Token]) -> str:
    return tokens[0].word if tokens else ""


def told_often(part: Part, often: Often) -> Part:
    """A part with how often it is given, where it does not say so itself."""
    phrase = part.phrase
    if phrase is None or phrase.of.per:
        return part
    of = replace(phrase.of, per=often.per, times=often.times)
    return replace(part, phrase=replace(phrase, of=of))


def _each(stretch: Sequence[Token]) -> bool:
    """Whether an amount is of each; "half each" parts it."""
    words = [t.word for t in stretch]
    return any(
        w in {"each", "apiece"} and (not i or words[i - 1] != "half") for i, w in enumerate(words)
    )
