"""A text as its parts: headings, notes, steps and ingredients, several of which may stand in one line."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from .corrections import corrected, repeated
from .doses import dose_in
from .feeding import FeedingRule, Yield, rule_of, yield_of
from .ingredients import Ingredients, LineKind, Part, told_often
from .matching import Matcher
from .often import Often, heading_often, without_often
from .parting import PERSONS
from .phrases import join, strengths_aside
from .quantities import EITHER
from .tables import as_words, in_grams
from .tokens import Token, tokenise
from .words import Kind, Words

MAX_CHARACTERS = 200_000
MAX_LINES = 1000
LONG_LINE = 4000
# So many amounts with a unit are no note, whatever else is said with them.
MANY_AMOUNTS = 3
# Nobody names ingredients in so many words without a full stop.
LONG_SENTENCE = 150

_URL = re.compile(r"https?://|www\.|\S+@\S+\.\w", re.I)
_TIME = re.compile(
    r"\b(prep|cook|cooking|total|active|resting|chill)[ -]?(time)?\s*[:=]|\b(difficulty|cuisine|course|author|rating|"
    r"calories|category|keywords|posted|published|updated)\s*[:=]",
    re.I,
)
_ENUMERATED = re.compile(
    r"^\s*(?:step\s+)?\d{1,2}\s*[.):]\s+(?=\S)|^\s*step\s+\d{1,2}\b[.:]?\s*", re.I
)
_BULLET = re.compile(r"^[\s>*•·▪►◦☐□✓✔‣\-–—]+(?=\S)")
_BOLD = re.compile(r"(\*\*|__).+?\1:?")
_TICK = re.compile(r"^\[[ xX]?\]\s*")
_SENTENCE = re.compile(r"(?<=[a-zäöüé)\]%][.!?])\s+(?=\S)|(?<=\d[.!?])\s+(?=[A-Z“\"(])")
_ABBREVIATED = re.compile(
    r"(?:\b|\d)(?:tbsps?|tsps?|tbs|oz|lbs?|approx|pkg|pkt|ca|c|pt|qt|fl|no|med|lg|sm|g|gr|kg|ml|min|mins|hr|hrs|e\.g|i\.e|incl|vs|vit|pcs?|dr|mr|mrs|ms|st|spp?|var)\.$|[\d¼-¾⅐-⅞] ?(?:t|tb)\.$",
    re.I,
)
# "Bake 1 hr. Makes one loaf."
_LASTS = re.compile(r"\b(?:mins?|hrs?)\.$", re.I)
# Two amounts of these are a statement of contents.
_MACROS = frozenset({"protein", "fat", "carb", "carbohydrate", "fibre", "fiber", "kcal", "calorie"})
_GREETINGS = frozenset({"if", "please", "hi", "hello", "dear", "thanks", "thank"})
_GIVES = frozenset({"feed", "serve", "feeding", "give", "offer"})
_WHEN = frozenset({"once", "when", "while", "after", "meanwhile", "as", "if"})
_WHO_EATS = PERSONS | _GIVES | {"get", "gets", "has", "have", "eat", "eats", "him", "them"}
# What a whole is divided by, and into.
_DIVIDES = frozenset({"portion", "divide", "split", "separate", "pack", "freeze"})
_PORTIONS = frozenset({"portion", "meal", "serving", "day"})
# What a dog is weighed in.
_DOG_WEIGHTS = frozenset({"kg", "lb"})
# What a step may begin with before what is done.
_THEN = frozenset({"once", "meanwhile", "when", "while", "after", "next", "finally", "then", "first", "now", "lastly",
                   "and", "also", "just", "gently", "carefully", "slowly", "lightly", "thoroughly"})  # fmt: skip


# Who cooks: "I steam the kale".
_COOKS = frozenset({"i", "we", "you", "usually", "always"})


@dataclass(frozen=True)
class ReadText:
    """A whole text."""

    parts: tuple[Part, ...]
    makes: Yield | None
    feeding: FeedingRule | None


def read_text(matcher: Matcher, text: str) -> ReadText:
    """Every line of a text as its parts, in order. Nothing of it is left out but blank lines."""
    reader = _Reader(matcher)
    lines = text.splitlines()
    under = ""
    parts: list[Part] = []
    often: Often | None = None
    grams = in_grams(lines)
    for number, (line, plain) in enumerate(zip(lines, as_words(lines), strict=True)):
        if not line.strip():
            continue
        found = [_as_it_stood(p, line) for p in reader.line(number, plain, under)]
        if grams:
            found = [_in_grams(part, matcher.words) for part in found]
        if len(found) == 1 and found[0].kind is LineKind.HEADING:
            under = reader.section(found[0].text)
            # "Every day:", and what is given stands under it.
            _, often = without_often(tokenise(found[0].text))
            often = often or heading_often(tokenise(found[0].text))
        elif often is not None:
            found = [told_often(part, often) for part in found]
        parts.extend(found)
    parts = reader.spoken(_titled(parts))
    return ReadText(tuple(parts), reader.makes, reader.feeding)


def _in_grams(part: Part, words: Words) -> Part:
    """A part whose bare figure is grams."""
    quantity = part.phrase.quantity if part.phrase is not None else None
    if part.phrase is None or quantity is None or quantity.unit is not None:
        return part
    plain = quantity.vague if quantity.vague != EITHER else ""
    weighed = replace(quantity, unit=words.units["g"], vague=plain)
    return replace(part, phrase=replace(part.phrase, quantity=weighed))


def _as_it_stood(part: Part, source: str) -> Part:
    """A part with its line as it was before the cells of a table were read as words."""
    if part.source == source:
        return part
    at = part.source.find(part.text)
    text = source[at : at + len(part.text)] if at >= 0 else part.text
    return replace(part, source=source, text=text)


def _titled(parts: list[Part]) -> list[Part]:
    """What stands first without an amount, and amounts follow, is the name of the dish."""
    first = [p for p in parts if p.line == parts[0].line]
    rest = parts[len(first) :]
    phrases = [p.phrase for p in first if p.phrase is not None]
    given = sum(p.phrase is not None and p.phrase.quantity is not None for p in rest)
    told = any((p.quantity is not None and not p.aside) or p.of.asks for p in phrases)
    if not phrases or told or given < 2:
        return parts
    title = Part(first[0].line, first[0].source, first[0].source.strip(), LineKind.HEADING)
    return [title, *rest]


class _Reader:
    def __init__(self, matcher: Matcher) -> None:
        self.ingredients = Ingredients(matcher)
        self.words: Words = matcher.words
        self.makes: Yield | None = None
        self.feeding: FeedingRule | None = None

    # What a heading opens

    def section(self, heading: str) -> str:
        """ingredient, step or note: what stands under a heading; "" where it does not say."""
        plain = " ".join(t.word for t in tokenise(heading) if t.word)
        for name, kind in self.words.headings.items():
            if plain == name or plain.startswith(f"{name} ") or plain.endswith(f" {name}"):
                return kind
        return "ingredient"

    def _is_heading(self, bare: str, tokens: Sequence[Token]) -> bool:
        if bare.startswith("#") or _BOLD.fullmatch(bare):
            return True
        dogs = bare.endswith(":") and self._tells_dog(tokens)
        if (any(t.value is not None for t in tokens) or len(tokens) > 8) and not dogs:
            return False
        aside = next((i for i, t in enumerate(tokens) if t.mark == "("), len(tokens))
        plain = " ".join(t.word for t in tokens[: aside or len(tokens)] if t.word)
        marked = bare.endswith(":") or (bare.startswith("**") and bare.endswith("**"))
        if not plain:
            return False
        shouted = bare.isupper() and len(plain) > 3
        return (
            plain in self.words.headings
            or marked
            or (shouted and not self.ingredients.names_food(tokens))
        )

    # One line

    def line(self, number: int, source: str, under: str) -> Iterator[Part]:
        """The parts of one line."""
        enumerated = _ENUMERATED.match(source)
        start = enumerated.end() if enumerated else 0
        plain = enumerated or _BOLD.fullmatch(source.strip())
        bullet = None if plain else _BULLET.match(source[start:])
        start += bullet.end() if bullet else 0
        tick = _TICK.match(source[start:])
        start += tick.end() if tick else 0
        bare = source[start:].strip()
        if not bare or not any(c.isalnum() for c in bare):
            yield Part(number, source, source.strip(), LineKind.NOTE)
            return
        if len(bare) > LONG_LINE:
            # No ingredient takes so many words: it is a page without its lines.
            yield Part(number, source, bare, LineKind.NOTE)
            return
        tokens = self._tokens(source, start)
        if self._is_heading(bare, tokens):
            self.makes = self.makes or yield_of(self.words, bare, tokens)
            yield Part(number, source, bare, LineKind.HEADING)
            return
        if _URL.search(bare) or _TIME.search(bare):
            self._told(bare, tokens)
            yield Part(number, source, bare, LineKind.NOTE)
            return
        for text, stretch in self._sentences(source, tokens):
            yield from self._sentence(number, source, text, stretch, under, bool(enumerated))

    def _tokens(self, source: str, start: int) -> tuple[Token, ...]:
        shifted = tokenise(source[start:])
        moved = [replace(t, start=t.start + start, end=t.end + start) for t in shifted]
        return strengths_aside(self.words, join(self.words, moved))

    def _sentences(
        self, source: str, tokens: Sequence[Token]
    ) -> Iterator[tuple[str, Sequence[Token]]]:
        """The sentences of a line with their tokens."""
        if not tokens:
            return
        begins, ends = tokens[0].start, tokens[-1].end
        text = source[begins:ends]
        cuts = [begins]
        for match in _SENTENCE.finditer(text):
            told, begins_with = text[: match.start()], text[match.end()]
            if not _ABBREVIATED.search(told) or (_LASTS.search(told) and begins_with.isupper()):
                cuts.append(begins + match.end())
        for mark, after in pairwise(tokens):
            # "Makes 12 cups; feed 1 1/2 cups a day"
            if mark.mark in {";", ",", "."} and after.word in _GIVES and after.start not in cuts:
                cuts.append(after.start)
        cuts.sort()
        cuts.append(ends)
        for i in range(len(cuts) - 1):
            stretch = [t for t in tokens if cuts[i] <= t.start < cuts[i + 1]]
            if stretch:
                yield source[cuts[i] : cuts[i + 1]].strip(), stretch

    def _told(self, text: str, tokens: Sequence[Token]) -> bool:
        """Keep what a sentence says of the yield and of feeding; whether it says any."""
        rule = rule_of(self.words, text, tokens)
        makes = yield_of(self.words, text, tokens)
        if makes is not None and makes.unit in {"day", "week"}:
            self.makes = self.makes or makes
        if rule is not None and rule.of == "dog":
            self.feeding = self.feeding or rule
            return True
        if makes is not None:
            self.makes = self.makes or makes
            return True
        if rule is not None and (tokens[0].word in _GIVES or self._eats(tokens)):
            self.feeding = self.feeding or rule
            return True
        return False

    def _eats(self, tokens: Sequence[Token]) -> bool:
        """Whether somebody is said to get so much, and not of what: "he gets 2 ladles am and pm", "we feed him 400 g a
        day"."""
        begin = 0
        while begin < len(tokens) and tokens[begin].word in _WHO_EATS:
            begin += 1
        kept, often = without_often(tokens[begin:])
        amount = self.ingredients.parting.amount_at(kept, 0) if begin > 1 else None
        if amount is None or often is None:
            return False
        return not any(t.word for t in kept[amount.end :])

    def _parted(self, text: str, tokens: Sequence[Token]) -> None:
        """Keep into how many portions a step divides the whole."""
        if self.makes is not None:
            return
        at = next((i for i, t in enumerate(tokens) if t.word in {"into", "in", "over"}), 0)
        amount = self.ingredients.parting.amount_at(tokens, at + 1) if at else None
        unit = amount.quantity.unit if amount is not None else None
        after = tokens[amount.end].word if amount is not None and amount.end < len(tokens) else ""
        name = unit.name if unit is not None else after
        if amount is not None and (name in _PORTIONS or (unit and unit.kind is Kind.CONTAINER)):
            self.makes = Yield(text.strip(), amount.quantity.low, amount.quantity.high, name)

    def _dosed(self, number: int, source: str, tokens: Sequence[Token]) -> Part | None:
        """An ingredient whose amount is told for a weight of something; None where no food is named with it."""
        found = dose_in(self.words, tokens)
        if found is None:
            return None
        rest = [*tokens[: found.start], *tokens[found.end :]]
        # What is done with it is no part of its name: "feed 1 cup per 20 lb".
        rest = rest[1:] if rest and rest[0].word in _GIVES else rest
        parts = list(self.ingredients.read(number, source, rest, True))
        named = [p for p in parts if p.phrase is not None and p.kind is LineKind.INGREDIENT]
        if len(named) != 1 or named[0].phrase is None or named[0].phrase.quantity is None:
            return None
        phrase = named[0].phrase
        of = replace(phrase.of, dose=found.dose, often=phrase.of.per, per=found.dose.words)
        end = max(phrase.end, tokens[found.end - 1].end)
        phrase = replace(phrase, end=end, of=of)
        return replace(named[0], phrase=phrase, text=phrase.text)

    def _given(self, tokens: Sequence[Token]) -> Sequence[Token]:
        """What is given, where a sentence says to give so much of a food ("give 1 egg a day"), and not of what is
        cooked ("give 1 cup a day"); nothing otherwise."""
        if tokens[0].word not in _GIVES:
            return ()
        parting = self.ingredients.parting
        at = next((i for i in range(1, min(len(tokens), 4)) if parting.amount_at(tokens, i)), 0)
        kept, _ = without_often(tokens[at:])
        amount = parting.amount_at(kept, 0) if at else None
        named = amount is not None and self.ingredients.names_food(kept[amount.end :])
        return tokens[at:] if named else ()

    def _tells_dog(self, tokens: Sequence[Token]) -> bool:
        """Whether the only weight in a sentence is that of the dog, and nothing is said of feeding it: "(adult, 30 lb
        dog)"."""
        if any(t.word in _GIVES for t in tokens):
            return False
        dogs = amounts = i = 0
        while i < len(tokens):
            amount = self.ingredients.parting.amount_at(tokens, i)
            if amount is None or amount.quantity.unit is None:
                i = amount.end if amount is not None else i + 1
                continue
            amounts += 1
            after = tokens[amount.end : amount.end + 3]
            dogs += amount.quantity.unit.name in _DOG_WEIGHTS and any(
                t.word in self.words.dogs for t in after
            )
            i = amount.end
        return dogs > 0 and dogs == amounts

    def _sentence(
        self,
        number: int,
        source: str,
        text: str,
        tokens: Sequence[Token],
        under: str,
        enumerated: bool,
    ) -> Iterator[Part]:
        if len(tokens) > LONG_SENTENCE or self._tells_dog(tokens):
            self._told(text, tokens)
            yield Part(number, source, text, LineKind.NOTE)
            return
        right = corrected(
            self.words, tokens, self.ingredients.parting.amount_at, self.ingredients.names_food
        )
        if right.dropped:
            taken_back = source[right.dropped[0].start : right.dropped[-1].end]
            yield Part(number, source, taken_back, LineKind.NOTE)
        tokens = repeated(right.tokens, self.ingredients.parting.amount_at)
        label = self._labelled(tokens)
        if label is not None and label[0] == "note":
            self._told(text, tokens)
            yield Part(number, source, text, LineKind.NOTE)
            return
        if label is not None and label[1] < len(tokens):
            # "Veg: a handful of spinach"
            tokens = tokens[label[1] :]
            under = under if label[0] == "ingredient" else label[0]
        if self._tells_contents(tokens):
            yield Part(number, source, text, LineKind.NOTE)
            return
        whole = self.ingredients.in_full(number, source, tokens)
        if whole is not None:
            yield whole
            return
        dosed = self._dosed(number, source, tokens) if under != "note" else None
        if dosed is not None:
            yield dosed
            return
        said = next((t.word for t in tokens if t.word), "")
        spoken = any(t.word in PERSONS for t in tokens)
        if under == "note" or text.endswith("?"):
            self._told(text, tokens)
            yield Part(number, source, text, LineKind.NOTE)
            return
        given = self._given(tokens)
        if given:
            yield from self.ingredients.read(number, source, given, True)
            return
        if said in self.words.verbs and self._is_step(tokens, under, enumerated):
            if said in _DIVIDES:
                self._parted(text, tokens)
            yield Part(number, source, text, LineKind.STEP)
            return
        if tokens[0].word in _COOKS and len(tokens) > 2 and tokens[1].word in _DIVIDES:
            # "I split this into 8 tubs"
            self._parted(text, tokens)
            yield Part(number, source, text, LineKind.STEP)
            return
        if self._told(text, tokens) and not self._lists(tokens):
            yield Part(number, source, text, LineKind.NOTE)
            return
        if self._is_step(tokens, under, enumerated):
            yield Part(number, source, text, LineKind.STEP)
            return
        if tokens[0].word in self.words.negations or said in _GREETINGS:
            yield Part(number, source, text, LineKind.NOTE)
            return
        found = list(self.ingredients.read(number, source, tokens, spoken))
        if found:
            yield from found
            return
        kind = LineKind.STEP if under == "step" else LineKind.NOTE
        yield Part(number, source, text, kind)

    def _tells_contents(self, tokens: Sequence[Token]) -> bool:
        """Whether a sentence tells what the food holds: "provides 580 kcal, 45 g protein, 9 g fat"."""
        parting = self.ingredients.parting
        found, i = 0, 0
        while i < len(tokens):
            amount = parting.amount_at(tokens, i)
            end = amount.end if amount is not None else i + 1
            if amount is not None and end < len(tokens):
                found += tokens[end].word in _MACROS
            i = end
        first = next((t.word for t in tokens if t.word), "")
        if first in _MACROS and any(t.mark == "%" for t in tokens[1:5]) and not found:
            # "Fat 5 %", and nothing is weighed.
            return not any(parting.amount_at(tokens, i) for i in range(len(tokens)))
        return found > 1

    def _lists(self, tokens: Sequence[Token]) -> bool:
        """Whether so many amounts stand in one sentence that it is a recipe told in one breath."""
        parting = self.ingredients.parting
        found, i = 0, 0
        while i < len(tokens):
            amount = parting.amount_at(tokens, i)
            end = amount.end if amount is not None else i + 1
            measured = amount is not None and amount.quantity.unit is not None
            found += measured and self.ingredients.names_food(tokens[end : end + 3])
            i = end
        return found >= MANY_AMOUNTS

    def _weighs(self, tokens: Sequence[Token]) -> bool:
        """Whether something is measured in a sentence, or counted."""
        parting = self.ingredients.parting
        found = (parting.amount_at(tokens, i) for i in range(len(tokens)))
        return any(f is not None and tokens[f.start].word not in {"a", "an"} for f in found)

    def _labelled(self, tokens: Sequence[Token]) -> tuple[str, int] | None:
        """What a label before a colon or a dash says of what follows ("Storage: ..."), and where that begins."""
        end = next((i for i, t in enumerate(tokens[:5]) if t.mark in {":", "-", "–", "—"}), 0)
        said = " ".join(t.word for t in tokens[:end])
        kind = self.words.headings.get(said)
        return None if not end or kind is None else (kind, end + 1)

    def _is_step(self, tokens: Sequence[Token], under: str, enumerated: bool) -> bool:
        amount = self.ingredients.parting.amount_at(tokens, 0)
        if amount is not None:
            # "1 cup rice" under the steps is an ingredient all the same, "2 minutes before" none.
            return under == "step" and len(tokens) > 12
        if under == "step":
            return True
        then = _THEN if self._weighs(tokens) else _THEN | _COOKS
        first = next((i for i, t in enumerate(tokens) if t.word and t.word not in then), 0)
        comma = next((i for i, t in enumerate(tokens) if t.mark == ","), len(tokens))
        if tokens[0].word in _WHEN and tokens[first].word not in self.words.verbs:
            # "Once cooked, shred the chicken"
            first = min(comma + 1, len(tokens) - 1)
        if tokens[first].word not in self.words.verbs:
            return False
        # "Ground beef", "brown rice 200 g", "squash": a food may be called like what is done.
        rest = [t for t in tokens if t.word]
        parting = self.ingredients.parting
        end = next((i for i in range(len(tokens)) if parting.amount_at(tokens, i)), len(tokens))
        named = [t for t in tokens[:end] if t.word]
        if 0 < len(named) <= 4 and self.ingredients.is_called(named, tokens[first].word):
            return False
        return len(rest) > 1 or enumerated or not self.ingredients.names_food(tokens)

    # Recipes that are told, without a list of ingredients

    def spoken(self, parts: list[Part]) -> list[Part]:
        """Where a text has no list of ingredients, what its steps name with an amount."""
        if any(p.kind is LineKind.INGREDIENT for p in parts):
            return parts
        found: list[Part] = []
        for part in parts:
            found.append(part)
            if part.kind is not LineKind.STEP:
                continue
            tokens = self._tokens(part.source, max(part.source.find(part.text), 0))
            tokens = tuple(
                t for t in tokens if t.start < part.source.find(part.text) + len(part.text)
            )
            named = [
                p
                for p in self.ingredients.read(part.line, part.source, tokens, True)
                if p.kind is LineKind.INGREDIENT and p.phrase and p.phrase.quantity
            ]
            found.extend(named)
        named_in_all = [p for p in found if p.kind is LineKind.INGREDIENT]
        if len(parts) == 1 and len(named_in_all) < 2:
            return parts
        return found
