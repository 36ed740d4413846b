"""What the words of an ingredient statement stand for, and which whole foods stand in for them in a kitchen."""

import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

from ..confidence import Confidence
from .bag_label import listed_in
from .foods import FoodLibrary


@dataclass(frozen=True, kw_only=True)
class LabelTerm:
    """A term of feed labels: what it is, in our own words, of which animal or plant (where that is told at all), whole
    foods by id that stand in for it, what may hide in it, and what to mind."""

    term: str
    group: str
    definition: str
    of: str
    foods: tuple[str, ...]
    note: str
    hidden: str
    caution: str
    source: str
    confidence: Confidence


@dataclass(frozen=True, kw_only=True)
class StandIn:
    """A whole food that stands in for a term."""

    food: str
    name: str


@dataclass(frozen=True, kw_only=True)
class TermRead:
    """An ingredient of a statement, at its place from 1 on: as it stands, what it stands for (None for a term that is
    not known here), and the foods that stand in for it. main: it stands before the salt, where the foods are."""

    place: int
    text: str
    term: LabelTerm | None
    stand_ins: tuple[StandIn, ...]
    main: bool


_ASIDE = re.compile(r"\([^()]*\)|\[[^\[\]]*\]|\d+(?:[.,]\d+)?\s*%")
# From the salt on there is less of anything than of salt, about 1 %.
_SALT = frozenset({"salt"})


@dataclass(frozen=True)
class LabelTerms:
    """All terms."""

    terms: tuple[LabelTerm, ...]
    aliases: Mapping[str, LabelTerm]

    @classmethod
    def from_rows(cls, rows: Iterable[Mapping[str, str]]) -> "LabelTerms":
        """Build from library/label_terms.csv. ValueError for a name that stands twice."""
        terms: list[LabelTerm] = []
        aliases: dict[str, LabelTerm] = {}
        for row in rows:
            term = LabelTerm(
                term=row["term"], group=row["group"], definition=row["definition"], of=row["of"],
                foods=tuple(row["foods"].split()), note=row["note"], hidden=row["hidden"],
                caution=row["caution"], source=row["source"],
                confidence=Confidence(row["confidence"]),
            )  # fmt: skip
            terms.append(term)
            for name in (row["term"], *row["aliases"].split(";")):
                plain = _plain(name)
                if plain:
                    aliases.setdefault(plain, term)
        return cls(tuple(terms), aliases)

    @cached_property
    def _longest_first(self) -> Sequence[str]:
        return sorted(self.aliases, key=len, reverse=True)

    def of_ingredient(self, text: str) -> LabelTerm | None:
        """What an ingredient stands for. The last word of a name says what it is: "chicken flavour" is a flavour, and
        no chicken; so a term is found only where the name ends with it."""
        plain = _plain(text)
        found = (a for a in self._longest_first if plain == a or plain.endswith(" " + a))
        name = next(found, None)
        return None if name is None else self.aliases[name]

    def read(self, statement: str, library: FoodLibrary) -> tuple[TermRead, ...]:
        """A statement term by term, in its order."""
        return tuple(self._read(statement, library))

    def _read(self, statement: str, library: FoodLibrary) -> Iterator[TermRead]:
        main = True
        for place, text in enumerate(listed_in(statement), 1):
            term = self.of_ingredient(text)
            main = main and (term is None or term.term not in _SALT)
            foods = term.foods if term is not None else ()
            stand_ins = tuple(
                StandIn(food=f, name=library.food(f).name) for f in foods if f in library
            )
            yield TermRead(place=place, text=text, term=term, stand_ins=stand_ins, main=main)


def _plain(text: str) -> str:
    """A name in lower case, without what stands in brackets, shares and signs."""
    bare = _ASIDE.sub(" ", text.lower())
    words = re.findall(r"[^\W_]+", bare)
    return " ".join(_singular(w) for w in words)


def _singular(word: str) -> str:
    if len(word) > 4 and word.endswith("ies"):
        return word[:-3] + "y"
    return word[:-1] if len(word) > 3 and word.endswith("s") and not word.endswith("ss") else word
