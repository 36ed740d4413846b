"""Forms of a food in a person's words ("the meat", "boiled liver", "egg white"), as what a food then is.

A form is understood only when each of its words is: what is not understood lifts no reaction.
"""

import re
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from ..facts.attribute_rule import AttributeRule, read_rule
from ..facts.attributes import Attributes

# Words that join and say nothing.
_FILLING = frozenset({"the", "a", "an", "of", "its", "their", "only", "just"})
_ALTERNATIVES = re.compile(r"[,;/]|\band\b|\bor\b")


@dataclass(frozen=True)
class FormWord:
    """What a word makes of a food. part: it names a part of an animal."""

    rule: AttributeRule
    part: bool


@dataclass(frozen=True)
class Forms:
    """The words that are understood."""

    words: Mapping[str, FormWord]

    @classmethod
    def from_data(cls, data: Iterable[Mapping[str, Any]]) -> "Forms":
        """Build from `forms` in reference/library/source_groups.yaml. ValueError for a rule that cannot be read."""
        return cls(
            {
                word: FormWord(read_rule(row["when"]), bool(row.get("part")))
                for row in data
                for word in row["words"]
            }
        )

    def holds(self, form: str, food: str, of: Attributes) -> bool | None:
        """Whether what is such is one of these forms of a food; None where a word or the food is not known well
        enough. The food's own words say nothing: "chicken fat" is fat."""
        answers = [
            None if words is None else _all(word.rule.holds(of) for word in words)
            for words in self._alternatives(form, food)
        ]
        if True in answers:
            return True
        return None if None in answers or not answers else False

    def understood(self, form: str, food: str) -> bool:
        """Whether every word is."""
        return None not in self._alternatives(form, food)

    def is_part(self, form: str, food: str) -> bool:
        """Whether a form names a part of an animal, in all it says."""
        found = list(self._alternatives(form, food))
        return bool(found) and all(words and any(w.part for w in words) for words in found)

    def _alternatives(self, form: str, food: str) -> Iterator[list[FormWord] | None]:
        """The words of each alternative; None for one that is not understood."""
        own = set(_words(food))
        for part in _ALTERNATIVES.split(form.lower()):
            words = [w for w in _words(part) if w not in _FILLING and w not in own]
            if words:
                known = [self.words[w] for w in words if w in self.words]
                yield known if len(known) == len(words) else None
            elif part.strip():
                yield None


def _words(text: str) -> list[str]:
    return re.findall(r"[^\W\d_]+", text.lower())


def _all(answers: Iterable[bool | None]) -> bool | None:
    found = list(answers)
    if False in found:
        return False
    return None if None in found else True
