"""The words by which the first line about a dog is read (first_line.yaml)."""

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from ..targets.conditions import Condition
from .record import Sex


def any_of(words: Iterable[str]) -> str:
    """A pattern that finds one of these, the longest first, as whole words."""
    found = sorted({str(w) for w in words}, key=lambda w: (-len(w), w))
    each = "|".join(r"\s+".join(re.escape(part) for part in word.split()) for word in found)
    return rf"(?<![\w'])(?:{each})(?![\w'])"


@dataclass(frozen=True)
class SexWords:
    """Words and letters of a sex, of being neutered, or of both."""

    pattern: re.Pattern[str]
    sex: Sex | None
    neutered: bool | None


@dataclass(frozen=True)
class DiagnosisWords:
    """What a condition is called, and where a stage of it is said.

    alone: its names; with_stage: names that count only beside a stage. stages: by stage the words that tell of it.
    letters: the stages have ids of one sign, which count in capitals alone or after the word "stage".
    """

    id: str
    alone: re.Pattern[str]
    with_stage: re.Pattern[str] | None
    stages: Mapping[str, re.Pattern[str]]

    def stage_at(self, text: str) -> tuple[str, str] | None:
        """The stage that a text is, and nothing else: its id, and its words."""
        plain = text.strip(" :()")
        bare = re.sub(r"^(?:(?:acvim|iris|stage|grade)\s+)+", "", plain, flags=re.I)
        for stage, pattern in self.stages.items():
            match = pattern.fullmatch(bare)
            if match and (len(bare) > 1 or bare.isupper() or bare.isdigit() or bare != plain):
                return stage, plain
        return None


@dataclass(frozen=True)
class FirstWords:
    """Patterns of the words a first line is read by."""

    hedges: re.Pattern[str]
    not_today: re.Pattern[str]
    goal: re.Pattern[str]
    filler: frozenset[str]
    sexes: tuple[SexWords, ...]
    reacts_before: re.Pattern[str]
    reacts_after: re.Pattern[str]
    reacts_to_none: re.Pattern[str]
    diagnoses: tuple[DiagnosisWords, ...]
    medicines: re.Pattern[str]
    dose: re.Pattern[str]

    @classmethod
    def from_data(
        cls, data: Mapping[str, Any], conditions: Mapping[str, Condition]
    ) -> "FirstWords":
        """Build from the parsed file. Raises KeyError for a condition or a stage that there is not."""
        flags = re.I
        reacts = data["reacts"]
        dose = rf"(?:\d[\d.,/]*\s*(?:mg|mcg|µg|ug|g|ml|iu|units?|%)?(?:\s*/\s*kg)?(?![\w])|{any_of(data['dose_words'])})"
        return cls(
            _words((w for row in data["hedges"] for w in row if w != "?"), extra=r"|\?"),
            _words(data["not_today"]),
            _words(data["goal"]),
            frozenset(str(w).lower() for w in data["filler"]),
            tuple(_sexes(data)),
            _words(reacts["before"]),
            _words(reacts["after"]),
            _words(reacts["none"]),
            tuple(
                _diagnosis(conditions[key], row) for key, row in data["diagnoses"].items()
            ),
            _words(data["medicines"]),
            re.compile(rf"\s*{dose}(?:[\s,]*{dose})*", flags),
        )  # fmt: skip


def _words(words: Iterable[str], extra: str = "") -> re.Pattern[str]:
    return re.compile(any_of(words) + extra, re.I)


def _sexes(data: Mapping[str, Any]) -> Iterable[SexWords]:
    """What says the more comes first: "spayed female" is both, "not neutered" is not "neutered"."""
    rows = [
        *data["neutered"],
        *({**row, "sex": sex} for sex, row in data["sex"].items()),
    ]
    for row in sorted(rows, key=lambda r: "neutered" not in r or r["neutered"] is True):
        spelled = any_of(row["words"]) if row.get("words") else None
        letters = rf"(?<!\w)(?:{'|'.join(row['letters'])})(?!\w)" if row.get("letters") else None
        # Letters count as capitals only.
        pattern = "|".join(x for x in (spelled and f"(?i:{spelled})", letters) if x)
        sex = row.get("sex")
        yield SexWords(re.compile(pattern), Sex(sex) if sex else None, row.get("neutered"))


def _diagnosis(condition: Condition, row: Mapping[str, Any]) -> DiagnosisWords:
    said = row.get("stages", {})
    unknown = said.keys() - condition.stages.keys()
    if unknown:
        raise KeyError(f"{condition.id}: no stages {sorted(unknown)}")
    stages = {
        stage: re.compile(
            "|".join(_stage_word(w) for w in (stage, words, *said.get(stage, ()))), re.I
        )
        for stage, words in condition.stages.items()
    }
    beside = row.get("with_stage")
    return DiagnosisWords(
        condition.id, _words([condition.name, *row["called"]]),
        _words(beside) if beside else None, stages,
    )  # fmt: skip


def _stage_word(word: str) -> str:
    return r"[\s-]+".join(re.escape(part) for part in re.split(r"[\s-]+", str(word)))
