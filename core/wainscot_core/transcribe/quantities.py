"""Amounts in running words: "2 1/2 heaped cups", "two 14 oz cans", "a few", "3-4", "1 lb 4 oz"."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..units import MASS_G, WEIGHT_G
from .tokens import Token
from .words import Kind, Unit, Words

# Between two figures these make a range.
_RANGE = frozenset({"-", "–", "—"})
_RANGE_WORDS = frozenset({"to", "or"})
_TIMES = frozenset({"x", "×"})
_ARTICLES = frozenset({"a", "an"})
_OF = frozenset({"of"})
_BEGINS = frozenset({",", ";", ":", "+", "-", "–"})
# Units that are no words by themselves.
_LETTERS = frozenset({"ml", "l", "cl", "dl"})
_CUT = frozenset({"slice", "piece", "rasher", "sprig", "thumb"})
_SIZED = ("-size", "-sized")
_ENDINGS = frozenset({"rd", "th", "nd", "st", "ish"})
# What an amount is that can be read in two ways.
EITHER = "either"
# The most that a figure before another one counts: "2 400 g tins", "2 14-oz cans".
_MOST_PACKS = 24


@dataclass(frozen=True)
class Quantity:
    """An amount as it was written, and what was taken for granted in it.

    high: of a range, None for one figure. unit: None for a bare count. pack: what it came in, where a pack's own
    weight was told ("two 14 oz cans" are 28 oz). size: of a piece, 1 for medium, None where none was said. filled: how full a cup, spoon or hand is, 1 level.
    about: it was not meant exactly. net: what is left of a pack without its liquid. given: no figure at all ("some"), or one that is none ("a few").
    """

    low: float
    high: float | None = None
    unit: Unit | None = None
    pack: Unit | None = None
    size: float | None = None
    size_word: str = ""
    filled: float = 1.0
    about: bool = False
    vague: str = ""
    net: bool = False

    @property
    def usual(self) -> float:
        """The figure to count with: the middle of a range."""
        return self.low if self.high is None else (self.low + self.high) / 2

    @property
    def grams(self) -> float | None:
        """What it weighs by itself, g; None where that depends on the food."""
        if self.unit is None or self.unit.kind is not Kind.WEIGHT:
            return None
        per = weight_g(self.unit)
        return None if per is None else self.usual * per


@dataclass(frozen=True)
class Found:
    """A quantity and where it ends; start: its first token."""

    quantity: Quantity
    start: int
    end: int


def weight_g(unit: Unit) -> float | None:
    """Grams in one of a unit of weight; None for international units, which weigh nothing by themselves."""
    return WEIGHT_G.get(unit.name) or MASS_G.get(unit.name)


def quantity_at(words: Words, tokens: Sequence[Token], start: int) -> Found | None:
    """The amount that begins at a token; None where none does."""
    reader = _Reader(words, tokens)
    i, about = reader.about(start)
    found = reader.read(i)
    if found is None:
        return None
    return Found(replace(found.quantity, about=about or found.quantity.about), start, found.end)


@dataclass(frozen=True)
class _Reader:
    words: Words
    tokens: Sequence[Token]

    def word(self, i: int) -> str:
        return self.tokens[i].word if 0 <= i < len(self.tokens) else ""

    def mark(self, i: int) -> str:
        return self.tokens[i].mark if 0 <= i < len(self.tokens) else ""

    def about(self, i: int) -> tuple[int, bool]:
        """Past words that say an amount is not exact."""
        began = i
        while self.word(i) in self.words.about or self.mark(i) in self.words.about:
            i += 2 if self.mark(i + 1) == "." else 1
        return i, i > began

    def number(self, i: int) -> tuple[float, int] | None:
        """One figure, in digits or words, and the token behind it."""
        if i >= len(self.tokens):
            return None
        token = self.tokens[i]
        if token.value is not None:
            return self._digits(i)
        fraction = self._fraction(i)
        if fraction is not None:
            return fraction
        value = self.words.numbers.get(token.word)
        if value is None:
            # "one-third", "twenty-five"
            parts = token.word.split("-")
            if len(parts) == 2 and parts[0] in self.words.numbers:
                first = self.words.numbers[parts[0]]
                if parts[1] in self.words.fractions:
                    return first * self.words.fractions[parts[1]], self._past_of(i + 1)
                if parts[1] in self.words.numbers:
                    return first + self.words.numbers[parts[1]], i + 1
            return None
        end = i + 1
        after = self.word(end)
        if after in {"hundred", "dozen", "couple", "pair"} and token.word not in {"couple", "pair"}:
            value *= self.words.numbers[after]
            end += 1
            if after == "hundred":
                value, end = self._and_more(value, end)
        elif value >= 20 and 0 < self.words.numbers.get(after, 0) < 10 and after not in _ARTICLES:
            value += self.words.numbers[after]
            end += 1
        if (token.word in _ARTICLES or value <= 12) and after in self.words.fractions:
            # "a third", "two thirds", "three quarters"
            return value * self.words.fractions[after], self._past_of(end + 1)
        return self._and_a_half(value, end)

    def _and_more(self, value: float, end: int) -> tuple[float, int]:
        """ "Two hundred and fifty"."""
        at = end + 1 if self.word(end) == "and" else end
        more = self.words.numbers.get(self.word(at), 0.0)
        if self.word(at) in _ARTICLES or not 0 < more < 100:
            return value, end
        ones = self.words.numbers.get(self.word(at + 1), 0.0)
        if more >= 20 and 0 < ones < 10 and self.word(at + 1) not in _ARTICLES:
            return value + more + ones, at + 2
        return value + more, at + 1

    def _digits(self, i: int) -> tuple[float, int] | None:
        value, end = self.tokens[i].value or 0.0, i + 1
        # "1 250 g"
        if self._spaced(i):
            return value * 1000 + (self.tokens[i + 1].value or 0), i + 2
        if self.word(end) in _ENDINGS and self.tokens[end].start == self.tokens[i].end:
            end += 1
        below = self._value(end + 1)
        if self.mark(end) in {"/", "⁄"} and below:
            # "2/3rds"
            behind = end + 3 if self.word(end + 2) in _ENDINGS else end + 2
            return None if self._is_ratio(i) else (value / below, self._past_of(behind, True))
        # "1 1/2", "1-1/2", "1½"
        at = end + 1 if self.mark(end) in {"-", "–"} else end
        second = self._value(at)
        if second is not None and float(value).is_integer():
            if second < 1:
                return value + second, at + 1
            under = self._value(at + 2)
            if self.mark(at + 1) in {"/", "⁄"} and under and second < under:
                return value + second / under, at + 3
        if self.word(end) in {"dozen", "hundred"}:
            return value * self.words.numbers[self.word(end)], end + 1
        if self.word(end) in self.words.fractions and value <= 12:
            return value * self.words.fractions[self.word(end)], self._past_of(end + 1)
        return self._and_a_half(value, end)

    def _spaced(self, i: int) -> bool:
        if i + 2 >= len(self.tokens):
            return False
        first, second = self.tokens[i], self.tokens[i + 1]
        unit = self.words.units.get(self.word(i + 2))
        small = unit is not None and unit.name in {"g", "ml", "mg"}
        return (
            small and len(second.text) == 3 and second.text.isdigit()
            and first.text.isdigit() and len(first.text) <= 3 and second.start == first.end + 1
        )  # fmt: skip

    def _value(self, i: int) -> float | None:
        return self.tokens[i].value if i < len(self.tokens) else None

    def _is_ratio(self, i: int) -> bool:
        """ "90/10" is lean to fat."""
        over, under = self._value(i) or 0, self._value(i + 2) or 0
        return over >= 50 and abs(over + under - 100) < 1e-9

    def _fraction(self, i: int) -> tuple[float, int] | None:
        """ "half a", "a half", "quarter of a"."""
        at = i + 1 if self.word(i) in _ARTICLES else i
        value = self.words.fractions.get(self.word(at))
        if value is None:
            return None
        end = self._past_of(at + 1)
        if self.word(end) == "dozen":
            return value * 12, end + 1
        return value, end

    def _past_of(self, i: int, unit: bool = False) -> int:
        """Past "of a"; unit: only where a unit follows ("1/2 a cup")."""
        at = i + 1 if self.word(i) in _OF else i
        at = at + 1 if self.word(at) in _ARTICLES else at
        return i if unit and self._unit(at) is None else at

    def _and_a_half(self, value: float, end: int) -> tuple[float, int]:
        """ "two and a half", "1 & 1/2"."""
        if self.word(end) != "and" and self.mark(end) != "&":
            return value, end
        at = end + 1
        fraction = self._fraction(at)
        if fraction is not None and (self.word(at) in _ARTICLES or self._unit(fraction[1])):
            return value + fraction[0], fraction[1]
        # "one and one half"
        part = self.words.fractions.get(self.word(at + 1))
        if part is not None and self.words.numbers.get(self.word(at)) in {1, 2, 3}:
            return value + self.words.numbers[self.word(at)] * part, self._past_of(at + 2)
        second, under = self._value(at), self._value(at + 2)
        if second is not None and second < 1:
            return value + second, at + 1
        if second is not None and under and self.mark(at + 1) == "/" and second < under:
            return value + second / under, at + 3
        return value, end

    def read(self, i: int) -> Found | None:
        """A whole amount: figure or range, size, what a pack holds, unit."""
        vague = self._vague(i)
        if vague is not None:
            return vague
        if self.word(i) == "between":
            return self._between(i)
        first = self.number(i)
        if first is None:
            return self._bare_unit(i)
        low, end = first
        if self.mark(end) == "%":
            return None
        high = None
        if self.mark(end) in _RANGE or self.word(end) in _RANGE_WORDS:
            second = self.number(end + 1)
            if second is not None and second[0] > low and self.word(end + 1) not in _ARTICLES:
                high, end = second
        if self.mark(end) == "%":
            return None
        if self.word(end) in {"fold", "degree"} or self.mark(end) == "°":
            return None
        packs = self._packs(low, end)
        if packs is not None:
            each = packs.quantity.low
            pack = replace(
                packs.quantity, low=low * each, high=None if high is None else high * each
            )
            return Found(pack, i, packs.end)
        return self._with_unit(Quantity(low, high), i, end)

    def _between(self, i: int) -> Found | None:
        """ "Between 1 and 2 cups"."""
        low = self.number(i + 1)
        if low is None or self.word(low[1]) not in {"and", "to"}:
            return None
        high = self.number(low[1] + 1)
        if high is None or high[0] <= low[0]:
            return None
        return self._with_unit(Quantity(low[0], high[0]), i, high[1])

    def _bare_unit(self, i: int) -> Found | None:
        """ "pinch of salt": one of what is grabbed or poured, without a figure."""
        at = i + 1 if self.word(i) in self.words.fullness else i
        unit = self._unit(at)
        if unit is None or not self.word(unit[1]):
            return None
        held = unit[0].kind is Kind.CONTAINER or unit[0].name in _CUT
        if held and i == 0 and self.word(unit[1]) in _OF:
            # "Tin of tomatoes"
            return self._with_unit(Quantity(1.0), i, i)
        if unit[0].kind not in {Kind.HANDFUL, Kind.VOLUME} or unit[0].name in _LETTERS:
            return None
        # "Tsp of turmeric", "handful spinach": where an ingredient begins.
        begins = i == 0 or self.mark(i - 1) in _BEGINS or self.word(i - 1) == "and"
        if not begins and self.word(unit[1]) not in _OF:
            return None
        return self._with_unit(Quantity(1.0), i, i)

    def _vague(self, i: int) -> Found | None:
        at = i + 1 if self.word(i) in _ARTICLES else i
        word = self.word(at)
        if word not in self.words.vague or (word == "some" and at > i):
            return None
        span = self.words.vague[word]
        end = at + 1
        if span is None:
            return None
        return self._with_unit(Quantity(span.low, span.high, vague=word), i, end)

    def _packs(self, count: float, end: int) -> Found | None:
        """ "2 x 400 g tins", "a 14-oz can", "1 (15 oz) can", "2 400g tins"."""
        at, times = end, False
        if self.word(at) in _TIMES or self.mark(at) in _TIMES:
            at, times = at + 1, True
        opened = self.mark(at) == "("
        if opened:
            at += 1
        at, _ = self.about(at)
        inner = self.number(at)
        if inner is None or self.tokens[at].value is None or count > _MOST_PACKS:
            return None
        each, at = inner
        if self.mark(at) == "-":
            at += 1
        unit = self._unit(at)
        if unit is None or (unit[0].kind is not Kind.WEIGHT and unit[0].name not in {"ml", "l"}):
            return None
        holds, at = unit
        at += self.mark(at) == "."
        if opened:
            if self.mark(at) != ")":
                return None
            at += 1
        container = self._unit(at)
        if container is None or container[0].kind not in {Kind.CONTAINER, Kind.PIECE}:
            if not times:
                return None
            container = (holds, at)
        pack = container[0] if container[0] is not holds else None
        return Found(Quantity(each, unit=holds, pack=pack), end, self._after_unit(container[1]))

    def _unit(self, i: int) -> tuple[Unit, int] | None:
        if i >= len(self.tokens):
            return None
        token = self.tokens[i]
        cased = self.words.cased_units.get(token.text)
        if cased is not None:
            return cased, i + 1
        unit = self.words.units.get(token.word) or self.words.units.get(token.mark)
        return None if unit is None else (unit, i + 1)

    def _either(self, start: int, end: int) -> bool:
        """ "1.250 g" is 1.25 or 1250."""
        text = self.tokens[start].text
        return end == start + 1 and re.fullmatch(r"[1-9]\d{0,2}\.\d{3}", text) is not None

    def _and_half(self, i: int) -> tuple[float, int]:
        """ "A cup and a half": what comes behind the unit."""
        if self.word(i) != "and":
            return 0.0, i
        fraction = self._fraction(i + 1)
        if fraction is None or self._unit(fraction[1]):
            return 0.0, i
        return fraction

    def _pack_behind(self, i: int) -> tuple[Unit, int] | None:
        """ "10 oz package", "400 g tin": what the weight before is packed in."""
        found = self._unit(i + 1 if self.mark(i) == "-" else i)
        return found if found is not None and found[0].kind is Kind.CONTAINER else None

    def _after_unit(self, i: int) -> int:
        after = self.word(i + 1)
        ends = after in self.words.cuts or after in self.words.verbs
        if self.mark(i) == "." and (i + 1 >= len(self.tokens) or (after and not ends)):
            # "tbsp. olive oil", but "500 g. Then ..."
            i += 1
        return i + 1 if self.word(i) in _OF else i

    def _with_unit(self, quantity: Quantity, start: int, end: int) -> Found:
        if self.mark(end) == "-":
            # "2-lb", "a 6-inch": only if a unit follows.
            end = end + 1 if self._unit(end + 1) is not None else end
        if self.mark(end) == "+" and self._unit(end + 1) is not None:
            end += 1  # "2+ cups"
        either = self._either(start, end)
        at, filled, size, said = end, 1.0, None, ""
        while True:
            word = self.word(at)
            if word in self.words.fullness or word in self.words.sizes or word in _OF:
                if word in self.words.fullness:
                    filled *= self.words.fullness[word]
                if word in self.words.sizes:
                    size = self.words.sizes[word] * (size if size is not None else 1.0)
                    plain = word.removesuffix("d").removesuffix("-size") or word
                    said = f"{said} {plain if word.endswith(_SIZED) else word}".strip()
                at += 1
            elif self.mark(at) in {"-", ","} and self.word(at + 1) in {"size", "sized"}:
                at += 1
            else:
                break
        unit = self._unit(at)
        if unit is not None:
            kind = unit[0].kind
            fills = kind in {Kind.VOLUME, Kind.HANDFUL}
            pack = self._pack_behind(unit[1]) if kind is Kind.WEIGHT else None
            more, behind = self._and_half(unit[1])
            unit = (unit[0], behind)
            quantity = replace(quantity, low=quantity.low + more)
            return Found(
                replace(
                    quantity, unit=unit[0], filled=filled if fills else 1.0,
                    size=None if fills or kind is Kind.WEIGHT else size, size_word=said,
                    pack=pack[0] if pack else None,
                    vague=EITHER if either and unit[0].name in {"g", "ml"} else quantity.vague,
                ),
                start, self._after_unit(pack[1] if pack else unit[1]),
            )  # fmt: skip
        if self.word(end) in _OF:
            end += 1
        if size is not None or at > end:
            return Found(replace(quantity, size=size, size_word=said), start, at)
        return Found(quantity, start, end)
