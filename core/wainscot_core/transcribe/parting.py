"""Where in a sentence one ingredient ends and the next begins."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from .often import often_at
from .phrases import may_begin
from .quantities import Found, quantity_at
from .tokens import Token
from .words import Words

PERSONS = frozenset(
    {"i", "we", "he", "she", "they", "you", "it", "my", "i'm", "i've", "we've", "there", "our", "her", "his", "their"}
)  # fmt: skip
_SEPARATORS = frozenset({",", ";", "+", ".", "/", "|", "•", "·"})
# What somebody says before the next thing.
_SAID_FIRST = frozenset({"and", "plus", "then", "oh", "um", "uh", "er"})
_FILLERS = _SAID_FIRST | {"also", "about", "well", "maybe", "like", "so"}
_BARS = frozenset({"|", "•", "·"})
# Behind these stands what a title announces.
_LABELS = frozenset({":", "=", "-", "–", "—"})
# "Trim it, and add 2 cups of barley"
_ADDING = frozenset({"add", "mix", "stir", "put", "throw", "toss", "use"})
_SEPARATING = frozenset({"and", "plus", "then", "with"})


def _separates(token: Token) -> bool:
    return token.mark in _SEPARATORS or token.word in _SEPARATING


def _divides(tokens: Sequence[Token], i: int) -> bool:
    """Whether a stroke stands in a fraction: "1/2"."""
    return (
        tokens[i].mark == "/" and 0 < i < len(tokens) - 1
        and tokens[i - 1].value is not None and tokens[i + 1].value is not None
    )  # fmt: skip


@dataclass(frozen=True)
class Parting:
    """food: whether tokens name a food."""

    words: Words
    food: Callable[[Sequence[Token]], bool]

    def amount_at(self, tokens: Sequence[Token], i: int) -> Found | None:
        """The amount that begins at a token."""
        if i >= len(tokens) or not may_begin(tokens, i):
            return None
        return quantity_at(self.words, tokens, i)

    def stretches(self, tokens: Sequence[Token]) -> Iterator[Sequence[Token]]:
        """A sentence parted where a new ingredient begins: at an amount behind a comma, "and" or the like, or in a
        list of bare foods at each comma."""
        cuts = [0]
        depth = 0
        colon = next((i for i, t in enumerate(tokens[:8]) if t.mark in _LABELS), 0)
        before = tokens[:colon]
        known = self.food(before) or any(t.word in self.words.unknown_foods for t in before)
        if colon and not known and self._announces(tokens, colon):
            # "Only two foods: rabbit 350 g"
            cuts.append(colon + 1)
        inside = self._inside(tokens)
        for i, token in enumerate(tokens):
            if token.mark in {"(", "["}:
                depth += 1
            elif token.mark in {")", "]"}:
                depth = max(0, depth - 1)
            elif (
                depth == 0
                and i + 1 < len(tokens)
                and _separates(token)
                and i not in inside
                and not self._abbreviates(tokens, i)
                and not _divides(tokens, i)
                and self._begins(tokens, cuts[-1], i)
            ):
                cuts.append(i + 1)
            elif (
                depth == 0
                and i > cuts[-1]
                and i not in inside
                and self._runs_on(tokens, cuts[-1], i)
            ):
                cuts.append(i)
        cuts = sorted({*cuts, *self._barred(tokens)})
        if len(cuts) == 1:
            cuts = self._listed(tokens)
        for a, b in zip(cuts, [*cuts[1:], len(tokens)], strict=True):
            stretch = list(tokens[a:b])
            while stretch and _separates(stretch[-1]):
                stretch.pop()
            while stretch and (stretch[0].mark in _SEPARATORS or stretch[0].word in _SAID_FIRST):
                stretch.pop(0)
            if stretch:
                yield stretch

    def _runs_on(self, tokens: Sequence[Token], start: int, i: int) -> bool:
        """ "3 carrots 1 parsnip": a second ingredient without any sign before it."""
        first = self.amount_at(tokens, start)
        second = self.amount_at(tokens, i) if first is not None and first.end < i else None
        if first is None or second is None or any(t.mark for t in tokens[first.end : i]):
            return False
        ends = (k for k in range(second.end, len(tokens)) if tokens[k].mark)
        behind = tokens[second.end : min(next(ends, len(tokens)), second.end + 3)]
        return bool(behind) and self.food(tokens[first.end : i]) and self.food(behind)

    def _barred(self, tokens: Sequence[Token]) -> Iterator[int]:
        """Where a stroke or a dot parts two ingredients, each with its amount: "rice 250 g | carrots 200 g"."""
        bars = [i for i, t in enumerate(tokens) if t.mark in _BARS]
        cells = list(zip([0, *(b + 1 for b in bars)], [*bars, len(tokens)], strict=True))
        told = [any(self.amount_at(tokens, i) for i in range(a, b)) for a, b in cells]
        for k in range(1, len(cells)):
            if told[k - 1] and told[k]:
                yield cells[k][0]

    def _announces(self, tokens: Sequence[Token], i: int) -> bool:
        """Whether what stands before a colon or a dash is a title: "Soup: chicken 200 g"; the dash of a hyphen or before
        an amount is none."""
        if tokens[i].mark in {":", "="}:
            return True
        if i + 1 >= len(tokens):
            return False
        apart = tokens[i - 1].end < tokens[i].start and tokens[i].end < tokens[i + 1].start
        titled = not any(self.amount_at(tokens, k) for k in range(i))
        return apart and titled and self.amount_at(tokens, i + 1) is None

    def _inside(self, tokens: Sequence[Token]) -> set[int]:
        """The places within an amount: "and" of "a pound and a half of"."""
        inside: set[int] = set()
        i = 0
        while i < len(tokens):
            amount = self.amount_at(tokens, i)
            end = amount.end if amount is not None else i + 1
            inside.update(range(i + 1, end))
            i = end
        return inside

    def _abbreviates(self, tokens: Sequence[Token], i: int) -> bool:
        """Whether a full stop belongs to a unit: "3/4 lb. extra lean beef"."""
        before = tokens[i - 1] if i else None
        return (
            tokens[i].mark == "." and before is not None and before.end == tokens[i].start
            and (before.word in self.words.units or before.text in self.words.cased_units)
            and len(before.text) <= 4
        )  # fmt: skip

    def _begins(self, tokens: Sequence[Token], start: int, i: int) -> bool:
        """Whether a new ingredient begins behind a separator."""
        after = i + 1
        while after < len(tokens) and (
            tokens[after].word in _FILLERS | _ADDING
            or tokens[after].mark == ","
            or (tokens[after].word == "in" and tokens[after - 1].word in _ADDING)
        ):
            after += 1
        lead = often_at(tokens, after)
        if lead is not None:
            # "1 capsule, 3 times a day"; but "and every morning half a capsule"
            given = self.amount_at(tokens, lead[0])
            return given is not None and self._tells(tokens[given.end :])
        amount = self.amount_at(tokens, after)
        if after < len(tokens) and tokens[after].word == "some":
            return self.food(tokens[after + 1 : after + 4])
        if amount is None:
            if tokens[i].word == "plus" and self._is_unknown(tokens, after):
                return True
            return self._clause_has_amount(tokens, after) or self._behind(tokens, start, i, after)
        # "2 1/2 and a bit", "1 cup + 2 tbsp oil": an amount, but of the same.
        before = tokens[start:i]
        named = any(
            t.word and t.word not in self.words.preparation and t.word not in self.words.units
            and t.word not in self.words.numbers and t.word not in self.words.about
            and t.word not in self.words.sizes and t.word not in self.words.fractions
            and t.word not in self.words.fullness
            for t in before
        )  # fmt: skip
        more = amount.end
        while more < len(tokens) and (tokens[more].word in _SEPARATING or tokens[more].mark == "+"):
            # "1 tbsp + 1 tsp" is one amount.
            summed = self.amount_at(tokens, more + 1)
            if summed is None:
                break
            more = summed.end
        if more > amount.end and more >= len(tokens):
            return False
        rest = tokens[amount.end :]
        often = often_at(tokens, amount.end)
        if often is not None and (often[0] >= len(tokens) or _separates(tokens[often[0]])):
            # "B complex, a quarter tablet a day"
            return False
        if rest and rest[0].mark == "(":
            shut = next((i for i, t in enumerate(rest) if t.mark == ")"), len(rest))
            rest = rest[shut + 1 :]
        first = next((t for t in rest if t.word or t.mark in {",", ";", "."}), None)
        says = first is not None and bool(first.word) and first.word not in {"each", "apiece"}
        says = says and self._tells(rest)
        if (
            tokens[after].word in {"a", "an"}
            and amount.quantity.unit is None
            and tokens[i].mark in {",", "."}
        ):
            return named and says and self.food(rest[:3])
        return named and says

    def _tells(self, rest: Sequence[Token]) -> bool:
        """Whether more than how it is cut is said up to the next sign: not so of "carrots, 100 g grated"."""
        ends = (i for i, t in enumerate(rest) if t.mark in _SEPARATORS)
        silent = self.words.preparation | set(self.words.states)
        return any(t.word and t.word not in silent for t in rest[: next(ends, len(rest))])

    def _is_unknown(self, tokens: Sequence[Token], after: int) -> bool:
        """ "Plus her joint powder": something that no table knows, of its own."""
        return any(t.word in self.words.unknown_foods for t in tokens[after : after + 3])

    def _clause_has_amount(self, tokens: Sequence[Token], after: int) -> bool:
        """ ", and there is a good glug of oil", "and her pills in a bit of cheese": a clause that somebody says, with
        an amount in it."""
        ends = (i for i in range(after, len(tokens)) if tokens[i].mark in _SEPARATORS)
        clause = range(after, next(ends, len(tokens)))
        said = any(tokens[i].word in PERSONS for i in clause)
        return said and any(self.amount_at(tokens, i) is not None for i in clause)

    def _behind(self, tokens: Sequence[Token], start: int, i: int, after: int) -> bool:
        """ "rice 200 g and carrots 100 g": a food with its amount behind it, after another such."""
        # Of the whole sentence: a part alone makes an amount of "96" in "96/4". What stands in brackets is of what was
        # counted before: "boneless chicken breasts (6 oz each)".
        depth, at, named = 0, after, after
        while at < len(tokens):
            opens, shuts = tokens[at].mark in {"(", "["}, tokens[at].mark in {")", "]"}
            depth += opens - shuts
            outside = depth == 0 and not shuts
            if outside and (_separates(tokens[at]) or self.amount_at(tokens, at) is not None):
                break
            named = at + 1 if outside and named == at else named
            at += 1
        had = any(self.amount_at(tokens, k) for k in range(start, i))
        if not had or at >= len(tokens) or self.amount_at(tokens, at) is None:
            return False
        known = self.food(tokens[after:named]) or self._is_unknown(tokens[:named], after)
        return 0 < named - after <= 4 and known

    def _listed(self, tokens: Sequence[Token]) -> list[int]:
        """ "Chicken, rice and carrots": the places of bare foods in a list, or the beginning alone."""
        cuts = [0]
        for i, token in enumerate(tokens):
            if token.mark in {",", ";"} or (token.word == "and" and len(cuts) > 1):
                cuts.append(i + 1)
        if len(cuts) < 3 and not (len(cuts) == 2 and tokens[cuts[1] - 1].mark == ";"):
            return [0]
        for a, b in zip(cuts, [*cuts[1:], len(tokens)], strict=True):
            stretch = [t for t in tokens[a:b] if t.word]
            if not stretch or len(stretch) > 4 or (self.amount_at(tokens, a) is not None and a):
                return [0]
            if not self.food(stretch):
                return [0]
        return cuts
