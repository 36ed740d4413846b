"""The first line about a dog, read into facts to confirm: "Pip, 9 y, 18 lb, mitral valve disease C, furosemide".

What a piece of it says is taken only where it can be nothing else. What is denied, suspected or of another day, and
what is not understood, is given back as it stands.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from ..errors import InputError
from ..facts.allergens import AllergenWords
from ..targets.conditions import Condition
from .breeds import Breeds
from .energy import EnergyRules, check_weight
from .first_chips import Chip, ChipKind, FirstLine, NotTaken, StageOffered
from .first_words import DiagnosisWords, FirstWords
from .record import read_age_months, read_weight_kg

MOST_CHARACTERS = 400


@dataclass(frozen=True)
class LineFacts:
    """What a line is read by."""

    words: FirstWords
    conditions: Mapping[str, Condition]
    breeds: Breeds
    allergens: AllergenWords
    energy: EnergyRules


def read_first_line(facts: LineFacts, text: str) -> FirstLine:
    """Read a line. Raises InputError (field text) where it is too long for one."""
    if len(text) > MOST_CHARACTERS:
        raise InputError(
            "text",
            f"is longer than a line: at most {MOST_CHARACTERS} characters; the rest goes into the intake",
        )
    reader = _Reader(facts, text)
    reader.read()
    return FirstLine(
        chips=tuple(chip for _, chip in sorted(reader.chips, key=lambda found: found[0])),
        not_taken=tuple(left for _, left in sorted(reader.left, key=lambda found: found[0])),
    )


_NUMBER = r"\d+(?:[.,]\d+)?"
_PIECE = re.compile(r"(?:[^,;\n.()]|(?<=\d)[.,](?=\d)|\.(?=\S))+")
_AGE = re.compile(
    rf"(?<![\w.,])(?:{_NUMBER}|\d+\s+1/2)\s*-?\s*(?:years?|yrs?|y/?o|y|months?|mos?|weeks?|wks?)\b\.?"
    rf"(?:\s*(?:and\s+)?\d+\s*(?:months?|mos?|m)\b\.?)?(?:\s*-?\s*old\b)?",
    re.I,
)
_WEIGHT = re.compile(
    rf"(?<![\w.,/]){_NUMBER}\s*(?:kgs?|kilos?|kilograms?|lbs?|pounds?)\b\.?(?:\s*\d+(?:[.,]\d+)?\s*oz\b)?(?!\s*/)",
    re.I,
)
_SCORE = re.compile(
    r"(?<!\w)(?:bcs|(?:body\s+)?condition(?:\s+score)?)\s*:?\s*(\d(?:\.\d)?)(?:\s*(?:/|of|out\s+of)\s*(\d))?(?![\w.])",
    re.I,
)
_OWNER = re.compile(
    r"(?<!\w)(?:owner(?:\s+is)?|owned\s+by|client|belongs\s+to)\s*:?\s+(?P<who>\w[\w'’-]*(?:\s+[A-Z][\w'’-]*){0,3})",
    re.I,
)
_CALLED = re.compile(r"(?<!\w)(?:called|named|name(?:\s+is)?)\s*:?\s+(?P<who>\w[\w'’-]*)", re.I)
# What stands for words that were taken.
_TAKEN = "\x00"
_WORD = re.compile(r"[^\s\x00]+")
_OR = re.compile(r"(?<!\w)n?or(?!\w)", re.I)
_JOINS = re.compile(r"\s+and\s+|\s*[&/+]\s*|\s+or\s+", re.I)
_UNITS = {
    "kgs": "kg", "kilo": "kg", "kilos": "kg", "kilogram": "kg", "kilograms": "kg",
    "lbs": "lb", "pound": "lb", "pounds": "lb",
}  # fmt: skip


# Of these a dog may have more than one.
_SEVERAL = frozenset({ChipKind.DIAGNOSIS, ChipKind.MEDICINE, ChipKind.REACTION})


@dataclass(frozen=True)
class _Denial:
    """A word that takes a piece out of today's facts, "" for none, and where it begins to."""

    word: str
    at: int


class _Reader:
    """The line while it is read: what was taken is blanked, so that nothing is read twice."""

    def __init__(self, facts: LineFacts, text: str) -> None:
        self.facts = facts
        self.text = text
        self.open = text
        self.chips: list[tuple[int, Chip]] = []
        self.left: list[tuple[int, NotTaken]] = []

    def read(self) -> None:
        pieces = [m.span() for m in _PIECE.finditer(self.text)]
        denied = self._denied(pieces)
        reacting = False
        for i, (start, end) in enumerate(pieces):
            # What is denied or of another day begins with the word that says so.
            plain = denied[i].at if denied[i].word else end
            for read in (self._owner, self._called, self._score, self._weights, self._ages):
                read(start, plain)
            if denied[i].word:
                self._no_reactions(start, end)
                reacting = False
            else:
                self._sexes(start, end)
                reacting = self._reactions(start, end, reacting)
                self._diagnoses(start, end)
                self._stage_alone(start, end)
                self._medicines(start, end)
                self._breed(start, end)
            if i == 0:
                self._name(start, plain)
            said = f"says “{denied[i].word}”: no fact of today"
            self._rest(start, end, said if denied[i].word else "is not understood")

    # What is taken, and what is left

    def _take(
        self, start: int, end: int, kind: ChipKind, value: str, says: str, *,
        dose: str = "", stage: str = "", stages: tuple[StageOffered, ...] = (),
    ) -> None:  # fmt: skip
        alike = [c for _, c in self.chips if c.kind is kind]
        text = self.text[start:end].strip()
        self._blank(start, end)
        if any(c.value == value and c.dose == dose for c in alike):
            return
        same = any(c.value == value for c in alike)
        if same or (alike and kind not in _SEVERAL):
            why = f"“{alike[0].text}” is taken: which is it?"
            self.left.append((start, NotTaken(text=text, why=why)))
            return
        chip = Chip(
            id=f"{kind.value}:{value}", kind=kind, text=text, value=value, says=says, dose=dose,
            stage=stage, stages=stages,
        )  # fmt: skip
        self.chips.append((start, chip))

    def _blank(self, start: int, end: int) -> None:
        self.open = self.open[:start] + _TAKEN * (end - start) + self.open[end:]

    def _leave(self, start: int, end: int, why: str) -> None:
        self.left.append((start, NotTaken(text=self.text[start:end].strip(), why=why)))
        self._blank(start, end)

    def _rest(self, start: int, end: int, why: str) -> None:
        """Words of a piece that nothing was made of; those that say nothing by themselves are not missed."""
        words = list(_WORD.finditer(self.open, start, end))
        filler = self.facts.words.filler
        meant = [
            m
            for m in words
            if m[0].lower().strip(".:'\"!") not in filler and re.search(r"[\w?]", m[0])
        ]
        if meant:
            at, to = meant[0].start(), meant[-1].end()
            whole = self.text[at:to].strip() if _TAKEN not in self.open[at:to] else ""
            text = whole or " ".join(m[0] for m in meant)
            self.left.append((at, NotTaken(text=text, why=why)))

    def _denied(self, pieces: Sequence[tuple[int, int]]) -> list["_Denial"]:
        """By piece, the word that takes it out of today's facts. A denial reaches over a list up to its "or": "no
        diabetes, seizures or fits" denies all of them."""
        words = self.facts.words
        # "not neutered" says something of today.
        plain = self.text
        for sex in words.sexes:
            if sex.neutered is False:
                plain = sex.pattern.sub(lambda m: _TAKEN * len(m[0]), plain)
        found = []
        for start, end in pieces:
            match = words.hedges.search(plain, start, end)
            found.append(_Denial(match[0], match.start()) if match else _Denial("", end))
        for i, (start, end) in enumerate(pieces):
            if found[i].word or not _OR.search(self.text, start, end):
                continue
            first = next((j for j in range(i - 1, -1, -1) if found[j].word), i)
            for j in range(first + 1, i + 1):
                found[j] = _Denial(found[first].word, pieces[j][0])
        return found

    # Single facts

    def _owner(self, start: int, end: int) -> None:
        match = _OWNER.search(self.open, start, end)
        if match:
            self._take(
                match.start(), match.end(), ChipKind.OWNER, match["who"], f"of {match['who']}"
            )

    def _called(self, start: int, end: int) -> None:
        match = _CALLED.search(self.open, start, end)
        if match:
            self._take(match.start(), match.end(), ChipKind.NAME, match["who"], match["who"])

    def _score(self, start: int, end: int) -> None:
        for match in _SCORE.finditer(self.open, start, end):
            score, of = match[1], match[2]
            unsound = of not in (None, "9") or "." in score or score == "0"
            if unsound or self._not_today(start, *match.span(), end):
                self._leave(
                    match.start(), match.end(), "body condition is one whole number of 9, of today"
                )
            else:
                self._take(
                    match.start(),
                    match.end(),
                    ChipKind.CONDITION_SCORE,
                    score,
                    f"condition {score} of 9",
                )

    def _weights(self, start: int, end: int) -> None:
        for match in _WEIGHT.finditer(self.open, start, end):
            words = re.sub(
                r"[a-z]+",
                lambda m: _UNITS.get(m[0].lower(), m[0].lower()),
                match[0].rstrip("."),
                flags=re.I,
            )
            try:
                check_weight(self.facts.energy, read_weight_kg(words))
            except InputError as error:
                self._leave(match.start(), match.end(), str(error))
                continue
            at, to = match.span()
            goal = self.facts.words.goal.search(self.open, start, at)
            if goal and not self.open[goal.end() : at].strip(" :="):
                self._take(goal.start(), to, ChipKind.IDEAL_WEIGHT, words, f"ideal weight {words}")
            elif self._not_today(start, at, to, end):
                self._leave(at, to, "is a weight, perhaps not today's")
            else:
                self._take(at, to, ChipKind.WEIGHT, words, words)

    def _ages(self, start: int, end: int) -> None:
        for match in _AGE.finditer(self.open, start, end):
            spoken = re.sub(r"\s*-\s*", " ", match[0]).rstrip(".")
            spoken = re.sub(r"\by/?o\b|(?<=\d)y/?o\b", "y", spoken, flags=re.I)
            try:
                months = read_age_months(spoken)
            except InputError as error:
                self._leave(match.start(), match.end(), str(error))
                continue
            if (
                self._not_today(start, *match.span(), end)
                or months > 360
                or self._in_medicine(start, match.start())
            ):
                self._leave(match.start(), match.end(), "is a time, perhaps not the age")
            else:
                self._take(match.start(), match.end(), ChipKind.AGE, spoken, f"age {spoken}")

    def _sexes(self, start: int, end: int) -> None:
        for words in self.facts.words.sexes:
            for match in list(words.pattern.finditer(self.open, start, end)):
                at, to = match.span()
                if words.sex is not None:
                    self._take(at, to, ChipKind.SEX, words.sex.value, words.sex.value)
                if words.neutered is not None:
                    said = "neutered" if words.neutered else "entire"
                    self._take(at, to, ChipKind.NEUTERED, said, said)

    def _not_today(self, start: int, at: int, to: int, end: int) -> bool:
        """Whether the words around a figure say that it is another day's, or another thing's."""
        around = (*self.text[start:at].split()[-3:], "|", *self.text[to:end].split()[:2])
        words = self.facts.words
        return any(p.search(" ".join(around)) for p in (words.not_today, words.goal))

    def _in_medicine(self, start: int, at: int) -> bool:
        return self.facts.words.medicines.search(self.text, start, at) is not None

    def _name(self, start: int, end: int) -> None:
        """The dog's name leads the line, one word or two; whatever was taken before it ends it."""
        if any(chip.kind is ChipKind.NAME for _, chip in self.chips):
            return
        words = list(_WORD.finditer(self.open, start, end))
        filler = self.facts.words.filler
        while words and words[0][0].lower().strip(".:") in filler:
            words.pop(0)
        # Nothing of what was read stands before the name.
        if (
            not words
            or _TAKEN in self.open[start : words[0].start()]
            or not words[0][0][0].isalpha()
        ):
            return
        owned = re.fullmatch(r"(.+)['’]s", words[1][0]) if len(words) > 2 else None
        if owned and not any(chip.kind is ChipKind.OWNER for _, chip in self.chips):
            who = f"{words[0][0]} {owned[1]}"
            self._take(words[0].start(), words[1].end(), ChipKind.OWNER, who, f"of {who}")
            words = words[2:]
        last = 0
        if (
            len(words) > 1
            and words[1][0][0].isupper()
            and not self.open[words[0].end() : words[1].start()].strip(" ")
        ):
            last = 1
        at, to = words[0].start(), words[last].end()
        name = self.text[at:to].strip(":")
        self._take(at, to, ChipKind.NAME, name, name)

    def _breed(self, start: int, end: int) -> None:
        """A breed by its name, or by the first words of it where only one begins so."""
        if any(chip.kind is ChipKind.BREED for _, chip in self.chips):
            return
        words = list(_WORD.finditer(self.open, start, end))
        for size in range(min(5, len(words)), 0, -1):
            for i in range(len(words) - size + 1):
                at, to = words[i].start(), words[i + size - 1].end()
                spoken = " ".join(m[0].lower().strip(".") for m in words[i : i + size])
                spoken = (
                    spoken.removesuffix("s")
                    if spoken.endswith(("doodles", "labradors"))
                    else spoken
                )
                names = [b.name for b in self.facts.breeds.breeds]
                fitting = [n for n in names if n.lower() == spoken] or [
                    n for n in names if len(spoken) > 4 and n.lower().startswith(f"{spoken} ")
                ]
                if len(fitting) == 1 and _TAKEN not in self.open[at:to]:
                    cross = re.match(r"\s+(?:x|cross|mix)(?!\w)", self.open[to:end], re.I)
                    if cross:
                        self._leave(
                            at, to + cross.end(), "is a cross: say the breed as it shall stand"
                        )
                    else:
                        self._take(at, to, ChipKind.BREED, fitting[0], fitting[0])
                    return

    # Diagnoses, medicines, reactions

    def _diagnoses(self, start: int, end: int) -> None:
        found = [
            (match.start(), match.end(), words, match is not None and pattern is words.with_stage)
            for words in self.facts.words.diagnoses
            for pattern in (words.alone, words.with_stage)
            if pattern is not None
            for match in pattern.finditer(self.open, start, end)
        ]
        # The longest name that stands there is the one that is meant.
        for at, to, words, needs in sorted(found, key=lambda f: (f[0] - f[1], f[0])):
            if _TAKEN not in self.open[at:to]:
                self._diagnosis(start, end, (at, to), words, needs)

    def _diagnosis(
        self, start: int, end: int, span: tuple[int, int], words: DiagnosisWords, needs_stage: bool
    ) -> None:
        at, to = span
        condition = self.facts.conditions[words.id]
        own = words.stage_at(self.open[at:to])
        stage, at, to = (own[0], at, to) if own else self._stage_beside(start, end, span, words)
        # As the first word of the line it is the name of the dog.
        if needs_stage and (not stage or not self.text[: span[0]].strip()):
            return
        if len(condition.stages) == 1:
            stage = next(iter(condition.stages))
        says = condition.name + (
            f", {condition.stages[stage]}" if stage and len(condition.stages) > 1 else ""
        )
        self._add_diagnosis(at, to, condition, stage, says)

    def _add_diagnosis(self, at: int, to: int, condition: Condition, stage: str, says: str) -> None:
        i = next(
            (
                i
                for i, (_, c) in enumerate(self.chips)
                if c.kind is ChipKind.DIAGNOSIS and c.value == condition.id
            ),
            None,
        )
        offered = (
            () if stage else tuple(StageOffered(id=k, name=v) for k, v in condition.stages.items())
        )
        if i is None:
            self._take(at, to, ChipKind.DIAGNOSIS, condition.id, says, stage=stage, stages=offered)
            return
        # Said twice: a stage said once counts, two stages ask.
        before = self.chips[i][1]
        text = f"{before.text}, {self.text[at:to].strip()}"
        self._blank(at, to)
        if stage and before.stage and stage != before.stage:
            every = tuple(StageOffered(id=k, name=v) for k, v in condition.stages.items())
            after = replace(before, text=text, stage="", stages=every, says=condition.name)
        else:
            after = (
                replace(before, text=text, says=says, stage=stage, stages=offered)
                if stage
                else before
            )
        self.chips[i] = (self.chips[i][0], after)

    def _stage_beside(
        self, start: int, end: int, span: tuple[int, int], words: DiagnosisWords
    ) -> tuple[str, int, int]:
        """The stage said right after a name, or right before it, the most words first."""
        at, to = span
        after = list(_WORD.finditer(self.open, to, end))[:5]
        for n in range(len(after), 0, -1):
            if (
                self.open[to : after[0].start()].strip(" :-")
                or _TAKEN in self.open[to : after[n - 1].end()]
            ):
                continue
            found = words.stage_at(self.open[to : after[n - 1].end()])
            if found:
                return found[0], at, after[n - 1].end()
        before = list(_WORD.finditer(self.open, start, at))[-4:]
        for i in range(len(before)):
            if _TAKEN in self.open[before[i].start() : at]:
                continue
            found = words.stage_at(self.open[before[i].start() : at])
            if found:
                return found[0], before[i].start(), to
        return "", at, to

    def _stage_alone(self, start: int, end: int) -> None:
        """ "stage C" as a piece of its own is of the diagnosis before it."""
        last = next((c for _, c in reversed(self.chips) if c.kind is ChipKind.DIAGNOSIS), None)
        piece = self.open[start:end]
        if last is None or last.stage or _TAKEN in piece or not piece.strip():
            return
        words = next(w for w in self.facts.words.diagnoses if w.id == last.value)
        found = words.stage_at(piece)
        if found:
            condition = self.facts.conditions[last.value]
            self._add_diagnosis(
                start, end, condition, found[0], f"{condition.name}, {condition.stages[found[0]]}"
            )

    def _medicines(self, start: int, end: int) -> None:
        for match in list(self.facts.words.medicines.finditer(self.open, start, end)):
            dose = self.facts.words.dose.match(self.open, match.end(), end)
            to = dose.end() if dose else match.end()
            said = self.text[match.end() : to].strip(" ,")
            name = match[0].lower()
            self._take(
                match.start(), to, ChipKind.MEDICINE, name, f"{name} {said}".strip(), dose=said
            )

    def _no_reactions(self, start: int, end: int) -> None:
        match = self.facts.words.reacts_to_none.search(self.open, start, end)
        if match:
            self._take(
                match.start(), match.end(), ChipKind.NO_REACTIONS, "none", "no reactions known"
            )

    def _reactions(self, start: int, end: int, reacting: bool) -> bool:
        """Foods it reacts to; a list of nothing but foods after one goes on with it."""
        words = self.facts.words
        if words.reacts_to_none.search(self.open, start, end):
            self._no_reactions(start, end)
            return False
        before = words.reacts_before.search(self.open, start, end)
        if before:
            self._blank(*before.span())
            self._foods(before.end(), end)
            return True
        after = words.reacts_after.search(self.open, start, end)
        if after and self._foods(start, after.start()):
            self._blank(*after.span())
            return False
        if reacting:
            tokens = _JOINS.split(self.open[start:end].strip())
            if all(t and self._group(t) for t in tokens):
                self._foods(start, end)
                return True
        return False

    def _group(self, token: str) -> bool:
        """A food by which source groups are named, and nothing beside it but "meat" or "protein"."""
        plain = re.sub(
            r"(?<!\w)(?:and|meat|protein|products?)(?!\w)", " ", token, flags=re.I
        ).strip(" .")
        if plain.lower().replace(" ", "-") in self.facts.allergens.groups:
            return True
        found = self.facts.allergens.found_in(plain)
        return any(word.lower() == plain.lower() for word in found.values())

    def _foods(self, start: int, end: int) -> bool:
        """The foods of a list, each taken where it is known; whether there was one."""
        at, any_taken = start, False
        ends = [*_JOINS.finditer(self.open, start, end)]
        for to, following in [*((m.start(), m.end()) for m in ends), (end, end)]:
            token = self.text[at:to].strip()
            if token and _TAKEN not in self.open[at:to] and self._group(token):
                self._take(at, to, ChipKind.REACTION, token.lower(), f"reacts to {token.lower()}")
                any_taken = True
            at = following
        return any_taken
