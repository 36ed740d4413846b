"""What is recorded of a case: the dog, its diagnoses, its intake, how energy and targets are set.

One shape for the database, the API and the case file. What must be a number may be given as it is
written on paper ("9 lb", "2 1/3"); `check_record` says what cannot be.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from enum import StrEnum
from typing import Annotated, Any

from pydantic import BeforeValidator, Field, ValidationInfo

from ..boundary import (
    Day,
    Name20,
    Name40,
    Name80,
    Name120,
    Number,
    Text20,
    Text40,
    Text60,
    Text80,
    Text120,
    Text160,
    Text200,
    Text300,
    Text400,
    Text20000,
    Whole,
    YesNo,
    is_typed,
    read,
)
from ..changes import FieldChange
from ..days import day_or_words
from ..errors import InputError
from ..facts.me_methods import DEFAULT_ME, MeMethod
from ..facts.policy import Policy
from ..recipe.amounts import weight_unit
from ..recipe.numbers import parse_number_and_unit, read_number
from ..targets.basis import Basis
from ..targets.conditions import Condition, stage_of
from ..targets.standards import Bound
from ..units import WEIGHT_G
from .energy import EnergyRules, check_weight


def read_weight_kg(words: str) -> float:
    """A body weight in kg: "8.2", "8.2 kg", "18 lb", "18 lb 4 oz". Raises InputError."""
    unread = InputError("", f"cannot read {words!r} as a weight; write for example 8.2 kg or 18 lb")
    try:
        number, unit = parse_number_and_unit(words)
    except InputError:
        raise unread from None
    both = re.fullmatch(r"([a-z]+)\s+(\d+(?:[.,]\d+)?)\s*([a-z]+)", unit, re.I)
    if both is not None and (weight_unit(both[1]), weight_unit(both[3])) == ("lb", "oz"):
        ounces = float(both[2].replace(",", "."))
        return (number * WEIGHT_G["lb"] + ounces * WEIGHT_G["oz"]) / 1000
    known = weight_unit(unit) if unit else "kg"
    if known not in {"kg", "lb", "g"}:
        raise unread
    return number * WEIGHT_G[known] / 1000


_AGE_PART = re.compile(
    r"\s*(?P<number>\d+\s+\d+/\d+|\d+/\d+|\d+(?:[.,]\d+)?)\s*(?P<unit>[a-z]*)\.?\s*(?:and\b|,)?",
    re.I,
)
_MONTHS_PER = {
    "": 1.0, "month": 1.0, "mo": 1.0, "m": 1.0, "year": 12.0, "yr": 12.0, "y": 12.0,
    "week": 12 / 52, "wk": 12 / 52, "w": 12 / 52,
}  # fmt: skip


_OLDEST_YEARS = 30


def read_age_months(words: str) -> int:
    """An age in whole months: "108", "9 years", "1 1/2 y", "2 years 3 months", "10 weeks".

    A bare number is months, if it cannot be years. Raises InputError.
    """
    unread = InputError("", f"cannot read {words!r} as an age; write for example 9 years or 108")
    plain = re.sub(r"\s+old\s*$", "", words.strip(), flags=re.I)
    at, months, parts = 0, 0.0, []
    while at < len(plain):
        part = _AGE_PART.match(plain, at)
        if part is None:
            raise unread
        unit = part["unit"].lower().removesuffix("s")
        if unit not in _MONTHS_PER:
            raise unread
        months += read_number(part["number"]) * _MONTHS_PER[unit]
        parts.append(unit)
        at = part.end()
    if not parts or (len(parts) > 1 and "" in parts):
        raise unread
    if parts == [""] and months <= _OLDEST_YEARS:
        raise InputError("", f"{plain} can be {plain} months or {plain} years: write which")
    return int(months + 1e-9)


def _reads(reader: Any) -> BeforeValidator:
    def typed(value: object, info: ValidationInfo) -> object:
        return reader(value) if is_typed(info) and isinstance(value, str) else value

    return BeforeValidator(typed)


def _blank(value: object) -> object:
    return None if isinstance(value, str) and not value.strip() else value


# An empty box says that it is not known.
BlankIsNone = BeforeValidator(_blank)
Kg = Annotated[Number, _reads(read_weight_kg), Field(gt=0)]
Months = Annotated[Whole, _reads(read_age_months), Field(ge=0, le=360)]
# A day or words that tell of one ("last spring").
When = Annotated[Text20, _reads(day_or_words)]
NamedWhen = Annotated[Name20, _reads(day_or_words)]
Figure = Annotated[Number, _reads(read_number), Field(ge=0, le=1e6)]
Count = Annotated[Whole, _reads(read_number)]


def _stage_text(value: object) -> object:
    return str(value) if isinstance(value, int) and not isinstance(value, bool) else value


# A stage may be given as a number: kidney disease, 2.
Stage = Annotated[Text40, BeforeValidator(_stage_text)]


class Sex(StrEnum):
    """Sex of a dog."""

    FEMALE = "female"
    MALE = "male"
    UNKNOWN = "unknown"


class Activity(StrEnum):
    """How much a dog moves."""

    LOW = "low"
    TYPICAL = "typical"
    HIGH = "high"
    WORKING = "working"


class Certainty(StrEnum):
    """How sure it is that a food caused a reaction."""

    UNSAID = ""
    SUSPECTED = "suspected"
    LIKELY = "likely"
    PROVEN = "proven"


class Muscle(StrEnum):
    """Muscle condition: how much muscle is lost."""

    UNSCORED = ""
    NORMAL = "normal"
    MILD = "mild"
    MODERATE = "moderate"
    SEVERE = "severe"


class EnergyBy(StrEnum):
    """Where the energy target comes from."""

    MULTIPLIER = "rer-multiplier"
    OWN_FIGURE = "kcal_per_day"


class ValueGroup(StrEnum):
    """Groups of nutrients whose values a food must have under the strict policy."""

    ENERGY = "energy"
    AMINO = "amino"
    FATS = "fats"
    MINERALS = "minerals"
    VITAMINS = "vitamins"


@dataclass(frozen=True, kw_only=True)
class DogRecord:
    """A dog as it is today. Either birth_date or age_months is given; weights in kg."""

    name: Name80
    breed: Text120 = ""
    sex: Sex = Sex.UNKNOWN
    neutered: YesNo | None = None
    birth_date: Annotated[Day | None, BlankIsNone] = None
    age_months: Annotated[Months | None, BlankIsNone] = None
    weight_kg: Kg
    ideal_weight_kg: Annotated[Kg | None, BlankIsNone] = None
    body_condition: Annotated[Annotated[Count, Field(ge=1, le=9)] | None, BlankIsNone] = None
    activity: Activity = Activity.TYPICAL
    adult_weight_kg: Annotated[Kg | None, BlankIsNone] = None
    litter_size: Annotated[Annotated[Count, Field(ge=1, le=20)] | None, BlankIsNone] = None
    lactation_week: Annotated[Annotated[Count, Field(ge=1, le=8)] | None, BlankIsNone] = None
    gestation_week: Annotated[Annotated[Count, Field(ge=1, le=9)] | None, BlankIsNone] = None


@dataclass(frozen=True, kw_only=True)
class Diagnosis:
    """A condition of the dog: stage, when and who made it."""

    id: Name40
    name: Text120 = ""
    stage: Stage = ""
    since: When = ""
    by: Text120 = ""


@dataclass(frozen=True, kw_only=True)
class ReactionRecord:
    """What the dog reacts to: "the meat, not the organ" is said with form and tolerates; tolerates_said: who found that
    out, and when."""

    food: Name120
    what: Text200 = ""
    form: Text80 = ""
    tolerates: Text120 = ""
    tolerates_said: Text120 = ""
    certainty: Certainty = Certainty.UNSAID


@dataclass(frozen=True, kw_only=True)
class Vet:
    """Someone of the vet team."""

    role: Text60 = ""
    name: Name120
    clinic: Text200 = ""
    contact: Text200 = ""


@dataclass(frozen=True, kw_only=True)
class Weighing:
    """A weight on a day, kg."""

    on: NamedWhen
    kg: Kg


@dataclass(frozen=True, kw_only=True)
class Medicine:
    """A medicine or supplement that is given."""

    name: Name120
    dose: Text200 = ""


@dataclass(frozen=True, kw_only=True)
class DietItem:
    """What is eaten now: `amount` units a day of so many kcal and grams of macros each."""

    name: Name120
    amount: Figure
    unit: Text40 = ""
    kcal_per_unit: Annotated[Figure | None, BlankIsNone] = None
    protein_g: Annotated[Figure | None, BlankIsNone] = None
    fat_g: Annotated[Figure | None, BlankIsNone] = None
    carbohydrate_g: Annotated[Figure | None, BlankIsNone] = None


@dataclass(frozen=True, kw_only=True)
class OwnerMeans:
    """What the owner can get, cook, store and spend. costs_now: what the dog eats now costs so much a day, in the money
    of the house; fine_scale: she has a scale that shows tenths of a gram."""

    source: Text400 = ""
    cook: Text400 = ""
    store: Text400 = ""
    spend: Text400 = ""
    costs_now: Annotated[Figure | None, BlankIsNone] = None
    fine_scale: YesNo = False


@dataclass(frozen=True, kw_only=True)
class RedFlags:
    """A sign that the vet must see first, who was told, and whether the case was cleared."""

    present: Text400 = ""
    told: Text200 = ""
    on: When = ""
    cleared: YesNo = False
    cleared_by: Text200 = ""


@dataclass(frozen=True, kw_only=True)
class Noticed:
    """What the owner sees at home, in words; "" where nobody asked. breaths: a minute, asleep; pills_in: what medicines are
    given in; since: when what it eats now began."""

    breaths: Text300 = ""
    drinks: Text300 = ""
    appetite: Text300 = ""
    chewing: Text300 = ""
    stool: Text300 = ""
    vomiting: Text300 = ""
    skin: Text300 = ""
    walks: Text300 = ""
    extras: Text300 = ""
    since: Text300 = ""
    pills_in: Text300 = ""


@dataclass(frozen=True, kw_only=True)
class IntakeRecord:
    """What was asked at intake beside the dog's own facts. vulnerable_home: somebody lives there who must keep away from
    raw meat (under 5, over 65, pregnant, weak defences), None where nobody asked. typed: weights and ages of the dog as they
    were written, by field, where they were written otherwise than they are kept ("18 lb"). unstaged: conditions that were
    named without their stage, which do not count before it is said."""

    vet_team: tuple[Vet, ...] = ()
    weights: tuple[Weighing, ...] = ()
    muscle_condition: Muscle = Muscle.UNSCORED
    housing: Text200 = ""
    vulnerable_home: YesNo | None = None
    way_of_feeding: Text200 = ""
    medicines: tuple[Medicine, ...] = ()
    medicines_asked: YesNo = False
    unstaged: tuple[Diagnosis, ...] = ()
    conditions_asked: YesNo = False
    reactions_asked: YesNo = False
    current_diet: tuple[DietItem, ...] = ()
    owner: OwnerMeans = field(default_factory=OwnerMeans)
    noticed: Noticed = field(default_factory=Noticed)
    red_flags: RedFlags = field(default_factory=RedFlags)
    life_stage_confirmed: YesNo = False
    typed: dict[Name40, Text60] = field(default_factory=dict)


@dataclass(frozen=True, kw_only=True)
class DecisionRecord:
    """What was decided about a bound: value per 1000 kcal (null for no limit), by whom, why."""

    key: Text20
    bound: Bound
    value: Annotated[Number, Field(ge=0, lt=1e9)] | None = None
    by: Text120 = ""
    reason: Text300 = ""


@dataclass(frozen=True, kw_only=True)
class Diagnosed:
    """A condition and its stage, as far as targets go; a stage may be given as a number."""

    id: Name40
    stage: Stage = ""


def _or_default(value: object) -> object:
    return Basis.STRICTER if value in (None, "") else value


def _or_default_me(value: object) -> object:
    return DEFAULT_ME if value in (None, "") else value


FoodEnergyBy = Annotated[MeMethod, BeforeValidator(_or_default_me)]
OnBasis = Annotated[Basis, BeforeValidator(_or_default)]


@dataclass(frozen=True, kw_only=True)
class TargetsRecord:
    """What sets the targets: standard, life stage, conditions, decisions, and on what basis minimums are
    held."""

    standard: Name40
    life_stage: Name40 = "adult"
    conditions: tuple[Diagnosed, ...] = ()
    decisions: tuple[DecisionRecord, ...] = ()
    basis: OnBasis = Basis.STRICTER


@dataclass(frozen=True, kw_only=True)
class CaseRecord:
    """One dog's work: everything that is recorded of it but its recipes. me_method: how the energy of
    every food and label in it is found."""

    dog: DogRecord
    title: Text160 = ""
    conditions: tuple[Diagnosis, ...] = ()
    reactions: tuple[ReactionRecord, ...] = ()
    intake: IntakeRecord = field(default_factory=IntakeRecord)
    energy_method: EnergyBy = EnergyBy.MULTIPLIER
    multiplier: Annotated[Figure | None, BlankIsNone] = 1.6
    kcal_per_day: Annotated[Figure | None, BlankIsNone] = None
    energy_reason: Text300 = ""
    me_method: FoodEnergyBy = DEFAULT_ME
    standard: Name40 = "nrc-2006"
    life_stage: Name40 = "adult"
    basis: OnBasis = Basis.STRICTER
    decisions: tuple[DecisionRecord, ...] = ()
    data_policy: Policy = Policy.GRADED
    strict_groups: tuple[ValueGroup, ...] = ()
    meals_per_day: Annotated[Count, Field(ge=1, le=12)] = 2
    notes: Text20000 = ""


# Grown up in every breed, and not old in any.
PLAIN_AGE_MONTHS = 48


def as_plain_adult(record: CaseRecord) -> CaseRecord:
    """The same dog as if it were a healthy adult that nothing is decided for, by NRC 2006: what a recipe found
    anywhere is judged on. Its weight and its energy stay."""
    dog = replace(
        record.dog, birth_date=None, age_months=PLAIN_AGE_MONTHS, gestation_week=None,
        lactation_week=None,
    )  # fmt: skip
    return replace(
        record, dog=dog, conditions=(), reactions=(), decisions=(), strict_groups=(),
        standard="nrc-2006", life_stage="adult", basis=Basis.STRICTER, intake=IntakeRecord(),
    )  # fmt: skip


# Weights that must be those of a dog, by path.
_WEIGHTS = ("weight_kg", "ideal_weight_kg", "adult_weight_kg")


def check_record(
    record: CaseRecord, energy: EnergyRules, conditions: Mapping[str, Condition], today: date
) -> None:
    """What single fields cannot tell. Raises InputError naming the field."""
    for name in _WEIGHTS:
        weight = getattr(record.dog, name)
        if weight is not None:
            check_weight(energy, weight, f"dog.{name}")
    for i, weighing in enumerate(record.intake.weights):
        check_weight(energy, weighing.kg, f"intake.weights[{i}].kg")
    born = record.dog.birth_date
    if born is not None and not 0 <= (today - born).days < 31 * 366:
        raise InputError("dog.birth_date", "a dog's birth date lies in the past 30 years")
    for i, named in enumerate(record.intake.unstaged):
        if named.id not in conditions:
            raise InputError(f"intake.unstaged[{i}].id", f"unknown condition {named.id!r}")
    for i, diagnosis in enumerate(record.conditions):
        condition = conditions.get(diagnosis.id)
        if condition is None:
            raise InputError(
                f"conditions[{i}].id",
                f"unknown condition {diagnosis.id!r}; use one of: {', '.join(conditions)}",
            )
        try:
            stage_of(condition, diagnosis.stage)
        except InputError as error:
            raise error.under(f"conditions[{i}]") from None


def following(was: RedFlags, record: CaseRecord) -> CaseRecord:
    """What a change brings with it: a red flag that was written anew is not cleared by what cleared
    the one before, and a condition that has its stage now is not one without."""
    had = {diagnosis.id for diagnosis in record.conditions}
    unstaged = tuple(x for x in record.intake.unstaged if x.id not in had)
    if unstaged != record.intake.unstaged:
        record = replace(record, intake=replace(record.intake, unstaged=unstaged))
    now = record.intake.red_flags
    if not now.present or now.present == was.present or not was.cleared:
        return record
    open_again = replace(now, cleared=False, cleared_by="")
    return replace(record, intake=replace(record.intake, red_flags=open_again))


# Fields of the dog whose text is kept beside what it was read as.
KEPT_AS_TYPED = ("weight_kg", "ideal_weight_kg", "adult_weight_kg", "age_months")


def with_typed(record: CaseRecord, changes: Sequence[FieldChange]) -> CaseRecord:
    """The record with weights and ages of the dog as they were just written; a plain number says
    nothing more than what is kept."""
    typed = dict(record.intake.typed)
    for change in changes:
        name = change.path.removeprefix("dog.")
        if change.path != name and name in KEPT_AS_TYPED:
            typed.pop(name, None)
            if isinstance(change.value, str) and not _PLAIN.fullmatch(change.value.strip()):
                typed[name] = change.value.strip()
    return replace(record, intake=replace(record.intake, typed=typed))


_PLAIN = re.compile(r"[\d.,]*")


def read_record(data: object, typed: bool = False) -> CaseRecord:
    """A record from plain data. Raises InputError naming the field.

    `typed`: figures may be given as people write them ("9 lb", "2 1/3").
    """
    return read(CaseRecord, data, typed=typed)
