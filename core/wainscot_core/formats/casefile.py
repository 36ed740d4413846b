"""The case file: one dog's case with one recipe, read and written.

Format: docs/formats/case.schema.json. Food ids: usda:<5 digits>, supp:<slug> for the generic
supplements, own:<slug> and shelf:<slug> for what the file itself brings.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from types import MappingProxyType
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field, StringConstraints

from ..boundary import Number, Text40, Text80, Text120, Text160, Text200, dump, read, unknown_fields
from ..bowl.marks import FoodMark, Mark
from ..conventions import DEFAULT, Conventions
from ..dog.record import (
    CaseRecord,
    Diagnosed,
    Diagnosis,
    DogRecord,
    EnergyBy,
    FoodEnergyBy,
    IntakeRecord,
    ReactionRecord,
    TargetsRecord,
)
from ..dossier.dossier import (
    Dossier,
    Fed,
    avoidance_of,
    check_days,
    conditions_of,
    energy_of,
    feeding_facts,
    merged_targets,
)
from ..dossier.reference import Reference
from ..errors import InputError
from ..facts.food_energy import on_scale
from ..facts.foods import FoodLibrary
from ..facts.me_methods import DEFAULT_ME
from ..facts.policy import Policy
from ..facts.shelf import ShelfItem
from ..recipe.line import MAX_LINES, Line, LineText, read_line
from ..targets.standards import stages_of
from ..units import Measures
from .own_library import FileFood, FileKnown, with_known, with_own_foods, with_shelf

SAID_IN_FILE = "said in the case file"

# Nobody orders food longer ahead.
MOST_DAYS_AHEAD = 120

# No dog lives on one recipe for longer.
MOST_FED_DAYS = 9000

# What a case file says it is.
FORMAT = "wainscot-case"


@dataclass(frozen=True, kw_only=True)
class FileDog(DogRecord):
    """The dog of a case file; it need not have a name."""

    name: Text80 = ""


@dataclass(frozen=True, kw_only=True)
class FileEnergy:
    """How the energy target is set: a multiple of RER, or the consultant's own figure."""

    method: Literal["rer-multiplier"] = "rer-multiplier"
    multiplier: Number = 1.0
    kcal_per_day: Number | None = None


@dataclass(frozen=True, kw_only=True)
class FileLine:
    """An ingredient: grams, or an amount with a unit."""

    food: Annotated[str, StringConstraints(min_length=1, max_length=80)]
    grams: Number | None = None
    amount: Number | None = None
    unit: Text40 = ""
    preparation: Text40 = ""
    note: Text200 = ""
    override: Text200 = ""


@dataclass(frozen=True, kw_only=True)
class FileRecipe:
    """The recipe: lines that together feed the dog for `covers_days`. fed_days: for so many days it has been fed
    already; made_for: the life stage that it was made for."""

    name: Text160 = ""
    covers_days: Number = 1.0
    fed_days: Annotated[int, Field(ge=0, le=MOST_FED_DAYS)] = 0
    made_for: Text40 = ""
    lines: Annotated[tuple[FileLine, ...], Field(max_length=MAX_LINES)] = ()


@dataclass(frozen=True, kw_only=True)
class FileClient:
    """The owner."""

    name: Text120 = ""


@dataclass(frozen=True, kw_only=True)
class FileHad:
    """That a food can be had. days: how long before it must be ordered."""

    had: Literal["can-get", "special-order"]
    days: Annotated[int, Field(ge=0, le=MOST_DAYS_AHEAD)] | None = None


def _none_is_empty(value: object) -> object:
    return {} if value is None else value


OrEmpty = BeforeValidator(_none_is_empty)


@dataclass(frozen=True, kw_only=True)
class CaseFile:
    """A case file as it stands, checked field by field. conventions: how things are written for its
    client; amounts of the recipe are read with its cups and spoons."""

    format: Literal["wainscot-case"]
    version: Literal[1]
    dog: FileDog
    energy: FileEnergy
    targets: TargetsRecord
    recipe: FileRecipe
    client: FileClient = field(default_factory=FileClient)
    title: Text160 = ""
    foods: tuple[FileFood, ...] = ()
    shelf: tuple[ShelfItem, ...] = ()
    known: dict[str, FileKnown] = field(default_factory=dict)
    data_policy: Policy = Policy.GRADED
    me_method: FoodEnergyBy = DEFAULT_ME
    meals_per_day: Annotated[int, Field(ge=1, le=12)] = 2
    diagnoses: tuple[Diagnosis, ...] = ()
    reactions: tuple[ReactionRecord, ...] = ()
    intake: Annotated[IntakeRecord, OrEmpty] = field(default_factory=IntakeRecord)
    cannot_use: dict[str, Text200] = field(default_factory=dict)
    sourcing: dict[str, FileHad] = field(default_factory=dict)
    prices_per_kg: dict[str, Annotated[Number, Field(ge=0)]] = field(default_factory=dict)
    conventions: Conventions = DEFAULT
    formulate: dict[str, Any] = field(default_factory=dict)


def read_case_file(data: dict[str, Any]) -> CaseFile:
    """A case file from parsed JSON. Raises InputError naming the field."""
    return read(CaseFile, data)


def warnings_of(data: dict[str, Any]) -> list[str]:
    """Fields of a case file that are not known and so were not used."""
    return [f"{path} is not known here and was not used" for path in unknown_fields(CaseFile, data)]


def dossier_of(reference: Reference, file: CaseFile) -> Dossier:
    """The dossier of a case file. Raises InputError naming the field."""
    own_figure = file.energy.kcal_per_day is not None
    energy = energy_of(
        reference, file.dog, EnergyBy.OWN_FIGURE if own_figure else EnergyBy.MULTIPLIER,
        file.energy.multiplier, file.energy.kcal_per_day,
    )  # fmt: skip
    facts = feeding_facts(reference, file.dog, energy, file.me_method)
    targets = merged_targets(reference, file.targets, facts)
    days = check_days(file.recipe.covers_days, "recipe.covers_days")
    library = with_shelf(
        with_own_foods(reference.library, file.foods, reference.allergens),
        file.shelf,
        reference.measuring,
    )
    for food_id, known in file.known.items():
        library = with_known(
            reference,
            library,
            food_id,
            known.strengths,
            known.measures,
            SAID_IN_FILE,
            f"known.{food_id}",
        )
    library = on_scale(library, reference.me, file.me_method)
    lines = read_recipe_lines(reference, library, file.recipe.lines, file.conventions.measures)
    conditions = conditions_of(reference, file.targets.conditions)
    marks = (
        *(FoodMark(f, Mark.SAID_IN_FILE, why) for f, why in file.cannot_use.items()),
        *(FoodMark(f, Mark(said.had), days=said.days) for f, said in file.sourcing.items()),
    )
    medicines = tuple(m.name for m in file.intake.medicines)
    avoid = avoidance_of(reference, library, lines, file.reactions, conditions, marks, medicines)
    return Dossier(
        reference=reference, library=library, dog_name=file.dog.name, weight_kg=file.dog.weight_kg, breed=file.dog.breed,
        energy=energy, targets=targets, lines=lines, days=days, policy=file.data_policy,
        meals_per_day=file.meals_per_day,
        conditions=conditions, avoid=avoid, medicines=medicines, prices=dict(file.prices_per_kg), marks=marks,
        measures=file.conventions.measures, eaten=tuple(x.name for x in file.intake.current_diet),
        fine_scale=file.intake.owner.fine_scale, vulnerable_home=file.intake.vulnerable_home,
        fed=fed_of(reference, file),
    )  # fmt: skip


def fed_of(reference: Reference, file: CaseFile) -> Fed:
    """What a case file says of how its recipe is fed already. Raises InputError for a stage that is not known."""
    recipe = file.recipe
    if not recipe.made_for:
        return Fed(days=recipe.fed_days)
    standard = reference.standards[file.targets.standard]
    try:
        chosen = stages_of(standard, recipe.made_for)
    except InputError as error:
        raise InputError("recipe.made_for", error.message) from None
    return Fed(days=recipe.fed_days, made_for=frozenset(s.safe_stage for s in chosen.stages))


@dataclass(frozen=True)
class Opened:
    """A case file, its dossier, and what of it was not used."""

    file: CaseFile
    dossier: Dossier
    warnings: tuple[str, ...]


def open_case(reference: Reference, data: dict[str, Any]) -> Opened:
    """A case file from parsed JSON, ready to be computed. Raises InputError naming the field."""
    file = read_case_file(data)
    return Opened(file, dossier_of(reference, file), tuple(warnings_of(data)))


def read_case(reference: Reference, data: dict[str, Any]) -> Dossier:
    """The dossier of parsed JSON. Raises InputError naming the field."""
    return dossier_of(reference, read_case_file(data))


def _plain(number: float) -> str:
    """A number in full, whole ones without a point."""
    return repr(number).removesuffix(".0")


def line_text(entry: FileLine, at: str = "", measures: Measures = Measures.US) -> LineText:
    """A line of a case file as it would be typed. Raises InputError without an amount."""
    if entry.grams is not None:
        quantity = f"{_plain(entry.grams)} g"
    elif entry.amount is not None:
        quantity = f"{_plain(entry.amount)} {entry.unit}".strip()
    else:
        raise InputError(f"{at}.grams", "is missing: give grams, or amount and unit")
    return LineText(
        entry.food, quantity, entry.note, entry.preparation, entry.override, measures=measures
    )


def read_recipe_lines(
    reference: Reference,
    library: FoodLibrary,
    entries: Sequence[FileLine],
    measures: Measures = Measures.US,
) -> tuple[Line, ...]:
    """The recipe's lines. Raises InputError (field recipe.lines[i]...)."""
    lines = []
    for i, entry in enumerate(entries):
        at = f"recipe.lines[{i}]"
        try:
            lines.append(read_line(reference.methods, library, line_text(entry, at, measures)))
        except InputError as error:
            if error.field.startswith(at):
                raise
            named = error.field
            if named == "amount" and entry.grams is not None:
                named = "grams"
            raise InputError(f"{at}.{named}", error.message) from None
    return tuple(lines)


def record_of(file: CaseFile, names: Mapping[str, str] = MappingProxyType({})) -> CaseRecord:
    """What a case file records of a case, without its recipe and foods. names: of the conditions, by id, for a diagnosis
    that the file does not name."""
    own_figure = file.energy.kcal_per_day is not None
    diagnoses = file.diagnoses or tuple(
        Diagnosis(id=c.id, stage=c.stage) for c in file.targets.conditions
    )
    diagnoses = tuple(replace(d, name=d.name or names.get(d.id, "")) for d in diagnoses)
    return read(
        CaseRecord,
        {
            "dog": dump(file.dog), "title": file.title, "conditions": dump(diagnoses, tuple[Diagnosis, ...]),
            "reactions": dump(file.reactions, tuple[ReactionRecord, ...]), "intake": dump(file.intake),
            "energy_method": EnergyBy.OWN_FIGURE if own_figure else EnergyBy.MULTIPLIER,
            "multiplier": file.energy.multiplier, "kcal_per_day": file.energy.kcal_per_day,
            "standard": file.targets.standard, "life_stage": file.targets.life_stage,
            "basis": file.targets.basis, "me_method": file.me_method,
            "decisions": dump(file.targets)["decisions"], "data_policy": file.data_policy,
            "meals_per_day": file.meals_per_day,
        },
    )  # fmt: skip


def case_file_data(
    record: CaseRecord,
    client: str,
    recipe_name: str,
    days: float,
    lines: Sequence[Line],
    foods: Sequence[dict[str, Any]],
    shelf: Sequence[ShelfItem] = (),
    known: Mapping[str, FileKnown] = MappingProxyType({}),
    prices_per_kg: Mapping[str, float] = MappingProxyType({}),
    marks: Sequence[FoodMark] = (),
    conventions: Conventions = DEFAULT,
) -> dict[str, Any]:
    """A case with one recipe as a case file. Every line keeps its full weight, method and notes.

    `foods` are the practice's foods that the lines use, as the file has them; known, prices_per_kg and
    marks what it says of foods of the library.
    """
    data = dump(record)
    own_figure = record.energy_method is EnergyBy.OWN_FIGURE
    return {
        "format": FORMAT,
        "version": 1,
        "client": {"name": client},
        "title": record.title,
        "dog": data["dog"],
        "diagnoses": data["conditions"],
        "reactions": data["reactions"],
        "intake": data["intake"],
        "meals_per_day": record.meals_per_day,
        "energy": {"kcal_per_day": record.kcal_per_day}
        if own_figure
        else {"method": "rer-multiplier", "multiplier": record.multiplier},
        "targets": dump(targets_of(record)),
        "data_policy": data["data_policy"],
        "me_method": data["me_method"],
        "conventions": dump(conventions),
        "foods": list(foods),
        "shelf": [dump(item) for item in shelf],
        "known": {food: dump(said) for food, said in known.items()},
        "prices_per_kg": dict(prices_per_kg),
        "cannot_use": {m.food: m.why for m in marks if m.mark.keeps_out},
        "sourcing": {
            m.food: {"had": m.mark.value, "days": m.days} for m in marks if not m.mark.keeps_out
        },
        "recipe": {
            "name": recipe_name,
            "covers_days": days,
            "lines": [_line_data(line) for line in lines],
        },
    }


def _line_data(line: Line) -> dict[str, Any]:
    text = line.text
    entry: dict[str, Any] = {"food": line.food.id, "grams": line.amount.grams}
    if line.prepared:
        entry["preparation"] = line.prepared.method.id
    for key in ("note", "override"):
        if text is not None and getattr(text, key):
            entry[key] = getattr(text, key)
    return entry


def targets_of(record: CaseRecord) -> TargetsRecord:
    """The targets of a recorded case."""
    return TargetsRecord(
        standard=record.standard,
        life_stage=record.life_stage,
        basis=record.basis,
        conditions=tuple(Diagnosed(id=c.id, stage=c.stage) for c in record.conditions),
        decisions=record.decisions,
    )
