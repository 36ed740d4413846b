"""What running text says of hazards: words that name one, words that look alike, and what is said not to be there."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Any

from ..findings import Level
from .tokens import Token, tokenise

Phrase = tuple[str, ...]
# A negation speaks of what stands at most so many words behind it.
REACH = 6
# Two negations so near are one that is none.
DENIED_TWICE = 2
# Words that take a hazard away stand at most so many words off.
CLEARS = 7
_IS = frozenset({"is", "are", "was", "were", "has", "have", "been"})
# "Onion: none", as a list of what is in it says.
_NONE = frozenset({"none", "no", "nil"})
_LEAVE = frozenset({"leave", "leaving"})
# What stands right before something that another food takes the place of, and what right behind it.
_IN_PLACE = (("instead", "of"), ("in", "place", "of"), ("rather", "than"))
_PUT_FOR = {"replace": frozenset({"by", "with"}), "swap": frozenset({"for", "with"}),
            "keep": frozenset({"away"})}  # fmt: skip
_LIKENED = frozenset({"sized", "shaped", "size", "coloured", "colored"})
_ARTICLES = frozenset({"the", "a", "an", "any", "all", "your", "his", "her"})


@dataclass(frozen=True)
class Entry:
    """What one hazard is called. near: one of each list within so many words of each other. clear: words of the same
    sentence that take it away. level: None for the hazard's own. dose_of: g of what its dose is told of in a gram."""

    hazard: str
    words: tuple[Phrase, ...]
    near: tuple[tuple[Phrase, ...], ...]
    within: int
    clear: tuple[Phrase, ...]
    level: Level | None
    dose_of: float


@dataclass(frozen=True)
class Told:
    """A hazard that a text tells of: how the text calls it, and where."""

    entry: Entry
    text: str
    start: int
    end: int


@dataclass(frozen=True, eq=False)
class HazardWords:
    """Every word that is understood (reference/hazards/words.yaml). Each is its own, so that its answers can be kept."""

    entries: tuple[Entry, ...]
    called: Mapping[Phrase, tuple[Entry, ...]]
    harmless: frozenset[Phrase]
    negations: frozenset[str]
    not_denied: frozenset[str]
    but: frozenset[str]
    names: frozenset[str]
    name_verbs: frozenset[str]
    longest: int

    @classmethod
    def from_data(cls, data: Mapping[str, Any]) -> "HazardWords":
        """Build from the parsed file."""
        entries = tuple(_entry(e) for e in data["told"])
        called: dict[Phrase, tuple[Entry, ...]] = {}
        for entry in entries:
            for phrase in entry.words:
                called[phrase] = (*called.get(phrase, ()), entry)
        harmless = frozenset(_phrase(p) for p in data["harmless"])
        return cls(
            entries, called, harmless, _words(data["negations"]),
            _words(data["not_denied"]), _words(data["but"]),
            _words(data["names"]), _words(data["name_verbs"]),
            max(len(p) for p in (*called, *harmless)),
        )  # fmt: skip

    @cached_property
    def parts(self) -> frozenset[str]:
        """Every word that hazards are called by."""
        return frozenset(word for phrase in self.called for word in phrase)

    def told_in(self, text: str) -> tuple[Told, ...]:
        """The hazards that a text tells of, in order, each once."""
        return _kept(self, text)

    def _told_in(self, text: str) -> tuple[Told, ...]:
        found: list[Told] = []
        sentences = [_said(sentence) for sentence in _sentences(text)]
        for words in sentences:
            found.extend(self._in_sentence(text, words))
            others = [s for s in sentences if s is not words]
            for entry in self.entries:
                if not any(_taken_back(entry, other) for other in others):
                    found.extend(self._near(text, words, entry))
        seen: set[tuple[str, Level | None]] = set()
        kept = []
        for told in sorted(found, key=lambda t: (t.start, -t.end)):
            key = (told.entry.hazard, told.entry.level)
            if key not in seen:
                seen.add(key)
                kept.append(told)
        return tuple(kept)

    def spoken_of(self, text: str) -> frozenset[str]:
        """The hazards whose words stand in a text at all, be it that they are said not to be there, or are part of a
        word that looks alike."""
        found = set()
        for sentence in _sentences(text):
            words = _said(sentence)
            said = [w.word for w in words]
            for i in range(len(said)):
                for length in range(1, min(self.longest, len(said) - i) + 1):
                    for entry in self.called.get(tuple(said[i : i + length]), ()):
                        found.add(entry.hazard)
        return frozenset(found)

    def _in_sentence(self, text: str, words: Sequence["_Word"]) -> Iterable[Told]:
        i = 0
        while i < len(words):
            length, entries = self._longest_at(words, i)
            if length == 0:
                i += 1
                continue
            for entry in entries:
                if not self._cleared(words, i, i + length, entry, text):
                    yield _told(entry, text, words, i, i + length)
            i += length
        for start, end, entries in self._raw_behind(words):
            for entry in entries:
                if not self._cleared(words, start, end, entry, text):
                    yield _told(entry, text, words, start, end)

    def _raw_behind(self, words: Sequence["_Word"]) -> Iterable[tuple[int, int, tuple[Entry, ...]]]:
        """ "Duck egg, raw", as "raw duck egg": nothing more is said of what "raw" is of."""
        for i, word in enumerate(words):
            ends = i + 1 == len(words) or words[i + 1].breaks or words[i + 1].figure
            if word.word != "raw" or not ends:
                continue
            for begin in range(max(0, i - 3), i):
                entries = self.called.get(("raw", *(w.word for w in words[begin:i])))
                if entries is not None:
                    yield begin, i + 1, entries
                    break

    def _longest_at(self, words: Sequence["_Word"], i: int) -> tuple[int, tuple[Entry, ...]]:
        for length in range(min(self.longest, len(words) - i), 0, -1):
            if any(w.breaks for w in words[i + 1 : i + length]):
                continue
            phrase = tuple(w.word for w in words[i : i + length])
            if phrase in self.harmless:
                return length, ()
            if phrase in self.called:
                return length, self.called[phrase]
        return 0, ()

    def _cleared(
        self, words: Sequence["_Word"], start: int, end: int, entry: Entry, text: str
    ) -> bool:
        if self._negated(words, start, end) or self._is_name(words, start, end, text):
            return True
        # Far off in the sentence it is said of something else.
        about = words[max(0, start - CLEARS) : end + CLEARS]
        return any(_at(about, phrase) is not None for phrase in entry.clear)

    def _negated(self, words: Sequence["_Word"], start: int, end: int) -> bool:
        """Whether it is said not to be there: "no onion, garlic or leek", "onion-free", "grapes are not given"."""
        behind = words[end].word if end < len(words) and not words[end].breaks else ""
        if behind == "free" or self._only_likened(words, end):
            return True
        if self._denied_behind(words, end) or self._swapped_out(words, start, end):
            return True
        denials = [at for at in range(max(0, start - REACH), start) if self._denies(words, at)]
        stops = [i for i in range(max(0, start - REACH), start) if words[i].word in self.but]
        if not denials or any(stop > denials[-1] for stop in stops):
            return False
        last = denials[-1]
        # Two of them deny each other: "never without garlic"; but not "no onion, no garlic".
        near = (at for at in denials[:-1] if last - at <= DENIED_TWICE)
        if any(not any(w.comma for w in words[at + 1 : last + 1]) for at in near):
            return False
        if words[last].word == "out":
            # "Leave out the onion", but not "leave out for an hour and add onion".
            between = [w.word for w in words[last + 1 : start]]
            return (
                len(between) < 3
                and not set(between) - _ARTICLES - {"raw", "fresh", "of"} - self.parts
            )
        return not self._ends_at_comma(words, last, start, end)

    def _denies(self, words: Sequence["_Word"], at: int) -> bool:
        """Whether a word denies what stands behind it: "no", "free from", but not "sugar free chewing gum" and not "don't
        forget the onion"."""
        follows = words[at + 1].word if at + 1 < len(words) else ""
        if words[at].word == "out":
            return at > 0 and words[at - 1].word in _LEAVE
        if words[at].word not in self.negations or follows in self.not_denied:
            return False
        return words[at].word != "free" or follows in {"from", "of"}

    def _denied_behind(self, words: Sequence["_Word"], end: int) -> bool:
        """ "Grapes are never given", "onion is left out", "onion: none"."""
        if [w.word in _NONE and not w.breaks for w in words[end:]] == [True]:
            return True
        said = [w.word for w in words[end : end + 4] if not w.breaks]
        if len(said) < 2 or said[0] not in _IS:
            return False
        return said[1] in self.negations or said[1:3] == ["left", "out"]

    def _swapped_out(self, words: Sequence["_Word"], start: int, end: int) -> bool:
        """ "Celery instead of onion", "replace garlic by parsley", "keep chocolate away", where nothing in the sentence
        denies that."""
        if any(self._denies(words, at) for at in range(len(words))):
            return False
        before = [w.word for w in words[max(0, start - 5) : start]]
        while before and before[-1] in _ARTICLES:
            before.pop()
        if any(before[-len(p) :] == list(p) for p in _IN_PLACE):
            return True
        behind = words[end].word if end < len(words) else ""
        return bool(before) and behind in _PUT_FOR.get(before[-1], ())

    def _only_likened(self, words: Sequence["_Word"], end: int) -> bool:
        """ "Grape-sized pieces", "an onion-shaped mould": in one word with what it is likened to."""
        joined = end < len(words) and words[end].start == words[end - 1].start
        return joined and words[end].word in _LIKENED

    def _ends_at_comma(self, words: Sequence["_Word"], negation: int, start: int, end: int) -> bool:
        """Whether a comma parts a negation from a word, and no list goes over it. "No salt, onion" and "no carbs, chicken
        and onion" may mean that there is onion: then it is told."""
        between = words[negation + 1 : start]
        if not any(w.comma for w in words[negation + 1 : start + 1]):
            return False
        if any(w.figure for w in words[negation:end]):
            return True
        rest = {w.word for w in words[negation + 1 :]}
        if rest & {"or", "nor"}:
            return False
        # With "and" alone it is a list only of other hazards.
        return "and" not in rest or not all(
            w.word in self.parts or w.word == "and" for w in between
        )

    def _is_name(self, words: Sequence["_Word"], start: int, end: int, text: str) -> bool:
        """Whether it is what a dog is called: "Cocoa weighs 9 kg"."""
        if end - start != 1 or words[start].word not in self.names or end >= len(words):
            return False
        own = words[start].text.endswith(("'s", "’s"))
        capital = words[start].text[:1].isupper()
        return capital and (own or words[end].word in self.name_verbs)

    def _near(self, text: str, words: Sequence["_Word"], entry: Entry) -> Iterable[Told]:
        if not entry.near:
            return
        places = [[at for phrase in group for at in _all(words, phrase)] for group in entry.near]
        if not all(places):
            return
        first, *others = places
        pairs = {(min(a, b), max(a, b)) for a in first for b in (others[0] if others else [a])}
        # The nearest two tell it.
        for low, high in sorted(pairs, key=lambda pair: (pair[1] - pair[0], pair)):
            if high - low > entry.within:
                return
            if not self._cleared(words, low, high + 1, entry, text):
                yield _told(entry, text, words, low, high + 1)
                return


# The notes of every line are read at each keystroke.
@lru_cache(maxsize=4096)
def _kept(words: HazardWords, text: str) -> tuple[Told, ...]:
    return words._told_in(text)


@dataclass(frozen=True)
class _Word:
    """A word of a sentence. comma: one stands before it; breaks: something that ends a phrase does."""

    word: str
    text: str
    start: int
    end: int
    comma: bool
    breaks: bool
    figure: bool


def _taken_back(entry: Entry, words: Sequence[_Word]) -> bool:
    """Whether another sentence takes away what two words near each other tell: "take the bones out"."""
    if not entry.near or not any(_all(words, phrase) for phrase in entry.near[-1]):
        return False
    return any(_at(words, phrase) is not None for phrase in entry.clear)


def _told(entry: Entry, text: str, words: Sequence[_Word], start: int, end: int) -> Told:
    begin, stop = words[start].start, words[end - 1].end
    return Told(entry, text[begin:stop], begin, stop)


def _said(tokens: Sequence[Token]) -> list[_Word]:
    """The words of a sentence, those that a hyphen joins apart."""
    found: list[_Word] = []
    comma = breaks = False
    for token in tokens:
        if token.mark:
            comma = comma or token.mark in {",", "/"}
            breaks = breaks or token.mark in {",", "(", ")", "|"}
            continue
        figure = token.value is not None
        parts = [token.text.lower()] if figure else token.word.split("-")
        for part in parts:
            found.append(_Word(part, token.text, token.start, token.end, comma, breaks, figure))
            comma = breaks = False
    return found


def _sentences(text: str) -> Iterable[Sequence[Token]]:
    """Tokens up to a full stop, a colon or the end of a line. A bracket stays with what it is said of."""
    for begin, line in _lines(text):
        tokens: list[Token] = []
        for token in tokenise(line):
            moved = Token(
                token.text, token.start + begin, token.end + begin, token.word, token.value
            )
            if token.mark in {".", ";", "!", "?", "•", "|"}:
                if tokens:
                    yield tokens
                tokens = []
            else:
                tokens.append(moved)
        if tokens:
            yield tokens


def _lines(text: str) -> Iterable[tuple[int, str]]:
    at = 0
    for line in text.splitlines(keepends=True):
        yield at, line
        at += len(line)


def _at(words: Sequence[_Word], phrase: Phrase) -> int | None:
    return next(iter(_all(words, phrase)), None)


def _all(words: Sequence[_Word], phrase: Phrase) -> list[int]:
    said = [w.word for w in words]
    n = len(phrase)
    return [i for i in range(len(said) - n + 1) if tuple(said[i : i + n]) == phrase]


def _phrase(text: object) -> Phrase:
    return tuple(w.word for w in _said(tokenise(str(text))))


def _words(listed: Iterable[object]) -> frozenset[str]:
    return frozenset(w for text in listed for w in _phrase(text))


def _entry(data: Mapping[str, Any]) -> Entry:
    level = data.get("level")
    return Entry(
        data["hazard"],
        tuple(_phrase(p) for p in data.get("words", ())),
        tuple(tuple(_phrase(p) for p in group) for group in data.get("near", ())),
        int(data.get("within", 0)),
        tuple(_phrase(p) for p in data.get("clear", ())),
        None if level is None else Level(level),
        float(data.get("dose_of", 1.0)),
    )
