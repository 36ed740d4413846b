"""What is said of a food beside its amount: its name, what it was in, what is only how it was cut."""

from collections.abc import Sequence
from dataclasses import dataclass, field

from .doses import Dose
from .tokens import Token
from .words import Words

# What stands before these parts the name from what is said of it.
_ENDS = frozenset({",", ";", ":", "–", "—", "-"})
_LEADING = frozenset({",", ";", ":", "-", "–", "—", ".", "+", "&", "*", "•"})
_LEADING_WORDS = frozenset({"and", "of", "plus", "then", "the", "my", "our", "some", "also"})
_WHICH, _IS = frozenset({"that", "which", "that's"}), frozenset({"is", "are", "was", "were"})
# What was in a can with its liquid, and is without it now.
_DRAINED = frozenset({"drained", "rinsed"})
_PACKED = frozenset({"in-water", "in-oil", "in-brine", "in-sauce", "in-juice", "in-syrup"})
_BOUGHT = frozenset({"frozen", "canned"})
_CUTS_OF_MEAT = frozenset({"roast"})
# What may say that a food is not given after all; "no" and "without" are of its skin or its salt.
_DOUBTS = frozenset({"never", "not", "avoid", "omit", "skip", "don't", "can't", "cannot", "won't"})
# The most fat that a share of fat alone ("5 %") can mean, and the least that a share of lean can.
_MOST_FAT, _LEAST_LEAN = 35, 65


@dataclass(frozen=True)
class Described:
    """A food in words.

    food: its words, those of its name first. behind: words said after it that may be part of its name ("beef,
    ground"). state: raw, cooked, dry, canned or frozen, "" for not said. made: how it was cooked. facets: attributes
    that were said, as (skin, no). fat: g per 100 g of a mince; lean: the same where it is only called lean or fatty. packed: what it is packed in. per: day, meal, week
    or month where the amount is of one, or what a dose is for; times: how often in it. dose: what the amount is for, and often the day, meal, week or month that this is
    given in, "" for not said. doubted: behind the food, a word that may say it is not given. alternatives: what may be taken instead, as it stands. asks: no amount is wanted to be given.
    """

    food: tuple[str, ...] = ()
    behind: tuple[str, ...] = ()
    state: str = ""
    made: str = ""
    facets: tuple[tuple[str, str], ...] = ()
    fat: float | None = None
    lean: float | None = None
    packed: str = ""
    per: str = ""
    times: float = 1.0
    dose: Dose | None = None
    often: str = ""
    optional: bool = False
    drained: bool = False
    negated: bool = False
    asks: bool = False
    doubted: str = ""
    alternatives: tuple[str, ...] = ()

    @property
    def words(self) -> tuple[str, ...]:
        """All words that may be of its name."""
        return (*self.food, *self.behind)


@dataclass
class _Notes:
    food: list[str] = field(default_factory=list)
    behind: list[str] = field(default_factory=list)
    state: str = ""
    made: str = ""
    facets: dict[str, str] = field(default_factory=dict)
    fat: float | None = None
    lean: float | None = None
    packed: str = ""
    optional: bool = False
    drained: bool = False
    negated: bool = False
    doubted: str = ""


def describe(
    words: Words, source: str, main: Sequence[Token], brackets: Sequence[Sequence[Token]]
) -> Described:
    """Read what is said outside and inside of brackets, the amounts taken out."""
    asks, tokens = _without_asking(words, main)
    head, tail, other = _parts(source, tokens)
    notes = _Notes()
    _read(words, head, notes, notes.food)
    _read(words, tail, notes, notes.behind)
    for group in brackets:
        if group and group[0].word == "or":
            other.append(_text(source, group[1:]))
        else:
            asked, left = _without_asking(words, group)
            asks = asks or asked
            _read(words, left, notes, notes.behind, aside=True)
    return Described(
        tuple(notes.food), tuple(notes.behind), notes.state, notes.made,
        tuple(sorted(notes.facets.items())), notes.fat, notes.lean, notes.packed, "", 1.0, None, "", notes.optional,
        notes.drained, notes.negated, asks, notes.doubted, tuple(o for o in other if o),
    )  # fmt: skip


def _without_asking(words: Words, tokens: Sequence[Token]) -> tuple[bool, list[Token]]:
    """Tokens without "to taste" and the like, and whether they held it."""
    left = list(tokens)
    found = False
    for phrase in words.ask:
        parts = phrase.split()
        for i in range(len(left) - len(parts) + 1):
            if [t.word for t in left[i : i + len(parts)]] == parts:
                del left[i : i + len(parts)]
                found = True
                break
    return found, left


def _parts(source: str, tokens: Sequence[Token]) -> tuple[list[Token], list[Token], list[str]]:
    """The words before the first comma or dash, those behind it, and what stands behind "or"."""
    other: list[str] = []
    kept = list(tokens)
    cut = next((i for i, t in enumerate(kept) if t.word == "or" and i), None)
    if cut is not None:
        ends = (i for i in range(cut, len(kept)) if kept[i].mark in {",", ";"})
        end = next(ends, len(kept))
        other.append(_text(source, kept[cut + 1 : end]))
        kept = [*kept[:cut], *kept[end:]]
    while kept and (kept[0].mark in _LEADING or kept[0].word in _LEADING_WORDS):
        kept = kept[1:]
    at = next((i for i, t in enumerate(kept) if t.mark in _ENDS), len(kept))
    return kept[:at], kept[at:], other


def _text(source: str, tokens: Sequence[Token]) -> str:
    return source[tokens[0].start : tokens[-1].end] if tokens else ""


def _read(
    words: Words, tokens: Sequence[Token], notes: _Notes, into: list[str], aside: bool = False
) -> None:
    """Read words into notes. aside: they stand in brackets."""
    i, cut = 0, False
    while i < len(tokens):
        share = fat_share(tokens, i)
        if share is not None:
            notes.fat, i = share
            continue
        token = tokens[i]
        word = token.word
        i += 1
        if not word:
            cut = cut and token.mark not in {",", ";"}
            continue
        if word in words.negations:
            notes.negated = notes.negated or not notes.food
            done = i < len(tokens) and tokens[i].word in words.verbs
            if notes.food and word in _DOUBTS and not done and not aside:
                notes.doubted = token.text
            cut = True
        elif cut:
            continue
        elif word == "and" and i < len(tokens) and tokens[i].word in words.verbs and notes.food:
            # "1 cup of grated carrots and cook until soft"
            cut = True
        elif word in words.cuts and (notes.food or into is notes.behind):
            # "Half a cup of rice, that's cooked"
            after = i + 1 if i < len(tokens) and tokens[i].word in _IS else i
            told = after < len(tokens) and tokens[after].word in words.states
            cut = not (word in _WHICH and told)
            i = after if not cut else i
        else:
            last = i >= len(tokens) or not tokens[i].word
            _take(words, word, notes, into, last)


def _take(words: Words, word: str, notes: _Notes, into: list[str], last: bool) -> None:
    """One word that is no sign and no cut. last: no word follows."""
    if word in words.optional:
        notes.optional = True
    elif word in words.facets:
        name, value = words.facets[word]
        notes.facets[name] = value
    elif word in _PACKED:
        notes.packed = word
    elif word in _DRAINED:
        notes.drained = True
    elif word in _CUTS_OF_MEAT and into and last:
        # "Chuck roast" is no roasted chuck.
        into.append(word)
    elif word in words.states or word in words.made:
        state = words.states.get(word, "")
        if not notes.state or (state == "cooked" and notes.state in _BOUGHT):
            # "Frozen green beans, cooked"
            notes.state = state
        notes.made = notes.made or words.made.get(word, "")
        into.append(word)
    else:
        if word in words.lean and notes.lean is None:
            notes.lean = words.lean[word]
        into.append(word)


def fat_share(tokens: Sequence[Token], i: int) -> tuple[float, int] | None:
    """ "90 % lean", "93/7", "5% fat": g fat per 100 g, and the token behind it."""
    value = tokens[i].value
    if value is None:
        return None
    mark = tokens[i + 1].mark if i + 1 < len(tokens) else ""
    if mark in {"/", ":"} and i + 2 < len(tokens):
        under = tokens[i + 2].value
        if under is not None and abs(value + under - 100) < 1e-9:
            end = i + 3
            while end < len(tokens) and tokens[end].word in {"lean", "fat"}:
                end += 1
            return min(value, under), end
    if mark != "%":
        return None
    after = tokens[i + 2].word if i + 2 < len(tokens) else ""
    if after == "lean":
        return 100 - value, i + 3
    if after == "fat":
        return value, i + 3
    if value <= _MOST_FAT:
        return value, i + 2
    return (100 - value, i + 2) if value >= _LEAST_LEAN else None
