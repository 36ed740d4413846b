"""Facts of a first line about a dog, and the record that is opened with them."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum

from ..targets.conditions import Condition
from .record import (
    CaseRecord,
    Diagnosis,
    Medicine,
    ReactionRecord,
    Sex,
    read_age_months,
    read_weight_kg,
)


class ChipKind(StrEnum):
    """What a piece of the line tells."""

    NAME = "name"
    OWNER = "owner"
    AGE = "age"
    WEIGHT = "weight"
    IDEAL_WEIGHT = "ideal-weight"
    SEX = "sex"
    NEUTERED = "neutered"
    BREED = "breed"
    CONDITION_SCORE = "body-condition"
    DIAGNOSIS = "diagnosis"
    MEDICINE = "medicine"
    REACTION = "reaction"
    NO_REACTIONS = "no-reactions"


@dataclass(frozen=True, kw_only=True)
class StageOffered:
    """A stage that a diagnosis can be at."""

    id: str
    name: str


@dataclass(frozen=True, kw_only=True)
class Chip:
    """A fact to confirm. id: of this one among the others of its line; text: the words it was read from, as they stand;
    value: what is taken of them, as a person writes it; says: the fact in words. dose: of a medicine, as it was written; stage: of a diagnosis, "" while it is
    not said; stages: which there are to choose from, none where nothing is to choose."""

    id: str
    kind: ChipKind
    text: str
    value: str
    says: str
    dose: str = ""
    stage: str = ""
    stages: tuple[StageOffered, ...] = ()


@dataclass(frozen=True, kw_only=True)
class NotTaken:
    """Words that are no fact yet, and why."""

    text: str
    why: str


@dataclass(frozen=True, kw_only=True)
class FirstLine:
    """A line as it was read, in the order it says it."""

    chips: tuple[Chip, ...]
    not_taken: tuple[NotTaken, ...]


def opened(
    conditions: Mapping[str, Condition], first: FirstLine, record: CaseRecord,
    left_out: frozenset[str], stages: Mapping[str, str],
) -> CaseRecord:  # fmt: skip
    """A record with what its line says, but what was left out of it; stages: of diagnoses, by their chip. A diagnosis
    whose stage nobody said is not counted: its stage is asked. What was not read stands in the notes."""
    taken = [c for c in first.chips if c.id not in left_out]
    notes = [f"not taken from the first line: {n.text} ({n.why})" for n in first.not_taken]
    diagnoses: list[Diagnosis] = []
    unstaged: list[Diagnosis] = []
    reactions, medicines = [], []
    dog, intake = record.dog, record.intake
    for chip in taken:
        match chip.kind:
            case ChipKind.AGE if dog.age_months is None:
                dog = replace(dog, age_months=read_age_months(chip.value))
                intake = replace(intake, typed={**intake.typed, "age_months": chip.value})
            case ChipKind.IDEAL_WEIGHT:
                dog = replace(dog, ideal_weight_kg=read_weight_kg(chip.value))
            case ChipKind.SEX:
                dog = replace(dog, sex=Sex(chip.value))
            case ChipKind.NEUTERED:
                dog = replace(dog, neutered=chip.value == "neutered")
            case ChipKind.CONDITION_SCORE:
                dog = replace(dog, body_condition=int(chip.value))
            case ChipKind.DIAGNOSIS:
                stage = chip.stage or stages.get(chip.id, "")
                found = Diagnosis(id=chip.value, name=conditions[chip.value].name, stage=stage)
                (unstaged if chip.stages and not stage else diagnoses).append(found)
            case ChipKind.MEDICINE:
                medicines.append(Medicine(name=chip.value, dose=chip.dose))
            case ChipKind.REACTION:
                reactions.append(ReactionRecord(food=chip.value))
            case ChipKind.NO_REACTIONS:
                intake = replace(intake, reactions_asked=True)
    return replace(
        record,
        dog=dog,
        conditions=(*record.conditions, *diagnoses),
        reactions=(*record.reactions, *reactions),
        intake=replace(
            intake,
            medicines=(*intake.medicines, *medicines),
            unstaged=(*intake.unstaged, *unstaged),
        ),
        notes="\n".join(x for x in (record.notes, *notes) if x),
    )
