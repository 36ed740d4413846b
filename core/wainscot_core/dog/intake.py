"""Intake: what is still missing for a sound plan, present intake, red flags that stop the work."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from dataclasses import field as filled
from typing import Any

from ..facts.nutrients import EnergyFactors
from ..facts.places import DogPlace
from ..findings import Finding, Kind, Level
from .energy_methods import present_intake_kcal
from .record import CaseRecord, DietItem, RedFlags


@dataclass(frozen=True, kw_only=True)
class MacroSplit:
    """Shares of energy from protein, fat and carbohydrate, together 1."""

    protein: float
    fat: float
    carbohydrate: float


@dataclass(frozen=True, kw_only=True)
class PresentIntake:
    """kcal a day of what the dog eats now, and the share of energy by macro where it is known."""

    kcal: float
    unknown_items: int
    shares: MacroSplit | None


@dataclass(frozen=True, kw_only=True)
class AnswerByKey:
    """An answer that one key gives: the field of the record it sets, to what, and its words."""

    field: str
    value: bool | int | str
    words: str


@dataclass(frozen=True)
class NeededFact:
    """A fact that is asked for: where it stands in the record, at which place of the dog, what it is, why. or_field: where it
    stands that there is none, "" where that cannot be said. ask: as it is asked; write: the field that the answer is written
    into; answers: by one key, () where it has to be written. first_with: why it is asked first of a dog with a condition, by
    the condition's id. only_with: it is asked of dogs with one of these only, () of every dog; once: it is asked once that
    field is filled, "" at any time."""

    field: str
    at: DogPlace
    what: str
    why: str
    or_field: str = ""
    ask: str = ""
    write: str = ""
    answers: tuple[AnswerByKey, ...] = ()
    first_with: Mapping[str, str] = filled(default_factory=dict)
    only_with: tuple[str, ...] = ()
    once: str = ""


@dataclass(frozen=True, kw_only=True)
class Question:
    """A fact that is not there, as it is asked of this dog: why says what hangs on it. write: the field that the answer
    is written into."""

    field: str
    write: str
    ask: str
    why: str
    answers: tuple[AnswerByKey, ...]


@dataclass(frozen=True)
class IntakeRules:
    """What is asked (intake.yaml): needed of every dog, and of a growing one; noticed: beside that, none of it needed to
    begin. places: what stands around the dog by its name, in the order it is read."""

    needed: tuple[NeededFact, ...]
    growing: tuple[NeededFact, ...]
    noticed: tuple[NeededFact, ...]
    places: Mapping[DogPlace, str]

    @classmethod
    def from_data(cls, data: Mapping[str, Any]) -> "IntakeRules":
        """Build from the parsed file."""
        needed, growing, noticed = (
            tuple(_needed(x) for x in data[key]) for key in ("needed", "growing", "noticed")
        )
        return cls(needed, growing, noticed, {DogPlace(x["id"]): x["name"] for x in data["places"]})


def _needed(row: Mapping[str, Any]) -> NeededFact:
    return NeededFact(
        row["field"], DogPlace(row["at"]), row["what"], row["why"], row.get("or", ""), row["ask"],
        row.get("write", row["field"]),
        tuple(
            AnswerByKey(field=path, value=value, words=words)
            for path, value, words in row.get("answers", ())
        ),
        dict(row.get("first_with", {})),
        tuple(row.get("only_with", ())),
        row.get("once", ""),
    )  # fmt: skip


def _missing(rules: IntakeRules, record: CaseRecord, growing: bool) -> Iterator[NeededFact]:
    had = {diagnosis.id for diagnosis in record.conditions}
    for named in record.intake.unstaged:
        if named.id not in had:
            name = named.name or named.id
            yield NeededFact(
                field=f"intake.unstaged {named.id}", at=DogPlace.WHO, what=f"stage of {name}",
                why="it does not count before its stage is said", ask=f"{name}: which stage?",
                write="conditions",
            )  # fmt: skip
    for fact in (*rules.needed, *(rules.growing if growing else ())):
        if not (_known(record, fact.field) or (fact.or_field and _known(record, fact.or_field))):
            yield fact


def missing_facts(rules: IntakeRules, record: CaseRecord, growing: bool) -> Iterator[Finding]:
    """The facts that are not there, in the order they are asked."""
    for fact in _missing(rules, record, growing):
        yield Finding(
            kind=Kind.MISSING,
            level=Level.NOTE,
            what=fact.what,
            why=fact.why,
            do="Ask at intake.",
            field=fact.field,
        )


def open_facts(rules: IntakeRules, record: CaseRecord, growing: bool) -> Iterator[NeededFact]:
    """Everything that is still to ask of this dog: what is needed, then what is noticed at home."""
    yield from _missing(rules, record, growing)
    had = {diagnosis.id for diagnosis in record.conditions}
    for fact in rules.noticed:
        of_it = not fact.only_with or not had.isdisjoint(fact.only_with)
        if (
            of_it
            and (not fact.once or _known(record, fact.once))
            and not _known(record, fact.field)
        ):
            yield fact


def open_questions(rules: IntakeRules, record: CaseRecord, growing: bool) -> tuple[Question, ...]:
    """What is still to ask: what a plan needs before what is noticed at home, and of either what matters most with this
    dog's conditions first."""
    had = [diagnosis.id for diagnosis in record.conditions]
    found: list[tuple[tuple[bool, bool], Question]] = []
    for fact in open_facts(rules, record, growing):
        why = next((fact.first_with[c] for c in had if c in fact.first_with), "")
        asked = Question(
            field=fact.field,
            write=fact.write,
            ask=fact.ask,
            why=why or fact.why,
            answers=fact.answers,
        )
        found.append(((fact in rules.noticed, not why), asked))
    return tuple(question for _, question in sorted(found, key=lambda x: x[0]))


# Facts that a "no" answers too; of the others, "no" means that it was not asked.
_NO_IS_AN_ANSWER = frozenset({"dog.neutered", "intake.vulnerable_home"})


def _known(record: CaseRecord, path: str) -> bool:
    value: Any = record
    for part in path.split("."):
        value = getattr(value, part)
    if value is False:
        return path in _NO_IS_AN_ANSWER
    return value is not None and value not in ("", ())


def present_intake(factors: EnergyFactors, items: Sequence[DietItem]) -> PresentIntake:
    """Total what the dog eats now: `amount` units of `kcal_per_unit`, macros in g per unit.

    An item without kcal is counted as unknown, not as nothing. Shares are given only when every
    item with energy names its macros; they are by the factors of bought food.
    """
    known = [item for item in items if item.kcal_per_unit is not None]
    kcal = present_intake_kcal([(i.amount, i.kcal_per_unit or 0.0) for i in known])
    return PresentIntake(
        kcal=kcal, unknown_items=len(items) - len(known), shares=_shares(factors, known)
    )


def _shares(factors: EnergyFactors, items: Sequence[DietItem]) -> MacroSplit | None:
    protein = fat = carbohydrate = 0.0
    for item in items:
        if item.protein_g is None or item.fat_g is None or item.carbohydrate_g is None:
            return None
        protein += item.amount * item.protein_g
        fat += item.amount * item.fat_g
        carbohydrate += item.amount * item.carbohydrate_g
    kcal = factors.of(protein, fat, carbohydrate)
    total = sum(kcal.values())
    if total <= 0:
        return None
    return MacroSplit(
        protein=kcal["PROCNT"] / total,
        fat=kcal["FAT"] / total,
        carbohydrate=kcal["CHOCDF"] / total,
    )


def stopped(flags: RedFlags) -> bool:
    """True while a red flag was seen and the vet has not cleared the case."""
    return bool(flags.present) and not flags.cleared
