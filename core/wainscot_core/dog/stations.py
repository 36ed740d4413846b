"""The intake as it stands around the dog: what is known, what the owner says, and what is open, each at its place."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from ..conventions import Conventions, body_weight, money, number, when
from ..facts.places import DogPlace
from ..targets.conditions import Condition
from .intake import IntakeRules, PresentIntake, open_facts
from .record import CaseRecord, Muscle, Sex
from .words import age_words, amount_words, muscle_words, sex_words, weight_words

# So many things of one list are said at the dog; the rest stands in the list.
MOST_OF_A_LIST = 4
MOST_WEIGHTS = 2


class AnswerMark(StrEnum):
    """How sure an answer is: recorded, the owner's words that nobody looked at yet, not asked."""

    KNOWN = "known"
    TOLD = "told"
    OPEN = "open"


@dataclass(frozen=True, kw_only=True)
class Line:
    """An answer, or what is open. field: of the record, where it is written."""

    mark: AnswerMark
    words: str
    field: str


@dataclass(frozen=True, kw_only=True)
class Station:
    """A place with its lines; mark: the most open of them."""

    place: DogPlace
    name: str
    mark: AnswerMark
    lines: tuple[Line, ...]


_BY_OPENNESS = (AnswerMark.OPEN, AnswerMark.TOLD, AnswerMark.KNOWN)
Said = tuple[DogPlace, str, str]


def stations_of(
    rules: IntakeRules, conditions: Mapping[str, Condition], c: Conventions, record: CaseRecord,
    present: PresentIntake, growing: bool, told: Sequence[Said] = (),
) -> tuple[Station, ...]:  # fmt: skip
    """Everything that was asked or is open, by place; a place with nothing to say is left out. told: the owner's own words
    that wait, with the field they are for: it is not open beside them."""
    known = _known(conditions, c, record, present)
    waits = {field for _, field, _ in told}
    noticed = ((f.at, f.field, _noticed(record, f.field, f.what)) for f in rules.noticed)
    lines: dict[DogPlace, list[Line]] = {place: [] for place in rules.places}
    for said, mark in (
        (known, AnswerMark.KNOWN),
        ((x for x in noticed if x[2]), AnswerMark.KNOWN),
        (told, AnswerMark.TOLD),
        (
            (
                (f.at, f.write, f.what)
                for f in open_facts(rules, record, growing)
                if f.write not in waits
            ),
            AnswerMark.OPEN,
        ),
    ):
        for place, field, words in said:
            lines[place].append(Line(mark=mark, words=words, field=field))
    return tuple(
        Station(
            place=place,
            name=name,
            mark=next(m for m in _BY_OPENNESS if any(x.mark is m for x in lines[place])),
            lines=tuple(_folded(lines[place])),
        )
        for place, name in rules.places.items()
        if lines[place]
    )


def _noticed(record: CaseRecord, field: str, what: str) -> str:
    words = getattr(record.intake.noticed, field.rsplit(".", 1)[1], "")
    return f"{what}: {words}" if words else ""


def _folded(lines: Sequence[Line]) -> Iterator[Line]:
    """What is recorded of one list, the first few of it; what waits and what is open stands whole."""
    counted: dict[str, int] = {}
    for line in lines:
        counted[line.field] = counted.get(line.field, 0) + (line.mark is AnswerMark.KNOWN)
    seen: dict[str, int] = {}
    for line in lines:
        if line.mark is AnswerMark.KNOWN:
            seen[line.field] = seen.get(line.field, 0) + 1
            over = counted[line.field] - MOST_OF_A_LIST
            if over > 1 and seen[line.field] > MOST_OF_A_LIST:
                if seen[line.field] == MOST_OF_A_LIST + 1:
                    yield replace(line, words=f"and {over} more")
                continue
        yield line


def _known(
    conditions: Mapping[str, Condition], c: Conventions, record: CaseRecord, present: PresentIntake
) -> Iterator[Said]:
    yield from _who(c, record)
    yield from _conditions(conditions, record)
    yield from _weight(c, record)
    intake = record.intake
    if intake.muscle_condition is not Muscle.UNSCORED:
        yield (
            DogPlace.BACK,
            "intake.muscle_condition",
            f"muscle: {muscle_words(intake.muscle_condition)}",
        )
    yield from _reactions(record)
    for medicine in intake.medicines:
        words = f"{medicine.name}, {medicine.dose}" if medicine.dose else medicine.name
        yield DogPlace.MEDICINES, "intake.medicines", words
    if intake.medicines_asked and not intake.medicines:
        yield DogPlace.MEDICINES, "intake.medicines", "none, asked"
    yield from _bowl(c, record, present)
    yield from _home(c, record)


def _who(c: Conventions, record: CaseRecord) -> Iterator[Said]:
    dog = record.dog
    if dog.breed:
        yield DogPlace.WHO, "dog.breed", dog.breed
    if dog.age_months is not None or dog.birth_date is not None:
        yield DogPlace.WHO, "dog.age_months", age_words(c, dog)
    if dog.sex is not Sex.UNKNOWN or dog.neutered is not None:
        yield DogPlace.WHO, "dog.sex", sex_words(dog)
    for name, label in (("gestation_week", "gestation"), ("lactation_week", "lactation")):
        if (week := getattr(dog, name)) is not None:
            yield DogPlace.WHO, f"dog.{name}", f"{label}, week {week}"
    if record.intake.conditions_asked and not record.conditions:
        yield DogPlace.WHO, "conditions", "no diagnosis, the vet was asked"


def _conditions(conditions: Mapping[str, Condition], record: CaseRecord) -> Iterator[Said]:
    for diagnosis in record.conditions:
        facts = conditions[diagnosis.id]
        stage = facts.stages.get(diagnosis.stage, diagnosis.stage)
        staged = len(facts.stages) > 1 and stage
        yield facts.shows_at, "conditions", f"{facts.name}: {stage}" if staged else facts.name


def _weight(c: Conventions, record: CaseRecord) -> Iterator[Said]:
    dog, typed = record.dog, record.intake.typed
    yield (
        DogPlace.WEIGHT,
        "dog.weight_kg",
        weight_words(c, dog.weight_kg, typed.get("weight_kg", "")),
    )
    for weighing in record.intake.weights[-MOST_WEIGHTS:]:
        on = when(c, weighing.on)
        yield DogPlace.WEIGHT, "intake.weights", f"{body_weight(c, weighing.kg)} on {on}"
    if dog.adult_weight_kg is not None:
        grown = f"grown up: {body_weight(c, dog.adult_weight_kg)}"
        yield DogPlace.WEIGHT, "dog.adult_weight_kg", grown
    if dog.body_condition is not None:
        yield DogPlace.WEIGHT, "dog.body_condition", f"condition {dog.body_condition} of 9"


def _reactions(record: CaseRecord) -> Iterator[Said]:
    for r in record.reactions:
        form = f", {r.form}" if r.form else ""
        borne = f", bears {r.tolerates}" if r.tolerates else ""
        yield DogPlace.MOUTH, "reactions", f"reacts to {r.food}{form}{borne}"
    if record.intake.reactions_asked and not record.reactions:
        yield DogPlace.MOUTH, "reactions", "reacts to nothing known, asked"


def _bowl(c: Conventions, record: CaseRecord, present: PresentIntake) -> Iterator[Said]:
    diet = record.intake.current_diet
    for item in diet:
        amount = f"{amount_words(c, item.amount)} {item.unit}".strip()
        yield DogPlace.BOWL, "intake.current_diet", f"{item.name}, {amount}"
    if diet and present.unknown_items < len(diet):
        rest = f", {present.unknown_items} of unknown energy" if present.unknown_items else ""
        yield DogPlace.BOWL, "intake.current_diet", f"{number(c, present.kcal)} kcal a day{rest}"
    if record.intake.way_of_feeding:
        yield DogPlace.BOWL, "intake.way_of_feeding", f"wanted: {record.intake.way_of_feeding}"


def _home(c: Conventions, record: CaseRecord) -> Iterator[Said]:
    intake, owner = record.intake, record.intake.owner
    for name in ("cook", "source", "store", "spend"):
        if words := getattr(owner, name):
            yield DogPlace.KITCHEN, f"intake.owner.{name}", f"{name}: {words}"
    if owner.costs_now is not None:
        yield (
            DogPlace.KITCHEN,
            "intake.owner.costs_now",
            f"costs {money(c, owner.costs_now)} a day now",
        )
    if owner.fine_scale:
        yield DogPlace.KITCHEN, "intake.owner.fine_scale", "a scale that shows tenths of a gram"
    for vet in intake.vet_team:
        yield DogPlace.PEOPLE, "intake.vet_team", ", ".join(x for x in (vet.name, vet.role) if x)
    if intake.vulnerable_home is not None:
        weak = "somebody weak at home" if intake.vulnerable_home else "nobody weak at home"
        yield DogPlace.PEOPLE, "intake.vulnerable_home", weak
    if intake.housing:
        yield DogPlace.PEOPLE, "intake.housing", intake.housing
