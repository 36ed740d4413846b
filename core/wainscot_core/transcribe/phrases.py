"""One ingredient in words: its amounts, and what is said of the food."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..units import MASS_G, VOLUME_ML, WEIGHT_G
from .described import Described, describe
from .often import without_often
from .quantities import EITHER, Found, Quantity, quantity_at, weight_g
from .tokens import Token
from .words import Kind, Words

# As often is an amount taken; a larger figure is something else.
MOST_TIMES = 24
# A bare figure of so much behind a food is no count for sure: "green mussels 50".
MOST_COUNTED = 20
_EACH = frozenset({"each", "apiece"})
_OPEN, _SHUT = frozenset({"(", "["}), frozenset({")", "]"})
# What is counted and named behind its food: "2 corn cobs".
_PIECES_BEHIND = frozenset({"clove", "leaf", "ear", "slice", "stalk", "sprig", "floret", "rasher"})
_NET = frozenset({"drained", "net", "weight"})
_LITRES = frozenset({"ml", "l", "cl", "dl", "fl oz"})
_AND = frozenset({"plus", "and"})
_TIMES = frozenset({"x", "×"})
_STRENGTHS = frozenset({"iu", "mg", "ug", "g"})
_OF_ONE = frozenset({"per", "a", "each", "every", "in", "one"})
_HOLDS = frozenset({Kind.CONTAINER, Kind.VOLUME})


@dataclass(frozen=True)
class Phrase:
    """An ingredient as it was said: where it stands in its line, the amount that counts (None where none is given),
    another amount of the same beside it ("1 cup" beside "(158 g)"), and the food. aside: the amount stands in brackets
    alone."""

    source: str
    start: int
    end: int
    quantity: Quantity | None
    beside: Quantity | None
    of: Described
    aside: bool = False

    @property
    def text(self) -> str:
        """The phrase as it stands in its line."""
        return self.source[self.start : self.end]


def join(words: Words, tokens: Sequence[Token]) -> tuple[Token, ...]:
    """Words that belong together as one: "skin off" is skin-off."""
    found: list[Token] = []
    i = 0
    while i < len(tokens):
        for parts, name in words.joined.get(tokens[i].word or tokens[i].mark, ()):
            run = tokens[i : i + len(parts)]
            if tuple(t.word or t.mark for t in run) == parts:
                text = " ".join(t.text for t in run)
                found.append(Token(text, run[0].start, run[-1].end, word=name))
                i += len(parts)
                break
        else:
            found.append(tokens[i])
            i += 1
    return tuple(found)


def strengths_aside(words: Words, tokens: Sequence[Token]) -> tuple[Token, ...]:
    """With what one pill or drop holds in brackets: "10 drops vitamin D3, 1000 IU per drop" is said of each of the ten."""
    found: list[Token] = []
    i = 0
    while i < len(tokens):
        end = _strength_at(words, tokens, i)
        if end is None or (found and found[-1].mark in _OPEN):
            found.append(tokens[i])
            i += 1
            continue
        if found and found[-1].mark in {",", ":", "-"}:
            found.pop()
        at, last = tokens[i].start, tokens[end - 1].end
        each = replace(tokens[end - 1], word="each")
        found += [Token("(", at, at), *tokens[i : i + 2], each, Token(")", last - 1, last)]
        i = end
    return tuple(found)


def _strength_at(words: Words, tokens: Sequence[Token], i: int) -> int | None:
    """Behind "1000 IU per drop", "400 mg/capsule", "50 mg in each tablet"; None where no such thing begins."""
    strength = words.units.get(tokens[i + 1].word) if i + 3 < len(tokens) else None
    if tokens[i].value is None or strength is None or strength.name not in _STRENGTHS:
        return None
    at = i + 2
    while at < len(tokens) - 1 and (tokens[at].word in _OF_ONE or tokens[at].mark == "/"):
        at += 1
    unit = words.units.get(tokens[at].word)
    counted = unit is not None and (unit.given or unit.name == "drop")
    return at + 1 if counted and at > i + 2 else None


def read_phrase(words: Words, source: str, tokens: Sequence[Token]) -> Phrase:
    """Read the tokens of one ingredient; source: the line that they stand in."""
    main, brackets = _outside(tokens)
    for group in [g for g in brackets if len(g) == 2 and (g[0].word or g[0].mark) in _TIMES]:
        # "1000 mg fish oil capsule (x 2)"
        brackets.remove(group)
        main = [*main, *group]
    main, often = without_often(main)
    main = _unit_behind_count(words, main)
    if often is None and brackets:
        # "2 tsp salmon oil (daily)"
        asides = [without_often(group) for group in brackets]
        brackets = [group for group, _ in asides]
        often = next((told for _, told in asides if told is not None), None)
    amounts, rest = amounts_in(words, _from_amount(words, main))
    inner: list[Quantity] = []
    said: list[Sequence[Token]] = []
    each = False
    for group in brackets:
        found, left = amounts_in(words, group)
        if found and any(t.word for t in rest) and any(t.word in words.contents for t in left):
            # "(2000 mg calcium)" is what it holds, not what it weighs.
            continue
        inner += [f.quantity for f in found]
        each = (
            each or any(t.word in _EACH for t in group) or (bool(found) and _per_unit(words, left))
        )
        said.append([t for t in left if t.word not in _EACH] if found else group)
    each = each or any(t.word in _EACH for t in rest)
    quantity, beside = _chosen([f.quantity for f in amounts], inner, each)
    pill = next((t for t in rest if t.word in words.units and words.units[t.word].given), None)
    if quantity is not None and quantity.unit is None and pill is not None:
        # "B complex tablet, 1/2"
        quantity = replace(quantity, unit=words.units[pill.word])
        rest = [t for t in rest if t is not pill]
    bare = quantity is not None and quantity.unit is None and quantity.low >= MOST_COUNTED
    if quantity is not None and bare and amounts and amounts[0].start > 0:
        quantity = replace(quantity, vague=EITHER)
    of = describe(words, source, [t for t in rest if t.word not in _EACH], said)
    if often is not None:
        of = replace(of, per=often.per, times=often.times)
    # A correction stands behind what it corrects, and is read before.
    start, end = min((t.start for t in tokens), default=0), max((t.end for t in tokens), default=0)
    return Phrase(source, start, end, quantity, beside, of, bool(inner) and not amounts)


def _per_unit(words: Words, left: Sequence[Token]) -> bool:
    """Whether an amount in brackets is of one of what is counted: "6 drops (1000 IU/drop)"."""
    units = [t.word for t in left if t.word in words.units]
    return len(units) == 1 and all(
        t.word in {"per", "a", "each", *units} or t.mark == "/" for t in left
    )


def _unit_behind_count(words: Words, tokens: Sequence[Token]) -> list[Token]:
    """With what is counted behind its figure: "1 drained can of" as "1 can of drained", "one sardine can" as "one can
    sardine", "2 large kale leaves" as "2 large leaves kale"."""
    tokens = list(tokens)
    counting = (words.units, words.numbers, words.fractions, words.sizes, words.fullness)
    for i, token in enumerate(tokens[:-2]):
        if token.value is None and words.numbers.get(token.word, 0) < 1:
            continue
        strong = _strength_behind(words, tokens, i)
        if strong is not None:
            return [
                *tokens[: i + 1],
                tokens[strong],
                *tokens[i + 1 : strong],
                *tokens[strong + 1 :],
            ]
        told = _told_before(words, tokens, i)
        if told is not None:
            between = [] if tokens[told - 1].word.endswith("sized") else tokens[i + 1 : told]
            return [*tokens[: i + 1], tokens[told], *between, *tokens[told + 1 :]]
        first = tokens[i + 1].word
        unit = words.units.get(tokens[i + 2].word)
        stated = first in words.states or first in words.preparation
        if stated and first not in words.sizes and unit is not None and unit.kind in _HOLDS:
            tokens[i + 1], tokens[i + 2] = tokens[i + 2], tokens[i + 1]
            return tokens
        begin = i + 1
        while begin < len(tokens) and tokens[begin].word in words.sizes:
            begin += 1
        ends = (j for j in range(begin, len(tokens)) if tokens[j].word in {"", *words.cuts})
        end = next(ends, len(tokens)) - 1
        last = words.units.get(tokens[end].word) if end > begin else None
        inner = [t.word for t in tokens[begin:end]]
        plain = not any(w == "of" or any(w in known for known in counting) for w in inner)
        if (
            last is not None
            and plain
            and (last.kind is Kind.CONTAINER or last.given or last.name in _PIECES_BEHIND)
        ):
            return [*tokens[:begin], tokens[end], *tokens[begin:end], *tokens[end + 1 :]]
    return tokens


def _told_before(words: Words, tokens: Sequence[Token], i: int) -> int | None:
    """The unit that something is said of before it is named: "4 thin slices of liver", "3 ice-cube sized blocks"."""
    for k in range(i + 1, min(len(tokens) - 1, i + 4)):
        word = tokens[k].word
        sized = word.endswith("sized")
        counts = any(
            word in known for known in (words.numbers, words.fractions, words.sizes, words.fullness)
        )
        if not word or (counts and not sized):
            return None
        unit = words.units.get(word)
        if unit is not None:
            told = tokens[k - 1].word.endswith("sized") or tokens[k + 1].word == "of"
            return k if k > i + 1 and told and unit.kind is not Kind.WEIGHT else None
    return None


def _strength_behind(words: Words, tokens: Sequence[Token], i: int) -> int | None:
    """The pill whose strength stands between it and its count: "two 400 IU vitamin E softgels"."""
    at = i + 1 + (tokens[i + 1].word == "x" or tokens[i + 1].mark == "×")
    strength = words.units.get(tokens[at + 1].word) if at + 1 < len(tokens) else None
    if tokens[at].value is None or strength is None or strength.kind is not Kind.WEIGHT:
        return None
    for k in range(at + 2, min(len(tokens), at + 7)):
        unit = words.units.get(tokens[k].word)
        if unit is not None and unit.given:
            return k
        if unit is not None or not tokens[k].word:
            return None
    return None


def _from_amount(words: Words, tokens: Sequence[Token]) -> Sequence[Token]:
    """Without what a person says before an amount ("there is a glug of oil")."""
    for i in range(len(tokens)):
        found = quantity_at(words, tokens, i) if may_begin(tokens, i) else None
        if found is None:
            continue
        spoken = any(t.word in words.cuts or t.word in words.verbs for t in tokens[:i])
        named = any(
            t.word and t.word not in words.preparation and t.word not in words.states
            for t in tokens[found.end :]
        )
        return tokens[i:] if spoken and named else tokens
    return tokens


def _outside(tokens: Sequence[Token]) -> tuple[list[Token], list[list[Token]]]:
    """Tokens outside brackets, and those of each pair of brackets. What stands between a count and its container
    ("1 (15 oz) can") stays where it is."""
    main: list[Token] = []
    groups: list[list[Token]] = []
    depth, counted = 0, False
    for i, token in enumerate(tokens):
        if token.mark in _OPEN and depth == 0 and _counts(tokens, i):
            counted = True
            main.append(token)
        elif counted:
            main.append(token)
            counted = token.mark not in _SHUT
        elif token.mark in _OPEN:
            depth += 1
            if depth == 1:
                groups.append([])
        elif token.mark in _SHUT:
            depth = max(0, depth - 1)
        else:
            (groups[-1] if depth else main).append(token)
    return main, groups


_PACKS = frozenset({"can", "tin", "jar", "pack", "packet", "package", "bag", "box", "tub", "pouch",
                    "carton", "tray", "bottle", "block", "container", "pkg"})  # fmt: skip


def _counts(tokens: Sequence[Token], opened: int) -> bool:
    shut = next((i for i in range(opened, len(tokens)) if tokens[i].mark in _SHUT), None)
    if shut is None or opened == 0 or shut + 1 >= len(tokens):
        return False
    before = tokens[opened - 1]
    return (before.value is not None or before.word in {"a", "one", "two"}) and tokens[
        shut + 1
    ].word in _PACKS


def amounts_in(words: Words, tokens: Sequence[Token]) -> tuple[list[Found], list[Token]]:
    """Every amount among tokens, those of one sum ("1 lb 4 oz") together, and the tokens that are left."""
    found: list[Found] = []
    rest: list[Token] = []
    i = 0
    while i < len(tokens):
        one = quantity_at(words, tokens, i) if may_begin(tokens, i) else None
        if one is None:
            rest.append(tokens[i])
            i += 1
            continue
        i = one.end
        times = _times_behind(words, tokens, i)
        if times is not None and one.quantity.unit is not None:
            # "400 IU x 2", "25 mg x 2 tablets"
            low, i = one.quantity.low * times[0], times[1]
            high = None if one.quantity.high is None else one.quantity.high * times[0]
            one = Found(replace(one.quantity, low=low, high=high), one.start, i)
        behind = tokens[i].word if i < len(tokens) else ""
        if one.quantity.pack is None and behind == "drained" and one.quantity.grams:
            # "1 tin, 85 g drained", "1 tin (85 g drained)"
            found.insert(0, replace(one, quantity=replace(one.quantity, net=True)))
            continue
        if rest and rest[-1].word in _NET and one.quantity.grams is not None:
            # "drained weight 240 g" is what is left: it counts before all others.
            found.insert(0, Found(replace(one.quantity, pack=None, net=True), one.start, one.end))
            continue
        last = found[-1] if found else None
        if last is not None and _adds(last, one) and _joined(tokens, last.end, one.start):
            if one.start > last.end:
                rest.pop()
            found[-1] = Found(_sum(last.quantity, one.quantity), last.start, one.end)
        else:
            found.append(one)
    return _times_last(tokens, found), rest


def _times_last(tokens: Sequence[Token], found: list[Found]) -> list[Found]:
    """ "400 g tin of sardines x 2": how often the first amount is taken stands behind the food."""
    if len(found) < 2:
        return found
    first, last = found[0], found[-1]
    before = tokens[last.start - 1]
    told = (before.word or before.mark) in _TIMES and last.end == len(tokens)
    count = last.quantity.low
    if not told or first.quantity.unit is None or last.quantity.unit is not None:
        return found
    if count > MOST_TIMES or last.quantity.high is not None:
        return found
    high = None if first.quantity.high is None else first.quantity.high * count
    taken = replace(first.quantity, low=first.quantity.low * count, high=high)
    return [replace(first, quantity=taken), *found[1:-1]]


def _times_behind(words: Words, tokens: Sequence[Token], i: int) -> tuple[float, int] | None:
    """How often an amount is taken, where that stands behind it alone ("x 2"), and the token behind that."""
    if i + 1 >= len(tokens) or (tokens[i].word or tokens[i].mark) not in _TIMES:
        return None
    count, end = tokens[i + 1].value, i + 2
    unit = words.units.get(tokens[end].word) if end < len(tokens) else None
    end += unit is not None and unit.given
    ends = end >= len(tokens) or not (tokens[end].word or tokens[end].value)
    return (count, end) if count is not None and ends and count <= MOST_TIMES else None


def may_begin(tokens: Sequence[Token], i: int) -> bool:
    """Whether an amount may begin at a token: not behind a letter ("B12"), not in a share ("90/10")."""
    before = tokens[i - 1] if i else None
    if before is None:
        return True
    if before.word and tokens[i].value is not None and before.end == tokens[i].start:
        # "B12", but "1lb8oz" and "eggs x4"
        return before.word == "x" or (i > 1 and tokens[i - 2].value is not None)
    if before.mark in {"/", ":"} and i > 1 and tokens[i - 2].value is not None:
        return before.mark == ":" and before.end < tokens[i].start
    return before.word not in {"vitamin", "vit", "omega"}


def _joined(tokens: Sequence[Token], end: int, start: int) -> bool:
    between = tokens[end:start]
    if not between:
        return True
    return len(between) == 1 and (between[0].mark == "+" or between[0].word in _AND)


def _adds(one: Found, other: Found) -> bool:
    """Whether two amounts in a row are parts of one: of a kind, the second in a smaller unit."""
    a, b = one.quantity.unit, other.quantity.unit
    if a is None or b is None or a.kind is not b.kind or a.name == b.name:
        return False
    return a.kind in {Kind.WEIGHT, Kind.VOLUME} and _size(one.quantity) > _size(other.quantity)


def _size(quantity: Quantity) -> float:
    unit = quantity.unit
    if unit is None:
        return 0.0
    if unit.ml is not None:
        return unit.ml.usual
    return WEIGHT_G.get(unit.name) or VOLUME_ML.get(unit.name) or MASS_G.get(unit.name, 0.0)


def _sum(one: Quantity, other: Quantity) -> Quantity:
    """Two amounts as one, in the first one's unit."""
    more = other.usual * _size(other) / _size(one)
    high = None if one.high is None else one.high + more
    return replace(one, low=one.low + more, high=high)


def _is_container(quantity: Quantity) -> bool:
    return quantity.unit is not None and quantity.unit.kind is Kind.CONTAINER


def _is_strength(quantity: Quantity) -> bool:
    """Whether an amount is in units that weigh nothing by themselves: IU."""
    unit = quantity.unit
    return unit is not None and unit.kind is Kind.WEIGHT and weight_g(unit) is None


def _chosen(
    outer: Sequence[Quantity], inner: Sequence[Quantity], each: bool
) -> tuple[Quantity | None, Quantity | None]:
    """What counts, and what stands beside it: a weight beats what is counted; a volume stays, with its weight."""
    if not outer:
        return (inner[0] if inner else None), None
    first, others = outer[0], [*outer[1:], *inner]
    weight = next((q for q in others if q.grams is not None or _is_strength(q)), None)
    holds = next((q for q in inner if q.unit is not None and q.unit.name in _LITRES), None)
    if weight is None and holds is not None and _is_container(first):
        # "1 can (398 ml)"
        return replace(holds, low=holds.low * first.low, pack=first.unit), first
    if first.grams is not None or weight is None:
        return first, next((q for q in others if q.unit is not first.unit), None)
    if each:
        high = None if weight.high is None else weight.high * first.usual
        return replace(weight, low=weight.low * first.usual, high=high), first
    kind = None if first.unit is None else first.unit.kind
    if first.unit is not None and first.unit.given:
        # "2 capsules fish oil 1000 mg": of each.
        return replace(weight, low=weight.low * first.usual), first
    if kind in {Kind.VOLUME, Kind.HANDFUL}:
        return first, weight
    if kind is Kind.CONTAINER:
        # "2 cans (400 g)": each of them, as the pack says.
        times = first.low if weight.pack is not None else max(first.low, 1.0)
        pack = None if weight.net else first.unit
        return replace(weight, low=weight.low * times, pack=pack), first
    return weight, first
