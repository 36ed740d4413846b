"""The owner's own sheet: what she is asked, what she answers, and what of it can be taken into the record as it stands.

Nothing she writes counts before somebody of the practice looked at it.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated, Any

from pydantic import Field

from ..boundary import Name40, Text1000, dump
from ..changes import FieldChange, value_at
from ..conventions import Conventions, body_weight
from ..errors import InputError
from ..facts.places import DogPlace
from .record import CaseRecord, read_age_months, read_record, read_weight_kg
from .words import age_words

MOST_ROWS = 20


class Takes(StrEnum):
    """How an answer becomes a value of its field."""

    WORDS = "words"
    AGE = "age"
    WEIGHT = "weight"
    ROW = "row"
    LOOK = "look"
    YES_NO = "yes-no"


class Chosen(StrEnum):
    """What was chosen instead of words."""

    UNSAID = ""
    YES = "yes"
    NO = "no"
    NONE = "none"


@dataclass(frozen=True, kw_only=True)
class AskedOfOwner:
    """A question of the sheet. at: its place of the dog; field: of the record, where the answer belongs; what: as the
    consultant reads it; ask, hint: as the owner does; none: the field that says that there is none, "" where that cannot be
    said."""

    id: str
    at: DogPlace
    field: str
    what: str
    ask: str
    takes: Takes
    hint: str = ""
    none: str = ""


@dataclass(frozen=True, kw_only=True)
class OwnersAnswer:
    """An answer: in words, or chosen."""

    id: Name40
    words: Text1000 = ""
    chosen: Chosen = Chosen.UNSAID


Answers = Annotated[tuple[OwnersAnswer, ...], Field(max_length=80)]


@dataclass(frozen=True, kw_only=True)
class Piece:
    """An answer to be looked at. says: the owner's words; stands: what the record has there now, "" for nothing; changes: what
    taking it sets, () where it has to be written by hand, and why_not."""

    id: str
    at: DogPlace
    field: str
    what: str
    says: str
    stands: str
    changes: tuple[FieldChange, ...]
    why_not: str


def read_sheet(rows: Sequence[Mapping[str, Any]]) -> tuple[AskedOfOwner, ...]:
    """The questions of the sheet (intake.yaml). Raises TypeError for a row that says something else besides."""
    return tuple(
        AskedOfOwner(**{**row, "at": DogPlace(row["at"]), "takes": Takes(row["takes"])})
        for row in rows
    )


def choices_of(asked: AskedOfOwner) -> tuple[Chosen, ...]:
    """What can be chosen instead of words."""
    if asked.takes is Takes.YES_NO:
        return (Chosen.YES, Chosen.NO)
    return (Chosen.NONE,) if asked.none else ()


def check_answers(
    sheet: Sequence[AskedOfOwner], answers: Sequence[OwnersAnswer]
) -> tuple[OwnersAnswer, ...]:
    """The answers that say something. Raises InputError naming the answer, and where none says anything."""
    by_id = {x.id: x for x in sheet}
    said: dict[str, OwnersAnswer] = {}
    for i, answer in enumerate(answers):
        asked = by_id.get(answer.id)
        if asked is None:
            raise InputError(f"answers[{i}].id", f"{answer.id!r} is not asked")
        if answer.id in said:
            raise InputError(f"answers[{i}].id", f"{answer.id!r} is answered twice")
        if answer.chosen is not Chosen.UNSAID and answer.chosen not in choices_of(asked):
            raise InputError(f"answers[{i}].chosen", "cannot be chosen here")
        if answer.words.strip() and answer.chosen is Chosen.NONE:
            raise InputError(
                f"answers[{i}].words", "says something, and none is chosen: choose one"
            )
        if answer.words.strip() or answer.chosen is not Chosen.UNSAID:
            said[answer.id] = answer
    if not said:
        raise InputError("answers", "nothing is written yet")
    return tuple(said.values())


def piece_of(
    asked: AskedOfOwner, answer: OwnersAnswer, record: CaseRecord, c: Conventions
) -> Piece:
    """An answer as it is looked at, beside what the record has."""
    data = dump(record)
    changes, why_not = _changes(asked, answer, data)
    words = answer.words.strip()
    return Piece(
        id=asked.id,
        at=asked.at,
        field=asked.field,
        what=asked.what,
        says=", ".join(x for x in (_CHOSEN[answer.chosen], words) if x),
        stands=_stands(asked, record, value_at(data, asked.field), c),
        changes=changes,
        why_not=why_not,
    )


_CHOSEN = {Chosen.UNSAID: "", Chosen.YES: "yes", Chosen.NO: "no", Chosen.NONE: "none"}
_BY_HAND = "it has to be written into its place"


def _changes(
    asked: AskedOfOwner, answer: OwnersAnswer, data: Mapping[str, Any]
) -> tuple[tuple[FieldChange, ...], str]:
    words = answer.words.strip()
    if answer.chosen is Chosen.NONE:
        if value_at(data, asked.field):
            return (), "she says none, and the record has some"
        return (_set(data, asked.none, True),), ""
    if asked.takes is Takes.LOOK:
        return (), _BY_HAND
    if asked.takes is Takes.YES_NO:
        # Words beside a choice can take it back: "yes, but not always".
        if answer.chosen is Chosen.UNSAID or words:
            return (), "she does not say plainly yes or no"
        return (_set(data, asked.field, answer.chosen is Chosen.YES),), ""
    value, why_not = _value(asked, words, value_at(data, asked.field))
    if why_not:
        return (), why_not
    change = _set(data, asked.field, value)
    if asked.field == "dog.age_months" and value_at(data, "dog.birth_date"):
        return (), "the record has a day of birth, and the age follows from it"
    return _readable(data, change)


def _set(data: Mapping[str, Any], path: str, value: Any) -> FieldChange:
    return FieldChange(path=path, value=value, was=value_at(data, path))


def _value(asked: AskedOfOwner, words: str, stands: Any) -> tuple[Any, str]:
    try:
        if asked.takes is Takes.AGE:
            read_age_months(words)
        elif asked.takes is Takes.WEIGHT:
            read_weight_kg(words)
            if not any(letter.isalpha() for letter in words):
                return None, "she does not say whether it is kg or lb"
    except InputError as error:
        return None, error.message
    if asked.takes is not Takes.ROW:
        return words, ""
    lines = [line.strip() for line in words.splitlines() if line.strip()]
    if len(lines) > MOST_ROWS:
        return None, f"more than {MOST_ROWS} lines: {_BY_HAND}"
    return [*(stands or ()), *({"name": line} for line in lines)], ""


def _readable(data: Mapping[str, Any], change: FieldChange) -> tuple[tuple[FieldChange, ...], str]:
    """A change that the record can hold; a line too long for a name is written by hand."""
    *into, last = change.path.split(".")
    tried: dict[str, Any] = {last: change.value}
    for part in reversed(into):
        tried = {part: tried}
    name = {"name": data["dog"]["name"], "weight_kg": data["dog"]["weight_kg"]}
    try:
        read_record({**tried, "dog": {**name, **tried.get("dog", {})}}, typed=True)
    except InputError as error:
        return (), f"{error.message}: {_BY_HAND}"
    return (change,), ""


def _stands(asked: AskedOfOwner, record: CaseRecord, value: Any, c: Conventions) -> str:
    """What the record has, in words; a list as its names."""
    if value is None or value in ("", [], ()):
        return ""
    if asked.takes is Takes.AGE:
        return age_words(c, record.dog)
    if asked.takes is Takes.WEIGHT:
        return body_weight(c, record.dog.weight_kg)
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, (list, tuple)):
        return ", ".join(str(x.get("name") or x.get("food") or x.get("id")) for x in value)
    return str(value)
