"""What intake still lacks, what stops the case, and what follows from what was said."""

from collections.abc import Sequence
from dataclasses import dataclass

from ..conventions import Conventions
from ..dog.breeds import Prone
from ..dog.intake import (
    PresentIntake,
    Question,
    missing_facts,
    open_questions,
    present_intake,
    stopped,
)
from ..dog.life_stage import Stage, growing
from ..dog.record import CaseRecord
from ..dog.stations import Said, Station, stations_of
from ..dossier.reference import Reference
from ..findings import Finding
from .energy_view import stage_in


@dataclass(frozen=True, kw_only=True)
class BreedWeight:
    """Usual adult weights of a breed, kg."""

    low_kg: float
    high_kg: float


@dataclass(frozen=True, kw_only=True)
class IntakeView:
    """stations: what is known and open, at its place of the dog. missing: facts still to ask; questions: the same as they are asked, what matters most first. red_flags: what to
    watch for with these conditions. breed_weight: typical of the breed, recalled; None when it is not known. prone: what
    the breed is prone to, to ask about."""

    stations: tuple[Station, ...]
    missing: tuple[Finding, ...]
    questions: tuple[Question, ...]
    stopped: bool
    red_flags: tuple[str, ...]
    present: PresentIntake
    life_stage: Stage
    size_class: str
    breeds: tuple[str, ...]
    breed_weight: BreedWeight | None
    prone: tuple[Prone, ...]


def intake_view(
    reference: Reference, record: CaseRecord, c: Conventions, told: Sequence[Said] = ()
) -> IntakeView:
    """The intake of a recorded case, as it is written for a reader. told: the owner's own words that nobody looked at yet."""
    dog, breeds = record.dog, reference.breeds
    grows = growing(reference.life_stages, dog)
    breed = breeds.of(dog.breed)
    adult = dog.adult_weight_kg or dog.weight_kg
    flags = [reference.conditions[c.id].words.get("red_flags", "") for c in record.conditions]
    present = present_intake(reference.catalogue.modified_atwater, record.intake.current_diet)
    return IntakeView(
        stations=stations_of(
            reference.intake, reference.conditions, c, record, present, grows, told
        ),
        missing=tuple(missing_facts(reference.intake, record, grows)),
        questions=open_questions(reference.intake, record, grows),
        stopped=stopped(record.intake.red_flags),
        red_flags=tuple(f for f in flags if f),
        present=present,
        life_stage=stage_in(reference, record),
        size_class=breeds.size_of(adult),
        breeds=tuple(b.name for b in breeds.breeds),
        breed_weight=BreedWeight(low_kg=breed.low_kg, high_kg=breed.high_kg) if breed else None,
        prone=breed.prone if breed else (),
    )
